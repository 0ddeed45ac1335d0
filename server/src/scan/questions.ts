/** Answers questions about the map that a project's thread holds. */
import {
  familiesOf,
  familyOf,
  GlueError,
  nameOf,
  pieceByKey,
  pieceName,
  playExpected,
  twinPage,
  twinTasks,
  type Graph,
  type KeyedTwins,
  type Linked,
} from '@glue-trace/core';
import type { TwinGroupView } from '../api.js';
import type { MapAnswers, MapQuestion, QuestionOf } from './messages.js';

/** Those that the map itself answers. */
type OfMap = Exclude<
  MapQuestion['ask'],
  | 'trial'
  | 'sure repairs'
  | 'plan trial'
  | 'learn again'
  | 'learned'
  | 'decisions'
  | 'revision'
  | 'map change'
  | 'touched'
>;

const ANSWERS: { [Kind in OfMap]: (linked: Linked, question: QuestionOf<Kind>) => MapAnswers[Kind] } = {
  values: (linked, { piece }) =>
    linked
      .valuesOf(pieceNamed(linked.graph, piece))
      .map((one) => ({ ...one, part: pieceName(linked.graph, one.part) })),
  walk: (linked, { piece, at }) =>
    linked
      .walkAt(pieceNamed(linked.graph, piece), at.file, at)
      .map(({ asks, finds, piece: end, grip }) => ({ asks, finds, grip, ...keyOf(linked.graph, end) })),
  story: (linked, { piece, direction }) => {
    const { graph } = linked;
    return linked
      .storyOf(nameOf(graph, pieceNamed(graph, piece)), direction)
      .map(({ piece: who, whatPiece, ...line }) => ({
        ...line,
        ...keyOf(graph, who),
        ...(whatPiece >= 0 && { whatKey: pieceName(graph, whatPiece).key }),
      }));
  },
  families: (linked) => familiesOf(linked).map((family) => named(linked.graph, family)),
  family: (linked, { piece }) => {
    const family = familyOf(linked, pieceNamed(linked.graph, piece));
    return (
      family && {
        ...named(linked.graph, family),
        columns: family.columns,
        rows: family.rows.map((row) => named(linked.graph, row)),
      }
    );
  },
  twins: (linked, { filter }) => {
    const { groups, opened, ...page } = twinPage(linked, filter);
    const keyed = (group: KeyedTwins): TwinGroupView => keyedGroup(linked.graph, group);
    return { ...page, groups: groups.map(keyed), ...(opened && { opened: keyed(opened) }) };
  },
  play: playExpected,
  'twin tasks': (linked, { name }) => twinTasks(name, linked),
};

/** @throws GlueError `piece/unknown` */
export function answerTo<Kind extends OfMap>(linked: Linked, question: QuestionOf<Kind>): MapAnswers[Kind] {
  const { ask: kind }: { ask: Kind } = question;
  return ANSWERS[kind](linked, question);
}

/** @throws GlueError `piece/unknown` */
export function pieceNamed(graph: Graph, name: string): number {
  const piece = pieceByKey(graph, name);
  if (piece === undefined)
    throw new GlueError(
      'piece/unknown',
      `The last scan has no piece “${name}”. It may have been renamed or removed: search for it.`,
    );
  return piece;
}

function keyOf(graph: Graph, piece: number): { key?: string } {
  return piece < 0 ? {} : { key: pieceName(graph, piece).key };
}

/** A group of twins with the keys of its pieces in the place of their numbers. */
function keyedGroup(graph: Graph, { places, ...group }: KeyedTwins): TwinGroupView {
  return { ...group, places: places.map(({ piece, ...place }) => ({ ...place, ...keyOf(graph, piece) })) };
}

/** With the key of its piece in the place of its number. */
function named<T extends { piece: number }>(
  graph: Graph,
  { piece, ...rest }: T,
): Omit<T, 'piece'> & { key: string; title: string } {
  const { key, title } = pieceName(graph, piece);
  return { ...rest, key, title };
}
