import { wiring } from '../trace/wiring.js';
import { carrier, PLAN, scan, scanWith, scene, script, told, useGrammars, type Files } from '../testing/project.js';

const ENGINE = {
  engine: {
    types: ['Behaviour'],
    members: ['child'],
    parts: ['Shape', 'Body'],
    takes: { Picture: ['media'], Table: 'data asset', Thing: 'object' },
  },
};
const found = (check: string, files: Files, changes: object = ENGINE): string[] => told(scan(files, changes), check);
const CLEAT = { 'scripts/cleat.ts': 'export class Cleat extends Behaviour {}' };

/** A rope whose slot is declared as given and filled as given, beside a cleat and a plain bollard. */
function rope(field: string, slots: object, more: object[] = []): Files {
  return {
    ...CLEAT,
    'scripts/rope.ts': `export class Rope extends Behaviour { ${field} }`,
    'scripts/mooring.ts': 'export class Mooring extends Cleat {}',
    'scenes/quay.json': scene(
      carrier('Line', 'rope.ts', {}, slots),
      carrier('Cleat', 'cleat.ts', { id: 'cleat' }),
      {
        name: 'Bollard',
        id: 'bollard',
        parts: [{ type: 'Shape' }],
        objects: [carrier('Ring', 'cleat.ts', { id: 'ring' })],
      },
      ...more,
    ),
    'data/ropes.json': {},
  };
}

describe('a slot that asks for a part', () => {
  beforeAll(useGrammars);
  const slot = '@slot() cleat!: Cleat;';

  it('filled with an object that carries it is right', () => {
    const analysis = scan(rope(slot, { cleat: '#cleat' }), ENGINE);
    expect(analysis.findings).toEqual([]);
  });
  it('filled with one that does not is of the wrong kind, and the child that does is offered', () => {
    const analysis = scan(rope(slot, { cleat: '#bollard' }), ENGINE);
    expect(told(analysis, 'broken/wrong-kind')).toEqual([
      'Slot cleat of Rope on quay / Line takes a Cleat; quay / Bollard carries none, but Ring below it does @ scenes/quay.json:9',
    ]);
    expect(analysis.findings[0].repairs.at(-1)).toEqual(
      jasmine.objectContaining({
        title: 'Fill in Ring',
        changes: [jasmine.objectContaining({ is: 'replace', from: 'bollard', to: 'ring' })],
      }),
    );
  });
  it('left empty is empty, and the only thing that fits is offered', () => {
    const other = rope(slot, {});
    const analysis = scan(
      { ...other, 'scenes/quay.json': scene(carrier('Line', 'rope.ts'), carrier('C', 'cleat.ts', { id: 'c' })) },
      ENGINE,
    );
    expect(told(analysis, 'broken/empty-slot')).toEqual([
      'Slot cleat of Rope is empty on quay / Line @ scenes/quay.json:7',
    ]);
    expect(analysis.findings[0].repairs.at(-1)!.changes).toEqual([
      jasmine.objectContaining({ is: 'add member', into: '$.slots', key: 'cleat', to: '#c' }),
    ]);
  });
  it('left empty but set at the start in code is silent', () => {
    const files = rope(`${slot} begin() { this.cleat = this.child('Cleat'); }`, {});
    expect(found('broken/empty-slot', files)).toEqual([]);
  });
  it('left empty where empty means the object itself is worth a note', () => {
    const scripts = {
      ts: {
        match: 'scripts/*.ts',
        language: 'typescript',
        exposed: { decorators: ['slot'], selfWhenEmpty: ['Cleat'] },
      },
    };
    const analysis = scan(rope(slot, { cleat: null }), { ...ENGINE, scripts });
    expect(analysis.findings.map(({ check, severity }) => `${check} ${severity}`)).toEqual(['broken/empty-slot note']);
    expect(told(analysis, 'broken/empty-slot')[0]).toContain('Line: it means the object itself');
  });
});

