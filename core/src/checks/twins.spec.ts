/** Checks on what is written again. */
import { plain } from '../model/finding.js';
import {
  carrier,
  scan,
  scanAfter,
  scanWith,
  scene,
  script,
  told,
  useGrammars,
  type Files,
} from '../testing/project.js';

const found = (check: string, files: Files, changes: object = {}): string[] => told(scan(files, changes), check);

const RULE = `const bank = this.depth - this.draught * 2;
    if (bank < 0) { this.hull -= 12; this.lean(bank + 3); }
    while (this.hull > 90) { this.hull -= bank * 2; }
    return this.hull + bank - 4;`;

const FEW = `const boat = stage.first(this.kind, 3); if (boat === null) return boat;
  this.tell(boat.name, 7); this.note(boat, this.kind);`;

describe('twin/copied-code', () => {
  beforeAll(useGrammars);
  const check = 'twin/copied-code';
  const pair = (other: string, changes: object = {}, file = 'scripts/gauge.ts'): string[] =>
    found(
      check,
      {
        'scripts/lock.ts': `export class Lock { settle() { ${RULE} } }`,
        [file]: `export class Gauge { weigh() { ${other} } }`,
      },
      changes,
    );

  it('fires on a copy to the letter, whatever its white space and comments', () => {
    expect(pair(RULE.replace('return', '// how deep\n      return'))).toEqual([
      'Gauge.weigh() and Lock.settle() are the same to the letter @ scripts/gauge.ts:1',
    ]);
  });
  it('fires on other values and on other names, and says what becomes a field', () => {
    expect(pair(RULE.replace('12', '30'))[0]).toContain('are the same with other values');
    const { repairs } = scan({
      'scripts/lock.ts': `export class Lock { settle() { ${RULE} } }`,
      'scripts/gauge.ts': `export class Gauge { weigh() { ${RULE.replace('12', '30')} } }`,
    }).findings.find((finding) => finding.check === check)!;
    expect(repairs[0].words).toContain('30 | 12');
    expect(pair(RULE.replace(/bank/g, 'quay').replace(/hull/g, 'side'))[0]).toContain('are the same with other names');
  });
  it('fires on a statement added or taken out, and counts them', () => {
    expect(pair(RULE.replace('return', 'this.creak();\n    return'))[0]).toContain(
      'with statements added or taken out, 1 of them',
    );
  });
  it('is silent on rows of calls that everybody makes with other words, and fires when the words are the same', () => {
    const says = (words: string[]): string => words.map((word) => `npc.says('${word}', 1);`).join(' ');
    const talk = (name: string): string =>
      `export class ${name} { ${Array.from({ length: 60 }, (_, at) => `t${at}() { ${says([`${name}${at}`, `b${at}${name}`, `c${at}${name}`, `d${at}${name}`])} }`).join(' ')} }`;
    const words = Array.from({ length: 9 }, (_, at) => `word ${at}`);
    const files = (other: string[]): Files => ({
      'scripts/a.ts': talk('Dixon'),
      'scripts/b.ts': talk('Butch'),
      'scripts/c.ts': `export class Tania { greet() { ${says(words)} this.push('Tania'); } }`,
      'scripts/d.ts': `export class Ewald { greet() { ${says(other)} hide(3); ${says(['last'])} } }`,
    });
    const own = (other: string[]): string[] => found(check, files(other)).filter((one) => one.includes('greet'));
    expect(own(words.map((word) => `other ${word}`))).toEqual([]);
    expect(own(words).length).toBe(1);
  });
  it('fires inside one file, on part of longer functions', () => {
    const files = {
      'scripts/lock.ts': `export class Lock {
        settle() { this.open(); ${RULE} }
        drain() { for (const one of this.gates) one.close(this, 3, one.depth); ${RULE} }
      }`,
    };
    expect(found(check, files)[0]).toContain('Parts of Lock.settle() and Lock.drain() are the same to the letter');
  });

  /** The copies as they were committed, one state after the other. */
  const over = (...states: [lock: string, gauge?: string][]): string[] => {
    const commits = states.map(([lock, gauge], at) => ({
      subject: `Step ${at + 1}`,
      files: {
        'scripts/lock.ts': `export class Lock { settle() { ${lock} } }`,
        ...(gauge && { 'scripts/gauge.ts': `export class Gauge { weigh() { ${gauge} } }` }),
      },
    }));
    return told(scanAfter(commits), check);
  };
  const MENDED = RULE.replace('return', 'if (bank > 9) this.creak(bank);\n    return');

  it('fires as a warning where one copy was mended and the other was not, and names the commit', () => {
    expect(over([RULE, RULE], [MENDED, RULE])).toEqual([
      'Gauge.weigh() and Lock.settle() are the same with statements added or taken out, 2 of them; Lock.settle() was changed on 2026-03-02 (“Step 2”), and the other not @ scripts/gauge.ts:1',
    ]);
    expect(over([MENDED, MENDED], [MENDED, RULE])[0]).toContain('Gauge.weigh() was changed on 2026-03-02');
    const files = { 'scripts/lock.ts': `export class Lock { settle() { ${MENDED} } }` };
    const start = {
      'scripts/lock.ts': `export class Lock { settle() { ${RULE} } }`,
      'scripts/gauge.ts': `export class Gauge { weigh() { ${RULE} } }`,
    };
    const [finding] = scanAfter([{ subject: 'Both', files: start }], files).findings.filter(
      (one) => one.check === check,
    );
    expect(finding.severity).toBe('warning');
    expect(plain(finding.sentence)).toContain('Lock.settle() was changed since the last commit, and the other not');
  });
  it('says nothing of the time before when both came as they are, or were changed alike', () => {
    const apart =
      'Gauge.weigh() and Lock.settle() are the same with statements added or taken out, 2 of them @ scripts/gauge.ts:1';
    expect(over([MENDED, RULE])).toEqual([apart]);
    expect(over([MENDED], [MENDED, RULE])).toEqual([apart]);
    expect(over([RULE, RULE], [MENDED, MENDED])).toEqual([
      'Gauge.weigh() and Lock.settle() are the same to the letter @ scripts/gauge.ts:1',
    ]);
  });

  const silent: [string, () => string[]][] = [
    ['names stand for one another in no order', () => pair(scrambled(RULE))],
    [
      'the code does something else',
      () => pair('for (const gate of this.gates) gate.open(this.depth * 3 - gate.draught); return this.gates;'),
    ],
    [
      'it is a few lines of longer functions',
      () =>
        found(check, {
          'scripts/a.ts': `export class A { settle() { ${FEW} while (this.mud > 4) { this.mud -= this.dredge(3); this.rest(); } for (const one of this.gates) one.shut(this.hull, one.depth * 2); } }`,
          'scripts/b.ts': `export class B { weigh() { for (const one of this.all.sorted()) { if (one.isOld) one.mend(this.by - 3, one); else this.pass(one, one.kind); } ${FEW} } }`,
        }),
    ],
    ['it is a row of values taken over', () => found(check, takenOver())],
    [
      'it is short',
      () =>
        found(check, {
          'scripts/a.ts': 'export class A { f() { this.a(1); this.b(2); } }',
          'scripts/b.ts': 'export class B { f() { this.a(1); this.b(2); } }',
        }),
    ],
    [
      'the plan says that copies are fine there',
      () =>
        pair(
          RULE,
          {
            house: { copiesFine: 'scripts/made/**' },
            scripts: { ts: { match: 'scripts/**/*.ts', language: 'typescript' } },
          },
          'scripts/made/gauge.ts',
        ),
    ],
    [
      'an interface is implemented twice',
      () =>
        found(check, {
          'scripts/a.ts': 'export interface Bell { ring(): void; still(): void; sway(): void; code(): string }',
          'scripts/b.ts':
            'export class Deep { ring() { this.pull(3); } still() {} } export class High { ring() { this.tap(); } still() {} }',
        }),
    ],
  ];
  for (const [when, run] of silent) it(`is silent when ${when}`, () => expect(run()).toEqual([]));

  it('fires on those few lines when they are all there is', () => {
    const files = {
      'scripts/a.ts': `export class A { settle() { ${FEW} } }`,
      'scripts/b.ts': `export class B { weigh() { ${FEW} } }`,
    };
    expect(found(check, files).length).toBe(1);
  });

  /** The same shape, with another name at each place. */
  function scrambled(code: string): string {
    const names = ['bank', 'depth', 'draught', 'hull', 'lean'];
    let at = 0;
    return code.replace(/\b(?:bank|depth|draught|hull|lean)\b/g, () => names[(at++ * 3 + (at % 2)) % names.length]);
  }

  function takenOver(): Files {
    const body = (names: string[]): string => names.map((name) => `this.${name} = ${name};`).join(' ');
    return {
      'scripts/a.ts': `export class A { constructor(a, b, c, d, e) { ${body(['a', 'b', 'c', 'd', 'e'])} } }`,
      'scripts/b.ts': `export class B { constructor(p, q, r, s, t) { ${body(['p', 'q', 'r', 's', 't'])} } }`,
    };
  }
});

