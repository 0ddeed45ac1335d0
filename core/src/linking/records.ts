/**
 * Records that are derived from others: what is in force for each value, and what each of its bases says. The one place
 * where this is decided; views, families and checks rest on it.
 */
import { itemAt } from '../helpers/at.js';
import { once, oncePer } from '../helpers/once.js';
import type { Range } from '../model/piece.js';
import type { RecordValue, Written } from '../reading/facts.js';
import type { BaseTarget } from '../reading/plan/plan.js';
import { findTarget } from './targets.js';
import { contentAt, type World } from './world/world.js';

/** What one record says of a value. */
export interface RecordLevel {
  piece: number;
  value: RecordValue;
  file: string;
}

export interface RecordField {
  name: string;
  /** From the farthest base to the record itself. */
  levels: RecordLevel[];
  /** What is in force; undefined where it is not known, as when something is calculated. */
  text: string | undefined;
  /** For lists of words: those in force. */
  words?: Set<string>;
}

interface Place {
  source: number;
  /** Position in the file's pieces, or -1 for the file itself. */
  at: number;
}

/** Where the pieces of files are written. */
const places = once((world: World): Map<number, Place> => {
  const found = new Map<number, Place>();
  world.files.piece.forEach((piece, source) => found.set(piece, { source, at: -1 }));
  world.trees.pieceOf.forEach((pieces, source) => pieces.forEach((piece, at) => found.set(piece, { source, at })));
  return found;
});

/** Bases of a piece, nearest first: those it names, in the order in which they win, or undefined when one is not known. */
function basesOf(world: World, piece: number): { pieces: number[]; isKnown: boolean } {
  const place = places(world).get(piece);
  if (!place) return { pieces: [], isKnown: true };
  const fact = itemAt(world.facts, place.source);
  const written: Written[] = place.at < 0 ? (fact.extends ?? []) : (fact.pieces[place.at]?.extends ?? []);
  const rule: BaseTarget | undefined =
    place.at < 0
      ? world.plan.files[fact.rule]?.extends
      : contentAt(world, place.source).pieces[fact.pieces[place.at]?.rule ?? '']?.extends;
  if (!rule) return { pieces: [], isKnown: true };
  const found = written.map(({ text }) => findTarget(world, rule, { text, piece: place.at }, place.source));
  const pieces = found.flatMap((target) => (target.state === 'found' ? target.pieces.slice(0, 1) : []));
  if (rule.wins === 'last') pieces.reverse();
  return { pieces, isKnown: found.every(({ state }) => state === 'found') };
}

/** A record and all that it is derived from, nearest first. A base of several stands behind all of them. */
const chainOf = oncePer((world: World, piece: number): { pieces: number[]; isKnown: boolean } => {
  // Each is left once all its bases are: the order in which that comes, turned round. A circle ends where it closes.
  const left: number[] = [];
  const seen = new Set([piece]);
  const open = [{ at: piece, bases: basesOf(world, piece) }];
  let isKnown = true;
  for (let last = open.at(-1); last; last = open.at(-1)) {
    const next = last.bases.pieces.pop();
    if (next === undefined) {
      isKnown &&= last.bases.isKnown;
      left.push(last.at);
      open.pop();
    } else if (!seen.has(next)) {
      seen.add(next);
      open.push({ at: next, bases: basesOf(world, next) });
    }
  }
  return { pieces: left.reverse(), isKnown };
});

/** What a piece says itself: its values, and the fields of its parts, which stay apart: `Hull.most`. */
function ownValues(world: World, piece: number): RecordLevel[] {
  const place = places(world).get(piece);
  const fact = place && itemAt(world.facts, place.source);
  const own = place && fact?.pieces[place.at];
  if (!own || !fact) return [];
  const ofParts = own.parts.flatMap(({ type, script, values }) =>
    values.map((value): RecordValue => ({
      ...value,
      name: `${type || (script?.text ?? '')}.${value.name}`,
      joins: 'replaces',
    })),
  );
  return [...(own.values ?? []), ...ofParts].map((value) => ({ piece, value, file: fact.file }));
}

/**
 * All values of a record, its own and those of its bases, by name. What stands there is what files say, so that it is to
 * be asked anew when a file has changed.
 */