describe('broken/wrong-kind', () => {
  beforeAll(useGrammars);
  const check = 'broken/wrong-kind';

  it('fires on a kind of piece that the engine’s type does not take', () => {
    expect(found(check, rope('@slot() face?: Picture;', { face: 'data/ropes.json' }))).toEqual([
      'Slot face of Rope on quay / Line takes a Picture; ropes is a data asset @ scenes/quay.json:9',
    ]);
  });
  it('fires once for all instances of a prefab', () => {
    const files: Files = {
      ...CLEAT,
      'scripts/rope.ts': 'export class Rope extends Behaviour { @slot() cleat!: Cleat; }',
      'prefabs/rope.json': {
        objects: [carrier('Line', 'rope.ts', { objects: [{ name: 'Pin' }] }, { cleat: '@Pin' })],
      },
      'scenes/a.json': scene(
        { name: 'One', prefab: 'prefabs/rope.json' },
        { name: 'Two', prefab: 'prefabs/rope.json' },
        carrier('C', 'cleat.ts'),
      ),
    };
    expect(found(check, files)).toEqual([
      'Slot cleat of Rope on a / One and 1 more like it takes a Cleat; a / One / Pin carries none @ prefabs/rope.json:9',
    ]);
  });

  /** What stands in the scene beside, and what is offered instead of the bollard. */
  const cleat = (id: string): object => carrier(`The ${id}`, 'cleat.ts', { id });
  const beside: [string, object[], string[]][] = [
    ['one thing that would do', [cleat('a')], ['a']],
    ['two', [cleat('a'), cleat('b')], ['a', 'b']],
    ['too many to choose from', [cleat('a'), cleat('b'), cleat('c')], []],
    ['only one without an identity', [], []],
    ['one that carries something else', [carrier('Other', 'rope.ts', { id: 'o' })], []],
    ['one whose child is named like the part', [{ name: 'Post', id: 'p', objects: [{ name: 'Cleat' }] }], []],
  ];
  for (const [what, more, offered] of beside)
    it(`offers ${offered.length === 0 ? 'nothing' : offered.join(' or ')} where there is ${what}`, () => {
      const analysis = scan(
        {
          ...CLEAT,
          'scripts/rope.ts': 'export class Rope extends Behaviour { @slot() cleat!: Cleat; }',
          'scenes/quay.json': scene(
            carrier('Line', 'rope.ts', {}, { cleat: '#bollard' }),
            { name: 'Bollard', id: 'bollard', parts: [{ type: 'Shape' }] },
            carrier('Plain', 'cleat.ts'),
            ...more,
          ),
        },
        ENGINE,
      );
      const [finding] = analysis.findings.filter((one) => one.check === check);
      const changes = finding.repairs.flatMap((repair) => repair.changes ?? []);
      expect(changes.map((change) => ('to' in change ? change.to : ''))).toEqual(offered);
    });

  /** What stands in a slot that asks for a part, and whether that can be one. */
  const pieces: [string, string, boolean][] = [
    ['a scene', 'scenes/quay.json', false],
    ['a picture', 'art/rope.svg', false],
    ['a data asset', 'data/ropes.json', false],
    ['a record', 'rope-1', false],
    ['an event', 'rope.tight', true],
  ];
  for (const [what, text, isFine] of pieces)
    it(`${isFine ? 'is silent on' : 'fires on'} ${what} in the slot of a part`, () => {
      const more = {
        ...ENGINE,
        files: {
          ...PLAN.files,
          art: { match: 'art/*', as: 'media' },
          data: {
            match: 'data/*',
            as: 'data asset',
            pieces: {
              ropes: { at: '$.ropes[*]', kind: 'record', id: '$.id' },
              events: { at: '$.events[*]', kind: 'event', named: '$' },
            },
          },
          scenes: {
            ...PLAN.files.scenes,
            references: {
              paths: { at: '$..slots..*', by: 'path', pattern: '^.+[.](?:json|svg)$' },
              ids: { at: '$..slots..*', by: 'id', pattern: '^rope-.+$' },
              events: { at: '$..slots..*', by: 'name', kinds: ['event'], pattern: '^rope[.].+$' },
            },
          },
        },
      };
      const files: Files = {
        ...rope('@slot() cleat!: Cleat;', { cleat: text }),
        'data/ropes.json': { ropes: [{ id: 'rope-1' }], events: ['rope.tight'] },
        'art/rope.svg': '',
      };
      expect(found(check, files, more).length).toBe(isFine ? 0 : 1);
    });

  const silent: [string, Files][] = [
    [
      'a type that descends from it is carried',
      rope('@slot() cleat!: Cleat;', { cleat: '#m' }, [carrier('M', 'mooring.ts', { id: 'm' })]),
    ],
    ['any of several types will do', rope('@slot() end!: Cleat | Rope;', { end: '#cleat' })],
    ['the type is written as a list of them', rope('@slot() ends!: Cleat[];', { ends: ['#cleat'] })],
    ['the type takes this kind', rope('@slot() table!: Table;', { table: 'data/ropes.json' })],
    ['the type is not known', rope('@slot() table!: Whatever;', { table: '#bollard' })],
    [
      'the type is an interface',
      { ...rope('@slot() end!: End;', { end: '#bollard' }), 'scripts/end.ts': 'export interface End { x: number }' },
    ],
    [
      'the object carries parts that are not known',
      rope('@slot() cleat!: Cleat;', { cleat: '#odd' }, [{ name: 'Odd', id: 'odd', parts: [{ type: 'Odd' }] }]),
    ],
    ['the reference itself is lost, which is told elsewhere', rope('@slot() cleat!: Cleat;', { cleat: '#gone' })],
  ];
  for (const [when, files] of silent) it(`is silent when ${when}`, () => expect(found(check, files)).toEqual([]));
});

