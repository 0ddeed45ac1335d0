/** What was overlooked once, each with a case that must fire and one that must not. */
import { plain } from '../model/finding.js';
import { carrier, PLAN, planOf, scan, scanWith, scene, script, useGrammars, type Files } from '../testing/project.js';
import { wiring } from '../trace/wiring.js';
import { FORMS_PLAN } from '../testing/forms/plan.js';

/** What is told of some checks, as `check: sentence @ file:line`. */
function told(check: string, files: Files, changes: { files?: object; calls?: object[] } = {}): string[] {
  const all = {
    ...FORMS_PLAN,
    files: { ...FORMS_PLAN.files, ...changes.files },
    calls: [...FORMS_PLAN.calls, ...(changes.calls ?? [])],
  };
  expect(planOf(all).calls.length).toBeGreaterThan(0);
  return scan(files, all)
    .findings.filter((finding) => finding.check === check)
    .map(({ sentence, evidence: [{ file, range }] }) => `${plain(sentence)} @ ${file}:${range.line}`);
}

const start = {
  list: {
    match: 'build.json',
    as: 'data asset',
    references: {
      scenes: { at: '$.scenes[*]', by: 'path', role: 'build list' },
      start: { at: '$.start', by: 'path', role: 'start scene' },
    },
  },
};
const records = {
  data: {
    match: 'data/*',
    as: 'data asset',
    pieces: {
      rows: { at: '$.rows[*]', kind: 'record', id: '$.id', named: '$.id', extends: { field: '$.like', by: 'id' } },
    },
  },
};
const packs = {
  packs: { match: '*/pack.json', as: 'package', id: '$.id' },
  labels: {
    match: '*/labels.json',
    as: 'data asset',
    pieces: { labels: { at: '$.labels[*]', kind: 'label', named: '$.name' } },
  },
};
const crate: Files = {
  'prefabs/crate.json': { objects: [{ name: 'Crate', parts: [{ type: 'Crate' }], objects: [{ name: 'Hook' }] }] },
  'scripts/crate.ts': 'export class Crate extends Behaviour { tonnes = 1; }',
  'scenes/a.json': scene({ name: 'Crane', parts: [{ type: 'Own' }] }),
};
const spawning = [
  { call: 'preload($path)', means: 'use file' },
  { call: 'grow($path)', means: 'spawn', gives: 'script' },
];
const attaching = [{ call: '*.attach($type)', means: 'attach' }];
const wires = (...second: [string, string, string][]): Files => ({
  'scripts/gate.ts': 'export class Gate extends Behaviour { open() {} close() {} hold() {} light() {} }',
  'scenes/a.json': {
    objects: [1, 2].flatMap((n) => [
      { name: `Plate ${n}`, id: `plate-${n}` },
      { name: `Gate ${n}`, id: `gate-${n}`, parts: [{ type: 'Gate' }] },
    ]),
    wires: [
      ...(
        [
          ['pressed', 'gate-1', 'open'],
          ['released', 'gate-1', 'close'],
          ['held', 'gate-1', 'hold'],
        ] as const
      ).map(([when, to, does]) => ({ when, from: '#plate-1', to: `#${to}`, do: does })),
      ...second.map(([when, to, does]) => ({ when, from: '#plate-2', to: `#${to}`, do: does })),
    ],
  },
});
const PASTED =
  'The wires of Plate 2 are those of Plate 1 over again, and one still leads to Gate 1: released → close() @ scenes/a.json:';

interface Case {
  it: string;
  check: string;
  files: Files;
  changes?: Parameters<typeof told>[2];
  told: string[];
}

