/**
 * The world that look-ups run in: every piece of the project with its place in the trees, built from facts alone.
 * Prefab instances are unfolded, so that each object that is there in play is a piece of its own.
 */
import { buildGraph, FLAGS, kindOf, nameOf, type GraphBuilder } from '../model/graph.js';
import type { FileFacts, OverrideFact, PartFact, PieceFact, ScriptFacts, ValueFact } from '../reading/facts.js';
import type { FileRule, Naming, OverrideRule, Plan } from '../reading/plan/plan.js';
import { NO_PARENT } from '../reading/glue-facts/read-glue-facts.js';
import { baseName } from '../reading/source.js';
import type { Range } from '../model/piece.js';
import { overlay, type Package } from './packages.js';

/** A type of a script, with what is needed to follow it. */
export interface WorldType {
  index: number;
  name: string;
  /** Position in the list of facts. */
  source: number;
  /** Position in the script's `types`. */
  local: number;
  script: ScriptFacts;
  piece: number;
  /** Nearest parent first; the type itself is not among them. */
  ancestors: WorldType[];
  /** Pieces of the flags that it declares or gives itself, by name; those that it has from a parent are the parent's. */
  flags: Map<string, number>;
}

/** A part on an object. */
export interface WorldPart {
  piece: number;
  object: number;
  /** Type as written in the file, or the script's own type. */
  typeName: string;
  type: WorldType | undefined;
  fact: PartFact;
  /** Where the fact stands: position in the list of facts, in its pieces and in its parts. */
  source: number;
  pieceFact: number;
  partFact: number;
  /** Position in the facts of the file it runs when that is no script: a behaviour graph. */
  graph?: number;
  /** Values in force on this object: those saved nearer to the instance come last and win. */
  values: ValueOnPart[];
}

export interface ValueOnPart {
  value: ValueFact;
  source: number;
  pieceFact: number;
  partFact: number;
}

export interface World {
  plan: Plan;
  facts: FileFacts[];
  builder: GraphBuilder;
  /** Piece of each file, by position in `facts`. */
  filePiece: number[];
  /** Position in `facts`, by path. */
  sourceOf: Map<string, number>;
  /** Every path in the project, read or not. */
  paths: Set<string>;
  /** Paths in lower letters to how they are really written. */
  pathsByLower: Map<string, string[]>;
  /** Paths by the file's name in lower letters. */
  pathsByLowerName: Map<string, string[]>;
  /** Piece of each piece fact: `pieceOf[source][pieceFact]`. */
  pieceOf: number[][];
  /** Children of each object, in order. */
  children: Map<number, number[]>;
  /** Parts of each object. */
  partsOf: Map<number, WorldPart[]>;
  partByPiece: Map<number, WorldPart>;
  types: WorldType[];
  /** Types by the position of their file in `facts`. */
  typesIn: Map<number, WorldType[]>;
  typesByName: Map<string, WorldType[]>;
  /** Pieces by the identity written in files. */
  byId: Map<string, number[]>;
  /** Pieces found in files, by name; instances' copies are not among them. */
  byName: Map<string, number[]>;
  /** Every object of the trees by name, instances' copies too. */
  byNameInTree: Map<string, number[]>;
  /** The same by name in lower letters. */
  byLowerNameInTree: Map<string, number[]>;
  /** Names of all parts on the map, and of all types that run on some object, with those they descend from. */
  partNames: Set<string>;
  carriedTypes: Set<string>;
  /** Names of all functions. */
  functionNames: Set<string>;
  /** Scenes that are loaded together with each, itself first; only those that are. */
  loadedWith: Map<number, number[]>;
  /** Texts under a name that any script can use. */
  constants: Map<string, string>;
  /** Fields that some script sets on another object. */
  setElsewhere: Set<string>;
  /** Objects that name as their holder something that stands below them. */
  ownHolders: { piece: number; named: string; file: string; range: Range }[];
  /** Objects whose prefab is not known: what stands below them cannot be judged. */
  incomplete: Set<number>;
  /** Positions in `facts` of prefabs that some object is made from. */
  instanced: Set<number>;
  /** Objects made from a prefab, by the file they are written in: object, and the prefab's position in `facts`. */
  madeFrom: Map<number, { object: number; prefab: number; pieceFact: number }[]>;
  /** Labels that each object carries. */
  labelsOf: Map<number, string[]>;
  /** Piece of each label by name, declared or only carried. */
  labels: Map<string, number>;
  /** The part that an override changes: by {@link placeKey} of the override. */
  changedPart: Map<string, WorldPart>;
  /** Overrides that name something the prefab does not hold. */
  lostOverrides: Map<number, { object: number; pieceFact: number; override: number }[]>;
  /** Packages in load order, by the position of their manifest in `facts`, with their folder. */
  packages: Package[];
  /** Files that another package's file stands in for, to that file. */
  replacedBy: Map<string, string>;
  /** Pieces that code makes known, by the position of their script in `facts`, in the order of the code. */
  declared: Map<number, number[]>;
  /** Identities made by code whose whole text is not known. */
  madeIds: RegExp[];
  /** Pieces of files that no rule reads but something leads to. */
  unreadPiece: Map<string, number>;
}

