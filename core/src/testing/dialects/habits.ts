/**
 * Habits that some teams have and the plain dialects have not: each adds files of its own to a dialect, with the rules by
 * which they are read and some references that lead nowhere.
 */
import type { Chance } from './chance.js';
import { capital, xml, yaml, type Value } from './formats.js';
import { Names } from './world.js';

/** What a habit adds. */
export interface Added {
  files: Record<string, string>;
  rules: Record<string, unknown>;
  scripts?: Record<string, unknown>;
  calls?: Record<string, unknown>[];
  broken: string[];
}

export type Habit = (chance: Chance) => Added;

interface Named {
  id: string;
  name: string;
}

/** Things with names that come once only, and a way to misspell now and then what names them. */
class Makes {
  private readonly names: Names;
  readonly broken: string[] = [];

  constructor(readonly chance: Chance) {
    this.names = new Names(chance);
  }

  things(least: number, most: number): Named[] {
    return Array.from({ length: this.chance.whole(least, most) }, () => {
      const [adjective, noun] = this.names.words();
      return { id: `${adjective}-${noun}`, name: `${capital(adjective)} ${noun}` };
    });
  }

  ref(all: readonly Named[]): string {
    const { id } = this.chance.one(all);
    if (!this.chance.is(0.03)) return id;
    const wrong = `${id.slice(0, -2)}${id.slice(-1)}${id.slice(-2, -1)}`;
    if (wrong === id || this.broken.includes(wrong)) return id;
    this.broken.push(wrong);
    return wrong;
  }
}

/** Lists in one file that name each other's items by their positions. */
const byPosition: Habit = (chance) => {
  const makes = new Makes(chance);
  const [one, many, own] = chance.one([
    ['rope', 'ropes', 'strands'],
    ['sheet', 'sheets', 'leaves'],
    ['plate', 'plates', 'below'],
  ] as const);
  const files: Record<string, string> = {};
  for (const { id } of makes.things(4, 7)) {
    const ropes = makes.things(3, 8);
    const knots = makes.things(6, 14);
    const value = {
      [many]: ropes.map(({ name }) => ({ name, thick: chance.whole(1, 40) / 10 })),
      knots: knots.map(({ name }, at) => ({
        name,
        [one]: chance.whole(0, ropes.length - 1),
        ...(at * 2 + 2 < knots.length && { [own]: [at * 2 + 1, at * 2 + 2] }),
      })),
      first: 0,
    };
    files[`works/${id}.work`] = JSON.stringify(value, null, 2);
  }
  return {
    files,
    broken: makes.broken,
    rules: {
      works: {
        match: 'works/*.work',
        as: 'data asset',
        format: 'json',
        pieces: {
          ropes: { at: `$.${many}[*]`, kind: 'record', named: '$.name' },
          knots: { at: '$.knots[*]', kind: 'record', named: '$.name' },
        },
        references: {
          rope: { at: `$.knots[*].${one}`, by: 'index', of: 'ropes' },
          own: { at: `$.knots[*].${own}[*]`, by: 'index', of: 'knots' },
        },
      },
    },
  };
};

/** Records that are derived from others of their kind. */
const derived: Habit = (chance) => {
  const makes = new Makes(chance);
  const all = makes.things(12, 24);
  const key = chance.one(['extends', 'base', 'inherits', 'like', 'template']);
  const rows = all.map(({ id, name }, at) => ({
    id,
    name,
    ...(at > 2 && chance.is(0.7) && { [key]: makes.ref(all.slice(0, Math.max(3, at >> 1))) }),
    ...(chance.is(0.7) && { draught: chance.whole(1, 30) / 10 }),
    ...(chance.is(0.7) && { colour: chance.one(['red', 'grey', 'blue']) }),
  }));
  const written = chance.is(0.5);
  return {
    files: {
      [written ? 'data/hulls.json' : 'data/hulls.yaml']: written ? JSON.stringify({ rows }, null, 2) : yaml({ rows }),
    },
    broken: makes.broken,
    rules: {
      hulls: {
        match: written ? 'data/hulls.json' : 'data/hulls.yaml',
        as: 'data asset',
        pieces: {
          hulls: {
            at: '$.rows[*]',
            kind: 'record',
            id: '$.id',
            named: '$.name',
            space: 'hulls',
            extends: { field: `$.${key}`, by: 'id', space: 'hulls' },
          },
        },
      },
    },
  };
};

