/**
 * The same small behaviours in five languages must give the same facts. A behaviour is the body of `begin` in a type
 * Boat below Vessel; what it comes to is written once. `-` leaves a language out that has no such form.
 */
import { factsOf, planOf, useGrammars } from '../../testing/project.js';
import type { Operation, ScriptFacts, Value } from '../facts.js';
import type { Language } from '../plan/plan.js';

const LANGUAGES: Language[] = ['typescript', 'javascript', 'lua', 'csharp', 'python'];
const ENDINGS: Record<Language, string> = {
  typescript: 'ts',
  javascript: 'js',
  lua: 'lua',
  csharp: 'cs',
  python: 'py',
};

const plan = planOf({
  scripts: Object.fromEntries(
    LANGUAGES.map((language) => [
      language,
      {
        match: `scripts/*.${ENDINGS[language]}`,
        language,
        exposed: { decorators: ['Slot', 'slot'], types: ['Slot'] },
        moments: { start: ['begin'], everyFrame: ['tick'] },
      },
    ]),
  ),
});

/** Puts the body into a type of the language; `more` is a second function, `tick`. */
const FRAMES: Record<Language, (body: string, more: string) => string> = {
  typescript: (body, more) =>
    `export class Boat extends Vessel {\n  begin() {\n    ${body}\n  }\n  tick() {\n    ${more}\n  }\n}`,
  javascript: (body, more) =>
    `export class Boat extends Vessel {\n  begin() {\n    ${body}\n  }\n  tick() {\n    ${more}\n  }\n}`,
  lua: (body, more) =>
    `local Boat = Vessel:extend()\nfunction Boat:begin()\n  ${body}\nend\nfunction Boat:tick()\n  ${more}\nend\nreturn Boat`,
  csharp: (body, more) =>
    `public class Boat : Vessel {\n  void begin() {\n    ${body}\n  }\n  void tick() {\n    ${more}\n  }\n}`,
  python: (body, more) =>
    `class Boat(Vessel):\n  def begin(self):\n    ${body.replace(/\n/g, '\n    ')}\n  def tick(self):\n    ${more || 'pass'}\n`,
};

function facts(language: Language, text: string): ScriptFacts {
  return factsOf({ [`scripts/boat.${ENDINGS[language]}`]: text }, plan).facts[0].script!;
}

/** All operations as chains of what they mean, with guards, moments and payloads where they say something. */
function told(script: ScriptFacts): string[] {
  const used = new Set<number>();
  const chain = (value: Value): string => {
    switch (value.is) {
      case 'operation':
        used.add(value.operation);
        return one(script.operations[value.operation]);
      case 'any':
        return `(${value.of.map(chain).sort().join(' | ')})`;
      case 'join':
        return value.parts.map((part) => (part.is === 'text' ? `“${part.text}”` : '?')).join('+');
      case 'field':
        return `field ${value.name}`;
      case 'text':
        return `“${value.text}”`;
      case 'number':
        return String(value.number);
      case 'constant':
      case 'function':
        return value.name || 'a function';
      default:
        return value.is;
    }
  };
  const one = (operation: Operation): string => {
    const { name, path, type, event, handler, count } = operation.arguments;
    const given = [name, path, type, event, handler, count].filter((value) => value !== undefined).map(chain);
    const start = operation.receiver.is === 'self' ? '' : `${chain(operation.receiver)} → `;
    const extra = [
      operation.payload.length > 0 ? `+${operation.payload.length}` : '',
      operation.guarded ? 'guarded' : '',
    ].filter(Boolean);
    return [`${start}${plan.calls[operation.rule].means}`, ...given, ...extra].join(' ');
  };
  const all = script.operations.map(one);
  return all
    .filter((_, at) => !used.has(at))
    .map((words, at) => `${words}${momentOf(script.operations.filter((_one, index) => !used.has(index))[at])}`);
}

const momentOf = ({ moment }: Operation): string => (moment === 'start' ? '' : ` (${moment})`);

interface Behaviour {
  does: string;
  /** Body in TypeScript, which JavaScript shares. */
  ts: string;
  lua: string;
  cs: string;
  py: string;
  wanted: string[];
  /** The second function in the same order, where there is one. */
  tick?: [string, string, string, string];
}

