/**
 * Glue facts (`*.facts.ndjson`): pieces and links given directly, one JSON object a line, as a team's own exporter
 * writes them from a binary format or an editor. Read line by line, so that a file may be of any size.
 */
import { itemAt } from '../../helpers/at.js';
import type { FileFacts, GivenLink, PieceFact, ValueFact } from '../facts.js';
import type { Range } from '../../model/piece.js';
import { linkLine, pieceLine, type LinkLine, type PieceLine } from './schema.js';

export interface GlueFactsReader {
  /** Takes the next line, without its end. */
  line(text: string): void;
  /** The facts of all lines taken. */
  end(): FileFacts;
}

/** Faults beyond so many say nothing new. */
const MOST_PROBLEMS = 100;
const TOP_KINDS = new Set(['scene', 'prefab', 'data asset', 'package']);
/** Stands for no parent at all, as scenes have none. */
export const NO_PARENT = -2;

/**
 * One closure: each kind of line is a function that fills the same facts.
 * @param facts what is known of the file by its name; it is filled
 */
export function createGlueFactsReader(facts: FileFacts): GlueFactsReader {
  const places = new Map<string, number>();
  let number = 0;

  const fault = (message: string, length: number): void => {
    if (facts.problems.length >= MOST_PROBLEMS) return;
    facts.problems.push({ message, range: { line: number, column: 1, endLine: number, endColumn: length + 1 } });
  };

  const add = (value: unknown, length: number): void => {
    const isLink = typeof value === 'object' && value !== null && (value as { fact?: unknown }).fact === 'link';
    const { value: line, error } = (isLink ? linkLine : pieceLine).validate(value, { convert: false }) as {
      value: PieceLine | LinkLine;
      error?: Error;
    };
    if (error) return fault(error.message, length);
    const range = rangeOf(line.file ? (line.line ?? 1) : number, line.column ?? 1);
    if (line.fact === 'link') {
      const { from, to = '', verb, grip, scope, moment, side, label = '', file = '' } = line;
      const given: GivenLink = { from, to, verb, grip: to ? grip : 'lost', scope, moment, side, label, file, range };
      if (line.fromKind ?? line.fromSpace) given.fromIs = { kind: line.fromKind, space: line.fromSpace };
      if (line.toKind ?? line.toSpace) given.toIs = { kind: line.toKind, space: line.toSpace };
      facts.given.push(given);
    } else if (line.kind === 'part') addPart(line, range, length);
    else addPiece(line, range, length);
  };

  const holderOf = ({ in: holder, id }: PieceLine, length: number): number | undefined => {
    if (holder === undefined) return undefined;
    const at = places.get(holder);
    if (at === undefined) fault(`“${id}” is in “${holder}”, which no line above this one gives`, length);
    return at;
  };

  const addPiece = (line: PieceLine, range: Range, length: number): void => {
    if (places.has(line.id)) return fault(`the identity “${line.id}” stands twice`, length);
    const parent = holderOf(line, length) ?? (TOP_KINDS.has(line.kind) ? NO_PARENT : -1);
    const piece: PieceFact = {
      rule: '',
      kind: line.kind,
      name: line.name ?? line.id,
      id: line.id,
      parent,
      index: facts.pieces.length,
      parts: [],
      range,
    };
    if (line.file) piece.file = line.file;
    if (line.labels) piece.labels = line.labels.map((text) => ({ text, range }));
    if (line.off) piece.isOff = true;
    if (line.barred) piece.isBarred = true;
    if (line.kept) piece.isKept = true;
    if (line.space) piece.space = line.space;
    places.set(line.id, facts.pieces.length);
    facts.pieces.push(piece);
  };

  const addPart = (line: PieceLine, range: Range, length: number): void => {
    const holder = holderOf(line, length);
    if (holder === undefined) {
      if (line.in === undefined) fault(`the part “${line.id}” is in nothing: “in” is missing`, length);
      return;
    }
    itemAt(facts.pieces, holder).parts.push({
      rule: -1,
      type: line.type ?? line.name ?? '',
      script: line.script ? { text: line.script, range } : undefined,
      values: Object.entries(line.values ?? {}).map(([name, value]) => valueFact(name, value, range)),
      range,
    });
  };

  return {
    line(text) {
      number++;
      if (!text.trim()) return;
      let value: unknown;
      try {
        value = JSON.parse(text);
      } catch {
        return fault('this line is not valid JSON', text.length);
      }
      add(value, text.length);
    },
    end() {
      if (facts.problems.length > 0) facts.unread = '';
      return facts;
    },
  };
}

function valueFact(name: string, value: unknown, range: Range): ValueFact {
  const isPlain = ['string', 'number', 'boolean'].includes(typeof value);
  return { name, text: isPlain ? String(value) : undefined, empty: value === null || value === '', range };
}

function rangeOf(line: number, column: number): Range {
  return { line, column, endLine: line, endColumn: column };
}