/** Resolves a written path of a rule to a file's path; given by the caller so that there is one place for paths. */
export type PrefabFinder = (world: World, source: number, piece: PieceFact) => string | undefined;
export type ScriptFinder = (world: World, source: number, piece: PieceFact, part: PartFact) => string | undefined;

export function buildWorld(
  allFacts: FileFacts[],
  otherPaths: string[],
  plan: Plan,
  findPrefab: PrefabFinder,
  findScript: ScriptFinder,
): World {
  const packaged = overlay(allFacts, plan);
  const { facts } = packaged;
  const world: World = {
    plan,
    facts,
    builder: buildGraph(),
    filePiece: [],
    sourceOf: new Map(facts.map((fact, at) => [fact.file, at])),
    paths: new Set([...allFacts.map((fact) => fact.file), ...otherPaths]),
    pathsByLower: new Map(),
    pathsByLowerName: new Map(),
    pieceOf: [],
    children: new Map(),
    partsOf: new Map(),
    partByPiece: new Map(),
    types: [],
    typesIn: new Map(),
    typesByName: new Map(),
    byId: new Map(),
    byName: new Map(),
    byNameInTree: new Map(),
    byLowerNameInTree: new Map(),
    partNames: new Set(),
    carriedTypes: new Set(),
    functionNames: new Set(facts.flatMap((fact) => (fact.script?.functions ?? []).map((code) => code.name))),
    loadedWith: new Map(),
    constants: new Map(facts.flatMap((fact) => (fact.script?.constants ?? []).map((one) => [one.name, one.text]))),
    setElsewhere: new Set(facts.flatMap((fact) => fact.script?.memberWrites ?? [])),
    ownHolders: [],
    incomplete: new Set(),
    instanced: new Set(),
    madeFrom: new Map(),
    labelsOf: new Map(),
    labels: new Map(),
    changedPart: new Map(),
    lostOverrides: new Map(),
    packages: packaged.packages,
    replacedBy: packaged.replacedBy,
    declared: new Map(),
    madeIds: [],
    unreadPiece: new Map(),
  };
  for (const path of world.paths) {
    push(world.pathsByLower, path.toLowerCase(), path);
    push(world.pathsByLowerName, baseName(path).toLowerCase(), path);
  }
  facts.forEach((fact, source) => addFile(world, fact, source));
  facts.forEach((fact, source) => fact.script && addTypes(world, fact.script, source));
  world.types.forEach((type) => (type.ancestors = ancestorsOf(world, type)));
  world.types.forEach((type) => addFlags(world, type));
  facts.forEach((_fact, source) => addPieces(world, source, findScript));
  labelPieces(world);
  unfoldAll(world, findPrefab);
  indexTrees(world);
  gatherSets(world);
  return world;
}

