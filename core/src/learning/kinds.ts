/**
 * Step 1: kinds of files, by what stands in them. Files of one folder and ending are a group, apart where their shapes
 * are; groups whose shapes are alike are a kind.
 */
import { itemAt } from '../helpers/at.js';
import { grouped, type Some } from '../helpers/grouped.js';
import { baseName, folderOf, stem } from '../reading/source.js';
import type { Language } from '../reading/plan/plan.js';
import type { Place } from '../reading/scripts/tables.js';
import type { Format } from '../reading/tree/read-tree.js';
import type { TreeNode } from '../reading/tree/node.js';
import { addTree, join, newShape, type Shape } from './shapes.js';
import { showSorts } from './sorts.js';
import { ruleGroups } from './globs.js';
import type { CodeInside } from './code-inside.js';
import type { LineKinds } from './line-kinds.js';
import type { Texts } from './texts.js';

/** Files that are read alike. */
export interface Kind {
  name: string;
  /** `code` for tables in scripts. */
  format: Format | 'code' | 'lines';
  /** For tables in scripts, where they stand. */
  table?: { language: Language; place: Place; name: string; through: readonly string[] };
  /** For text of the team's own, its lines. */
  lines?: LineKinds;
  /** Whether the endings of the files say their format. */
  isToldByEnding: boolean;
  /** For XML, what the element is called that holds all. */
  tag: string;
  shape: Shape;
  /** Code that stands in its texts. */
  inside: CodeInside[];
  /** Positions of its files among all files of the project. */
  files: number[];
}

interface Group {
  folder: string;
  /** What its only file is called. */
  fileName: string;
  ending: string;
  format: Kind['format'];
  lines?: LineKinds;
  isToldByEnding: boolean;
  tag: string;
  shape: Shape;
  files: number[];
  /** Names that stand anywhere in the files, with how many files have each. */
  names: Map<string, number>;
}

/** Shapes with so much of the smaller one's names in common are one kind. */
const ALIKE = 0.55;
/** In one folder files of one ending are mostly of one kind. */
const ALIKE_IN_FOLDER = 0.5;
/** A double ending, a root element, or one name of files says that they are of one kind. */
const ALIKE_BY_NAME = 0.25;
/** A folder with so few files of a kind may be one of many. */
const FEW_FILES = 3;
/** Levels that are looked at to tell kinds apart. */
const LEVELS = 4;

/** All endings of a name: `tender.prefab.json` gives `prefab.json`. */
export function endingsOf(path: string): string {
  const base = baseName(path);
  const dot = base.indexOf('.', 1);
  return dot > 0 ? base.slice(dot + 1) : '';
}

function endingOf(path: string): string {
  const endings = endingsOf(path);
  return endings.slice(endings.lastIndexOf('.') + 1);
}

/** Gathers structured files one by one, and says in the end which kinds there are. */
export class Kinds {
  private readonly groups: Group[] = [];
  private readonly byPlace = new Map<string, Group[]>();

  constructor(private readonly texts: Texts) {}

  /** @param lines for text of the team's own: files of one form belong together */
  add(
    path: string,
    file: number,
    format: Format | 'lines',
    isToldByEnding: boolean,
    documents: readonly TreeNode[],
    lines?: LineKinds,
  ): void {
    const names = new Set<string>();
    for (const document of documents) namesIn(document, names, 0);
    const [first] = documents;
    const tag = (format === 'xml' && first?.children[0]?.key) || '';
    const key = `${folderOf(path)}\n${endingsOf(path)}\n${format}\n${tag}`;
    let here = this.byPlace.get(key);
    if (!here) this.byPlace.set(key, (here = []));
    let group = here.find((one) => format === 'xml' || likeness(one.names, names) >= ALIKE_IN_FOLDER);
    if (!group) {
      group = {
        folder: folderOf(path),
        fileName: baseName(path),
        ending: endingsOf(path),
        format,
        isToldByEnding,
        ...(lines && { lines }),
        tag,
        shape: newShape(),
        files: [],
        names: new Map(),
      };
      here.push(group);
      this.groups.push(group);
    }
    if (group.fileName !== baseName(path)) group.fileName = '';
    group.files.push(file);
    for (const name of names) group.names.set(name, (group.names.get(name) ?? 0) + 1);
    for (const document of documents) addTree(group.shape, document, this.texts, file);
  }