const CASES: Case[] = [
  {
    it: 'a script that is lost though its type is named beside it',
    check: 'broken/missing-file',
    files: {
      'scripts/bell.ts': script('Bell', ''),
      'scenes/a.json': scene({ name: 'B', parts: [{ type: 'Bell', script: 'scripts/bel.ts' }] }),
    },
    told: ['a / B / Bell names the file scripts/bel.ts; it does not exist @ scenes/a.json:8'],
  },
  {
    it: 'a script beside its type that is there',
    check: 'broken/missing-file',
    files: {
      'scripts/bell.ts': script('Bell', ''),
      'scenes/a.json': scene({ name: 'B', parts: [{ type: 'Bell', script: 'scripts/bell.ts' }] }),
    },
    told: [],
  },
  {
    it: 'a start scene that is not in the build list',
    check: 'broken/unlisted-scene',
    files: {
      'scenes/quay.json': { id: 'quay', objects: [] },
      'scenes/night.json': { id: 'night', objects: [] },
      'build.json': { scenes: ['scenes/quay.json'], start: 'scenes/night.json' },
    },
    changes: { files: start },
    told: ['Play begins with night, which is not in the build list build.json @ build.json:5'],
  },
  {
    it: 'a start scene in the build list',
    check: 'broken/unlisted-scene',
    files: {
      'scenes/quay.json': { id: 'quay' },
      'build.json': { scenes: ['scenes/quay.json'], start: 'scenes/quay.json' },
    },
    changes: { files: start },
    told: [],
  },
  {
    it: 'a record that descends from itself',
    check: 'broken/loop',
    files: {
      'data/a.json': {
        rows: [
          { id: 'punt', like: 'punt' },
          { id: 'raft', like: 'punt' },
        ],
      },
    },
    changes: { files: records },
    told: ['a / punt descends from itself @ data/a.json:5'],
  },
  {
    it: 'a record that descends from another of its name',
    check: 'broken/loop',
    files: { 'data/a.json': { rows: [{ id: 'punt' }] }, 'data/b.json': { rows: [{ id: 'punt', like: 'punt' }] } },
    changes: { files: records },
    told: [],
  },
  {
    it: 'a label that two packages define by its name',
    check: 'twin/name-clash',
    files: {
      'a/pack.json': { id: 'a' },
      'b/pack.json': { id: 'b' },
      'a/labels.json': { labels: [{ name: 'floating' }, { name: 'dry' }] },
      'b/labels.json': { labels: [{ name: 'floating' }] },
    },
    changes: { files: packs },
    told: ['The packages a and b both define the name floating @ a/labels.json:4'],
  },
  {
    it: 'a label that an object carries and no list has, but one almost alike',
    check: 'broken/unknown-label',
    files: {
      'labels.json': { labels: [{ name: 'floating' }] },
      'scenes/a.json': scene({ name: 'B', labels: ['floting'] }),
    },
    told: ['a / B carries the label floting, and no list declares it; there is floating @ scenes/a.json:6'],
  },
  {
    it: 'labels of which a list declares but a few',
    check: 'broken/unknown-label',
    files: {
      'labels.json': { labels: [{ name: 'floating' }] },
      'scenes/a.json': scene({ name: 'B', labels: ['tarred', 'laden', 'floating'] }),
    },
    told: [],
  },
  ...(
    [
      [
        'ts',
        'export class Hull extends Behaviour { begin() {} settle() {} } export class Own extends Hull { begin() { super.begin(); } sett() { super.sett(); } }',
      ],
      [
        'cs',
        'class Hull : Behaviour { void begin() {} void settle() {} } class Own : Hull { void begin() { base.begin(); } void sett() { base.sett(); } }',
      ],
      [
        'py',
        'class Hull(Behaviour):\n  def begin(self): pass\n  def settle(self): pass\nclass Own(Hull):\n  def begin(self): super().begin()\n  def sett(self): super().sett()\n',
      ],
    ] as const
  ).map(([ending, code]): Case => ({
    it: `a call through to nothing, in .${ending}`,
    check: 'broken/missing-call',
    files: { [`scripts/a.${ending}`]: code },
    told: [`Own calls sett() of its parent, and no parent has it @ scripts/a.${ending}:${ending === 'py' ? 6 : 1}`],
  })),
  {
    it: 'a call through to nothing that a sister has in a type that both are mixed into, or may have',
    check: 'broken/missing-call',
    files: {
      'scripts/a.py': `class Hull(Behaviour):
  def begin(self): pass
class Moored(Hull):
  def settle(self): super().settle()
  def sway(self): super().sway()
class Sunk:
  def settle(self): pass
class Barge(Moored, Sunk): pass
class Low(Hull):
  def sink(self): super().sink()
class Wreck(Low, Elsewhere): pass
`,
    },
    told: ['Moored calls sway() of its parent, and no parent has it @ scripts/a.py:5'],
  },
  {
    it: 'inherited members without a receiver',
    check: 'broken/missing-object',
    files: {
      'scripts/vessel.cs': 'public class Vessel : Behaviour { protected Thing hull; }',
      'scripts/barge.cs':
        'public class Barge : Vessel {\n void begin() {\n hull = child("Hul");\n holder.child("Cleat").show();\n child("Hull").show(); } }',
      'scenes/a.json': scene({
        name: 'Quay',
        objects: [{ name: 'Boat', parts: [{ type: 'Barge' }], objects: [{ name: 'Hull' }] }],
      }),
    },
    told: [
      'Barge on a / Quay / Boat looks for a child called Hul; Boat has no such child @ scripts/barge.cs:3',
      'Barge on a / Quay / Boat looks for a child called Cleat, one step up; Quay has no such child @ scripts/barge.cs:4',
    ],
  },
  ...(
    [
      'const CRATE = preload("prefabs/crate.json"); export class Own extends Behaviour { begin() {\nconst c = grow(CRATE);',
      'export class Own extends Behaviour { t = preload("prefabs/crate.json"); begin() {\nconst c = grow(this.t);',
    ] as const
  ).flatMap((code): Case[] =>
    (['Hok', 'Hook'] as const).map((hook) => ({
      it: `a template kept ${code.startsWith('const') ? 'in a constant' : 'in a field'}, and its ${hook}`,
      check: 'broken/missing-object',
      files: { ...crate, 'scripts/own.ts': `${code} c.child("${hook}").show(); } }` },
      changes: { calls: spawning },
      told:
        hook === 'Hook'
          ? []
          : ['Own on a / Crane looks for a child called Hok; Crate has no such child @ scripts/own.ts:2'],
    })),
  ),
  ...(['tons', 'tonnes'] as const).map((member): Case => ({
    it: `a field set on what was spawned and kept: ${member}`,
    check: 'broken/missing-member',
    files: {
      ...crate,
      'scripts/own.ts': `export class Own extends Behaviour { begin() { this.c = grow('prefabs/crate.json'); this.fill(); } fill() { this.c.${member} = 3; } }`,
    },
    changes: { calls: spawning },
    told:
      member === 'tonnes'
        ? []
        : ['Own sets tons of what it spawns from crate, whose script Crate has no such member @ scripts/own.ts:1'],
  })),
  ...(
    [
      'this.attach(Leek);',
      'if (this.hasPart(Leek)) this.hide();',
      'this.attach(Leak);',
      'this.attach(leak);',
      'this.attach(Wholly);',
    ] as const
  ).map((code): Case => ({
    it: `a type that is named: ${code}`,
    check: 'broken/missing-object',
    files: { 'scripts/own.ts': script('Own', code), 'scripts/leak.ts': script('Leak', '') },
    changes: { calls: attaching },
    told: code.includes('Leek')
      ? ['Own refers to Leek; the project has nothing of that name or identity @ scripts/own.ts:4']
      : [],
  })),
  {
    it: 'a file that is named where it is given back',
    check: 'broken/missing-file',
    files: { ...crate, 'scripts/own.ts': script('Own', '', 'make() {\nreturn grow("prefabs/crat.json"); }') },
    changes: { calls: spawning },
    told: ['Own names the file prefabs/crat.json; it does not exist @ scripts/own.ts:3'],
  },
  ...(['prefabs/own.json', 'scenes/b.json'] as const).map((home): Case => ({
    it: `an event of the start, heard by what stands in ${home}`,
    check: 'fragile/late-listener',
    files: {
      'scripts/own.ts': script('Own', "bells.hear('dawn', this.x);\nthis.lamp.hide();", 'x() {}'),
      'scripts/sun.ts': script('Sun', "bells.ring('dawn');"),
      'scripts/crane.ts': script('Crane', '', 'lift() { spawnFrom("prefabs/own.json"); }'),
      'prefabs/own.json': { objects: [{ name: 'O', parts: home.startsWith('prefabs') ? [{ type: 'Own' }] : [] }] },
      'scenes/a.json': scene({ name: 'S', parts: [{ type: 'Sun' }] }, { name: 'C', parts: [{ type: 'Crane' }] }),
      'scenes/b.json': scene({ name: 'B', parts: home.startsWith('scenes') ? [{ type: 'Own' }] : [] }),
    },
    told: [
      `Sun sends dawn at the start of play; Own begins to listen ${home.startsWith('prefabs') ? 'when it is spawned' : 'then too, and no order is stated'} @ scripts/own.ts:4`,
    ],
  })),
  {
    it: 'wires that were pasted, in another order',
    check: 'twin/copied-wiring',
    files: wires(['held', 'gate-2', 'hold'], ['pressed', 'gate-2', 'open'], ['released', 'gate-1', 'close']),
    told: [`${PASTED}62`],
  },
  {
    it: 'wires that were pasted, with one more',
    check: 'twin/copied-wiring',
    files: wires(
      ['pressed', 'gate-2', 'open'],
      ['released', 'gate-1', 'close'],
      ['held', 'gate-2', 'hold'],
      ['lit', 'gate-2', 'light'],
    ),
    told: [`${PASTED}56`],
  },
  {
    it: 'wires of which only one is alike',
    check: 'twin/copied-wiring',
    files: wires(['released', 'gate-1', 'close'], ['lit', 'gate-2', 'light']),
    told: [],
  },
];

