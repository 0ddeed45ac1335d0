import { cellAt, itemAt } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { sentence } from '../model/finding.js';
import { groupOf, kindOf, nameOf, rangeOf, type Graph } from '../model/graph.js';
import { GRIPS, MOMENTS, VERBS } from '../model/link.js';
import { IN_TREE } from '../model/life.js';
import type { Linked } from '../linking/linked.js';
import { sameKey, type Check } from './check.js';
import { isWithin, objectOf } from './reached.js';

/** A piece is moved in the tree at run time while others hold paths through it. */
export const movesAtRun: Check = {
  id: 'fragile/moves-at-run',
  title: 'Something is moved in the tree while others hold a way through it',
  severity: 'warning',
  why: 'The way is right before play and wrong after the move: what is looked up then is not found, or is something else.',
  decides:
    'Fires where code puts an object under another parent, and a script reaches it, or something below it, by a way through the tree that crosses the place where it stood. Silent on ways that stay inside what is moved, on what is reached by identity or name, and on ways that are walked at the start when the move comes later.',
  run: (linked) => {
    const { graph } = linked;
    const moves = movesIn(linked);
    const held = moves.flatMap(({ link, object }) => {
      const ways = waysAcross(linked, object, itemAt(MOMENTS, cellAt(graph.links.moment, link)) === 'start');
      return ways.length > 0 ? [{ link, object, ways }] : [];
    });
    return grouped(held, ({ link, object }) => `${sameKey(graph, object)} ${cellAt(graph.links.file, link)}`).map(
      ([{ link, object, ways }]) => {
        const mover = cellAt(graph.links.from, link);
        const way = itemAt(ways, 0);
        const user = cellAt(graph.links.from, way);
        return {
          sentence: sentence`${{ name: nameOf(graph, mover), piece: mover }} moves ${{ name: nameOf(graph, object), piece: object }} to another place in the tree, and ${{ name: nameOf(graph, user), piece: user }} reaches ${{ name: nameOf(graph, cellAt(graph.links.to, way)), piece: cellAt(graph.links.to, way) }} by a way that leads through it`,
          sure: 'The way was walked in the tree as it is before play, and it crosses the place that is left.',
          pieces: [object, mover, user],
          evidence: [
            {
              file: itemAt(graph.texts, cellAt(graph.links.file, link)),
              range: rangeOf(graph.links, link),
              shows: 'where it is moved',
            },
            ...ways.slice(0, 4).map((one) => ({
              file: itemAt(graph.texts, cellAt(graph.links.file, one)),
              range: rangeOf(graph.links, one),
              shows: 'a way through it',
            })),
          ],
          walk: [],
          places: ways.length,
          repairs: [
            {
              title: 'Hold it by a slot',
              words: 'Fill a slot with what is reached, or look it up once before it is moved.',
            },
          ],
          sameBy: [sameKey(graph, object), nameOf(graph, mover)],
        };
      },
    );
  },
};

const MOVES = VERBS.indexOf('moves');
const PATH = GRIPS.indexOf('path');

function movesIn(linked: Linked): { link: number; object: number }[] {
  const { graph } = linked;
  const found: { link: number; object: number }[] = [];
  for (let link = 0; link < graph.linkCount; link++) {
    if (cellAt(graph.links.verb, link) !== MOVES || cellAt(graph.links.to, link) < 0) continue;
    if (itemAt(graph.texts, cellAt(graph.links.label, link)) !== IN_TREE) continue;
    found.push({ link, object: objectOf(linked, cellAt(graph.links.to, link)) });
  }
  return found.sort((a, b) => byPlace(graph, a.link, b.link));
}

/** Links by which scripts outside of an object reach into it, or scripts inside reach out of it, by a path. */
function waysAcross(linked: Linked, object: number, isMovedAtStart: boolean): number[] {
  const { graph } = linked;
  const { links } = graph;
  const ways: number[] = [];
  const look = (piece: number, grouping: 'incoming' | 'outgoing'): void => {
    for (const link of groupOf(graph[grouping], piece)) {
      const [from, to] = [cellAt(links.from, link), cellAt(links.to, link)];
      if (cellAt(links.grip, link) !== PATH || to < 0 || kindOf(graph, from) !== 'part') continue;
      const isScript =
        linked.world.facts[linked.world.files.sourceOf.get(itemAt(graph.texts, cellAt(links.file, link))) ?? -1]
          ?.script;
      if (!isScript || itemAt(VERBS, cellAt(links.verb, link)) !== 'uses') continue;
      if (!isMovedAtStart && itemAt(MOMENTS, cellAt(links.moment, link)) === 'start') continue;
      if (isWithin(linked, from, object) !== isWithin(linked, to, object)) ways.push(link);
    }
  };
  const visit = (piece: number): void => {
    look(piece, 'incoming');
    look(piece, 'outgoing');
    for (const child of groupOf(graph.children, piece)) visit(child);
  };
  visit(object);
  return [...new Set(ways)].sort((a, b) => byPlace(graph, a, b));
}

function byPlace({ links, texts }: Graph, a: number, b: number): number {
  const [one = '', other = ''] = [itemAt(texts, cellAt(links.file, a)), itemAt(texts, cellAt(links.file, b))];
  return one < other
    ? -1
    : one > other
      ? 1
      : cellAt(links.line, a) - cellAt(links.line, b) || cellAt(links.from, a) - cellAt(links.from, b);
}