  /** @param paths all files of the project, by position */
  kinds(paths: readonly string[]): Kind[] {
    const kinds: Group[][] = [];
    const lists = listsOfSorts(this.groups);
    for (const group of [...this.groups].sort((a, b) => b.files.length - a.files.length)) {
      const list = lists.get(group);
      const known = kinds.find((all) =>
        list ? lists.get(itemAt(all, 0)) === list : isSameKind(itemAt(all, 0), group),
      );
      if (known) known.push(group);
      else kinds.push([group]);
    }
    const taken = new Set<string>();
    return kinds.map((all): Kind => {
      const [main, ...others] = all as Some<Group>;
      takeIn(main, others);
      return {
        name: nameFor(main, others, paths, taken),
        format: main.format,
        isToldByEnding: main.isToldByEnding,
        ...(main.lines && { lines: main.lines }),
        tag: main.tag,
        shape: main.shape,
        inside: [],
        files: main.files,
      };
    });
  }
}

/** Adds all that others hold, and their files. */
function takeIn(main: Pick<Group, 'shape' | 'files'>, others: readonly Pick<Group, 'shape' | 'files'>[]): void {
  for (const { shape, files } of others) {
    join(main.shape, shape);
    main.files.push(...files);
  }
  main.files.sort((a, b) => a - b);
}

/** Kinds of structured files that no plan can tell apart are one: what stands in any of them is read by one rule. */
export function joinUntold(kinds: readonly Kind[], paths: readonly string[]): Kind[] {
  return ruleGroups(kinds, paths).flatMap(({ kinds: same }) =>
    // What holds all in XML tells them apart inside a rule; lines have kinds of their own.
    grouped(same, ({ tag, lines }) => `${tag}\n${lines ? same.findIndex((one) => one.lines === lines) : ''}`).map(
      ([main, ...others]) => {
        takeIn(main, others);
        return main;
      },
    ),
  );
}

/** Names that stand in a tree, as far down as kinds are told apart by them. */
function namesIn(node: TreeNode, into: Set<string>, level: number): void {
  for (const child of node.children.slice(0, 200)) {
    if (child.key && child.key !== '#tag') into.add(child.key);
    if (level < LEVELS) namesIn(child, into, child.key ? level + 1 : level);
  }
}

/** Names that stand anywhere in a shape, as far down as kinds are told apart by them, into the names of a group. */
function namesOf(shape: Shape, into: Set<string>, level = 0): Set<string> {
  for (const [key, member] of shape.members) {
    into.add(key);
    if (level < LEVELS) namesOf(member, into, level + 1);
  }
  if (shape.item) namesOf(shape.item, into, level);
  return into;
}

/** Documents of one file each that belong together as those of data files would: kinds, each with what all of them hold. */
export function kindsOfDocuments(all: readonly Kind[], paths: readonly string[]): Kind[] {
  const groups: (Group & { kind: Kind })[] = [];
  for (const kind of all) {
    const path = paths[itemAt(kind.files, 0)] ?? '';
    const names = namesOf(kind.shape, new Set());
    const known = groups.find(
      (one) =>
        one.folder === folderOf(path) &&
        one.ending === endingsOf(path) &&
        likeness(one.names, names) >= ALIKE_IN_FOLDER,
    );
    if (known) {
      if (known.fileName !== baseName(path)) known.fileName = '';
      for (const name of names) known.names.set(name, (known.names.get(name) ?? 0) + 1);
      takeIn(known, [kind]);
      continue;
    }
    groups.push({
      ...{ kind, folder: folderOf(path), fileName: baseName(path), ending: endingsOf(path), format: 'code', tag: '' },
      ...{ isToldByEnding: true, shape: kind.shape, files: [...kind.files] },
      names: new Map([...names].map((name) => [name, 1])),
    });
  }
  const found: Group[][] = [];
  for (const group of groups.sort((a, b) => b.files.length - a.files.length)) {
    const known = found.find((same) => isSameKind(itemAt(same, 0), group));
    if (known) known.push(group);
    else found.push([group]);
  }
  const taken = new Set<string>();
  return found.map((same) => {
    const [main, ...others] = same as Some<(typeof groups)[number]>;
    takeIn(main, others);
    return { ...main.kind, name: nameFor(main, others, paths, taken), shape: main.shape, files: main.files };
  });
}

