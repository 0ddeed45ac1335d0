/**
 * Objects: what stands in trees and carries scripts. Found as lists of things that hold things of their own kind, or whose
 * parts name scripts and types; what of them is a prefab, what a part fills in.
 */
import type { Code, FieldDefined } from './code.js';
import type { Domain } from './domains.js';
import type { Kind } from './kinds.js';
import { fileOf, type Files } from './paths.js';
import type { Reading } from './references.js';
import { selectorOf, shapesIn, isItem, type Shape } from './shapes.js';
import type { Texts } from './texts.js';

/** What stands in a tree. */
export interface ObjectTree {
  kind: Kind;
  piece: Shape;
  parts: { at: string; type?: string; script?: Reading; values?: string; item: Shape }[];
  /** The field that names the prefab it is made from. */
  madeFrom: Reading | undefined;
  /** The field that names what holds it, or the list that names what it holds. */
  parent: Reading | undefined;
  children: Reading | undefined;
  labels: Shape | undefined;
}

export type Role = 'scene' | 'prefab' | 'data asset';

export interface Trees {
  objects: ObjectTree[];
  roles: Map<Kind, Role>;
}

/** The best reading of each place in files. */
export type ByShape = ReadonlyMap<Shape, Reading>;

export function treesOf(kinds: readonly Kind[], readings: ByShape, code: Code, files: Files, texts: Texts): Trees {
  const objects: ObjectTree[] = [];
  for (const kind of kinds)
    for (const piece of shapesIn(kind.shape)) {
      if (!isItem(piece) || piece.objects === 0) continue;
      const parts = [...partsOf(piece, readings, code, texts), ...ownScript(piece, readings, code)];
      if (parts.length === 0 && !(piece.parent?.isNested && hasName(piece))) continue;
      objects.push({
        kind,
        piece,
        parts,
        madeFrom: undefined,
        parent: undefined,
        children: undefined,
        labels: undefined,
      });
    }
  // What stands among the parts of an object, or in objects of the same tree, is no tree of its own.
  const outer = objects.filter(
    ({ piece }) => !objects.some((other) => other.piece !== piece && isWithin(piece, other.piece)),
  );
  const kindOfFile = new Map<number, Kind>();
  for (const kind of kinds) for (const file of kind.files) kindOfFile.set(file, kind);
  const roles = new Map<Kind, Role>();
  for (const { kind } of outer) roles.set(kind, 'scene');
  for (const tree of outer)
    for (const member of tree.piece.members.values()) {
      const reading = readings.get(member);
      const [target] = reading ? kindsNamed(reading, kindOfFile, files) : [];
      if (!reading || !target || !outer.some(({ kind }) => kind === target)) continue;
      tree.madeFrom = reading;
      roles.set(target, 'prefab');
    }
  for (const tree of outer) findHolders(tree, readings);
  return { objects: outer, roles };
}

/** Objects of a flat list that name what holds them, or what they hold: nothing is held twice, nor by itself. */
function findHolders(tree: ObjectTree, readings: ByShape): void {
  const { piece } = tree;
  if (piece.parent?.isNested) return;
  for (const member of piece.members.values()) {
    const list = member.item && member.values === 0 ? member.item : undefined;
    const reading = readings.get(list ?? member);
    if (!reading || 'path' in reading.to || reading.to.domains.length > 1 || reading.to.domains[0]?.piece !== piece)
      continue;
    const id = reading.to.domains[0].member;
    if (list) {
      if (list.texts.size >= list.texts.total * 0.95) tree.children ??= reading;
    } else if (id && isAcyclic(piece, id.key, member.key, reading) && member.texts.total > member.texts.size * 1.1)
      tree.parent ??= reading;
  }
}

