import type { Mark } from '@glue-trace/core/browser';

/** A run of a line: plain, or found by a rule. */
export interface Piece {
  text: string;
  mark?: Mark;
}

export interface MarkedLine {
  number: number;
  pieces: Piece[];
}

/** Lines of a text with what rules found in them; where marks overlap, the one that begins first counts. */
export function markedLines(text: string, marks: Mark[]): MarkedLine[] {
  const byLine = new Map<number, Mark[]>();
  for (const mark of marks) {
    const list = byLine.get(mark.range.line);
    if (list) list.push(mark);
    else byLine.set(mark.range.line, [mark]);
  }
  return text.split(/\r\n|\r|\n/).map((line, at) => ({
    number: at + 1,
    pieces: cut(line, at + 1, byLine.get(at + 1) ?? []),
  }));
}

function cut(line: string, number: number, marks: Mark[]): Piece[] {
  const pieces: Piece[] = [];
  let done = 0;
  for (const mark of [...marks].sort((a, b) => a.range.column - b.range.column)) {
    const start = mark.range.column - 1;
    const end = mark.range.endLine === number ? mark.range.endColumn - 1 : line.length;
    if (start < done || end <= start) continue;
    if (start > done) pieces.push({ text: line.slice(done, start) });
    pieces.push({ text: line.slice(start, end), mark });
    done = end;
  }
  if (done < line.length || pieces.length === 0) pieces.push({ text: line.slice(done) });
  return pieces;
}

/** Offset at which a line begins, both lines and columns 1-based. */
export function offsetOf(text: string, line: number, column: number): number {
  let at = 0;
  for (let number = 1; number < line; number++) {
    const end = text.slice(at).search(/\r\n|\r|\n/);
    if (end < 0) break;
    at += end + (text.startsWith('\r\n', at + end) ? 2 : 1);
  }
  return at + column - 1;
}
