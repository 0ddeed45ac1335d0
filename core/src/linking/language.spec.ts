/** What a plan can say, seen on the map that comes of it. */
import { groupOf, kindOf, nameOf, titleOf, VERBS, FLAGS } from '../index.js';
import type { Analysis } from '../analyse.js';
import { GRIPS } from '../model/link.js';
import { scanWith, useGrammars, type Files } from '../testing/project.js';

/** Every link as `from verb to (label) grip`, sorted. */
function links({ linked: { graph } }: Analysis, verb?: string): string[] {
  const found: string[] = [];
  for (let at = 0; at < graph.linkCount; at++) {
    const said = VERBS[graph.links.verb[at]];
    if (verb !== undefined && said !== verb) continue;
    const to = graph.links.to[at];
    const label = graph.texts[graph.links.label[at]];
    found.push(
      `${titleOf(graph, graph.links.from[at])} ${said} ${to < 0 ? 'nothing' : titleOf(graph, to)}${label ? ` (${label})` : ''} ${GRIPS[graph.links.grip[at]]}`,
    );
  }
  return found.sort();
}

/** Titles of all pieces of a kind. */
function titles({ linked: { graph } }: Analysis, kind: string): string[] {
  return Array.from({ length: graph.pieceCount }, (_, at) => at)
    .filter((at) => kindOf(graph, at) === kind)
    .map((at) => titleOf(graph, at))
    .sort();
}

function lost({ linked }: Analysis): string[] {
  return linked.lostReferences.map(({ loss }) => `${loss.sought} ${loss.wanted}`).sort();
}

/** A project with one rule for all JSON files. */
function one(rule: object, files: Files, more: object = {}): Analysis {
  return scanWith(files, { files: { all: { match: '**/*.json', as: 'scene', ...rule } }, ...more });
}

const ITEMS = { items: { at: '$.items[*]', kind: 'object', id: '$.id' } };

describe('the plan language: pieces', () => {
  it('takes parents by a field that names an identity, a name or an index', () => {
    for (const [by, under] of [
      ['id', 'b1'],
      ['name', 'Boat'],
      ['index', 0],
    ]) {
      const parent = { field: '$.under', by, of: 'items' };
      const result = one(
        { pieces: { items: { ...ITEMS.items, parent } } },
        {
          'flight.json': {
            items: [
              { id: 'b1', name: 'Boat' },
              { name: 'Rope', under },
            ],
          },
        },
      );
      expect(titles(result, 'object')).withContext(String(by)).toEqual(['flight / Boat', 'flight / Boat / Rope']);
    }
  });

  it('takes children that their parent lists, and stops at circles', () => {
    const pieces = { nodes: { at: '$.nodes[*]', kind: 'object', children: { at: '$.holds[*]', by: 'index' } } };
    const result = one(
      { pieces },
      { 'f.json': { nodes: [{ name: 'A', holds: [1, 2] }, { name: 'B', holds: [0] }, { name: 'C' }] } },
    );
    expect(titles(result, 'object')).toEqual(['f / A', 'f / A / B', 'f / A / C']);
  });

  it('tries sources in turn, counts positions, and takes fixed texts', () => {
    const named = ['$.title', '$.name', { text: 'Nameless' }];
    const result = one(
      { pieces: { items: { at: '$.items[*]', kind: 'object', named, id: { index: true } } } },
      { 'f.json': { items: [{ title: 'A' }, { name: 'B' }, {}] } },
    );
    expect(titles(result, 'object')).toEqual(['f / A', 'f / B', 'f / Nameless']);
    expect([...result.linked.facts[0].pieces].map((piece) => piece.id)).toEqual(['0', '1', '2']);
  });

  it('looks a position up in a list of the piece around', () => {
    const pieces = {
      graphs: { at: '$.graphs[*]', kind: 'graph' },
      steps: { at: '$.graphs[*].steps[*]', kind: 'step', named: { select: '$.op', item: '$.ops[*]' } },
    };
    const result = one(
      { pieces },
      {
        'f.json': {
          graphs: [
            { name: 'G', ops: ['ring', 'wait'], steps: [{ op: 1 }] },
            { name: 'H', ops: ['go'], steps: [{ op: 0 }, { op: 7 }] },
          ],
        },
      },
    );
    expect(titles(result, 'step')).toEqual(['', 'go', 'wait']);
  });

  it('takes only nodes for which a condition holds', () => {
    const when = { field: '$.kind', is: ['boat', 'raft'] };
    const result = one(
      { pieces: { items: { ...ITEMS.items, when } } },
      { 'f.json': { items: [{ name: 'A', kind: 'boat' }, { name: 'B', kind: 'tree' }, { name: 'C' }] } },
    );
    expect(titles(result, 'object')).toEqual(['f / A']);
  });

  it('notes what is switched off or barred, also on copies', () => {
    const pieces = {
      items: {
        ...ITEMS.items,
        off: { field: '$.on', is: 'false' },
        barred: { field: '$.mode', is: 'scenery' },
        madeFrom: { field: '$.prefab' },
      },
    };
    const { linked } = one(
      { pieces },
      {
        'a.json': { items: [{ name: 'A', on: false, mode: 'scenery' }] },
        'b.json': {
          items: [
            { name: 'B', prefab: 'a.json' },
            { name: 'C', on: true },
          ],
        },
      },
    );
    const flags = new Map(
      Array.from({ length: linked.graph.pieceCount }, (_, at) => [
        nameOf(linked.graph, at),
        linked.graph.pieces.flags[at],
      ]),
    );
    expect([flags.get('A'), flags.get('B'), flags.get('C')]).toEqual([
      FLAGS.off + FLAGS.barred,
      FLAGS.off + FLAGS.barred,
      0,
    ]);
  });

  it('keeps further details of a piece', () => {
    const pieces = { actions: { at: '$.keys[*]', kind: 'input action', details: { key: '$.key', context: '$.in' } } };
    const { linked } = one({ pieces }, { 'f.json': { keys: [{ name: 'moor', key: 'M' }] } });
    expect(linked.facts[0].pieces[0].details).toEqual({ key: 'M' });
  });
});

