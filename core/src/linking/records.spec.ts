/** Records that are derived from others: what is in force, and what the checks and families make of it. */
import { familiesOf, familyOf } from '../families/families.js';
import { nameOf } from '../model/graph.js';
import { scanWith, told, type Files } from '../testing/project.js';
import type { Analysis } from '../analyse.js';

const BOATS = { at: '$.boats[*]', kind: 'record', id: '$.id', named: '$.id' };
const plan = (more: object): object => ({
  files: { boats: { match: '*.json', as: 'data asset', pieces: { boats: { ...BOATS, ...more } } } },
});
/** `name=text` of all that is in force for a record, in the order in which it is first said. */
const inForce = ({ linked }: Analysis, id: string): string[] => {
  const piece = linked.world.names.byId.get(id)?.[0] ?? -1;
  return linked
    .valuesOf(piece)
    .flatMap(({ fields }) => fields)
    .map(({ field, levels, inForce: text }) => `${field}=${text === undefined ? levels.at(-1)?.text : (text ?? '?')}`);
};
const boats = (...all: object[]): Files => ({ 'a.json': { boats: all } });
const LIKE = { extends: { field: '$.like' }, values: { at: '$.says' } };

describe('values of records', () => {
  it('come from what a record is derived from, and that in turn', () => {
    const files = boats(
      { id: 'hull', says: { most: 3, crew: 1 } },
      { id: 'barge', like: 'hull', says: { most: 9 } },
      { id: 'tarred', like: 'barge', says: { colour: 'black' } },
    );
    expect(inForce(scanWith(files, plan(LIKE)), 'tarred')).toEqual(['most=9', 'crew=1', 'colour=black']);
  });

  it('nested members count by their way, lists by their places', () => {
    const files = boats({ id: 'hull', says: { hold: { most: 3, goods: ['coal', 'salt'] } } });
    expect(inForce(scanWith(files, plan(LIKE)), 'hull')).toEqual([
      'hold.most=3',
      'hold.goods[0]=coal',
      'hold.goods[1]=salt',
    ]);
  });

  const SEVERAL: { it: string; like: unknown; extends: object; is: string[] }[] = [
    {
      it: 'a list, the first wins',
      like: ['laden', 'tarred'],
      extends: { field: '$.like[*]', every: true },
      is: ['most=3', 'colour=brown', 'crew=2'],
    },
    {
      it: 'a list, the last wins',
      like: ['laden', 'tarred'],
      extends: { field: '$.like[*]', every: true, wins: 'last' },
      is: ['most=3', 'colour=black', 'crew=2'],
    },
    {
      it: 'a chain of names in one text',
      like: 'tarred|laden',
      extends: { field: '$.like', every: true, pattern: '[^|]+' },
      is: ['most=3', 'colour=black', 'crew=2'],
    },
  ];
  for (const { it: title, like, extends: bases, is } of SEVERAL)
    it(`of several bases: ${title}`, () => {
      const files = boats(
        { id: 'hull', says: { most: 3, colour: 'grey' } },
        { id: 'tarred', like: typeof like === 'string' ? 'hull' : ['hull'], says: { colour: 'black' } },
        { id: 'laden', like: typeof like === 'string' ? 'hull' : ['hull'], says: { colour: 'brown', crew: 2 } },
        { id: 'mine', like, says: {} },
      );
      expect(inForce(scanWith(files, plan({ ...LIKE, extends: bases })), 'mine').sort()).toEqual([...is].sort());
    });

  it('of XML: child elements count with their text, attributes by their own way', () => {
    const files = {
      'a.xml':
        '<boats><boat id="hull"><says><most unit="t">3</most><crew>2</crew></says></boat>' +
        '<boat id="barge" like="hull"><says><most how="plus">4</most><crew how="drop"/></says></boat></boats>',
    };
    const rule = {
      at: '$..boat[*]',
      kind: 'record',
      id: '$.id',
      named: '$.id',
      extends: { field: '$.like' },
      values: { at: '$.says', how: '$.how', means: { plus: 'plus', drop: 'removes' } },
    };
    const scanned = scanWith(files, {
      files: { boats: { match: '*.xml', as: 'data asset', pieces: { boats: rule } } },
    });
    expect(inForce(scanned, 'barge')).toEqual(['most.unit=t', 'most=7', 'crew=']);
  });

  it('are joined as a key, a member or an attribute says', () => {
    const files = boats(
      { id: 'hull', says: { most: 3, crew: 4, name: 'a', load: 10, sail: 'red', keel: 2 } },
      {
        id: 'barge',
        like: 'hull',
        says: { 'most+': 2, 'crew-': 1, 'load*': 1.5, 'keel/': 4, sail: 'blue', 'name~': 'x' },
      },
    );
    const values = {
      at: '$.says',
      called: '^(.*?)[-+*/~]?$',
      how: { key: true, pattern: '[-+*/~]$' },
      means: { '+': 'plus', '-': 'minus', '*': 'times', '/': 'divided by', '~': 'unknown' },
    };
    expect(inForce(scanWith(files, plan({ ...LIKE, values })), 'barge').sort()).toEqual(
      ['most=5', 'crew=3', 'load=15', 'keel=0.5', 'sail=blue', 'name=?'].sort(),
    );
  });

  it('each entry of a list may be a value with a name', () => {
    const files = boats(
      {
        id: 'hull',
        says: [
          { what: 'most', is: 3 },
          { what: 'crew', is: 1 },
        ],
      },
      { id: 'barge', like: 'hull', says: [{ what: 'most', is: 4 }] },
    );
    const values = { at: '$.says[*]', named: '$.what', value: '$.is' };
    expect(inForce(scanWith(files, plan({ ...LIKE, values })), 'barge')).toEqual(['most=4', 'crew=1']);
  });

  const WORDS = { at: '$.says', words: '\\S+', takes: '^-(.+)$' };
  it('lists of words grow, and marked words take one away', () => {
    const files = boats(
      { id: 'hull', says: { can: 'float tow' } },
      { id: 'barge', like: 'hull', says: { can: 'carry -tow' } },
    );
    expect(inForce(scanWith(files, plan({ ...LIKE, values: WORDS })), 'barge')).toEqual(['can=float carry']);
  });

  it('parts keep their fields apart', () => {
    const parts = { at: '$.parts[*]', type: '$.type', values: '$.says' };
    const files = boats(
      {
        id: 'hull',
        parts: [
          { type: 'Hull', says: { most: 3 } },
          { type: 'Crane', says: { most: 1 } },
        ],
      },
      { id: 'barge', like: 'hull', parts: [{ type: 'Crane', says: { most: 2 } }] },
    );
    expect(inForce(scanWith(files, plan({ extends: { field: '$.like' }, parts })), 'barge')).toEqual([
      'Hull.most=3',
      'Crane.most=2',
    ]);
  });

  it('bases that share bases, many times over, are gone through once', () => {
    const all: object[] = [
      { id: 'b0', says: { most: 1 } },
      { id: 'c0', says: { crew: 1 } },
    ];
    for (let at = 1; at < 40; at++)
      all.push(
        { id: `b${at}`, like: [`b${at - 1}`, `c${at - 1}`] },
        { id: `c${at}`, like: [`b${at - 1}`, `c${at - 1}`] },
      );
    const scanned = scanWith(boats(...all), plan({ ...LIKE, extends: { field: '$.like[*]', every: true } }));
    expect(inForce(scanned, 'b39').sort()).toEqual(['crew=1', 'most=1']);
  });

  it('a value told by a word that every object has is no other than the rest', () => {
    const files = boats({ id: 'hull', says: [{ what: 'most', is: 3, how: 'constructor' }] });
    const values = { at: '$.says[*]', named: '$.what', value: '$.is', how: '$.how', means: { plus: 'plus' } };
    expect(inForce(scanWith(files, plan({ ...LIKE, values })), 'hull')).toEqual(['most=3']);
  });

  it('a circle of bases ends where it closes', () => {
    const files = boats({ id: 'a', like: 'b', says: { most: 1 } }, { id: 'b', like: 'a', says: { crew: 2 } });
    expect(inForce(scanWith(files, plan(LIKE)), 'a').sort()).toEqual(['crew=2', 'most=1']);
  });
});