/** Adds to a list in a map of lists. */
export function push<K, V>(map: Map<K, V[]>, key: K, value: V): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}

function addFile(world: World, fact: FileFacts, source: number): void {
  const piece = world.builder.addPiece({
    kind: fact.kind,
    name: fact.name,
    id: fact.id,
    file: fact.file,
    range: fact.range,
  });
  world.filePiece[source] = piece;
  register(world, piece, fact.id, fact.name);
}

function register(world: World, piece: number, id: string, name: string): void {
  if (id) push(world.byId, id, piece);
  if (name) push(world.byName, name, piece);
}

function addTypes(world: World, script: ScriptFacts, source: number): void {
  script.types.forEach((type, local) => {
    const piece = world.builder.addPiece({
      kind: 'type',
      name: type.name,
      parent: world.filePiece[source],
      file: world.facts[source].file,
      range: type.range,
    });
    const added: WorldType = {
      index: world.types.length,
      name: type.name,
      source,
      local,
      script,
      piece,
      ancestors: [],
      flags: new Map(),
    };
    world.types.push(added);
    push(world.typesIn, source, added);
    push(world.typesByName, type.name, added);
  });
}

function addFlags(world: World, type: WorldType): void {
  const { file } = world.facts[type.source];
  for (const { name, range } of type.script.types[type.local].flags) {
    const isParents = type.ancestors.some(({ script, local }) =>
      script.types[local].flags.some((flag) => flag.name === name),
    );
    if (isParents || type.flags.has(name)) continue;
    type.flags.set(name, world.builder.addPiece({ kind: 'flag', name, parent: type.piece, file, range }));
  }
}

/** The piece of a flag that a type has, itself or from a parent. */
export function flagPiece(type: WorldType, name: string): number | undefined {
  for (const one of [type, ...type.ancestors]) {
    const piece = one.flags.get(name);
    if (piece !== undefined) return piece;
  }
  return undefined;
}

/** Parents of a type, nearest first, found by name; a circle ends where it closes. */
function ancestorsOf(world: World, type: WorldType): WorldType[] {
  const found: WorldType[] = [];
  const open = [type];
  for (let current = open.shift(); current; current = open.shift()) {
    for (const written of current.script.types[current.local].parents) {
      const parent = typeNamed(world, written, current.source);
      if (!parent || parent === type || found.includes(parent)) continue;
      found.push(parent);
      open.push(parent);
    }
  }
  return found;
}