describe('what was overlooked once', () => {
  beforeAll(useGrammars);

  for (const { it: says, check, files, changes, told: wanted } of CASES)
    it(`${check}: ${says}`, () => {
      expect(told(check, files, changes)).toEqual(wanted);
    });
});

describe('what is done only if something is empty', () => {
  beforeAll(useGrammars);
  const FIND = 'stage.find("Mill")';
  const rows: [ending: string, code: string, isPolling: boolean][] = [
    ['ts', `this.mill ||= ${FIND};`, false],
    ['ts', `this.mill ??= ${FIND};`, false],
    ['ts', `this.mill = this.mill ?? ${FIND};`, false],
    ['ts', `const m = this.ready ? ${FIND} : this.mill;`, false],
    ['ts', `this.ready && ${FIND}.show();`, false],
    ['ts', `${FIND} && this.hide();`, true],
    ['ts', `this.mill = ${FIND} ?? this.mill;`, true],
    ['cs', `mill ??= ${FIND};`, false],
    ['cs', `mill = mill ?? ${FIND};`, false],
    ['cs', `mill = ${FIND};`, true],
    ['lua', `self.mill = self.mill or ${FIND}`, false],
    ['lua', `local m = self.ready and ${FIND}`, false],
    ['lua', `local m = ${FIND} or self.mill`, true],
    ['py', `self.mill = self.mill or ${FIND}`, false],
    ['py', `m = ${FIND} if self.ready else None`, false],
    ['py', `m = ${FIND} or self.mill`, true],
  ];
  const FRAMES: Record<string, (code: string) => string> = {
    ts: (code) => `export class Own extends Behaviour { mill; ready; everyFrame() { ${code} } }`,
    cs: (code) => `class Own : Behaviour { Thing mill; bool ready; void everyFrame() { ${code} } }`,
    lua: (code) => `Own = Behaviour:extend()\nfunction Own:everyFrame()\n ${code}\nend`,
    py: (code) => `class Own(Behaviour):\n  def everyFrame(self):\n    ${code}\n`,
  };
  for (const [ending, code, isPolling] of rows)
    it(`${isPolling ? 'is not' : 'is'} ${code} (.${ending})`, () => {
      const files = {
        [`scripts/own.${ending}`]: FRAMES[ending](code),
        'scenes/a.json': scene({ name: 'Crane', parts: [{ type: 'Own' }] }, { name: 'Mill' }),
      };
      expect(told('fragile/polling', files).length).toBe(isPolling ? 1 : 0);
    });
});