describe('the plan language: references', () => {
  const paths = (form: object, ref: string, files: Files, more: object = {}): Analysis =>
    one({ references: { r: { at: '$.ref', by: 'path', ...form } } }, { 'in/a.json': { ref }, ...files }, more);

  it('reads beginnings like those of addresses, and characters written as in URLs', () => {
    const form = { schemes: { 'data://': 'data' }, decode: true };
    expect(lost(paths(form, 'data://tide%20table.csv', { 'data/tide table.csv': '' }))).toEqual([]);
    expect(lost(paths(form, 'data://gone.csv', {}))).toEqual(['file data://gone.csv']);
  });

  it('starts paths from the roots alone where there are any, and from the project where one of them is a point', () => {
    const lost = (form: object, path: string): number => {
      const references = { files: { at: '$.path', by: 'path', ...form } };
      const files = { 'data/a.json': { path }, 'data/deep/b.json': {}, 'c.json': {} };
      const plan = { files: { data: { match: '**/*.json', as: 'data asset', references } } };
      return scanWith(files, plan).findings.filter(({ check }) => check === 'broken/missing-file').length;
    };
    expect([lost({}, 'data/deep/b.json'), lost({}, 'deep/b.json')]).toEqual([0, 1]);
    const roots = { roots: ['data'] };
    expect([lost(roots, 'data/deep/b.json'), lost(roots, 'deep/b.json'), lost(roots, '/deep/b.json')]).toEqual([
      1, 0, 0,
    ]);
    const both = { roots: ['data', '.'] };
    expect([lost(both, 'data/deep/b.json'), lost(both, 'deep/b.json'), lost(both, 'c.json')]).toEqual([0, 0, 0]);
    expect([lost({ from: 'file', ...roots }, '../c.json'), lost({ from: 'file', ...roots }, 'c.json')]).toEqual([0, 1]);
  });

  it('finds bare file names anywhere below the roots, with or without ending', () => {
    const form = { anywhere: true, roots: ['art'], endings: ['.svg'] };
    expect(lost(paths(form, 'gate', { 'art/locks/gate.svg': '' }))).toEqual([]);
    expect(lost(paths(form, 'gate', { 'old/gate.svg': '' }))).toEqual(['file gate']);
    expect(lost(paths({ ...form, anywhere: false }, 'gate', { 'art/locks/gate.svg': '' }))).toEqual(['file gate']);
  });

  it('starts from the file, and from the root where the path begins with a slash', () => {
    expect(lost(paths({ from: 'file' }, '../x.txt', { 'x.txt': '' }))).toEqual([]);
    expect(lost(paths({ from: 'file' }, '/in/x.txt', { 'in/x.txt': '' }))).toEqual([]);
    expect(lost(paths({ from: 'file' }, 'x.txt', { 'x.txt': '' }))).toEqual(['file x.txt']);
  });

  it('minds capitals unless the house ignores them', () => {
    const files = { 'Data/Tide.csv': '' };
    expect(paths({}, 'data/tide.csv', files).findings.map((finding) => finding.check)).toEqual(['broken/case-only']);
    expect(paths({}, 'data/tide.csv', files, { house: { capitals: 'ignored' } }).findings).toEqual([]);
  });

  it('follows a path together with the name of a piece in that file', () => {
    const rule = {
      pieces: ITEMS,
      references: { r: { at: '$.ref', by: 'path', pattern: '^([^#]+)#(.+)$', inner: 'id' } },
    };
    const files = { 'b.json': { items: [{ id: 'cleat', name: 'Cleat' }] } };
    expect(links(one(rule, { ...files, 'a.json': { ref: 'b.json#cleat' } }))).toEqual(['a uses b / Cleat (ref) path']);
    expect(lost(one(rule, { ...files, 'a.json': { ref: 'b.json#bollard' } }))).toEqual(['object bollard']);
  });

  it('counts positions within the pieces of one rule', () => {
    const rule = {
      pieces: { ...ITEMS, others: { at: '$.others[*]', kind: 'record' } },
      references: { r: { at: '$..uses[*]', by: 'index', of: 'others' } },
    };
    const result = one(rule, {
      'f.json': { items: [{ name: 'A', uses: [1, 5] }], others: [{ name: 'X' }, { name: 'Y' }] },
    });
    expect(links(result, 'uses')).toContain('f / A uses f / Y (uses) path');
    expect(lost(result)).toEqual(['object 5']);
  });

  it('takes every match in a text, each at its own place', () => {
    const rule = {
      pieces: { keys: { at: '$.keys[*]', kind: 'input action', named: '$' } },
      references: {
        prompts: { at: '$.text', by: 'name', kinds: 'input action', every: true, pattern: '\\{key:(\\w+)\\}' },
      },
    };
    const result = one(rule, { 'f.json': { keys: ['moor'], text: 'Press {key:moor} or {key:cast}' } });
    expect(lost(result)).toEqual(['object cast']);
    const [{ range }] = result.linked.lostReferences;
    const line = JSON.stringify({ keys: ['moor'], text: 'Press {key:moor} or {key:cast}' }, null, 1).split('\n')[
      range.line - 1
    ];
    expect(line.slice(range.column - 1, range.endColumn - 1)).toBe('cast');
  });

  it('knows labels from lists and from what carries them, and counts an identity in its own file where asked', () => {
    const rule = {
      pieces: {
        items: { ...ITEMS.items, labels: '$.labels[*]' },
        known: { at: '$.known[*]', kind: 'label', named: '$' },
      },
      references: {
        labels: { at: '$.asks[*]', by: 'label' },
        ids: { at: '$.ids[*]', by: 'id', within: 'file' },
      },
    };
    const result = one(
      rule,
      {
        'a.json': {
          items: [{ id: 'x', name: 'A', labels: ['lock'] }],
          known: ['boat'],
          asks: ['lock', 'boat', 'bote', 'solid'],
        },
        'b.json': { ids: ['x'] },
      },
      { engine: { labels: ['solid'] } },
    );
    expect(links(result, 'labelled')).toEqual(['A labelled lock name']);
    expect(lost(result)).toEqual(['label bote', 'object x']);
  });

  it('reports what stands behind a YAML alias once, where it is written', () => {
    const result = scanWith(
      { 'a.yaml': 'pictures: &all\n  - gone.svg\nmore: *all\n' },
      {
        files: {
          all: {
            match: '*.yaml',
            as: 'data asset',
            references: { p: { at: '$..*', by: 'path', pattern: '^.+\\.svg$' } },
          },
        },
      },
    );
    expect(result.findings.map((finding) => finding.evidence[0].range.line)).toEqual([2]);
    expect(links(result, 'uses').length).toBe(1);
  });

  it('links what is derived from something', () => {
    const rule = {
      extends: { field: '$.base', by: 'path' },
      pieces: { items: { ...ITEMS.items, kind: 'record', extends: { field: '$.like', by: 'id' } } },
    };
    const result = one(rule, {
      'a.json': { items: [{ id: 'x', name: 'X' }] },
      'b.json': {
        base: 'a.json',
        items: [
          { name: 'Y', like: 'x' },
          { name: 'Z', like: 'q' },
        ],
      },
    });
    expect(links(result, 'extends')).toEqual([
      'b / Y extends a / X fixed',
      'b / Z extends nothing (q) lost',
      'b extends a path',
    ]);
  });
});

