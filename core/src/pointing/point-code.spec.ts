import { parse } from 'jsonc-parser';
import type { Language } from '../reading/plan/plan.js';
import { useGrammars } from '../testing/project.js';
import { pointedIn, previewCode, sayInCode, type CodeDesk, type PointedCodeView } from './code-bench.js';

const ROPE = `import { Behaviour, bells } from 'deck';

export class TowRope extends Behaviour {
  @slot() strengths!: DataTable;
  private cleat!: StageThing;
  stage: Stage;

  begin(): void {
    this.cleat = this.stage.find('Cleat');
    const boat = this.holder;
    boat.child('Stern').part<Winch>();
    bells.hear('rope.tight', (load) => this.pull(load));
    bells.ring('rope.slack', 3, 'soft');
    spawn({ prefab: 'prefabs/buoy', under: boat });
  }

  onTideTurned(): void {
    remove(this.cleat);
  }
}
`;
const PLAN = `{
  // ours
  "version": 1,
  "name": "Small",
  "scripts": { "ts": { "match": "**/*.ts", "language": "typescript" } },
  "calls": [{ "call": "bells.ring($event, ...)", "means": "send" }]
}
`;
const PATHS = ['scripts/rope.ts', 'art/prefabs/buoy.prefab.json', 'data/list.json'];

interface Written {
  calls: Record<string, unknown>[];
  scripts: Record<string, Record<string, unknown>>;
}

