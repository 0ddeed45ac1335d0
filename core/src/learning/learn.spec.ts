/** What is learned from small projects, as rules of the plan language. */
import { CHECK_IDS } from '../checks/registry.js';
import { readPlan } from '../reading/plan/read-plan.js';
import { useGrammars } from '../testing/project.js';
import { learn, type LearnFile } from './learn.js';
import { planOf } from './plan-of.js';
import { planText } from './plan-text.js';

type Rule = Record<string, unknown>;
type Rules = Record<
  string,
  { references?: Record<string, Rule>; pieces?: Record<string, Rule>; events?: Record<string, Rule> } & Rule
>;

interface Told {
  files: Rules;
  calls: Rule[];
  scripts: Record<string, Rule>;
}

/** The plan that is learned from some files; those that are no text are written as JSON. */
function told(files: Record<string, unknown>): Told {
  const all = Object.entries(files).map(([path, content]): LearnFile => ({
    path,
    text: typeof content === 'string' ? content : JSON.stringify(content, null, 1),
  }));
  const written = planOf('Flight', learn(all));
  readPlan(planText(written), CHECK_IDS);
  const {
    files: rules,
    calls = [],
    scripts = {},
  } = written.plan as { files: Rules; calls?: Rule[]; scripts?: Told['scripts'] };
  return { files: rules, calls, scripts };
}

/** The references of all files: where, and what they name. */
const references = ({ files }: Told): string[] =>
  Object.values(files).flatMap((rule) =>
    Object.values(rule.references ?? {}).map(({ at, by, space, pattern, written }) =>
      [at, written, by, space, pattern].filter((one) => one !== undefined).join(' '),
    ),
  );
const calls = (one: Told): string[] => one.calls.map(({ call, means }) => `${call as string} ${means as string}`);

const BOATS = ['tender', 'barge', 'punt', 'raft', 'ferry', 'launch', 'dredger', 'skiff'];
const boats = {
  rows: BOATS.map((code, at) => ({ code, name: `Boat ${at}`, length: 10 + at, class: at % 2 ? 'plain' : 'fine' })),
};
/** Rows with a field that names boats. */
const naming = (field: (code: string, at: number) => unknown): object => ({
  all: BOATS.map((code, at) => ({ id: `t${at}`, for: field(code, at), pence: at, class: at % 2 ? 'fine' : 'plain' })),
});