describe('the plan language: wires and graphs', () => {
  it('keeps order, scope, moment and side of a saved wire', () => {
    const rule = {
      pieces: ITEMS,
      events: {
        wires: {
          at: '$.wires[*]',
          event: '$.when',
          from: '$.a',
          to: '$.b',
          handler: '$.do',
          order: '$.n',
          scope: 'one',
          moment: 'on an event',
          side: 'server',
        },
      },
    };
    const result = one(rule, {
      'f.json': {
        items: [
          { id: 'a', name: 'A' },
          { id: 'b', name: 'B' },
        ],
        wires: [{ when: 'full', a: 'a', b: 'b', do: 'open', n: 2 }],
      },
    });
    expect(links(result)).toEqual(['f / A sends full (full) name', 'f / B listens to full (2. → open()) name']);
    expect(result.linked.graph.links.side[0]).toBe(1);
  });

  it('connects pieces, and says what flows', () => {
    const rule = {
      pieces: ITEMS,
      connections: { pipes: { at: '$.pipes[*]', from: '$.from', to: '$.to', verb: 'sends', label: ['$.out', '$.in'] } },
    };
    const result = one(rule, {
      'f.json': {
        items: [
          { id: 'a', name: 'A' },
          { id: 'b', name: 'B' },
        ],
        pipes: [
          { from: 'a', to: 'b', out: 'level', in: 'gauge' },
          { from: 'a', to: 'c' },
        ],
      },
    });
    expect(links(result, 'sends')).toEqual(['f / A sends f / B (level → gauge) fixed', 'f / A sends nothing (c) lost']);
  });

  it('reads what the steps of a graph do, by their kind', () => {
    const rule = {
      pieces: { graphs: { at: '$', kind: 'graph' }, steps: { at: '$.steps[*]', kind: 'step', id: '$.id' } },
      connections: { then: { at: '$.steps[*].then', to: '$', label: { text: 'then' } } },
      graphs: {
        flow: {
          steps: 'steps',
          kind: '$.kind',
          means: {
            'Ring Bell': { verb: 'sends', event: '$.bell', scope: 'all' },
            'On Bell': { verb: 'listens to', event: '$.bell' },
            'Show Picture': { verb: 'uses', field: '$.picture', by: 'path' },
          },
        },
      },
    };
    const steps = [
      { id: '1', name: 'hear', kind: 'On Bell', bell: 'noon', then: '2' },
      { id: '2', name: 'show', kind: 'Show Picture', picture: 'noon.svg', then: '3' },
      { id: '3', name: 'ring', kind: 'Ring Bell', bell: 'after', picture: 'not-asked.svg' },
    ];
    const result = one(rule, { 'f.json': { name: 'F', steps }, 'noon.svg': '' });
    expect(links(result).filter((link) => !link.includes('holds'))).toEqual([
      'hear calls show (then) fixed',
      'hear listens to noon name',
      'ring sends after (after) name',
      'show calls ring (then) fixed',
      'show uses noon.svg (picture) path',
    ]);
    expect(result.findings.map((finding) => finding.check).sort()).toEqual(['fragile/never-sent', 'fragile/unheard']);
  });
});

