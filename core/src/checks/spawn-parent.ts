import { cellAt, itemAt } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import { groupOf, kindOf, nameOf, rangeOf } from '../model/graph.js';
import { VERBS } from '../model/link.js';
import type { Linked } from '../linking/linked.js';
import { filesNamed } from '../linking/paths.js';
import { rootsOf } from '../linking/world/world.js';
import { placeOf, titled, type Check } from './check.js';
import { objectOf, operationsThat, reached, type TypeOperation } from './reached.js';

/** A spawned thing is put under a parent that moves or goes away. */
export const spawnParent: Check = {
  id: 'fragile/spawn-parent',
  title: 'Something is spawned under a parent that moves or goes away',
  severity: 'note',
  why: 'It moves along with the parent, and goes when the parent goes, whether it was meant to or not.',
  decides:
    'Works where the call names the parent, or the plan says where new objects are put. Fires when what is spawned carries a script and its parent, or something above that, is moved or destroyed by code. Silent when it is put under the scene itself, when nothing moves or destroys the parent, and on things without a script, which are there to be seen.',
  run: (linked) =>
    operationsThat(linked.world, 'spawn').flatMap((one) => {
      const { graph } = linked;
      const name = spawnedWithScript(linked, one);
      if (name === undefined) return [];
      const { type, operation, file } = one;
      const under = parentsOf(linked, one).flatMap(({ part, object }) => {
        const by = movedBy(linked, object);
        return by ? [{ part, object, by }] : [];
      });
      if (under.length === 0) return [];
      const { part, object, by } = itemAt(under, 0);
      const goes = itemAt(VERBS, cellAt(graph.links.verb, by)) === 'destroys' ? 'destroys' : 'moves';
      const who = cellAt(graph.links.from, by);
      return [
        {
          sentence: [
            { name: type.name, piece: part },
            ...sentence` spawns ${name} under ${titled(graph, object)}`,
            ...(nameOf(graph, who) === type.name
              ? [` and ${goes} that in play: `]
              : sentence`, which ${titled(graph, who)} ${goes}: `),
            ...sentence`${name} ${goes === 'moves' ? 'moves' : 'goes'} along`,
            under.length > 1 ? ` (and ${under.length - 1} more)` : '',
          ].filter((run) => run !== ''),
          sure: 'The parent is named at the call or by the plan, and the code that moves or destroys it was found.',
          pieces: [part, object, who],
          evidence: [
            { file, range: operation.range, shows: 'where it is spawned' },
            {
              file: itemAt(graph.texts, cellAt(graph.links.file, by)),
              range: rangeOf(graph.links, by),
              shows: `what ${goes} the parent`,
            },
            ...placeOf(graph, object, 'the parent'),
          ],
          walk: [],
          places: under.length,
          repairs: [
            {
              title: 'Put it under the scene',
              words: 'Spawn it under the scene, or under an object that stands still, unless it is meant to go along.',
            },
          ],
          sameBy: [file, type.name, name],
        },
      ];
    }),
};

/** The name of what a call spawns, when it carries a script. */
function spawnedWithScript({ world }: Linked, { operation, rule, file }: TypeOperation): string | undefined {
  for (const source of filesNamed(world, rule.target, operation.arguments.path, file)) {
    if (source === undefined) continue;
    if (rootsOf(world, source).some((root) => (world.trees.partsOf.get(root) ?? []).some(({ type }) => type)))
      return itemAt(world.facts, source).name;
  }
  return undefined;
}

function parentsOf(linked: Linked, { type, operation, rule }: TypeOperation): { part: number; object: number }[] {
  const { graph } = linked;
  const { parent } = operation.arguments;
  const places = parent
    ? reached(linked, type, parent)
    : rule.puts === 'own object' || rule.puts === 'holder'
      ? reached(linked, type, { is: 'self' })
      : [];
  return places.flatMap(({ part, piece }) => {
    const own = objectOf(linked, piece);
    const object = !parent && rule.puts === 'holder' ? cellAt(graph.pieces.parent, own) : own;
    return object >= 0 && kindOf(graph, object) === 'object' ? [{ part: part.piece, object }] : [];
  });
}

const MOVES = VERBS.indexOf('moves');
const DESTROYS = VERBS.indexOf('destroys');

/** The link that moves or destroys an object or something above it. */
function movedBy({ graph, world }: Linked, object: number): number | undefined {
  const { verb, line, file } = graph.links;
  for (let at = object, steps = 0; at >= 0 && steps < 10_000; at = cellAt(graph.pieces.parent, at), steps++) {
    const pieces = [at, ...(world.trees.partsOf.get(at) ?? []).map(({ piece }) => piece)];
    const links = pieces.flatMap((piece) =>
      [...groupOf(graph.incoming, piece)].filter((link) => verb[link] === MOVES || verb[link] === DESTROYS),
    );
    // In the order of their places: which file was linked last must not show.
    links.sort((a, b) =>
      itemAt(graph.texts, cellAt(file, a)) < itemAt(graph.texts, cellAt(file, b))
        ? -1
        : itemAt(graph.texts, cellAt(file, a)) > itemAt(graph.texts, cellAt(file, b))
          ? 1
          : cellAt(line, a) - cellAt(line, b),
    );
    if (links.length > 0) return links[0];
  }
  return undefined;
}