/** Files that are all called the same and known by their folders. */
const byFolder: Habit = (chance) => {
  const makes = new Makes(chance);
  const all = makes.things(8, 14);
  const [folder, file, key] = chance.one([
    ['regions', 'region', 'near'],
    ['packs', 'pack', 'needs'],
    ['towns', 'town', 'sells to'],
  ] as const);
  const isXml = chance.is(0.4);
  const files: Record<string, string> = {};
  for (const { id, name } of all) {
    const near = Array.from({ length: chance.whole(1, 3) }, () => makes.ref(all.filter((one) => one.id !== id)));
    const value: { [key: string]: Value } = { title: name, size: chance.whole(1, 90), order: chance.whole(1, 9) };
    const tag = key.replace(' ', '_');
    files[`${folder}/${id}/${file}.${isXml ? 'xml' : 'json'}`] = isXml
      ? xml(file, { ...value, [tag]: near.map((of) => ({ of })) }, false)
      : JSON.stringify({ ...value, [tag]: near }, null, 2);
  }
  const tag = key.replace(' ', '_');
  return {
    files,
    broken: makes.broken,
    rules: {
      [folder]: {
        match: `${folder}/*/${file}.*`,
        as: 'data asset',
        id: { file: 'path', pattern: '([^/]+)/[^/]+$' },
        space: folder,
        references: { near: { at: isXml ? `$.${file}[0].${tag}[*].of` : `$.${tag}[*]`, by: 'id', space: folder } },
      },
    },
  };
};

/** What a field names depends on the word beside it. */
const byKind: Habit = (chance) => {
  const makes = new Makes(chance);
  const sorts = chance.some(['bell', 'sail', 'anchor', 'plank'], 3);
  const tables = Object.fromEntries(sorts.map((sort) => [sort, makes.things(5, 9)]));
  const [kind, what] = chance.one([
    ['kind', 'what'],
    ['sort', 'which'],
    ['is', 'of'],
  ] as const);
  const gifts = makes.things(14, 24).map(({ id, name }) => ({
    id,
    name,
    gives: Array.from({ length: chance.whole(1, 3) }, () => {
      const sort = chance.one(sorts);
      return { [kind]: sort, [what]: makes.ref(tables[sort] ?? []), count: chance.whole(1, 5) };
    }),
  }));
  return {
    files: {
      'data/yard.json': JSON.stringify(Object.fromEntries(sorts.map((sort) => [`${sort}s`, tables[sort]])), null, 2),
      'data/gifts.yaml': yaml({ gifts }),
    },
    broken: makes.broken,
    rules: {
      yard: {
        match: 'data/yard.json',
        as: 'data asset',
        pieces: Object.fromEntries(
          sorts.map((sort) => [
            sort,
            { at: `$.${sort}s[*]`, kind: 'record', id: '$.id', named: '$.name', space: sort },
          ]),
        ),
      },
      gifts: {
        match: 'data/gifts.yaml',
        as: 'data asset',
        pieces: { gifts: { at: '$.gifts[*]', kind: 'record', id: '$.id', named: '$.name', space: 'gifts' } },
        references: Object.fromEntries(
          sorts.map((sort) => [
            sort,
            {
              at: `$.gifts[*].gives[?@.${kind} == '${sort}'].${what}`,
              by: 'id',
              space: sort,
            },
          ]),
        ),
      },
    },
  };
};

