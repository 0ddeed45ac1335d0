/** Builds the world, step by step: what each step adds, the next ones look at. */
import { push } from '../../helpers/push.js';
import { buildGraph } from '../../model/graph.js';
import type { FileFacts } from '../../reading/facts.js';
import type { Plan } from '../../reading/plan/plan.js';
import { baseName } from '../../reading/source.js';
import { overlay } from '../packages.js';
import { gatherSets, indexTrees } from './names.js';
import { addFile, addPieces, labelPieces } from './pieces.js';
import { unfoldAll } from './prefabs.js';
import { addFlags, addTypes, ancestorsOf } from './types.js';
import type { PrefabFinder, ScriptFinder, World } from './world.js';

export function buildWorld(
  allFacts: FileFacts[],
  otherPaths: string[],
  plan: Plan,
  findPrefab: PrefabFinder,
  findScript: ScriptFinder,
): World {
  const world = emptyWorld(allFacts, otherPaths, plan);
  const { facts } = world;
  facts.forEach((fact, source) => addFile(world, fact, source));
  facts.forEach((fact, source) => fact.script && addTypes(world, fact.script, source));
  world.types.all.forEach((type) => (type.ancestors = ancestorsOf(world, type)));
  world.types.all.forEach((type) => addFlags(world, type));
  facts.forEach((_fact, source) => addPieces(world, source, findScript));
  labelPieces(world);
  unfoldAll(world, findPrefab);
  indexTrees(world);
  gatherSets(world);
  return world;
}

/** What is known before any piece is made. */
function emptyWorld(allFacts: FileFacts[], otherPaths: string[], plan: Plan): World {
  const { facts, packages, replacedBy } = overlay(allFacts, plan);
  const paths = new Set([...allFacts.map((fact) => fact.file), ...otherPaths]);
  const [byLower, byLowerName] = [new Map<string, string[]>(), new Map<string, string[]>()];
  for (const path of paths) {
    push(byLower, path.toLowerCase(), path);
    push(byLowerName, baseName(path).toLowerCase(), path);
  }
  const scripts = facts.flatMap(({ script }) => script ?? []);
  return {
    plan,
    facts,
    builder: buildGraph(),
    files: {
      piece: [],
      sourceOf: new Map(facts.map((fact, at) => [fact.file, at])),
      paths,
      byLower,
      byLowerName,
      packages,
      replacedBy,
      unread: new Map(),
    },
    trees: {
      pieceOf: [],
      children: new Map(),
      partsOf: new Map(),
      partByPiece: new Map(),
      ownHolders: [],
      incomplete: new Set(),
      loadedWith: new Map(),
    },
    prefabs: { instanced: new Set(), madeFrom: new Map(), changedPart: new Map(), lostOverrides: new Map() },
    types: { all: [], inFile: new Map(), byName: new Map(), carried: new Set() },
    code: {
      functionNames: new Set(scripts.flatMap(({ functions }) => functions.map((code) => code.name))),
      constants: new Map(scripts.flatMap(({ constants }) => constants.map((one) => [one.name, one.text]))),
      eventsInSlots: new Map(),
      setElsewhere: new Set(scripts.flatMap(({ memberWrites }) => memberWrites)),
    },
    names: {
      byId: new Map(),
      byName: new Map(),
      spaceOf: new Map(),
      inTree: new Map(),
      inTreeLower: new Map(),
      parts: new Set(),
      declared: new Map(),
      madeIds: [],
    },
    labels: { of: new Map(), piece: new Map() },
    leftOut: new Map(),
  };
}