describe('what is sent to one object alone', () => {
  beforeAll(useGrammars);
  const calls = [
    ...PLAN.calls,
    { call: 'post.tell($name, $event, ...)', means: 'send', scope: 'one' },
    { call: 'post.call($id, $event)', means: 'send', scope: 'one' },
  ];
  const files = (code: string): Files => ({
    'scripts/own.ts': script('Own', '', `later() { ${code} }`),
    'scripts/lock.ts': script('Lock', "bells.hear('open', this.open);", 'open() {}'),
    'scenes/a.json': scene(carrier('Boat', 'own.ts'), carrier('Lock 3', 'lock.ts', { id: 'l3' })),
  });
  const told = (code: string): string[] => scan(files(code), { calls }).findings.map(({ sentence }) => plain(sentence));

  it('is lost where nothing is called so, by name and by identity', () => {
    expect(told("post.tell('Sluice', 'open', 4);")).toEqual([
      'Own refers to Sluice; the project has nothing of that name or identity',
    ]);
    expect(told("post.call('l4', 'open');")).toEqual([
      'Own refers to l4; the project has nothing of that name or identity',
    ]);
    expect(told("post.tell('Lock 3', 'open'); post.call('l3', 'open');")).toEqual([]);
    expect(told("post.tell(this.whom, 'open');")).toEqual([]);
  });
  it('says whom it reaches', () => {
    const { graph } = scan(files("post.tell('Lock 3', 'open', depth);"), { calls }).linked;
    const [row] = wiring(graph, {}, 0, 5).rows;
    expect(row.senders.map(({ link }) => link.label)).toEqual(['to Lock 3 alone, with depth']);
  });
});