/** Talks whose lines are known within their file alone. */
const talks: Habit = (chance) => {
  const makes = new Makes(chance);
  const [next, say] = chance.one([
    ['next', 'says'],
    ['goto', 'text'],
    ['then', 'line'],
  ] as const);
  const files: Record<string, string> = {};
  const steps = ['start', 'greet', 'ask', 'tell', 'end', 'offer', 'refuse', 'thank'];
  for (const { id } of makes.things(6, 10)) {
    const own = steps.slice(0, chance.whole(4, 8)).map((name) => ({ id: name, name }));
    const value = {
      lines: own.map(({ id: line }, at) => ({
        id: line,
        [say]: `The ${line} of the keeper is short, and holds well.`,
        ...(at + 1 < own.length && {
          answers: Array.from({ length: chance.whole(1, 3) }, () => ({
            [say]: 'Yes, I will.',
            [next]: makes.ref(own),
          })),
        }),
      })),
    };
    files[`talks/${id}.json`] = JSON.stringify(value, null, 2);
  }
  return {
    files,
    broken: makes.broken,
    rules: {
      talks: {
        match: 'talks/*.json',
        as: 'data asset',
        pieces: { lines: { at: '$.lines[*]', kind: 'record', id: '$.id', named: '$.id', space: 'lines' } },
        references: { next: { at: `$.lines[*].answers[*].${next}`, by: 'id', space: 'lines', within: 'file' } },
      },
    },
  };
};

/** Texts of the screen by keys, in several languages. */
const texts: Habit = (chance) => {
  const makes = new Makes(chance);
  const all = makes.things(14, 26);
  const sign = chance.one(['.', '_', '/']);
  const keys = all.map(({ id }) => ({ id: `${chance.one(['menu', 'hint', 'title'])}${sign}${id}`, name: id }));
  const mark = chance.one(['', '', '@', 'text:']);
  const in2 = (language: string): string =>
    JSON.stringify(
      Object.fromEntries(keys.map(({ id, name }) => [id, `${language} ${name.replace('-', ' ')} of the reach`])),
      null,
      2,
    );
  const screens = makes.things(8, 12).map(({ id, name }) => ({
    id,
    name,
    shows: Array.from({ length: chance.whole(1, 4) }, () => mark + makes.ref(keys)),
    hint: mark + makes.ref(keys),
  }));
  const target = { by: 'id', space: 'texts', ...(mark && { pattern: `^${mark}(.+)$` }) };
  return {
    files: {
      'texts/en.json': in2('The'),
      'texts/de.json': in2('Das'),
      'data/screens.json': JSON.stringify({ screens }, null, 2),
    },
    broken: makes.broken,
    rules: {
      texts: {
        match: 'texts/*.json',
        as: 'data asset',
        pieces: { texts: { at: '$.*', kind: 'text', id: { key: true }, space: 'texts' } },
      },
      screens: {
        match: 'data/screens.json',
        as: 'data asset',
        pieces: { screens: { at: '$.screens[*]', kind: 'record', id: '$.id', named: '$.name', space: 'screens' } },
        references: {
          shows: { at: '$.screens[*].shows[*]', ...target },
          hint: { at: '$.screens[*].hint', ...target },
        },
      },
    },
  };
};

/** Functions that data names. */
const namedFunctions: Habit = (chance) => {
  const makes = new Makes(chance);
  const key = chance.one(['run', 'action', 'calls', 'script']);
  const isSnake = chance.is(0.5);
  const functions = makes.things(8, 14).map(({ id, name }) => {
    const [one = '', other = ''] = id.split('-');
    return { id: isSnake ? `${one}_${other}` : `${one}${capital(other)}`, name };
  });
  const buttons = makes
    .things(12, 20)
    .map(({ id, name }) => ({ id, name, [key]: makes.ref(functions), size: chance.whole(1, 5) }));
  const python = chance.is(0.5);
  const code = functions
    .map(({ id }) =>
      python ? `def ${id}():\n    desk.show("${id.length}")\n` : `function ${id}()\n  desk.show("${id.length}")\nend\n`,
    )
    .join('\n');
  return {
    files: {
      [`scripts/desk.${python ? 'py' : 'lua'}`]: code,
      'data/buttons.json': JSON.stringify({ buttons }, null, 2),
    },
    broken: makes.broken,
    rules: {
      buttons: {
        match: 'data/buttons.json',
        as: 'data asset',
        pieces: { buttons: { at: '$.buttons[*]', kind: 'record', id: '$.id', named: '$.name', space: 'buttons' } },
        references: { run: { at: `$.buttons[*].${key}`, by: 'function', in: 'project' } },
      },
    },
    scripts: { desk: { match: `scripts/desk.${python ? 'py' : 'lua'}`, language: python ? 'python' : 'lua' } },
  };
};

