/** What one can say of something in a script that was pointed at, and what is written into the plan for it. */
import { itemAt } from '../helpers/at.js';
import { written } from '../learning/calls.js';
import { LANGUAGE } from '../reading/scripts/languages.js';
import { callTableOf, matchCalls } from '../reading/scripts/call-table.js';
import type { Role } from '../reading/plan/call-pattern.js';
import type { Meaning } from '../reading/plan/meanings.js';
import type { Language, Plan } from '../reading/plan/plan.js';
import type { Expression } from '../reading/scripts/syntax.js';
import { folderOf } from '../reading/source.js';
import { freeName, PlanEdit, type WrittenRule } from './edit.js';
import { byPosition, type PointedCode } from './point-code.js';

/** Says what something in a script is. The words go on where the group's own begin: “This text is” – “the name of …”. */
export interface CodeSaying {
  id: string;
  group: string;
  words: string;
}

/** What a row of the call table is for a saying. */
interface Said extends CodeSaying {
  means: Meaning;
  role?: Role;
  target?: Record<string, unknown>;
  more?: Record<string, unknown>;
}

const LOOKS = 'What is given here looks up';
const USES = 'What is given here is';
const EVENTS = 'What is given here is the event that is';
const ACTS = 'What is given here is';
const CALLS = 'The call, or what it gives, is';

const ARGUMENTS: Said[] = [
  { id: 'child', group: LOOKS, words: 'a child, by its name', means: 'child', role: 'name' },
  {
    id: 'way',
    group: LOOKS,
    words: 'an object, by a way of names through the tree',
    means: 'object path',
    role: 'path',
  },
  { id: 'find', group: LOOKS, words: 'an object anywhere in the scene, by its name', means: 'find', role: 'name' },
  { id: 'labelled', group: LOOKS, words: 'the objects with a label', means: 'find label', role: 'label' },
  { id: 'part', group: LOOKS, words: 'a part of the object, by its type', means: 'part', role: 'type' },
  { id: 'parts', group: LOOKS, words: 'parts anywhere in the scene, by their type', means: 'find type', role: 'type' },
  { id: 'file', group: USES, words: 'the path of a file', means: 'use file', role: 'path', target: { by: 'path' } },
  {
    id: 'prefab',
    group: USES,
    words: 'the path of a prefab that is made',
    means: 'spawn',
    role: 'path',
    target: { by: 'path' },
  },
  {
    id: 'scene path',
    group: USES,
    words: 'the path of a scene that is loaded',
    means: 'load',
    role: 'path',
    target: { by: 'path' },
  },
  {
    id: 'scene',
    group: USES,
    words: 'the identity or name of a scene that is loaded',
    means: 'load',
    role: 'scene',
    target: { by: 'id', kinds: 'scene' },
  },
  { id: 'identity', group: USES, words: 'the identity of something', means: 'refer', role: 'id', target: { by: 'id' } },
  { id: 'name', group: USES, words: 'the name of something', means: 'refer', role: 'name', target: { by: 'name' } },
  {
    id: 'action',
    group: USES,
    words: 'an input action',
    means: 'refer',
    role: 'action',
    target: { by: 'name', kinds: 'input action' },
    more: { verb: 'reads' },
  },
  { id: 'function', group: USES, words: 'a function that is called', means: 'call', role: 'function' },
  { id: 'taken in', group: USES, words: 'a file of code that is taken in', means: 'take in', role: 'path' },
  {
    id: 'declared',
    group: USES,
    words: 'the identity of something that is made known here',
    means: 'declare',
    role: 'id',
  },
  { id: 'sent', group: EVENTS, words: 'sent', means: 'send', role: 'event' },
  { id: 'heard', group: EVENTS, words: 'listened to', means: 'listen', role: 'event' },
  { id: 'let go', group: EVENTS, words: 'no longer listened to', means: 'let go', role: 'event' },
];

