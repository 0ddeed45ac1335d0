/** Changes of a project's texts that change nothing in play. Each gives all texts anew. */
import { parse, type ParseError } from 'jsonc-parser';

export type Texts = ReadonlyMap<string, string>;

const isJson = (file: string): boolean => file.endsWith('.json');

/** Each text as `change` gives it; as it was where it gives nothing. */
function each(texts: Texts, change: (text: string, file: string) => string | undefined): Texts {
  return new Map([...texts].map(([file, text]) => [file, change(text, file) ?? text]));
}

/** JSON that reads without fault and without comments, as `change` makes it. */
function eachJson(texts: Texts, change: (value: unknown, file: string) => unknown, indent: number | string = 2): Texts {
  return each(texts, (text, file) => {
    if (!isJson(file) || /^\s*\/[/*]/m.test(text)) return undefined;
    const faults: ParseError[] = [];
    const value: unknown = parse(text, faults);
    return faults.length > 0 ? undefined : JSON.stringify(change(value, file), null, indent);
  });
}

type Member = [string, unknown];

/** A value with the members of every object as `change` orders or changes them. */
function members(value: unknown, change: (all: Member[]) => Member[]): unknown {
  if (Array.isArray(value)) return value.map((one: unknown) => members(one, change));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(change(Object.entries(value)).map(([key, inner]): Member => [key, members(inner, change)]));
}

export const keysReversed = (texts: Texts): Texts => eachJson(texts, (value) => members(value, (all) => all.reverse()));

/** The lists under some keys from their end to their beginning. */
export const listsReversed = (texts: Texts, keys: readonly string[]): Texts =>
  eachJson(texts, (value) =>
    members(value, (all) =>
      all.map(([key, inner]) => [key, keys.includes(key) && Array.isArray(inner) ? inner.toReversed() : inner]),
    ),
  );

export const laidOutAnew = (texts: Texts): Texts => eachJson(texts, (value) => value, '\t');

export const onOneLine = (texts: Texts): Texts => eachJson(texts, (value) => value, 0);

/** Formats in which an empty line says nothing wherever it stands. */
const WITH_EMPTY_LINES = /\.(json|ya?ml|toml|ini|xml|cfg)$/;

/** Every line of data further down, with an empty one before it. */
export const movedDown = (texts: Texts): Texts =>
  each(texts, (text, file) => (WITH_EMPTY_LINES.test(file) ? text.replace(/\r?\n/g, '\n\n') : undefined));

export const filesReversed = (texts: Texts): Texts => new Map([...texts].reverse());

export const otherLineEnds = (texts: Texts): Texts => each(texts, (text) => text.replace(/\r?\n/g, '\r\n'));

/** What opens and ends a comment, by the ending of a file. */
const COMMENTS: Record<string, [string, string]> = {
  ts: ['// ', ''],
  js: ['// ', ''],
  cs: ['// ', ''],
  lua: ['-- ', ''],
  py: ['# ', ''],
  yaml: ['# ', ''],
  toml: ['# ', ''],
  ini: ['; ', ''],
};

/** A comment and an empty line before each line that begins at the left, and before the first. */
export const commented = (texts: Texts): Texts =>
  each(texts, (text, file) => {
    const [open, end] = COMMENTS[file.slice(file.lastIndexOf('.') + 1)] ?? [];
    if (open === undefined) return undefined;
    const note = `${open}The keeper looked at this${end ?? ''}`;
    return text
      .split('\n')
      .map((line) => (/^[\p{L}@]/u.test(line) ? `${note}\n\n${line}` : line))
      .join('\n');
  });

/** Every object at the top of a scene stands in a group of its own. */
export const wrapped = (texts: Texts, isScene: (file: string) => boolean): Texts =>
  eachJson(texts, (value, file) => {
    if (!isScene(file)) return value;
    const scene = value as { objects?: { name: string }[] };
    return { ...scene, objects: scene.objects?.map((one, at) => ({ name: `Ward ${at + 1}`, objects: [one] })) };
  });

/** Words in the place of others, in all texts and in the names of files. */
export function renamed(texts: Texts, names: ReadonlyMap<string, string>): Texts {
  const longestFirst = [...names.keys()].sort((a, b) => b.length - a.length);
  const all = longestFirst.map((name) => name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')).join('|');
  const words = new RegExp(`(?<![\\p{L}\\d_])(?:${all})(?![\\p{L}\\d_])`, 'gu');
  const now = (text: string): string => text.replace(words, (name) => names.get(name) ?? name);
  return new Map([...texts].map(([file, text]) => [now(file), now(text)]));
}

/** Things that have to do with nothing that stands there. */
export const added = (texts: Texts, files: Readonly<Record<string, string>>): Texts =>
  new Map([...texts, ...Object.entries(files)]);