describe('twin/sibling-rule', () => {
  beforeAll(useGrammars);
  const check = 'twin/sibling-rule';
  const scrape = (cost: number, extra = ''): string =>
    `onScrape(bank) { this.hull -= ${cost}; ${extra} if (this.hull < 0) bells.ring('boat.sunk', this); }`;
  const fleet = (tender: string, barge: string, dredger = '', vessel = ''): Files => ({
    'scripts/vessel.ts': `export class Vessel { hull = 100; ${vessel} }`,
    'scripts/tender.ts': `export class Tender extends Vessel { ${tender} }`,
    'scripts/barge.ts': `export class Barge extends Vessel { ${barge} }`,
    'scripts/dredger.ts': `export class Dredger extends Vessel { ${dredger} }`,
  });

  it('fires once for all brothers that hold a rule, and lists the values that differ', () => {
    const analysis = scan(fleet(scrape(12), scrape(7), scrape(30)));
    expect(told(analysis, check)).toEqual([
      'Tender, Barge and Dredger hold the same rule onScrape(), below Vessel; one value differs @ scripts/tender.ts:1',
    ]);
    const [{ words }] = analysis.findings.find((finding) => finding.check === check)!.repairs;
    expect(words).toContain('12 | 7 | 30');
    expect(told(analysis, 'twin/copied-code')).toEqual([]);
  });
  it('fires once for two rules that the same brothers hold, and names both', () => {
    const leave = "onLeave(map) { if (map.holds(this)) return; this.rest(); bells.ring('boat.left', this); }";
    expect(found(check, fleet(`${leave} ${scrape(12)}`, `${leave} ${scrape(7)}`))).toEqual([
      'Tender and Barge hold the same rules onLeave() and onScrape(), below Vessel; one value differs @ scripts/tender.ts:1',
    ]);
  });
  it('is silent when the rule stands in the parent, when one of them differs, and on another function', () => {
    expect(found(check, fleet('', '', '', scrape(12)))).toEqual([]);
    expect(found(check, fleet(scrape(12), scrape(7, 'this.lean();')))).toEqual([]);
    expect(found(check, fleet(scrape(12), scrape(7).replace('onScrape', 'onBump')))).toEqual([]);
  });
  it('is silent on functions of one name inside the functions of one type', () => {
    const inner = (of: string): string =>
      `${of}() { function onScrape(bank, hull) { hull.less(12); if (bank < 0) bells.ring('boat.sunk', hull); } this.each(onScrape); }`;
    expect(found(check, fleet(`${inner('load')} ${inner('land')}`, 'steer() {}'))).toEqual([]);
    expect(found(check, fleet(scrape(12), scrape(7), `${inner('load')} ${inner('land')}`))[0]).toContain(
      'Tender and Barge hold the same rule onScrape()',
    );
  });
  it('is silent when each calls through, and on types without a parent in common', () => {
    const calls = 'onScrape(bank) { super.onScrape(bank); this.hull -= 3; if (this.hull < 0) this.sink(); }';
    expect(found(check, fleet(calls, calls, '', scrape(1)))).toEqual([]);
    const strangers = {
      'scripts/a.ts': `export class A { ${scrape(3)} }`,
      'scripts/b.ts': `export class B { ${scrape(4)} }`,
    };
    expect(found(check, strangers)).toEqual([]);
  });
});

