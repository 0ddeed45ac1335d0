/** Files that were not read whole: what they may hold is not told to be missing. */
import type { Finding } from '../model/finding.js';
import { carrier, PLAN, scan, scene, script, useGrammars, type Files } from '../testing/project.js';
import { analyseTexts, sampleFiles } from '../testing/sample.js';

/** A rule that finds identities and labels in data. */
const CHANGES = {
  files: {
    ...PLAN.files,
    data: {
      match: 'data/*',
      as: 'data asset',
      pieces: { boats: { at: '$.boats[*]', kind: 'record', id: '$.id', named: '$.id' } },
      references: { next: { at: '$..next', by: 'id', kinds: ['record'] } },
    },
    marks: {
      match: 'marks/*',
      as: 'data asset',
      pieces: { marks: { at: '$.marks[*]', kind: 'label', named: '$' } },
      references: { marked: { at: '$.marked', by: 'label' } },
    },
    build: {
      match: 'build/*',
      as: 'data asset',
      references: { scenes: { at: '$.scenes[*]', by: 'path', role: 'build list' } },
    },
  },
  calls: [...PLAN.calls, { call: 'enter($path)', means: 'load' }],
  house: {},
  engine: {
    ...PLAN.engine,
    types: ['Behaviour'],
    functions: ['spawnFrom', 'table', 'enter'],
    members: ['holder', 'child', 'part', 'way'],
  },
};

const boat = (name: string, ...more: object[]): object => scene({ name, objects: more });
const whole = (value: object): string => JSON.stringify(value, null, 1);
/** The text without its end. */
const cut = (text: string, from: string): string => text.slice(0, text.indexOf(from));
/** The whole text, with a fault in its middle. */
const spoilt = (text: string, at: string): string => text.replace(at, `<<<<<<< ours\n${at}`);

/** A fault, the file that may hold what is missed, and the check that tells it once that file is read. */
interface Case {
  what: string;
  check: Finding['check'];
  files: Files;
  /** A file that has to do with it, whole, and where it stops. */
  file: [path: string, text: string, stops: string];
  /** Files that can hold nothing of the kind, and do not matter however little of them was read. */
  others?: [path: string, text: string];
}