export function recordFields(world: World, piece: number): { fields: Map<string, RecordField>; isKnown: boolean } {
  const { pieces, isKnown } = chainOf(world, piece);
  const fields = new Map<string, RecordField>();
  for (const at of [...pieces].reverse()) {
    for (const level of ownValues(world, at)) {
      const known = fields.get(level.value.name);
      if (known) known.levels.push(level);
      else fields.set(level.value.name, { name: level.value.name, levels: [level], text: undefined });
    }
  }
  for (const field of fields.values()) decide(field);
  return { fields, isKnown };
}

/** Works out what is in force, from the farthest base on. */
function decide(field: RecordField): void {
  let text: string | undefined;
  let words: Set<string> | undefined;
  for (const { value } of field.levels) {
    const before = text;
    if (value.words) {
      words =
        value.joins === 'replaces' && !value.words.some(({ takes }) => takes) && !words
          ? new Set()
          : (words ?? new Set());
      for (const word of value.words) {
        if (word.takes || value.joins === 'takes') words.delete(word.text);
        else words.add(word.text);
      }
      text = [...words].join(' ');
      continue;
    }
    text = joined(value, before);
  }
  field.text = text;
  if (words) field.words = words;
}

function joined({ joins, text }: RecordValue, before: string | undefined): string | undefined {
  if (joins === 'replaces') return text;
  if (joins === 'removes') return '';
  if (joins === 'unknown' || text === undefined) return undefined;
  if (joins === 'adds') return before === undefined || before === '' ? text : `${before} ${text}`;
  if (joins === 'takes') {
    const left = before?.split(/[\s,|]+/).filter((word) => word !== text);
    return left?.join(' ');
  }
  const [a, b] = [Number(before), Number(text)];
  if (before === undefined || before === '' || Number.isNaN(a) || Number.isNaN(b)) return undefined;
  const result = { plus: a + b, minus: a - b, times: a * b, 'divided by': a / b }[joins];
  return Number.isFinite(result) ? String(Number(result.toPrecision(12))) : undefined;
}

/** Something that a record takes away, though none of its bases has it. */
export interface NothingToTake {
  piece: number;
  base: number;
  name: string;
  /** The word that is taken; empty for the whole value. */
  word: string;
  file: string;
  range: Range;
  among: string[];
}

/** What a record takes away that none of its bases has; nothing where not all of them are known. */
export function nothingToTake(world: World, piece: number): NothingToTake[] {
  const own = ownValues(world, piece).filter(
    ({ value }) => TAKING.has(value.joins) || value.words?.some(({ takes }) => takes),
  );
  if (own.length === 0) return [];
  const { pieces, isKnown } = chainOf(world, piece);
  const bases = pieces.slice(1);
  const [base] = bases;
  if (!isKnown || base === undefined) return [];
  const above = new Map<string, Set<string>>();
  for (const at of bases)
    for (const { value } of ownValues(world, at)) {
      const words = above.get(value.name) ?? new Set();
      above.set(value.name, words);
      for (const word of value.words ?? []) words.add(word.text);
      if (!value.words) for (const word of (value.text ?? '').split(/[\s,|]+/)) words.add(word);
    }
  return own.flatMap(({ value, file }): NothingToTake[] => {
    const there = above.get(value.name);
    const fault = (word: string, among: Iterable<string>): NothingToTake => ({
      ...{ piece, base, name: value.name, word, file, range: value.range },
      among: [...among].filter(Boolean).slice(0, 12),
    });
    if (value.joins === 'removes' || !there) return there ? [] : [fault('', above.keys())];
    const taken = value.words
      ? value.words.filter(({ takes }) => takes || value.joins === 'takes').map(({ text }) => text)
      : value.joins === 'takes' && value.text
        ? [value.text]
        : [];
    return taken.filter((word) => !there.has(word)).map((word) => fault(word, there));
  });
}

/** What does something to a value that must be there; what is calculated needs one as well. */
const TAKING = new Set<string>(['takes', 'removes', 'plus', 'minus', 'times', 'divided by']);

/** Pieces that say something by a rule for values, or are derived from such. */
export const records = once(
  (world: World): Set<number> =>
    new Set(
      world.facts.flatMap(({ pieces }, source) =>
        pieces.flatMap((piece, at) =>
          piece.values || piece.extends ? [itemAt(itemAt(world.trees.pieceOf, source), at)] : [],
        ),
      ),
    ),
);