describe('the plan language: prefabs', () => {
  const rule = {
    pieces: {
      items: {
        at: '$..items[*]',
        kind: 'object',
        madeFrom: { field: '$.prefab' },
        parts: { at: '$.parts[*]', type: '$.type', values: '$.slots' },
        overrides: [
          { at: '$.changes[?@.set]', on: '$.on', part: '$.part', values: '$.set' },
          { at: '$.changes[?@.remove]', means: 'remove', on: '$.on', part: '$.remove' },
          { at: '$.changes[?@.drop]', means: 'remove', on: '$.on' },
          { at: '$.changes[?@.add]', means: 'add', on: '$.on' },
        ],
      },
    },
    references: { r: { at: '$..[?@.slots || @.set]..*', by: 'path', pattern: '^.+\\.svg$' } },
  };
  const prefab = {
    items: [
      {
        name: 'Boat',
        items: [
          { name: 'Mast', parts: [{ type: 'Flag', slots: { cloth: 'red.svg' } }] },
          { name: 'Hull', parts: [{ type: 'Paint' }] },
        ],
      },
    ],
  };
  const instance = (...changes: object[]): Analysis =>
    one(rule, {
      'boat.json': prefab,
      'scene.json': { items: [{ name: 'Boat 1', prefab: 'boat.json', changes }] },
      'red.svg': '',
      'blue.svg': '',
    });

  it('applies what an instance changes, adds and removes', () => {
    const result = instance(
      { on: 'Mast', part: 'Flag', set: { cloth: 'blue.svg' } },
      { on: 'Hull', remove: 'Paint' },
      { on: 'Mast', add: true, items: [{ name: 'Lamp' }] },
    );
    expect(titles(result, 'object').filter((title) => title.startsWith('scene'))).toEqual([
      'scene / Boat 1',
      'scene / Boat 1 / Hull',
      'scene / Boat 1 / Mast',
      'scene / Boat 1 / Mast / Lamp',
    ]);
    expect(titles(result, 'part').filter((title) => title.startsWith('scene'))).toEqual([
      'scene / Boat 1 / Mast / Flag',
    ]);
    expect(links(result)).toContain('scene / Boat 1 overrides scene / Boat 1 / Mast / Flag path');
    expect(links(result)).toContain('scene / Boat 1 / Mast / Flag uses blue.svg (cloth) path');
  });

  it('removes whole objects', () => {
    expect(titles(instance({ on: 'Mast', drop: true }), 'object').filter((title) => title.startsWith('scene'))).toEqual(
      ['scene / Boat 1', 'scene / Boat 1 / Hull'],
    );
  });

  it('says when a change is for something the prefab does not hold', () => {
    expect(lost(instance({ on: 'Sail', part: 'Flag', set: { cloth: 'blue.svg' } }))).toEqual(['part Sail: Flag']);
    expect(lost(instance({ on: 'Mast', remove: 'Paint' }))).toEqual(['part Mast: Paint']);
  });

  it('carries changes of a variant on to what is made from it', () => {
    const result = one(rule, {
      'boat.json': prefab,
      'barge.json': { items: [{ name: 'Barge', prefab: 'boat.json', changes: [{ on: 'Mast', drop: true }] }] },
      'scene.json': { items: [{ name: 'Barge 1', prefab: 'barge.json' }] },
    });
    expect(titles(result, 'object').filter((title) => title.startsWith('scene'))).toEqual([
      'scene / Barge 1',
      'scene / Barge 1 / Hull',
    ]);
  });
});

