/** Projects that there is too much of: what is left out is said, and the rest is on the map. */
import { plain } from '../model/finding.js';
import { carrier, scan, scanWith, scene, script, useGrammars, type Files } from '../testing/project.js';

describe('what there is too much of', () => {
  beforeAll(useGrammars);

  it('of one identity is linked to some, and said once', () => {
    const alike = (count: number): { links: number; told: string[] } => {
      const rows = Array.from({ length: count }, () => ({ id: 'x', next: 'x' }));
      const plan = {
        files: {
          data: {
            match: 'data/*',
            as: 'data asset',
            pieces: { rows: { at: '$.rows[*]', kind: 'record', id: '$.id' } },
            references: { next: { at: '$.rows[*].next', by: 'id' } },
          },
        },
      };
      const { linked, findings } = scanWith({ 'data/a.json': { rows } }, plan);
      const told = findings.filter(({ check }) => check === 'broken/unreadable').map(({ sentence }) => plain(sentence));
      return { links: linked.graph.linkCount, told };
    };
    expect(alike(20)).toEqual({ links: 400, told: [] });
    const { links, told } = alike(30);
    expect(links).toBe(600);
    expect(told.length).toBe(1);
    expect(told[0]).toContain('what refers to “x” is linked to 20 of the pieces that are called so');
  });

  it('of prefabs in prefabs is not unfolded, and what is below is not known', () => {
    const nested = (depth: number): Files => ({
      ...Object.fromEntries(
        Array.from({ length: depth }, (_, at) => [
          `prefabs/p${at}.json`,
          { objects: [{ name: 'R', objects: [{ name: 'c', prefab: `prefabs/p${at + 1}.json` }] }] },
        ]),
      ),
      [`prefabs/p${depth}.json`]: { objects: [{ name: 'Leaf' }] },
      'scripts/a.ts': script('A', "stage.find('Nowhere').go();"),
      'scenes/a.json': scene(carrier('A', 'a.ts'), { name: 'Top', prefab: 'prefabs/p0.json' }),
    });
    const told = (depth: number): string[] => scan(nested(depth)).findings.map(({ check }) => check);
    expect(told(20)).toEqual(['broken/missing-object']);
    expect(new Set(told(400))).toEqual(new Set(['broken/unreadable']));
  });

  it('of findings of one kind is told up to a limit, and how many more there are', () => {
    const rows = Array.from({ length: 20_003 }, (_, at) => `lost/${at}.json`);
    const references = { all: { at: '$.rows[*]', by: 'path' } };
    const { findings } = scanWith(
      { 'data/a.json': { rows } },
      { files: { data: { match: 'data/*', as: 'data asset', references } } },
    );
    expect(findings.filter(({ check }) => check === 'broken/missing-file').length).toBe(20_000);
    const [told, ...more] = findings.filter(({ check }) => check === 'broken/unreadable');
    expect([told.severity, more.length]).toEqual(['warning', 0]);
    expect(plain(told.sentence)).toContain('3 more findings of “');
    expect(told.evidence[0].range.line).toBeGreaterThan(0);
  });

  it('of choices within choices is not known', () => {
    const names = Array.from({ length: 60 }, (_, at) =>
      at === 0 ? "const n0 = this.x ? 'a' : 'b';" : `const n${at} = this.x ? n${at - 1} + 'a' : n${at - 1} + 'b';`,
    );
    const code = `${names.join('\n')} this.child(n59).go();`;
    expect(scan({ 'scripts/a.ts': script('A', code), 'scenes/a.json': scene(carrier('A', 'a.ts')) }).findings).toEqual(
      [],
    );
  });
});
