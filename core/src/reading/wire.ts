/**
 * Facts as text, for handing them from thread to thread and for keeping them. Places make up most of a file's facts:
 * they stand apart as one list of numbers, which is a third as long and read back twice as fast.
 */
import type { Range } from '../model/piece.js';
import type { FileFacts, Written } from './facts.js';

interface Holder {
  range: Range;
}

/** Writes facts as text. The facts themselves are used up. */
export function packFacts(facts: FileFacts): string {
  const places: number[] = [];
  eachPlace(facts, (holder) => {
    const { line, column, endLine, endColumn } = holder.range;
    places.push(line, column, endLine, endColumn);
    (holder as { range: unknown }).range = 0;
  });
  return JSON.stringify([facts, places]);
}

/** Reads what {@link packFacts} wrote. */
export function unpackFacts(text: string): FileFacts {
  const [facts, places] = JSON.parse(text) as [FileFacts, number[]];
  let at = 0;
  eachPlace(facts, (holder) => {
    holder.range = {
      line: places[at] ?? 1,
      column: places[at + 1] ?? 1,
      endLine: places[at + 2] ?? 1,
      endColumn: places[at + 3] ?? 1,
    };
    at += 4;
  });
  return facts;
}

/** Visits everything that has a place, always in the same order. */
function eachPlace(facts: FileFacts, visit: (holder: Holder) => void): void {
  const all = (holders: Holder[] | undefined): void => holders?.forEach(visit);
  const one = (written: Written | undefined): void => void (written && visit(written));
  visit(facts);
  all(facts.extends);
  all(facts.package?.needs);
  for (const piece of facts.pieces) {
    visit(piece);
    one(piece.madeFrom);
    all(piece.extends);
    all(piece.values);
    all(piece.labels);
    for (const part of piece.parts) {
      visit(part);
      one(part.script);
      all(part.values);
    }
    for (const override of piece.overrides ?? []) {
      visit(override);
      all(override.values);
    }
  }
  all(facts.references);
  all(facts.events);
  all(facts.connections);
  for (const { script, to } of facts.attachments) {
    visit(script);
    one(to);
  }
  all(facts.given);
  all(facts.problems);
  all(facts.notes);
  const { script } = facts;
  if (!script) return;
  for (const type of script.types) {
    visit(type);
    all(type.fields);
  }
  all(script.functions);
  all(script.operations);
  all(script.handed);
  all(script.imports);
  all(script.literals);
  all(script.uses);
  all(script.tableUses);
  all(script.strangers);
}