/** Of something that is no text. */
const OBJECTS: Said[] = [
  { id: 'destroyed', group: ACTS, words: 'an object that is destroyed', means: 'destroy', role: 'object' },
  { id: 'switched', group: ACTS, words: 'an object that is switched on or off', means: 'switch', role: 'object' },
  {
    id: 'put elsewhere',
    group: ACTS,
    words: 'an object that is put elsewhere in the tree',
    means: 'move',
    role: 'object',
  },
  { id: 'moved', group: ACTS, words: 'an object that is moved in the world', means: 'travel', role: 'object' },
  { id: 'kept', group: ACTS, words: 'an object that is kept when the scene changes', means: 'keep', role: 'object' },
];

/** Of a call as a whole, or a property. */
const WHOLES: Said[] = [
  { id: 'above', group: CALLS, words: 'the object above', means: 'step up' },
  { id: 'same', group: CALLS, words: 'the object itself', means: 'same object' },
  { id: 'label', group: CALLS, words: 'the label of the object', means: 'label of' },
];
const DOES = 'What it is called on is';
const DONE: Said[] = OBJECTS.map(({ role: _, ...one }) => ({
  ...one,
  id: `itself ${one.id}`,
  group: DOES,
  words: one.words.replace(/^an object that is /, ''),
}));
const TYPES: Said[] = [
  {
    id: 'part of type',
    group: 'By the type between the angle brackets it gives',
    words: 'a part of the object',
    means: 'part',
    role: 'type',
  },
  {
    id: 'parts of type',
    group: 'By the type between the angle brackets it gives',
    words: 'parts anywhere in the scene',
    means: 'find type',
    role: 'type',
  },
];

const FUNCTIONS: CodeSaying[] = [
  { id: 'start', group: 'The engine calls functions of this name', words: 'at the start' },
  { id: 'everyFrame', group: 'The engine calls functions of this name', words: 'every frame' },
  { id: 'leave', group: 'The engine calls functions of this name', words: 'when the object leaves' },
];

const HEARS = /^(_?[a-z]+)_?(?=[A-Z])|^(_?[a-z]+_)(?=[a-z])/;

/** What can be said of what was pointed at. */
export function codeSayings(pointed: PointedCode): CodeSaying[] {
  switch (pointed.is) {
    case 'argument':
      return plain(isText(pointed.value) ? ARGUMENTS : [...OBJECTS, ...ARGUMENTS]);
    case 'call':
      return plain([
        ...(pointed.call.typeArguments.length === 1 ? TYPES : []),
        ...WHOLES,
        ...(pointed.call.of.is === 'member' ? DONE : []),
      ]);
    case 'property':
      return plain(WHOLES);
    case 'function':
      return [
        ...FUNCTIONS,
        { id: 'hears', group: 'It hears an event by its name alone', words: hearing(pointed.name).words },
      ];
    case 'field':
      return fieldSayings(pointed.field);
  }
}

function plain(all: readonly Said[]): CodeSaying[] {
  return all.map(({ id, group, words }) => ({ id, group, words }));
}

function isText({ is }: Expression): boolean {
  return is === 'text' || is === 'join';
}

function hearing(name: string): { functions: string; event: string; words: string } {
  const [beginning] = HEARS.exec(name) ?? [];
  if (beginning === undefined || beginning === name)
    return { functions: name, event: name, words: `of the name “${name}”` };
  const event = name.slice(beginning.length);
  return {
    functions: `${beginning}(\\w+)`,
    event: '*',
    words: `as all that begin with “${beginning}”: here “${event}”`,
  };
}

const FILLED = 'People fill it in, as they do';

function fieldSayings({ name, type, decorators }: Extract<PointedCode, { is: 'field' }>['field']): CodeSaying[] {
  return [
    ...decorators.map((mark) => ({ id: `marked ${mark}`, group: FILLED, words: `all fields marked “${mark}”` })),
    ...(type === '' ? [] : [{ id: 'of type', group: FILLED, words: `all fields of the type ${type}` }]),
    { id: 'of name', group: FILLED, words: `all fields of the name ${name}` },
  ];
}

