/** What the code of a team goes by: learned from small projects, and left alone where it is not kept to. */
import { CHECK_IDS } from '../checks/registry.js';
import { plain, type Finding } from '../model/finding.js';
import { readPlan } from '../reading/plan/read-plan.js';
import { analyseTexts } from '../testing/sample.js';
import { useGrammars } from '../testing/project.js';
import { learn } from './learn.js';
import { planOf } from './plan-of.js';
import { planText } from './plan-text.js';

interface Plan {
  scripts: Record<string, Record<string, unknown>>;
  calls?: { call: string; means: string }[];
  engine?: { types?: string[]; members?: string[]; events?: string[]; functions?: string[] };
}

const learned = (files: Record<string, string>) =>
  planOf('Flight', learn(Object.entries(files).map(([path, text]) => ({ path, text }))));
const plan = (files: Record<string, string>): Plan => learned(files).plan as unknown as Plan;
const calls = (files: Record<string, string>): string[] =>
  (plan(files).calls ?? []).map(({ call, means }) => `${call} ${means}`);

const NAMES = ['tow-rope', 'deep-hull', 'long-oar', 'lock-gate', 'tide-mark', 'old-barge', 'grey-punt', 'sea-weir'];
const pascal = (name: string): string => name.replace(/(?:^|-)(\w)/g, (_, letter: string) => letter.toUpperCase());
/** A script for each of the names, each with a class in it. */
const scripts = (body: (at: number, type: string) => string, path = (name: string) => `scripts/${name}.ts`) =>
  Object.fromEntries(NAMES.map((name, at) => [path(name), body(at, pascal(name))]));
const worker = (type: string, inside = ''): string =>
  `import { Worker } from 'deck';\nexport class ${type} extends Worker {\n  begin() {\n    this.turn(1);\n  }\n${inside}}\n`;

