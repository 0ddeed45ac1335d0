/** Files of which not everything could be read: what they may hold cannot be told to be missing. */
import { entryOf, itemAt } from '../../helpers/at.js';
import { once } from '../../helpers/once.js';
import type { PieceKind } from '../../model/piece.js';
import type { FileRule } from '../../reading/plan/plan.js';
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
export function mayBeUnread(world: World, text: string, fits: Pick): boolean {
  return unreadFiles(world).some((source) => {
    const { unread } = itemAt(world.facts, source);
    return (unread === '' || unread?.includes(text)) && fits(world, source);
  });
}

type Pick = (world: World, source: number) => boolean;

/** Picks files by their rules. Glue facts can tell of anything. */
function picking(isScript: (world: World) => boolean, fits: (rule: FileRule) => boolean): Pick {
  return (world, source) => {
    const { kind, rule: name } = itemAt(world.facts, source);
    if (kind === 'script') return isScript(world);
    const rule = entryOf(world.plan.files, name);
    return rule.as === 'glue facts' || fits(rule);
  };
}

/** Picks files that can hold pieces of one of these kinds, or of any when none is named. */
export function holding(kinds: readonly PieceKind[]): Pick {
  const isWanted = (kind: string): boolean => kinds.length === 0 || (kinds as readonly string[]).includes(kind);
  return picking(
    ({ plan }) => plan.calls.some((call) => call.means === 'declare' && isWanted(call.kind)),
    ({ as, pieces }) => isWanted(as) || Object.values(pieces).some((piece) => isWanted(piece.kind)),
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