describe('twin/double-attach', () => {
  beforeAll(useGrammars);
  const check = 'twin/double-attach';
  const part = { script: 'scripts/bell.ts' };
  const bell = (object: object, code = "bells.hear('noon', this.ring);"): string[] =>
    found(check, { 'scripts/bell.ts': script('Bell', code, 'ring() {}'), 'scenes/a.json': scene(object) });

  it('fires on a script attached twice to one object', () => {
    expect(bell({ name: 'Tower', parts: [part, part] })).toEqual(['a / Tower runs Bell twice @ scenes/a.json:7']);
  });
  it('fires on a child that answers the same event', () => {
    expect(bell({ name: 'Tower', parts: [part], objects: [{ name: 'Top', parts: [part] }] })[0]).toContain(
      'a / Tower and a / Tower / Top inside it both run Bell',
    );
  });
  it('is silent on brothers, on a child of one that listens to nothing, and on built-in parts', () => {
    expect(
      bell({
        name: 'Tower',
        objects: [
          { name: 'A', parts: [part] },
          { name: 'B', parts: [part] },
        ],
      }),
    ).toEqual([]);
    expect(bell({ name: 'Tower', parts: [part], objects: [{ name: 'Top', parts: [part] }] }, '')).toEqual([]);
    expect(bell({ name: 'Tower', parts: [part, { type: 'Body' }, { type: 'Body' }] })).toEqual([]);
  });
});