const BEHAVIOURS: Behaviour[] = [
  {
    does: 'one step up',
    ts: 'this.holder.show();',
    lua: 'self.holder:show()',
    cs: 'this.holder.show();',
    py: 'self.holder.show()',
    wanted: ['step up'],
  },
  {
    does: 'two steps up',
    ts: 'this.holder.holder.show();',
    lua: 'self.holder.holder:show()',
    cs: 'this.holder.holder.show();',
    py: 'self.holder.holder.show()',
    wanted: ['step up → step up'],
  },
  {
    does: 'a child by name',
    ts: "this.child('Cleat').show();",
    lua: "self:child('Cleat'):show()",
    cs: 'this.child("Cleat").show();',
    py: "self.child('Cleat').show()",
    wanted: ['child “Cleat”'],
  },
  {
    does: 'a child of the holder',
    ts: "this.holder.child('Cleat').show();",
    lua: 'self.holder:child("Cleat"):show()',
    cs: 'this.holder.child("Cleat").show();',
    py: 'self.holder.child("Cleat").show()',
    wanted: ['step up → child “Cleat”'],
  },
  {
    does: 'a path of names',
    ts: "this.way('../Hull').show();",
    lua: "self:way('../Hull'):show()",
    cs: 'this.way("../Hull").show();',
    py: "self.way('../Hull').show()",
    wanted: ['object path “../Hull”'],
  },
  {
    does: 'a look-up in the scene',
    ts: "stage.find('Clock').show();",
    lua: "stage.find('Clock'):show()",
    cs: 'stage.find("Clock").show();',
    py: "stage.find('Clock').show()",
    wanted: ['find “Clock”'],
  },
  {
    does: 'a service kept in a field',
    ts: "this.stage.find('Clock').show();",
    lua: "self.stage.find('Clock'):show()",
    cs: 'this.stage.find("Clock").show();',
    py: "self.stage.find('Clock').show()",
    wanted: ['find “Clock”'],
  },
  {
    does: 'a part by its type',
    ts: 'this.part(Engine).start();',
    lua: 'self:part(Engine):start()',
    cs: 'this.part(Engine).start();',
    py: 'self.part(Engine).start()',
    wanted: ['part Engine'],
  },
  {
    does: 'a part by the name of its type',
    ts: "this.part('Engine').start();",
    lua: "self:part('Engine'):start()",
    cs: 'this.part("Engine").start();',
    py: "self.part('Engine').start()",
    wanted: ['part “Engine”'],
  },
  {
    does: 'a part of a child',
    ts: "this.child('Room').part(Engine).start();",
    lua: "self:child('Room'):part(Engine):start()",
    cs: 'this.child("Room").part(Engine).start();',
    py: "self.child('Room').part(Engine).start()",
    wanted: ['child “Room” → part Engine'],
  },
  {
    does: 'an event without payload',
    ts: "bells.ring('rung');",
    lua: "bells.ring('rung')",
    cs: 'bells.ring("rung");',
    py: "bells.ring('rung')",
    wanted: ['send “rung”'],
  },
  {
    does: 'an event with payload',
    ts: "bells.ring('rung', 1, this.load);",
    lua: "bells.ring('rung', 1, self.load)",
    cs: 'bells.ring("rung", 1, this.load);',
    py: "bells.ring('rung', 1, self.load)",
    wanted: ['send “rung” +2'],
  },
  {
    does: 'an event named by a constant',
    ts: 'bells.ring(Bells.rung);',
    lua: 'bells.ring(Bells.rung)',
    cs: 'bells.ring(Bells.rung);',
    py: 'bells.ring(Bells.rung)',
    wanted: ['send Bells.rung'],
  },
  {
    does: 'a handler by name',
    ts: "bells.hear('rung', this.hear);",
    lua: "bells.hear('rung', self.hear)",
    cs: 'bells.hear("rung", this.hear);',
    py: "bells.hear('rung', self.hear)",
    wanted: ['listen “rung” hear'],
  },
  {
    does: 'a free function as handler',
    ts: "bells.hear('rung', hearAll);",
    lua: "bells.hear('rung', hearAll)",
    cs: 'bells.hear("rung", hearAll);',
    py: "bells.hear('rung', hearAll)",
    wanted: ['listen “rung” hearAll'],
  },
  {
    does: 'a handler in place, which runs on the event',
    ts: "bells.hear('rung', (code) => bells.ring('heard', code));",
    lua: "bells.hear('rung', function(code) bells.ring('heard', code) end)",
    cs: 'bells.hear("rung", code => bells.ring("heard", code));',
    py: "bells.hear('rung', lambda code: bells.ring('heard', code))",
    wanted: ['send “heard” +1 (on an event)', 'listen “rung” a function'],
  },
  {
    does: 'a spawn',
    ts: "spawnFrom('prefabs/crate.json');",
    lua: "spawnFrom('prefabs/crate.json')",
    cs: 'spawnFrom("prefabs/crate.json");',
    py: "spawnFrom('prefabs/crate.json')",
    wanted: ['spawn “prefabs/crate.json”'],
  },
  {
    does: 'a child of what was spawned',
    ts: "spawnFrom('c').child('Lid').hide();",
    lua: "spawnFrom('c'):child('Lid'):hide()",
    cs: 'spawnFrom("c").child("Lid").hide();',
    py: "spawnFrom('c').child('Lid').hide()",
    wanted: ['spawn “c” → child “Lid”'],
  },
  {
    does: 'a file that is named',
    ts: "table('data/ropes.json');",
    lua: "table('data/ropes.json')",
    cs: 'table("data/ropes.json");',
    py: "table('data/ropes.json')",
    wanted: ['use file “data/ropes.json”'],
  },
  {
    does: 'a local variable',
    ts: "const b = this.holder; b.child('X').show();",
    lua: "local b = self.holder; b:child('X'):show()",
    cs: 'var b = this.holder; b.child("X").show();',
    py: "b = self.holder\nb.child('X').show()",
    wanted: ['step up → child “X”'],
  },
  {
    does: 'a local passed on',
    ts: "const b = this.holder; const c = b; c.child('X').show();",
    lua: "local b = self.holder; local c = b; c:child('X'):show()",
    cs: 'var b = this.holder; var c = b; c.child("X").show();',
    py: "b = self.holder\nc = b\nc.child('X').show()",
    wanted: ['step up → child “X”'],
  },
  {
    does: 'a local set anew',
    ts: "let b = this.holder; b = b.holder; b.child('X').show();",
    lua: "local b = self.holder; b = b.holder; b:child('X'):show()",
    cs: 'var b = this.holder; b = b.holder; b.child("X").show();',
    py: "b = self.holder\nb = b.holder\nb.child('X').show()",
    wanted: ['step up → step up → child “X”'],
  },
  {
    does: 'a name in a local',
    ts: "const n = 'Cleat'; this.child(n).show();",
    lua: "local n = 'Cleat'; self:child(n):show()",
    cs: 'var n = "Cleat"; this.child(n).show();',
    py: "n = 'Cleat'\nself.child(n).show()",
    wanted: ['child “Cleat”'],
  },
  {
    does: 'texts put together',
    ts: "this.child('Cl' + 'eat').show();",
    lua: "self:child('Cl' .. 'eat'):show()",
    cs: 'this.child("Cl" + "eat").show();',
    py: "self.child('Cl' + 'eat').show()",
    wanted: ['child “Cleat”'],
  },
  {
    does: 'a name made at run time',
    ts: "this.child('crew-' + this.nick).show();",
    lua: "self:child('crew-' .. self.nick):show()",
    cs: 'this.child("crew-" + this.nick).show();',
    py: "self.child('crew-' + self.nick).show()",
    wanted: ['child “crew-”+?'],
  },
  {
    does: 'a name known only at run time',
    ts: 'this.child(pick()).show();',
    lua: 'self:child(pick()):show()',
    cs: 'this.child(pick()).show();',
    py: 'self.child(pick()).show()',
    wanted: ['child unknown'],
  },
  {
    does: 'a field set and used at once',
    ts: "this.b = this.holder; this.b.child('X').show();",
    lua: "self.b = self.holder; self.b:child('X'):show()",
    cs: 'this.b = this.holder; this.b.child("X").show();',
    py: "self.b = self.holder\nself.b.child('X').show()",
    wanted: ['step up → child “X”'],
  },
  {
    does: 'a field used in another function',
    ts: 'this.b = this.holder;',
    lua: 'self.b = self.holder',
    cs: 'this.b = this.holder;',
    py: 'self.b = self.holder',
    tick: [
      "this.b.child('X').show();",
      "self.b:child('X'):show()",
      'this.b.child("X").show();',
      "self.b.child('X').show()",
    ],
    wanted: ['step up', 'field b → child “X” (every frame)'],
  },
  {
    does: 'a branch that changes a local',
    ts: "let b = this.holder; if (x) { b = this.child('H'); } b.child('X').show();",
    lua: "local b = self.holder; if x then b = self:child('H') end b:child('X'):show()",
    cs: 'var b = this.holder; if (x) { b = this.child("H"); } b.child("X").show();',
    py: "b = self.holder\nif x:\n  b = self.child('H')\nb.child('X').show()",
    wanted: ['(child “H” | step up) → child “X”'],
  },
  {
    does: 'a branch that leaves',
    ts: "let b = this.holder; if (x) { b = this.child('H'); return; } b.child('X').show();",
    lua: "local b = self.holder; if x then b = self:child('H'); return end b:child('X'):show()",
    cs: 'var b = this.holder; if (x) { b = this.child("H"); return; } b.child("X").show();',
    py: "b = self.holder\nif x:\n  b = self.child('H')\n  return\nb.child('X').show()",
    wanted: ['child “H”', 'step up → child “X”'],
  },
  {
    does: 'two branches',
    ts: "let b = null; if (x) { b = this.child('A'); } else { b = this.child('B'); } b.child('X').show();",
    lua: "local b; if x then b = self:child('A') else b = self:child('B') end b:child('X'):show()",
    cs: 'Node b = null; if (x) { b = this.child("A"); } else { b = this.child("B"); } b.child("X").show();',
    py: "b = None\nif x:\n  b = self.child('A')\nelse:\n  b = self.child('B')\nb.child('X').show()",
    wanted: ['(child “A” | child “B”) → child “X”'],
  },
  {
    does: 'a loop over something unknown',
    ts: "for (const b of boats) { b.child('X').show(); }",
    lua: "for _, b in ipairs(boats) do b:child('X'):show() end",
    cs: 'foreach (var b in boats) { b.child("X").show(); }',
    py: "for b in boats:\n  b.child('X').show()",
    wanted: ['unknown → child “X”'],
  },
  {
    does: 'a loop while something holds',
    ts: "while (x) { this.child('X').show(); }",
    lua: "while x do self:child('X'):show() end",
    cs: 'while (x) { this.child("X").show(); }',
    py: "while x:\n  self.child('X').show()",
    wanted: ['child “X”'],
  },
  {
    does: 'asking with an if',
    ts: "const c = this.child('X'); if (c) c.show();",
    lua: "local c = self:child('X'); if c then c:show() end",
    cs: 'var c = this.child("X"); if (c != null) c.show();',
    py: "c = self.child('X')\nif c:\n  c.show()",
    wanted: ['child “X” guarded'],
  },
  {
    does: 'asking for nothing',
    ts: "const c = this.child('X'); if (c === null) return;",
    lua: "local c = self:child('X'); if c == nil then return end",
    cs: 'var c = this.child("X"); if (c == null) return;',
    py: "c = self.child('X')\nif c is None:\n  return",
    wanted: ['child “X” guarded'],
  },
  {
    does: 'asking with a not',
    ts: "const c = this.child('X'); if (!c) return;",
    lua: "local c = self:child('X'); if not c then return end",
    cs: 'var c = this.child("X"); if (!c) return;',
    py: "c = self.child('X')\nif not c:\n  return",
    wanted: ['child “X” guarded'],
  },
  {
    does: 'asking with an and',
    ts: "const c = this.child('X'); if (c && x) c.show();",
    lua: "local c = self:child('X'); if c and x then c:show() end",
    cs: 'var c = this.child("X"); if (c != null && x) c.show();',
    py: "c = self.child('X')\nif c and x:\n  c.show()",
    wanted: ['child “X” guarded'],
  },
  {
    does: 'a fallback',
    ts: "const c = this.child('X') || this.child('Y'); c.show();",
    lua: "local c = self:child('X') or self:child('Y'); c:show()",
    cs: 'var c = this.child("X") ?? this.child("Y"); c.show();',
    py: "c = self.child('X') or self.child('Y')\nc.show()",
    wanted: ['child “X” guarded', 'child “Y”'],
  },
  {
    does: 'giving a result away',
    ts: "return this.child('X');",
    lua: "return self:child('X')",
    cs: 'return this.child("X");',
    py: "return self.child('X')",
    wanted: ['child “X” guarded'],
  },
  {
    does: 'asking a field in another function',
    ts: "this.c = this.child('X');",
    lua: "self.c = self:child('X')",
    cs: 'this.c = this.child("X");',
    py: "self.c = self.child('X')",
    tick: [
      'if (this.c) this.c.show();',
      'if self.c then self.c:show() end',
      'if (this.c != null) this.c.show();',
      'self.c and self.c.show()',
    ],
    wanted: ['child “X” guarded'],
  },
  {
    does: 'plain use',
    ts: "const c = this.child('X'); c.show();",
    lua: "local c = self:child('X'); c:show()",
    cs: 'var c = this.child("X"); c.show();',
    py: "c = self.child('X')\nc.show()",
    wanted: ['child “X”'],
  },
  {
    does: 'asking for a part before',
    ts: 'if (this.hasPart(Engine)) this.part(Engine).start();',
    lua: 'if self:hasPart(Engine) then self:part(Engine):start() end',
    cs: 'if (this.hasPart(Engine)) this.part(Engine).start();',
    py: 'if self.hasPart(Engine):\n  self.part(Engine).start()',
    wanted: ['asks part Engine', 'part Engine guarded'],
  },
  {
    does: 'code of every frame',
    ts: '',
    lua: '',
    cs: '',
    py: 'pass',
    tick: ["this.child('X').show();", "self:child('X'):show()", 'this.child("X").show();', "self.child('X').show()"],
    wanted: ['child “X” (every frame)'],
  },
  {
    does: 'a function that another one calls',
    ts: 'this.tick();',
    lua: 'self:tick()',
    cs: 'this.tick();',
    py: 'self.tick()',
    tick: ["bells.ring('a');", "bells.ring('a')", 'bells.ring("a");', "bells.ring('a')"],
    wanted: ['send “a” (every frame)'],
  },
  {
    does: 'a call in an argument',
    ts: "log(this.child('X'));",
    lua: "log(self:child('X'))",
    cs: 'log(this.child("X"));',
    py: "log(self.child('X'))",
    wanted: ['child “X”'],
  },
  {
    does: 'a call in a table',
    ts: "log({ at: this.child('X') });",
    lua: "log({ at = self:child('X') })",
    cs: 'log(new Spot { at = this.child("X") });',
    py: "log({'at': self.child('X')})",
    wanted: ['child “X”'],
  },
  {
    does: 'a call in a list',
    ts: "log([this.child('X')]);",
    lua: "log({ self:child('X') })",
    cs: 'log(new[] { this.child("X") });',
    py: "log([self.child('X')])",
    wanted: ['child “X”'],
  },
  {
    does: 'a call in a sum',
    ts: "log(1 + this.child('X').size);",
    lua: "log(1 + self:child('X').size)",
    cs: 'log(1 + this.child("X").size);',
    py: "log(1 + self.child('X').size)",
    wanted: ['child “X”'],
  },
  {
    does: 'a call that the table does not know',
    ts: "this.chill('X');",
    lua: "self:chill('X')",
    cs: 'this.chill("X");',
    py: "self.chill('X')",
    wanted: [],
  },
  {
    does: 'a comment',
    ts: "// this.child('X');",
    lua: "-- self:child('X')",
    cs: '// this.child("X");',
    py: "pass  # self.child('X')",
    wanted: [],
  },
  {
    does: 'a sender given away as a function',
    ts: 'later(bells.ring);',
    lua: 'later(bells.ring)',
    cs: 'later(bells.ring);',
    py: 'later(bells.ring)',
    wanted: ['send'],
  },
  {
    does: 'a function inside a function',
    ts: "const f = () => this.child('X').show(); f();",
    lua: "local f = function() self:child('X'):show() end; f()",
    cs: 'Action f = () => this.child("X").show(); f();',
    py: "f = lambda: self.child('X').show()\nf()",
    wanted: ['child “X”'],
  },
];