describe('the plan language: ways to name what an override changes', () => {
  const prefab = {
    items: [
      {
        name: 'Boat',
        id: 'root',
        items: [{ name: 'Mast', id: 'm', parts: [{ type: 'Flag', slots: { cloth: 'red' } }] }],
      },
    ],
  };
  const values = (overrides: object, changes: object[]): string[] => {
    const { linked } = one(
      {
        pieces: {
          items: {
            at: '$..items[*]',
            kind: 'object',
            id: '$.id',
            madeFrom: { field: '$.prefab' },
            parts: { at: '$.parts[*]', type: '$.type', values: '$.slots' },
            overrides: { at: '$.changes[*]', part: '$.part', ...overrides },
          },
        },
      },
      { 'boat.json': prefab, 'scene.json': { items: [{ name: 'Boat 1', prefab: 'boat.json', changes }] } },
    );
    return [
      ...links({ linked } as Analysis, 'overrides'),
      ...linked.lostReferences.map(({ loss }) => `lost ${loss.wanted}`),
    ];
  };
  const CHANGED = ['scene / Boat 1 overrides scene / Boat 1 / Mast / Flag path'];

  it('takes names and identities of the prefab, one field, and other marks between names', () => {
    expect(values({ on: '$.on', by: 'name', values: '$.set' }, [{ on: 'Mast', part: 'Flag', set: {} }])).toEqual(
      CHANGED,
    );
    expect(values({ on: '$.on', by: 'id', values: '$.set' }, [{ on: 'm', part: 'Flag', set: {} }])).toEqual(CHANGED);
    expect(
      values({ on: '$.on', field: '$.f', value: '$.v' }, [{ on: 'Mast', part: 'Flag', f: 'cloth', v: 'blue' }]),
    ).toEqual(CHANGED);
    expect(values({ on: '$.on', separator: '>' }, [{ on: '>Mast', part: 'Flag' }])).toEqual(CHANGED);
  });

  it('says which name it does not find', () => {
    const told = (by: string, on: string): string[] => values({ on: '$.on', by }, [{ on, part: 'Flag' }]);
    expect(told('name', 'Sail').at(-1)).toBe('lost Sail: Flag');
    expect(told('id', 'x').at(-1)).toBe('lost x: Flag');
    expect(values({}, [{ part: 'Flag' }]).at(-1)).toBe('lost Flag');
  });
});

describe('the plan language: conditions and places', () => {
  it('asks the piece around a text whether it counts', () => {
    const rule = {
      pieces: ITEMS,
      references: { r: { at: '$..ref', by: 'id', when: { field: '$.kind', is: ['rope'] } } },
    };
    const items = [
      { id: 'a', name: 'A', kind: 'rope', ref: 'x' },
      { name: 'B', kind: 'tree', ref: 'y' },
    ];
    expect(lost(one(rule, { 'f.json': { items } }))).toEqual(['object x']);
  });

  it('takes the name that a value stands under, and leaves empty texts alone', () => {
    const rule = {
      pieces: ITEMS,
      references: {
        keys: { at: '$.costs.*', by: 'id', written: 'key' },
        slots: { at: '$.slots.*', by: 'id', empty: ['', 'none'] },
      },
    };
    const result = one(rule, {
      'f.json': {
        items: [{ id: 'coal', name: 'Coal' }],
        costs: { coal: 3, peat: 2 },
        slots: { a: 'none', b: '', c: null },
      },
    });
    expect(lost(result)).toEqual(['object peat']);
    expect(links(result, 'uses')).toEqual(['f uses f / Coal (coal) fixed', 'f uses nothing (peat: peat) lost']);
  });

  it('connects the piece around when no start is named, within the list of the same parent', () => {
    const rule = {
      pieces: { graphs: { at: '$.graphs[*]', kind: 'graph' }, steps: { at: '$.graphs[*].steps[*]', kind: 'step' } },
      connections: { next: { at: '$..steps[*].next', to: '$', by: 'index', of: 'steps' } },
    };
    const graphs = [
      { name: 'G', steps: [{ name: 'g0', next: 1 }, { name: 'g1' }] },
      {
        name: 'H',
        steps: [
          { name: 'h0', next: 1 },
          { name: 'h1', next: 5 },
        ],
      },
    ];
    expect(links(one(rule, { 'f.json': { graphs } }), 'calls')).toEqual([
      'g0 calls g1 path',
      'h0 calls h1 path',
      'h1 calls nothing (5) lost',
    ]);
  });

  it('reads several packages out of one text', () => {
    const plan = {
      files: {
        packs: {
          match: '*/pack.ini',
          as: 'package',
          id: '$.name',
          named: '$.name',
          needs: { at: '$.needs', id: '$', pattern: '[a-z]+' },
        },
      },
    };
    const result = scanWith({ 'a/pack.ini': 'name = a\nneeds = b, c\n', 'b/pack.ini': 'name = b\n' }, plan);
    expect(links(result, 'imports')).toEqual(['a imports b name', 'a imports nothing (c) lost']);
  });
});

