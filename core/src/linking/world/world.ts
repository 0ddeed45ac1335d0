/**
 * The world that look-ups run in: every piece of the project with its place in the trees, built from facts alone.
 * Prefab instances are unfolded, so that each object that is there in play is a piece of its own.
 */
import { contentOf } from '../../reading/plan/content.js';
import type { Pattern } from '../../helpers/pattern.js';
import { cellAt, entryOf, itemAt } from '../../helpers/at.js';
import { kindOf, type GraphBuilder } from '../../model/graph.js';
import type { Range } from '../../model/piece.js';
import type { FileFacts, PartFact, PieceFact, ScriptFacts, ValueFact } from '../../reading/facts.js';
import type { ContentRules, FileRule, Plan } from '../../reading/plan/plan.js';
import type { Package } from '../packages.js';

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

/** Files and packages. Complete before anything else is built, but for `piece` and `unread`. */
export interface WorldFiles {
  /** Piece of each file, by position in `facts`. */
  piece: number[];
  /** Position in `facts`, by path. */
  sourceOf: Map<string, number>;
  /** Every path in the project, read or not. */
  paths: Set<string>;
  /** Paths in lower letters to how they are really written. */
  byLower: Map<string, string[]>;
  /** Paths by the file's name in lower letters. */
  byLowerName: Map<string, string[]>;
  /** Packages in load order, by the position of their manifest in `facts`, with their folder. */
  packages: Package[];
  /** Files that another package's file stands in for, to that file. */
  replacedBy: Map<string, string>;
  /** Pieces of files that no rule reads but something leads to: made while links are made. */
  unread: Map<string, number>;
}

/** Objects and their parts. `pieces.ts` and `parts.ts` fill it, `prefabs.ts` unfolds; attaching adds parts, no more. */
export interface WorldTrees {
  /** Piece of each piece fact: `pieceOf[source][pieceFact]`. */
  pieceOf: number[][];
  /** Children of each object, in order. */
  children: Map<number, number[]>;
  /** Parts of each object. */
  partsOf: Map<number, WorldPart[]>;
  partByPiece: Map<number, WorldPart>;
  /** Objects that name as their holder something that stands below them. */
  ownHolders: { piece: number; named: string; file: string; range: Range }[];
  /** Objects whose prefab is not known, and all of files not read whole: what stands below them cannot be judged. */
  incomplete: Set<number>;
  /** Scenes that are loaded together with each, itself first; only those that are. */
  loadedWith: Map<number, number[]>;
}

/** What is not on the map since there is too much of it. */
export interface LeftOut {
  /** A sentence without its end: what was left out, and of what there is too much. */
  words: string;
  piece: number;
  file: string;
  range: Range;
}

/** What comes of prefabs. Written while instances are unfolded, and never after. */
export interface WorldPrefabs {
  /** Positions in `facts` of prefabs that some object is made from. */
  instanced: Set<number>;
  /** Objects made from a prefab, by the file they are written in: object, and the prefab's position in `facts`. */
  madeFrom: Map<number, { object: number; prefab: number; pieceFact: number }[]>;
  /** The part that an override changes: by the place of the override, see `overrides.ts`. */
  changedPart: Map<string, WorldPart>;
  /** Overrides that name something the prefab does not hold. */
  lostOverrides: Map<number, { object: number; pieceFact: number; override: number }[]>;
}

/** Types of scripts. Written by `types.ts`, `carried` with each part. Relinking gives a type its new script. */
export interface WorldTypes {
  all: WorldType[];
  /** Types by the position of their file in `facts`. */
  inFile: Map<number, WorldType[]>;
  byName: Map<string, WorldType[]>;
  /** Names of all types that run on some object, with those they descend from. */
  carried: Set<string>;
}

/** What scripts have in common. Known from the facts at once; relinking keeps it, or everything is linked anew. */
export interface WorldCode {
  /** Names of all functions. */
  functionNames: Set<string>;
  /** Texts under a name that any script can use. */
  constants: Map<string, string>;
  /** Fields that some script sets on another object. */
  setElsewhere: Set<string>;
  /** Events that what fills a field in files is known by, by type and field: `12 bell`. Filled when they are asked for. */
  eventsInSlots: Map<string, string[]>;
}

/** What things can be found by. The first two grow with every piece of a file; the rest is complete when all are unfolded. */
export interface WorldNames {
  /** Pieces by the identity written in files. */
  byId: Map<string, number[]>;
  /** Pieces found in files, by name; instances' copies are not among them. */
  byName: Map<string, number[]>;
  /** The space of those pieces that the plan gives one. */
  spaceOf: Map<number, string>;
  /** Every object of the trees by name, instances' copies too. */
  inTree: Map<string, number[]>;
  /** The same by name in lower letters. */
  inTreeLower: Map<string, number[]>;
  /** Names of all parts on the map. */
  parts: Set<string>;
  /** Pieces that code makes known, by the position of their script in `facts`, in the order of the code. */
  declared: Map<number, number[]>;
  /** Identities made by code whose whole text is not known. */
  madeIds: Pattern[];
}

/** Labels. Complete with the pieces; instances get those of their prefab. */
export interface WorldLabels {
  /** Labels that each object carries. */
  of: Map<number, string[]>;
  /** Piece of each label by name, declared or only carried. */
  piece: Map<string, number>;
}

/** Each group says who writes it and until when; all others only look. */
export interface World {
  plan: Plan;
  /** Facts of the files that count. Relinking puts those of changed files in the place of the old ones. */
  facts: FileFacts[];
  /** The map under way: pieces are added while the world is built, links while linking. */
  builder: GraphBuilder;
  files: WorldFiles;
  trees: WorldTrees;
  prefabs: WorldPrefabs;
  types: WorldTypes;
  code: WorldCode;
  names: WorldNames;
  labels: WorldLabels;
  /** By what it is about, so that each is told once. Everybody may add to it. */
  leftOut: Map<string, LeftOut>;
}

/** Resolves a written path of a rule to a file's path; given by the caller so that there is one place for paths. */
export type PrefabFinder = (world: World, source: number, piece: PieceFact) => string | undefined;

export type ScriptFinder = (world: World, source: number, piece: PieceFact, part: PartFact) => string | undefined;

/** The objects a prefab or scene starts with. */
export function rootsOf(world: World, source: number): number[] {
  return (world.trees.children.get(itemAt(world.files.piece, source)) ?? []).filter(
    (piece) => kindOf(world.builder.graph, piece) === 'object',
  );
}

/** The scene or prefab a piece stands in: its uppermost ancestor. */
export function topOf(world: World, piece: number): number {
  const { parent } = world.builder.graph.pieces;
  let at = piece;
  for (let steps = 0; cellAt(parent, at) >= 0 && steps < 10_000; steps++) at = cellAt(parent, at);
  return at;
}

/** The rules by whose names the facts of a file go. */
export function contentAt(world: World, source: number): ContentRules {
  return contentOf(world.plan, itemAt(world.facts, source));
}

/** The rule that read a structured file. */
export function fileRuleOf(world: World, source: number): FileRule {
  return entryOf(world.plan.files, itemAt(world.facts, source).rule);
}
