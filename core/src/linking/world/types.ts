/** The types of scripts, what they descend from, and their flags. */
import { itemAt, must } from '../../helpers/at.js';
import { push } from '../../helpers/push.js';
import type { ScriptFacts } from '../../reading/facts.js';
import { nearestInSight } from '../sight.js';
import type { World, WorldType } from './world.js';

export function addTypes(world: World, script: ScriptFacts, source: number): void {
  script.types.forEach((type, local) => {
    const piece = world.builder.addPiece({
      kind: 'type',
      name: type.name,
      parent: world.files.piece[source],
      file: itemAt(world.facts, source).file,
      range: type.range,
    });
    const added: WorldType = {
      index: world.types.all.length,
      name: type.name,
      source,
      local,
      script,
      piece,
      ancestors: [],
      flags: new Map(),
    };
    world.types.all.push(added);
    push(world.types.inFile, source, added);
    push(world.types.byName, type.name, added);
  });
}

export function addFlags(world: World, type: WorldType): void {
  const { file } = itemAt(world.facts, type.source);
  for (const { name, range } of itemAt(type.script.types, type.local).flags) {
    const isParents = type.ancestors.some(({ script, local }) =>
      itemAt(script.types, local).flags.some((flag) => flag.name === name),
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
export function ancestorsOf(world: World, type: WorldType): WorldType[] {
  const found: WorldType[] = [];
  const open = [type];
  for (let current = open.shift(); current; current = open.shift()) {
    for (const written of itemAt(current.script.types, current.local).parents) {
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
  const given = must(
    written
      .replace(/[<[].*$/s, '')
      .split('.')
      .pop(),
  ).trim();
  const name = world.plan.typeNames[given] ?? given;
  const candidates = world.types.byName.get(name) ?? [];
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
  return (
    candidates.find((candidate) => module && itemAt(world.facts, candidate.source).name === module) ??
    nearestInSight(world, source, candidates, (candidate) => candidate.source)
  );
}

/** The type that a script file stands for: the one named as the file, else its first class. */
export function mainType(world: World, path: string): WorldType | undefined {
  const source = world.files.sourceOf.get(path);
  if (source === undefined) return undefined;
  const own = (world.types.inFile.get(source) ?? []).filter(
    (type) => itemAt(type.script.types, type.local).kind === 'class',
  );
  const plain = (text: string): string => text.toLowerCase().replace(/[^a-z0-9]/g, '');
  return own.find((type) => plain(type.name) === plain(itemAt(world.facts, source).name)) ?? own[0];
}