describe('the plan language: packages', () => {
  const plan = (more: object = {}): object => ({
    files: {
      manifests: {
        match: '**/package.json',
        as: 'package',
        id: '$.id',
        version: '$.version',
        needs: { at: '$.needs[*]', id: '$.id', version: '$.version' },
      },
      all: {
        match: '**/*.json',
        as: 'data asset',
        pieces: { rows: { at: '$.rows[*]', kind: 'record', id: '$.id' } },
        references: { r: { at: '$.ref', by: 'path', from: 'package' } },
      },
    },
    ...more,
  });
  const files = {
    'mods/base/package.json': { id: 'base', version: '1' },
    'mods/base/tolls.json': { rows: [{ id: 'old', name: 'old' }] },
    'mods/more/package.json': { id: 'more', needs: [{ id: 'base', version: '1' }, { id: 'gone' }] },
    'mods/more/tolls.json': { rows: [{ id: 'new', name: 'new' }] },
    'mods/more/user.json': { ref: 'tolls.json' },
  };

  it('ties packages to those they need', () => {
    const result = scanWith(files, plan());
    expect(links(result, 'imports')).toEqual([
      'package imports nothing (gone) lost',
      'package imports package (1) name',
    ]);
  });

  it('lets a later package replace a file of an earlier one, when the house overlays them', () => {
    const result = scanWith(files, plan({ packages: { overlay: true } }));
    expect(titles(result, 'record')).toEqual(['tolls / new']);
    expect([...result.linked.replacedBy]).toEqual([['mods/base/tolls.json', 'mods/more/tolls.json']]);
    expect(titles(scanWith(files, plan()), 'record')).toEqual(['tolls / new', 'tolls / old']);
  });

  it('loads packages in the order that the plan gives', () => {
    const result = scanWith(files, plan({ packages: { overlay: true, order: ['more', 'base'] } }));
    // What a package needs is loaded before it, whatever the order says.
    expect([...result.linked.replacedBy.values()]).toEqual(['mods/more/tolls.json']);
    const free = { ...files, 'mods/more/package.json': { id: 'more' } };
    const other = scanWith(free, plan({ packages: { overlay: true, order: ['more', 'base'] } }));
    expect([...other.linked.replacedBy.values()]).toEqual(['mods/base/tolls.json']);
  });

  it('finds a path in the own package first, then in those loaded last', () => {
    expect(links(scanWith(files, plan()), 'uses').length).toBe(1);
    expect(lost(scanWith({ ...files, 'mods/more/user.json': { ref: 'none.json' } }, plan()))).toContain(
      'file none.json',
    );
  });
});

