/**
 * Manifests: files of which one stands in each of several folders, that say by what they are known and in lists which others
 * they need. What they need in which version is told where they say their own.
 */
import { must } from '../helpers/at.js';
import { folderOf } from '../reading/source.js';
import type { Domain } from './domains.js';
import type { Kind } from './kinds.js';
import type { Reading } from './references.js';
import { isItem, selectorOf, type Shape } from './shapes.js';
import type { Texts } from './texts.js';

/** What a rule says of a kind of files that are manifests. */
export interface PackageForm {
  rule: { version?: string; needs: Record<string, unknown> };
  /** That they name each other. */
  needs: Reading;
}

const VERSION = /^v?\d+(?:\.\d+)*(?:[-+][\w.]+)?$/;
const RANGE = /^[<>=~^\s]*v?\d+(?:\.[\dx*]+)*.*$/;
const IS_VERSION = /^version$/i;
const NEEDS = /need|depend|requi|import|uses|base/i;

/** What a kind of files is as manifests; undefined where it is something else. */
export function packageForm(
  kind: Kind,
  readings: readonly Reading[],
  paths: readonly string[],
  texts: Texts,
): PackageForm | undefined {
  const { shape: root, files } = kind;
  const folders = new Set(files.map((file) => folderOf(paths[file] ?? '')));
  if (kind.table || files.length < 2 || folders.size < files.length) return undefined;
  const version = [...root.members.values()].find((one) => IS_VERSION.test(one.key) && areAll(one, VERSION, texts));
  const isOwn = (domain: Domain | undefined): boolean => domain?.kind === kind && domain.piece === root;
  for (const reading of readings) {
    const { field, to, cut } = reading;
    const { shape } = field;
    if (field.kind !== kind || !shape || 'path' in to || cut.pattern !== undefined) continue;
    if (to.domains.length !== 1 || !isOwn(to.domains[0])) continue;
    if (!version && !namesOf(shape).some((name) => NEEDS.test(name))) continue;
    const needs = needsAt(shape, field.written, texts);
    if (needs) return { rule: { ...(version && { version: selectorOf(version) }), needs }, needs: reading };
  }
  return undefined;
}

/** How the entries are selected that say what is needed; undefined where these are no entries of a list or map. */
function needsAt(
  shape: Shape,
  written: Reading['field']['written'],
  texts: Texts,
): PackageForm['rule']['needs'] | undefined {
  if (written === 'key') {
    const values = shape.item ? [shape.item] : [...shape.members.values()];
    const isVersion = values.length > 0 && values.every((one) => areAll(one, RANGE, texts));
    return { at: `${selectorOf(shape)}.*`, id: { key: true }, ...(isVersion && { version: '$' }) };
  }
  if (isItem(shape)) return { at: selectorOf(shape), id: '$' };
  const entry = shape.parent;
  if (!entry || !isItem(entry)) return undefined;
  const version = [...entry.members.values()].find((one) => IS_VERSION.test(one.key) && areAll(one, RANGE, texts));
  return {
    at: selectorOf(entry),
    id: selectorOf(shape, entry),
    ...(version && { version: selectorOf(version, entry) }),
  };
}

/** Names of the members that a shape stands in. */
function namesOf(shape: Shape): string[] {
  const names: string[] = [];
  for (let at: Shape | undefined = shape; at; at = at.parent) if (at.key) names.push(at.key);
  return names;
}

function areAll(shape: Shape, form: RegExp, texts: Texts): boolean {
  const all = [...shape.texts.numbers()];
  return all.length > 0 && all.every((number) => form.test(texts.text(must(number))));
}
