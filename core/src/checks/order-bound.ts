import { cellAt, itemAt, knownIn } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import { kindOf, nameOf } from '../model/graph.js';
import { typeOfPiece } from '../linking/flow.js';
import type { Linked } from '../linking/linked.js';
import { isEngines } from '../linking/losses.js';
import { partsRunning } from '../linking/world/parts.js';
import type { WorldPart } from '../linking/world/world.js';
import type { Check, Draft } from './check.js';
import { objectOf, operationsThat, reached } from './reached.js';

/** Code relies on the order of children, or on being the topmost part of a compound object. */
export const orderBound: Check = {
  id: 'fragile/order-bound',
  title: 'Code relies on an order that anybody can change',
  severity: 'note',
  why: 'Whoever sorts the children or wraps the object in another changes what the code means, and nothing tells them.',
  decides:
    'Fires where a child is picked by a number and there are several to pick from, and – a warning – where a script listens to an event of which the engine tells only the topmost object of a compound one (engine.toRoot) and sits on an object inside. Silent when there is one child, when the number is not written in the code, on scripts that sit at the top, and inside objects without parts, which only keep others together.',
  run: (linked) => [...picked(linked), ...untold(linked)],
};

function picked(linked: Linked): Draft[] {
  const { graph, world } = linked;
  return operationsThat(world, 'child').flatMap(({ type, operation, file }) => {
    const { index } = operation.arguments;
    if (index?.is !== 'number') return [];
    const among = reached(linked, type, operation.receiver)
      .map(({ part, piece }) => ({ part, object: objectOf(linked, piece) }))
      .filter(({ object }) => (world.trees.children.get(object)?.length ?? 0) > 1);
    if (among.length === 0) return [];
    const { part, object } = itemAt(among, 0);
    return [
      {
        sentence: [
          { name: type.name, piece: part.piece },
          // Whether the engine counts from none or from one, nobody says.
          ...sentence` picks a child of ${{ name: nameOf(graph, object), piece: object }} by its number, ${index.number}, of ${knownIn(world.trees.children, object).length}`,
          among.length > 1 ? ` (and on ${among.length - 1} more)` : '',
        ].filter((run) => run !== ''),
        sure: 'The number is written in the code, and the children were counted.',
        pieces: [type.piece, part.piece, object],
        evidence: [{ file, range: operation.range, shows: 'picked by its number' }],
        walk: [],
        places: among.length,
        repairs: [{ title: 'Name it or fill a slot', words: 'Ask for the child by its name, or fill a slot with it.' }],
        sameBy: [file, type.name, String(index.number)],
      },
    ];
  });
}

function untold(linked: Linked): Draft[] {
  const { events, plan, graph, world } = linked;
  return events
    .filter(({ name }) => isEngines(plan.engine.toRoot, name))
    .flatMap((event) =>
      event.listeners.flatMap((listener): Draft[] => {
        const type = typeOfPiece(world, listener.piece);
        if (!type) return [];
        const inside = partsRunning(world, type).filter((part) => isInside(linked, part));
        if (inside.length === 0) return [];
        const { piece, object } = itemAt(inside, 0);
        return [
          {
            severity: 'warning',
            sentence: [
              { name: type.name, piece },
              ...sentence` listens to ${{ name: event.name, piece: event.piece }} on ${{ name: nameOf(graph, object), piece: object }}, which stands inside another object, and only the topmost one is told`,
              inside.length > 1 ? ` (and on ${inside.length - 1} more)` : '',
            ].filter((run) => run !== ''),
            sure: 'The plan says that this event reaches the topmost object alone.',
            pieces: [type.piece, piece, object],
            evidence: [{ file: listener.file, range: listener.range, shows: 'where it listens' }],
            walk: [],
            places: inside.length,
            repairs: [
              {
                title: 'Listen at the top',
                words: 'Put the script on the topmost object, or let a script there pass the event on.',
              },
            ],
            sameBy: [event.name, type.name],
          },
        ];
      }),
    );
}

/** Whether a part sits on an object inside a compound one; an object without parts only keeps others together. */
function isInside({ graph, world }: Linked, { object }: WorldPart): boolean {
  for (
    let at = cellAt(graph.pieces.parent, object);
    at >= 0 && kindOf(graph, at) === 'object';
    at = cellAt(graph.pieces.parent, at)
  )
    if ((world.trees.partsOf.get(at)?.length ?? 0) > 0) return true;
  return false;
}