describe('the plan language: scripts', () => {
  beforeAll(useGrammars);

  const code = (text: string, plan: object, files: Files = {}): Analysis =>
    scanWith(
      { 's.ts': text, ...files },
      {
        scripts: { ts: { match: '*.ts', language: 'typescript' } },
        files: {
          all: {
            match: '**/*.json',
            as: 'scene',
            named: '$.name',
            pieces: {
              items: {
                at: '$.items[*]',
                kind: 'object',
                id: '$.id',
                labels: '$.labels[*]',
                parts: { at: '$.parts[*]', script: { field: '$.script' } },
              },
            },
          },
        },
        ...plan,
      },
    );
  const inScene = (...items: object[]): Files => ({ 'flight.json': { name: 'Flight', items } });

  it('takes wildcards, names in the chain, fixed texts and arguments by name', () => {
    const result = code(
      `class A { begin() { signals.noon.fire(1); deck.onDusk(go); ask('bell', 'dawn'); ask('gate', 'none'); start({ bell: 'late', loud: true }); } }`,
      {
        calls: [
          { call: 'signals.$event.fire(...)', means: 'send' },
          { call: "ask('bell', $event)", means: 'send' },
          { call: 'start(bell: $event)', means: 'send' },
        ],
      },
    );
    expect(links(result, 'sends')).toEqual([
      'A sends dawn name',
      'A sends late name',
      'A sends noon (with 1 value) name',
    ]);
  });

  it('asks for the type of a receiver where the pattern does', () => {
    const result = code(
      `class A { bell: Bell; other: Clock; begin(given: Bell) { this.bell.ring('one'); this.other.ring('two'); given.ring('three'); const b = new Bell(); b.ring('four'); unknown().ring('five'); } }`,
      { calls: [{ call: '<Bell>.ring($event)', means: 'send' }] },
    );
    expect(links(result, 'sends')).toEqual(['A sends four name', 'A sends one name', 'A sends three name']);
  });

  it('reads texts that are references by themselves', () => {
    const result = code(
      `class A { begin() { show('art/gate.svg'); show('art/gone.svg'); show('a picture'); } }`,
      { literals: { pictures: { pattern: '^art/.+$', by: 'path', verb: 'reads' } } },
      { 'art/gate.svg': '' },
    );
    expect(links(result, 'reads')).toEqual([
      'A reads gate.svg (art/gate.svg) path',
      'A reads nothing (art/gone.svg) lost',
    ]);
  });

  it('finds what code makes known under an identity, and does not judge what it makes up', () => {
    const plan = {
      calls: [
        { call: 'tell($id, _)', means: 'declare', target: { pattern: '^[^!]+$' } },
        { call: 'tellOwn($id)', means: 'declare', becomes: 'deck:*' },
        { call: 'give($record)', means: 'refer', target: { by: 'id' }, verb: 'spawns' },
      ],
    };
    const result = code(
      `const own = 'deck'; tell(own + ':rope', {}); tell('made:' + x(), {}); tell('!', {}); tellOwn('mop'); give('deck:mop'); give('deck:rope'); give('deck:roap'); give('made:seven');`,
      plan,
    );
    expect(titles(result, 'record')).toEqual(['s / deck:mop', 's / deck:rope']);
    expect(links(result, 'spawns')).toEqual([
      's spawns nothing (deck:roap) lost',
      's spawns s / deck:mop (deck:mop) fixed',
      's spawns s / deck:rope (deck:rope) fixed',
    ]);
  });

  it('looks up by label and type, and says what is done to what was found', () => {
    const result = code(
      `class A extends Base { begin() { const boats = stage.labelled('boat'); remove(boats); every(A).hide(); this.object.shift(); } }`,
      {
        calls: [
          { call: 'stage.labelled($label)', means: 'find label', scope: 'all' },
          { call: 'every($type)', means: 'find type' },
          { call: 'remove($object)', means: 'destroy', scope: 'all' },
          { call: '*.hide()', means: 'switch' },
          { call: '*.shift()', means: 'move' },
          { call: '*.object', means: 'same object' },
        ],
      },
      inScene({ name: 'Tender', labels: ['boat'] }, { name: 'Keeper', parts: [{ script: 's.ts' }] }),
    );
    expect(links(result, 'destroys')).toEqual(['Flight / Keeper / A destroys Flight / Tender name']);
    expect(links(result, 'switches')).toEqual(['Flight / Keeper / A switches Flight / Keeper / A (itself) name']);
    expect(links(result, 'moves')).toEqual(['Flight / Keeper / A moves Flight / Keeper (in the tree) fixed']);
  });

  it('says which members of other types a type uses, and what it has from its parent', () => {
    const result = code(
      `class Base { level = 0; show() {} }
       class Bell extends Base { private swing() {} }
       class A extends Base { bell: Bell; begin(other: Bell) { this.level = 1; this.show(); this.own(); this.bell.swing(); other.level = 2; const b = this.object.part(Bell); b.show(); unknown.swing(); } own() {} }`,
      {
        calls: [
          { call: '*.object', means: 'same object' },
          { call: '*.part($type)', means: 'part' },
        ],
      },
    );
    // Once as its own, once as Bell's: both end on Base, which declares it.
    expect(links(result, 'calls')).toEqual([
      'A calls Base (show) name',
      'A calls Base (show) name',
      'A calls Bell (swing, which is hidden) name',
    ]);
    expect(links(result, 'writes')).toEqual(['A writes Base (level) name', 'A writes Base (level) name']);
  });

  it('runs scripts where a table or their folder puts them', () => {
    const look = { calls: [{ call: '*.child($name)', means: 'child' }] };
    const text = `class Tide { begin() { this.child('Gate'); this.child('Mill'); } }`;
    const table = code(
      text,
      {
        ...look,
        files: {
          all: {
            match: '**/*.json',
            as: 'scene',
            pieces: { items: { at: '$.items[*]', kind: 'object' } },
            attachments: { table: { at: '$.scripts[*]', script: { field: '$' } } },
          },
        },
      },
      { 'flight.json': { scripts: ['s.ts', 'gone.ts'], items: [{ name: 'Gate' }] } },
    );
    expect(links(table, 'uses')).toEqual([
      'flight / Tide uses flight / Gate (child “Gate”) path',
      'flight / Tide uses nothing (Mill) lost',
    ]);
    expect(lost(table)).toEqual(['file gone.ts']);

    const folder = scanWith(
      { 'scenes/flight/tide.ts': text, 'flight.json': { items: [{ name: 'Gate' }] } },
      {
        ...look,
        files: { all: { match: '*.json', as: 'scene', pieces: { items: { at: '$.items[*]', kind: 'object' } } } },
        scripts: {
          ts: {
            match: '**/*.ts',
            language: 'typescript',
            belongsTo: { scene: { file: 'path', pattern: '^scenes/([^/]+)/' } },
          },
        },
      },
    );
    expect(links(folder, 'uses')).toEqual(links(table, 'uses'));
  });
});

