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

/** Lines of a text with what rules found in them; where marks overlap, the one that is told first counts. */
export function markedLines(text: string, marks: Mark[]): MarkedLine[] {
  const byLine = new Map<number, Mark[]>();
  for (const mark of marks) {
    const list = byLine.get(mark.range.line);
    if (list) list.push(mark);
    else byLine.set(mark.range.line, [mark]);
  }
  return text.split(LINE_ENDS).map((line, at) => ({
    number: at + 1,
    pieces: cut(line, at + 1, byLine.get(at + 1) ?? []),
  }));
}

function cut(line: string, number: number, marks: Mark[]): Piece[] {
  const taken: { start: number; end: number; mark: Mark }[] = [];
  for (const mark of marks) {
    const start = mark.range.column - 1;
    const end = mark.range.endLine === number ? mark.range.endColumn - 1 : line.length;
    if (end > start && taken.every((one) => end <= one.start || one.end <= start)) taken.push({ start, end, mark });
  }
  const pieces: Piece[] = [];
  let done = 0;
  for (const { start, end, mark } of taken.sort((a, b) => a.start - b.start)) {
    if (start > done) pieces.push({ text: line.slice(done, start) });
    pieces.push({ text: line.slice(start, end), mark });
    done = end;
  }
  if (done < line.length || pieces.length === 0) pieces.push({ text: line.slice(done) });
  return pieces;
}

/** Lines and columns, 1-based, of a stretch of a text. */
export function placeOf(text: string, { start, end }: { start: number; end: number }): Mark['range'] {
  const [before, inside] = [text.slice(0, start).split(LINE_ENDS), text.slice(0, end).split(LINE_ENDS)];
  return {
    line: before.length,
    column: (before.at(-1)?.length ?? 0) + 1,
    endLine: inside.length,
    endColumn: (inside.at(-1)?.length ?? 0) + 1,
  };
}

const LINE_ENDS = /\r\n|\r|\n/;

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
