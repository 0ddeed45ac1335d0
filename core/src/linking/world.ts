/**
 * The world that look-ups run in: every piece of the project with its place in the trees, built from facts alone.
 * Prefab instances are unfolded, so that each object that is there in play is a piece of its own.
 */
import { buildGraph, kindOf, nameOf, type GraphBuilder } from '../model/graph.js';
import type { FileFacts, PartFact, PieceFact, ScriptFacts, ValueFact } from '../reading/facts.js';
import type { FileRule, Plan } from '../reading/plan/plan.js';
import { baseName } from '../reading/source.js';

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
  /** Names of all parts on the map. */
  partNames: Set<string>;
  /** Texts under a name that any script can use. */
  constants: Map<string, string>;
  /** Fields that some script sets on another object. */
  setElsewhere: Set<string>;
  /** Objects whose prefab is not known: what stands below them cannot be judged. */
  incomplete: Set<number>;
  /** Positions in `facts` of prefabs that some object is made from. */
  instanced: Set<number>;
  /** Objects made from a prefab: object, the prefab's position in `facts`, and where this is written. */
  madeFrom: { object: number; prefab: number; source: number; pieceFact: number }[];
  /** Pieces of files that no rule reads but something leads to. */
  unreadPiece: Map<string, number>;
}

/** Resolves a written path of a rule to a file's path; given by the caller so that there is one place for paths. */
export type PrefabFinder = (world: World, source: number, piece: PieceFact) => string | undefined;
export type ScriptFinder = (world: World, source: number, piece: PieceFact, part: PartFact) => string | undefined;

export function buildWorld(
  facts: FileFacts[],
  otherPaths: string[],
  plan: Plan,
  findPrefab: PrefabFinder,
  findScript: ScriptFinder,
): World {
  const world: World = {
    plan,
    facts,
    builder: buildGraph(),
    filePiece: [],
    sourceOf: new Map(facts.map((fact, at) => [fact.file, at])),
    paths: new Set([...facts.map((fact) => fact.file), ...otherPaths]),
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
    constants: new Map(facts.flatMap((fact) => (fact.script?.constants ?? []).map((one) => [one.name, one.text]))),
    setElsewhere: new Set(facts.flatMap((fact) => fact.script?.memberWrites ?? [])),
    incomplete: new Set(),
    instanced: new Set(),
    madeFrom: [],
    unreadPiece: new Map(),
  };
  for (const path of world.paths) {
    push(world.pathsByLower, path.toLowerCase(), path);
    push(world.pathsByLowerName, baseName(path).toLowerCase(), path);
  }
  facts.forEach((fact, source) => addFile(world, fact, source));
  facts.forEach((fact, source) => fact.script && addTypes(world, fact.script, source));
  world.types.forEach((type) => (type.ancestors = ancestorsOf(world, type)));
  facts.forEach((_fact, source) => addPieces(world, source, findScript));
  unfoldAll(world, findPrefab);
  indexTrees(world);
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
    };
    world.types.push(added);
    push(world.typesIn, source, added);
    push(world.typesByName, type.name, added);
  });
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
      parent: piece.parent >= 0 ? pieces[piece.parent] : world.filePiece[source],
      file: fact.file,
      range: piece.range,
    });
    pieces.push(index);
    register(world, index, piece.id, piece.name);
  }
  fact.pieces.forEach((piece, at) => {
    if (piece.parentNamed) adoptByField(world, source, at);
    addParts(world, source, at, findScript);
  });
  fact.pieces.forEach((_piece, at) => {
    const parent = world.builder.graph.pieces.parent[pieces[at]];
    push(world.children, parent, pieces[at]);
  });
}

/** Parents named by a field: by identity or name, in the same file. */
function adoptByField(world: World, source: number, at: number): void {
  const { pieces, rule: ruleName } = world.facts[source];
  const rule = world.plan.files[ruleName].pieces[pieces[at].rule];
  const by = typeof rule.parent === 'string' ? 'id' : rule.parent.by;
  const parent = pieces.findIndex((other) => other[by] === pieces[at].parentNamed);
  if (parent >= 0 && parent !== at) world.builder.setParent(world.pieceOf[source][at], world.pieceOf[source][parent]);
}

function addParts(world: World, source: number, pieceFact: number, findScript: ScriptFinder): void {
  const piece = world.facts[source].pieces[pieceFact];
  const object = world.pieceOf[source][pieceFact];
  piece.parts.forEach((fact, partFact) => {
    const path = fact.script && findScript(world, source, piece, fact);
    const type = path ? mainType(world, path) : fact.type ? typeNamed(world, fact.type, source) : undefined;
    addPart(world, {
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

function addPart(world: World, part: Omit<WorldPart, 'piece'>, origin = -1): void {
  const written = part.fact.script?.text;
  const piece = world.builder.addPiece({
    kind: 'part',
    name: part.type?.name || part.typeName || written || '',
    parent: part.object,
    file: world.facts[part.source].file,
    range: part.fact.range,
    origin,
  });
  const { object, typeName, type, fact, source, pieceFact, partFact, values } = part;
  const added: WorldPart = { piece, object, typeName, type, fact, source, pieceFact, partFact, values };
  push(world.partsOf, part.object, added);
  world.partByPiece.set(piece, added);
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
      world.madeFrom.push({ object, prefab, source, pieceFact: at });
      world.instanced.add(prefab);
      if (state.get(prefab) === 'open') return void world.incomplete.add(object);
      copyPrefab(world, prefab, object);
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
function copyPrefab(world: World, prefab: number, object: number): void {
  const roots = rootsOf(world, prefab);
  if (roots.length !== 1) {
    for (const root of roots) copyObject(world, root, object);
    return;
  }
  const [root] = roots;
  if (world.incomplete.has(root)) world.incomplete.add(object);
  const own = world.partsOf.get(object) ?? [];
  for (const part of world.partsOf.get(root) ?? []) {
    const mine = own.find((candidate) => candidate.typeName === part.typeName && candidate.type === part.type);
    if (mine) mine.values = [...part.values, ...mine.values];
    else copyPart(world, part, object);
  }
  const { pieces } = world.builder.graph;
  if (pieces.name[object] === 0) pieces.name[object] = pieces.name[root];
  for (const child of [...(world.children.get(root) ?? [])]) copyObject(world, child, object);
}

function copyObject(world: World, from: number, parent: number): void {
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
  });
  push(world.children, parent, copy);
  if (world.incomplete.has(from)) world.incomplete.add(copy);
  for (const part of world.partsOf.get(from) ?? []) copyPart(world, part, copy);
  for (const child of [...(world.children.get(from) ?? [])]) copyObject(world, child, copy);
}

function copyPart(world: World, part: WorldPart, object: number): void {
  const { piece, typeName, type, fact, source, pieceFact, partFact, values } = part;
  addPart(world, { object, typeName, type, fact, source, pieceFact, partFact, values }, piece);
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