/** How much of the smaller set of names is in the other; names that a group has once only are data, most likely. */
function likeness(group: ReadonlyMap<string, number>, names: ReadonlySet<string>): number {
  const least = Math.min(group.size, names.size);
  if (least === 0) return group.size === names.size ? 1 : 0;
  let shared = 0;
  for (const name of names) if (group.has(name)) shared++;
  return shared / least;
}

function isSameKind(one: Group, other: Group): boolean {
  if (one.format !== other.format || one.tag !== other.tag) return false;
  if (one.lines !== other.lines) return false;
  if (one.lines) return true;
  if (endingOf(`a.${one.ending}`) !== endingOf(`a.${other.ending}`)) return false;
  const shared = likeness(one.names, new Set(other.names.keys()));
  // Folders of one name, or one folder for each thing, hold one kind; neighbours are most likely two.
  const isOnePlace = baseName(one.folder) === baseName(other.folder);
  const areSmall =
    folderOf(one.folder) === folderOf(other.folder) &&
    folderOf(one.folder) !== '' &&
    Math.max(one.files.length, other.files.length) <= FEW_FILES;
  // A double ending is a name that people gave to a kind.
  if (one.ending === other.ending && one.ending.includes('.')) return shared >= ALIKE_BY_NAME;
  // What holds all in XML says what kind it is.
  if (one.format === 'xml') return shared >= ALIKE_BY_NAME;
  if (one.fileName !== '' && one.fileName === other.fileName) return shared >= ALIKE_BY_NAME;
  if (!isOnePlace && !areSmall && folderOf(one.folder) === folderOf(other.folder)) return false;
  return shared >= ALIKE && Math.min(one.names.size, other.names.size) >= 3;
}

/**
 * Groups of files that hold lists of things of the same sorts, wherever they stand, each with the first of them: what a
 * thing says that it is tells more than its folder.
 */
function listsOfSorts(groups: readonly Group[]): Map<Group, Group> {
  const first = new Map<Group, Group>();
  const open = new Set(groups.filter(({ shape }) => shape.sorts !== undefined));
  for (const begin of open) {
    open.delete(begin);
    const same = [begin];
    const texts = new Set<string>();
    for (let at = 0; at < same.length; at++) {
      const { sorts } = itemAt(same, at).shape;
      for (const text of sorts?.shapes.keys() ?? []) if (text !== '') texts.add(text);
      for (const group of open) {
        const { shape, format, ending } = group;
        if (shape.sorts?.by !== sorts?.by || format !== begin.format || ending !== begin.ending) continue;
        if (![...(shape.sorts?.shapes.keys() ?? [])].some((text) => texts.has(text))) continue;
        open.delete(group);
        same.push(group);
      }
    }
    if (showSorts(same.map(({ shape }) => shape))) for (const group of same) first.set(group, begin);
  }
  return first;
}

/** A name for a kind: what the root element, the double ending, the folder or the file is called. */
function nameFor(main: Group, others: readonly Group[], paths: readonly string[], taken: Set<string>): string {
  const double = main.ending.includes('.') ? main.ending.slice(0, main.ending.lastIndexOf('.')) : '';
  const folders = new Set([main, ...others].map(({ folder }) => baseName(folder)));
  const alone = main.files.length === 1 ? stem(paths[main.files[0] ?? 0] ?? '') : '';
  const wanted =
    double || alone || main.tag || (folders.size === 1 ? [...folders][0] : '') || baseName(main.folder) || main.ending;
  const plain = (wanted ?? '').replace(/[^\p{L}\p{N}]+/gu, ' ').trim() || 'data';
  let name = plain;
  for (let number = 2; taken.has(name); number++) name = `${plain} ${number}`;
  taken.add(name);
  return name;
}
