/** Pieces of files, with the parents that the files give them. */
import { cellAt, entryOf, itemAt, must } from '../../helpers/at.js';
import { once } from '../../helpers/once.js';
import { push } from '../../helpers/push.js';
import { FLAGS, kindOf } from '../../model/graph.js';
import type { FileFacts } from '../../reading/facts.js';
import { NO_PARENT } from '../../reading/glue-facts/read-glue-facts.js';
import type { Naming } from '../../reading/plan/plan.js';
import { addParts } from './parts.js';
import type { ScriptFinder } from './world.js';
import { contentAt, type World } from './world.js';

export function addFile(world: World, fact: FileFacts, source: number): void {
  const piece = world.builder.addPiece({
    kind: fact.kind,
    name: fact.name,
    id: fact.id,
    file: fact.file,
    range: fact.range,
  });
  world.files.piece[source] = piece;
  register(world, piece, fact.id, fact.name, fact.kind === 'script' ? undefined : world.plan.files[fact.rule]?.space);
}

function register(world: World, piece: number, id: string, name: string, space: string | undefined): void {
  if (space !== undefined) world.names.spaceOf.set(piece, space);
  if (id) push(world.names.byId, id, piece);
  if (name) push(world.names.byName, name, piece);
}

export function addPieces(world: World, source: number, findScript: ScriptFinder): void {
  const fact = itemAt(world.facts, source);
  const pieces: number[] = [];
  const rules = contentAt(world, source).pieces;
  world.trees.pieceOf[source] = pieces;
  for (const piece of fact.pieces) {
    const index = world.builder.addPiece({
      kind: piece.kind,
      name: piece.name,
      id: piece.id,
      parent: piece.parent >= 0 ? pieces[piece.parent] : piece.parent === NO_PARENT ? -1 : world.files.piece[source],
      file: piece.file ?? fact.file,
      range: piece.range,
      flags: (piece.isOff ? FLAGS.off : 0) + (piece.isBarred ? FLAGS.barred : 0) + (piece.isKept ? FLAGS.kept : 0),
    });
    pieces.push(index);
    for (const name of piece.alsoCalled ?? []) register(world, index, name, name, undefined);
    register(world, index, piece.id, piece.name, piece.space ?? rules[piece.rule]?.space);
    if (piece.labels?.length)
      world.labels.of.set(
        index,
        piece.labels.map((label) => label.text),
      );
  }
  fact.pieces.forEach((piece, at) => {
    if (piece.parentNamed) adoptByField(world, source, at);
    if (piece.children) adoptChildren(world, source, at);
    addParts(world, source, at, findScript);
  });
  if (fact.unread !== undefined)
    for (const piece of [itemAt(world.files.piece, source), ...pieces]) world.trees.incomplete.add(piece);
  fact.pieces.forEach((_piece, at) => {
    const parent = cellAt(world.builder.graph.pieces.parent, itemAt(pieces, at));
    if (parent >= 0) push(world.trees.children, parent, pieces[at]);
  });
}

/** A parent named by a field, in the same file. */
function adoptByField(world: World, source: number, at: number): void {
  const piece = itemAt(itemAt(world.facts, source).pieces, at);
  const { parent } = entryOf(contentAt(world, source).pieces, piece.rule);
  if (typeof parent === 'string') return;
  const found = pieceNamed(world, source, parent, must(piece.parentNamed), at);
  if (found < 0) return;
  const own = itemAt(itemAt(world.trees.pieceOf, source), at);
  if (isBelow(world, itemAt(itemAt(world.trees.pieceOf, source), found), own))
    world.trees.ownHolders.push({
      piece: own,
      named: must(piece.parentNamed),
      file: itemAt(world.facts, source).file,
      range: piece.range,
    });
  else world.builder.setParent(own, itemAt(itemAt(world.trees.pieceOf, source), found));
}

/** Children named by their parent, in the same file. One that is named twice stays with the first. */
function adoptChildren(world: World, source: number, at: number): void {
  const piece = itemAt(itemAt(world.facts, source).pieces, at);
  const naming = must(entryOf(contentAt(world, source).pieces, piece.rule).children);
  const { parent } = world.builder.graph.pieces;
  for (const text of piece.children ?? []) {
    const child = pieceNamed(world, source, { ...naming, of: naming.of ?? piece.rule }, text, at);
    const index = itemAt(itemAt(world.trees.pieceOf, source), child);
    if (
      child < 0 ||
      parent[index] !== world.files.piece[source] ||
      isBelow(world, itemAt(itemAt(world.trees.pieceOf, source), at), index)
    )
      continue;
    world.builder.setParent(index, itemAt(itemAt(world.trees.pieceOf, source), at));
  }
}

function isBelow(world: World, piece: number, above: number): boolean {
  const { parent } = world.builder.graph.pieces;
  for (let at = piece; at >= 0; at = cellAt(parent, at)) if (at === above) return true;
  return false;
}

/** Pieces of one file by what names them: `id tender`, `name Cleat`, `index rule 3`. */
const namings = once((fact: FileFacts): Map<string, number[]> => {
  const named = new Map<string, number[]>();
  for (const [at, piece] of fact.pieces.entries()) {
    if (piece.id) push(named, `id ${piece.id}`, at);
    if (piece.name) push(named, `name ${piece.name}`, at);
    push(named, `index ${piece.rule} ${piece.index}`, at);
  }
  return named;
});

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
  const fact = itemAt(world.facts, source);
  const found = namings(fact).get(by === 'index' ? `index ${of ?? ''} ${text}` : `${by} ${text}`) ?? [];
  if (found.length <= 1 || near < 0) return found[0] ?? -1;
  const home = itemAt(fact.pieces, near).parent;
  return (
    found.find((at) => itemAt(fact.pieces, at).parent === home || itemAt(fact.pieces, at).parent === near) ??
    itemAt(found, 0)
  );
}

/** Pieces for all labels: those that a list declares, and those that something carries. */
export function labelPieces(world: World): void {
  const { graph } = world.builder;
  for (const [name, pieces] of world.names.byName) {
    const label = pieces.find((piece) => kindOf(graph, piece) === 'label');
    if (label !== undefined) world.labels.piece.set(name, label);
  }
  for (const names of world.labels.of.values()) {
    for (const name of names) {
      if (!world.labels.piece.has(name)) world.labels.piece.set(name, world.builder.addPiece({ kind: 'label', name }));
    }
  }
}
