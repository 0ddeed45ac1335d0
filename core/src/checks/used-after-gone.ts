import { cellAt, itemAt } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { sentence } from '../model/finding.js';
import { nameOf, rangeOf } from '../model/graph.js';
import { VERBS } from '../model/link.js';
import type { Range } from '../model/piece.js';
import { typeName } from '../linking/look-ups/texts.js';
import type { Linked } from '../linking/linked.js';
import { typeNamed } from '../linking/world/types.js';
import type { World, WorldType } from '../linking/world/world.js';
import type { Touch } from '../reading/facts.js';
import { byLinkPlace, placeOf, type Check } from './check.js';
import { behind, isWithin, objectOf, operationsThat, reached, type Reached } from './reached.js';

/** Something goes on using what other code may have destroyed. */
export const usedAfterGone: Check = {
  id: 'fragile/used-after-gone',
  title: 'Something is used that other code destroys',
  severity: 'warning',
  why: 'Once it is gone, each use of it stops with a fault or works on something dead.',
  decides:
    'Fires where code destroys an object or takes a part off one, and a script that holds it – from a slot, or from a look-up made before – uses it in every frame or when an event comes, without asking whether it is still there. Silent when the script asks, when the thing is only switched off, and on scripts that go along with it.',
  run: (linked) => {
    const gone = destroyed(linked);
    if (gone.size === 0) return [];
    const { graph, world } = linked;
    const used = world.types.all.flatMap((type) =>
      type.script.touches
        .filter((touch) => touch.type === type.local && isLater(world, type, touch) && !touch.isAsked)
        .flatMap((touch) => {
          const hits = reached(linked, type, touch.on).flatMap((hit) => {
            const going = goneWith(linked, gone, hit);
            return going ? [{ ...hit, going }] : [];
          });
          return hits.length > 0 ? [{ type, touch, hits }] : [];
        }),
    );
    return grouped(used, ({ type, hits }) => `${type.index} ${itemAt(hits, 0).going.by}`).map((same) => {
      const [{ type, hits }] = same;
      const { part, piece, going } = itemAt(hits, 0);
      const used = going.how === 'takes it off' ? piece : objectOf(linked, piece);
      const own = itemAt(world.facts, type.source).file;
      const moment = itemAt(type.script.functions, same[0].touch.function).moment;
      return {
        sentence: [
          { name: type.name, piece: part.piece },
          ...sentence` uses ${{ name: nameOf(graph, used), piece }} `,
          moment === 'every frame' ? 'in every frame' : 'when an event comes',
          ...sentence` and never asks whether it is still there; ${{ name: nameOf(graph, going.by), piece: going.by }} ${going.how}`,
        ],
        sure: 'Both ends were found in the scene: what goes, and who holds it.',
        pieces: [part.piece, piece, going.by],
        evidence: [
          ...same
            .slice(0, 3)
            .map(({ touch }) => ({ file: own, range: touch.range, shows: `it uses ${touch.member} of it` })),
          {
            file: going.file,
            range: going.range,
            shows: going.how === 'takes it off' ? 'where it is taken off' : 'where it is destroyed',
          },
          ...placeOf(graph, used, going.how === 'takes it off' ? 'what is taken off' : 'what is destroyed'),
        ],
        walk: [],
        places: new Set(same.flatMap((one) => one.hits.map((hit) => hit.part.piece))).size,
        repairs: [
          {
            title: 'Ask before use, or be told',
            words: 'Ask whether it is still there before using it, or listen to an event that says that it goes.',
          },
        ],
        sameBy: [own, type.name, nameOf(graph, used)],
      };
    });
  },
};

const DESTROYS = VERBS.indexOf('destroys');

/** Where something goes, and by whom. */
interface Gone {
  by: number;
  how: 'destroys it' | 'takes it off';
  file: string;
  range: Range;
}

/** What destroys each object, and what takes each part off its object. */
function destroyed(linked: Linked): Map<number, Gone> {
  const { graph, world } = linked;
  const links = new Map<number, number>();
  for (let link = 0; link < graph.linkCount; link++) {
    if (cellAt(graph.links.verb, link) !== DESTROYS || cellAt(graph.links.to, link) < 0) continue;
    const object = objectOf(linked, cellAt(graph.links.to, link));
    const known = links.get(object);
    // Which of several comes first hangs on what was linked last.
    if (known === undefined || byLinkPlace(graph, link, known) < 0) links.set(object, link);
  }
  const gone = new Map<number, Gone>();
  for (const [object, link] of links)
    gone.set(object, {
      by: cellAt(graph.links.from, link),
      how: 'destroys it',
      file: itemAt(graph.texts, cellAt(graph.links.file, link)),
      range: rangeOf(graph.links, link),
    });
  for (const { type, operation, file } of operationsThat(world, 'detach')) {
    const name = operation.arguments.type && typeName(operation.arguments.type);
    const meant = name ? typeNamed(world, name, type.source) : undefined;
    if (!meant) continue;
    for (const { part, piece } of reached(linked, type, operation.receiver))
      for (const off of world.trees.partsOf.get(objectOf(linked, piece)) ?? [])
        if (off.type && [off.type, ...off.type.ancestors].includes(meant) && !gone.has(off.piece))
          gone.set(off.piece, { by: part.piece, how: 'takes it off', file, range: operation.range });
  }
  return gone;
}

/** Where a piece goes, unless the one who holds it goes along or takes it away itself. */
function goneWith(linked: Linked, gone: Map<number, Gone>, { part, piece }: Reached): Gone | undefined {
  const { graph } = linked;
  const off = piece === part.piece ? undefined : gone.get(piece);
  if (off?.how === 'takes it off' && off.by !== part.piece) return off;
  for (
    let at = objectOf(linked, piece), steps = 0;
    at >= 0 && steps < 10_000;
    at = cellAt(graph.pieces.parent, at), steps++
  ) {
    const going = gone.get(at);
    if (going) return isWithin(linked, part.object, at) || going.by === part.piece ? undefined : going;
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
