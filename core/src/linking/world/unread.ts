/** Files of which not everything could be read: what they may hold cannot be told to be missing. */
import { entryOf, itemAt } from '../../helpers/at.js';
import { once } from '../../helpers/once.js';
import type { PieceKind } from '../../model/piece.js';
import type { World, WorldType } from './world.js';

/** Positions in `facts` of all files that were not read whole. Linking again never keeps a world in which they change. */
const unreadFiles = once(({ facts }: World) =>
  facts.flatMap(({ unread }, source) => (unread === undefined ? [] : [source])),
);

/** Whether all that stands in a file was read. */
export function isRead({ facts }: World, source: number): boolean {
  return itemAt(facts, source).unread === undefined;
}

/** Whether all code of a type and its parents was read. */
export function isTypeRead(world: World, { source, ancestors }: WorldType): boolean {
  return isRead(world, source) && ancestors.every((one) => isRead(world, one.source));
}

/** Whether one of the files that were not read whole, of those that `fits` picks, may hold a text. */
export function mayBeUnread(world: World, text: string, fits: (world: World, source: number) => boolean): boolean {
  return unreadFiles(world).some((source) => {
    const { unread } = itemAt(world.facts, source);
    return (unread === '' || unread?.includes(text)) && fits(world, source);
  });
}

/** Picks files that can hold pieces of one of these kinds, or of any when none is named. */
export function holding(kinds: readonly PieceKind[]): (world: World, source: number) => boolean {
  const isWanted = (kind: PieceKind): boolean => kinds.length === 0 || kinds.includes(kind);
  return ({ plan, facts }, source) => {
    const { kind, rule } = itemAt(facts, source);
    if (isWanted(kind)) return true;
    if (kind === 'script') return plan.calls.some((call) => call.means === 'declare' && isWanted(call.kind));
    return Object.values(entryOf(plan.files, rule).pieces).some((piece) => isWanted(piece.kind));
  };
}

/** Picks files whose objects can carry labels, and lists of labels. */
export function labelling({ plan, facts }: World, source: number): boolean {
  const { kind, rule } = itemAt(facts, source);
  if (kind === 'script') return false;
  return Object.values(entryOf(plan.files, rule).pieces).some(
    (piece) => piece.kind === 'label' || piece.labels !== undefined,
  );
}

/** Picks files that can send or listen. */
export function telling({ plan, facts }: World, source: number): boolean {
  const { kind, rule } = itemAt(facts, source);
  if (kind === 'script') return true;
  const { events, graphs } = entryOf(plan.files, rule);
  return Object.keys(events).length > 0 || Object.keys(graphs).length > 0;
}

/** Picks files that can make scripts run: other scripts, and all that attach them. */
export function attaching({ plan, facts }: World, source: number): boolean {
  const { kind, rule } = itemAt(facts, source);
  if (kind === 'script') return true;
  const { pieces, attachments } = entryOf(plan.files, rule);
  return Object.keys(attachments).length > 0 || Object.values(pieces).some(({ parts }) => parts.length > 0);
}

/** Picks scripts. */
export function scripting({ facts }: World, source: number): boolean {
  return itemAt(facts, source).kind === 'script';
}