/** The type a name means in a file (-1: in none): one of the same file first, then one it imports, then the only one. */
export function typeNamed(world: World, written: string, source: number): WorldType | undefined {
  const given = written
    .replace(/[<[].*$/s, '')
    .split('.')
    .pop()!
    .trim();
  const name = world.plan.typeNames[given] ?? given;
  const candidates = world.typesByName.get(name) ?? [];
  if (candidates.length <= 1) return candidates[0];
  const own = candidates.find((candidate) => candidate.source === source);
  if (own) return own;
  const imported = world.facts[source]?.script?.imports.find((entry) =>
    entry.names.some((one) => one.as === name || one.name === name),
  );
  const module = imported?.from
    .split(/[./\\]/)
    .filter(Boolean)
    .pop();
  return candidates.find((candidate) => module && world.facts[candidate.source].name === module) ?? candidates[0];
}

/** The type that a script file stands for: the one named as the file, else its first class. */
export function mainType(world: World, path: string): WorldType | undefined {
  const source = world.sourceOf.get(path);
  if (source === undefined) return undefined;
  const own = (world.typesIn.get(source) ?? []).filter((type) => type.script.types[type.local].kind === 'class');
  const plain = (text: string): string => text.toLowerCase().replace(/[^a-z0-9]/g, '');
  return own.find((type) => plain(type.name) === plain(world.facts[source].name)) ?? own[0];
}

function addPieces(world: World, source: number, findScript: ScriptFinder): void {
  const fact = world.facts[source];
  const pieces: number[] = [];
  world.pieceOf[source] = pieces;
  for (const piece of fact.pieces) {
    const index = world.builder.addPiece({
      kind: piece.kind,
      name: piece.name,
      id: piece.id,
      parent: piece.parent >= 0 ? pieces[piece.parent] : piece.parent === NO_PARENT ? -1 : world.filePiece[source],
      file: piece.file ?? fact.file,
      range: piece.range,
      flags: (piece.isOff ? FLAGS.off : 0) + (piece.isBarred ? FLAGS.barred : 0) + (piece.isKept ? FLAGS.kept : 0),
    });
    pieces.push(index);
    register(world, index, piece.id, piece.name);
    if (piece.labels?.length)
      world.labelsOf.set(
        index,
        piece.labels.map((label) => label.text),
      );
  }
  fact.pieces.forEach((piece, at) => {
    if (piece.parentNamed) adoptByField(world, source, at);
    if (piece.children) adoptChildren(world, source, at);
    addParts(world, source, at, findScript);
  });
  fact.pieces.forEach((_piece, at) => {
    const parent = world.builder.graph.pieces.parent[pieces[at]];
    if (parent >= 0) push(world.children, parent, pieces[at]);
  });
}

/** A parent named by a field, in the same file. */
function adoptByField(world: World, source: number, at: number): void {
  const piece = world.facts[source].pieces[at];
  const { parent } = fileRuleOf(world, source).pieces[piece.rule];
  if (typeof parent === 'string') return;
  const found = pieceNamed(world, source, parent, piece.parentNamed!, at);
  if (found < 0) return;
  const own = world.pieceOf[source][at];
  if (isBelow(world, world.pieceOf[source][found], own))
    world.ownHolders.push({
      piece: own,
      named: piece.parentNamed!,
      file: world.facts[source].file,
      range: piece.range,
    });
  else world.builder.setParent(own, world.pieceOf[source][found]);
}

/** Children named by their parent, in the same file. One that is named twice stays with the first. */
function adoptChildren(world: World, source: number, at: number): void {
  const { pieces, rule } = world.facts[source];
  const piece = pieces[at];
  const naming = world.plan.files[rule].pieces[piece.rule].children!;
  const { parent } = world.builder.graph.pieces;
  for (const text of piece.children ?? []) {
    const child = pieceNamed(world, source, { ...naming, of: naming.of ?? piece.rule }, text, at);
    const index = world.pieceOf[source][child];
    if (child < 0 || parent[index] !== world.filePiece[source] || isBelow(world, world.pieceOf[source][at], index))
      continue;
    world.builder.setParent(index, world.pieceOf[source][at]);
  }
}

function isBelow(world: World, piece: number, above: number): boolean {
  const { parent } = world.builder.graph.pieces;
  for (let at = piece; at >= 0; at = parent[at]) if (at === above) return true;
  return false;
}

/** Pieces of one file by what names them: `id tender`, `name Cleat`, `index rule 3`. */
const namings = new WeakMap<FileFacts, Map<string, number[]>>();

/**
 * The piece of a file that a text names, as its position in the file's facts, or -1. Of several the one with the
 * same parent as `near` counts, then the first.
 */
export function pieceNamed(
  world: World,
  source: number,
  { by, of }: { by: Naming; of?: string },
  text: string,
  near = -1,
): number {
  const fact = world.facts[source];
  let named = namings.get(fact);
  if (!named) {
    namings.set(fact, (named = new Map()));
    for (const [at, piece] of fact.pieces.entries()) {
      if (piece.id) push(named, `id ${piece.id}`, at);
      if (piece.name) push(named, `name ${piece.name}`, at);
      push(named, `index ${piece.rule} ${piece.index}`, at);
    }
  }
  const found = named.get(by === 'index' ? `index ${of ?? ''} ${text}` : `${by} ${text}`) ?? [];
  if (found.length <= 1 || near < 0) return found[0] ?? -1;
  const home = fact.pieces[near].parent;
  return found.find((at) => fact.pieces[at].parent === home || fact.pieces[at].parent === near) ?? found[0];
}

/** Pieces for all labels: those that a list declares, and those that something carries. */
function labelPieces(world: World): void {
  const { graph } = world.builder;
  for (const [name, pieces] of world.byName) {
    const label = pieces.find((piece) => kindOf(graph, piece) === 'label');
    if (label !== undefined) world.labels.set(name, label);
  }
  for (const names of world.labelsOf.values()) {
    for (const name of names) {
      if (!world.labels.has(name)) world.labels.set(name, world.builder.addPiece({ kind: 'label', name }));
    }
  }
}

function addParts(world: World, source: number, pieceFact: number, findScript: ScriptFinder): void {
  const piece = world.facts[source].pieces[pieceFact];
  const object = world.pieceOf[source][pieceFact];
  piece.parts.forEach((fact, partFact) => {
    const path = fact.script && findScript(world, source, piece, fact);
    const type = path ? mainType(world, path) : fact.type ? typeNamed(world, fact.type, source) : undefined;
    const graph = path && !type ? world.sourceOf.get(path) : undefined;
    addPart(world, {
      ...(graph !== undefined && { graph }),
      object,
      typeName: fact.type || type?.name || '',
      type,
      fact,
      source,
      pieceFact,
      partFact,
      values: fact.values.map((value) => ({ value, source, pieceFact, partFact })),
    });
  });
}

export function addPart(world: World, part: Omit<WorldPart, 'piece'>, origin = -1): WorldPart {
  const written = part.fact.script?.text;
  const piece = world.builder.addPiece({
    kind: 'part',
    name: part.type?.name || part.typeName || written || '',
    parent: part.object,
    file: world.facts[part.source].file,
    range: part.fact.range,
    origin,
  });
  const { object, typeName, type, fact, source, pieceFact, partFact, values, graph } = part;
  const added: WorldPart = { piece, object, typeName, type, fact, source, pieceFact, partFact, graph, values };
  for (const one of type ? [type, ...type.ancestors] : []) world.carriedTypes.add(one.name);
  push(world.partsOf, part.object, added);
  world.partByPiece.set(piece, added);
  return added;
}

/** Unfolds every instance: a prefab is unfolded itself before it is copied; a circle is left as it is. */
function unfoldAll(world: World, findPrefab: PrefabFinder): void {
  const state = new Map<number, 'open' | 'done'>();
  const unfold = (source: number): void => {
    if (state.has(source)) return;
    state.set(source, 'open');
    world.facts[source].pieces.forEach((piece, at) => {
      if (!piece.madeFrom) return;
      const object = world.pieceOf[source][at];
      const path = findPrefab(world, source, piece);
      const prefab = path === undefined ? undefined : world.sourceOf.get(path);
      if (prefab === undefined) return void world.incomplete.add(object);
      unfold(prefab);
      push(world.madeFrom, source, { object, prefab, pieceFact: at });
      world.instanced.add(prefab);
      if (state.get(prefab) === 'open') return void world.incomplete.add(object);
      copyPrefab(world, prefab, object, removedBy(world, source, at, prefab));
      applyOverrides(world, source, at);
    });
    state.set(source, 'done');
  };
  world.facts.forEach((_fact, source) => unfold(source));
}

/** The objects a prefab or scene starts with. */
export function rootsOf(world: World, source: number): number[] {
  return (world.children.get(world.filePiece[source]) ?? []).filter(
    (piece) => kindOf(world.builder.graph, piece) === 'object',
  );
}

/** Gives `object` what the prefab holds: an only root becomes the object itself, several become its children. */
function copyPrefab(world: World, prefab: number, object: number, removed: ReadonlySet<number>): void {
  const roots = rootsOf(world, prefab);
  if (roots.length !== 1) {
    for (const root of roots) copyObject(world, root, object, removed);
    return;
  }
  const [root] = roots;
  if (world.incomplete.has(root)) world.incomplete.add(object);
  const own = world.partsOf.get(object) ?? [];
  for (const part of world.partsOf.get(root) ?? []) {
    if (removed.has(part.piece)) continue;
    const mine = own.find((candidate) => candidate.typeName === part.typeName && candidate.type === part.type);
    if (mine) mine.values = [...part.values, ...mine.values];
    else copyPart(world, part, object);
  }
  const { pieces } = world.builder.graph;
  if (pieces.name[object] === 0) pieces.name[object] = pieces.name[root];
  pieces.flags[object] |= pieces.flags[root];
  const labels = world.labelsOf.get(root);
  if (labels) world.labelsOf.set(object, [...new Set([...(world.labelsOf.get(object) ?? []), ...labels])]);
  for (const child of [...(world.children.get(root) ?? [])]) copyObject(world, child, object, removed);
}

function copyObject(world: World, from: number, parent: number, removed: ReadonlySet<number>): void {
  if (removed.has(from)) return;
  const { graph } = world.builder;
  const copy = world.builder.addPiece({
    kind: 'object',
    name: nameOf(graph, from),
    parent,
    file: graph.texts[graph.pieces.file[from]],
    range: {
      line: graph.pieces.line[from],
      column: graph.pieces.column[from],
      endLine: graph.pieces.endLine[from],
      endColumn: graph.pieces.endColumn[from],
    },
    origin: from,
    flags: graph.pieces.flags[from],
  });
  push(world.children, parent, copy);
  const labels = world.labelsOf.get(from);
  if (labels) world.labelsOf.set(copy, labels);
  if (world.incomplete.has(from)) world.incomplete.add(copy);
  for (const part of world.partsOf.get(from) ?? []) if (!removed.has(part.piece)) copyPart(world, part, copy);
  for (const child of [...(world.children.get(from) ?? [])]) copyObject(world, child, copy, removed);
}

// Overrides ---------------------------------------------------------------------------------------------------------

/** A key for a part fact, or, counted behind the parts, an override of a piece fact. */
export function placeKey(source: number, pieceFact: number, partFact: number): string {
  return `${source}/${pieceFact}/${partFact}`;
}

/** Objects and parts of the prefab that an instance takes out. */
function removedBy(world: World, source: number, at: number, prefab: number): Set<number> {
  const removed = new Set<number>();
  const roots = rootsOf(world, prefab);
  eachOverride(world, source, at, (override, rule, index) => {
    if (rule.means !== 'remove') return;
    const start = roots.length === 1 ? roots[0] : world.filePiece[prefab];
    const object = findInside(world, start, override.on, rule);
    const part = override.part && object >= 0 ? partNamed(world, object, override.part)?.piece : undefined;
    if (object < 0 || (override.part && part === undefined))
      push(world.lostOverrides, source, { object: world.pieceOf[source][at], pieceFact: at, override: index });
    else removed.add(part ?? object);
  });
  return removed;
}

/** Puts changed values and added objects where they belong. */
function applyOverrides(world: World, source: number, at: number): void {
  const object = world.pieceOf[source][at];
  const partCount = world.facts[source].pieces[at].parts.length;
  eachOverride(world, source, at, (override, rule, index) => {
    if (rule.means === 'remove') return;
    const target = findInside(world, object, override.on, rule);
    const part = target >= 0 && override.part ? partNamed(world, target, override.part) : undefined;
    if (target < 0 || (override.part && !part)) {
      if (!world.incomplete.has(object)) push(world.lostOverrides, source, { object, pieceFact: at, override: index });
      return;
    }
    for (const added of override.adds) moveUnder(world, world.pieceOf[source][added], target);
    if (!part) return;
    const partFact = partCount + index;
    world.changedPart.set(placeKey(source, at, partFact), part);
    part.values = [...part.values, ...override.values.map((value) => ({ value, source, pieceFact: at, partFact }))];
  });
}

function eachOverride(
  world: World,
  source: number,
  at: number,
  visit: (override: OverrideFact, rule: OverrideRule, index: number) => void,
): void {
  const piece = world.facts[source].pieces[at];
  const rules = fileRuleOf(world, source).pieces[piece.rule]?.overrides ?? [];
  piece.overrides?.forEach((override, index) => visit(override, rules[override.rule], index));
}

function moveUnder(world: World, piece: number, parent: number): void {
  const before = world.builder.graph.pieces.parent[piece];
  if (before === parent) return;
  const siblings = world.children.get(before) ?? [];
  siblings.splice(siblings.indexOf(piece), 1);
  world.builder.setParent(piece, parent);
  push(world.children, parent, piece);
}

/** The object that an override means, inside an instance or a prefab, or -1. */
function findInside(world: World, start: number, on: string, { by, separator }: OverrideRule): number {
  if (!on || on === '.') return start;
  const { graph } = world.builder;
  if (by === 'object path') {
    let at = start;
    for (const step of on.split(separator).filter(Boolean)) {
      at = (world.children.get(at) ?? []).find((child) => nameOf(graph, child) === step) ?? -1;
      if (at < 0) return -1;
    }
    return at;
  }
  const idOf = (piece: number): string => {
    let at = piece;
    while (graph.pieces.id[at] === 0 && graph.pieces.origin[at] >= 0) at = graph.pieces.origin[at];
    return graph.texts[graph.pieces.id[at]];
  };
  const open = [start];
  for (let at = open.shift(); at !== undefined; at = open.shift()) {
    if ((by === 'id' ? idOf(at) : nameOf(graph, at)) === on) return at;
    open.push(...(world.children.get(at) ?? []));
  }
  return -1;
}

function partNamed(world: World, object: number, type: string): WorldPart | undefined {
  return (world.partsOf.get(object) ?? []).find((part) => part.typeName === type || part.type?.name === type);
}

function copyPart(world: World, part: WorldPart, object: number): void {
  const { piece, typeName, type, fact, source, pieceFact, partFact, values, graph } = part;
  addPart(world, { object, typeName, type, fact, source, pieceFact, partFact, values, graph }, piece);
}

const running = new WeakMap<World, Map<WorldType, WorldPart[]>>();

/** Parts that run a type or one that descends from it. To be asked once all parts are there. */
export function partsRunning(world: World, type: WorldType): WorldPart[] {
  let index = running.get(world);
  if (!index) {
    running.set(world, (index = new Map()));
    for (const part of world.partByPiece.values())
      for (const one of part.type ? [part.type, ...part.type.ancestors] : []) push(index, one, part);
  }
  return index.get(type) ?? [];
}

/** Names in the trees, once all instances are unfolded. */
function indexTrees(world: World): void {
  const { graph } = world.builder;
  for (let piece = 0; piece < graph.pieceCount; piece++) {
    const kind = kindOf(graph, piece);
    if (kind === 'object') {
      push(world.byNameInTree, nameOf(graph, piece), piece);
      push(world.byLowerNameInTree, nameOf(graph, piece).toLowerCase(), piece);
    } else if (kind === 'part') world.partNames.add(nameOf(graph, piece));
  }
}

/** Which scenes are loaded together, as the plan says by identity, name or path. */
function gatherSets(world: World): void {
  for (const names of world.plan.together) {
    const scenes = names.flatMap((name) => {
      const source = world.sourceOf.get(name);
      const pieces =
        source === undefined ? (world.byId.get(name) ?? world.byName.get(name) ?? []) : [world.filePiece[source]];
      return pieces.filter((piece) => kindOf(world.builder.graph, piece) === 'scene').slice(0, 1);
    });
    for (const scene of scenes) {
      const before = world.loadedWith.get(scene) ?? [scene];
      world.loadedWith.set(scene, [...new Set([...before, ...scenes])]);
    }
  }
}

/** The scene or prefab a piece stands in: its uppermost ancestor. */
export function topOf(world: World, piece: number): number {
  const { parent } = world.builder.graph.pieces;
  let at = piece;
  for (let steps = 0; parent[at] >= 0 && steps < 10_000; steps++) at = parent[at];
  return at;
}

export function fileRuleOf(world: World, source: number): FileRule {
  return world.plan.files[world.facts[source].rule];
}