describe('conformance of script languages', () => {
  beforeAll(useGrammars);

  it('has at least fifty behaviours', () => expect(BEHAVIOURS.length).toBeGreaterThanOrEqual(50));

  for (const behaviour of BEHAVIOURS) {
    const { does, ts, lua, cs, py, tick = ['', '', '', ''], wanted } = behaviour;
    const bodies: Record<Language, [string, string]> = {
      typescript: [ts, tick[0]],
      javascript: [ts, tick[0]],
      lua: [lua, tick[1]],
      csharp: [cs, tick[2]],
      python: [py, tick[3]],
    };
    for (const language of LANGUAGES) {
      it(`${language}: ${does}`, () =>
        expect(told(facts(language, FRAMES[language](...bodies[language])))).toEqual(wanted));
    }
  }

  for (const language of LANGUAGES) {
    it(`${language}: the type, its parent and its functions`, () => {
      const script = facts(language, FRAMES[language]('', ''));
      expect(script.types.map(({ name, parents }) => [name, parents])).toEqual([['Boat', ['Vessel']]]);
      expect(script.functions.map(({ name, type, moment }) => [name, type, moment])).toEqual([
        ['begin', 0, 'start'],
        ['tick', 0, 'every frame'],
      ]);
    });
  }

  const parentCalls: Record<Language, string> = {
    typescript: 'class B extends A { begin() { super.begin(); } }',
    javascript: 'class B extends A { begin() { super.begin(); } }',
    lua: 'local B = A:extend()\nfunction B:begin() A.begin(self) end',
    csharp: 'class B : A { void begin() { base.begin(); } }',
    python: 'class B(A):\n  def begin(self):\n    super().begin()',
  };
  const constants: Record<Language, string> = {
    typescript: "export class Bells { static readonly rung = 'bell.rung'; }",
    javascript: "export class Bells { static rung = 'bell.rung'; }",
    lua: "local Bells = class()\nBells.rung = 'bell.rung'\nfunction Bells.x() end",
    csharp: 'class Bells { public const string rung = "bell.rung"; }',
    python: "class Bells:\n  rung = 'bell.rung'",
  };
  const fields: Partial<Record<Language, string>> = {
    typescript: 'class B { @slot() a!: Part; @slot() b?: Part; @slot() c = 1; d = 2; }',
    javascript: 'class B { @slot() a; @slot() b = null; @slot() c = 1; d = 2; }',
    csharp: 'class B { [Slot] public Part a; [Slot] Part? b; [Slot] int c = 1; int d = 2; }',
    python: 'class B:\n  a: Slot[Part]\n  b: Optional[Slot]\n  c: Slot = 1\n  d: int = 2',
  };
  for (const language of LANGUAGES) {
    it(`${language}: a call of the parent’s function`, () =>
      expect(facts(language, parentCalls[language]).functions[0].callsParent).toBe('before'));
    it(`${language}: constants for other scripts`, () =>
      expect(facts(language, constants[language]).constants).toEqual([{ name: 'Bells.rung', text: 'bell.rung' }]));
    const text = fields[language];
    if (text)
      it(`${language}: which fields must be filled`, () =>
        expect(
          facts(language, text)
            .types[0].fields.filter((field) => field.required)
            .map((field) => field.name),
        ).toEqual(['a']));
  }
});

