/** What one can say of a value that was pointed at, and the rule that comes of it. */
import type { JSONPath } from 'jsonc-parser';
import { baseName } from '../reading/source.js';
import type { InnerKind } from '../reading/plan/plan.js';
import { freeName, PlanEdit, type WrittenRule } from './edit.js';
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

interface Rules {
  [name: string]: { at?: string; parts?: unknown };
}

/**
 * Adds to a plan the rule that says what a value is.
 * @param fileRule name of the rule under `files` that reads the file; a new one is written when there is none
 * @returns the new text of the plan, and the rule's key; comments and layout of the rest stay
 */
export function say(
  planText: string,
  path: string,
  fileRule: string | undefined,
  pointed: Pointed,
  id: string,
): WrittenRule {
  const edit = new PlanEdit(planText);
  const rule = fileRule ?? newFileRule(edit, path);
  const base: JSONPath = ['files', rule];
  const written = (group: string, name: string): WrittenRule => ({
    text: edit.text,
    rule: ['files', rule, group, name].join('.'),
  });
  /** The rule for the pieces at a selector, with what is told of them. */
  const piece = (at: string, kind: InnerKind, key: string, value: unknown): WrittenRule => {
    const pieces = edit.read<Rules>([...base, 'pieces']);
    const known = pieceRule(pieces, at);
    const name = known ?? freeName(pieces, `${kind}s`);
    if (known === undefined) edit.set([...base, 'pieces', name], { at, kind });
    if (key === 'parts') {
      const parts = [edit.read<unknown[] | object>([...base, 'pieces', name, 'parts']) ?? []].flat();
      edit.set([...base, 'pieces', name, 'parts'], [...parts, value]);
    } else edit.set([...base, 'pieces', name, key], value);
    return written('pieces', name);
  };
  const { holder } = pointed;

  if (id.startsWith('name of ')) return piece(holder.selector, id.slice(8) as InnerKind, 'named', holder.value);
  if (id === 'identity') return piece(holder.selector, 'object', 'id', holder.value);
  if (id === 'prefab') return piece(holder.selector, 'object', 'madeFrom', { field: holder.value, by: 'path' });
  if (id === 'script' || id === 'label carried') {
    // It belongs to the nearest object around that a rule finds as a piece, or to a new one.
    const pieces = edit.read<Rules>([...base, 'pieces']);
    const home = pointed.around.find(({ selector }) => pieceRule(pieces, selector)) ??
      pointed.around[1] ??
      pointed.around[0] ?? { selector: '$', way: '$' };
    return id === 'script'
      ? piece(home.selector, 'object', 'parts', { at: home.way, script: { field: holder.value, by: 'path' } })
      : piece(home.selector, 'object', 'labels', home.way + holder.value.slice(1));
  }
  if (id === 'event sent' || id === 'event heard') {
    // An empty text stands for the thing around.
    const end = id === 'event sent' ? 'from' : 'to';
    const name = freeName(edit.read([...base, 'events']), pointed.key || 'wires');
    edit.set([...base, 'events', name], { at: holder.selector, event: holder.value, [end]: { text: '' } });
    return written('events', name);
  }
  const by = id === 'path from here' ? 'path' : id;
  const name = freeName(edit.read([...base, 'references']), pointed.key || by);
  const from = id === 'path from here' ? { from: 'file' } : {};
  edit.set([...base, 'references', name], { at: pointed.selector, by, ...from });
  return written('references', name);
}

/** The rule that already finds the pieces at a selector. */
function pieceRule(rules: Rules | undefined, selector: string): string | undefined {
  return Object.entries(rules ?? {}).find(([, rule]) => rule.at === selector)?.[0];
}

/** A rule for files like this one: of the same endings, in any folder. */
function newFileRule(edit: PlanEdit, path: string): string {
  const name = baseName(path);
  const dot = name.indexOf('.', 1);
  const ending = dot > 0 ? name.slice(dot + 1) : name;
  const rule = freeName(edit.read(['files']), ending.replace(/\.\w+$/, '') || 'data');
  const as = /scene|level|map/i.test(path) ? 'scene' : /prefab|template/i.test(path) ? 'prefab' : 'data asset';
  edit.set(['files', rule], { match: dot > 0 ? `**/*.${ending}` : path, as });
  return rule;
}
