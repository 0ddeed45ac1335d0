/** How the scripts of a dialect speak to their engine: names of calls, events, languages; and the scripts themselves. */
import type { Language } from '../../reading/plan/plan.js';
import {
  ask,
  call,
  each,
  fn,
  keep,
  member,
  name,
  own,
  run,
  self,
  set,
  text,
  written,
  ENDINGS,
  type Expression,
  type Function,
  type Module,
  type Statement,
} from '../forms/code.js';
import type { Chance } from './chance.js';
import type { ScriptType, World } from './world.js';

export interface Speech {
  languages: Language[];
  folder: string;
  /** The service by which scenes are looked through, or none where plain functions do it. */
  stage: string;
  bells: string;
  book: string;
  find: string;
  child: string;
  up: string;
  part: string;
  partBy: 'name' | 'text';
  spawn: string;
  load: string;
  entry: string;
  labelled: string;
  send: string;
  hear: string;
  forget: string;
  begin: string;
  frame: string;
  end: string;
  /** How events are named: by a text, a constant that stands for one, or a member of the service. */
  events: 'text' | 'constant' | 'member';
  handlers: 'method' | 'in place' | 'mixed';
  base: string;
  engine: Record<string, string[]>;
  eventText: (event: string) => string;
  languageOf: (type: string) => Language;
  fileOf: (type: string) => string;
}

export function speechOf(chance: Chance): Speech {
  const languages = chance.some<Language>(['typescript', 'javascript', 'lua', 'csharp', 'python'], chance.whole(1, 2));
  const folder = chance.one(['scripts', 'code', 'logic/parts']);
  const first = languages[0] ?? 'typescript';
  const languageOf = (type: string): Language => languages[type.length % languages.length] ?? first;
  const begin = chance.one(['begin', 'setUp', 'awaken', 'onStart']);
  const frame = chance.one(['everyFrame', 'tick', 'beat', 'onTurn']);
  const end = chance.one(['leave', 'onEnd', 'farewell']);
  const speech: Speech = {
    languages,
    folder,
    stage: chance.one(['stage', 'reach', 'scenery']),
    bells: chance.one(['bells', 'wire', 'horns']),
    book: chance.one(['book', 'ledger', 'register']),
    find: chance.one(['find', 'seek', 'lookFor', 'pick']),
    child: chance.one(['child', 'below', 'inner', 'getChild']),
    up: chance.one(['holder', 'owner', 'above', 'parent']),
    part: chance.one(['part', 'duty', 'getPart', 'askFor']),
    partBy: chance.one(['name', 'text'] as const),
    spawn: chance.one(['spawnFrom', 'build', 'makeOf', 'launch']),
    load: chance.one(['enter', 'open', 'travelTo', 'goTo']),
    entry: chance.one(['entry', 'row', 'record', 'page']),
    labelled: chance.one(['labelled', 'marked', 'allWith']),
    send: chance.one(['ring', 'send', 'tell', 'sound']),
    hear: chance.one(['hear', 'listen', 'on', 'heed']),
    forget: chance.one(['forget', 'off', 'mute']),
    begin,
    frame,
    end,
    events: chance.one(['text', 'text', 'constant', 'member'] as const),
    handlers: chance.one(['method', 'in place', 'mixed'] as const),
    base: chance.one(['Behaviour', 'Duty', 'Worker']),
    languageOf,
    fileOf: (type: string) =>
      `${folder}/${type.replace(/(?<=[a-z])(?=[A-Z])/g, '-').toLowerCase()}.${ENDINGS[languageOf(type)]}`,
    eventText: (event: string) => (speech.events === 'member' ? asMember(event) : event),
    engine: {},
  };
  speech.engine = {
    types: [speech.base],
    members: [speech.up, speech.child, speech.part, 'shift', 'show', 'extend'],
    functions: [speech.spawn],
  };
  return speech;
}

const asMember = (event: string): string => event.replace(/\.(\w)/g, (_, letter: string) => letter.toUpperCase());
const asConstant = (event: string): string => event.toUpperCase().replace(/\W/g, '_');

/** The true call table. */
export function callsIn(
  speech: Speech,
  target: { record: Record<string, unknown>; prefab: Record<string, unknown>; scene: Record<string, unknown> },
): Record<string, unknown>[] {
  const { stage, bells, book } = speech;
  const events =
    speech.events === 'member'
      ? [
          { call: `${bells}.$event.${speech.send}(...)`, means: 'send' },
          { call: `${bells}.$event.${speech.hear}($handler)`, means: 'listen' },
          { call: `${bells}.$event.${speech.forget}()`, means: 'let go' },
        ]
      : [
          { call: `${bells}.${speech.send}($event, ...)`, means: 'send' },
          { call: `${bells}.${speech.hear}($event, $handler)`, means: 'listen' },
          { call: `${bells}.${speech.forget}($event)`, means: 'let go' },
        ];
  return [
    { call: `${stage}.${speech.find}($name)`, means: 'find', scope: 'one' },
    { call: `${stage}.${speech.labelled}($label)`, means: 'find label', scope: 'all' },
    { call: `${stage}.${speech.load}($scene)`, means: 'load', target: target.scene },
    { call: `*.${speech.child}($name)`, means: 'child' },
    { call: `*.${speech.part}($type)`, means: 'part' },
    { call: `*.${speech.up}`, means: 'step up' },
    { call: `${speech.spawn}($path)`, means: 'spawn', target: target.prefab },
    { call: `${book}.${speech.entry}($id)`, means: 'refer', target: target.record },
    ...events,
  ];
}