describe('the plan language: scripts that are put somewhere', () => {
  beforeAll(useGrammars);
  const TIDE = "class Tide { begin() { this.child('Gate'); } }";
  const scenes = { all: { match: '*.json', as: 'scene', id: '$.id', named: '$.name', pieces: ITEMS } };
  const scene = { id: 'uf', name: 'Upper', items: [{ id: 'g', name: 'Gate' }] };

  it('finds the scene by identity or path as well', () => {
    for (const [by, pattern, path] of [
      ['id', '^scripts/([a-z]+)/', 'scripts/uf/tide.ts'],
      ['name', '^scripts/([A-Za-z]+)/', 'scripts/Upper/tide.ts'],
    ]) {
      const belongsTo = { scene: { file: 'path', pattern }, by };
      const plan = {
        files: scenes,
        scripts: { ts: { match: '**/*.ts', language: 'typescript', belongsTo } },
        calls: [{ call: '*.child($name)', means: 'child' }],
      };
      expect(links(scanWith({ [path]: TIDE, 'a.json': scene }, plan), 'uses'))
        .withContext(by)
        .toEqual(['Upper / Tide uses Upper / Gate (child “Gate”) path']);
    }
  });

  it('puts a script on the object that a table names', () => {
    const attachments = {
      rows: { at: '$.rows[*]', script: { field: '$.script' }, to: { field: '$.on', by: 'id', kinds: 'object' } },
    };
    const plan = {
      files: { tables: { match: 't.json', as: 'data asset', attachments }, ...scenes },
      scripts: { ts: { match: '*.ts', language: 'typescript' } },
    };
    const table = {
      rows: [
        { script: 'tide.ts', on: 'g' },
        { script: 'tide.ts', on: 'nowhere' },
      ],
    };
    const result = scanWith({ 'tide.ts': TIDE, 'a.json': scene, 't.json': table }, plan);
    expect(links(result, 'runs')).toEqual(['Upper / Gate / Tide runs Tide name']);
    expect(lost(result)).toEqual(['object nowhere']);
  });

  it('gives nothing for labels and types that nothing carries, rather than calling them broken', () => {
    const plan = {
      files: {
        all: {
          match: '*.json',
          as: 'scene',
          pieces: { items: { at: '$.items[*]', kind: 'object', parts: { at: '$', script: { field: '$.script' } } } },
        },
      },
      scripts: { ts: { match: '*.ts', language: 'typescript', moments: { start: 'begin' } } },
      calls: [
        { call: 'labelled($label)', means: 'find label' },
        { call: 'every($type)', means: 'find type' },
        { call: '*.hide()', means: 'switch' },
      ],
    };
    const script = "class A { begin() { labelled('none').hide(); every(Nobody).hide(); } }";
    const result = scanWith({ 's.ts': script, 'a.json': { items: [{ name: 'X', script: 's.ts' }] } }, plan);
    expect([links(result, 'uses'), links(result, 'switches'), result.findings]).toEqual([[], [], []]);
  });
});

describe('the plan language: plans that build on others', () => {
  it('joins rules, the own ones first', () => {
    const base = {
      version: 1,
      name: 'Base',
      calls: [{ call: 'ring($event)', means: 'send' }],
      files: { all: { match: '*.json', as: 'scene' } },
    };
    const result = scanWith(
      { 'a.json': { items: [{ name: 'A' }] } },
      { extends: 'base.json', files: { all: { as: 'prefab', pieces: ITEMS } } },
      (name) => (name === 'base.json' ? JSON.stringify(base) : undefined),
    );
    expect(titles(result, 'object')).toEqual(['A']);
    expect(kindOf(result.linked.graph, 0)).toBe('prefab');
    expect(result.linked.plan.calls.length).toBe(1);
  });

  it('refuses a plan that is not there or builds on itself', () => {
    expect(() => scanWith({}, { extends: 'x4d' })).toThrowError(/Did you mean “x3d”/);
    const circle = JSON.stringify({ version: 1, name: 'C', extends: 'circle.json' });
    expect(() => scanWith({}, { extends: 'circle.json' }, () => circle)).toThrowError(/builds on itself/);
  });
});

describe('links by piece', () => {
  it('lists each link at both ends', () => {
    const { graph } = one(
      { pieces: ITEMS, references: { r: { at: '$..ref', by: 'id' } } },
      {
        'f.json': {
          items: [
            { id: 'a', name: 'A' },
            { name: 'B', ref: 'a' },
          ],
        },
      },
    ).linked;
    const [a, b] = [1, 2];
    expect([...groupOf(graph.incoming, a)]).toEqual([...groupOf(graph.outgoing, b)]);
  });
});