describe('pointing into a script', () => {
  beforeAll(useGrammars);

  const desk = (text = ROPE, plan = PLAN, language: Language = 'typescript', path = 'scripts/rope.ts'): CodeDesk => ({
    plan,
    bases: {},
    path,
    text,
    language,
  });
  const at = (words: string, on = desk()): PointedCodeView[] => pointedIn(on, on.text.indexOf(words) + 1);
  /** What the plan has once something was said of the innermost thing at some words. */
  const said = (
    words: string,
    saying: string,
    { on = desk(), form = 0, around = 0 }: { on?: CodeDesk; form?: number; around?: number } = {},
  ): { rule: string; text: string } & Written => {
    const told = sayInCode(on, { offset: on.text.indexOf(words) + 1, around, form, saying }, PATHS);
    return { ...told, ...(parse(told.text) as Written) };
  };
  const found = (plan: string, on = desk()): Record<string, number> =>
    Object.fromEntries(previewCode({ ...on, plan }).counts.map(({ rule, count }) => [rule, count]));

  it('tells what is given to a call from the call, and what is further out', () => {
    const [text, call] = at("'Cleat'");
    expect([text?.is, text?.words]).toEqual(['argument', "'Cleat'"]);
    expect([call?.is, call?.words]).toEqual(['call', "this.stage.find('Cleat')"]);
    expect(at('find(').map(({ is }) => is)).toEqual(['call']);
    expect(at('holder')[0]).toEqual(jasmine.objectContaining({ is: 'property', words: 'this.holder' }));
    expect(at('begin')[0]?.is).toBe('function');
    expect(at('strengths')[0]?.is).toBe('field');
    expect(at('import')).toEqual([]);
  });

  it('names what a call is made on where that says something elsewhere, and else any receiver', () => {
    const heads = (words: string): string[] => at(words)[0].forms.map(({ head, alike }) => `${head} ${alike}`);
    expect(heads("'rope.tight'")).toEqual(['bells.hear 1', '*.hear 1']);
    expect(heads("'Stern'")).toEqual(['*.child 1', 'boat.child 1']);
    // The own type declares “stage”: elsewhere it may be called otherwise.
    expect(heads("'Cleat'")).toEqual(['*.find 1', 'stage.find 1']);
    expect(heads("'prefabs/buoy'")).toEqual(['spawn 1']);
  });

  it('says what the plan already makes of it', () => {
    expect(at("'rope.slack'")[0]?.known).toEqual({ call: 'bells.ring($event, ...)', means: 'send' });
    expect(at("'Cleat'")[0]?.known).toBeUndefined();
    expect(pointedIn({ ...desk(), plan: '{' }, ROPE.indexOf("'Cleat'"))[0]?.is).toBe('argument');
  });

  it('writes what is said so that the plan then finds the place, whatever it is', () => {
    for (const words of [
      'onTide',
      "'Cleat'",
      'find(',
      'holder',
      'begin',
      'strengths',
      "'Stern'",
      "'prefabs/buoy'",
      '(this.cleat)',
    ])
      for (const { id } of at(words)[0].sayings) {
        const { text, rule } = said(words, id);
        expect(text).withContext(`${words} ${id}`).toContain('// ours');
        const preview = previewCode({ ...desk(), plan: text });
        expect(preview.mistakes).withContext(`${words} ${id}`).toEqual([]);
        // That a name alone is heard shows on the map, not in the file.
        if (id !== 'hears')
          expect(preview.counts.map((one) => one.rule))
            .withContext(`${words} ${id}`)
            .toContain(rule);
      }
  });

  it('writes rows as people would', () => {
    const row = (...given: Parameters<typeof said>): unknown => said(...given).calls.at(-1);
    expect(row("'Cleat'", 'find')).toEqual({ call: '*.find($name)', means: 'find' });
    expect(row("'Cleat'", 'find', { form: 1 })).toEqual({ call: 'stage.find($name)', means: 'find' });
    expect(row("'rope.tight'", 'heard')).toEqual({ call: 'bells.hear($event, $handler)', means: 'listen' });
    expect(row('part<', 'part of type')).toEqual({ call: '*.part<$type>()', means: 'part' });
    expect(row('holder', 'above')).toEqual({ call: '*.holder', means: 'step up' });
    expect(row('(this.cleat)', 'destroyed')).toEqual({ call: 'remove($object)', means: 'destroy' });
    expect(row("'Cleat'", 'itself moved', { around: 1 })).toEqual({ call: '*.find(...)', means: 'travel' });
  });

  it('finds out how a path leads to a file', () => {
    const { calls } = said("'prefabs/buoy'", 'prefab');
    expect(calls[1]).toEqual({
      call: 'spawn(prefab: $path, ...)',
      means: 'spawn',
      target: { by: 'path', endings: '.prefab.json', roots: 'art' },
    });
    const target = (path: string): unknown =>
      said(`'${path}'`, 'file', { on: desk(`open('${path}');`) }).calls.at(-1)!['target'];
    expect(target('data/list.json')).toEqual({ by: 'path' });
    expect(target('./list.json')).toEqual({ by: 'path', from: 'file' });
    expect(target('list.json')).toEqual({ by: 'path', anywhere: true });
    expect(target('list')).toEqual({ by: 'path', endings: '.json', anywhere: true });
    expect(target('prefabs/buoy.prefab.json')).toEqual({ by: 'path', roots: 'art' });
    expect(target('nowhere')).toEqual({ by: 'path' });
  });

  it('puts a row before the one that said something else, beside it for another argument, and in its own place', () => {
    const before = said("'rope.slack'", 'name', { form: 1 });
    expect(before.calls.map(({ call }) => call)).toEqual(['*.ring($name, ...)', 'bells.ring($event, ...)']);
    expect(found(before.text)).toEqual({ 'calls: *.ring($name, ...)': 1 });
    const beside = said("'soft'", 'name');
    expect(beside.calls[1]).toEqual(jasmine.objectContaining({ call: 'bells.ring(_, _, $name)', also: true }));
    expect(Object.keys(found(beside.text)).sort()).toEqual(['calls: bells.ring($event, ...)', beside.rule]);
    const [first, second] = [
      said("'rope.slack'", 'sent'),
      said("'Cleat'", 'child', { on: desk(ROPE, said("'Cleat'", 'find').text) }),
    ];
    expect(first.calls).toEqual([{ call: 'bells.ring($event, ...)', means: 'send' }]);
    const scoped = PLAN.replace('"send" }', '"send", "scope": "all" }');
    expect(said("'rope.slack'", 'sent', { on: desk(ROPE, scoped) }).calls[0]['scope']).toBe('all');
    expect(said("'rope.slack'", 'heard', { on: desk(ROPE, scoped) }).calls[0]['scope']).toBeUndefined();
    expect(second.calls.map(({ means }) => means)).toEqual(['send', 'child']);
  });

  it('writes of functions and fields what they have in common with their like', () => {
    expect(said('begin', 'start').scripts['ts']).toEqual(jasmine.objectContaining({ moments: { start: ['begin'] } }));
    expect(said('onTide', 'hears').scripts['ts']['handlers']).toEqual([{ functions: 'on(\\w+)', event: '*' }]);
    const twice = said('onTide', 'hears', { on: desk(ROPE, said('onTide', 'hears').text) });
    expect(twice.scripts['ts']['handlers']).toEqual([{ functions: 'on(\\w+)', event: '*' }]);
    expect(said('begin', 'hears').scripts['ts']['handlers']).toEqual([{ functions: 'begin', event: 'begin' }]);
    const marked = said('strengths', 'marked slot');
    expect(marked.scripts['ts']['exposed']).toEqual({ decorators: ['slot'] });
    expect(found(marked.text)).toEqual({ 'calls: bells.ring($event, ...)': 1, 'scripts.ts.exposed': 1 });
    const named = said('cleat!', 'of name', { on: desk(ROPE, said('strengths', 'of name').text) });
    expect(named.scripts['ts']['exposed']).toEqual({ names: '^strengths$|^cleat$' });
    expect(said('strengths', 'of type').scripts['ts']['exposed']).toEqual({ types: ['DataTable'] });
  });

  it('writes the rule for scripts where there is none', () => {
    const bare = '{ "version": 1, "name": "Small" }';
    const { scripts, calls } = said("'Cleat'", 'find', { on: desk(ROPE, bare) });
    expect(scripts).toEqual({ typescript: { match: '**/*.ts', language: 'typescript' } });
    expect(calls).toEqual([{ call: '*.find($name)', means: 'find' }]);
  });

  it('works in every language', () => {
    const cases: [Language, string, string, string][] = [
      ['javascript', 'a.js', 'stage.find("Cleat");', 'stage.find($name)'],
      ['lua', 'a.lua', 'function begin() stage.find("Cleat") end', 'stage.find($name)'],
      ['lua', 'b.lua', 'function begin(boat) boat:find("Cleat") end', '*.find($name)'],
      ['csharp', 'a.cs', 'class A { void Begin() { Stage.Find("Cleat"); } }', 'Stage.Find($name)'],
      ['csharp', 'b.cs', 'class A { void Begin() { Find("Cleat", 2); } }', 'Find($name, ...)'],
      ['python', 'a.py', 'def begin():\n    stage.find(name="Cleat")\n', 'stage.find(name: $name)'],
    ];
    for (const [language, path, text, call] of cases) {
      const on = desk(text, '{ "version": 1, "name": "Small" }', language, path);
      const told = said('"Cleat"', 'find', { on });
      expect(told.calls)
        .withContext(text)
        .toEqual([{ call, means: 'find' }]);
      expect(found(told.text, on))
        .withContext(text)
        .toEqual({ [`calls: ${call}`]: 1 });
    }
  });

  it('has nothing to say of calls that no pattern can name, in code that is broken as well', () => {
    expect(at('"x"', desk('made()("x");'))).toEqual([]);
    const broken = desk('class A { begin( { stage.find("Gate") ');
    for (let offset = 0; offset <= broken.text.length; offset++)
      for (const [around, { sayings }] of pointedIn(broken, offset).entries())
        for (const { id: saying } of sayings)
          expect(() => sayInCode(broken, { offset, around, form: 0, saying }, PATHS)).not.toThrow();
  });

  it('has nothing to say of code that nests too deeply', () => {
    const on = desk(`find(${'['.repeat(20_000)}${']'.repeat(20_000)})`);
    expect(pointedIn(on, 2)).toEqual([]);
  });
});
