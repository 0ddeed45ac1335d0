import { cellAt, itemAt, knownIn } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import { sentence } from '../model/finding.js';
import { PIECE_KINDS, type Range } from '../model/piece.js';
import { GRIPS } from '../model/link.js';
import { groupOf, keyOf, rangeOf, type Graph } from '../model/graph.js';
import type { Linked } from '../linking/linked.js';
import { named, sameKey, titled, type Check, type Draft } from './check.js';

/** As many scripts nobody changes along when an object gets another name or place. */
const MANY = 6;

/** More are counted, and not listed. */
const MOST_SHOWN = 12;

/** Many scripts reach one object by its name or its place. */
export const hub: Check = {
  id: 'fragile/hub',
  title: 'Many scripts hang on the name or the place of one object',
  severity: 'note',
  why: 'Whoever renames or moves the object breaks them all at once, and nothing on the object says so.',
  decides: `Fires on an object that at least ${MANY} scripts reach, or a part on it, by its name or by a way through the tree. Copies of one object of a prefab count as one. Silent on what is reached by its identity, on an object’s own scripts, and on references in saved files.`,
  run: (linked) => {
    const { reached, drafts } = reachedIn(linked);
    return hubsIn(linked, reached).map(([object, from]) => {
      let draft = drafts.get(object);
      if (!draft) drafts.set(object, (draft = draftOf(linked, object, from)));
      return draft;
    });
  },
};

/** Where a script first reaches an object. */
interface Reach {
  part: number;
  range: Range;
}

/** The first places that reach an object, by the number of the script's path. */
type Reaches = Map<number, Reach>;

function draftOf({ graph, world }: Linked, object: number, from: Reaches): Draft {
  const rank = ranksOf(world);
  const files = [...from.keys()].sort((a, b) => cellAt(rank, a) - cellAt(rank, b));
  const first = files.slice(0, MOST_SHOWN).map((file) => ({ file: itemAt(graph.texts, file), ...knownIn(from, file) }));
  return {
    sentence: [
      titled(graph, object),
      ...sentence` is reached by its name or its place from ${files.length} scripts, `,
      ...first.slice(0, 2).flatMap(({ part }, at) => [...(at > 0 ? [' and '] : []), named(graph, part)]),
      ' among them',
    ],
    sure: 'The look-ups were walked from the objects that carry the scripts, and all end here.',
    pieces: [object, ...first.map(({ part }) => part)],
    evidence: first.map(({ file, range }) => ({ file, range, shows: 'reaches it' })),
    walk: [],
    places: files.length,
    repairs: [
      {
        title: 'Offer it in one place',
        words: 'Let one script find the object and offer it to the others, or give the others an exposed field for it.',
      },
    ],
    sameBy: [sameKey(graph, object)],
  };
}

/** What was found the time before, with how many links led to each object and a sum of what they said: most stay as they are. */
interface Known {
  counts: Int32Array;
  sums: Int32Array;
  /** By object. */
  reached: Map<number, Reaches>;
  drafts: Map<number, Draft>;
}

/** What was known when the world was last checked. */
const lastOf = once((_world: Linked['world']): { known?: Known } => ({}));

/** The objects that links of many scripts lead to by a name or a way, each with the scripts. */
function reachedIn({ graph, world }: Linked): Known {
  const { links, pieces, texts } = graph;
  const isScript = new Uint8Array(texts.length);
  world.facts.forEach(
    ({ script }, source) => script && (isScript[cellAt(pieces.file, itemAt(world.files.piece, source))] = 1),
  );
  const [counts, sums] = [new Int32Array(graph.pieceCount), new Int32Array(graph.pieceCount)];
  tally(graph, isScript, counts, sums);
  const last = lastOf(world);
  const before = last.known;
  const isSame = (object: number): boolean =>
    before !== undefined && before.counts[object] === counts[object] && before.sums[object] === sums[object];
  const same = <T>(kept: Map<number, T> = new Map()): Map<number, T> => {
    for (const object of kept.keys()) if (!isSame(object)) kept.delete(object);
    return kept;
  };
  const now = { counts, sums, reached: same(before?.reached), drafts: same(before?.drafts) };
  last.known = now;
  for (let object = 0; object < counts.length; object++) {
    // What fewer links lead to cannot be reached from many scripts.
    if (cellAt(counts, object) < MANY || isSame(object)) continue;
    const from: Reaches = new Map();
    for (const piece of [object, ...groupOf(graph.children, object)])
      for (const link of groupOf(graph.incoming, piece)) {
        const first = from.get(cellAt(links.file, link));
        if (reachedBy(graph, isScript, link) === object && (!first || isBefore(graph, link, first)))
          from.set(cellAt(links.file, link), { part: cellAt(links.from, link), range: rangeOf(links, link) });
      }
    now.reached.set(object, from);
  }
  return now;
}