describe('broken/stale-value', () => {
  beforeAll(useGrammars);
  const check = 'broken/stale-value';

  it('fires on a value for a field that was renamed, and offers its new name', () => {
    const analysis = scan(rope('@slot() maxLength = 3;', { maxLenght: 12 }), ENGINE);
    expect(told(analysis, check)).toEqual([
      'quay / Line saves a value for maxLenght, and Rope has no such field; it has maxLength @ scenes/quay.json:9',
    ]);
    expect(analysis.findings[0].repairs.map(({ title, changes }) => `${title}: ${changes![0].is}`)).toEqual([
      'Save it for “maxLength”: rename member',
      'Take the value out: remove',
    ]);
  });
  it('fires once on a value of a prefab, and on what an instance changes', () => {
    const overrides = { at: '$.changes[*]', part: '$.part', values: '$.set' };
    const pieces = {
      objects: {
        at: '$..objects[*]',
        kind: 'object',
        madeFrom: { field: '$.prefab' },
        parts: { at: '$.parts[*]', script: { field: '$.script' }, values: '$.slots' },
        overrides,
      },
    };
    const plan = {
      ...ENGINE,
      files: {
        scenes: { match: 'scenes/*', as: 'scene', pieces },
        prefabs: { match: 'prefabs/*', as: 'prefab', pieces },
      },
      scripts: { ts: { match: 'scripts/*.ts', language: 'typescript' } },
    };
    const files: Files = {
      'scripts/bell.ts': 'export class Bell extends Behaviour { code = 1; }',
      'prefabs/bell.json': { objects: [carrier('Bell', 'bell.ts', {}, { old: 1 })] },
      'scenes/a.json': scene(
        { name: 'One', prefab: 'prefabs/bell.json', changes: [{ part: 'Bell', set: { kode: 2, code: 3 } }] },
        { name: 'Two', prefab: 'prefabs/bell.json' },
      ),
    };
    const all = scanWith(files, plan).findings.map(
      ({ check: id, places, evidence }) => `${id} ${evidence[0].file}:${evidence[0].range.line} ${places}`,
    );
    expect(all).toEqual([`${check} prefabs/bell.json:9 2`, `${check} scenes/a.json:10 1`]);
  });
  it('fires on a wire to a function that is gone', () => {
    const files: Files = {
      'scripts/bell.ts': 'export class Bell extends Behaviour { ring() {} }',
      'scenes/a.json': {
        ...scene(carrier('Bell', 'bell.ts', { id: 'b' })),
        wires: [{ when: 'noon', to: '#b', do: 'rings' }],
      },
    };
    expect(found(check, files)).toEqual([
      'The wire from noon calls rings() on a / Bell, and Bell has no such function; there is ring() @ scenes/a.json:18',
    ]);
  });

  it('offers no way out that calls a function twice', () => {
    const repairs = (hears: string): [boolean, boolean][] =>
      scan(
        {
          'scripts/bell.ts': script('Bell', `bells.hear('${hears}', this.ring);`, 'ring() {}'),
          'scenes/a.json': {
            ...scene(carrier('Bell', 'bell.ts', { id: 'b' })),
            wires: [{ when: 'noon', to: '#b', do: 'rins' }],
          },
        },
        ENGINE,
      )
        .findings.filter((one) => one.check === check)
        .flatMap((one) => one.repairs)
        .flatMap(({ changes, sure, words }) =>
          changes ? [[sure === true, words.includes('called twice')] as [boolean, boolean]] : [],
        );
    expect(repairs('dusk')).toEqual([[true, false]]);
    expect(repairs('noon')).toEqual([[false, true]]);
  });
  const wired = (handler: string, part: object): Files => ({
    'scripts/bell.ts': 'export class Bell extends Behaviour { ring() {} }',
    'scenes/a.json': {
      ...scene({ name: 'Bell', id: 'b', parts: [part] }),
      wires: [{ when: 'noon', to: '#b', do: handler }],
    },
  });
  const silent: [string, Files, object?][] = [
    ['the field is there', rope('length = 3;', { length: 12 })],
    [
      'a parent has the field',
      {
        ...rope('', { length: 12 }),
        'scripts/rope.ts': 'class Line extends Behaviour { length = 1 } export class Rope extends Line {}',
      },
    ],
    ['the code gives itself the field', rope('begin() { this.length = 3; }', { length: 12 })],
    [
      'a parent is not known',
      { ...rope('', { length: 12 }), 'scripts/rope.ts': 'export class Rope extends Elsewhere {}' },
    ],
    ['the plan does not say what the engine’s type has', rope('', { length: 12 }), {}],
    [
      'a function of the type takes the value',
      {
        ...rope('', { length: 12 }),
        'scripts/rope.ts': 'export class Rope extends Behaviour { constructor(length: number) { super(); } }',
      },
    ],
    ['the wire’s function is there', wired('ring', { script: 'scripts/bell.ts' })],
    ['the object carries something that is not known', wired('rings', { type: 'Odd' })],
  ];
  for (const [when, files, changes] of silent)
    it(`is silent when ${when}`, () => expect(found(check, files, changes ?? ENGINE)).toEqual([]));
});

