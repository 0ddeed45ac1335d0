/** Which of several things of one name is meant: by spaces that the plan gives, and by what is nearest in sight. */
import { plain } from '../model/finding.js';
import { nameOf } from '../model/graph.js';
import { scanWith, told, useGrammars, type Files } from '../testing/project.js';

const GOODS = { pieces: { good: { at: '$.goods[*]', kind: 'record', id: '$.id' } } };
const plan = (reference: object, more: object = {}): object => ({
  files: {
    packages: { match: '**/crew.json', as: 'package', id: '$.id', needs: { at: '$.needs[*]', id: '$' } },
    goods: { match: '**/*.goods.json', as: 'data asset', ...GOODS },
    orders: {
      match: '**/*.order.json',
      as: 'data asset',
      references: { wants: { at: '$.wants', by: 'id', kinds: ['record'], ...reference } },
    },
  },
  ...more,
});
const goods = (...ids: string[]): object => ({ goods: ids.map((id) => ({ id, name: id })) });
/** Where the only order leads, or what is told of it. */
const ends = (files: Files, reference: object = {}, more: object = {}): string[] => {
  const { linked, findings } = scanWith(files, plan(reference, more));
  const { graph } = linked;
  const found = Array.from({ length: graph.linkCount }, (_, at) => at)
    .filter((at) => graph.texts[graph.links.file[at]].endsWith('.order.json') && graph.links.to[at] >= 0)
    .map((at) => graph.texts[graph.pieces.file[graph.links.to[at]]]);
  return [
    ...found,
    ...findings.filter(({ check }) => check === 'broken/missing-object').map((one) => plain(one.sentence)),
  ];
};
const CREWS: Files = {
  'a/crew.json': { id: 'a', needs: [] },
  'b/crew.json': { id: 'b', needs: ['a'] },
  'c/crew.json': { id: 'c', needs: ['b'] },
  'd/crew.json': { id: 'd', needs: [] },
};
const ORDER = { wants: 'coal' };

describe('which of several of one name is meant', () => {
  beforeAll(useGrammars);

  const cases: { it: string; files: Files; reference?: object; ends: string[] }[] = [
    {
      it: 'the one of the own package',
      files: { ...CREWS, 'a/x.goods.json': goods('coal'), 'c/x.goods.json': goods('coal'), 'c/an.order.json': ORDER },
      ends: ['c/x.goods.json'],
    },
    {
      it: 'then the one of the packages it needs, those of these too',
      files: { ...CREWS, 'a/x.goods.json': goods('coal'), 'd/x.goods.json': goods('coal'), 'c/an.order.json': ORDER },
      ends: ['a/x.goods.json'],
    },
    {
      it: 'of two that are needed the one loaded last',
      files: { ...CREWS, 'a/x.goods.json': goods('coal'), 'b/x.goods.json': goods('coal'), 'c/an.order.json': ORDER },
      ends: ['b/x.goods.json'],
    },
    {
      it: 'then any of the project',
      files: { ...CREWS, 'd/x.goods.json': goods('coal'), 'c/an.order.json': ORDER },
      ends: ['d/x.goods.json'],
    },
    {
      it: 'but none of a package that is not needed, where the plan says so',
      files: { ...CREWS, 'd/x.goods.json': goods('coal'), 'c/an.order.json': ORDER },
      reference: { within: 'needed' },
      ends: ['an refers to coal in wants; its package and those that it needs have nothing of that name or identity'],
    },
    {
      it: 'and none of another package, where the plan says so',
      files: { ...CREWS, 'b/x.goods.json': goods('coal'), 'c/an.order.json': ORDER },
      reference: { within: 'package' },
      ends: ['an refers to coal in wants; its package has nothing of that name or identity'],
    },
    {
      it: 'a package inside another sees what is around it',
      files: {
        'a/crew.json': { id: 'a' },
        'a/inner/crew.json': { id: 'inner' },
        'a/x.goods.json': goods('coal'),
        'd/x.goods.json': goods('coal'),
        'a/inner/an.order.json': ORDER,
      },
      reference: { within: 'needed' },
      ends: ['a/x.goods.json'],
    },
    {
      it: 'files of no package are of one',
      files: { ...CREWS, 'd/x.goods.json': goods('coal'), 'x.goods.json': goods('coal'), 'an.order.json': ORDER },
      reference: { within: 'package' },
      ends: ['x.goods.json'],
    },
    {
      it: 'without packages the project is one',
      files: { 'x.goods.json': goods('coal'), 'an.order.json': ORDER },
      reference: { within: 'package' },
      ends: ['x.goods.json'],
    },
  ];
  for (const { it: title, files, reference, ends: wanted } of cases)
    it(title, () => expect(ends(files, reference)).toEqual(wanted));

  it('what is out of sight is told, and not offered', () => {
    const files = {
      ...CREWS,
      'd/x.goods.json': goods('coal'),
      'c/an.order.json': ORDER,
      'c/x.goods.json': goods('coals'),
    };
    const [finding] = scanWith(files, plan({ within: 'needed' })).findings.filter(
      ({ check }) => check === 'broken/missing-object',
    );
    expect(finding.sure).toContain('d/x.goods.json cannot be meant');
    expect(finding.repairs[0].title).toBe('Write “coals”');
  });

  it('a name in many packages is looked up once for each', () => {
    const many: Files = {};
    for (let at = 0; at < 60; at++) {
      many[`p${at}/crew.json`] = { id: `p${at}` };
      many[`p${at}/x.goods.json`] = goods('coal');
      many[`p${at}/an.order.json`] = ORDER;
    }
    expect(ends(many)).toEqual(Array.from({ length: 60 }, (_, at) => `p${at}/x.goods.json`));
  });
});