const SOFT = Uint8Array.from(GRIPS, (grip) => (grip === 'path' || grip === 'name' ? 1 : 0));

/** The object that a script reaches by a link, or -1. */
function reachedBy({ links, pieces }: Graph, isScript: Uint8Array, link: number): number {
  const isReach = SOFT[cellAt(links.grip, link)] === 1 && isScript[cellAt(links.file, link)] === 1;
  return isReach ? objectFor(pieces.kind, pieces.parent, cellAt(links.from, link), cellAt(links.to, link)) : -1;
}

function objectFor(kinds: Int32Array, parents: Int32Array, from: number, to: number): number {
  if (to < 0 || kinds[from] !== PART) return -1;
  const object = kinds[to] === OBJECT ? to : kinds[to] === PART ? cellAt(parents, to) : -1;
  return object === parents[from] ? -1 : object;
}

/** Counts the links to each object, and sums up what they say. */
function tally({ links, pieces, linkCount }: Graph, isScript: Uint8Array, counts: Int32Array, sums: Int32Array): void {
  // A million times: from the columns themselves.
  const { grip, file, from, to, line, column, endLine, endColumn } = links;
  const { kind, parent } = pieces;
  for (let link = 0; link < linkCount; link++) {
    if (SOFT[cellAt(grip, link)] === 0 || isScript[cellAt(file, link)] === 0) continue;
    const object = objectFor(kind, parent, cellAt(from, link), cellAt(to, link));
    if (object < 0) continue;
    counts[object] = cellAt(counts, object) + 1;
    const place = mix(mix(cellAt(from, link), cellAt(file, link)), cellAt(line, link));
    sums[object] =
      (cellAt(sums, object) +
        mix(mix(mix(place, cellAt(column, link)), cellAt(endLine, link)), cellAt(endColumn, link))) |
      0;
  }
}

function hubsIn({ graph }: Linked, reached: ReadonlyMap<number, Reaches>): [number, Reaches][] {
  const byOrigin = new Map<number, [number, Reaches]>();
  for (const one of reached) {
    if (one[1].size < MANY) continue;
    const origin = cellAt(graph.pieces.origin, one[0]);
    const key = origin >= 0 ? origin : one[0];
    const other = byOrigin.get(key);
    if (!other || outweighs(graph, one, other)) byOrigin.set(key, one);
  }
  return [...byOrigin.values()];
}

function mix(sum: number, value: number): number {
  return Math.imul(sum ^ value, 0x01000193) ^ (sum >>> 15);
}

/** The place of each script among all by its path, under the number of the path. */
const ranksOf = once((world: Linked['world']): Int32Array => {
  const { pieces, texts } = world.builder.graph;
  const rank = new Int32Array(texts.length);
  const scripts = world.facts.flatMap(({ script, file }, source) => (script ? [{ file, source }] : []));
  scripts.sort((a, b) => (a.file < b.file ? -1 : 1));
  for (const [at, { source }] of scripts.entries()) rank[cellAt(pieces.file, itemAt(world.files.piece, source))] = at;
  return rank;
});

/** The order of links hangs on which file was read last; this does not. */
function isBefore({ links }: Graph, link: number, { part, range }: Reach): boolean {
  const by =
    cellAt(links.line, link) - range.line ||
    cellAt(links.column, link) - range.column ||
    cellAt(links.from, link) - part;
  return by < 0;
}

function outweighs(graph: Graph, a: [number, Reaches], b: [number, Reaches]): boolean {
  return a[1].size > b[1].size || (a[1].size === b[1].size && keyOf(graph, a[0]) < keyOf(graph, b[0]));
}

const OBJECT = PIECE_KINDS.indexOf('object');
const PART = PIECE_KINDS.indexOf('part');