describe('what a record takes from its bases', () => {
  const values = { at: '$.says', words: '\\S+', takes: '^-(.+)$' };
  const takes = (second: object, more: object = {}): string[] =>
    told(
      scanWith(
        boats({ id: 'hull', says: { can: 'float tow' } }, { id: 'barge', like: 'hull', ...second }),
        plan({ ...LIKE, values, ...more }),
      ),
      'broken/missing-member',
    );

  it('is told when none of them has it', () => {
    expect(takes({ says: { can: '-tows' } })).toEqual([
      'a / barge takes tows out of can, which a / hull does not have; there is tow @ a.json:13',
    ]);
    expect(takes({ says: { does: '-tow' } })).toEqual([
      'a / barge changes does, which a / hull does not have @ a.json:13',
    ]);
  });

  it('is fine when one of them has it, or when not all are known', () => {
    expect(takes({ says: { can: '-tow carry' } })).toEqual([]);
    expect(takes({ like: 'raft', says: { can: '-tows' } })).toEqual([]);
  });

  it('is told of whole values, and of what is calculated', () => {
    const how = {
      at: '$.says',
      called: '^(.*?)[-+]?$',
      how: { key: true, pattern: '[-+]$' },
      means: { '+': 'plus', '-': 'removes' },
    };
    expect(takes({ says: { 'cna-': 1, 'load+': 2, 'can-': 1 } }, { values: how }).length).toBe(2);
  });
});

