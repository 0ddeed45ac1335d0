import { sentence } from '../model/finding.js';
import { PIECE_KINDS } from '../model/piece.js';
import { GRIPS } from '../model/link.js';
import { groupOf, keyOf, rangeOf, type Graph } from '../model/graph.js';
import type { Linked } from '../linking/linked.js';
import { named, sameKey, titled, type Check } from './check.js';

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
  run: (linked) =>
    hubsOf(linked).map(({ object, reaches, count }) => {
      const { graph } = linked;
      return {
        sentence: [
          titled(graph, object),
          ...sentence` is reached by its name or its place from ${count} scripts, `,
          ...reaches.slice(0, 2).flatMap(({ part }, at) => [...(at > 0 ? [' and '] : []), named(graph, part)]),
          ' among them',
        ],
        sure: 'The look-ups were walked from the objects that carry the scripts, and all end here.',
        pieces: [object, ...reaches.map(({ part }) => part)],
        evidence: reaches.map(({ file, range }) => ({ file, range, shows: 'reaches it' })),
        walk: [],
        places: count,
        repairs: [
          {
            title: 'Offer it in one place',
            words:
              'Let one script find the object and offer it to the others, or give the others an exposed field for it.',
          },
        ],
        sameBy: [sameKey(graph, object)],
      };
    }),
};

/** The first place at which a script reaches an object, and a part that runs it. */
interface Reach {
  part: number;
  file: string;
  range: ReturnType<typeof rangeOf>;
}

/** An object, the first places that reach it, and how many scripts do. */
interface Hub {
  object: number;
  reaches: Reach[];
  count: number;
}

function hubsOf({ graph, world }: Linked): Hub[] {
  const { links, pieces, texts } = graph;
  const isScript = new Uint8Array(texts.length);
  world.facts.forEach(({ script }, source) => script && (isScript[pieces.file[world.filePiece[source]]] = 1));
  const soft = GRIPS.map((grip) => grip === 'path' || grip === 'name');
  /** By object and by the number of the script's path: the first link. */
  const reached = new Map<number, Map<number, number>>();
  const busy = new Int8Array(graph.pieceCount);
  for (let link = 0; link < graph.linkCount; link++) {
    const file = links.file[link];
    if (!soft[links.grip[link]] || isScript[file] === 0 || pieces.kind[links.from[link]] !== PART) continue;
    const object = objectOf(graph, links.to[link]);
    // What fewer links lead to cannot be reached from many scripts.
    if (object < 0 || object === pieces.parent[links.from[link]] || !isBusy(graph, object, busy)) continue;
    let from = reached.get(object);
    if (!from) reached.set(object, (from = new Map<number, number>()));
    const known = from.get(file);
    if (known === undefined || isBefore(graph, link, known)) from.set(file, link);
  }
  const byOrigin = new Map<number, [number, Map<number, number>]>();
  for (const one of reached) {
    if (one[1].size < MANY) continue;
    const origin = pieces.origin[one[0]] >= 0 ? pieces.origin[one[0]] : one[0];
    const other = byOrigin.get(origin);
    if (!other || outweighs(graph, one, other)) byOrigin.set(origin, one);
  }
  const rank = ranksOf(graph, world);
  return [...byOrigin.values()].map(([object, from]) => {
    const files = [...from.keys()].sort((a, b) => rank[a] - rank[b]);
    const reaches = files.slice(0, MOST_SHOWN).map((file): Reach => {
      const link = from.get(file)!;
      return { part: links.from[link], file: texts[file], range: rangeOf(links, link) };
    });
    return { object, reaches, count: files.length };
  });
}

/** The place of each script among all by its path, under the number of the path. */
function ranksOf({ pieces, texts }: Graph, { facts, filePiece }: Linked['world']): Int32Array {
  const rank = new Int32Array(texts.length);
  const scripts = facts.flatMap(({ script, file }, source) => (script ? [{ file, source }] : []));
  scripts.sort((a, b) => (a.file < b.file ? -1 : 1));
  scripts.forEach(({ source }, at) => (rank[pieces.file[filePiece[source]]] = at));
  return rank;
}

/** The order of links hangs on which file was read last; this does not. */
function isBefore({ links }: Graph, a: number, b: number): boolean {
  const by = links.line[a] - links.line[b] || links.column[a] - links.column[b] || links.from[a] - links.from[b];
  return by < 0;
}

function outweighs(graph: Graph, a: [number, Map<number, number>], b: [number, Map<number, number>]): boolean {
  return a[1].size > b[1].size || (a[1].size === b[1].size && keyOf(graph, a[0]) < keyOf(graph, b[0]));
}

/** Whether so many links end on an object or its parts that many scripts may reach it. */
function isBusy({ incoming, children, pieces }: Graph, object: number, known: Int8Array): boolean {
  if (known[object] !== 0) return known[object] > 0;
  let links = incoming.starts[object + 1] - incoming.starts[object];
  for (const child of groupOf(children, object))
    if (pieces.kind[child] === PART) links += incoming.starts[child + 1] - incoming.starts[child];
  known[object] = links >= MANY ? 1 : -1;
  return known[object] > 0;
}

function objectOf({ pieces }: Graph, piece: number): number {
  if (piece < 0) return -1;
  const kind = pieces.kind[piece];
  return kind === OBJECT ? piece : kind === PART ? pieces.parent[piece] : -1;
}

const OBJECT = PIECE_KINDS.indexOf('object');
const PART = PIECE_KINDS.indexOf('part');