describe('twin/name-clash', () => {
  beforeAll(useGrammars);
  const check = 'twin/name-clash';
  const FILES = {
    packs: { match: '**/pack.json', as: 'package', id: '$.id' },
    hints: {
      match: '**/hints.json',
      as: 'data asset',
      pieces: { hints: { at: '$[*]', kind: 'record', id: '$.code', named: '$.name' } },
    },
  };
  const packs = (one: object, other: object, more: Files = {}): string[] =>
    told(
      scanWith(
        {
          'mods/base/pack.json': { id: 'base' },
          'mods/more/pack.json': { id: 'more' },
          'mods/base/hints.json': [one],
          'mods/more/hints.json': [other],
          ...more,
        },
        { files: FILES, scripts: { ts: { match: '**/*.ts', language: 'typescript' } } },
      ),
      check,
    );

  it('fires on one hint code in two packages', () => {
    expect(packs({ code: 'h1', name: 'Ropes' }, { code: 'h1', name: 'Tides' })).toEqual([
      'The packages base and more both define the identity h1, for Ropes and Tides @ mods/base/hints.json:4',
    ]);
  });
  it('fires on one script name in two packages', () => {
    const code = { 'mods/base/bell.ts': 'export class Bell {}', 'mods/more/bell.ts': 'export class Bell {}' };
    expect(packs({ code: 'a' }, { code: 'b' }, code)[0]).toContain('both define the type Bell');
  });
  it('tells packages once that share many names', () => {
    const hints = (count: number): string =>
      JSON.stringify(Array.from({ length: count }, (_, at) => ({ code: `h${at}`, name: `Hint ${at}` })));
    const told = (count: number): string[] =>
      scanWith(
        {
          'mods/base/pack.json': { id: 'base' },
          'mods/more/pack.json': { id: 'more' },
          'mods/base/hints.json': hints(count),
          'mods/more/hints.json': hints(count),
        },
        { files: FILES },
      )
        .findings.filter((one) => one.check === check)
        .map(({ severity, sentence, places }) => `${severity} ${places} ${plain(sentence)}`);
    expect(told(3).length).toBe(3);
    expect(told(4)).toEqual(['note 8 The packages base and more share 4 names, h0 among them']);
  });
  it('is silent on different codes, and inside one package', () => {
    expect(packs({ code: 'h1' }, { code: 'h2' })).toEqual([]);
    const code = { 'mods/base/bell.ts': 'export class Bell {}', 'mods/base/deep.ts': 'export class Bell {}' };
    expect(packs({ code: 'a' }, { code: 'b' }, code)).toEqual([]);
  });
});

