import { cellAt, itemAt } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { sentence } from '../model/finding.js';
import { nameOf, rangeOf } from '../model/graph.js';
import { VERBS } from '../model/link.js';
import type { Linked } from '../linking/linked.js';
import type { World, WorldType } from '../linking/world/world.js';
import type { Touch } from '../reading/facts.js';
import { byLinkPlace, placeOf, type Check } from './check.js';
import { behind, isWithin, objectOf, reached, type Reached } from './reached.js';

/** Something goes on using what other code may have destroyed. */
export const usedAfterGone: Check = {
  id: 'fragile/used-after-gone',
  title: 'Something is used that other code destroys',
  severity: 'warning',
  why: 'Once it is gone, each use of it stops with a fault or works on something dead.',
  decides:
    'Fires where code destroys an object, and a script on another one that holds it – from a slot, or from a look-up made before – uses it in every frame or when an event comes, without asking whether it is still there. Silent when the script asks, when the thing is only switched off, and on scripts that go along with it.',
  run: (linked) => {
    const gone = destroyed(linked);
    if (gone.size === 0) return [];
    const { graph, world } = linked;
    const used = world.types.all.flatMap((type) =>
      type.script.touches
        .filter((touch) => touch.type === type.local && isLater(world, type, touch) && !touch.isAsked)
        .flatMap((touch) => {
          const hits = reached(linked, type, touch.on).flatMap((hit) => {
            const by = goneWith(linked, gone, hit);
            return by === undefined ? [] : [{ ...hit, by }];
          });
          return hits.length > 0 ? [{ type, touch, hits }] : [];
        }),
    );
    return grouped(used, ({ type, hits }) => `${type.index} ${itemAt(hits, 0).by}`).map((same) => {
      const [{ type, hits }] = same;
      const { part, piece, by } = itemAt(hits, 0);
      const { from, file } = graph.links;
      const own = itemAt(world.facts, type.source).file;
      const moment = itemAt(type.script.functions, same[0].touch.function).moment;
      return {
        sentence: [
          { name: type.name, piece: part.piece },
          ...sentence` uses ${{ name: nameOf(graph, objectOf(linked, piece)), piece }} `,
          moment === 'every frame' ? 'in every frame' : 'when an event comes',
          ...sentence` and never asks whether it is still there; ${{ name: nameOf(graph, cellAt(from, by)), piece: cellAt(from, by) }} destroys it`,
        ],
        sure: 'Both ends were found in the scene: what is destroyed, and who holds it.',
        pieces: [part.piece, piece, cellAt(from, by)],
        evidence: [
          ...same
            .slice(0, 3)
            .map(({ touch }) => ({ file: own, range: touch.range, shows: `it uses ${touch.member} of it` })),
          {
            file: itemAt(graph.texts, cellAt(file, by)),
            range: rangeOf(graph.links, by),
            shows: 'where it is destroyed',
          },
          ...placeOf(graph, objectOf(linked, piece), 'what is destroyed'),
        ],
        walk: [],
        places: new Set(same.flatMap((one) => one.hits.map((hit) => hit.part.piece))).size,
        repairs: [
          {
            title: 'Ask before use, or be told',
            words: 'Ask whether it is still there before using it, or listen to an event that says that it goes.',
          },
        ],
        sameBy: [own, type.name, nameOf(graph, objectOf(linked, piece))],
      };
    });
  },
};

const DESTROYS = VERBS.indexOf('destroys');

/** The link that destroys each object. */
function destroyed({ graph, world }: Linked): Map<number, number> {
  const gone = new Map<number, number>();
  for (let link = 0; link < graph.linkCount; link++) {
    if (cellAt(graph.links.verb, link) !== DESTROYS || cellAt(graph.links.to, link) < 0) continue;
    const object = world.trees.partByPiece.get(cellAt(graph.links.to, link))?.object ?? cellAt(graph.links.to, link);
    const known = gone.get(object);
    // Which of several comes first hangs on what was linked last.
    if (known === undefined || byLinkPlace(graph, link, known) < 0) gone.set(object, link);
  }
  return gone;
}

/** The link by which a piece goes, unless the one who holds it goes along or takes it away itself. */
function goneWith(linked: Linked, gone: Map<number, number>, { part, piece }: Reached): number | undefined {
  const { graph } = linked;
  for (
    let at = objectOf(linked, piece), steps = 0;
    at >= 0 && steps < 10_000;
    at = cellAt(graph.pieces.parent, at), steps++
  ) {
    const by = gone.get(at);
    if (by === undefined) continue;
    return isWithin(linked, part.object, at) || cellAt(graph.links.from, by) === part.piece ? undefined : by;
  }
  return undefined;
}

/** Used at a moment after the beginning, from what was found before. */
function isLater(world: World, type: WorldType, { on, function: at }: Touch): boolean {
  const code = type.script.functions[at];
  if (code?.moment !== 'every frame' && code?.moment !== 'on an event') return false;
  return (
    on.is === 'field' ||
    behind(world, type, on).lookUps.some(
      ({ type: of, operation }) => itemAt(of.script.operations, operation).function !== at,
    )
  );
}
