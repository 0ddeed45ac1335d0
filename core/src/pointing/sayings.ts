/** What one can say of a value that was pointed at, and the rule that comes of it. */
import { applyEdits, format, modify, parse, type JSONPath } from 'jsonc-parser';
import { baseName } from '../reading/source.js';
import type { InnerKind } from '../reading/plan/plan.js';
import type { Pointed } from './point.js';

/** Says what a value is. The words complete the sentence “This is …”. */
export interface Saying {
  id: string;
  words: string;
  group: 'a piece' | 'a reference' | 'an event';
}

const KINDS: InnerKind[] = ['object', 'record', 'event', 'label', 'input action', 'flag', 'text'];

export const SAYINGS: Saying[] = [
  ...KINDS.map((kind): Saying => ({ id: `name of ${kind}`, words: `the name of ${an(kind)}`, group: 'a piece' })),
  { id: 'identity', words: 'the identity of the thing around it', group: 'a piece' },
  { id: 'prefab', words: 'the path of the prefab that it is made from', group: 'a piece' },
  { id: 'script', words: 'the path of a script that is attached', group: 'a piece' },
  { id: 'label carried', words: 'a label that the thing around it carries', group: 'a piece' },
  { id: 'path', words: 'the path of a file', group: 'a reference' },
  { id: 'path from here', words: 'the path of a file, from the folder of this one', group: 'a reference' },
  { id: 'id', words: 'the identity of something else', group: 'a reference' },
  { id: 'name', words: 'the name of something else', group: 'a reference' },
  { id: 'object path', words: 'a way of names through the tree', group: 'a reference' },
  { id: 'type', words: 'the type of a script', group: 'a reference' },
  { id: 'label', words: 'a label that is asked for', group: 'a reference' },
  { id: 'event sent', words: 'the name of an event that is sent here', group: 'an event' },
  { id: 'event heard', words: 'the name of an event that is listened to here', group: 'an event' },
];

function an(word: string): string {
  return `${/^[aeiou]/.test(word) ? 'an' : 'a'} ${word}`;
}

const FORMAT = { insertSpaces: true, tabSize: 2, eol: '\n' };

/** The plan's text laid out evenly; comments stay. */
export function formatPlan(text: string): string {
  return applyEdits(text, format(text, undefined, FORMAT));
}

interface Rules {
  [name: string]: { at?: string; parts?: unknown };
}

/**
 * Adds to a plan the rule that says what a value is.
 * @param fileRule name of the rule under `files` that reads the file; a new one is written when there is none
 * @returns the new text of the plan; comments and layout of the rest stay
 */
export function say(
  planText: string,
  path: string,
  fileRule: string | undefined,
  pointed: Pointed,
  id: string,
): string {
  const edit: Edit = { text: planText };
  const rule = fileRule ?? newFileRule(edit, path);
  const base: JSONPath = ['files', rule];
  const read = <T>(path: JSONPath): T | undefined =>
    path.reduce((at: unknown, step) => (at as never)?.[step], parse(edit.text)) as T | undefined;
  const [kind] = id.startsWith('name of ') ? [id.slice(8)] : [undefined];

  if (kind) {
    const name =
      pieceRule(read<Rules>([...base, 'pieces']), pointed.holder.selector) ??
      freeName(read([...base, 'pieces']), `${kind}s`);
    if (!read([...base, 'pieces', name])) set(edit, [...base, 'pieces', name], { at: pointed.holder.selector, kind });
    set(edit, [...base, 'pieces', name, 'named'], pointed.holder.value);
  } else if (id === 'identity' || id === 'prefab') {
    const name =
      pieceRule(read<Rules>([...base, 'pieces']), pointed.holder.selector) ??
      freeName(read([...base, 'pieces']), 'objects');
    if (!read([...base, 'pieces', name]))
      set(edit, [...base, 'pieces', name], { at: pointed.holder.selector, kind: 'object' });
    if (id === 'identity') set(edit, [...base, 'pieces', name, 'id'], pointed.holder.value);
    else set(edit, [...base, 'pieces', name, 'madeFrom'], { field: pointed.holder.value, by: 'path' });
  } else if (id === 'script' || id === 'label carried') {
    sayOfHolder(edit, base, read, pointed, id);
  } else if (id === 'event sent' || id === 'event heard') {
    // An empty text stands for the thing around.
    const end = id === 'event sent' ? 'from' : 'to';
    const name = freeName(read([...base, 'events']), pointed.key || 'wires');
    set(edit, [...base, 'events', name], {
      at: pointed.holder.selector,
      event: pointed.holder.value,
      [end]: { text: '' },
    });
  } else {
    const by = id === 'path from here' ? 'path' : id;
    const name = freeName(read([...base, 'references']), pointed.key || by);
    const from = id === 'path from here' ? { from: 'file' } : {};
    set(edit, [...base, 'references', name], { at: pointed.selector, by, ...from });
  }
  return edit.text;
}

interface Edit {
  text: string;
}

function set(edit: Edit, path: JSONPath, value: unknown): void {
  edit.text = applyEdits(edit.text, modify(edit.text, path, value, { formattingOptions: FORMAT }));
}

/** A script or label belongs to the nearest object around that a rule finds as a piece, or to a new one. */
function sayOfHolder(
  edit: Edit,
  base: JSONPath,
  read: <T>(path: JSONPath) => T | undefined,
  pointed: Pointed,
  id: string,
): void {
  const pieces = read<Rules>([...base, 'pieces']);
  const home = pointed.around.find(({ selector }) => pieceRule(pieces, selector)) ??
    pointed.around[1] ??
    pointed.around[0] ?? { selector: '$', way: '$' };
  const name = pieceRule(pieces, home.selector) ?? freeName(pieces, 'objects');
  if (!read([...base, 'pieces', name])) set(edit, [...base, 'pieces', name], { at: home.selector, kind: 'object' });
  if (id === 'label carried') {
    set(edit, [...base, 'pieces', name, 'labels'], home.way + pointed.holder.value.slice(1));
    return;
  }
  const parts = [read<unknown[] | object>([...base, 'pieces', name, 'parts']) ?? []].flat();
  parts.push({ at: home.way, script: { field: pointed.holder.value, by: 'path' } });
  set(edit, [...base, 'pieces', name, 'parts'], parts);
}

/** The rule that already finds the pieces at a selector. */
function pieceRule(rules: Rules | undefined, selector: string): string | undefined {
  return Object.entries(rules ?? {}).find(([, rule]) => rule.at === selector)?.[0];
}

function freeName(rules: object | undefined, wanted: string): string {
  let name = wanted;
  for (let number = 2; rules && name in rules; number++) name = `${wanted} ${number}`;
  return name;
}

/** A rule for files like this one: of the same endings, in any folder. */
function newFileRule(edit: Edit, path: string): string {
  const name = baseName(path);
  const dot = name.indexOf('.', 1);
  const ending = dot > 0 ? name.slice(dot + 1) : name;
  const files = (parse(edit.text) as { files?: object }).files;
  const rule = freeName(files, ending.replace(/\.\w+$/, '') || 'data');
  const as = /scene|level|map/i.test(path) ? 'scene' : /prefab|template/i.test(path) ? 'prefab' : 'data asset';
  set(edit, ['files', rule], { match: dot > 0 ? `**/*.${ending}` : path, as });
  return rule;
}