describe('twin/repeated-value', () => {
  beforeAll(useGrammars);
  const check = 'twin/repeated-value';
  const three = (code: (at: number) => string): Files =>
    Object.fromEntries([1, 2, 3].map((at) => [`scripts/s${at}.ts`, code(at)]));

  it('fires on a path that three scripts type', () => {
    const files = { ...three((at) => script(`S${at}`, "table('data/tolls.json');")), 'data/tolls.json': '{}' };
    expect(found(check, files)).toEqual(['3 scripts type the path data/tolls.json @ scripts/s1.ts:4']);
  });
  it('fires on an identity that three scripts type', () => {
    const calls = [{ call: 'stage.known($id)', means: 'refer', target: { by: 'id', kinds: 'object' } }];
    const files = {
      ...three((at) => script(`S${at}`, "stage.known('gate-7');")),
      'scenes/a.json': scene({ id: 'gate-7' }),
    };
    expect(found(check, files, { calls })).toEqual(['3 scripts type the identity gate-7 @ scripts/s1.ts:4']);
  });
  it('is silent on paths where that is how all of them are typed', () => {
    const names = Array.from({ length: 9 }, (_, at) => `data/t${at}.json`);
    const files = (count: number): Files => ({
      ...three((at) =>
        script(
          `S${at}`,
          names
            .slice(0, count)
            .map((name) => `table('${name}');`)
            .join(' '),
        ),
      ),
      ...Object.fromEntries(names.map((name) => [name, '{}'])),
    });
    expect(found(check, files(8)).length).toBe(8);
    expect(found(check, files(9))).toEqual([]);
  });
  it('fires on an event that three scripts type though there is a constant for it', () => {
    const files = three((at) => script(`S${at}`, "bells.ring('boat.in');"));
    const constant = { 'scripts/events.ts': "export class Events { static readonly boatIn = 'boat.in'; }" };
    expect(found(check, { ...files, ...constant })).toEqual([
      '3 scripts type the event boat.in, for which there is Events.boatIn @ scripts/s1.ts:4',
    ]);
    expect(found(check, files)).toEqual([]);
    const using = three((at) => script(`S${at}`, 'bells.ring(Events.boatIn);'));
    expect(found(check, { ...using, ...constant })).toEqual([]);
  });
  it('fires on a number that three types give a field of one name', () => {
    expect(
      found(
        check,
        three((at) => `export class S${at} { towSpeed = 3.5; }`),
      ),
    ).toEqual(['3 scripts type the value towSpeed = 3.5 @ scripts/s1.ts:1']);
  });
  it('fires on a table in code whose names stand in files of one record each', () => {
    const tolls = (barge: number): string[] =>
      told(
        scanWith(
          {
            'scripts/toll.ts': `export const TOLLS = { punt: 2, tender: 4, barge: ${barge} };`,
            'data/punt.json': { code: 'punt', pence: 2 },
            'data/tender.json': { code: 'tender', pence: 4 },
            'data/barge.json': { code: 'barge', pence: 9 },
          },
          {
            files: {
              boats: {
                match: 'data/*',
                as: 'data asset',
                pieces: { own: { at: '$', kind: 'record', id: '$.code', details: { pence: '$.pence' } } },
              },
            },
            scripts: { ts: { match: 'scripts/*.ts', language: 'typescript' } },
          },
        ),
        check,
      );
    expect(tolls(7)).toEqual([
      'A table in toll.ts repeats boats, and one number differs: barge is 7 here @ scripts/toll.ts:1',
    ]);
    expect(tolls(9)).toEqual(['A table in toll.ts repeats boats @ scripts/toll.ts:1']);
  });
  it('fires on a table in code that stands in a data file, and says which number differs', () => {
    const tolls = (barge: number): string[] =>
      told(
        scanWith(
          {
            'scripts/toll.ts': `export const TOLLS = { punt: 2, tender: 4, barge: ${barge} };`,
            'data/tolls.json': {
              rows: [
                { code: 'punt', pence: 2 },
                { code: 'tender', pence: 4 },
                { code: 'barge', pence: 9 },
              ],
            },
          },
          {
            files: {
              data: {
                match: 'data/*',
                as: 'data asset',
                pieces: {
                  rows: {
                    at: '$.rows[*]',
                    kind: 'record',
                    id: '$.code',
                    named: '$.code',
                    details: { pence: '$.pence' },
                  },
                },
              },
            },
            scripts: { ts: { match: 'scripts/*.ts', language: 'typescript' } },
          },
        ),
        check,
      );
    expect(tolls(7)).toEqual([
      'A table in toll.ts repeats tolls, and one number differs: barge is 7 here @ scripts/toll.ts:1',
    ]);
    expect(tolls(9)).toEqual(['A table in toll.ts repeats tolls @ scripts/toll.ts:1']);
  });
  it('is silent on two scripts, on numbers that mean nothing, on events, and on a shared constant', () => {
    const two = Object.entries(three((at) => script(`S${at}`, "table('data/tolls.json');"))).slice(1);
    expect(found(check, { ...Object.fromEntries(two), 'data/tolls.json': '{}' })).toEqual([]);
    expect(
      found(
        check,
        three((at) => `export class S${at} { count = 1; speed = 100; }`),
      ),
    ).toEqual([]);
    expect(
      found(
        check,
        three((at) => script(`S${at}`, "bells.ring('noon');")),
      ),
    ).toEqual([]);
    const shared = { 'scripts/paths.ts': "export const Paths = { tolls: 'data/tolls.json' };" };
    expect(found(check, { ...three((at) => script(`S${at}`, 'table(Paths.tolls);')), ...shared })).toEqual([]);
  });
});

