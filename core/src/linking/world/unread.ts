/** Files of which not everything could be read: what they may hold cannot be told to be missing. */
import { cellAt, entryOf, itemAt } from '../../helpers/at.js';
import { once } from '../../helpers/once.js';
import type { PieceKind } from '../../model/piece.js';
import { contentOf } from '../../reading/plan/content.js';
import type { ContentRules, FileRule } from '../../reading/plan/plan.js';
import type { World, WorldType } from './world.js';

/** Files that were not read whole, by their positions in `facts`. */
interface Unread {
  /** Those that may hold anything. */
  anything: number[];
  /** Those of which the text is kept, by the words in it. */
  byWord: Map<string, Set<number>>;
}

const WORDS = /[\p{L}\p{N}_]+/gu;

/** Linking again never keeps a world in which these change. */
const unreadFiles = once(({ facts }: World): Unread => {
  const files: Unread = { anything: [], byWord: new Map() };
  for (const [source, { unread }] of facts.entries()) {
    if (unread === '') files.anything.push(source);
    for (const word of new Set(unread?.match(WORDS))) {
      const found = files.byWord.get(word) ?? new Set();
      files.byWord.set(word, found.add(source));
    }
  }
  return files;
});

/** Whether all that stands in a file was read. */
export function isRead({ facts }: World, source: number): boolean {
  return itemAt(facts, source).unread === undefined;
}

/** Whether all of the file was read that a piece is written in: only then it surely stands where it seems to. */
export function isPlaceRead(world: World, piece: number): boolean {
  const { texts, pieces } = world.builder.graph;
  const source = world.files.sourceOf.get(itemAt(texts, cellAt(pieces.file, piece)));
  return source === undefined || isRead(world, source);
}

/** Whether all code of a type and its parents was read. */
export function isTypeRead(world: World, { source, ancestors }: WorldType): boolean {
  return isRead(world, source) && ancestors.every((one) => isRead(world, one.source));
}

/** Whether one of the files that were not read whole, of those that `fits` picks, may hold all words of a text. */
export function mayBeUnread(world: World, text: string, fits: Pick): boolean {
  const { anything, byWord } = unreadFiles(world);
  if (anything.some((source) => fits(world, source))) return true;
  if (byWord.size === 0) return false;
  const [first, ...others] = (text.match(WORDS) ?? []).map((word) => byWord.get(word));
  if (!first) return false;
  return [...first].some((source) => others.every((one) => one?.has(source) === true) && fits(world, source));
}

type Pick = (world: World, source: number) => boolean;

/** Picks files by their rules. Glue facts can tell of anything. */
function picking(isScript: (world: World, content: ContentRules) => boolean, fits: (rule: FileRule) => boolean): Pick {
  return (world, source) => {
    const fact = itemAt(world.facts, source);
    if (fact.kind === 'script') return isScript(world, contentOf(world.plan, fact));
    const rule = entryOf(world.plan.files, fact.rule);
    return rule.as === 'glue facts' || fits(rule);
  };
}

/** Picks files that can hold pieces of one of these kinds, or of any when none is named. */
export function holding(kinds: readonly PieceKind[], spaces: readonly string[] = []): Pick {
  const isWanted = (kind: string): boolean => kinds.length === 0 || (kinds as readonly string[]).includes(kind);
  const isThere = (one: string | undefined): boolean =>
    spaces.length === 0 || (one !== undefined && spaces.includes(one));
  const hasWanted = ({ pieces }: ContentRules): boolean =>
    Object.values(pieces).some((piece) => isWanted(piece.kind) && isThere(piece.space));
  return picking(
    ({ plan }, content) =>
      hasWanted(content) ||
      plan.calls.some((call) => call.means === 'declare' && isWanted(call.kind) && isThere(call.space)),
    (rule) => (isWanted(rule.as) && isThere(rule.space)) || hasWanted(rule),
  );
}

/** Picks files whose objects can carry labels, and lists of labels. */
export const labelling = picking(
  () => false,
  ({ pieces }) => Object.values(pieces).some((piece) => piece.kind === 'label' || piece.labels !== undefined),
);

/** Picks files that can send or listen. */
export const telling = picking(
  () => true,
  ({ events, graphs }) => Object.keys(events).length > 0 || Object.keys(graphs).length > 0,
);

/** Picks files that can make scripts run: other scripts, and all that attach them. */
export const attaching = picking(
  () => true,
  ({ pieces, attachments }) =>
    Object.keys(attachments).length > 0 || Object.values(pieces).some(({ parts }) => parts.length > 0),
);

/** Picks scripts. */
export const scripting = picking(
  () => true,
  () => false,
);