describe('what files name is learned', () => {
  beforeAll(useGrammars);

  it('as identities of records, and enumerations and numbers are left alone', () => {
    const one = told({ 'data/boats.json': boats, 'data/tolls.json': naming((code) => code) });
    expect(references(one)).toEqual(['$.all[*].for id rows']);
    expect(one.files['boats'].pieces).toEqual({
      rows: { at: '$.rows[*]', kind: 'record', id: '$.code', named: '$.name', space: 'rows' },
    });
  });
  it('with a sign in front, several in a text, in lists, as names of entries, and inside prose', () => {
    const other = (at: number): string => BOATS[(at + 3) % BOATS.length];
    const cases: [string, (code: string, at: number) => unknown, string[]][] = [
      ['a sign', (code) => `#${code}`, ['$.all[*].for id rows ^#(.+)$']],
      ['a word and a sign', (code) => `boats:${code}`, ['$.all[*].for id rows ^boats:(.+)$']],
      ['a list', (code, at) => [code, other(at)], ['$.all[*].for[*] id rows']],
      ['entries', (code, at) => ({ [code]: 1, [other(at)]: 2 }), ['$.all[*].for.* key id rows']],
      ['an object', (code) => ({ of: code }), ['$.all[*].for.of id rows']],
    ];
    for (const [what, field, wanted] of cases)
      expect(references(told({ 'data/boats.json': boats, 'data/tolls.json': naming(field) })))
        .withContext(what)
        .toEqual(wanted);
    const joined = references(
      told({ 'data/boats.json': boats, 'data/tolls.json': naming((code, at) => `${code}; ${other(at)}`) }),
    );
    expect(joined.length).toBe(1);
    expect(joined[0]).toMatch(/^\$\.all\[\*\]\.for id rows \[\^/);
    const prose = naming((code) => `Ask the keeper for {boat:${code}} before dusk.`);
    expect(references(told({ 'data/boats.json': boats, 'data/tolls.json': prose }))).toEqual([
      '$.all[*].for id rows \\{boat:([^\\s\\}]+)\\}',
    ]);
  });
  it('but not that things are called like others, where each has a name of its own and some of them have no like', () => {
    const sure = (names: readonly string[]): number => {
      const named = names.map((name, at): [string, unknown] => [
        `prefabs/thing${at}.prefab.json`,
        { prefab: { id: name, height: at, layer: 'back' } },
      ]);
      const rows = { rows: BOATS.map((id, at) => ({ id, length: at })) };
      const { evidence } = planOf(
        'Flight',
        learn(
          Object.entries({ ...Object.fromEntries(named), 'data/boats.json': rows }).map(([path, content]) => ({
            path,
            text: JSON.stringify(content),
          })),
        ),
      );
      return Math.max(0, ...evidence.filter(({ reading }) => reading).map((one) => one.sure));
    };
    expect(sure(BOATS)).toBeGreaterThan(0.8);
    expect(sure([...BOATS.slice(0, 7), 'bollard', 'cleat'])).toBeLessThan(0.5);
  });
  it('but no amounts, and small numbers only under a name of the like', () => {
    const rows = { rows: BOATS.map((name, at) => ({ id: at + 1, name, draught: `*${at / 2}` })) };
    const tolls = (key: string): object => ({
      all: BOATS.map((name, at) => ({
        name: `Toll of ${name}`,
        [key]: (at % 6) + 2,
        turns: (at % 4) + 1,
        share: `*${at / 2}`,
        crew: (at % 3) + 3,
      })),
    });
    expect(references(told({ 'data/boats.json': rows, 'data/tolls.json': tolls('boat') }))).toEqual([
      '$.all[*].boat id rows',
    ]);
    expect(references(told({ 'data/boats.json': rows, 'data/tolls.json': tolls('pence') }))).toEqual([]);
  });
  it('and words for nothing name nothing, unless something is called so', () => {
    const tolls = naming((code, at) => (at % 3 === 0 ? 'none' : code));
    const empty = (all: object): unknown =>
      Object.values(told({ 'data/boats.json': all, 'data/tolls.json': tolls }).files['tolls'].references ?? {}).map(
        (one) => one.empty,
      );
    expect(empty(boats)).toEqual([['', 'none']]);
    expect(empty({ rows: [...boats.rows, { code: 'none', name: 'Nothing', length: 0, class: 'plain' }] })).toEqual([
      undefined,
    ]);
  });
  it('as positions in a list of the file, whose items are called by their names where they have any', () => {
    const { pieces, references } = told({
      'data/work.json': {
        ropes: BOATS.map((_, at) => ({ ...(at > 5 && { name: 'Rope' }), thick: at / 2 })),
        knots: BOATS.map((one, at) => ({ tied: `by ${one}`, rope: (at * 3) % 8 })),
      },
    }).files['work'];
    expect(references?.['rope']).toEqual({ at: '$.knots[*].rope', by: 'index', of: 'ropes' });
    expect(pieces?.['ropes'].named).toEqual(['$.name', { join: [{ text: 'ropes ' }, { index: true }] }]);
  });
  it('as what records are derived from, where hardly anything comes back to itself', () => {
    const like = (key: string, of: (at: number) => number): unknown =>
      told({
        'data/boats.json': {
          rows: BOATS.map((code, at) => ({ code, length: at, ...(of(at) >= 0 && { [key]: BOATS[of(at)] }) })),
        },
      }).files['boats'].pieces?.['rows'].extends;
    const known = { field: '$.like', by: 'id', space: 'rows' };
    expect(like('like', (at) => (at < 2 ? -1 : at >> 1))).toEqual(known);
    // A mistake hides itself when it hides the rule.
    const tolls = (base: (at: number) => number): unknown =>
      told({
        'data/tolls.json': {
          rows: Array.from({ length: 12 }, (_, at) => ({
            code: `toll-${String.fromCharCode(97 + at)}`,
            ...(at > 1 && { like: `toll-${String.fromCharCode(97 + base(at))}` }),
          })),
        },
      }).files['tolls'].pieces?.['rows'].extends;
    expect(tolls((at) => (at === 7 ? 7 : at >> 1))).toEqual(known);
    expect(tolls((at) => (at * 7 + 5) % 12)).toBeUndefined();
    expect(like('like', (at) => (at + 1) % 8)).toBeUndefined();
    expect(like('extends', (at) => (at + 1) % 8)).toEqual({ ...known, field: '$.extends' });
    expect(like('rival', (at) => (at < 2 ? -1 : at >> 1))).toBeUndefined();
  });
  it('and what all files say of themselves by one name is an identity only where it does not come again', () => {
    const panels = (names: readonly string[]): unknown =>
      told(
        Object.fromEntries(
          [0, 1, 2, 3].map((at) => [
            `panels/p${at}.json`,
            { boxes: names.map((name) => ({ name: name.replace('#', String(at)), width: at, height: 4 })) },
          ]),
        ),
      ).files['panels'].pieces?.['boxes'];
    expect(panels(['head#', 'foot#', 'side#'])).toEqual(jasmine.objectContaining({ id: '$.name' }));
    expect(panels(['head', 'foot', 'side'])).not.toEqual(jasmine.objectContaining({ id: '$.name' }));
  });
  it('when records are entries of a map, files of their own, or told apart by numbers', () => {
    const map = { boats: Object.fromEntries(BOATS.map((code, at) => [code, { length: at, crew: 2 }])) };
    expect(references(told({ 'data/boats.json': map, 'data/tolls.json': naming((code) => code) }))).toEqual([
      '$.all[*].for id boats',
    ]);
    const files = Object.fromEntries(BOATS.map((code, at) => [`data/boats/${code}.json`, { length: at, crew: 2 }]));
    const byFile = told({ ...files, 'data/tolls.json': naming((code) => code) });
    expect(references(byFile)).toEqual(['$.all[*].for id boats']);
    expect(byFile.files['boats']['id']).toEqual({ file: 'stem' });
    const numbered = { rows: BOATS.map((name, at) => ({ id: 4100 + 7 * at, name })) };
    expect(
      references(told({ 'data/boats.json': numbered, 'data/tolls.json': naming((_, at) => 4100 + 7 * at) })),
    ).toEqual(['$.all[*].for id rows']);
  });
  it('as paths, however they are written', () => {
    const pictures = Object.fromEntries(BOATS.map((code) => [`art/boats/${code}.svg`, '<svg/>']));
    const cases: [string, (code: string) => string, Rule][] = [
      ['from the root', (code) => `art/boats/${code}.svg`, { by: 'path' }],
      ['from the file', (code) => `../art/boats/${code}.svg`, { by: 'path', from: 'file' }],
      ['below a folder', (code) => `boats/${code}.svg`, { by: 'path', roots: ['art'] }],
      ['without an ending', (code) => `art/boats/${code}`, { by: 'path', endings: ['.svg'] }],
      ['with a scheme', (code) => `reach://boats/${code}.svg`, { by: 'path', schemes: { 'reach://': 'art' } }],
    ];
    for (const [what, path, wanted] of cases) {
      const { files } = told({ ...pictures, 'data/tolls.json': naming(path) });
      expect(files['tolls'].references)
        .withContext(what)
        .toEqual({ for: { at: '$.all[*].for', ...wanted } });
    }
  });
  it('without what puts several together by signs that no path has', () => {
    const files = Object.fromEntries(BOATS.map((code) => [`pictures/${code}.png`, '']));
    const drawn = naming((code, at) => (at % 4 === 0 ? `${code}.png<grey>` : `${code}.png`));
    const [one] = Object.values(told({ ...files, 'data/tolls.json': drawn }).files['tolls'].references ?? {});
    expect([one?.by, one?.pattern]).toEqual(['path', '^[^\\^*?<>|\\[\\]{}]+$']);
    const [other] = Object.values(
      told({ ...files, 'data/tolls.json': naming((code) => `${code}.png`) }).files['tolls'].references ?? {},
    );
    expect(other?.pattern).toBeUndefined();
  });
  it('wherever the files stand, the nearest first, when many folders hold files of a name', () => {
    const files: Record<string, unknown> = Object.fromEntries(
      BOATS.flatMap((code): [string, unknown][] => [
        [`reaches/${code}/boat.svg`, '<svg/>'],
        [`reaches/${code}/reach.json`, { title: code, picture: 'boat.svg' }],
      ]),
    );
    const { references: found } = Object.values(told(files).files).find(({ match }) => match === '**/*.json')!;
    expect(found).toEqual({ picture: { at: '$.picture', by: 'path', from: 'file' } });
  });
  it('as records of two sorts, by the spaces of both, so that each may have things called alike', () => {
    const crew = { crew: ['lad', 'keeper', 'pilot', 'clerk', 'warden'].map((code) => ({ code, wage: 3 })) };
    const both = (code: string, at: number): string => (at % 2 ? code : crew.crew[at % 5].code);
    const one = told({ 'data/boats.json': boats, 'data/crew.json': crew, 'data/tolls.json': naming(both) });
    expect(references(one)).toEqual(['$.all[*].for id crew,rows']);
    expect(one.files['boats'].pieces!['rows']['space']).toBe('rows');
    expect(one.files['crew'].pieces!['crew']['space']).toBe('crew');
  });
  it('as what carries a name, apart from places of the same name that only name things of other files', () => {
    const charts = Object.fromEntries(
      BOATS.map((_, at) => [
        `charts/c${at}.json`,
        { chart: { name: `Chart ${at}`, shows: [0, 1, 2].map((on) => ({ name: BOATS[(at + on) % 8] })) } },
      ]),
    );
    const named = { rows: BOATS.map((name, at) => ({ name, length: at })) };
    const one = told({
      'data/boats.json': named,
      ...charts,
      'data/shop.json': { sells: BOATS.map((_, at) => `Chart ${at}`) },
    });
    expect(references(one)).toContain('$.chart.shows[*].name id rows');
    expect(JSON.stringify(one.files)).not.toContain('$..[?@.name]');
  });
  describe('in lists whose things say what they are', () => {
    const SACKS = ['oats', 'clay', 'slate', 'coal', 'wheat', 'rope', 'salt', 'lime'];
    const BARRELS = ['cider', 'tar', 'herring', 'ale', 'oil', 'vinegar', 'wine', 'resin'];
    const next = (all: readonly string[], at: number): string => all[(at * 3 + 1) % all.length] ?? '';
    /** Over some files in folders of their own; some hold one sort alone. */
    const spread = (things: object[], size: number): Record<string, unknown> =>
      Object.fromEntries(
        Array.from({ length: Math.ceil(things.length / size) }, (_, at) => [
          `data/${BOATS[at % 8] ?? ''}/part${at}.json`,
          things.slice(at * size, at * size + size),
        ]),
      );
    const sacks = SACKS.map((id) => ({ type: 'sack', id, pounds: 40 }));
    const barrels = BARRELS.map((id) => ({ type: 'barrel', id, gallons: 9 }));
    const hulls = BOATS.map((id, at) => ({ type: 'hull', id, beam: 7 + at, keeper: next(BOATS, at) }));
    const crews = BOATS.map((id, at) => ({
      type: 'crew',
      id,
      wage: at,
      on: next(BOATS, at + 2),
      carries: next(SACKS, at),
    }));

    it('by sort, where those of several sorts are called alike', () => {
      const one = told(
        spread([...hulls, ...crews, ...sacks, ...crews.map((crew) => ({ ...crew, id: `${crew.id}2` }))], 5),
      );
      expect(Object.keys(one.files).length).toBe(1);
      const [{ pieces = {} } = {}] = Object.values(one.files);
      expect(Object.values(pieces).map(({ at, id }) => [at, id])).toContain([`$[?@.type == "sack"]`, '$.id']);
      expect(references(one)).toContain('$[?@.type == "crew"].carries id sack');
      expect(references(one).filter((at) => at.includes('.id '))).toEqual([]);
    });
    it('as things of several sorts, where places name them beside each other', () => {
      const both = [...SACKS, ...BARRELS];
      const loads = BOATS.flatMap((boat, at) =>
        [0, 1].map((which) => ({ type: 'load', code: `${boat}-${which}`, holds: next(both, at * 2 + which), day: at })),
      );
      const tolls = BOATS.map((boat, at) => ({
        type: 'toll',
        of: boat,
        on: [next(both, at), next(both, at + 5)],
        pence: 3,
      }));
      const one = told(spread([...sacks, ...barrels, ...loads, ...tolls], 6));
      const known = '$[?@.type == "sack" || @.type == "barrel"]';
      const [{ pieces = {} } = {}] = Object.values(one.files);
      expect(Object.values(pieces).map(({ at }) => at)).toContain(known);
      expect(
        references(one)
          .filter((at) => at.includes('1 more'))
          .sort(),
      ).toEqual(['$[?@.type == "load"].holds id sack and 1 more', '$[?@.type == "toll"].on[*] id sack and 1 more']);
    });
    it('in other formats as well', () => {
      const written = [...hulls, ...crews, ...sacks].map((thing) =>
        Object.entries(thing)
          .map(([key, value]) => `${key}="${String(value)}"`)
          .join(' '),
      );
      const one = told({ 'data/all.xml': `<yard>${written.map((thing) => `<thing ${thing}/>`).join('\n')}</yard>` });
      expect(references(one)).toContain('$.yard[*].thing[?@.type == "crew"].carries id sack');
    });
    it('but not by a mark on things that are alike, nor by the types of parts', () => {
      const marked = told({
        'data/boats.json': BOATS.flatMap((id) =>
          [1, 2, 3].map((at) => ({ id: `${id}${at}`, class: BOATS[at], beam: at })),
        ),
        'data/tolls.json': BOATS.map((id, at) => ({ of: `${id}${1 + (at % 3)}`, pence: at })),
      });
      expect(references(marked)).toEqual(['$[*].of id boats']);
      const parts = BOATS.flatMap((name, at) => [
        { name: `${name} 1`, parts: [{ type: 'Gate', depth: at, wide: true }] },
        {
          name: `${name} 2`,
          parts: [
            { type: 'Bell', tone: 'a' },
            { type: 'Gate', depth: 3, wide: true },
          ],
        },
        { name: `${name} 3`, parts: [{ type: 'Bell', tone: 'b' }] },
      ]);
      const one = told({
        'scenes/weir.json': { objects: parts },
        'scripts/gate.ts': 'export class Gate extends Part { depth = 1; wide = false; }',
        'scripts/bell.ts': 'export class Bell extends Part { tone = ""; }',
      });
      expect(JSON.stringify(one.files)).not.toContain('?@.type');
    });
  });
  it('in every format, and in text of the team’s own', () => {
    const rows = BOATS.map((code, at) => `boat: code="${code}" length=${at + 10}`).join('\n');
    const toll = BOATS.map((code, at) => `[toll${at}]\nboat = ${code}\npence = ${at}\n`).join('\n');
    const xml = `<tolls>${BOATS.map((code) => `<toll boat="${code}" pence="3"/>`).join('')}</tolls>`;
    const one = told({ 'data/boats.list': rows, 'data/tolls.ini': toll, 'data/fees.xml': xml });
    expect(references(one).sort()).toEqual(['$.*.boat id boat', '$.tolls[*].toll[*].boat id boat']);
    expect(Object.values(one.files).find(({ format }) => format === 'lines')!['lines']).toBeDefined();
  });
  it('by what stands in a file when its ending says nothing', () => {
    const one = told({ 'data/boats.berth': boats, 'data/tolls.fee': naming((code) => code) });
    expect(Object.values(one.files).map(({ format }) => format)).toEqual(['json', 'json']);
    expect(references(one)).toEqual(['$.all[*].for id rows']);
  });
  it('in time that grows with the text, whatever stands in it', () => {
    // Each of these would go on for hours if a pattern tried all ways to match.
    const digits = `${'1'.repeat(60)} of the tide\n`.repeat(20);
    const marks = `${'<a>'.repeat(200_000)}\n`;
    const name = 'a'.repeat(400_000);
    expect(
      references(
        told({
          'data/boats.json': boats,
          'data/tolls.json': naming((code) => code),
          'data/all.tides': digits,
          'data/all.marks': marks,
          'data/names.json': { all: [{ text: name }, { text: `${name}b` }, { text: '(' }] },
        }),
      ),
    ).toContain('$.all[*].for id rows');
  });
  it('and never from what is alike by chance', () => {
    const words = { rows: ['red', 'blue', 'green', 'old', 'new'].map((name) => ({ name, weight: 3 })) };
    const prose = {
      all: BOATS.map((code, at) => ({
        id: `x${at}`,
        hue: at === 0 ? 'red' : `mixed ${code}`,
        about: `The ${code} is old.`,
      })),
    };
    expect(references(told({ 'data/hues.json': words, 'data/notes.json': prose }))).toEqual([]);
  });
});

describe('kinds of files are learned', () => {
  beforeAll(useGrammars);
  const globs = (files: Record<string, unknown>): unknown[] =>
    Object.values(told(files).files).map(({ match }) => match);

  it('by their endings, by their folders, and by name where a folder holds two', () => {
    const row = (at: number): object => ({ pence: at, from: 'x', until: 'y' });
    const other = (at: number): object => ({ steps: [at], title: 'z', sound: 'q' });
    expect(globs({ 'a/one.toll.json': row(1), 'b/two.toll.json': row(2), 'b/hint.json': other(1) }).sort()).toEqual([
      '**/*.toll.json',
      'b/hint.json',
    ]);
    expect(
      globs({
        'tolls/a.json': row(1),
        'tolls/b.json': row(2),
        'hints/c.json': other(1),
        'hints/d.json': other(2),
      }).sort(),
    ).toEqual(['hints/*.json', 'tolls/*.json']);
  });
});

const SCENES = Object.fromEntries(
  ['quay', 'basin', 'weir'].map((name, at) => [
    `scenes/${name}.json`,
    {
      scene: name,
      objects: [
        {
          id: `${name}-crane`,
          name: `${name} Crane`,
          parts: [{ type: 'Crane', slots: { hook: `#${name}-hook`, reach: 4 + at } }],
          objects: [{ id: `${name}-hook`, name: 'Hook', parts: [{ type: 'Hook', slots: {} }] }],
        },
        { id: `${name}-bell`, name: `${name} Bell`, prefab: 'prefabs/bell.json', labels: ['ringing'] },
        { id: `${name}-horn`, name: `${name} Horn`, prefab: 'prefabs/bell.json', labels: ['ringing', 'brass'] },
      ],
      wires: [{ when: 'fog.rose', to: `#${name}-crane`, do: 'lift' }],
    },
  ]),
);
const GAME = {
  ...SCENES,
  'prefabs/bell.json': {
    objects: [{ name: 'Bell', parts: [{ type: 'Bell', slots: {} }], objects: [{ name: 'Clapper' }] }],
  },
  'data/boats.json': boats,
  'scripts/crane.ts': `export class Crane extends Behaviour {
    @slot() hook;
    @slot() reach;
    begin() {
      bells.hear('fog.rose', this.lift);
      bells.hear('fog.fell', () => this.lower());
      this.child('Hook').show();
      this.child('Hook').part(Hook).swing();
    }
    lift() { spawnFrom('prefabs/bell.json'); book.row('barge'); book.row('punt'); }
    lower() { stage.enter('weir'); stage.enter('quay'); }
    end() { bells.forget('fog.rose'); }
  }`,
  'scripts/hook.ts': `export class Hook extends Behaviour {
    begin() { bells.hear('tide.turned', this.swing); this.holder.holder.hide(); for (const one of stage.labelled('ringing')) one.show(); }
    everyFrame(seconds) { this.swing(); }
    swing() { bells.ring('fog.rose'); bells.ring('fog.fell', 3); }
    end() {}
  }`,
  'scripts/bell.ts': `export class Bell extends Behaviour {
    begin() { stage.find('quay Crane').show(); stage.find('basin Bell').show(); }
    everyFrame(seconds) { bells.ring('tide.turned'); book.row('raft'); }
    end() {}
  }`,
};

describe('rules for files', () => {
  it('that few globs tell alone stand before the rule for all the others', () => {
    const rows = (key: string, from: number): object =>
      BOATS.map((code, at) => ({ [key]: `${code}${from + at}`, [`${key}Long`]: at, [`${key}Wide`]: at * 2 }));
    const names = [...BOATS, 'yawl', 'cutter', 'wherry', 'smack'];
    const many = Object.fromEntries(names.map((name, at) => [`data/${name}/${name}.json`, rows('hull', at * 10)]));
    const one = told({ ...many, 'data/tender/marks.json': rows('mark', 0), 'data/punt/crew.json': rows('hand', 0) });
    expect(Object.values(one.files).map(({ match }) => match)).toEqual([
      ...[jasmine.stringContaining('marks.json'), jasmine.stringContaining('crew.json')],
      '**/*.json',
    ]);
  });
});

describe('what scripts and scenes mean is learned', () => {
  beforeAll(useGrammars);
  let one: Told;
  beforeAll(() => (one = told(GAME)));

  it('from what calls are given: names of objects, paths, scenes, records, types, labels', () => {
    expect(calls(one)).toEqual(
      jasmine.arrayContaining([
        'stage.find($name) find',
        '*.child($name) child',
        '*.part($type) part',
        'spawnFrom($path) spawn',
        'stage.enter($scene) load',
        'book.row($id) refer',
        'stage.labelled($label) find label',
      ]),
    );
  });
  it('from texts that two calls share and nothing else holds: events, with the end that takes a function', () => {
    expect(calls(one)).toEqual(
      jasmine.arrayContaining([
        'bells.hear($event, $handler) listen',
        'bells.ring($event, ...) send',
        'bells.forget($event) let go',
      ]),
    );
  });
  it('from what follows itself: a step up', () => expect(calls(one)).toContain('*.holder step up'));
  it('from functions that all types have and nobody calls, and from the fields that files fill', () => {
    expect(one.scripts['ts']).toEqual(
      jasmine.objectContaining({
        moments: { start: ['begin'], everyFrame: ['everyFrame'], leave: ['end'] },
        exposed: { decorators: ['slot'] },
      }),
    );
  });
  it('from how often files fill a field: what must be filled, and what may stay empty', () => {
    const crane = GAME['scripts/crane.ts'];
    const filled = (slots: (at: number) => object, script = crane): unknown => {
      const objects = BOATS.map((name, at) => ({
        name,
        parts: [{ type: 'Crane', slots: slots(at) }],
        objects: [{ name }],
      }));
      return told({ ...GAME, 'scripts/crane.ts': script, 'scenes/cranes.json': { objects } }).scripts['ts']['exposed'];
    };
    // One that is empty is a mistake, many are none.
    expect(filled((at) => (at === 3 ? { hook: 1 } : { hook: 1, reach: 2 }))).toEqual({ decorators: ['slot'] });
    expect(filled((at) => (at > 1 ? { hook: 1 } : { hook: 1, reach: 2 }))).toEqual({
      decorators: ['slot'],
      mayBeEmpty: ['reach'],
    });
    // What code fills, files need not.
    const fills = crane.replace('begin() {', 'begin() { this.reach = 2;');
    expect(filled(() => ({ hook: 1 }), fills)).toEqual({ decorators: ['slot'] });
  });
  it('from calls that are given nothing, though the own function of the name wants something', () => {
    const board = (show: string): Record<string, string> => ({
      'scripts/board.ts': `export class Board extends Behaviour { begin() { this.${show === 'show()' ? 'lift' : 'show'}(3); } ${show} {} }`,
    });
    const shows = {
      'scripts/c.ts':
        'export class C extends Behaviour { begin(one) { one.show(); one.first.show(); one.last.show(); } }',
    };
    expect(calls(told({ ...GAME, ...shows, ...board('show(level)') }))).toContain('*.show() switch');
    expect(calls(told({ ...GAME, ...shows, ...board('show()') })).join()).not.toContain('show(');
  });
  it('as trees of objects with parts, prefabs, labels and wires', () => {
    const scenes = Object.values(one.files).find(({ as }) => as === 'scene')!;
    expect(scenes.pieces!['objects']).toEqual(
      jasmine.objectContaining({
        at: '$..objects[*]',
        kind: 'object',
        id: '$.id',
        named: '$.name',
        madeFrom: { field: '$.prefab', by: 'path' },
        parts: { at: '$.parts[*]', type: '$.type', values: '$.slots' },
        labels: '$.labels[*]',
      }),
    );
    expect(scenes.events).toEqual({
      wires: { at: '$.wires[*]', event: '$.when', to: { select: '$.to', pattern: '^#(.+)$' }, handler: '$.do' },
    });
    expect(Object.values(one.files).some(({ as }) => as === 'prefab')).toBeTrue();
  });
  it('in rows of texts, in tables of code, and when events are members of one thing', () => {
    const nodes = `return { ${BOATS.map((code) => `{ id = "${code}", weight = 3 }`).join(', ')} }`;
    const shown = Array.from(
      { length: 6 },
      (_, at) => `show("${BOATS[at]}", "${BOATS[at + 1]}"${at % 2 ? `, "${BOATS[at + 2]}"` : ''})`,
    );
    const lua = told({ 'data/boats.lua': nodes, 'scripts/show.lua': shown.join('\n') });
    expect(calls(lua)).toEqual(['show($id...) refer']);
    expect(lua.scripts['lua']['tables']).toEqual({
      boats: jasmine.objectContaining({ returned: '' }),
    });
    const members = told({
      'scripts/a.py':
        'class A(Behaviour):\n    def begin(self):\n        bells.fogRose.hear(self.lift)\n        bells.tideFell.hear(self.lift)\n    def lift(self):\n        bells.dusk.ring()\n',
      'scripts/b.py':
        'class B(Behaviour):\n    def begin(self):\n        bells.dusk.hear(self.go)\n    def go(self):\n        bells.fogRose.ring()\n        bells.tideFell.ring(3)\n',
    });
    expect(calls(members)).toEqual(
      jasmine.arrayContaining(['bells.$event.hear($handler) listen', 'bells.$event.ring(...) send']),
    );
  });
  it('among what a table of code holds without names, apart from what has one', () => {
    const choose = (at: number, go: string): string => `choice("${BOATS[at]}", "${BOATS[at + 1]}", done=self.${go})`;
    const goes = ['lift', 'moor', 'sink', 'sail'];
    const { scripts } = told({
      'data/boats.json': { rows: BOATS.map((code, at) => ({ code, length: at })) },
      'scripts/a.py': `class A(Behaviour):\n    def begin(self):\n        self.menu = [${goes.map((go, at) => choose(at, go)).join(', ')}]\n${goes.map((go) => `    def ${go}(self): pass\n`).join('')}`,
    });
    expect(JSON.stringify(scripts['py'])).toContain('"at":"$[*][:]"');
    expect(JSON.stringify(scripts['py'])).not.toContain('"at":"$[*][*]"');
  });
  it('service by service, where each is asked for other things', () => {
    const crew = ['lad', 'keeper', 'pilot', 'clerk', 'warden'];
    const asks = BOATS.map((code, at) => `boat.get("${code}") crew.get("${crew[at % 5]}")`).join('\n');
    const one = told({
      'data/boats.json': boats,
      'data/crew.json': { crew: crew.map((code) => ({ code, wage: 3 })) },
      'scripts/a.lua': asks,
    });
    expect(one.calls.map(({ call, target }) => [call, (target as Rule)['space']])).toEqual([
      ['boat.get($id)', 'rows'],
      ['crew.get($id)', 'crew'],
    ]);
  });
  it('as no labels, what few of the texts are that a call is given, or what is measured', () => {
    const scene = (at: number): object => ({
      scene: `s${at}`,
      objects: [0, 1, 2].map((on) => ({
        id: `o${at}${on}`,
        name: `Post ${on}`,
        parts: [{ type: 'Crane', tuning: [on, 2] }],
        marks: on ? ['wet', 'brass'] : ['wet'],
      })),
    });
    const said = ['wet', 'You are late', 'The tide is out', 'Nobody is here', 'Come in'];
    const one = told({
      'scenes/a.json': scene(1),
      'scenes/b.json': scene(2),
      'scripts/a.ts': `class Crane extends Behaviour { go() { ${said.map((text) => `say('${text}');`).join(' ')} stage.marked('wet'); } }`,
    });
    expect(calls(one)).toContain('stage.marked($label) find label');
    expect(calls(one)).not.toContain('say($label) find label');
  });
  it('as flat lists of objects that name what holds them', () => {
    const flat = (name: string): object => ({
      scene: name,
      all: BOATS.map((code, at) => ({
        id: `${name}-${code}`,
        name: code,
        ...(at > 0 && { in: `${name}-${BOATS[at >> 1]}` }),
        parts: [{ type: 'Crane' }],
      })),
    });
    const files = {
      'scenes/a.json': flat('a'),
      'scenes/b.json': flat('b'),
      'scripts/crane.ts': GAME['scripts/crane.ts'],
    };
    const pieces = Object.values(told(files).files).flatMap((rule) => Object.values(rule.pieces ?? {}));
    expect(pieces[0]['parent']).toEqual({ field: '$.in', by: 'id' });
  });
});

describe('what is not sure is asked', () => {
  beforeAll(useGrammars);
  /** What is asked about where tolls name boats, which two lists know by the same texts. */
  const asked = (berths: readonly string[], named = BOATS): { key: string; others: string[]; asks: number }[] =>
    planOf(
      'Flight',
      learn(
        Object.entries({
          'data/boats.json': boats,
          'data/berths.json': { berths: berths.map((id, at) => ({ id, depth: at, stones: 'grey' })) },
          'data/tolls.json': { all: named.map((one, at) => ({ toll: at, for: one })) },
        }).map(([path, content]) => ({ path, text: JSON.stringify(content) })),
      ),
    ).evidence.flatMap(({ key, others = [], asks = 0 }) =>
      key.endsWith('references.for') ? [{ key, asks, others: others.map(({ says }) => says) }] : [],
    );

  it('with what else may be meant, where two explain as much', () => {
    expect(asked(BOATS)).toEqual([{ key: 'files.tolls.references.for', asks: 2, others: ['one of berths by its id'] }]);
  });
  it('but not where only one does', () => {
    const [only] = asked(['north', 'south', 'east', 'west', 'upper', 'lower', 'outer', 'inner']);
    expect([only?.asks, only?.others]).toEqual([0, []]);
  });
});

describe('a learned plan as text', () => {
  beforeAll(useGrammars);
  const files = [
    { path: 'data/boats.json', text: JSON.stringify(boats) },
    { path: 'data/tolls.json', text: JSON.stringify(naming((code, at) => (at === 0 ? 'tneder' : code))) },
  ];

  it('says in comments how many lead somewhere, and keeps what nobody has looked at', () => {
    const text = planText(planOf('Flight', learn(files)));
    expect(text).toMatch(/\/\/ 7 of 8 lead somewhere, \d+ % sure: “barge”, “punt”; not “tneder”/);
    const { learned } = readPlan(text, CHECK_IDS);
    expect(learned.rules['files.tolls.references.for']).toEqual(jasmine.objectContaining({ of: 8, leads: 7 }));
  });
  it('saying which identity stands more than once', () => {
    const says = (codes: readonly string[]): string | undefined =>
      planOf(
        'Flight',
        learn([
          { path: 'data/boats.json', text: JSON.stringify({ rows: codes.map((code) => ({ code, length: 4 })) }) },
          {
            path: 'data/tolls.json',
            text: JSON.stringify({ all: BOATS.map((code, at) => ({ toll: at, for: code })) }),
          },
        ]),
      ).evidence.find(({ key }) => key === 'files.boats.pieces.rows')?.says;
    expect(says([...BOATS, 'punt'])).toBe(
      '“rows” are told apart by their code: 8 of 9 are different, “punt” stands more than once',
    );
    expect(says(BOATS)).toBe('“rows” are told apart by their code: 8 of 8 are different');
  });
  it('goes on telling of what stays in it how sure that is', () => {
    const learned = planOf('Flight', learn(files));
    const unsure = { ...learned, evidence: learned.evidence.map((one) => ({ ...one, sure: 0.3 })) };
    const { rules } = readPlan(planText(unsure), CHECK_IDS).learned;
    expect(Object.keys(rules)).toEqual(['files.boats.pieces.rows', 'files.tolls.pieces.all']);
  });
  it('leaves out what is less sure than is asked for', () => {
    const { plan, evidence } = planOf('Flight', learn(files));
    const { sure } = evidence.find(({ key }) => key === 'files.tolls.references.for')!;
    expect(planText({ plan, evidence }, sure + 0.001)).not.toContain('$.all[*].for');
    expect(planText({ plan, evidence }, sure)).toContain('$.all[*].for');
  });
});