describe('spaces', () => {
  const two = (space?: string): object => ({
    files: {
      hulls: {
        match: 'hulls/*',
        as: 'data asset',
        pieces: { hull: { at: '$.all[*]', kind: 'record', id: '$.id', space: 'hulls' } },
      },
      crews: {
        match: 'crews/*',
        as: 'data asset',
        pieces: { crew: { at: '$.all[*]', kind: 'record', id: '$.id', space } },
      },
      orders: {
        match: 'orders/*',
        as: 'data asset',
        references: { hull: { at: '$.hull', by: 'id', space: 'hulls' } },
      },
    },
  });
  const all = (...ids: string[]): object => ({ all: ids.map((id) => ({ id, name: `the ${id}` })) });

  it('tell things of one identity apart', () => {
    const { linked } = scanWith(
      { 'crews/a': '', 'hulls/a.json': all('tern'), 'crews/a.json': all('tern'), 'orders/a.json': { hull: 'tern' } },
      two('crews'),
    );
    const { graph } = linked;
    expect(graph.linkCount).toBe(1);
    expect(graph.texts[graph.pieces.file[graph.links.to[0]]]).toBe('hulls/a.json');
  });

  it('what is only in another space is lost', () => {
    const { findings } = scanWith(
      { 'hulls/a.json': all('gull'), 'crews/a.json': all('tern'), 'orders/a.json': { hull: 'tern' } },
      two('crews'),
    );
    expect(findings.map((one) => plain(one.sentence))).toEqual([
      'a refers to tern in hull; the project has nothing of that name or identity among hulls',
    ]);
  });

  it('one reference may look at several', () => {
    const plan = two('crews') as { files: { orders: { references: { hull: { space: string | string[] } } } } };
    plan.files.orders.references.hull.space = ['crews', 'hulls'];
    const { linked, findings } = scanWith(
      {
        'hulls/a.json': all('gull'),
        'crews/a.json': all('tern'),
        'orders/a.json': { hull: 'tern' },
        'orders/b.json': { hull: 'gull' },
        'orders/c.json': { hull: 'auk' },
      },
      plan,
    );
    const ends = Array.from({ length: linked.graph.linkCount }, (_, at) => linked.graph.links.to[at]);
    expect(ends.filter((end) => end >= 0).length).toBe(2);
    expect(findings.map((one) => plain(one.sentence))).toEqual([
      'c refers to auk in hull; the project has nothing of that name or identity among crews and hulls',
    ]);
  });

  const same = (plan: object): string[] =>
    told(scanWith({ 'hulls/a.json': all('tern'), 'crews/a.json': all('tern') }, plan), 'broken/same-identity');
  it('one identity twice in a space is a finding, whatever rules read it', () => {
    expect(same(two('hulls')).length).toBe(1);
    expect(same(two('crews')).length).toBe(0);
    expect(same(two()).length).toBe(0);
  });

  it('texts of two files may be two languages; twice in one file they are a finding', () => {
    const texts = (file: string): object => ({
      files: {
        texts: {
          match: file,
          as: 'data asset',
          pieces: { one: { at: '$.all[*]', kind: 'text', id: '$.id', space: 'texts' } },
        },
      },
    });
    const files = { 'texts/en.json': all('moored'), 'texts/de.json': all('moored') };
    expect(told(scanWith(files, texts('texts/*')), 'broken/same-identity')).toEqual([]);
    expect(
      told(scanWith({ 'texts/en.json': all('moored', 'moored') }, texts('texts/*')), 'broken/same-identity').length,
    ).toBe(1);
  });

  it('across packages it is the other check that tells', () => {
    const files = {
      'a/crew.json': { id: 'a' },
      'b/crew.json': { id: 'b' },
      'a/x.json': all('tern'),
      'b/x.json': all('tern'),
    };
    const scanned = scanWith(files, {
      files: {
        packages: { match: '**/crew.json', as: 'package', id: '$.id' },
        all: {
          match: '**/x.json',
          as: 'data asset',
          pieces: { one: { at: '$.all[*]', kind: 'record', id: '$.id', space: 'all' } },
        },
      },
    });
    expect(told(scanned, 'broken/same-identity')).toEqual([]);
    expect(told(scanned, 'twin/name-clash').length).toBe(1);
  });

  it('glue facts name the kind and the space that they mean', () => {
    const line = (fact: object): string => JSON.stringify(fact);
    const facts = [
      line({ fact: 'piece', id: 'tern', kind: 'record', space: 'hulls', name: 'a hull' }),
      line({ fact: 'link', from: 'order', to: 'tern', toKind: 'event', verb: 'uses' }),
      line({ fact: 'link', from: 'order', to: 'tern', toSpace: 'hulls', verb: 'uses' }),
      line({ fact: 'link', from: 'order', to: 'tern', toSpace: 'sails', verb: 'uses' }),
    ];
    const other = [
      line({ fact: 'piece', id: 'order', kind: 'record' }),
      line({ fact: 'piece', id: 'tern', kind: 'event', name: 'an event' }),
    ];
    const { linked } = scanWith(
      { 'a.facts.ndjson': facts.join('\n'), 'b.facts.ndjson': other.join('\n') },
      { files: { facts: { match: '*.facts.ndjson', as: 'glue facts' } } },
    );
    const { graph } = linked;
    const to = Array.from({ length: graph.linkCount }, (_, at) => graph.links.to[at]);
    expect(to.map((piece) => (piece < 0 ? 'lost' : nameOf(graph, piece)))).toEqual(['an event', 'a hull', 'lost']);
  });
});