describe('what only one language has', () => {
  beforeAll(useGrammars);

  it('C#: a part by a type argument, members without “this”, safe access, interpolation', () => {
    const generic = planOf({
      scripts: { cs: { match: 'scripts/*.cs', language: 'csharp' } },
      calls: [
        { call: '*.part<$type>()', means: 'part' },
        { call: '*.child($name)', means: 'child' },
        { call: '$event.+=($handler)', means: 'listen' },
      ],
    });
    const text =
      'class B { Node boat; void Begin() { boat = this.child("X"); boat?.child($"a{n}").part<Engine>(); Bells.Rung += OnRung; } void OnRung() {} }';
    const { operations, fieldValues } = factsOf({ 'scripts/b.cs': text }, generic).facts[0].script!;
    expect(fieldValues.map((one) => one.field)).toEqual(['boat']);
    expect(operations.map((one) => [generic.calls[one.rule].means, one.guarded])).toEqual([
      ['child', true],
      ['child', false],
      ['part', false],
      ['listen', false],
    ]);
    expect(operations[2].arguments.type).toEqual({ is: 'constant', name: 'Engine' });
    expect(operations[3].arguments).toEqual({
      event: { is: 'constant', name: 'Bells.Rung' },
      handler: { is: 'function', name: 'OnRung' },
    });
  });

  it('Lua: types by metatables, fields of tables, modules', () => {
    const script = facts(
      'lua',
      "local Vessel = require('boats.vessel')\nlocal Boat = { size = 4 }\nsetmetatable(Boat, { __index = Vessel })\nBoat.name = 'x'\nfunction Boat.new(self) end\nfunction helper() end",
    );
    expect(
      script.types.map(({ name, parents, fields: all }) => [name, parents, all.map((field) => field.name)]),
    ).toEqual([['Boat', ['Vessel'], ['size', 'name']]]);
    expect(script.imports[0].from).toBe('boats.vessel');
    expect(script.functions.map((one) => [one.name, one.type])).toEqual([
      ['helper', -1],
      ['new', 0],
    ]);
  });
});