describe('broken/barred-target', () => {
  beforeAll(useGrammars);
  const check = 'broken/barred-target';
  const object = {
    at: '$..objects[*]',
    kind: 'object',
    id: '$.id',
    parts: { at: '$.parts[*]', type: '$.type', script: { field: '$.script' }, values: '$.slots' },
    barred: { field: '$.mode', is: 'scenery' },
  };
  const plan = {
    files: {
      scenes: {
        match: '*.json',
        as: 'scene',
        pieces: { object },
        references: { ids: { at: '$..slots.*', by: 'id', pattern: '^#(.+)$' } },
        events: { wires: { at: '$.wires[*]', event: '$.when', from: '$.from', to: '$.to', handler: '$.do' } },
      },
    },
    scripts: { ts: { match: '*.ts', language: 'typescript' } },
    calls: [
      { call: 'stage.find($name)', means: 'find' },
      { call: '*.hide()', means: 'switch' },
      { call: '*.sleep()', means: 'switch', scope: 'self' },
      { call: '*.object', means: 'same object' },
    ],
  };
  const weir = { name: 'Weir', id: 'weir', mode: 'scenery' };
  const quay = { name: 'Quay', id: 'quay' };
  const keeper = (code: string, slots: object = {}): Files => ({
    'keeper.ts': `export class Keeper { target?: Thing; begin() { ${code} } }`,
    'a.json': { objects: [{ name: 'Keeper', id: 'keeper', parts: [{ script: 'keeper.ts', slots }] }, weir, quay] },
  });
  const fire = (files: Files): string[] => told(scanWith(files, plan), check);

  it('fires on a slot, a script, a wire and a call that end on fixed scenery', () => {
    expect(fire(keeper('', { target: '#weir' }))).toEqual([
      'Slot target of a / Keeper / Keeper holds a / Weir, whose mode bars scripting @ a.json:10',
    ]);
    expect(fire({ ...keeper(''), 'b.json': { objects: [{ ...weir, parts: [{ script: 'keeper.ts' }] }] } })).toEqual([
      'A script is attached to b / Weir, whose mode bars scripting @ b.json:9',
    ]);
    const wired = { objects: [weir, quay], wires: [{ when: 'noon', from: 'quay', to: 'weir', do: 'fall' }] };
    expect(fire({ 'b.json': wired })).toEqual([
      'A wire from noon ends on b / Weir, whose mode bars scripting @ b.json:15',
    ]);
    expect(fire(keeper("stage.find('Weir').hide();"))).toEqual([
      'a / Keeper / Keeper switches a / Weir, whose mode bars scripting @ keeper.ts:1',
    ]);
  });
  it('fires when something that works on the own object alone is asked of another', () => {
    expect(fire(keeper("stage.find('Quay').sleep();"))).toEqual([
      'a / Keeper / Keeper switches Quay, and that works on the own object alone @ keeper.ts:1',
    ]);
  });
  const silent: [string, Files][] = [
    ['the target takes part', keeper("stage.find('Quay').hide();", { target: '#quay' })],
    ['scenery is only looked for', keeper("stage.find('Weir').colour;")],
    [
      'scenery only sends',
      { 'b.json': { objects: [weir, quay], wires: [{ when: 'noon', from: 'weir', to: 'quay' }] } },
    ],
    ['it does it to itself', keeper('this.object.sleep();')],
    ['the target is not known before play', keeper('stage.find(this.name).sleep();')],
  ];
  for (const [when, files] of silent) it(`is silent when ${when}`, () => expect(fire(files)).toEqual([]));
});

