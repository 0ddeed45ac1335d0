/** What values and defaults were before, as the version history tells. */
import { itemAt, must } from '../helpers/at.js';
import { statesOf, type Commit } from '../model/history.js';
import type { Linked } from '../linking/linked.js';
import type { ValueOnPart, WorldType } from '../linking/world/world.js';
import type { FieldFact, PartFact, PieceFact } from '../reading/facts.js';

export interface Former {
  /** What it was before. */
  text: string;
  /** The change after which it was so no longer. */
  by?: Commit;
}

/** What a value that a file saves was before, newest first. */
export function formerTexts({ facts, history }: Linked, { source, pieceFact, partFact, value }: ValueOnPart): Former[] {
  const { file, pieces } = itemAt(facts, source);
  const piece = itemAt(pieces, pieceFact);
  const part = piece.parts[partFact];
  // What a variant saves over the prefab that it is made from is found by no such name.
  if (!part) return [];
  const isPiece = (one: PieceFact): boolean =>
    one.rule === piece.rule && one.id === piece.id && one.name === piece.name;
  const isPart = (one: PartFact): boolean => one.type === part.type && one.script?.text === part.script?.text;
  const [piecePlace, partPlace] = [pieces.filter(isPiece).indexOf(piece), piece.parts.filter(isPart).indexOf(part)];
  const states = statesOf(
    must(value.text),
    history.versionsOf(file),
    (then) =>
      then.pieces
        .filter(isPiece)
        [piecePlace]?.parts.filter(isPart)
        [partPlace]?.values.find(({ name }) => name === value.name)?.text,
    (one, other) => one === other,
  );
  return formerIn(states, must(value.text));
}

function formerIn(states: readonly { is: string; by?: Commit }[], now: string): Former[] {
  return states.slice(1).flatMap(({ is }, at) => (is === now ? [] : [{ text: is, by: itemAt(states, at).by }]));
}

/** What the code gave a field before, newest first; texts without the marks around them. */
export function formerDefaults({ facts, history }: Linked, type: WorldType, field: FieldFact): Former[] {
  const states = statesOf(
    unquoted(field.default ?? ''),
    history.versionsOf(itemAt(facts, type.source).file),
    (then) => {
      const before = then.script?.types
        .find(({ name }) => name === type.name)
        ?.fields.find(({ name }) => name === field.name);
      return before?.default === undefined ? undefined : unquoted(before.default);
    },
    (one, other) => one === other,
  );
  return formerIn(states, unquoted(field.default ?? ''));
}

/** A text without the marks around it, as data files save it. */
export function unquoted(text: string): string {
  return /^(["'`]).*\1$/s.test(text) ? text.slice(1, -1) : text;
}