describe('what code goes by is learned', () => {
  beforeAll(useGrammars);

  describe('how types are named after their files', () => {
    it('when nearly all are', () => {
      const files = { ...scripts((_, type) => worker(type)), 'scripts/far-buoy.ts': worker('FarBuoy') };
      expect(plan(files).scripts['ts']?.['typeNamed']).toBe('pascal');
      const other = { ...files, 'scripts/big-bell.ts': worker('Clock') };
      expect(plan(other).scripts['ts']?.['typeNamed']).toBe('pascal');
      expect(learned(other).evidence.find(({ key }) => key === 'scripts.ts.typeNamed')?.misses).toEqual([
        'Clock in scripts/big-bell.ts',
      ]);
    });
    it('as they are written, where they are', () =>
      expect(
        plan(
          scripts(
            (at) => worker(pascal(NAMES[at] ?? '')),
            (name) => `scripts/${pascal(name)}.ts`,
          ),
        ).scripts['ts']?.['typeNamed'],
      ).toBe('same'));
    it('but not when many are not', () =>
      expect(
        plan(scripts((at, type) => worker(at % 3 === 0 ? `My${type}` : type))).scripts['ts']?.['typeNamed'],
      ).toBeUndefined());
  });

  describe('functions that hear an event by their name', () => {
    const EVENTS = ['fog', 'ebb', 'horn'];
    const lua = (heard: (at: number) => string, sent: (at: number) => string): Record<string, string> =>
      Object.fromEntries(
        EVENTS.map((_, at) => [
          `scripts/w${at}.lua`,
          `local W${at} = {}\nfunction W${at}:begin()\n  bells.ring("${sent(at)}", 1)\nend\nfunction W${at}:${heard((at + 1) % 3)}(depth)\nend\nreturn W${at}\n`,
        ]),
      );
    it('with what stands in front of the events', () => {
      const files = lua(
        (at) => `on_${EVENTS[at] ?? ''}`,
        (at) => `pilot.${EVENTS[at] ?? ''}`,
      );
      expect(plan(files).scripts['lua']?.['handlers']).toEqual([{ functions: '^on_(\\w+)$', event: 'pilot.*' }]);
      expect(calls(files)).toContain('bells.ring($event, ...) send');
    });
    it('but not when they are called otherwise, or called by the code', () => {
      const files = lua(
        (at) => `do_${EVENTS[at] ?? ''}`,
        (at) => `pilot.${EVENTS[at] ?? ''}`,
      );
      expect(plan(files).scripts['lua']?.['handlers']).toBeUndefined();
      const called = lua(
        (at) => `on_${EVENTS[at] ?? ''}`,
        (at) => `pilot.${EVENTS[at] ?? ''}`,
      );
      const text = EVENTS.map((event) => `w:on_${event}(1)\n`).join('');
      expect(plan({ ...called, 'scripts/all.lua': text }).scripts['lua']?.['handlers']).toBeUndefined();
    });
  });

  describe('how imports lead to files', () => {
    const takes = (from: (at: number) => string): Record<string, string> => ({
      ...Object.fromEntries(NAMES.map((name) => [`src/lib/${name}.lua`, 'return {}\n'])),
      ...Object.fromEntries(
        NAMES.slice(0, 4).map((name, at) => [
          `src/parts/${name}-part.lua`,
          `local one = require "${from(at)}"\nreturn {}\n`,
        ]),
      ),
    });
    it('below a name that stands for a folder', () =>
      expect(plan(takes((at) => `crew.${NAMES[at] ?? ''}`)).scripts['lua']?.['imports']).toEqual({
        pattern: '^crew/(.+)$',
        roots: ['src/lib'],
        endings: ['.lua'],
      }));
    it('but not where most lead nowhere, or what is taken in is no file of the project', () => {
      expect(
        plan(takes((at) => `crew.${at === 0 ? (NAMES[0] ?? '') : `none${at}`}`)).scripts['lua']?.['imports'],
      ).toBeUndefined();
      expect(plan(takes(() => 'socket')).scripts['lua']?.['imports']).toBeUndefined();
    });
  });

  describe('what the engine gives', () => {
    const files = {
      ...scripts((at, type) => worker(type, at === 0 ? '  squeak() {}\n  go() {\n    this.sqeak();\n  }\n' : '')),
      'scripts/one.ts': worker('One', '  go() {\n    this.fade();\n  }\n'),
    };
    const findings = (): Finding[] => {
      const text = planText(learned(files));
      return analyseTexts(readPlan(text, CHECK_IDS), new Map(Object.entries(files))).findings;
    };
    it('is what scripts use and none declares, but for a slip of the pen', () => {
      expect(plan(files).engine).toEqual({ types: ['Worker'], members: ['fade', 'turn'] });
      const calls = findings().filter(({ check }) => check === 'broken/missing-call');
      expect(calls.map(({ severity, sentence }) => `${severity} ${plain(sentence)}`)).toEqual([
        'warning TowRope calls sqeak() on itself, and neither it nor its parents have it; there is squeak()',
      ]);
    });
    it('may be called as what another type declares itself', () => {
      const other = {
        ...scripts((at, type) => worker(type, at === 0 ? '  show() {}\n' : '')),
        'scripts/one.ts': worker('One', '  go() {\n    this.show();\n  }\n'),
      };
      expect(plan(other).engine?.members).toEqual(['show', 'turn']);
    });
    it('is nothing where no script descends from what is not there', () =>
      expect(plan(scripts((_, type) => `export class ${type} {\n  begin() {}\n}\n`)).engine).toBeUndefined());
    it('are events of one beginning that are heard and never sent', () => {
      const hears = (event: (at: number) => string) =>
        scripts(
          (at, type) =>
            `import { Worker, bells } from 'deck';\nexport class ${type} extends Worker {\n  begin() {\n    bells.hear('${event(at)}', () => {});\n    bells.ring('tide.t${at % 3}');\n    bells.hear('tide.t${at % 3}', () => {});\n  }\n}\n`,
        );
      expect(plan(hears((at) => `deck.e${at % 4}`)).engine?.events).toEqual(['deck.*']);
      expect(plan(hears((at) => `tide.u${at % 4}`)).engine?.events).toBeUndefined();
    });
  });

  describe('what calls make known', () => {
    const wares = NAMES.map(
      (name) => `yard.register_ware("hold:${name}", { title = "${name}", on_lift = function() end })\n`,
    );
    const used = NAMES.map((name, at) => `function s${at}()\n  ship.give("hold:${name}", 2)\nend\n`);
    it('is what other calls name', () =>
      expect(calls({ 'hold/wares.lua': wares.join(''), 'hold/steps.lua': used.join('') })).toEqual(
        jasmine.arrayWithExactContents(['yard.register_ware($id, ...) declare', 'ship.give($id, ...) refer']),
      ));
    it('but not when nothing names it, or when the language gives the call', () => {
      expect(calls({ 'hold/wares.lua': wares.join('') })).toEqual([]);
      const printed = used.join('').replace(/ship\.give/g, 'print');
      expect(calls({ 'hold/wares.lua': wares.join(''), 'hold/steps.lua': printed })).toEqual([]);
    });
  });

  describe('functions that a text names', () => {
    const timed = (call: string, text: (at: number) => string) =>
      scripts((at, type) => worker(type, `  go${at}() {\n    ${call}('${text(at)}', 3);\n  }\n  flash${at}() {}\n`));
    it('are called when their time comes', () =>
      expect(calls(timed('later', (at) => `flash${at}`))).toContain('later($function, ...) call'));
    it('are the engine’s, where scripts call them and none declares them', () => {
      const files = {
        ...timed('later', (at) => (at === 0 ? 'dimAll' : `flash${at}`)),
        'scripts/dim.ts': 'dimAll(1);\ndimAll(2);\ndimAl(3);\n',
      };
      expect(plan(files).engine?.functions).toEqual(['dimAll', 'later']);
    });
    it('but not when they are none', () =>
      expect(calls(timed('later', (at) => `other${at}`)).join()).not.toContain('$function'));
  });
});