function isAcyclic({ samples }: Shape, id: string, holder: string, { cut }: Reading): boolean {
  const holders = new Map<string, string>();
  for (const { file, values } of samples) {
    const [above] = cut.of(values.get(holder) ?? '');
    if (above) holders.set(`${file} ${values.get(id) ?? ''}`, `${file} ${above}`);
  }
  for (const start of holders.keys()) {
    let at: string | undefined = start;
    for (let steps = 0; at !== undefined; at = holders.get(at)) if (++steps > 200) return false;
  }
  return true;
}

function isWithin(piece: Shape, other: Shape): boolean {
  for (let at = piece.parent; at; at = at.parent) if (at === other) return true;
  return false;
}

function hasName({ members }: Shape): boolean {
  return [...members.keys()].some((key) => /name|title|id$/i.test(key));
}

/** Kinds of the files that a reading leads to, most first. */
export function kindsNamed(reading: Reading, kindOfFile: ReadonlyMap<number, Kind>, files: Files): Kind[] {
  const counts = new Map<Kind, number>();
  const add = (kind: Kind | undefined): void => {
    if (kind) counts.set(kind, (counts.get(kind) ?? 0) + 1);
  };
  if ('path' in reading.to) {
    const { path } = reading.to;
    for (const { text, file } of reading.found) add(kindOfFile.get(fileOf(path, text, files.paths[file] ?? '', files)));
  } else for (const domain of reading.to.domains) if (domain.piece === domain.kind?.shape) add(domain.kind);
  return [...counts].sort((a, b) => b[1] - a[1]).map(([kind]) => kind);
}

/** Lists of an object whose items name scripts or types. */
function partsOf(piece: Shape, readings: ByShape, code: Code, texts: Texts): ObjectTree['parts'] {
  return [...piece.members.values()].flatMap((list) => {
    const { item } = list;
    if (!item || item.objects === 0 || list.isNested) return [];
    const at = selectorOf(item, piece);
    const part: ObjectTree['parts'][number] = { at, item };
    for (const member of item.members.values()) {
      const reading = readings.get(member);
      if (reading && 'path' in reading.to && leadsToScripts(reading)) part.script ??= reading;
      else if (namesTypes(member, code, texts)) part.type ??= selectorOf(member, item);
    }
    // Types by the names of a map's entries.
    if (!part.script && part.type === undefined) return [];
    const values = valuesIn(item, code);
    if (values !== undefined) part.values = values;
    return [part];
  });
}

/** An object that names the script it runs itself. */
function ownScript(piece: Shape, readings: ByShape, code: Code): ObjectTree['parts'] {
  if (!piece.parent?.isNested) return [];
  for (const member of piece.members.values()) {
    const reading = readings.get(member);
    if (!reading || !('path' in reading.to) || !leadsToScripts(reading)) continue;
    const values = valuesIn(piece, code);
    return [{ at: '$', item: piece, script: reading, ...(values !== undefined && { values }) }];
  }
  return [];
}

const SCRIPT = /\.(?:ts|js|mjs|cjs|lua|cs|py)$/;

function leadsToScripts({ found, to }: Reading): boolean {
  if (!('path' in to)) return false;
  const written = found.slice(0, 20);
  return (
    written.length > 0 &&
    written.filter(({ text }) => SCRIPT.test(text) || to.path.endings.some((ending) => SCRIPT.test(ending))).length >
      written.length * 0.6
  );
}

/** Whether most texts of a place are types that scripts declare. */
function namesTypes({ texts: bag }: Shape, code: Code, texts: Texts): boolean {
  if (bag.size === 0 || code.types.size === 0) return false;
  let hits = 0;
  for (const text of bag.numbers()) if (code.types.has(texts.text(text))) hits++;
  return hits >= 2 ? hits / bag.size >= 0.3 : hits === bag.size;
}

