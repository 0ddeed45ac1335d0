/** What projects that nobody here wrote showed: each as small as it can be, with what must not be taken for it. */
import { CHECK_IDS } from '../checks/registry.js';
import { plain } from '../model/finding.js';
import { readPlan } from '../reading/plan/read-plan.js';
import { useGrammars } from '../testing/project.js';
import { analyseTexts } from '../testing/sample.js';
import { decide } from './decide.js';
import { learn } from './learn.js';
import { planOf, type LearnedPlan } from './plan-of.js';
import { planText } from './plan-text.js';

type Files = Record<string, string | object>;
type Rule = Record<string, unknown> & { references?: Record<string, Rule>; pieces?: Record<string, Rule> };
interface Plan {
  files: Record<string, Rule>;
  scripts: Record<string, { tables?: Record<string, Rule> } & Record<string, unknown>>;
  calls?: { call: string; means: string }[];
  engine?: { members?: string[]; functions?: string[] };
}

const textOf = (content: string | object): string =>
  typeof content === 'string' ? content : JSON.stringify(content, null, 1);
const learned = (files: Files): LearnedPlan =>
  planOf('Flight', learn(Object.entries(files).map(([path, content]) => ({ path, text: textOf(content) }))));
const plan = (files: Files): Plan => learned(files).plan as unknown as Plan;
const told = (files: Files, text = planText(learned(files))): string[] => {
  const texts = new Map(Object.entries(files).map(([path, content]) => [path, textOf(content)]));
  return analyseTexts(readPlan(text, CHECK_IDS), texts).findings.map(
    ({ check, severity, sentence }) => `${severity} ${check}: ${plain(sentence)}`,
  );
};

const NAMES = ['tender', 'barge', 'punt', 'raft', 'ferry', 'launch', 'dredger', 'skiff'];
const CREWS = ['pilot', 'stoker', 'mate', 'cook', 'bosun', 'diver'];
const capital = (name: string): string => name[0].toUpperCase() + name.slice(1);

