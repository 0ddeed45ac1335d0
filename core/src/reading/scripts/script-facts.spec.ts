import { factsOf, planOf, useGrammars } from '../../testing/project.js';
import type { Operation, ScriptFacts, Value } from '../facts.js';

const plan = planOf();

function facts(file: string, text: string): ScriptFacts {
  return factsOf({ [`scripts/${file}`]: text }, plan).facts[0].script!;
}

/** The chain of look-ups a value was followed to, in short. */
function chain(script: ScriptFacts, value: Value): string {
  if (value.is === 'operation') {
    const operation = script.operations[value.operation];
    return `${chain(script, operation.receiver)} → ${plan.calls[operation.rule].means}${argument(script, operation)}`;
  }
  if (value.is === 'any') return value.of.map((one) => chain(script, one)).join(' | ');
  if (value.is === 'field') return `field ${value.name}`;
  return value.is === 'text' ? `“${value.text}”` : value.is === 'constant' ? value.name : value.is;
}

function argument(script: ScriptFacts, { arguments: given }: Operation): string {
  const first = given.name ?? given.type ?? given.event ?? given.path;
  return first ? ` ${chain(script, first)}` : '';
}

const last = (script: ScriptFacts): string =>
  chain(script, { is: 'operation', operation: script.operations.length - 1 });

/** The same behaviour in both languages, and what it must come to. */
const BEHAVIOURS: { does: string; ts: string; py: string; wanted: string }[] = [
  {
    does: 'follows a chain of steps',
    ts: "this.holder.holder.child('Cleat');",
    py: "self.holder.holder.child('Cleat')",
    wanted: 'self → step up → step up → child “Cleat”',
  },
  {
    does: 'follows a local variable',
    ts: "const boat = this.holder; const far = boat; far.child('Cleat');",
    py: "boat = self.holder\n    far = boat\n    far.child('Cleat')",
    wanted: 'self → step up → child “Cleat”',
  },
  {
    does: 'keeps both values that branches leave behind',
    ts: "let boat = this.holder; if (this.big) { boat = this.child('Hull'); } boat.child('Cleat');",
    py: "boat = self.holder\n    if self.big:\n      boat = self.child('Hull')\n    boat.child('Cleat')",
    wanted: 'self → child “Hull” | self → step up → child “Cleat”',
  },
  {
    does: 'forgets a branch that leaves',
    ts: "let boat = this.holder; if (this.big) { boat = this.child('Hull'); return; } boat.child('Cleat');",
    py: "boat = self.holder\n    if self.big:\n      boat = self.child('Hull')\n      return\n    boat.child('Cleat')",
    wanted: 'self → step up → child “Cleat”',
  },
  {
    does: 'follows a field set in the same function',
    ts: "this.boat = this.holder; this.boat.child('Cleat');",
    py: "self.boat = self.holder\n    self.boat.child('Cleat')",
    wanted: 'self → step up → child “Cleat”',
  },
  {
    does: 'leaves a field of another function to linking',
    ts: "this.boat.child('Cleat');",
    py: "self.boat.child('Cleat')",
    wanted: 'field boat → child “Cleat”',
  },
  {
    does: 'puts texts together',
    ts: "this.child('Cl' + 'eat');",
    py: "self.child('Cl' + 'eat')",
    wanted: 'self → child “Cleat”',
  },
  {
    does: 'knows that a template is made at run time',
    ts: 'this.child(`crew-${this.nick}`);',
    py: "self.child(f'crew-{self.nick}')",
    wanted: 'self → child join',
  },
  { does: 'gives types by name', ts: 'this.part(Engine);', py: 'self.part(Engine)', wanted: 'self → part Engine' },
  {
    does: 'gives constants by their chain',
    ts: 'bells.ring(Bells.rung, 1);',
    py: 'bells.ring(Bells.rung, 1)',
    wanted: 'self → send Bells.rung',
  },
];