describe('twin/near-same-asset', () => {
  beforeAll(useGrammars);
  const check = 'twin/near-same-asset';
  const gauge = (slots: object, child = 'Needle'): object => ({
    objects: [carrier('Gauge', 'gauge.ts', { objects: [{ name: child }] }, slots)],
  });
  const prefabs = (one: object, other: object): string[] =>
    found(check, { 'scripts/gauge.ts': script('Gauge', ''), 'prefabs/deep.json': one, 'prefabs/high.json': other });
  const values = { depth: 1, width: 2, face: 'data/a', scale: 4 };

  it('fires on two prefabs that differ in a few values', () => {
    expect(prefabs(gauge(values), gauge({ ...values, depth: 9 }))).toEqual([
      'deep and high differ only in depth (1 | 9) @ prefabs/deep.json:4',
    ]);
    expect(prefabs(gauge(values), gauge(values))[0]).toContain('are the same in everything but their name');
  });
  it('fires on those that are alike though a third of the same make is not', () => {
    const other = gauge({ depth: 5, width: 6, face: 'data/b', scale: 7 });
    const files = { 'prefabs/deep.json': gauge(values), 'prefabs/high.json': gauge({ ...values, depth: 9 }) };
    expect(found(check, { ...files, 'prefabs/other.json': other, 'scripts/gauge.ts': script('Gauge', '') })).toEqual([
      'deep and high differ only in depth (1 | 9) @ prefabs/deep.json:4',
    ]);
  });

  const hint = (more: object): object => ({
    title: 'Ropes',
    steps: [
      { text: 'Take it', wait: 3 },
      { text: 'Pull', wait: 9 },
    ],
    after: 'tides',
    colour: 'red',
    sound: 'bell',
    ...more,
  });
  it('fires on two data assets that differ in a few values, and on two that are the same', () => {
    expect(found(check, { 'data/a.json': hint({}), 'data/b.json': hint({ colour: 'blue', after: 'night' }) })).toEqual([
      'a and b differ only in after (tides | night), colour (red | blue) @ data/a.json:1',
    ]);
    expect(found(check, { 'data/a.json': hint({}), 'data/b.json': hint({}) })[0]).toContain('the same in everything');
  });
  it('tells a folder once that was copied, and a habit once', () => {
    const named = (at: number): object =>
      hint({ title: `Rope ${at}`, sound: `bell ${at}`, colour: `c${at}`, a: at, b: at * 7, c: at + 3 });
    const copied = (count: number): string[] =>
      found(
        check,
        Object.fromEntries(
          Array.from({ length: count }, (_, at) => at).flatMap((at) => [
            [`hints/east/r${at}.json`, named(at)],
            [`hints/west/r${at}.json`, named(at)],
          ]),
        ),
        { files: { hints: { match: 'hints/**', as: 'data asset' } } },
      );
    expect(copied(2).length).toBe(2);
    expect(copied(3)).toEqual([
      'hints/east and hints/west hold 3 files each that are nearly the same @ hints/east/r0.json:1',
    ]);
    const spread = (count: number): string[] =>
      found(
        check,
        Object.fromEntries(
          Array.from({ length: count }, (_, at) => at).flatMap((at) => [
            [`hints/r${at}/east.json`, named(at)],
            [`hints/r${at}/west.json`, named(at)],
          ]),
        ),
        { files: { hints: { match: 'hints/**', as: 'data asset' } } },
      );
    expect(spread(12).length).toBe(12);
    expect(spread(13)).toEqual([
      'Among the files of hints there are 13 groups that are nearly the same @ hints/r0/east.json:1',
    ]);
  });
  it('is silent on data assets that differ in more, have another shape, say little, or are many of a kind', () => {
    const two = (more: object): string[] => found(check, { 'data/a.json': hint({}), 'data/b.json': hint(more) });
    expect(two({ colour: 'blue', after: 'night', title: 'Tides' })).toEqual([]);
    expect(two({ shown: true })).toEqual([]);
    expect(found(check, { 'data/a.json': { x: 1, y: 2 }, 'data/b.json': { x: 1, y: 3 } })).toEqual([]);
    const many = Array.from({ length: 20 }, (_, at) => [`data/s${at}.json`, hint({ colour: `c${at}` })] as const);
    expect(found(check, Object.fromEntries(many))).toEqual([]);
  });
  it('is silent when much differs, when the tree does, and on prefabs that save next to nothing', () => {
    expect(prefabs(gauge(values), gauge({ depth: 5, width: 6, face: 'data/b', scale: 7 }))).toEqual([]);
    expect(prefabs(gauge(values), gauge({ ...values, depth: 9 }, 'Hand'))).toEqual([]);
    expect(prefabs(gauge({ depth: 1 }), gauge({ depth: 2 }))).toEqual([]);
  });
});