describe('fields that people fill in', () => {
  beforeAll(useGrammars);

  const read = (language: Language, text: string, exposed: object): string[] => {
    const match = `a.${ENDINGS[language]}`;
    const own = planOf({ scripts: { all: { match, language, exposed } } });
    return factsOf({ [match]: text }, own)
      .facts[0].script!.types[0].fields.filter((field) => field.exposed)
      .map((field) => field.name);
  };
  const FIELDS: Record<Language, string> = {
    typescript: 'class A {\n  // @filled by hand\n  a: Cleat;\n  b: Cleat; // @filled\n  c: Cleat;\n  slotD: Cleat;\n}',
    javascript: 'class A {\n  // @filled by hand\n  a = null;\n  b = null; // @filled\n  c = null;\n  slotD = null;\n}',
    lua: 'local A = Base:extend()\n-- @filled by hand\nA.a = nil\nA.b = nil -- @filled\nA.c = nil\nA.slotD = nil\nreturn A',
    csharp: 'class A : Base {\n  // @filled by hand\n  Cleat a;\n  Cleat b; // @filled\n  Cleat c;\n  Cleat slotD;\n}',
    python:
      'class A(Base):\n  # @filled by hand\n  a: Cleat = None\n  b: Cleat = None  # @filled\n  c: Cleat = None\n  slotD: Cleat = None\n',
  };
  for (const language of LANGUAGES) {
    it(`are known by a comment or by their name: ${language}`, () => {
      expect(read(language, FIELDS[language], { comments: '@filled' })).toEqual(['a', 'b']);
      expect(read(language, FIELDS[language], { names: '^slot' })).toEqual(['slotD']);
    });
  }
});