describe('labels that code compares as texts', () => {
  beforeAll(useGrammars);
  const LABELS = {
    match: 'labels.json',
    as: 'data asset',
    pieces: { all: { at: '$[*]', kind: 'label', named: { select: '$' } } },
  };
  const lost = (language: string, ending: string, code: string): string[] =>
    scanWith(
      { [`own.${ending}`]: code, 'labels.json': ['moored', 'adrift'] },
      {
        files: { labels: LABELS },
        scripts: { all: { match: `*.${ending}`, language } },
        calls: [{ call: '*.mark', means: 'label of' }],
        house: { unattached: 'fine' },
      },
    ).findings.map(({ check, sentence }) => `${check} ${plain(sentence).split(';')[0]}`);
  const LOST = 'broken/unknown-label Own asks for the label mooored';

  it('are missed where nothing declares them, in every language', () => {
    expect(lost('typescript', 'ts', "class Own { begin() { if (this.mark === 'mooored') this.a(); } a() {} }")).toEqual(
      [LOST],
    );
    expect(lost('javascript', 'js', "class Own { begin(on) { return 'mooored' != on.mark; } }")).toEqual([LOST]);
    expect(lost('csharp', 'cs', 'class Own { bool Begin() { return this.mark == "mooored"; } }')).toEqual([LOST]);
    expect(lost('python', 'py', 'class Own:\n  def begin(self):\n    return self.mark == "mooored"\n')).toEqual([LOST]);
    expect(
      lost('lua', 'lua', "local Own = {}\nfunction Own:begin() return self.mark ~= 'mooored' end\nreturn Own\n"),
    ).toEqual([LOST]);
  });
  it('are those of what was kept, each that it is compared with', () => {
    expect(
      lost(
        'typescript',
        'ts',
        "class Own { begin() { const m = this.mark; return m == 'moored' || m == 'mooored'; } }",
      ),
    ).toEqual([LOST]);
  });
  it('are right where they are declared, and where something else is compared', () => {
    expect(
      lost(
        'typescript',
        'ts',
        "class Own { name = ''; begin() { return this.mark == 'moored' || this.name == 'x'; } }",
      ),
    ).toEqual([]);
  });
});