describe('twin/type-ladder', () => {
  beforeAll(useGrammars);
  const check = 'twin/type-ladder';
  const steer = (asks: string, parent = 'extends Obstacle'): string[] =>
    found(check, {
      'scripts/obstacle.ts': 'export class Obstacle {}',
      ...Object.fromEntries(
        ['Bank', 'Quay', 'Hull'].map((name) => [
          `scripts/${name.toLowerCase()}.ts`,
          `export class ${name} ${parent} {}`,
        ]),
      ),
      'scripts/boat.ts': `export class Boat { steer(ahead) { ${asks} } }`,
    });

  it('fires on questions for three children of one parent', () => {
    expect(
      steer('if (ahead.hasPart(Bank)) return; if (ahead.hasPart(Quay) || ahead.hasPart(Hull)) this.stop();'),
    ).toEqual(['Boat.steer() asks for Bank, Quay and Hull in turn; all of them are Obstacle @ scripts/boat.ts:1']);
  });
  it('is silent on two, on the parent itself, and on types without one', () => {
    expect(steer('if (ahead.hasPart(Bank) || ahead.hasPart(Quay)) this.stop();')).toEqual([]);
    expect(steer('if (ahead.hasPart(Obstacle)) this.stop();')).toEqual([]);
    expect(steer('if (ahead.hasPart(Bank) || ahead.hasPart(Quay) || ahead.hasPart(Hull)) this.stop();', '')).toEqual(
      [],
    );
  });
});