const MARKED: Case['others'] = ['marks/list.json', '{"marks": ['];
const CASES: Case[] = [
  {
    what: 'an identity',
    check: 'broken/missing-object',
    files: { 'data/one.json': { next: 'punt' } },
    file: ['data/boats.json', whole({ boats: [{ id: 'tender' }, { id: 'barge' }] }), '"barge"'],
    others: MARKED,
  },
  {
    what: 'a label',
    check: 'broken/unknown-label',
    files: { 'marks/one.json': { marked: 'wet' } },
    file: ['marks/list.json', whole({ marks: ['dry', 'deep'] }), '"deep"'],
    others: ['scripts/other.ts', 'export class Other {'],
  },
  {
    what: 'an object of a scene',
    check: 'broken/missing-object',
    files: { 'scripts/rope.ts': script('Rope', "stage.find('Cleat').fasten();") },
    file: [
      'scenes/quay.json',
      whole(scene(carrier('Rope', 'rope.ts'), { name: 'Bollard' })),
      '{\n   "name": "Bollard"',
    ],
    others: ['scenes/other.json', '{"objects": ['],
  },
  {
    what: 'a child in a prefab',
    check: 'broken/missing-object',
    files: {
      'scripts/rope.ts': script('Rope', "this.holder.child('Cleat').fasten();"),
      'scenes/quay.json': scene({ name: 'Boat', prefab: 'prefabs/boat.json' }),
    },
    file: [
      'prefabs/boat.json',
      whole(boat('Boat', carrier('Rope', 'rope.ts'), { name: 'Bollard' })),
      ',\n     {\n      "name": "Bollard"',
    ],
    others: ['prefabs/other.json', '{"objects": ['],
  },
  {
    what: 'what stands above, in a prefab',
    check: 'broken/missing-object',
    files: {
      'scripts/rope.ts': script('Rope', "this.holder.holder.child('Cleat').fasten();"),
      'scenes/quay.json': scene({ name: 'Quay', objects: [{ name: 'Boat', prefab: 'prefabs/boat.json' }] }),
    },
    file: ['prefabs/boat.json', whole(boat('Boat', { ...carrier('Rope', 'rope.ts'), note: 'x' })), ',\n     "note"'],
  },
  {
    what: 'a member of a type',
    check: 'broken/missing-member',
    files: { 'scripts/wheel.ts': script('Wheel', 'this.turn();', 'turn(gate: Gate) { gate.open(); }') },
    file: ['scripts/gate.ts', script('Gate', 'this.shut();', 'shut() { this.isShut = true; }'), 'begin'],
    others: ['scripts/other.ts', 'export class Other {'],
  },
  {
    what: 'a function that is called',
    check: 'broken/missing-call',
    files: { 'scripts/wheel.ts': script('Wheel', 'turnAll();') },
    file: ['scripts/turning.ts', 'export function turnOne(): void {\n  return;\n}\n', 'return'],
    others: MARKED,
  },
  {
    what: 'the value of a slot',
    check: 'broken/empty-slot',
    files: { 'scripts/rope.ts': script('Rope', 'this.cleat.fasten();', '@slot cleat: Cleat;') },
    file: [
      'scenes/quay.json',
      whole(scene(carrier('Rope', 'rope.ts'), { name: 'Cleat' })),
      ',\n  {\n   "name": "Cleat"',
    ],
    others: ['scenes/other.json', '{"objects": ['],
  },
  {
    what: 'who sends an event',
    check: 'fragile/never-sent',
    files: { 'scripts/wheel.ts': script('Wheel', "bells.hear('turned', this.turn);", 'turn() {}') },
    file: ['scripts/gate.ts', script('Gate', "bells.ring('open');", 'shut() {}'), 'bells'],
    others: MARKED,
  },
  {
    what: 'who hears an event',
    check: 'fragile/unheard',
    files: { 'scripts/wheel.ts': script('Wheel', "bells.ring('turned');") },
    file: ['scenes/quay.json', whole({ objects: [], wires: [{ when: 'open' }] }), '"open"'],
    others: MARKED,
  },
  {
    what: 'what a script is attached to',
    check: 'broken/wrong-place',
    files: {
      'scripts/wheel.ts': script('Wheel', 'this.turn();'),
      'scripts/rope.ts': script('Rope', 'this.tie();'),
      'scenes/quay.json': scene(carrier('Rope', 'rope.ts')),
    },
    file: ['scenes/weir.json', whole(scene({ name: 'Weir' })), '"Weir"'],
    others: MARKED,
  },
  {
    what: 'who asks for a flag',
    check: 'fragile/flag-order',
    files: {
      'scripts/wheel.ts': script('Wheel', 'this.turn();', 'isStuck = false;\n  turn() { this.isStuck = true; }'),
    },
    file: ['scripts/gate.ts', script('Gate', 'this.shut();', 'shut() {}'), 'this.shut'],
    others: MARKED,
  },
  {
    what: 'the list of scenes',
    check: 'broken/unlisted-scene',
    files: {
      'scripts/wheel.ts': script('Wheel', "enter('scenes/weir.json');"),
      'scenes/weir.json': scene(),
      'scenes/quay.json': scene(),
    },
    file: ['build/list.json', whole({ scenes: ['scenes/quay.json', 'scenes/quay.json'] }), ',\n'],
    others: MARKED,
  },
  {
    what: 'a call through to the parent',
    check: 'fragile/silent-override',
    files: { 'scripts/boat.ts': script('Boat', "bells.ring('afloat');") },
    file: ['scripts/punt.ts', 'export class Punt extends Boat {\n  begin() {\n    this.pole();\n  }\n}\n', 'this.pole'],
    others: ['scripts/other.ts', 'export class Other {'],
  },
];