describe('plain functions of a script', () => {
  beforeAll(useGrammars);
  const scene = (...names: string[]): object => ({ objects: names.map((name) => ({ name })) });
  const plan = (more: object): object => ({
    files: {
      scenes: {
        match: 'scenes/*',
        as: 'scene',
        pieces: {
          objects: { at: '$.objects[*]', kind: 'object', parts: { at: '$.parts[*]', script: { field: '$.script' } } },
        },
      },
    },
    scripts: { lua: { match: 'scripts/*.lua', language: 'lua', moments: { start: ['begin'] }, ...more } },
    calls: [{ call: 'find($name)', means: 'find' }],
  });
  const lost = (files: Files, more: object): string[] =>
    scanWith(files, plan(more))
      .findings.filter(({ check }) => check === 'broken/missing-object')
      .map(({ sentence, evidence: [{ file, range }] }) => `${plain(sentence)} @ ${file}:${range.line}`);
  const LUA = 'function begin()\n  look()\nend\nfunction look()\n  find("Bell")\nend\n';

  it('look in the scene that the script belongs to', () => {
    const files = {
      'scenes/quay.json': scene('Bell'),
      'scenes/weir.json': scene('Horn'),
      'scripts/quay.lua': LUA,
      'scripts/weir.lua': LUA,
    };
    const belongsTo = { scene: { file: 'stem' } };
    expect(lost(files, { belongsTo })).toEqual([
      'weir on weir looks for an object named Bell; its scene has none @ scripts/weir.lua:5',
    ]);
    expect(lost(files, { belongsTo, asType: false })).toEqual([]);
  });

  it('run on what the file is attached to, where the plan says so', () => {
    const files = {
      'scenes/quay.json': { objects: [{ name: 'Horn', parts: [{ script: 'scripts/watch.lua' }] }] },
      'scripts/watch.lua': LUA,
    };
    expect(lost(files, { asType: true })).toEqual([
      'watch on quay / Horn looks for an object named Bell; its scene has none @ scripts/watch.lua:5',
    ]);
    expect(lost(files, {})).toEqual([]);
  });

  it('have the moment of what calls them', () => {
    const { facts } = scanWith(
      { 'scenes/quay.json': scene('Bell'), 'scripts/quay.lua': LUA },
      plan({ asType: true }),
    ).linked;
    const operations = facts.flatMap(({ script }) => script?.operations ?? []);
    expect(operations.map(({ moment }) => moment)).toEqual(['start']);
  });
});