/** Code of the engine's language inside data. */
const codeInData: Habit = (chance) => {
  const makes = new Makes(chance);
  const goods = makes.things(10, 18);
  const [give, lose] = chance.one([
    ['give', 'take'],
    ['grant', 'charge'],
    ['addTo', 'dropFrom'],
  ] as const);
  const tasks = makes.things(10, 16).map(({ id, name }) => ({
    id,
    name,
    when: `if ${lose}("${makes.ref(goods)}", ${chance.whole(1, 4)}) then\n  ${give}("${makes.ref(goods)}")\n  say("The clerk nods.")\nend`,
    reward: chance.whole(1, 40),
  }));
  return {
    files: {
      'data/goods.json': JSON.stringify(
        { goods: goods.map((one) => ({ ...one, weight: chance.whole(1, 40) })) },
        null,
        2,
      ),
      'data/tasks.json': JSON.stringify({ tasks }, null, 2),
    },
    broken: makes.broken,
    rules: {
      goods: {
        match: 'data/goods.json',
        as: 'data asset',
        pieces: { goods: { at: '$.goods[*]', kind: 'record', id: '$.id', named: '$.name', space: 'goods' } },
      },
      tasks: {
        match: 'data/tasks.json',
        as: 'data asset',
        pieces: { tasks: { at: '$.tasks[*]', kind: 'record', id: '$.id', named: '$.name', space: 'tasks' } },
        embedded: { when: { at: '$.tasks[*].when', script: 'inside' } },
      },
    },
    scripts: { inside: { match: 'none/*.lua', language: 'lua' } },
    calls: [give, lose].map((call) => ({
      call: `${call}($id, ...)`,
      means: 'refer',
      target: { by: 'id', space: 'goods' },
    })),
  };
};

/** Orders written in lines of the team's own, a block for each. */
const ownBlocks: Habit = (chance) => {
  const makes = new Makes(chance);
  const wares = makes.things(10, 18);
  const [head, takes, after] = chance.one([
    ['order', 'takes', 'after'],
    ['task', 'needs', 'follows'],
    ['recipe', 'use', 'from'],
  ] as const);
  const orders = makes.things(10, 18);
  const text = orders
    .map(({ id }, at) =>
      [
        `${head} ${id}`,
        ...Array.from({ length: chance.whole(1, 3) }, () => `  ${takes} ${makes.ref(wares)} ${chance.whole(1, 9)}`),
        ...(at > 1 && chance.is(0.5) ? [`  ${after} ${makes.ref(orders.slice(0, at))}`] : []),
        '',
      ].join('\n'),
    )
    .join('\n');
  return {
    files: {
      'data/wares.json': JSON.stringify(
        { wares: wares.map((one) => ({ ...one, weight: chance.whole(1, 40) })) },
        null,
        2,
      ),
      'data/all.orders': `# What is done, and from what.\n${text}`,
    },
    broken: makes.broken,
    rules: {
      wares: {
        match: 'data/wares.json',
        as: 'data asset',
        pieces: { wares: { at: '$.wares[*]', kind: 'record', id: '$.id', named: '$.name', space: 'wares' } },
      },
      doings: {
        match: 'data/*.orders',
        as: 'data asset',
        format: 'lines',
        lines: {
          skip: '^#',
          kinds: {
            order: { pattern: `^${head} (?<id>\\S+)$`, holds: true },
            takes: { pattern: `^  ${takes} (?<ware>\\S+) (?<count>\\d+)$` },
            after: { pattern: `^  ${after} (?<order>\\S+)$` },
          },
        },
        pieces: { orders: { at: '$.order[*]', kind: 'record', id: '$.id', named: '$.id', space: 'doings' } },
        references: {
          takes: { at: '$.order[*].takes[*].ware', by: 'id', space: 'wares' },
          after: { at: '$.order[*].after[*].order', by: 'id', space: 'doings' },
        },
      },
    },
  };
};