const count = (files: Files, check: string): number =>
  scan(files, CHANGES).findings.filter((finding) => finding.check === check).length;

describe('what may stand where nothing could be read', () => {
  beforeAll(useGrammars);
  for (const { what, check, files, file, others } of CASES) {
    const [path, text, stops] = file;
    it(`is not told to be missing: ${what} (${check})`, () => {
      expect(count({ ...files, [path]: text }, check))
        .withContext('read')
        .toBe(1);
      expect(count({ ...files, [path]: cut(text, stops) }, check))
        .withContext('cut off')
        .toBe(0);
      if (others)
        expect(count({ ...files, [path]: text, [others[0]]: others[1] }, check))
          .withContext('another kind')
          .toBe(1);
    });
  }

  it('is looked for in the text of a file that has its end', () => {
    const one = { 'data/one.json': { next: 'punt' } };
    const list = (...ids: string[]): string => whole({ boats: ids.map((id) => ({ id })) });
    const lost = (text: string): number => count({ ...one, 'data/boats.json': text }, 'broken/missing-object');
    expect(lost(spoilt(list('tender', 'punt'), '{\n   "id": "punt"'))).toBe(0);
    expect(lost(spoilt(list('tender', 'barge'), '{\n   "id": "barge"'))).toBe(1);
  });

  it('may be anything where lines of glue facts cannot be read', () => {
    const files = (facts: string): Files => ({ 'data/one.json': { next: 'punt' }, 'all.facts': facts });
    const plan = { ...CHANGES, files: { ...CHANGES.files, facts: { match: '*.facts', as: 'glue facts' } } };
    const lost = (facts: string): number =>
      scan(files(facts), plan).findings.filter(({ check }) => check === 'broken/missing-object').length;
    expect([lost(''), lost('{"fact": "piece", ')]).toEqual([1, 0]);
  });

  it('is known again as soon as the file is', () => {
    const text = whole({ boats: [{ id: 'tender' }, { id: 'punt' }] });
    expect(count({ 'data/one.json': { next: 'punt' }, 'data/boats.json': text }, 'broken/missing-object')).toBe(0);
  });
});

describe('a value that the end of a file cuts in two', () => {
  it('is none', () => {
    const told = scan({ 'data/one.json': '{"next": "tend', 'data/boats.json': { boats: [] } }, CHANGES).findings;
    expect(told.map(({ check }) => check)).toEqual(['broken/unreadable']);
  });
  it('is none when its line ends too early', () => {
    const told = scan({ 'data/one.json': '{"next": "tend\n, "a": 1}', 'data/boats.json': { boats: [] } }, CHANGES);
    expect(told.findings.map(({ check }) => check)).toEqual(['broken/unreadable']);
  });
});

describe('the sample, one file of it cut off', () => {
  beforeAll(useGrammars);

  /** Where a finding stands, and what it is: its words may change with the names that are no longer read. */
  const place = ({ check, evidence: [{ file, range }] }: Finding): string => `${check} ${file}:${range.line}`;

  // Each cut is a scan of the whole sample, a tenth of a second: every third file, at another place each.
  it('has no fault more in any other file', () => {
    const { plan, texts } = sampleFiles();
    const known = new Set(analyseTexts(plan, texts).findings.map(place));
    const paths = [...texts.keys()];
    let unread = 0;
    paths.forEach((path, at) => {
      if (at % 3 !== 0) return;
      const text = texts.get(path)!;
      const short = text.slice(0, Math.floor((text.length * ((at % 7) + 1)) / 8));
      const { findings } = analyseTexts(plan, new Map(texts).set(path, short));
      unread += findings.some((one) => one.check === 'broken/unreadable' && one.evidence[0].file === path) ? 1 : 0;
      const strange = findings.filter((one) => one.severity === 'error' && !known.has(place(one)));
      const elsewhere = strange.filter((one) => one.evidence[0].file !== path);
      expect(elsewhere.map(place)).withContext(path).toEqual([]);
    });
    expect(unread).toBeGreaterThan(15);
  });
});