describe('script facts', () => {
  beforeAll(useGrammars);

  for (const { does, ts, py, wanted } of BEHAVIOURS) {
    it(`${does}, in TypeScript`, () =>
      expect(last(facts('a.ts', `class Boat extends Vessel {\n  begin() {\n    ${ts}\n  }\n}`))).toBe(wanted));
    it(`${does}, in Python`, () =>
      expect(last(facts('a.py', `class Boat(Vessel):\n  def begin(self):\n    ${py}\n`))).toBe(wanted));
  }

  it('reads types, parents and fields alike in both languages', () => {
    const ts = facts(
      'a.ts',
      'export class Boat extends Vessel {\n  @slot() helm!: Part;\n  @slot() spare?: Part;\n  @slot() size = 4;\n  plain = 1;\n}',
    );
    const py = facts(
      'a.py',
      'class Boat(Vessel):\n  helm: Slot[Part]\n  spare: Optional[Slot]\n  size: Slot = 4\n  plain: int = 1\n',
    );
    const short = (script: ScriptFacts): unknown =>
      script.types.map(({ name, parents, fields }) => [
        name,
        parents,
        fields.map((field) => [field.name, field.required]),
      ]);
    const wanted = [
      [
        'Boat',
        ['Vessel'],
        [
          ['helm', true],
          ['spare', false],
          ['size', false],
          ['plain', false],
        ],
      ],
    ];
    expect(short(ts)).toEqual(wanted);
    expect(short(py)).toEqual(wanted);
  });

  it('gives lines and columns from one', () => {
    const { operations } = facts('a.ts', "class Boat {\n  begin() {\n    this.child('Cleat');\n  }\n}");
    expect(operations[0].range).toEqual({ line: 3, column: 5, endLine: 3, endColumn: 24 });
  });

  const guarded: [string, string, string][] = [
    ['an if', "const c = this.child('X'); if (c) c.show();", "c = self.child('X')\n    if c:\n      c.show()"],
    [
      'a comparison',
      "const c = this.child('X'); if (c === null) return;",
      "c = self.child('X')\n    if c is None:\n      return",
    ],
    ['a fallback', "const c = this.child('X') ?? this;", "c = self.child('X') or self"],
    ['an and', "const c = this.child('X'); return c && c.show();", "c = self.child('X')\n    return c and c.show()"],
    [
      'a question later, through a field',
      "this.c = this.child('X'); } tick() { if (this.c) this.c.show();",
      "self.c = self.child('X')\n  def tick(self):\n    if self.c:\n      self.c.show()",
    ],
    ['giving it to the caller', "return this.child('X');", "return self.child('X')"],
  ];
  for (const [how, ts, py] of guarded) {
    it(`sees that ${how} asks before use`, () => {
      expect(facts('a.ts', `class Boat {\n  begin() {\n    ${ts}\n  }\n}`).operations[0].guarded).toBeTrue();
      expect(facts('a.py', `class Boat:\n  def begin(self):\n    ${py}\n`).operations[0].guarded).toBeTrue();
    });
  }

  it('sees that plain use does not ask', () => {
    expect(
      facts('a.ts', "class Boat {\n  begin() {\n    const c = this.child('X');\n    c.show();\n  }\n}").operations[0]
        .guarded,
    ).toBeFalse();
  });

  it('sees safe access as asking', () => {
    expect(
      facts('a.ts', "class Boat {\n  begin() {\n    this.child('X')?.show();\n  }\n}").operations[0].guarded,
    ).toBeTrue();
  });

  it('names handlers, methods and functions in place alike, and when they run', () => {
    const script = facts(
      'a.ts',
      "class Boat {\n  begin() {\n    bells.hear('a', this.onA);\n    bells.hear('b', this.onB.bind(this));\n    bells.hear('c', () => bells.ring('d'));\n  }\n  onA() { bells.ring('e'); }\n}",
    );
    const listens = script.operations
      .filter((one) => plan.calls[one.rule].means === 'listen')
      .map((one) => one.arguments.handler);
    expect(listens).toEqual([
      { is: 'function', name: 'onA' },
      { is: 'function', name: 'onB' },
      { is: 'function', name: '', at: 1 },
    ]);
    const sends = script.operations.filter((one) => plan.calls[one.rule].means === 'send').map((one) => one.moment);
    expect(sends).toEqual(['on an event', 'on an event']);
  });

  it('counts what is sent along', () => {
    expect(
      facts('a.ts', "class B { f() { bells.ring('a', 1, this.boat.depth, now()); } }").operations[0].payload,
    ).toEqual(['', 'depth', 'now']);
  });

  it('knows the moment of life-cycle functions', () => {
    expect(facts('a.ts', "class B { everyFrame() { this.child('X'); } }").operations[0].moment).toBe('every frame');
  });

  it('collects constants that other scripts may use', () => {
    const ts = facts(
      'a.ts',
      "export const Bells = { rung: 'bell.rung' };\nexport enum Mode { Open = 'open' }\nconst DEPTH = 'deep';\nclass K { static readonly tight = 'rope.tight'; }",
    );
    expect(ts.constants).toEqual(
      jasmine.arrayWithExactContents([
        { name: 'Bells.rung', text: 'bell.rung' },
        { name: 'Mode.Open', text: 'open' },
        { name: 'DEPTH', text: 'deep' },
        { name: 'K.tight', text: 'rope.tight' },
      ]),
    );
    expect(facts('a.py', "DEPTH = 'deep'\nclass Bells:\n  rung = 'bell.rung'\n").constants).toEqual([
      { name: 'DEPTH', text: 'deep' },
      { name: 'Bells.rung', text: 'bell.rung' },
    ]);
  });

  it('sees a call of the parent’s own function', () => {
    expect(facts('a.ts', 'class B extends A { begin() { super.begin(); } }').functions[0].callsParent).toBe('before');
    expect(facts('a.py', 'class B(A):\n  def begin(self):\n    super().begin()\n').functions[0].callsParent).toBe(
      'before',
    );
    expect(facts('a.py', 'class B(A):\n  def begin(self):\n    A.begin(self)\n').functions[0].callsParent).toBe(
      'before',
    );
    expect(facts('a.ts', 'class B extends A { begin() { super.end(); } }').functions[0].callsParent).toBeFalse();
  });

  it('keeps what it can of a half-broken script and says where it is broken', () => {
    const {
      facts: [file],
    } = factsOf({ 'scripts/a.ts': "class Boat {\n  begin() {\n    this.child('Cleat');\n  }\n  oops( {\n}\n" }, plan);
    expect(file.script!.operations.length).toBe(1);
    expect(file.problems.length).toBeGreaterThan(0);
  });

  it('ignores calls that the table does not know, and comments', () => {
    expect(
      facts('a.ts', "class B { f() { /* this.child('X') */ this.chill('X'); other.find('Y'); } }").operations,
    ).toEqual([]);
  });

  it('does not take a local variable for a service of the same name', () => {
    expect(
      facts('a.ts', "class B { f(bells: Array<string>) { stage.find('X'); } g() { const stage = make(); } }").operations
        .length,
    ).toBe(1);
  });
});
