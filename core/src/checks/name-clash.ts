import { grouped, type Some } from '../helpers/grouped.js';
import { push } from '../helpers/push.js';
import { cellAt, itemAt } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import { kindOf, nameOf, type Graph } from '../model/graph.js';
import type { PieceKind } from '../model/piece.js';
import type { Linked } from '../linking/linked.js';
import { areTogether, outermost } from '../linking/sight.js';
import { packageOf } from '../linking/packages.js';
import { named, placeOf, type Check, type Draft } from './check.js';
import { toldTogether } from './one-row.js';

/** Two packages define the same name, identity or code. */
export const nameClash: Check = {
  id: 'twin/name-clash',
  title: 'Two packages define the same name',
  severity: 'warning',
  why: 'Once they are combined one hides the other, or both share one counter: nobody can say which is meant.',
  decides:
    'Works in projects of several packages. Fires on a type of scripts, and on an identity of a record, event, label, input action or text, that two packages define; on the name of a label or input action that has no identity as well. Where packages share four names or more that is one note: they may be made to stand for each other. Silent on spaces that no reference looks at from another package, or whose packages no package needs together, on files that one package lays over another’s on purpose (packages.overlay), inside one package, and on names of objects, which need not be unique.',
  run: (linked) => {
    const { world, graph, facts } = linked;
    if (world.files.packages.length < 2) return [];
    const packageNamed = (source: number): string | undefined =>
      packageOf(world.files.packages, itemAt(facts, source).file)?.id;
    const types = [...world.types.byName].flatMap(([name, list]) =>
      clash(
        linked,
        'type',
        name,
        list.map(({ piece, source }) => ({ piece, home: packageNamed(source) })),
      ),
    );
    const ids = [...world.names.byId].flatMap(([id, pieces]) => {
      if (pieces.length < 2) return [];
      const spaces = new Map<string, { piece: number; home: string | undefined }[]>();
      for (const piece of pieces) {
        const kind = kindOf(graph, piece);
        if (!UNIQUE.includes(kind)) continue;
        const home = packageNamed(world.files.sourceOf.get(fileOf(graph, piece)) ?? -1);
        const space = world.names.spaceOf.get(piece);
        // What counts in its own package alone is in nobody's way.
        const reach = space === undefined ? 'project' : outermost(linked.plan, space);
        if (reach !== 'project' && reach !== 'needed') continue;
        push(spaces, space ?? kind, { piece, home });
      }
      return [...spaces.values()].flatMap((homes) => clash(linked, 'identity', id, homes));
    });
    // What is declared by its name alone is meant by it.
    const names = [...world.names.byName].flatMap(([name, pieces]) =>
      DECLARED.flatMap((kind) =>
        clash(
          linked,
          'name',
          name,
          pieces
            .filter(
              (piece) => kindOf(graph, piece) === kind && itemAt(graph.texts, cellAt(graph.pieces.id, piece)) === '',
            )
            .map((piece) => ({ piece, home: packageNamed(world.files.sourceOf.get(fileOf(graph, piece)) ?? -1) })),
        ),
      ),
    );
    return sharedTogether([...types, ...ids, ...names]);
  },
};

/** So many names that packages share are no accident: they are made to stand for each other. */
const MANY_SHARED = 4;

/** What packages define again and again is one finding. */
function sharedTogether(all: Clash[]): Draft[] {
  const groups = joined(all);
  return groups.flatMap((same): Draft[] => {
    if (same.length < MANY_SHARED) return same.map((one) => one.draft);
    const [{ draft, name }, ...more] = same;
    const homes = [...new Set(same.flatMap((one) => one.homes))].sort();
    return [
      toldTogether([draft, ...more.map((one) => one.draft)], {
        severity: 'note',
        sentence: [
          ...sentence`The packages ${itemAt(homes, 0)} and ${itemAt(homes, 1)}`,
          ...(homes.length > 2 ? [` and ${homes.length - 2} more`] : []),
          ...sentence` share ${same.length} names, ${{ name, piece: draft.pieces[0] }} among them`,
        ],
        sure: 'All are written out. Packages that share so many names are mostly made to stand for each other; should they be loaded together, nobody can say which is meant.',
        sameBy: ['packages', ...homes],
      }),
    ];
  });
}

/** Clashes of packages that hang together: each shares a name with the next. */
function joined(all: readonly Clash[]): Some<Clash>[] {
  const leader = new Map<string, string>();
  const find = (home: string): string => {
    const next = leader.get(home) ?? home;
    return next === home ? home : find(next);
  };
  for (const { homes } of all) for (const home of homes) leader.set(find(home), find(itemAt(homes, 0)));
  return grouped(all, ({ homes }) => find(itemAt(homes, 0)));
}

interface Clash {
  name: string;
  /** The packages, in order. */
  homes: string[];
  draft: Draft;
}

const DECLARED: PieceKind[] = ['label', 'input action'];
const UNIQUE: PieceKind[] = ['record', 'event', 'label', 'input action', 'text', 'flag', 'data asset'];

function fileOf({ texts, pieces }: Graph, piece: number): string {
  return itemAt(texts, cellAt(pieces.file, piece));
}

function clash(
  { graph, world, plan }: Linked,
  what: 'type' | 'identity' | 'name',
  name: string,
  places: { piece: number; home: string | undefined }[],
): Clash[] {
  const homes = new Map(places.flatMap(({ piece, home }) => (home === undefined ? [] : [[home, piece] as const])));
  if (homes.size < 2) return [];
  const inOrder = [...homes].sort(([a], [b]) => (a < b ? -1 : 1));
  const [[one, first], [other, second]] = [itemAt(inOrder, 0), itemAt(inOrder, 1)];
  const space = world.names.spaceOf.get(first);
  if (space !== undefined && outermost(plan, space) === 'needed' && !areTogether(world, one, other)) return [];
  const draft: Draft = {
    sentence: [
      ...sentence`The packages ${one} and ${other} both define the ${what} ${{ name, piece: first }}`,
      ...(what === 'identity' && nameOf(graph, first) && nameOf(graph, second)
        ? sentence`, for ${named(graph, first)} and ${named(graph, second)}`
        : []),
    ],
    sure: 'Both are written out, in files of two packages that are loaded together.',
    pieces: [first, second],
    evidence: [...placeOf(graph, first, `in ${one}`), ...placeOf(graph, second, `in ${other}`)],
    walk: [],
    places: homes.size,
    files: [...new Set(inOrder.map(([, piece]) => fileOf(graph, piece)))],
    repairs: [
      {
        title: 'Give one of them another name',
        words: 'Put the name of its package in front of one of them, and change what refers to it.',
      },
    ],
    sameBy: [what, name],
  };
  return [{ name, homes: inOrder.map(([home]) => home), draft }];
}
