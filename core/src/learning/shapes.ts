/**
 * The shape of a kind of files: all ways through their trees, with what stands at the end of each. After the parametric
 * schemas of Baazizi et al. (2019): objects are joined member by member, lists item by item; then maps – objects whose
 * names are data – and things that hold things of their own kind are folded.
 */
import { isLeaf, type TreeNode } from '../reading/tree/node.js';
import { Bag, type Texts } from './texts.js';

export interface Shape {
  /** Where it stands, when it stands for several. */
  at?: string;
  /** The name under which it stands; empty for what lists and maps hold. */
  key: string;
  parent: Shape | undefined;
  members: Map<string, Shape>;
  /** What a list, or a map once it is folded, holds. */
  item: Shape | undefined;
  /**
   * The things of a list apart by what they say that they are. Beside `item` until it is told whether these are sorts; then in its place, or
   * gone.
   */
  sorts?: Sorts;
  /** What the things of such a shape say that they are. */
  sort?: string;
  /** Times it stood there as an object, as a list, and as a value. */
  objects: number;
  lists: number;
  values: number;
  /** The texts and numbers that stand there. */
  texts: Bag;
  /** Names of a map's entries, once it is folded. */
  keys: Bag | undefined;
  /** Things like its items stand again below them, under the same name. */
  isNested: boolean;
  /** Values of some of its objects, each with the file it stands in: what goes with what. */
  samples: Sample[];
  /** By file, of the first few: the length of the list, or the greatest number, if all are whole and none is below 0. */
  perFile: Map<number, number>;
  /** Number of different files it stands in, and the last of them. */
  files: number;
  file: number;
}

export interface Sorts {
  /** The member that says it. */
  by: string;
  /** By its text; under the empty text those that say nothing. */
  shapes: Map<string, Shape>;
}

/** The values of one object, by their names. */
export interface Sample {
  file: number;
  values: Map<string, string>;
}

/** Objects whose values are kept together. */
const MOST_SAMPLES = 400;

export function newShape(key = '', parent?: Shape): Shape {
  return {
    key,
    parent,
    members: new Map(),
    item: undefined,
    objects: 0,
    lists: 0,
    values: 0,
    texts: new Bag(),
    keys: undefined,
    isNested: false,
    samples: [],
    perFile: new Map(),
    files: 0,
    file: -1,
  };
}

/** Adds a tree to a shape. */
export function addTree(shape: Shape, tree: TreeNode, texts: Texts, file: number): void {
  // Things of sorts are added twice: to all, and to their sort.
  const open: { shape: Shape; node: TreeNode; level: number }[] = [{ shape, node: tree, level: 0 }];
  for (let at = open.pop(); at; at = open.pop()) {
    const { shape: into, node, level } = at;
    if (into.file !== file) {
      into.file = file;
      into.files++;
    }
    if (isLeaf(node)) {
      into.values++;
      noteFor(into, file, typeof node.value === 'number' && /^\d+$/.test(String(node.value)) ? node.value : Infinity);
      if (node.kind === 'text' || node.kind === 'number') into.texts.add(texts.number(String(node.value)), file);
      continue;
    }
    if (node.kind === 'list') {
      into.lists++;
      noteFor(into, file, node.children.length);
      into.item ??= newShape('', into);
      const { item } = into;
      for (const child of node.children.toReversed()) {
        const sort = level < MOST_LEVELS ? sortFor(into, child) : undefined;
        if (sort) open.push({ shape: sort, node: child, level: level + 1 });
        open.push({ shape: item, node: child, level: sort ? level + 1 : level });
      }
      continue;
    }
    into.objects++;
    const sample = into.samples.length < MOST_SAMPLES ? { file, values: new Map<string, string>() } : undefined;
    if (sample) into.samples.push(sample);
    const own: typeof open = [];
    for (const child of node.children) {
      // What an element of XML is called says its kind, not what it is about.
      if (child.key === '#tag') continue;
      // Entries of a table in code that have no name stand in a row.
      if (child.key === '' && child.keyStart < 0) {
        into.item ??= newShape('', into);
        own.push({ shape: into.item, node: child, level });
        continue;
      }
      let member = into.members.get(child.key);
      if (!member) into.members.set(child.key, (member = newShape(child.key, into)));
      if (sample && (child.kind === 'text' || child.kind === 'number'))
        sample.values.set(child.key, String(child.value));
      own.push({ shape: member, node: child, level });
    }
    // In the order of the text.
    open.push(...own.reverse());
  }
}

