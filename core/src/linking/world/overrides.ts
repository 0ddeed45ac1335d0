/** What instances change of their prefabs. */
import { cellAt, itemAt } from '../../helpers/at.js';
import { push } from '../../helpers/push.js';
import { nameOf } from '../../model/graph.js';
import type { OverrideFact } from '../../reading/facts.js';
import type { OverrideRule } from '../../reading/plan/plan.js';
import { partNamed } from './parts.js';
import { isRead } from './unread.js';
import { contentAt, rootsOf, type World } from './world.js';

/** A key for a part fact, or, counted behind the parts, an override of a piece fact. */
export function placeKey(source: number, pieceFact: number, partFact: number): string {
  return `${source}/${pieceFact}/${partFact}`;
}

/** Objects and parts of the prefab that an instance takes out. */
export function removedBy(world: World, source: number, at: number, prefab: number): Set<number> {
  const removed = new Set<number>();
  const roots = rootsOf(world, prefab);
  eachOverride(world, source, at, (override, rule, index) => {
    if (rule.means !== 'remove') return;
    const start = roots.length === 1 ? itemAt(roots, 0) : itemAt(world.files.piece, prefab);
    const object = findInside(world, start, override.on, rule);
    const part = override.part && object >= 0 ? partNamed(world, object, override.part)?.piece : undefined;
    if (object < 0 || (override.part && part === undefined)) {
      if (!isRead(world, prefab)) return;
      push(world.prefabs.lostOverrides, source, {
        object: itemAt(world.trees.pieceOf, source)[at],
        pieceFact: at,
        override: index,
      });
    } else removed.add(part ?? object);
  });
  return removed;
}

/** Puts changed values and added objects where they belong. */
export function applyOverrides(world: World, source: number, at: number): void {
  const object = itemAt(itemAt(world.trees.pieceOf, source), at);
  const partCount = itemAt(itemAt(world.facts, source).pieces, at).parts.length;
  eachOverride(world, source, at, (override, rule, index) => {
    if (rule.means === 'remove') return;
    const target = findInside(world, object, override.on, rule);
    const part = target >= 0 && override.part ? partNamed(world, target, override.part) : undefined;
    if (target < 0 || (override.part && !part)) {
      // A part whose script is not known may be of the type that is named.
      const isUnknown = world.trees.partsOf.get(target)?.some(({ fact, type }) => fact.script && !type) ?? false;
      if (!isUnknown && !world.trees.incomplete.has(object))
        push(world.prefabs.lostOverrides, source, { object, pieceFact: at, override: index });
      return;
    }
    for (const added of override.adds) moveUnder(world, itemAt(itemAt(world.trees.pieceOf, source), added), target);
    if (!part) return;
    const partFact = partCount + index;
    world.prefabs.changedPart.set(placeKey(source, at, partFact), part);
    part.values = [...part.values, ...override.values.map((value) => ({ value, source, pieceFact: at, partFact }))];
  });
}

function eachOverride(
  world: World,
  source: number,
  at: number,
  visit: (override: OverrideFact, rule: OverrideRule, index: number) => void,
): void {
  const piece = itemAt(itemAt(world.facts, source).pieces, at);
  const rules = contentAt(world, source).pieces[piece.rule]?.overrides ?? [];
  piece.overrides?.forEach((override, index) => visit(override, itemAt(rules, override.rule), index));
}

function moveUnder(world: World, piece: number, parent: number): void {
  const before = cellAt(world.builder.graph.pieces.parent, piece);
  if (before === parent) return;
  const siblings = world.trees.children.get(before) ?? [];
  siblings.splice(siblings.indexOf(piece), 1);
  world.builder.setParent(piece, parent);
  push(world.trees.children, parent, piece);
}

/** The object that an override means, inside an instance or a prefab, or -1. */
function findInside(world: World, start: number, on: string, { by, separator }: OverrideRule): number {
  if (!on || on === '.') return start;
  const { graph } = world.builder;
  if (by === 'object path') {
    let at = start;
    for (const step of on.split(separator).filter(Boolean)) {
      at = (world.trees.children.get(at) ?? []).find((child) => nameOf(graph, child) === step) ?? -1;
      if (at < 0) return -1;
    }
    return at;
  }
  const idOf = (piece: number): string => {
    let at = piece;
    while (graph.pieces.id[at] === 0 && cellAt(graph.pieces.origin, at) >= 0) at = cellAt(graph.pieces.origin, at);
    return itemAt(graph.texts, cellAt(graph.pieces.id, at));
  };
  const open = [start];
  for (let at = open.shift(); at !== undefined; at = open.shift()) {
    if ((by === 'id' ? idOf(at) : nameOf(graph, at)) === on) return at;
    open.push(...(world.trees.children.get(at) ?? []));
  }
  return -1;
}