describe('from real input it was learned', () => {
  beforeAll(useGrammars);

  describe('that what files as such give', () => {
    const boat = (at: number, crew = CREWS[at % 6]): string =>
      `return { id = "${NAMES[at]}", deck = ${at + 3}, crew = "${crew}", hold = { sacks = ${at} } }\n`;
    const crew = (at: number): string => `return { id = "${CREWS[at]}", wage = ${at + 20}, skill = "s${at % 2}" }\n`;
    const files = (miss = ''): Files => ({
      ...Object.fromEntries(
        NAMES.map((name, at) => [`yard/boats/${name}.lua`, boat(at, at === 2 && miss ? miss : undefined)]),
      ),
      ...Object.fromEntries(CREWS.map((name, at) => [`yard/crews/${name}.lua`, crew(at)])),
      'yard/winch.lua':
        'local Winch = { turns = {} }\nfunction Winch:begin()\n  self.turns.last = 1\nend\nreturn Winch\n',
    });
    it('is of several kinds, by folders, as data files are', () => {
      const { tables = {} } = plan(files()).scripts['lua'];
      expect(Object.values(tables).map(({ files: globs }) => globs)).toEqual(
        jasmine.arrayWithExactContents(
          ['**/boats/**/*.lua', '**/crews/**/*.lua'].map((one) => jasmine.stringContaining(one.split('/')[1])),
        ),
      );
      expect(told(files('stokr')).filter((one) => one.includes('broken/'))).toEqual([
        jasmine.stringMatching(/broken\/missing-object: .* refers to stokr .*; .*/),
      ]);
      expect(told(files()).filter((one) => one.includes('broken/'))).toEqual([]);
    });
    it('is read in those files alone', () => {
      const rules = {
        version: 1,
        name: 'Flight',
        files: {},
        scripts: {
          lua: {
            match: '**/*.lua',
            language: 'lua',
            tables: {
              boats: {
                returned: '',
                files: 'yard/boats/*.lua',
                references: { crew: { at: '$.crew', by: 'path', roots: ['crews'], endings: ['.lua'] } },
              },
            },
          },
        },
      };
      const scripts = {
        'yard/boats/punt.lua': 'return { crew = "gone" }',
        'yard/other.lua': 'return { crew = "gone" }',
      };
      expect(told(scripts, JSON.stringify(rules)).map((one) => one.split(' ')[2])).toEqual(['punt']);
    });
    it('names what stands elsewhere by its keys, and makes none of it known once more', () => {
      const fees = `export const FEES = {\n${NAMES.map((name, at) => `  ${name}: { pence: ${at + 1} },\n`).join('')}};\n`;
      const rules = plan({
        'data/boats.json': { rows: NAMES.map((code, at) => ({ code, length: at + 4 })) },
        'data/tolls.json': { all: NAMES.map((boat, at) => ({ boat, due: at % 3 })) },
        'scripts/fees.ts': fees,
      });
      expect(rules.files['tolls']?.references?.['boat']?.['space']).toBe(
        rules.files['boats']?.pieces?.['rows']?.['space'],
      );
      expect(rules.scripts['ts']?.tables?.['FEES']?.pieces).toBeUndefined();
    });
  });

  describe('that a slip of the pen', () => {
    const stores = `return {\n  rope = { needs = {} },\n  lantern = { needs = {} },\n  anchor = { needs = { "rope" } },\n}\n`;
    const orders = (last: string): Files => ({
      'crew/stores.lua': stores,
      'crew/dusk.orders': `# What is done.\norder fog\ntakes lantern\norder dusk\ntakes ${last}\norder ebb\ntakes lantern\n`,
    });
    it('speaks for what is meant where few texts stand', () =>
      expect(told(orders('lanten'))).toEqual([jasmine.stringContaining('refers to lanten')]));
    it('but another word does not', () => expect(told(orders('umbrella'))).toEqual([]));
  });

  describe('that members', () => {
    const files = (language: 'lua' | 'ts'): Files => ({
      ...Object.fromEntries(
        NAMES.map((name) => [
          `scripts/${name}.ts`,
          `import { Worker } from 'deck';\nexport class ${capital(name)} extends Worker { begin() { this.turn(1); } }\n`,
        ]),
      ),
      ...(language === 'lua'
        ? { 'crew/lamp.lua': 'local Lamp = {}\nfunction Lamp:begin()\n  self.fuel = stores.oyl\nend\nreturn Lamp\n' }
        : { 'scripts/lamp.ts': 'export class Lamp { begin() { this.fuel = stores.oyl; } }\n' }),
    });
    it('are the engine’s in languages alone whose types descend from what it gives', () => {
      expect(plan(files('lua')).engine?.members).toEqual(['turn']);
      expect(plan(files('ts')).engine?.members).toEqual(['fuel', 'oyl', 'turn']);
    });
  });

  describe('that code', () => {
    const horn =
      'function sound_horn(side)\n  bells.ring("horn", side)\nend\nfunction light_beacon(side)\n  bells.ring("beacon", side)\n  wait(1)\nend\n';
    const order = (call: string): string =>
      `# The weather.\norder fog\ndo <<sound_horn("north")>>\norder dusk\ndo <<${call}>>\norder ebb\ndo <<sound_horn("east")>>\n`;
    it('may stand between doubled signs in text of a team’s own, and a slip in it is found', () => {
      const files = { 'crew/horn.lua': horn, 'crew/dusk.orders': order('light_becon("south")') };
      expect(plan(files).files['dusk']?.['embedded']).toEqual({ code: { pattern: '<<(.*?)>>', script: 'lua' } });
      expect(told(files)).toEqual([
        jasmine.stringContaining(
          'broken/missing-call: dusk calls light_becon(), which no script defines; there is light_beacon()',
        ),
      ]);
    });
    it('and in texts of data', () => {
      const talks = {
        talks: NAMES.map((name, at) => ({ id: name, says: `Mind the ${name}! {{sound_horn("s${at}")}}` })),
      };
      const { files } = plan({ 'crew/horn.lua': horn, 'data/talks.json': talks });
      expect(files['talks']?.['embedded']).toEqual({
        says: { at: '$.talks[*].says', pattern: '\\{\\{(.*?)\\}\\}', script: 'lua' },
      });
    });
    it('but names alone between them are places for texts', () => {
      const talks = {
        talks: NAMES.map((name) => ({ id: name, says: `Mind the {{boat}} of ${name} (and {{crew}})!` })),
      };
      expect(plan({ 'crew/horn.lua': horn, 'data/talks.json': talks }).files['talks']?.['embedded']).toBeUndefined();
    });
  });

  describe('that what a call is given', () => {
    const step = (at: number, last: string): string => `function step${at}() {}\nqueue("step${at}", ${last});\n`;
    const files = (last: (at: number) => string): Files =>
      Object.fromEntries(NAMES.map((name, at) => [`scripts/${name}.js`, step(at, last(at))]));
    it('means something else at each place', () => {
      const all = files((at) => `"part${at}"`);
      expect(plan(all).calls).toEqual([jasmine.objectContaining({ call: 'queue($function, ...)', means: 'call' })]);
      expect(told(all).filter((one) => one.includes('missing-call'))).toEqual([]);
      expect(planText(learned(all))).not.toContain('"calls": "queue"');
    });
  });

  describe('that names in code', () => {
    const boats = { 'data/boats.json': { rows: NAMES.map((code, at) => ({ code, length: at })) } };
    const loads = (last: string): Files => ({
      ...boats,
      'scripts/loads.ts': `import { other } from './more';\nexport const LOADS = {\n${NAMES.map((name, at) => `    l${at}: { boat: "${name}", sacks: ${at} },\n`).join('')}    l9: { boat: ${last}, sacks: 9 },\n};\n`,
    });
    const missing = (last: string): string[] => told(loads(last)).filter((one) => one.includes('missing-object'));
    it('may be variables: what they stand for is not known', () => {
      expect(missing('other')).toEqual([]);
      expect(missing('"othr"').length).toBe(1);
    });
  });

  describe('that kinds of files which no plan can tell apart', () => {
    it('are one, and their things are no two sorts', () => {
      const files: Files = {};
      for (let at = 0; at < 24; at++) {
        const isOdd = at % 2 === 1;
        files[`maps/m${at}/marks.json`] = Object.fromEntries(
          NAMES.map((name, own) => [
            `${name}_${own}`,
            isOdd ? { [`x${at}`]: at, boat: name } : { place: [own, at], turn: own },
          ]),
        );
      }
      const rules = Object.values(plan(files).files);
      expect(rules.length).toBe(1);
      expect(new Set(Object.values(rules[0]?.pieces ?? {}).map(({ at }) => at)).size).toBe(
        Object.keys(rules[0]?.pieces ?? {}).length,
      );
      expect(told(files)).toEqual([]);
    });
  });

  describe('that what leads nowhere', () => {
    const many = Array.from({ length: 40 }, (_, at) => `${NAMES[at % 8]}${at}`);
    const sureOf = (other: object): number => {
      const { evidence } = learned({
        'data/boats.json': { rows: many.map((code, at) => ({ code, length: at })) },
        'data/tolls.json': { all: [...many, 'quay-north'].map((boat, at) => ({ boat, due: at % 3 })) },
        'data/other.json': other,
      });
      return evidence.find(({ key }) => key === 'files.tolls.references.boat')?.sure ?? 0;
    };
    it('and is known elsewhere makes a rule too little sure for errors', () => {
      expect(
        sureOf({ quays: ['north', 'south', 'east'].map((name) => ({ id: `pier-${name}`, deep: 3 })) }),
      ).toBeGreaterThan(0.95);
      expect(
        sureOf({ quays: ['north', 'south', 'east'].map((name) => ({ id: `quay-${name}`, deep: 3 })) }),
      ).toBeLessThan(0.95);
    });
  });

  describe('that events', () => {
    const listens = (name: string, at: number): string =>
      `import { bells, pane } from 'deck';\nexport class ${capital(name)} {\n  begin() {\n    bells.hear('${name}.rung', () => {});\n    bells.ring('${name}.rung');\n    pane.child('label${at}').show();\n    pane.child('field${at}').show();\n  }\n}\n`;
    const scripts = (more = ''): Files => ({
      ...Object.fromEntries(NAMES.map((name, at) => [`scripts/${name}.ts`, listens(name, at)])),
      'scripts/more.ts': `import { bells, pane, log, book } from 'deck';\nfunction done() {}\n${more}`,
    });
    const rows = (more?: string): string[] =>
      (plan(scripts(more)).calls ?? []).map(({ call, means }) => `${call} ${means}`);
    const plainly = ['bells.hear($event, $handler) listen', 'bells.ring($event) send'];
    it('are no names that a call shares by chance with one that is given a function', () =>
      expect(
        rows(`pane.ask('label1', done);\npane.child('label1');\n`).filter((one) => /send|listen/.test(one)),
      ).toEqual(jasmine.arrayWithExactContents(plainly)));
    it('are no texts for people, and a function that is given now and then is no handler', () => {
      const warned = NAMES.map((name) => `log.warn('no-${name}');\n`).join('');
      const asked = NAMES.map((name) => `book.ask('All of ${name} there', done);\n`).join('');
      expect(
        rows(`${warned}log.warn('no-boat', 1, 2, done);\n${asked}`).filter((one) => /send|listen/.test(one)),
      ).toEqual(jasmine.arrayWithExactContents(plainly));
    });
    it('are no members of a thing, where one alone is given a function', () =>
      expect(
        rows(
          `deck.yard.ropes.load('a', done);\ndeck.yard.knots.add(done);\ndeck.yard.ropes.take(1);\ndeck.yard.knots.take(1);\n`,
        ).filter((one) => one.includes('yard')),
      ).toEqual([]));
  });

  it('that a rule of which hardly half as much holds as was learned says something else, and breaks nothing', () => {
    const rows = { rows: NAMES.map((code, at) => ({ code, length: at })) };
    const files = { 'data/boats.json': rows, 'data/tolls.json': { all: [...CREWS, 'punt'].map((boat) => ({ boat })) } };
    const text = (leads: number): string =>
      JSON.stringify({
        version: 1,
        name: 'Flight',
        files: {
          boats: {
            match: '**/boats.json',
            as: 'data asset',
            pieces: { rows: { at: '$.rows[*]', kind: 'record', id: '$.code' } },
          },
          tolls: { match: '**/tolls.json', as: 'data asset', references: { boat: { at: '$.all[*].boat', by: 'id' } } },
        },
        learned: { rules: { 'files.tolls.references.boat': { sure: 0.97, of: 10, leads } } },
      });
    expect(told(files, text(9))).toEqual([]);
    expect(told(files, text(2)).length).toBe(6);
  });

  describe('that nobody is named by', () => {
    const uses = (texts: readonly string[]): string =>
      texts.map((text, at) => `yard.add("a${at}", { shows = "${text}" })\n`).join('');
    const named = (files: Files): string[] => {
      const { calls = [], scripts } = plan(files);
      const tables = Object.values(scripts['lua']?.tables ?? {}).flatMap(({ references = {} }) =>
        Object.keys(references),
      );
      return [...calls.map(({ call }) => call), ...tables].filter((one) => /shows/.test(one));
    };
    it('texts for people, which stand under themselves in another language', () => {
      const said = (name: string): string => `A ${name} with a grey sail`;
      const other = (name: string): [string, string] => [said(name), `Un ${name} gris et vieux`];
      expect(
        named({ 'talk/fr.json': Object.fromEntries(NAMES.map(other)), 'scripts/a.lua': uses(NAMES.map(said)) }),
      ).toEqual([]);
      const keys = Object.fromEntries(NAMES.map((name) => [`boat.${name}`, `Un ${name} gris et vieux`]));
      expect(named({ 'talk/fr.json': keys, 'scripts/a.lua': uses(NAMES.map((name) => `boat.${name}`)) })).not.toEqual(
        [],
      );
    });
  });

  describe('that manifests', () => {
    const parcel = (id: string, version: string, needs: unknown): object => ({ parcel: id, version, needs });
    const files = (asked: string, needs: (asked: string) => unknown): Files => ({
      'base.parcel.json': parcel('base', '1.2', needs(asked)),
      'parcels/rivers/rivers.parcel.json': parcel('rivers', '1.4.2', needs('')),
      'parcels/locks/locks.parcel.json': parcel('locks', '2.0', needs('')),
    });
    const listed = (asked: string): unknown =>
      asked
        ? [
            { parcel: 'rivers', version: asked },
            { parcel: 'locks', version: '1.0' },
          ]
        : [];
    const mapped = (asked: string): unknown => (asked ? { rivers: asked, locks: '1.0', base: '1.0' } : {});
    it('are packages with what they need, in which version', () => {
      expect(plan(files('1.0', listed)).files['parcel']).toEqual(
        jasmine.objectContaining({
          as: 'package',
          version: '$.version',
          needs: { at: '$.needs[*]', id: '$.parcel', version: '$.version' },
        }),
      );
      expect(told(files('>=2.0', listed))).toEqual([jasmine.stringContaining('base needs rivers in version >=2.0')]);
      expect(told(files('>=1.0', listed))).toEqual([]);
    });
    it('that say it in a map as well', () =>
      expect(plan(files('1.0', mapped)).files['parcel']?.['needs']).toEqual(
        jasmine.objectContaining({ at: '$.needs.*', id: { key: true }, version: '$' }),
      ));
    it('are none where the files stand beside each other', () => {
      const beside = Object.fromEntries(
        Object.values(files('1.0', listed)).map((one, at) => [`data/p${at}.parcel.json`, one]),
      );
      expect(JSON.stringify(plan(beside).files)).not.toContain('"package"');
    });
  });

  describe('that descent', () => {
    const boats = (like: (at: number) => number): Files => ({
      'data/boats.json': {
        rows: NAMES.map((code, at) => ({ code, length: at, ...(like(at) >= 0 && { like: NAMES[like(at)] }) })),
      },
    });
    const circle = boats((at) => (at < 5 ? -1 : at === 7 ? 5 : at + 1));
    it('that goes in circles is asked about, and the answer is the rule', () => {
      const written = learned(circle);
      const asked = written.evidence.find(({ key }) => key.endsWith('references.like'))!;
      expect(asked.asks).toBeGreaterThan(0);
      const [other] = asked.others!;
      expect(other.key).toBe('files.boats.pieces.rows.extends');
      const text = decide(planText(written), {
        take: [],
        refuse: [asked.key],
        put: [{ key: other.key!, rule: other.rule }],
      });
      expect(readPlan(text, CHECK_IDS).learned.refused).toEqual([asked.key]);
      expect(told(circle, text)).toEqual([jasmine.stringContaining('descends from itself')]);
    });
    it('is not asked about where the field is called as no such thing', () => {
      const rows = NAMES.map((code, at) => ({ code, length: at, rival: NAMES[(at + 1) % 8] }));
      const asked = learned({ 'data/boats.json': { rows } }).evidence.find(({ key }) =>
        key.endsWith('references.rival'),
      );
      expect(asked?.others).toEqual([]);
    });
  });

  it('that paths may be written as URLs have them', () => {
    const files: Files = Object.fromEntries(NAMES.map((name) => [`art/${name} side.svg`, '<svg/>']));
    files['data/boats.json'] = { rows: NAMES.map((name) => ({ code: name, art: `art/${name}%20side.svg` })) };
    expect(plan(files).files['boats']?.references?.['art']).toEqual({ at: '$.rows[*].art', by: 'path', decode: true });
    expect(told(files)).toEqual([]);
  });
});