describe('members that are hidden', () => {
  beforeAll(useGrammars);

  const read = (language: Language, text: string, hidden?: object): string[] => {
    const match = `a.${ENDINGS[language]}`;
    const own = planOf({ scripts: { all: { match, language, ...(hidden ? { hidden } : {}) } } });
    const { types, functions } = factsOf({ [match]: text }, own).facts[0].script!;
    return [...types[0].fields, ...functions].filter((one) => one.hidden).map((one) => one.name);
  };

  it('are known by their modifiers', () => {
    expect(
      read('typescript', 'class A { private a = 1; b = 2; protected c() {} #d = 4; constructor(private e: B) {} }'),
    ).toEqual(jasmine.arrayWithExactContents(['a', '#d', 'e', 'c']));
    expect(read('csharp', 'class A { private int a; public int b; protected void C() {} }')).toEqual(['a', 'C']);
  });

  it('are all that lack a modifier, where the language is like that', () => {
    expect(read('csharp', 'class A { int a; public int b; void C() {} }', { unless: ['public', 'internal'] })).toEqual([
      'a',
      'C',
    ]);
  });

  it('are known by their names', () => {
    expect(read('python', 'class A:\n  _a: int = 1\n  b: int = 2\n  def _c(self): pass\n', { names: '^_' })).toEqual([
      '_a',
      '_c',
    ]);
    expect(
      read('lua', 'local A = Base:extend()\nA._a = 1\nfunction A:_c() end\nfunction A:d() end\n', { names: '^_' }),
    ).toEqual(['_a', '_c']);
    expect(read('javascript', 'class A { #a = 1; b() {} }')).toEqual(['#a']);
  });
});

describe('types with several parents', () => {
  beforeAll(useGrammars);
  const CODE: Record<Language, string> = {
    typescript: 'class Boat extends Swims(Floats(Vessel))<Hull> {}',
    javascript: 'class Boat extends Swims(Floats(Vessel)) {}',
    lua: 'local Boat = class("Boat", Vessel)\nBoat:include(Swims)\nBoat:include(Floats)\nreturn Boat',
    csharp: 'class Boat : Vessel, Swims, Floats {}',
    python: 'class Boat(Swims, Floats, Vessel, metaclass=Meta):\n  pass\n',
  };
  for (const language of LANGUAGES) {
    it(`have them all, mixed in or listed: ${language}`, () => {
      const { types } = facts(language, CODE[language]);
      expect([...types[0].parents].sort()).toEqual(['Floats', 'Swims', 'Vessel']);
    });
  }
});

