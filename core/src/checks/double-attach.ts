import { cellAt, itemAt, must } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import { grouped } from '../helpers/grouped.js';
import { sentence } from '../model/finding.js';
import { titleOf } from '../model/graph.js';
import type { Linked } from '../linking/linked.js';
import type { World, WorldPart, WorldType } from '../linking/world/world.js';
import { placeOf, sameKey, type Check } from './check.js';

/** One object runs the same script twice. */
export const doubleAttach: Check = {
  id: 'twin/double-attach',
  title: 'One object runs the same script twice',
  severity: 'warning',
  why: 'Everything it does is done twice: events are heard twice, values are counted twice.',
  decides:
    'Fires on an object, or an object of a prefab, that carries two parts with the same script, and on a child that runs the script of the object it stands in when that script listens to events. Copies of a prefab count once. Silent on built-in parts, on different scripts of one parent type, and on objects beside each other.',
  run: (linked) =>
    grouped(doubles(linked), ({ origin, type }) => `${origin} ${type}`).map(([{ parts, child }, ...more]) => {
      const { graph } = linked;
      const part = itemAt(parts, 0);
      const name = must(part.type).name;
      return {
        sentence: [
          { name: titleOf(graph, part.object), piece: part.object },
          ...(child === undefined
            ? sentence` runs ${{ name, piece: must(part.type).piece }} ${parts.length === 2 ? 'twice' : `${parts.length} times`}`
            : sentence` and ${{ name: titleOf(graph, child), piece: child }} inside it both run ${{ name, piece: must(part.type).piece }}, which listens to events`),
          more.length > 0 ? ` (and ${more.length} more)` : '',
        ].filter((run) => run !== ''),
        sure: 'The parts of the object were counted, those of its prefab among them.',
        pieces: [part.object, must(part.type).piece],
        evidence: parts.slice(0, 4).flatMap(({ piece }) => placeOf(graph, piece, `runs ${name}`)),
        walk: [],
        places: more.length + 1,
        repairs: [
          { title: 'Take one out', words: 'Remove one of the attachments, unless each of them has a task of its own.' },
        ],
        sameBy: [sameKey(graph, part.object), name],
      };
    }),
};

interface Double {
  origin: number;
  type: number;
  parts: WorldPart[];
  child?: number;
}

function doubles({ graph, world, events }: Linked): Double[] {
  const listening = new Set(events.flatMap(({ listeners }) => listeners.map(({ piece }) => piece)));
  const found: Double[] = [];
  for (const { object, part, type, parts, outer } of candidatesOf(world)) {
    const origin = cellAt(graph.pieces.origin, object) >= 0 ? cellAt(graph.pieces.origin, object) : object;
    if (parts.length > 1) found.push({ origin, type: type.index, parts });
    if (outer && listening.has(type.piece))
      found.push({ origin, type: type.index, parts: [outer, part], child: object });
  }
  return found;
}

/** A script on an object that is there twice, or on the object around as well. */
interface Candidate {
  object: number;
  part: WorldPart;
  type: WorldType;
  /** All parts of the object that run it. */
  parts: WorldPart[];
  outer: WorldPart | undefined;
}

/** Which parts stand on which objects is the same as long as a world is. */
const candidatesOf = once((world: World): Candidate[] => {
  const found: Candidate[] = [];
  const { parent } = world.builder.graph.pieces;
  for (const [object, own] of world.trees.partsOf) {
    const outside = world.trees.partsOf.get(cellAt(parent, object));
    if (own.length < 2 && !outside) continue;
    own.forEach((part, at) => {
      const { type } = part;
      const isOfType = (other: WorldPart): boolean => other.type === type;
      if (!type || own.findIndex(isOfType) !== at) return;
      const parts = own.filter(isOfType);
      const outer = outside?.find(isOfType);
      if (parts.length > 1 || outer) found.push({ object, part, type, parts, outer });
    });
  }
  return found;
});
