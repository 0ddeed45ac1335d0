import { contentOf } from '../reading/plan/content.js';
import { entryOf, itemAt } from '../helpers/at.js';
import { push } from '../helpers/push.js';
import { sentence } from '../model/finding.js';
import { nameOf, rangeOf } from '../model/graph.js';
import type { PieceKind } from '../model/piece.js';
import type { Linked } from '../linking/linked.js';
import { outermost } from '../linking/sight.js';
import { packageOf } from '../linking/packages.js';
import { named, placeOf, type Check, type Draft } from './check.js';

/** One identity that two things of one kind have. */
export const sameIdentity: Check = {
  id: 'broken/same-identity',
  title: 'Two things have the same identity',
  severity: 'error',
  why: 'Whoever refers to it gets one of the two, and which one hangs on the order in which files are loaded.',
  decides:
    'Fires on an identity that the same rule of the plan finds twice: in one file, or in two files of one package (of the project, where there are no packages) when a third file refers to it or the plan gives them one space. Silent on identities that only count in their own file, on texts of two files, which may be two languages, on objects of scenes, on what stands for something written elsewhere in the file, and on files of two packages, which are twin/name-clash.',
  restsOn: 'data',
  run: (linked) =>
    holdersOfOne(linked).flatMap(([first, ...others]) =>
      first ? others.slice(0, 1).map((second) => draftOf(linked, first, second, others.length + 1)) : [],
    ),
};

/** Kinds of which each is one of its own; objects of a scene may be numbered anew in each. */
const UNIQUE = new Set<PieceKind>(['record', 'event', 'label', 'input action', 'text', 'flag', 'data asset']);

interface Holder {
  piece: number;
  id: string;
  file: string;
  /** The plan says that all of this space are told apart by their identities. */
  isInSpace: boolean;
}

/** Holders of one identity that are in each other's way. */
function holdersOfOne(linked: Linked): Holder[][] {
  const groups = new Map<string, Holder[]>();
  const { facts, world } = linked;
  const wanted = referredTo(linked);
  for (const [source, { file, rule, pieces }] of facts.entries()) {
    const home = packageOf(world.files.packages, file)?.id ?? '';
    for (const [at, { id, kind, rule: pieceRule, isCopy }] of pieces.entries()) {
      if (!id || !UNIQUE.has(kind) || isCopy) continue;
      const piece = itemAt(itemAt(world.trees.pieceOf, source), at);
      const space = world.names.spaceOf.get(piece);
      // Each language has the same texts; and what only its own file refers to may be called so in each.
      const isFiles = kind === 'text' || (space !== undefined && outermost(linked.plan, space) === 'file');
      const own = isFiles ? `${file}\n` : '';
      const where = space === undefined ? `rule ${rule}\n${pieceRule}` : `space ${space}`;
      push(groups, `${home}\n${own}${where}\n${id}`, { piece, id, file, isInSpace: space !== undefined });
    }
  }
  return [...groups.values()].map((holders) => inEachOthersWay(holders, wanted)).filter(({ length }) => length > 1);
}

/** Those in one file, or all, when somebody in another file wants one of them. */
function inEachOthersWay(holders: Holder[], wanted: ReadonlyMap<string, ReadonlySet<string>>): Holder[] {
  if (holders.length < 2 || itemAt(holders, 0).isInSpace) return holders;
  const files = new Set(holders.map(({ file }) => file));
  const askers = wanted.get(itemAt(holders, 0).id);
  if (files.size > 1 && askers && [...askers].some((file) => !files.has(file))) return holders;
  for (const file of files) {
    const own = holders.filter((one) => one.file === file);
    if (own.length > 1) return own;
  }
  return [];
}

/** Files by the identities that they refer to, where these count in the whole project. */
function referredTo({ facts, plan }: Linked): Map<string, Set<string>> {
  const wanted = new Map<string, Set<string>>();
  for (const fact of facts) {
    const { file, references } = fact;
    for (const { rule, text } of references) {
      const { by, within } = entryOf(contentOf(plan, fact).references, rule);
      if (by !== 'id' || within === 'file') continue;
      const files = wanted.get(text) ?? new Set();
      wanted.set(text, files.add(file));
    }
  }
  return wanted;
}

function draftOf({ graph }: Linked, first: Holder, second: Holder, count: number): Draft {
  const lineOf = ({ piece }: Holder): number => rangeOf(graph.pieces, piece).line;
  const where =
    first.file === second.file
      ? sentence` in lines ${lineOf(first)} and ${lineOf(second)} of ${{ name: first.file }}`
      : sentence` in ${{ name: first.file }} and ${{ name: second.file }}`;
  const names = [first, second].map(({ piece }) => nameOf(graph, piece));
  const isTold = names.every((name) => name && name !== first.id);
  return {
    sentence: [
      ...sentence`${{ name: first.id, piece: first.piece }} is the identity of two things`,
      ...(isTold ? sentence`, ${named(graph, first.piece)} and ${named(graph, second.piece)},` : []),
      ...where,
    ],
    sure: 'Both are written out, and the same rule of the plan reads them.',
    pieces: [first.piece, second.piece],
    evidence: [...placeOf(graph, first.piece, 'the one'), ...placeOf(graph, second.piece, 'the other')],
    walk: [],
    places: count,
    repairs: [
      {
        title: 'Give one of them another identity',
        words:
          'Change the identity of one of them, and what refers to that one; or take out the one that is left over.',
      },
    ],
    sameBy: [first.id, first.file, second.file],
  };
}
