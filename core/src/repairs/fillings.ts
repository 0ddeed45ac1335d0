/** What an empty slot could be filled with. */
import { cellAt, entryOf, itemAt } from '../helpers/at.js';
import { oncePer } from '../helpers/once.js';
import { kindOf, nameOf, titleOf } from '../model/graph.js';
import type { Repair } from '../model/finding.js';
import { cut } from '../reading/source.js';
import type { ReferenceRule } from '../reading/plan/plan.js';
import { fits, slotTypes } from '../linking/slots.js';
import { slotKey } from '../linking/look-ups/place.js';
import type { EmptySlot, Linked } from '../linking/linked.js';
import { contentAt, type World } from '../linking/world/world.js';
import type { Change } from './change.js';

/** More things that would do than this are no help. */
const MOST_CHOICES = 3;

/** Repairs that fill a slot: with what the prefab says, with what others hold there, or with the only thing that fits. */
export function fillings(linked: Linked, slot: EmptySlot): Repair[] {
  if (slot.meansSelf || slot.pieceFact < 0) return [];
  const prefab = fromPrefab(linked, slot);
  if (prefab) return [prefab];
  const others = fromOthers(linked, slot);
  return others.length > 0 ? others : fromNearby(linked, slot);
}

/** An instance that saves nothing over a value of its prefab gets it back when that is taken out. */
function fromPrefab({ world }: Linked, slot: EmptySlot): Repair | undefined {
  const part = world.trees.partByPiece.get(slot.part);
  const saved = part?.values.filter(({ value }) => value.name === slot.field) ?? [];
  const below = saved.at(-2);
  if (!slot.isWritten || !below || below.value.empty) return undefined;
  const { name, kind } = itemAt(world.facts, below.source);
  return {
    title: `Take what the ${kind} says`,
    words: `${name} fills ${slot.field}${below.value.text === undefined ? '' : ` with “${below.value.text}”`}; without the empty value here, that counts.`,
    changes: [{ is: 'remove', file: slot.file, range: slot.range }],
  };
}

/** What the same slot of other objects leads to, the most frequent first; files alone, since objects are each its own. */
function fromOthers(linked: Linked, slot: EmptySlot): Repair[] {
  return [...filesIn(linked, `${slot.typeName}/${slot.field}`)]
    .sort((a, b) => b[1] - a[1])
    .slice(0, MOST_CHOICES)
    .map(([text, count]) => ({
      title: `Fill in “${text}”`,
      words: `${count} other ${count === 1 ? 'object holds' : 'objects hold'} that in ${slot.field}.`,
      changes: [fill(linked, slot, text)],
    }));
}

/** Files that the slots of one field (`type/field`) lead to, with how many do. */
const filesIn = oncePer(({ world }: Linked, slot: string): Map<string, number> => {
  const counts = new Map<string, number>();
  const [typeName, field = ''] = slot.split('/');
  for (const part of world.trees.partByPiece.values()) {
    if ((part.type?.name ?? part.typeName) !== typeName) continue;
    const saved = part.values.filter(({ value }) => value.name === field).at(-1);
    const text = saved?.value.text;
    if (saved && text && !saved.value.empty && isFile(world, saved, field))
      counts.set(text, (counts.get(text) ?? 0) + 1);
  }
  return counts;
});

function isFile(
  world: World,
  { source, pieceFact, partFact }: { source: number; pieceFact: number; partFact: number },
  field: string,
): boolean {
  return itemAt(world.facts, source).references.some(
    (one) =>
      slotKey(source, one.piece, one.part, one.field) === slotKey(source, pieceFact, partFact, field) &&
      entryOf(contentAt(world, source).references, one.rule).by === 'path',
  );
}

/** Objects of the same file that the slot's type suits, and that can be named there. */
function fromNearby(linked: Linked, slot: EmptySlot): Repair[] {
  const { world, graph } = linked;
  const types = slotTypes(slot.fieldType).filter((one) => world.types.carried.has(one) || world.names.parts.has(one));
  const rule = ruleFor(world, slot);
  if (types.length === 0 || !rule) return [];
  const declared = world.files.sourceOf.get(slot.declaredIn) ?? -1;
  const suiting = itemAt(world.trees.pieceOf, slot.source).filter(
    (piece) =>
      piece !== slot.object &&
      kindOf(graph, piece) === 'object' &&
      graph.pieces.id[piece] !== 0 &&
      types.some((type) => fits(world, piece, type, declared)),
  );
  if (suiting.length > MOST_CHOICES) return [];
  return suiting.flatMap((piece) => {
    const text = uncut(rule.pattern, itemAt(graph.texts, cellAt(graph.pieces.id, piece)));
    if (text === undefined) return [];
    return [
      {
        title: `Fill in ${nameOf(graph, piece)}`,
        words: `${titleOf(graph, piece)} carries a ${types.join(' or ')}${suiting.length === 1 ? ', as the only one in this file' : ''}.`,
        changes: [fill(linked, slot, text)],
      },
    ];
  });
}

/** How slots of a file name objects by their identities. */
function ruleFor(world: World, slot: EmptySlot): ReferenceRule | undefined {
  return Object.values(contentAt(world, slot.source).references).find((rule) => rule.by === 'id');
}

/** The text from which a pattern cuts out a given one: the pattern's group filled in, when the rest is plain. */
export function uncut(pattern: string | undefined, text: string): string | undefined {
  if (pattern === undefined) return text;
  const frame = /^\^?([^()[\]{}.*+?|\\^$]*)\([^()]*(?:\[[^\]]*\][^()]*)?\)([^()[\]{}.*+?|\\^$]*)\$?$/.exec(pattern);
  const whole = frame ? frame[1] + text + frame[2] : undefined;
  return whole !== undefined && cut(whole, pattern) === text ? whole : undefined;
}

function fill({ world }: Linked, slot: EmptySlot, to: string): Change {
  if (slot.isWritten) return { is: 'set', file: slot.file, range: slot.range, to };
  const { rule, parts } = itemAt(itemAt(world.facts, slot.source).pieces, slot.pieceFact);
  const partRule = itemAt(entryOf(contentAt(world, slot.source).pieces, rule).parts, parts[slot.partFact]?.rule ?? 0);
  return { is: 'add member', file: slot.file, range: slot.range, into: partRule.values ?? '$', key: slot.field, to };
}
