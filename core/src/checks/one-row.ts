/** One cause, one row: what one mend would mend is told once, with all its places. */
import { itemAt } from '../helpers/at.js';
import { grouped, type Some } from '../helpers/grouped.js';
import type { Evidence } from '../model/evidence.js';
import { plain, type Repair } from '../model/finding.js';
import type { Draft } from './check.js';

/** More places are counted, not listed. */
export const MOST_PLACES = 200;

/** Drafts of one check; those with the same cause and weight become one. */
export function inOneRow(drafts: Draft[]): Draft[] {
  const rows = grouped(drafts, ({ cause, severity }) => (cause ? [severity ?? '', ...cause].join('\u0000') : ''));
  return rows.flatMap((row) => (row[0].cause && row.length > 1 ? [joined(row)] : row));
}

/** Drafts that are of one making, told once in words of their own: each of them follows as evidence, in its words. */
export function toldTogether(drafts: Some<Draft>, told: Pick<Draft, 'sentence' | 'sameBy'> & Partial<Draft>): Draft {
  return {
    ...drafts[0],
    pieces: [...new Set(drafts.flatMap(({ pieces }) => pieces))].slice(0, MOST_PLACES),
    evidence: drafts
      .map((draft) => ({ ...itemAt(draft.evidence, 0), shows: plain(draft.sentence) }))
      .slice(0, MOST_PLACES),
    files: [...new Set(drafts.flatMap(({ files, evidence }) => files ?? [itemAt(evidence, 0).file]))],
    places: drafts.reduce((sum, { places }) => sum + places, 0),
    ...told,
  };
}

/** The draft at the first place speaks for all; the others follow as its evidence, each in its own words. */
function joined(drafts: Draft[]): Draft {
  const inPlace = [...drafts].sort(byPlace);
  const [first, ...more] = [itemAt(inPlace, 0), ...inPlace.slice(1)];
  const known = new Set(first.evidence.map(keyOf));
  const others = more.map((draft): Evidence => {
    // One line of code that is run from many places is told by these.
    const place = draft.evidence.find((one) => !known.has(keyOf(one))) ?? itemAt(draft.evidence, 0);
    known.add(keyOf(place));
    return { ...place, shows: plain(draft.sentence) };
  });
  return {
    ...first,
    pieces: [...new Set(inPlace.flatMap(({ pieces }) => pieces))].slice(0, MOST_PLACES),
    evidence: [...first.evidence, ...others].slice(0, MOST_PLACES),
    files: [...new Set([itemAt(first.evidence, 0), ...others].map(({ file }) => file))],
    places: inPlace.reduce((sum, { places }) => sum + places, 0),
    repairs: joinedRepairs(inPlace),
  };
}

const keyOf = ({ file, range }: Evidence): string => `${file} ${range.line} ${range.column}`;

/** In which order files were linked must not show. */
function byPlace(one: Draft, other: Draft): number {
  const byText = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);
  for (let at = 0; at < Math.min(one.evidence.length, other.evidence.length); at++) {
    const [a, b] = [itemAt(one.evidence, at), itemAt(other.evidence, at)];
    const order = byText(a.file, b.file) || a.range.line - b.range.line || a.range.column - b.range.column;
    if (order !== 0) return order;
  }
  return byText(one.sameBy.join(' '), other.sameBy.join(' '));
}

/** Repairs that are called the same are one, which changes all places; one that mends only some says so. */
function joinedRepairs(drafts: Draft[]): Repair[] {
  const all = drafts.flatMap(({ repairs, places }) => repairs.map((repair) => ({ repair, places })));
  const count = drafts.reduce((sum, { places }) => sum + places, 0);
  return grouped(all, ({ repair }) => `${repair.title} ${repair.sure}`).map((same): Repair => {
    const [{ repair }] = same;
    const mended = same.reduce((sum, { places }) => sum + places, 0);
    if (!repair.changes || (same.length === 1 && count === mended)) return repair;
    const changes = grouped(
      same.flatMap((one) => one.repair.changes ?? []),
      (change) => JSON.stringify(change),
    ).map(([change]) => change);
    return {
      ...repair,
      changes,
      ...(mended < count && { mends: mended, words: `${repair.words} ${onlySome(mended, count)}` }),
    };
  });
}

const onlySome = (mended: number, count: number): string =>
  `It mends ${mended === 1 ? 'one' : mended} of the ${count} places.`;