describe('a flag that one function sets and another asks for', () => {
  beforeAll(useGrammars);
  const BODIES: Record<Language, [string, string]> = {
    typescript: [
      "if (!this.isLevel) { return; }\n    this.gate = stage.find('Gate');\n    this.gate.open();",
      'this.isLevel = true;',
    ],
    javascript: [
      "if (!this.isLevel) { return; }\n    this.gate = stage.find('Gate');\n    this.gate.open();",
      'this.isLevel = true;',
    ],
    lua: [
      "if not self.isLevel then return end\n  self.gate = stage:find('Gate')\n  self.gate:open()",
      'self.isLevel = true',
    ],
    csharp: [
      'if (!this.isLevel) { return; }\n    this.gate = stage.find("Gate");\n    this.gate.open();',
      'this.isLevel = true;',
    ],
    python: ["if not self.isLevel:\n  return\nself.gate = stage.find('Gate')\nself.gate.open()", 'self.isLevel = True'],
  };
  for (const language of LANGUAGES)
    it(`is the same in ${language}`, () => {
      const script = facts(language, FRAMES[language](...BODIES[language]));
      const name = (at: number): string => script.functions[at].name;
      expect(script.types[0].flags.map((flag) => flag.name)).toEqual(['isLevel']);
      expect(script.flagUses.map((use) => [name(use.function), use.how, use.to ?? '', use.asks !== undefined])).toEqual(
        [
          ['begin', 'reads', '', true],
          ['tick', 'writes', 'on', false],
        ],
      );
      const [find] = script.operations;
      expect(find.gates?.map(({ isNegated, fields }) => [isNegated, fields])).toEqual([[true, ['isLevel']]]);
      expect(script.touches.map(({ member, how, isDriving, isAsked }) => [member, how, isDriving, isAsked])).toEqual([
        ['open', 'calls', true, false],
      ]);
    });
});