describe('twin/copied-wiring', () => {
  beforeAll(useGrammars);
  const check = 'twin/copied-wiring';
  const wire = (when: string, from: string, to: string, does: string): object => ({
    when,
    from: `#${from}`,
    to: `#${to}`,
    do: does,
  });
  const gates = (...second: string[]): string[] =>
    found(check, {
      'scripts/gate.ts': 'export class Gate { open() {} close() {} light() {} }',
      'scenes/a.json': {
        objects: [
          ...['plate-1', 'plate-2'].map((id) => ({ name: id, id })),
          ...['gate-1', 'gate-2'].map((id) => carrier(id, 'gate.ts', { id })),
        ],
        wires: [
          wire('pressed', 'plate-1', 'gate-1', 'open'),
          wire('released', 'plate-1', 'gate-1', 'close'),
          wire('dusk', 'plate-1', 'gate-1', 'light'),
          ...['pressed', 'released', 'dusk'].map((when, at) =>
            wire(when, 'plate-2', second[at], ['open', 'close', 'light'][at]),
          ),
        ],
      },
    });

  it('fires on wires that were pasted with one that still leads to the first gate', () => {
    expect(gates('gate-2', 'gate-1', 'gate-2')).toEqual([
      'The wires of plate-2 are those of plate-1 over again, and one still leads to gate-1: released → close() @ scenes/a.json:58',
    ]);
  });
  it('is silent when all lead to the second gate, and when all lead to the first', () => {
    expect(gates('gate-2', 'gate-2', 'gate-2')).toEqual([]);
    expect(gates('gate-1', 'gate-1', 'gate-1')).toEqual([]);
  });
  const tolls = (python: string, more = ''): string[] =>
    found(check, {
      'scripts/toll.ts': `export class Toll { begin() { bells.hear('boat.in', this.take); ${more} } take() { bells.ring('toll.paid'); table('data/tolls'); spawnFrom('prefabs/coin.json'); } }`,
      'scripts/fee.py': `class Fee:\n  def begin(self):\n    bells.hear('boat.in', self.charge)\n  def charge(self):\n    ${python}\n`,
      'data/tolls': '',
      'prefabs/coin.json': scene({ name: 'Coin' }),
      'scenes/a.json': scene(carrier('A', 'toll.ts'), carrier('B', 'fee.py')),
    });
  const SAME = "x = table('data/tolls')\n    spawnFrom('prefabs/coin.json')\n    bells.ring('toll.paid')";

  it('fires on types of two languages that hear and do the same', () => {
    expect(tolls(SAME)).toEqual([
      'Fee and Toll hear and do the same in two languages: listens to boat.in, sends toll.paid, spawns coin, uses tolls @ scripts/fee.py:1',
    ]);
  });
  it('is silent when one of them does something else, or something more', () => {
    expect(tolls(SAME.replace('toll.paid', 'fee.paid'))).toEqual([]);
    expect(tolls(SAME, "bells.ring('noon');")).toEqual([]);
  });
  it('fires on two graphs that take the same steps in the same order', () => {
    const orders = (...steps: string[]): object => ({ steps: steps.map((does, at) => ({ id: `${at}`, does })) });
    const told2 = (...second: string[]): string[] =>
      told(
        scanWith(
          { 'orders/a.json': orders('wait', 'ring', 'show', 'rest'), 'orders/b.json': orders(...second) },
          {
            files: {
              orders: {
                match: 'orders/*',
                as: 'graph',
                pieces: { steps: { at: '$.steps[*]', kind: 'step', id: '$.id', named: '$.does' } },
              },
            },
          },
        ),
        check,
      );
    expect(told2('wait', 'ring', 'show', 'rest')).toEqual([
      'a and b take the same 4 steps in the same order @ orders/a.json:5',
    ]);
    expect(told2('wait', 'show', 'ring', 'rest')).toEqual([]);
  });
});