/** Lists of sorts in lists of sorts that are told apart. */
const MOST_LEVELS = 2;
/** More sorts than so many are none. */
const MOST_SORTS = 250;
/** Members by which things say what they are. */
const SAYS_SORT =
  /^[$@_#]*(?:type|kind|class|category|sort|variant|tag|t)$|(?:[a-z](?:Type|Kind|Class)|_(?:type|kind|class))$/;
/** What names a sort. */
const SORT = /^[\p{L}_][\p{L}\p{N}_.: -]{0,59}$/u;

/** The shape of the things of a list that say that they are of one sort. */
function sortFor(list: Shape, thing: TreeNode): Shape | undefined {
  if (isLeaf(thing) || thing.kind === 'list') return undefined;
  const { sorts } = list;
  // What an element of XML is called says its kind: all of a list are of one.
  const isTag = ({ key, kind, value }: TreeNode): boolean =>
    kind === 'text' && key !== '#tag' && (sorts ? key === sorts.by : SAYS_SORT.test(key)) && SORT.test(String(value));
  const tag = thing.children.find(isTag);
  if (!sorts && !tag) return undefined;
  const { by, shapes } = (list.sorts ??= { by: tag?.key ?? '', shapes: new Map<string, Shape>() });
  const text = tag?.key === by ? String(tag.value) : '';
  let shape = shapes.get(text);
  if (shape) return shape;
  if (shapes.size >= MOST_SORTS) return undefined;
  shapes.set(text, (shape = newShape('', list)));
  shape.sort = text;
  return shape;
}

/** Files that are looked at one by one. */
const MOST_FILES = 500;

function noteFor({ perFile }: Shape, file: number, value: number): void {
  const known = perFile.get(file);
  if (known !== undefined || perFile.size < MOST_FILES) perFile.set(file, Math.max(known ?? 0, value));
}

/** Adds all of a shape to another. */
export function join(into: Shape, other: Shape): void {
  into.objects += other.objects;
  into.lists += other.lists;
  into.values += other.values;
  into.texts.addAll(other.texts);
  into.files += into.file === other.file ? Math.max(0, other.files - 1) : other.files;
  into.file = other.file;
  into.isNested ||= other.isNested;
  for (const [file, value] of other.perFile) noteFor(into, file, value);
  if (into.samples.length < MOST_SAMPLES)
    into.samples.push(...other.samples.slice(0, MOST_SAMPLES - into.samples.length));
  if (other.keys) (into.keys ??= new Bag()).addAll(other.keys);
  for (const [key, member] of other.members) {
    const own = into.members.get(key);
    if (own) join(own, member);
    else {
      into.members.set(key, member);
      member.parent = into;
    }
  }
  joinSorts(into, other);
  if (!other.item) return;
  if (into.item) join(into.item, other.item);
  else {
    into.item = other.item;
    other.item.parent = into;
  }
}

function joinSorts(into: Shape, { sorts, item }: Shape): void {
  if (!into.sorts) {
    // A list whose things say nothing has none that say it.
    if (!sorts || into.item) return;
    into.sorts = sorts;
    for (const shape of sorts.shapes.values()) shape.parent = into;
    return;
  }
  if (!sorts || sorts.by !== into.sorts.by) {
    if (item || sorts) delete into.sorts;
    return;
  }
  for (const [text, shape] of sorts.shapes) {
    const own = into.sorts.shapes.get(text);
    if (own) join(own, shape);
    else {
      into.sorts.shapes.set(text, shape);
      shape.parent = into;
    }
  }
}

/** The shapes right below one. */
export function below({ members, item, sorts }: Shape): Shape[] {
  return [...members.values(), ...(item ? [item] : []), ...(sorts?.shapes.values() ?? [])];
}

// Folding -----------------------------------------------------------------------------------------------------------

/** Under this the samples of a map's entries hold their names. */
export const KEY = '#key';

/** Under this a table in code says which function gives a value. */
export const CALL = '#call';

/** Fewer entries do not show that their names are data. */
const FEWEST_ENTRIES = 3;
/** Of the members that entries have, those that so many have are common. */
const COMMON = 0.3;

/** Folds maps and things within things, from the top down. */
export function fold(shape: Shape, texts: Texts, isXml: boolean): void {
  const open = [shape];
  for (let at = open.pop(); at; at = open.pop()) {
    // What elements are called says their kind.
    if (!isXml && isMap(at, texts)) foldMap(at, texts);
    if (at.item) absorb(at, texts);
    open.push(...below(at));
  }
}

/** Whether the names of an object's members are data: many, seldom the same, and what they hold is alike. */
function isMap({ members, objects, key }: Shape, texts: Texts): boolean {
  const count = members.size;
  if (count < FEWEST_ENTRIES || objects === 0) return false;
  const all = [...members.values()];
  if ([...members.keys()].some((name) => name === '#text')) return false;
  if (count >= FEWEST_SENTENCES && areSentences(all, texts)) return true;
  // A record mostly has the same members each time.
  const entries = all.reduce((sum, one) => sum + one.objects + one.lists + one.values, 0);
  const likely = entries / (count * objects);
  if (objects >= 3 && likely > 0.5) return false;
  const asObjects = all.filter((one) => one.objects > 0 && one.values === 0);
  if (asObjects.length === count) return areAlike(asObjects) && (objects < 3 || likely < 0.35 || count > 30);
  const asValues = all.filter((one) => one.values > 0 && one.objects === 0 && one.lists === 0);
  const asLists = all.filter((one) => one.lists > 0 && one.objects === 0 && one.values === 0);
  if (asLists.length === count) return count >= 6 && (objects < 3 || likely < 0.2);
  if (asValues.length < count) return false;
  // Values alone look alike: only many names that hardly come again are data.
  const isNamed = /s$|map|table|texts|lang/i.test(key);
  return objects <= 2 ? count >= (isNamed ? 8 : 16) * objects : likely < 0.2 && count >= 8;
}

/** As many sentences under one object are texts for people, by keys, and no record. */
const FEWEST_SENTENCES = 8;
const MOSTLY = 0.6;

function areSentences(all: readonly Shape[], texts: Texts): boolean {
  let sentences = 0;
  let count = 0;
  for (const one of all) {
    if (one.values === 0 || one.objects > 0 || one.lists > 0) return false;
    for (const text of one.texts.numbers()) {
      count++;
      if (texts.make(text) === 'several words') sentences++;
    }
  }
  return sentences > count * MOSTLY;
}

/** Whether objects have members in common. */
function areAlike(all: readonly Shape[]): boolean {
  const times = new Map<string, number>();
  for (const { members } of all) for (const key of members.keys()) times.set(key, (times.get(key) ?? 0) + 1);
  const common = new Set(
    [...times].filter(([, count]) => count >= Math.max(2, all.length * COMMON)).map(([key]) => key),
  );
  if (common.size === 0) return false;
  const like = all.filter(({ members }) => {
    const own = [...members.keys()];
    return own.length > 0 && own.filter((key) => common.has(key)).length / own.length >= 0.5;
  });
  return like.length / all.length >= 0.8;
}

function foldMap(shape: Shape, texts: Texts): void {
  const item = newShape('', shape);
  const keys = new Bag();
  for (const [key, member] of shape.members) {
    keys.add(texts.number(key), member.file, member.objects + member.lists + member.values);
    if (member.files < member.objects + member.lists + member.values) keys.again++;
    for (const sample of member.samples) sample.values.set(KEY, key);
    join(item, { ...member, key: '' });
  }
  for (const member of item.members.values()) member.parent = item;
  shape.members.clear();
  shape.item = item;
  shape.keys = keys;
}

/** Takes into a list or map those of the same name that stand below its items. */
function absorb(container: Shape, texts: Texts): void {
  const { item } = container;
  if (!item || container.key === '') return;
  // What is taken in may bring more of the same.
  for (let again = true; again;) {
    again = false;
    const open = [...item.members.values()];
    for (let at = open.pop(); at; at = open.pop()) {
      if (at.key === container.key && (at.item ?? at.members.size > 0)) {
        if (!at.item && container.keys && isMapLike(at, item)) foldMap(at, texts);
        if (at.item && isAlike(at.item, item)) {
          at.parent?.members.delete(at.key);
          if (at.keys) (container.keys ??= new Bag()).addAll(at.keys);
          join(item, at.item);
          container.isNested = true;
          again = true;
          continue;
        }
      }
      open.push(...below(at));
    }
  }
}

function isMapLike({ members }: Shape, item: Shape): boolean {
  return [...members.values()].every((one) => one.members.size === 0 || isAlike(one, item));
}

function isAlike(one: Shape, other: Shape): boolean {
  const least = Math.min(one.members.size, other.members.size);
  if (least === 0) return false;
  return [...one.members.keys()].filter((key) => other.members.has(key)).length / least >= 0.5;
}

// Ways --------------------------------------------------------------------------------------------------------------

const PLAIN = /^[A-Za-z_][A-Za-z0-9_]*$/;

export function step(key: string): string {
  return PLAIN.test(key) ? `.${key}` : `[${JSON.stringify(key)}]`;
}

/** Whether a shape is what a list or map holds. */
export function isItem(shape: Shape): boolean {
  return shape.parent?.item === shape || shape.sort !== undefined;
}

/** Whether a shape stands in another one, or is it. */
export function isWithin(shape: Shape | undefined, outer: Shape): boolean {
  for (let at = shape; at; at = at.parent) if (at === outer) return true;
  return false;
}

/** Whether a shape stands in a list or map. */
export function isInList(shape: Shape | undefined): boolean {
  for (let at = shape; at; at = at.parent) if (isItem(at)) return true;
  return false;
}

/** The selector of a shape from the root, or from another one above it. */
export function selectorOf(shape: Shape, from?: Shape): string {
  const steps: string[] = [];
  for (let at: Shape | undefined = shape; at && at !== from; at = at.parent) {
    if (at.at !== undefined) return `${at.at}${steps.reverse().join('')}`;
    if (!at.parent) break;
    if (isItem(at)) steps.push(at.sort === undefined ? itemStep(at.parent) : sortsStep([at]));
    else steps.push(at.isNested ? `.${step(at.key).replace(/^(?=\[)/, '.')}` : step(at.key));
  }
  return `$${steps.reverse().join('')}`;
}

/** The thing of some sort that a shape stands in, the nearest. */
export function sortAbove(shape: Shape): Shape | undefined {
  for (let at: Shape | undefined = shape; at; at = at.parent) if (at.sort !== undefined) return at;
  return undefined;
}

/** One selector of shapes that stand at the same place in things of several sorts of a list. */
export function selectorOfAll(shapes: readonly Shape[]): string {
  const [first] = shapes;
  const sort = first && sortAbove(first);
  if (!first || !sort?.parent) return first ? selectorOf(first) : '$';
  const sorts = shapes.flatMap((shape) => sortAbove(shape) ?? []);
  return `${selectorOf(sort.parent)}${sortsStep(sorts)}${selectorOf(first, sort).slice(1)}`;
}

/** How the items of a list are selected that are of some sorts. */
export function sortsStep(sorts: readonly Shape[]): string {
  const by = step(sorts[0]?.parent?.sorts?.by ?? '');
  return `[?${sorts.map(({ sort }) => `@${by} == ${JSON.stringify(sort)}`).join(' || ')}]`;
}

/** How the items of a shape are selected; beside members that have names, a slice means those alone that have none. */
function itemStep({ keys, lists, members }: Shape): string {
  if (keys && lists === 0) return '.*';
  return members.size > 0 ? '[:]' : '[*]';
}

/** Every shape of a tree, the top first. */
export function* shapesIn(root: Shape): Generator<Shape> {
  const open = [root];
  for (let at = open.pop(); at; at = open.pop()) {
    yield at;
    open.push(...(at.sorts?.shapes.values() ?? []));
    if (at.item) open.push(at.item);
    open.push(...[...at.members.values()].reverse());
  }
}

/** The name by which people would speak of it: its own, or that of what holds it. */
export function calledBy(shape: Shape): string {
  for (let at: Shape | undefined = shape; at; at = at.parent) if (at.key || at.sort) return at.key || (at.sort ?? '');
  return '';
}