describe('records that say again what they have anyway', () => {
  const drift = (...all: object[]): string[] => told(scanWith(boats(...all), plan(LIKE)), 'fragile/base-drift');
  it('are told once each', () => {
    expect(
      drift(
        { id: 'hull', says: { most: 3, crew: 1 } },
        { id: 'barge', like: 'hull' },
        { id: 'tarred', like: 'barge', says: { most: 3, crew: 1 } },
      ),
    ).toEqual(['a / tarred says most = 3 (and 1 more) again, which hull says anyway @ a.json:18']);
  });
  it('are fine where another base comes between, or where nothing is said', () => {
    expect(
      drift(
        { id: 'hull', says: { most: 3, sail: '' } },
        { id: 'barge', like: 'hull', says: { most: 4, sail: '' } },
        { id: 'tarred', like: 'barge', says: { most: 3 } },
      ),
    ).toEqual([]);
  });
});

describe('families of records with values', () => {
  it('show what is in force in each member', () => {
    const files = boats(
      { id: 'hull', says: { most: 3, crew: 1 } },
      { id: 'barge', like: 'hull', says: { most: 9 } },
      { id: 'tarred', like: 'barge', says: { colour: 'black' } },
    );
    const { linked } = scanWith(files, plan(LIKE));
    const hull = linked.world.names.byId.get('hull')?.[0] ?? -1;
    const family = familyOf(linked, hull);
    expect(family?.columns.map(({ name }) => name)).toEqual(['most', 'crew', 'colour']);
    expect(
      family?.rows.map(({ name, cells }) => [name, ...cells.map(({ is, text }) => `${is} ${text}`.trim())]),
    ).toEqual([
      ['hull', 'own 3', 'own 1', 'none'],
      ['barge', 'replaced 9', 'inherited 1', 'inherited'],
      ['tarred', 'value 9', 'inherited 1', 'own black'],
    ]);
  });

  it('are one with those of a prefab that is their base as well', () => {
    const files = {
      'hull.prefab': { objects: [{ name: 'Hull', parts: [{ type: 'Float', says: { most: 3 } }] }] },
      'quay.scene': { objects: [{ name: 'Hull 1', made: 'hull.prefab' }] },
      'a.json': { boats: [{ id: 'barge', like: 'hull.prefab', says: { crew: 2 } }] },
    };
    const objects = {
      at: '$.objects[*]',
      kind: 'object',
      madeFrom: { field: '$.made' },
      parts: { at: '$.parts[*]', type: '$.type', values: '$.says' },
    };
    const { linked } = scanWith(files, {
      files: {
        prefabs: { match: '*.prefab', as: 'prefab', format: 'json', pieces: { objects } },
        scenes: { match: '*.scene', as: 'scene', format: 'json', pieces: { objects } },
        boats: {
          match: '*.json',
          as: 'data asset',
          pieces: { boats: { ...BOATS, extends: { field: '$.like', by: 'path' }, values: { at: '$.says' } } },
        },
      },
    });
    const families = familiesOf(linked).map(({ piece, members }) => `${nameOf(linked.graph, piece)} ${members}`);
    expect(families).toEqual(['hull 2']);
    const family = familyOf(linked, familiesOf(linked)[0].piece);
    expect(family?.rows.map(({ name }) => name).sort()).toEqual(['Hull', 'Hull 1', 'barge']);
    for (const { cells } of family?.rows ?? []) expect(cells.length).toBe(family?.columns.length ?? 0);
  });
});