/** Code in blocks between the lines of a team's own text, or inside the elements of XML. */
const codeInBlocks: Habit = (chance) => {
  const makes = new Makes(chance);
  const piers = makes.things(14, 24);
  const go = chance.one(['sailTo', 'moorAt', 'row_to']);
  const isXml = chance.is(0.5);
  const deeds = makes.things(12, 18).map(({ name }) => {
    const code = `  if bell.isRung("${chance.one(['once', 'twice'])}") then\n    ${go}("${makes.ref(piers)}")\n  end\n`;
    return { name, at: makes.ref(piers), code };
  });
  const own = deeds
    .map(({ name, at, code }) => `== deed ==\nCalled="${name}"\nPier="${at}"\nOnce=1\n<Deed>\n${code}</Deed>\n\n`)
    .join('');
  const elements = deeds
    .map(({ name, at, code }) => `  <deed called="${name}" pier="${at}">\n    <does>\n${code}    </does>\n  </deed>\n`)
    .join('');
  const file = `data/all-deeds.${isXml ? 'xml' : 'deeds'}`;
  const at = isXml ? '$.deeds[0].deed[*]' : '$.deed[*]';
  return {
    files: {
      'data/piers.json': JSON.stringify(
        { piers: piers.map((one) => ({ ...one, depth: chance.whole(1, 40) })) },
        null,
        2,
      ),
      [file]: isXml ? `<deeds>\n${elements}</deeds>\n` : own,
    },
    broken: makes.broken,
    rules: {
      piers: {
        match: 'data/piers.json',
        as: 'data asset',
        pieces: { piers: { at: '$.piers[*]', kind: 'record', id: '$.id', named: '$.name', space: 'piers' } },
      },
      deeds: {
        match: file,
        as: 'data asset',
        ...(!isXml && {
          format: 'lines',
          lines: {
            kinds: {
              deed: { pattern: '^Called="(?<called>[^"]*)"$', holds: true },
              pairs: { pattern: '^(?<key>Pier|Once)="?(?<value>[^"]*?)"?$' },
            },
          },
        }),
        references: { pier: { at: `${at}.${isXml ? 'pier' : 'Pier'}`, by: 'id', space: 'piers' } },
        embedded: {
          does: isXml
            ? { at: `${at}.does[*]['#text']`, script: 'deeds' }
            : { pattern: '<Deed>([^]*?)</Deed>', script: 'deeds' },
        },
      },
    },
    scripts: { deeds: { match: 'none/*.lua', language: 'lua' } },
    calls: [{ call: `${go}($id)`, means: 'refer', target: { by: 'id', space: 'piers' } }],
  };
};

