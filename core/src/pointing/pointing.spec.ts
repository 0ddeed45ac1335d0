import { pointAt, previewFile, say as sayOf, SAYINGS } from '../browser.js';

/** The plan once something was said. */
const say = (...given: Parameters<typeof sayOf>): string => sayOf(...given).text;

/** What a plan's text says. */
const said = (text: string): { files: Record<string, { match?: string; pieces: Record<string, unknown> }> } =>
  JSON.parse(text) as ReturnType<typeof said>;

const SCENE = JSON.stringify(
  {
    title: 'Upper Flight',
    objects: [
      {
        name: 'Tender',
        id: 't1',
        tags: ['boat'],
        parts: [{ script: 'scripts/rope.ts' }],
        objects: [{ name: 'Cleat', picture: 'art/cleat.svg' }],
      },
    ],
    wires: [{ when: 'rope.tight' }],
  },
  null,
  2,
);
const PLAN =
  '{\n  // ours\n  "version": 1,\n  "name": "Small",\n  "files": { "scenes": { "match": "*.scene.json", "as": "scene" } }\n}\n';
const at = (text: string): NonNullable<ReturnType<typeof pointAt>> => pointAt(SCENE, 'json', SCENE.indexOf(text) + 1)!;
const told = (plan: string): string[] => {
  const { counts, mistakes } = previewFile(plan, 'a.scene.json', SCENE);
  return [
    ...mistakes.map((mistake) => mistake.message),
    ...counts.map(({ rule, count }) => `${rule.replace('files.scenes.', '')}: ${count}`),
  ];
};

describe('pointing at a value', () => {
  it('finds the value, and a selector for its like', () => {
    expect(at('"Upper Flight"')).toEqual(
      jasmine.objectContaining({ value: 'Upper Flight', key: 'title', selector: '$.title', alike: 1 }),
    );
    expect(at('"Tender"')).toEqual(jasmine.objectContaining({ selector: '$..objects[*].name', alike: 2 }));
    expect(at('"boat"').selector).toBe('$..tags[*]'.replace('..', '.objects[*].'));
    expect(at('"when"').value).toBe('rope.tight');
    expect(pointAt(SCENE, 'json', 0)).toBeUndefined();
    expect(pointAt('name: Gate\nparts:\n  - lamp: {on: yes}\n', 'yaml', 7)!.selector).toBe('$.name');
    expect(pointAt('{"a b": 1}', 'json', 8)!.selector).toBe("$['a b']");
  });

  it('writes a rule for everything that can be said, and every rule finds the value', () => {
    const places: Record<string, string> = {
      prefab: '"art/cleat',
      script: '"scripts/rope',
      'label carried': '"boat"',
      identity: '"t1"',
      event: '"rope.tight',
    };
    for (const { id } of SAYINGS) {
      const plan = say(PLAN, 'a.scene.json', 'scenes', at(places[id] ?? '"art/cleat'), id);
      expect(plan).withContext(id).toContain('// ours');
      const counts = told(plan);
      expect(counts.length).withContext(`${id}: ${counts.join()}`).toBeGreaterThan(0);
      expect(counts.every((count) => /: [1-9]/.test(count)))
        .withContext(`${id}: ${counts.join()}`)
        .toBeTrue();
    }
  });

  it('adds to the rule that already finds the thing', () => {
    let plan = say(PLAN, 'a.scene.json', 'scenes', at('"Tender"'), 'name of object');
    plan = say(plan, 'a.scene.json', 'scenes', at('"t1"'), 'identity');
    plan = say(plan, 'a.scene.json', 'scenes', at('"scripts/rope'), 'script');
    plan = say(plan, 'a.scene.json', 'scenes', at('"boat"'), 'label carried');
    plan = say(plan, 'a.scene.json', 'scenes', at('"art/cleat'), 'path');
    // Two objects and the part.
    expect(told(plan)).toEqual(['pieces.objects: 3', 'references.picture: 1']);
    expect(said(plan.replace('// ours', '')).files['scenes'].pieces['objects']).toEqual({
      at: '$..objects[*]',
      kind: 'object',
      named: '$.name',
      id: '$.id',
      parts: [{ at: '$.parts[*]', script: { field: '$.script', by: 'path' } }],
      labels: '$.tags[*]',
    });
  });

  it('writes a rule for the file when none reads it', () => {
    const plan = say(PLAN, 'data/tides.table.json', undefined, at('"Tender"'), 'name of record');
    expect(said(plan.replace('// ours', '')).files['table'] as object).toEqual({
      match: '**/*.table.json',
      as: 'data asset',
      pieces: { records: { at: '$..objects[*]', kind: 'record', named: '$.name' } },
    });
  });
});

describe('the preview of a file', () => {
  it('marks what each rule finds, with the place', () => {
    const plan = say(PLAN, 'a.scene.json', 'scenes', at('"art/cleat'), 'path');
    const { marks, rule, reason } = previewFile(plan, 'a.scene.json', SCENE);
    expect([rule, reason]).toEqual(['files.scenes', '']);
    const [{ words, range }] = marks;
    expect(words).toBe('refers to “art/cleat.svg”');
    expect(SCENE.split('\n')[range.line - 1].slice(range.column - 1, range.endColumn - 1)).toBe('"art/cleat.svg"');
  });

  it('reads by the plans that the plan builds on, and does not call one mistaken that it has not seen', () => {
    const own = '{"version": 1, "name": "Own", "extends": "shared/base.json"}';
    expect(previewFile(own, 'a.scene.json', SCENE, { 'shared/base.json': PLAN }).rule).toBe('files.scenes');
    expect(previewFile(own, 'a.scene.json', SCENE).mistakes).toEqual([]);
    expect(previewFile(own.replace('shared/base.json', 'x4d'), 'a.scene.json', SCENE).mistakes.length).toBe(1);
  });

  it('says why there is nothing to show', () => {
    expect(previewFile(PLAN, 'b.json', '{}').reason).toContain('No rule');
    expect(
      previewFile(
        '{"version": 1, "name": "x", "scripts": {"ts": {"match": "*.ts", "language": "typescript"}}}',
        'a.ts',
        '',
      ).reason,
    ).toContain('Scripts');
    expect(previewFile('{"version": 1, "nome": ""}', 'a.json', '{}').mistakes.map((mistake) => mistake.key)).toEqual([
      'name',
      'nome',
    ]);
    expect(previewFile('{', 'a.json', '{}').mistakes.length).toBe(1);
  });
});