/** Ways out, and what hangs on their not having been taken: events that are sent only if something holds have a `?`. */
const WAYS_OUT: (Omit<Behaviour, 'tick'> & { js?: string })[] = [
  {
    does: 'the next pass: only the rest of the body hangs on it',
    ts: "for (const a of all) { if (!a.on) continue; bells.ring('in'); } bells.ring('out');",
    lua: "for _, a in ipairs(all) do if not a.on then goto next end bells.ring('in') ::next:: end bells.ring('out')",
    cs: 'foreach (var a in all) { if (!a.on) continue; bells.ring("in"); } bells.ring("out");',
    py: "for a in all:\n  if not a.on:\n    continue\n  bells.ring('in')\nbells.ring('out')",
    wanted: ['in?', 'out'],
  },
  {
    does: 'out of the loop: what comes behind the loop is reached',
    ts: "while (true) { bells.ring('first'); if (x) break; bells.ring('in'); } bells.ring('out');",
    lua: "while true do bells.ring('first') if x then break end bells.ring('in') end bells.ring('out')",
    cs: 'while (true) { bells.ring("first"); if (x) break; bells.ring("in"); } bells.ring("out");',
    py: "while True:\n  bells.ring('first')\n  if x:\n    break\n  bells.ring('in')\nbells.ring('out')",
    wanted: ['first', 'in?', 'out'],
  },
  {
    does: 'out of the function, from within a loop: all that comes behind hangs on it',
    ts: "for (const a of all) { if (a.on) return; } bells.ring('out');",
    lua: "for _, a in ipairs(all) do if a.on then return end end bells.ring('out')",
    cs: 'foreach (var a in all) { if (a.on) return; } bells.ring("out");',
    py: "for a in all:\n  if a.on:\n    return\nbells.ring('out')",
    wanted: ['out?'],
  },
  {
    does: 'out of the function, in the first pass',
    ts: "for (const a of all) { return; } bells.ring('out');",
    lua: "for _, a in ipairs(all) do do return end end bells.ring('out')",
    cs: 'foreach (var a in all) { return; } bells.ring("out");',
    py: "for a in all:\n  return\nbells.ring('out')",
    wanted: ['out?'],
  },
  {
    does: 'out of the function, from a block',
    ts: "{ if (x) { return; } bells.ring('in'); } bells.ring('out');",
    lua: "do if x then return end bells.ring('in') end bells.ring('out')",
    cs: '{ if (x) { return; } bells.ring("in"); } bells.ring("out");',
    py: "if x:\n  return\nbells.ring('in')\nbells.ring('out')",
    wanted: ['in?', 'out?'],
  },
  {
    does: 'a fault',
    ts: "if (!x) throw new Error('no'); bells.ring('out');",
    lua: "if not x then error('no') end bells.ring('out')",
    cs: 'if (!x) throw new Fault("no"); bells.ring("out");',
    py: "if not x:\n  raise Fault('no')\nbells.ring('out')",
    wanted: ['out?'],
  },
  {
    does: 'what surely ends the function ends the walk',
    ts: "if (x) { return; } else { return; } bells.ring('never');",
    lua: "if x then return else return end bells.ring('never')",
    cs: 'if (x) { return; } else { return; } bells.ring("never");',
    py: "if x:\n  return\nelse:\n  return\nbells.ring('never')",
    wanted: [],
  },
  {
    does: 'a loop that nothing ends but the function',
    ts: "while (true) { bells.ring('in'); if (x) return; } bells.ring('never');",
    lua: "while true do bells.ring('in') if x then return end end bells.ring('never')",
    cs: 'while (true) { bells.ring("in"); if (x) return; } bells.ring("never");',
    py: "while True:\n  bells.ring('in')\n  if x:\n    return\nbells.ring('never')",
    wanted: ['in'],
  },
  {
    does: 'a body that runs before its condition is asked',
    ts: "do { bells.ring('in'); if (y) continue; bells.ring('rest'); } while (x); bells.ring('out');",
    lua: "repeat bells.ring('in') if y then goto next end bells.ring('rest') ::next:: until x bells.ring('out')",
    cs: 'do { bells.ring("in"); if (y) continue; bells.ring("rest"); } while (x); bells.ring("out");',
    py: '-',
    wanted: ['in', 'rest?', 'out'],
  },
  {
    does: 'a fault that is handled: what comes behind is reached',
    ts: "try { if (x) throw 1; bells.ring('in'); } catch { bells.ring('handled'); } finally { bells.ring('last'); } bells.ring('out');",
    lua: '-',
    cs: 'try { if (x) throw new Fault(); bells.ring("in"); } catch { bells.ring("handled"); } finally { bells.ring("last"); } bells.ring("out");',
    py: "try:\n  if x:\n    raise Fault()\n  bells.ring('in')\nexcept Fault:\n  bells.ring('handled')\nelse:\n  bells.ring('fine')\nfinally:\n  bells.ring('last')\nbells.ring('out')",
    wanted: ['in?', 'fine?', 'handled?', 'last', 'out'],
  },
  {
    does: 'a handler that ends the function',
    ts: "try { bells.ring('in'); } catch { return; } bells.ring('out');",
    lua: '-',
    cs: 'try { bells.ring("in"); } catch { return; } bells.ring("out");',
    py: "try:\n  bells.ring('in')\nexcept Fault:\n  return\nbells.ring('out')",
    wanted: ['in', 'out'],
  },
  {
    does: 'one body of several',
    ts: "switch (x) { case 1: if (y) break; bells.ring('one'); break; default: bells.ring('other'); } bells.ring('out');",
    lua: '-',
    cs: 'switch (x) { case 1: if (y) break; bells.ring("one"); break; default: bells.ring("other"); break; } bells.ring("out");',
    py: "match x:\n  case 1:\n    if y:\n      pass\n    else:\n      bells.ring('one')\n  case _:\n    bells.ring('other')\nbells.ring('out')",
    wanted: ['one?', 'other?', 'out'],
  },
  {
    does: 'bodies that all end the function, and those of which one does',
    ts: "if (x) { switch (x) { case 1: return; default: return; } bells.ring('never'); } switch (x) { case 1: return; } bells.ring('out');",
    lua: '-',
    cs: 'if (x) { switch (x) { case 1: return; default: return; } bells.ring("never"); } switch (x) { case 1: return; } bells.ring("out");',
    py: "if x:\n  match x:\n    case 1:\n      return\n    case _:\n      return\n  bells.ring('never')\nmatch x:\n  case 1:\n    return\nbells.ring('out')",
    wanted: ['out?'],
  },
  {
    does: 'the next pass, from within a choice of bodies',
    ts: "for (const a of all) { switch (a) { case 1: continue; case 2: bells.ring('two'); break; } bells.ring('rest'); } bells.ring('out');",
    lua: '-',
    cs: 'foreach (var a in all) { switch (a) { case 1: continue; case 2: bells.ring("two"); break; } bells.ring("rest"); } bells.ring("out");',
    py: "for a in all:\n  match a:\n    case 1:\n      continue\n    case 2:\n      bells.ring('two')\n  bells.ring('rest')\nbells.ring('out')",
    wanted: ['two?', 'rest?', 'out'],
  },
  {
    does: 'what a loop runs when nothing ended it',
    ts: '-',
    lua: '-',
    cs: '-',
    py: "while x:\n  pass\nelse:\n  bells.ring('after')\nfor a in all:\n  pass\nelse:\n  bells.ring('through')",
    wanted: ['after', 'through'],
  },
];

describe('conditions end where their block does', () => {
  beforeAll(useGrammars);
  for (const { does, ts, lua, cs, py, wanted } of WAYS_OUT) {
    const bodies: Record<Language, string> = { typescript: ts, javascript: ts, lua, csharp: cs, python: py };
    for (const language of LANGUAGES) {
      if (bodies[language] === '-') continue;
      it(`${language}: ${does}`, () => {
        const { operations } = facts(language, FRAMES[language](bodies[language], ''));
        const sent = operations.flatMap(({ arguments: { event }, isConditional }) =>
          event?.is === 'text' ? [`${event.text}${isConditional ? '?' : ''}`] : [],
        );
        // Only one language has what runs when no fault came.
        expect(sent).toEqual(wanted.filter((one) => one !== 'fine?' || language === 'python'));
      });
    }
  }

  it('those that are told say on what, as far as they reach', () => {
    const body =
      "for (const a of all) { if (!this.isOn) continue; bells.ring('in'); } if (this.isFull) return; bells.ring('out');";
    const { operations } = facts('typescript', FRAMES.typescript(body, ''));
    expect(operations.map(({ gates }) => gates)).toEqual([
      [{ words: '!this.isOn', isNegated: true, fields: ['isOn'] }],
      [{ words: 'this.isFull', isNegated: true, fields: ['isFull'] }],
    ]);
  });
});