/** Where something is said. */
export interface CodeSpot {
  /** The file that was pointed at. */
  path: string;
  language: Language;
  /** Name of the rule under `scripts` that reads it; a new one is written when there is none. */
  rule: string | undefined;
  /** Which of the ways of naming what it is called on. */
  form: number;
}

/**
 * Writes into a plan what something in a script is. A row for the same call is replaced; one that says something else of it
 * stays behind, or beside where it is about something else that the call is given.
 * @param plan the checked plan of the text
 * @param paths all files of the project: they tell how paths are written
 * @returns the new text, and the key of what was written, as `calls: stage.find($name)`
 */
export function sayOfCode(
  planText: string,
  plan: Plan,
  pointed: PointedCode,
  id: string,
  spot: CodeSpot,
  paths: readonly string[],
): WrittenRule {
  const edit = new PlanEdit(planText);
  const script = spot.rule ?? newScriptRule(edit, spot);
  const key = (...rest: string[]): string => ['scripts', script, ...rest].join('.');
  if (pointed.is === 'field') {
    const { name, type } = pointed.field;
    const at = ['scripts', script, 'exposed'];
    if (id === 'of type') edit.add([...at, 'types'], type);
    else if (id === 'of name') edit.set([...at, 'names'], oneMore(edit.read<string>([...at, 'names']), `^${name}$`));
    else edit.add([...at, 'decorators'], id.replace(/^marked /, ''));
    return { text: edit.text, rule: key('exposed') };
  }
  if (pointed.is === 'function') {
    if (id !== 'hears') {
      edit.add(['scripts', script, 'moments', id], pointed.name);
      return { text: edit.text, rule: key('moments') };
    }
    const { functions, event } = hearing(pointed.name);
    edit.add(['scripts', script, 'handlers'], { functions, event });
    return { text: edit.text, rule: key('handlers') };
  }
  const said = [...ARGUMENTS, ...OBJECTS, ...WHOLES, ...DONE, ...TYPES].find((one) => one.id === id);
  if (!said) return { text: planText, rule: '' };
  const row = rowOf(pointed, said, itemAt(pointed.forms, Math.min(spot.form, pointed.forms.length - 1)).head);
  const target = { ...said.target, ...(said.target?.['by'] === 'path' && pathForm(pointed, spot.path, paths)) };
  put(edit, plan, pointed, { ...row, ...(Object.keys(target).length > 0 && { target }), ...said.more });
  return { text: edit.text, rule: `calls: ${row.call}` };
}

interface Row extends Record<string, unknown> {
  call: string;
  means: string;
}

type PointedCall = Exclude<PointedCode, { is: 'function' | 'field' }>;

function rowOf(pointed: PointedCall, { means, role }: Said, head: string): Row {
  if (pointed.is === 'property') return { call: head, means };
  const { call, most } = pointed;
  const given = new Map(call.arguments.map(({ name }, at) => [name || String(at), true]));
  const form = { head, pattern: { isProperty: false, most, given } };
  if (pointed.is === 'call')
    return {
      call: role === 'type' ? `${head}<$type>${written({ ...form, head: '' }, new Map())}` : written(form, new Map()),
      means,
    };
  const roles = new Map([[String(pointed.at), `$${role}`]]);
  const handler = means === 'listen' ? handlerAt(pointed) : undefined;
  if (handler !== undefined) roles.set(String(handler), '$handler');
  return { call: written(form, roles), means };
}

/** Where the function stands that hears the event. */
function handlerAt({ call, at }: Extract<PointedCode, { is: 'argument' }>): number | undefined {
  const found = byPosition(call.arguments).findIndex(
    ({ value }, position) =>
      position !== at &&
      (value.is === 'function' ||
        value.is === 'member' ||
        value.is === 'name' ||
        (value.is === 'call' && value.of.is === 'member' && value.of.name === 'bind')),
  );
  return found < 0 ? undefined : found;
}