/** What there is, made known by calls in code, each with a table that describes it. */
const madeKnown: Habit = (chance) => {
  const makes = new Makes(chance);
  const [deck, make] = chance.one([
    ['deck', 'register_ware'],
    ['yard', 'defineWare'],
    ['harbour', 'addWare'],
  ] as const);
  const sign = chance.one([':', '.', '/']);
  const wares = makes.things(14, 26).map(({ id, name }) => ({ id: `hold${sign}${id}`, name }));
  const known = wares
    .map(
      ({ id, name }) =>
        `${deck}.${make}("${id}", {\n  title = "${name}",\n  weight = ${chance.whole(1, 60)},\n  on_lift = function() end,\n})\n`,
    )
    .join('');
  const [give, has] = chance.one([
    ['give', 'holds'],
    ['put', 'hasOf'],
  ] as const);
  const used = Array.from(
    { length: 20 },
    (_, at) =>
      `function step${at}()\n  if ship.${has}("${makes.ref(wares)}") then\n    ship.${give}("${makes.ref(wares)}", ${chance.whole(1, 9)})\n  end\nend\n`,
  ).join('');
  const chests = makes
    .things(8, 14)
    .map(({ id, name }) => ({ id, name, ware: makes.ref(wares), many: chance.whole(1, 9) }));
  const target = { by: 'id', space: 'known wares' };
  return {
    files: {
      'hold/wares.lua': known,
      'hold/steps.lua': used,
      'data/chests.json': JSON.stringify({ chests }, null, 2),
    },
    broken: makes.broken,
    rules: {
      chests: {
        match: 'data/chests.json',
        as: 'data asset',
        pieces: { chests: { at: '$.chests[*]', kind: 'record', id: '$.id', named: '$.name', space: 'chests' } },
        references: { ware: { at: '$.chests[*].ware', ...target } },
      },
    },
    scripts: { hold: { match: 'hold/*.lua', language: 'lua' } },
    calls: [
      { call: `${deck}.${make}($id, ...)`, means: 'declare', space: 'known wares' },
      ...[give, has].map((call) => ({ call: `ship.${call}($id, ...)`, means: 'refer', target })),
    ],
  };
};

/** Lists of things that say what they are, over several files; some are called like things of another sort. */
const bySort: Habit = (chance) => {
  const makes = new Makes(chance);
  const says = chance.one(['type', 'kind', 'class']);
  const berths = makes.things(12, 18);
  const masts = makes.things(12, 18);
  // A gang is called like the berth it works at.
  const gangs = chance.is(0.5) ? berths : makes.things(12, 18);
  const things: Record<string, Value>[] = [
    ...berths.map(({ id, name }) => ({ [says]: 'berth', id, name, deep: chance.whole(2, 9) })),
    ...masts.map(({ id }) => ({
      [says]: 'mast',
      id,
      berth: makes.ref(berths),
      height: chance.whole(9, 40),
      rig: 'gaff',
    })),
    ...gangs.map(({ id }) => ({ [says]: 'gang', id, foreman: chance.one(['Ada', 'Ben']), lifts: [makes.ref(masts)] })),
    ...makes
      .things(14, 20)
      .map(({ id }) => ({ [says]: 'order', code: id, gang: makes.ref(gangs), day: chance.whole(1, 90) })),
  ];
  const files: Record<string, string> = {};
  const size = chance.whole(6, 9);
  for (let at = 0; at < things.length; at += size)
    files[`yard/${at % 3 ? 'outer' : 'inner'}/part${at}.json`] = JSON.stringify(things.slice(at, at + size), null, 2);
  const of = (sort: string): string => `$[?@.${says} == "${sort}"]`;
  const piece = (sort: string, id = '$.id'): object => ({ at: of(sort), kind: 'record', id, space: `${sort}s` });
  return {
    files,
    broken: makes.broken,
    rules: {
      yard: {
        match: 'yard/**/*.json',
        as: 'data asset',
        pieces: {
          berths: piece('berth'),
          masts: piece('mast'),
          gangs: piece('gang'),
          orders: piece('order', '$.code'),
        },
        references: {
          berth: { at: `${of('mast')}.berth`, by: 'id', space: 'berths' },
          lifts: { at: `${of('gang')}.lifts[*]`, by: 'id', space: 'masts' },
          gang: { at: `${of('order')}.gang`, by: 'id', space: 'gangs' },
        },
      },
    },
  };
};

/** By name, as the bench tells of them. */
export const HABITS: Record<string, Habit> = {
  'positions in lists': byPosition,
  'derived records': derived,
  'known by the folder': byFolder,
  'a kind beside it': byKind,
  'talks, by file': talks,
  'keys of texts': texts,
  'functions that data names': namedFunctions,
  'code in data': codeInData,
  'code in blocks': codeInBlocks,
  'blocks of own lines': ownBlocks,
  'made known in code': madeKnown,
  'lists of sorts': bySort,
};