/** The member of a part under which fields are filled: its names are those of fields in code. */
function valuesIn(item: Shape, code: Code): string | undefined {
  const known = new Set(code.fields.map(({ name }) => name));
  let best: { at: string; hits: number } | undefined;
  for (const member of item.members.values()) {
    const names = [...(member.keys ? [] : member.members.keys())];
    const hits = member.keys ? 2 : names.filter((name) => known.has(name)).length;
    if (hits > 0 && (!best || hits > best.hits)) best = { at: selectorOf(member, item), hits };
  }
  return best?.at ?? ([...item.members.keys()].filter((name) => known.has(name)).length > 1 ? '$' : undefined);
}

/** How often fields are filled, from 0 to 1, but for those that are often left empty. */
export interface Filled {
  share: number;
  mayBeEmpty: string[];
}

/** How often the fields are filled that a type declares and that neither it nor other code gives a value, over all parts. */
export function shareFilled(
  { objects }: Trees,
  code: Code,
  isMarked: (field: FieldDefined) => boolean,
  files: Files,
  texts: Texts,
): Filled {
  const typesIn = new Map<string, string>();
  for (const [name, { file }] of code.types) typesIn.set(files.paths[file] ?? '', name);
  const fields = code.fields.filter(
    (field) => !field.hasValue && !field.isOptional && !code.assigned.has(field.name) && isMarked(field),
  );
  const counts = new Map<string, { wanted: number; filled: number }>();
  const note = (field: string, of: 'wanted' | 'filled', count: number): void => {
    const known = counts.get(field) ?? { wanted: 0, filled: 0 };
    known[of] += count;
    counts.set(field, known);
  };
  for (const { parts } of objects)
    for (const { item, values, type, script } of parts) {
      const members = [...item.members.values()];
      const named = members.find((member) => selectorOf(member, item) === type) ?? script?.field.shape;
      const inner = members.find((member) => selectorOf(member, item) === values);
      if (!named || !inner) continue;
      for (const number of named.texts.numbers()) {
        const text = texts.text(number);
        const name = code.types.has(text) ? text : typesIn.get(text);
        for (const field of fields) if (field.type === name) note(field.name, 'wanted', named.texts.count(number));
      }
      const holds = inner.keys ? inner : (inner.item ?? inner);
      for (const [key, { values: some, objects: all, lists }] of holds.members) note(key, 'filled', some + all + lists);
      for (const key of holds.keys?.numbers() ?? []) note(texts.text(key), 'filled', holds.keys?.count(key) ?? 0);
    }
  // A field that many parts leave empty may stay so.
  const isOptional = ([, one]: [string, { wanted: number; filled: number }]): boolean =>
    one.wanted >= FEWEST_PARTS && one.filled < one.wanted * MOSTLY;
  const mayBeEmpty = [...counts].filter(isOptional).map(([name]) => name);
  const all = [...counts].filter((one) => !isOptional(one)).map(([, one]) => one);
  const wanted = all.reduce((sum, one) => sum + one.wanted, 0);
  const filled = all.reduce((sum, one) => sum + Math.min(one.filled, one.wanted), 0);
  return { share: wanted === 0 ? 1 : filled / wanted, mayBeEmpty };
}

/** Fields that fewer of the parts fill may stay empty. */
const MOSTLY = 0.7;

/** Fewer parts with a field say nothing of it. */
const FEWEST_PARTS = 4;

/** Names of the fields that files fill. */
export function filledFields({ objects }: Trees, texts: Texts): Set<string> {
  const names = new Set<string>();
  for (const { parts } of objects)
    for (const { item, values } of parts) {
      if (values === undefined) continue;
      const at = [...item.members.values()].find((member) => selectorOf(member, item) === values);
      if (!at) continue;
      if (at.keys) for (const key of at.keys.numbers()) names.add(texts.text(key));
      for (const key of at.members.keys()) names.add(key);
    }
  return names;
}

export function isObjects(trees: Trees, domain: Domain | undefined): boolean {
  return domain !== undefined && trees.objects.some(({ piece }) => piece === domain.piece);
}