/** Puts a row where it counts: the first that a call matches says what it means. */
function put(edit: PlanEdit, plan: Plan, pointed: PointedCall, row: Row): void {
  const known = edit.read<Row | Row[]>(['calls']);
  const rows = known === undefined ? [] : [known].flat();
  if (!Array.isArray(known)) edit.set(['calls'], rows);
  const same = rows.findIndex(({ call }) => call === row.call);
  if (same >= 0) {
    // What else was said of it stays where it means the same.
    const before = itemAt(rows, same);
    return edit.set(['calls', same], before.means === row.means ? { ...before, ...row } : row);
  }
  const before = matching(plan, pointed)[0];
  if (before === undefined) return edit.insert(['calls'], rows.length, row);
  const isBeside = pointed.is === 'argument' && !isAbout(plan, before, pointed);
  // Rows of plans that this one builds on come behind its own.
  edit.insert(
    ['calls'],
    isBeside ? rows.length : Math.min(before, rows.length),
    isBeside ? { ...row, also: true } : row,
  );
}

/** Positions of the rows of a plan that what was pointed at matches. */
export function matching(plan: Plan, pointed: PointedCall): number[] {
  const [of, given, types] =
    pointed.is === 'property'
      ? [pointed.read, undefined, []]
      : [pointed.call.of, pointed.call.arguments, pointed.call.typeArguments];
  return matchCalls(callTableOf(plan), of, given, types, () => undefined).map(({ index }) => index);
}

/** Whether a row says something of the argument itself. */
function isAbout(plan: Plan, at: number, { call, value }: Extract<PointedCode, { is: 'argument' }>): boolean {
  const matched = matchCalls(callTableOf(plan), call.of, call.arguments, call.typeArguments, () => undefined);
  const match = matched.find(({ index }) => index === at);
  return match?.arguments.some((one) => one.value === value) ?? false;
}

function oneMore(known: string | undefined, pattern: string): string {
  return known === undefined || known === pattern ? pattern : `${known}|${pattern}`;
}

/** How the text that was pointed at leads to a file: what is written before and behind it. */
function pathForm(pointed: PointedCall, from: string, paths: readonly string[]): Record<string, unknown> {
  if (pointed.is !== 'argument' || pointed.value.is !== 'text' || pointed.value.value === '') return {};
  const { value } = pointed.value;
  const all = new Set(paths);
  if (all.has(value)) return {};
  const folder = folderOf(from);
  const isHere = value.startsWith('.') || all.has(folder === '' ? value : `${folder}/${value}`);
  if (isHere) return { from: 'file' };
  const near = paths.find((path) => path.endsWith(`/${value}`));
  // A bare name says nothing of where other such files lie.
  const isBare = !value.includes('/');
  if (near !== undefined) return isBare ? { anywhere: true } : { roots: near.slice(0, -value.length - 1) };
  const [longer] = paths
    .filter((path) => path.startsWith(`${value}.`) || path.includes(`/${value}.`))
    .sort((a, b) => a.length - b.length);
  if (longer === undefined) return {};
  const at = longer.startsWith(`${value}.`) ? 0 : longer.indexOf(`/${value}.`) + 1;
  const where = isBare ? { anywhere: true } : { roots: longer.slice(0, at - 1) };
  return { endings: longer.slice(at + value.length), ...(at > 0 && where) };
}

/** A rule for scripts of a language, in any folder. */
function newScriptRule(edit: PlanEdit, { path, language }: CodeSpot): string {
  const rule = freeName(edit.read(['scripts']), language);
  const ending = path.slice(path.lastIndexOf('.') + 1) || itemAt(LANGUAGE[language].fileEndings, 0);
  edit.set(['scripts', rule], { match: `**/*.${ending}`, language });
  return rule;
}