describe('variables of a behaviour graph', () => {
  beforeAll(useGrammars);
  const object = {
    at: '$..objects[*]',
    kind: 'object',
    id: '$.id',
    parts: { at: '$.parts[*]', type: '$.type', script: { field: '$.graph' }, values: '$.gives' },
    barred: { field: '$.mode', is: 'scenery' },
  };
  const plan = {
    files: {
      graphs: {
        match: 'orders/*.json',
        as: 'graph',
        pieces: {
          steps: { at: '$.steps[*]', kind: 'step' },
          needs: { at: '$.needs[*]', kind: 'variable', details: { type: '$.type', default: '$.else' } },
        },
        graphs: { orders: { steps: 'steps', kind: '$.does', variables: 'needs' } },
      },
      scenes: {
        match: '*.json',
        as: 'scene',
        pieces: { object },
        references: { ids: { at: '$..gives.*', by: 'id', pattern: '^#(.+)$' } },
      },
    },
    engine: { parts: ['Sound', 'Shape'] },
  };
  const orders = {
    needs: [
      { name: 'bell', type: 'Sound' },
      { name: 'times', else: '3' },
    ],
    steps: [],
  };
  const crew = (gives: object): Files => ({
    'orders/dawn.json': orders,
    'a.json': {
      objects: [
        { name: 'Lad', parts: [{ graph: 'orders/dawn.json', gives }] },
        { name: 'Bell', id: 'bell', parts: [{ type: 'Sound' }] },
        { name: 'Post', id: 'post', parts: [{ type: 'Shape' }] },
        { name: 'Weir', id: 'weir', mode: 'scenery', parts: [{ type: 'Sound' }] },
      ],
    },
  });
  const all = (gives: object): string[] =>
    scanWith(crew(gives), plan).findings.map(
      ({ check, evidence }) => `${check} ${evidence[0].file}:${evidence[0].range.line}`,
    );

  it('must be assigned on the instance, unless there is something else to fall back on', () => {
    expect(all({})).toEqual(['broken/empty-slot a.json:7']);
    expect(all({ bell: '#bell' })).toEqual([]);
  });
  it('that mean the object itself when they are empty are worth a note, and are no flags', () => {
    const { graphs, ...files } = plan.files;
    const own = { ...graphs.graphs.orders, selfWhenEmpty: ['Sound'] };
    const { findings, linked } = scanWith(crew({}), {
      ...plan,
      files: { graphs: { ...graphs, graphs: { orders: own } }, ...files },
    });
    expect(findings.map(({ check, severity }) => [check, severity])).toEqual([['broken/empty-slot', 'note']]);
    expect(wiring(linked.graph, { of: 'flags' }, 0, 9).rows).toEqual([]);
  });
  it('take what they are made for, and nothing that cannot be scripted', () => {
    expect(all({ bell: '#post' })).toEqual(['broken/wrong-kind a.json:9']);
    expect(all({ bell: '#weir' })).toEqual(['broken/barred-target a.json:9']);
  });
});
