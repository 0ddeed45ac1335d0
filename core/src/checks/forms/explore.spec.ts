import { scanWith, PLAN, useGrammars } from '../../testing/project.js';
import { plain } from '../../model/finding.js';
import { BEHAVIOURS } from './behaviours.js';
import { CAN, ENDINGS, written } from './code.js';
import type { Language } from '../../reading/plan/plan.js';

export const LANGUAGES = Object.keys(ENDINGS) as Language[];
export const FORMS_PLAN = {
  ...PLAN,
  files: { ...PLAN.files, scenes: { ...PLAN.files.scenes, id: '$.id', pieces: { objects: { ...PLAN.files.scenes.pieces.objects, barred: { field: '$.mode', is: 'scenery' } } } }, list: { match: 'build.json', as: 'data asset', references: { scenes: { at: '$.scenes[*]', by: 'path', role: 'build list', verb: 'loads' } } }, labels: { match: 'labels.json', as: 'data asset', pieces: { labels: { at: '$.labels[*]', kind: 'label', named: '$.name' } } } },
  scripts: Object.fromEntries(LANGUAGES.map((language) => [language, { match: `scripts/*.${ENDINGS[language]}`, language, exposed: { decorators: ['Slot', 'slot'], types: ['Slot'] }, moments: { start: ['begin'], everyFrame: ['everyFrame'], leave: ['end'] } }])),
  calls: [
    ...PLAN.calls.filter(({ call }) => !call.startsWith('stage.find')),
    { call: 'stage.find($name)', means: 'find', scope: 'one' },
    { call: 'bells.forget($event)', means: 'let go' },
    { call: '*.attach($type)', means: 'attach' },
    { call: '*.childAt($index)', means: 'child' },
    { call: '*.moveTo(_)', means: 'travel' },
    { call: '*.putUnder(_)', means: 'move' },
    { call: 'remove($object)', means: 'destroy', scope: 'one' },
    { call: 'desk.isTyping()', means: 'asks input' },
    { call: 'stage.every($type)', means: 'find type', scope: 'all' },
    { call: '*.hide()', means: 'switch', scope: 'one' },
    { call: '*.show()', means: 'switch', scope: 'one' },
    { call: 'stage.enter($name)', means: 'load', target: { by: 'id', kinds: ['scene'] } },
  ],
  engine: { events: ['engine.*'], repeats: ['engine.touched'], inputs: ['engine.key'], parts: ['Body'], types: ['Behaviour'], functions: ['spawnFrom', 'remove'], members: ['holder', 'child', 'part', 'attach', 'show', 'hide', 'turn', 'moveTo', 'childAt', 'putUnder', 'extend'] },
};
describe('explore', () => {
  beforeAll(useGrammars);
  it('x', () => {
    const only = process.env.ONLY;
    const rows: string[] = [];
    for (const behaviour of BEHAVIOURS) {
      if (only && !`${behaviour.check} ${behaviour.does}`.includes(only)) continue;
      const cells = new Map<string, string>();
      for (const bad of [true, false])
        for (const [form, { module, only: needs }] of Object.entries(behaviour.forms(bad)))
          for (const language of LANGUAGES) {
            if (needs && !CAN[needs].includes(language)) continue;
            const files = {
              [`scripts/own.${ENDINGS[language]}`]: written(language, module),
              'scenes/quay.json': { scene: 'quay', objects: [
                { name: 'Harbour', parts: [{ type: 'Ring' }, { type: 'Body' }], objects: [ { name: 'Berth', parts: [{ type: 'Ring' }], objects: [{ name: 'Boat', parts: [{ type: 'Own' }], objects: [{ name: 'Cleat', parts: [{ type: 'Ring' }], objects: [{ name: 'Ring' }] }, { name: 'Second' }], ...behaviour.boat?.(bad) }] }] },
                { name: 'Mill', labels: ['floating'] }, { name: 'Weir', mode: 'scenery' }, { name: 'Post' }, { name: 'Post' },
                ...(behaviour.objects?.(bad) ?? []),
              ], id: 'quay' },
              'scenes/night.json': { id: 'night', objects: [] },
              'build.json': { scenes: ['scenes/quay.json'] },
              'prefabs/buoy.json': { objects: [{ name: 'Buoy', objects: [{ name: 'Lamp' }] }] },
              ...behaviour.files?.(bad),
            };
            if (process.env.SHOW === `${form}/${language}/${bad}`) console.log(files[`scripts/own.${ENDINGS[language]}`]);
            let result = '';
            try {
              const { findings } = scanWith(files, FORMS_PLAN as never);
              const fires = findings.some(({ check }) => check === behaviour.check);
              const others = findings.filter(({ check }) => check !== behaviour.check && !['broken/wrong-place'].includes(check) && check.startsWith('broken')).map((f) => plain(f.sentence));
              result = (fires === bad ? '.' : bad ? 'M' : 'F') + (process.env.OTHERS && others.length ? others.join(';') : '');
              if (process.env.SHOW === `${form}/${language}/${bad}`) console.log(findings.map((f) => f.check + ' ' + plain(f.sentence)).join('\n'));
            } catch (error) { result = 'E' + (error as Error).message.slice(0, 80); }
            cells.set(form, (cells.get(form) ?? '') + result);
          }
      rows.push(`## ${behaviour.check}: ${behaviour.does}`);
      for (const [form, cell] of cells) if (/[MFE]/.test(cell) || process.env.OTHERS) rows.push(`  ${form.padEnd(34)} ${cell}`);
    }
    console.log(rows.join('\n'));
  });
});