/** How the scripts write what they name. */
export interface Names {
  named: (text: string) => string;
  record: (table: string, id: string) => string;
  prefab: (id: string) => string;
}

export function scriptsIn(
  speech: Speech,
  world: World,
  names: Names,
): { rules: Record<string, unknown>; files: Record<string, string> } {
  const files: Record<string, string> = {};
  const services = new Set([speech.stage, speech.bells, speech.book]);
  for (const type of world.types) {
    const language = speech.languageOf(type.name);
    const module = moduleOf(type, speech, names);
    files[speech.fileOf(type.name)] = written(language, module, services);
  }
  const rules = Object.fromEntries(
    speech.languages.map((language) => [
      language,
      {
        match: `${speech.folder}/*.${ENDINGS[language]}`,
        language,
        exposed: { decorators: ['Slot', 'slot'], types: ['Slot'], required: false },
        moments: { start: [speech.begin], everyFrame: [speech.frame], leave: [speech.end] },
      },
    ]),
  );
  return { rules, files };
}

function moduleOf(type: ScriptType, speech: Speech, names: Names): Module {
  const stage = name(speech.stage);
  const bells = name(speech.bells);
  const book = name(speech.book);
  const begin: Statement[] = [];
  const functions: Function[] = type.functions.map((called) => ({
    name: called,
    takes: [],
    does: [run(ask(self, 'shift'))],
  }));
  const constants: Record<string, string> = {};
  const eventOf = (event: string): Expression => {
    if (speech.events !== 'constant') return text(event);
    constants[asConstant(event)] = event;
    return name(asConstant(event));
  };
  const send = (event: string): Statement =>
    speech.events === 'member'
      ? run(ask(member(bells, asMember(event)), speech.send))
      : run(ask(bells, speech.send, eventOf(event)));
  const hear = (event: string, handler: Expression): Statement =>
    speech.events === 'member'
      ? run(ask(member(bells, asMember(event)), speech.hear, handler))
      : run(ask(bells, speech.hear, eventOf(event), handler));
  type.hears.forEach(({ event, handler }, at) => {
    const isInPlace = speech.handlers === 'in place' || (speech.handlers === 'mixed' && at % 2 === 0);
    begin.push(hear(event, isInPlace ? fn([], run(ask(self, handler))) : own(handler)));
  });
  type.finds.forEach((called, at) =>
    begin.push(
      keep(`found${at}`, ask(stage, speech.find, text(names.named(called)))),
      run(ask(name(`found${at}`), 'show')),
    ),
  );
  type.children.forEach((called, at) => {
    const part = type.parts.find(({ child }) => child === called);
    begin.push(keep(`inner${at}`, ask(self, speech.child, text(names.named(called)))));
    if (part) {
      const asked = speech.partBy === 'name' ? name(part.type) : text(part.type);
      begin.push(run(ask(ask(name(`inner${at}`), speech.part, asked), part.calls)));
    } else begin.push(run(ask(name(`inner${at}`), 'show')));
  });
  for (const called of type.beside)
    begin.push(run(ask(ask(own(speech.up), speech.child, text(names.named(called))), 'show')));
  for (const label of type.labels)
    begin.push(each('one', ask(stage, speech.labelled, text(label)), run(ask(name('one'), 'show'))));
  for (const { table, id } of type.records)
    begin.push(set(own('page'), ask(book, speech.entry, text(names.record(table, id)))));
  const acts: Statement[] = [
    ...type.sends.map(send),
    ...type.spawns.map((id) => run(call(speech.spawn, text(names.prefab(id))))),
    ...type.loads.map((id) => run(ask(stage, speech.load, text(names.named(id))))),
  ];
  if (acts.length > 0)
    functions.push(
      { name: 'act', takes: [], does: acts },
      { name: speech.frame, takes: ['seconds'], does: [run(ask(self, 'act'))] },
    );
  if (type.hears.length > 1) {
    const [first] = type.hears;
    if (first)
      functions.push({
        name: speech.end,
        takes: [],
        does: [
          speech.events === 'member'
            ? run(ask(member(bells, asMember(first.event)), speech.forget))
            : run(ask(bells, speech.forget, eventOf(first.event))),
        ],
      });
  }
  return {
    constants,
    types: [
      {
        name: type.name,
        parent: type.parent ?? speech.base,
        fields: type.slots.map(({ name: slot }) => ({ name: slot, slot: true })),
        functions: [{ name: speech.begin, takes: [], does: begin }, ...functions],
      },
    ],
  };
}
