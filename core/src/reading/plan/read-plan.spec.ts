import { GlueError } from '../../model/errors.js';
import { CHECK_IDS } from '../../checks/registry.js';
import { PLAN } from '../../testing/project.js';
import { parseCallPattern } from './call-pattern.js';
import { readPlan, type LoadPlan } from './read-plan.js';

function refused(text: string, load?: LoadPlan): GlueError {
  try {
    readPlan(text, CHECK_IDS, load);
  } catch (error) {
    if (error instanceof GlueError) return error;
  }
  throw new Error('the plan was not refused');
}

const refusedPlan = (changes: object): GlueError => refused(JSON.stringify({ ...PLAN, ...changes }, null, 2));

describe('reading plans', () => {
  it('fills in what is left out and makes lists of single values', () => {
    const plan = readPlan('{"version": 1, "name": "Small", "files": {"scenes": {"match": "*.json", "as": "scene"}}}');
    expect(plan.files['scenes'].match).toEqual(['*.json']);
    expect(plan.files['scenes'].named).toEqual({ file: 'stem' });
    expect([plan.calls, plan.scripts, plan.engine.events]).toEqual([[], {}, []]);
  });

  it('allows comments and trailing commas', () => {
    expect(readPlan('{ "version": 1, /* ours */ "name": "Small", }').name).toBe('Small');
  });

  it('names an unknown key, its line, and the nearest right one', () => {
    const { mistakes } = refused('{\n  "version": 1,\n  "name": "Small",\n  "scrips": {}\n}');
    expect(mistakes[0]).toEqual(jasmine.objectContaining({ key: 'scrips', line: 4 }));
    expect(mistakes[0].message).toContain('Did you mean “scripts”?');
  });

  it('names keys deep inside and the nearest valid word', () => {
    const { mistakes } = refusedPlan({
      files: { scenes: { match: '*', as: 'scene', pieces: { boats: { at: '$', kind: 'objekt' } } } },
    });
    expect(mistakes[0].key).toBe('files.scenes.pieces.boats.kind');
    expect(mistakes[0].message).toContain('“objekt” is not known here. Did you mean “object”?');
  });

  it('names an unknown key deep inside, and the keys that would be right there', () => {
    const { mistakes } = refusedPlan({
      files: { scenes: { match: '*', as: 'scene', pieces: { boats: { at: '$', kind: 'object', lables: '$.x' } } } },
    });
    expect(mistakes[0].key).toBe('files.scenes.pieces.boats.lables');
    expect(mistakes[0].message).toContain('Did you mean “labels”?');
    expect(mistakes[0].message).not.toContain('literals');
  });

  it('names the plan that a mistake stands in, and its line there', () => {
    const bases: Record<string, string> = {
      'house.json':
        '{\n "calls": [\n  { "call": "a.b($path)", "means": "load" },\n  { "call": "a.c($path)", "means": "lode" }\n ]\n}',
      'more.json': '{ "extends": "house.json",\n\n "files": { "all": { "match": "*", "as": "scene", "id": "$.[" } } }',
    };
    const own = { version: 1, name: 'Small', extends: 'more.json', calls: [{ call: 'x.y($path)', means: 'load' }] };
    const error = refused(JSON.stringify(own), (name) => bases[name]);
    expect(error.mistakes.map(({ file, line, key }) => [file, line, key])).toEqual([
      ['more.json', 3, 'files.all.id'],
      ['house.json', 4, 'calls.2.means'],
    ]);
    expect(error.detail).toContain('more.json, line 3');
    const broken = refused(JSON.stringify(own), () => '{ oh');
    expect(broken.detail).toContain('more.json, line 1');
  });

  it('refuses what is nested too deeply', () => {
    for (const depth of [5_000, 100_000])
      expect(refused(`${'['.repeat(depth)}${']'.repeat(depth)}`).code).toBe('plan/not-json');
  });

  const rows: [object, string | undefined][] = [
    [{ call: 'bells.hear($event, $handler)', means: 'listen' }, undefined],
    [{ call: 'bells.hear($handler)', means: 'listen' }, 'names no $event'],
    [{ call: '$event.hear($handler)', means: 'listen' }, undefined],
    [{ call: 'signals.$event.hear($handler)', means: 'listen' }, undefined],
    [{ call: 'bells.hear($event, $path)', means: 'listen' }, 'names $path, which “listen” does not read'],
    [{ call: '*.part<$type>()', means: 'part' }, undefined],
    [{ call: '*.part($name)', means: 'part' }, 'names no $type'],
    [{ call: 'declare(_)', means: 'declare' }, 'names no $id or $name'],
    [{ call: '*.holder', means: 'step up' }, undefined],
    [{ call: '*.holder($name)', means: 'same object' }, 'It reads none'],
    [{ call: 'timer($function)', means: 'call' }, undefined],
    [{ call: 'timer($function)', means: 'call', target: { by: 'path' } }, 'must be “function”'],
  ];
  for (const [row, message] of rows)
    it(`tells whether a row can do something: ${JSON.stringify(row)}`, () => {
      const text = JSON.stringify({ version: 1, name: 'Small', calls: [row] });
      if (message === undefined) expect(readPlan(text).calls.length).toBe(1);
      else expect(refused(text).mistakes[0].message).toContain(message);
    });

  it('says which key is missing', () => {
    expect(refused('{"version": 1}').mistakes[0]).toEqual(
      jasmine.objectContaining({ key: 'name', message: 'is missing; it must be given.' }),
    );
  });

  it('reports every mistake, not only the first', () => {
    expect(refused('{"version": 2, "nome": 1}').mistakes.map((mistake) => mistake.key)).toEqual([
      'version',
      'name',
      'nome',
    ]);
  });

  it('explains a selector that cannot be read', () => {
    const { mistakes } = refusedPlan({ files: { scenes: { match: '*', as: 'scene', id: '$.[' } } });
    expect(mistakes[0].key).toContain('files.scenes.id');
  });

  it('explains a pattern and a call that cannot be read', () => {
    expect(refusedPlan({ calls: [{ call: 'a.-.b()', means: 'send' }] }).mistakes[0].message).toContain(
      '“-” is not a name',
    );
    expect(
      refusedPlan({ files: { s: { match: '*', as: 'scene', references: { r: { at: '$', by: 'id', pattern: '(' } } } } })
        .mistakes[0].key,
    ).toBe('files.s.references.r.pattern');
  });

  it('knows the checks by name', () => {
    expect(refusedPlan({ checks: { 'fragile/climbs': 'off' } }).mistakes[0].message).toContain(
      'Did you mean “fragile/climb”?',
    );
  });

  it('says where text that is no JSON goes wrong', () => {
    const error = refused('{\n "version" 1 }');
    expect(error.code).toBe('plan/not-json');
    expect(error.mistakes[0].line).toBe(2);
    expect(refused('').code).toBe('plan/not-json');
  });

  it('refuses what is no object', () => {
    expect(refused('[1]').code).toBe('plan/invalid');
  });
});

