import { sentence } from '../model/finding.js';
import { titleOf } from '../model/graph.js';
import type { Linked } from '../linking/linked.js';
import type { WorldPart } from '../linking/world.js';
import { grouped, placeOf, sameKey, type Check } from './check.js';

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
      const [part] = parts;
      const name = part.type!.name;
      return {
        sentence: [
          { name: titleOf(graph, part.object), piece: part.object },
          ...(child === undefined
            ? sentence` runs ${{ name, piece: part.type!.piece }} ${parts.length === 2 ? 'twice' : `${parts.length} times`}`
            : sentence` and ${{ name: titleOf(graph, child), piece: child }} inside it both run ${{ name, piece: part.type!.piece }}, which listens to events`),
          more.length > 0 ? ` (and ${more.length} more)` : '',
        ].filter((run) => run !== ''),
        sure: 'The parts of the object were counted, those of its prefab among them.',
        pieces: [part.object, part.type!.piece],
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
  for (const [object, parts] of world.partsOf) {
    const outside = world.partsOf.get(graph.pieces.parent[object]);
    if (parts.length < 2 && !outside) continue;
    const origin = graph.pieces.origin[object] >= 0 ? graph.pieces.origin[object] : object;
    for (const [at, part] of parts.entries()) {
      const { type } = part;
      if (!type) continue;
      const isOfType = (other: WorldPart): boolean => other.type === type;
      if (parts.findIndex(isOfType) === at && parts.findLastIndex(isOfType) !== at)
        found.push({ origin, type: type.index, parts: parts.filter(isOfType) });
      const outer = listening.has(type.piece) ? outside?.find(isOfType) : undefined;
      if (outer) found.push({ origin, type: type.index, parts: [outer, part], child: object });
    }
  }
  return found;
}
