/** The plan of the project in which forms are tried. */
import { PLAN } from '../project.js';
import type { Language } from '../../reading/plan/plan.js';
import { ENDINGS } from './code.js';

export const LANGUAGES = Object.keys(ENDINGS) as Language[];

const { scenes } = PLAN.files;

export const FORMS_PLAN = {
  files: {
    ...PLAN.files,
    scenes: {
      ...scenes,
      id: '$.id',
      pieces: { objects: { ...scenes.pieces.objects, barred: { field: '$.mode', is: 'scenery' } } },
    },
    list: {
      match: 'build.json',
      as: 'data asset',
      references: { scenes: { at: '$.scenes[*]', by: 'path', role: 'build list', verb: 'loads' } },
    },
    graphs: {
      match: 'graphs/*.json',
      as: 'graph',
      pieces: { steps: { at: '$.steps[*]', kind: 'step' } },
      graphs: {
        steps: {
          steps: 'steps',
          kind: '$.does',
          means: {
            ring: { verb: 'sends', event: '$.what', scope: 'all' },
            hear: { verb: 'listens to', event: '$.what', scope: 'all' },
            spawn: { verb: 'spawns', field: '$.what', by: 'path' },
            enter: { verb: 'loads', field: '$.what', by: 'id', kinds: ['scene'] },
            call: { verb: 'uses', field: '$.what', by: 'label' },
          },
        },
      },
    },
    labels: {
      match: 'labels.json',
      as: 'data asset',
      pieces: { labels: { at: '$.labels[*]', kind: 'label', named: '$.name' } },
    },
  },
  scripts: Object.fromEntries(
    LANGUAGES.map((language) => [
      language,
      {
        match: `scripts/*.${ENDINGS[language]}`,
        language,
        exposed: { decorators: ['Slot', 'slot'], types: ['Slot'] },
        moments: { start: ['begin'], everyFrame: ['everyFrame'], leave: ['end'] },
      },
    ]),
  ),
  calls: [
    ...PLAN.calls.filter(({ call }) => !call.startsWith('stage.find')),
    { call: 'stage.find($name)', means: 'find', scope: 'one' },
    { call: 'stage.every($type)', means: 'find type', scope: 'all' },
    { call: 'stage.enter($name)', means: 'load', target: { by: 'id', kinds: ['scene'] } },
    { call: 'spawnFrom($path, $parent)', means: 'spawn', scope: 'one' },
    { call: 'remove($object)', means: 'destroy', scope: 'one' },
    { call: 'timer($function)', means: 'call' },
    { call: 'bells.forget($event)', means: 'let go' },
    { call: 'desk.isTyping()', means: 'asks input' },
    { call: '*.childAt($index)', means: 'child' },
    { call: '*.moveTo(_)', means: 'travel' },
    { call: '*.putUnder(_)', means: 'move' },
    { call: '*.drop($type)', means: 'detach' },
    { call: '*.hide()', means: 'switch', scope: 'one' },
    { call: '*.show()', means: 'switch', scope: 'one' },
  ],
  engine: {
    events: ['engine.*'],
    repeats: ['engine.touched'],
    inputs: ['engine.key'],
    parts: ['Body'],
    types: ['Behaviour'],
    functions: ['spawnFrom', 'remove', 'timer', 'slot'],
    members: ['holder', 'child', 'part', 'show', 'hide', 'turn', 'moveTo', 'childAt', 'putUnder', 'drop', 'extend'],
  },
};

/** The files around the script: a harbour with a boat in it, a mill, a weir that bars scripting, two posts. */
export function filesAround(
  boat: object,
  objects: object[],
  wires: Readonly<Record<string, string>> = {},
  mill: object = {},
): Record<string, object> {
  const saved = Object.entries(wires).map(([when, does]) => ({ when, to: '#boat', do: does }));
  const ring = { type: 'Ring' };
  const cleat = { name: 'Cleat', parts: [ring], objects: [{ name: 'Ring' }] };
  const floats = {
    name: 'Boat',
    ...(saved.length > 0 && { id: 'boat' }),
    parts: [{ type: 'Own' }],
    objects: [cleat, { name: 'Second' }],
    ...boat,
  };
  const berth = { name: 'Berth', parts: [ring], objects: [floats] };
  return {
    'scenes/quay.json': {
      id: 'quay',
      objects: [
        { name: 'Harbour', parts: [ring, { type: 'Body' }], objects: [berth] },
        { name: 'Mill', labels: ['floating'], ...mill },
        { name: 'Weir', mode: 'scenery' },
        { name: 'Post' },
        { name: 'Post' },
        ...objects,
      ],
      wires: saved,
    },
    'scenes/night.json': { id: 'night', objects: [] },
    'build.json': { scenes: ['scenes/quay.json'] },
    'prefabs/buoy.json': { objects: [{ name: 'Buoy', objects: [{ name: 'Lamp' }] }] },
  };
}