describe('call patterns', () => {
  it('reads calls, properties, any receiver and receivers that are an argument', () => {
    expect(parseCallPattern('bells.ring($event, ...)')).toEqual({
      head: { is: 'chain', steps: [{ is: 'exact', name: 'bells' }] },
      member: 'ring',
      typeArguments: [],
      arguments: [{ role: 'event' }],
      more: true,
    });
    expect(parseCallPattern('*.holder')).toEqual({
      head: { is: 'any receiver' },
      member: 'holder',
      typeArguments: [],
      more: false,
    });
    expect(parseCallPattern('$event.announce(_)').head).toEqual({ is: 'role', role: 'event' });
    expect(parseCallPattern('spawnFrom($path)').head).toEqual({ is: 'chain', steps: [] });
  });

  it('reads type arguments and operators that listen', () => {
    expect(parseCallPattern('*.part<$type>()')).toEqual({
      head: { is: 'any receiver' },
      member: 'part',
      typeArguments: ['type'],
      arguments: [],
      more: false,
    });
    expect(parseCallPattern('$event.+=($handler)').member).toBe('+=');
  });

  it('reads wildcards, names in the chain, receiver types, arguments by name and fixed texts', () => {
    expect(parseCallPattern('signals.$event.fire(...)').head).toEqual({
      is: 'chain',
      steps: [
        { is: 'exact', name: 'signals' },
        { is: 'role', role: 'event' },
      ],
    });
    expect(parseCallPattern('deck.on*($handler)').member).toBe('on*');
    expect(parseCallPattern('<Rope>.pull($count)').head).toEqual({ is: 'type', type: 'Rope' });
    expect(parseCallPattern("ask('part', prefab: $path, _)").arguments).toEqual([
      { text: 'part' },
      { key: 'prefab', role: 'path' },
      {},
    ]);
  });

  for (const text of ['', 'a b', '<Rope>.a.b()', 'a.*()', 'x($nope)', 'x(..., $name)', '1x()', 'x(', '$event']) {
    it(`refuses “${text}”`, () => expect(() => parseCallPattern(text)).toThrowError(/not a call pattern/));
  }
});
