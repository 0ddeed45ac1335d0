import type { Range } from '../model/piece.js';

/** Turns offsets of one text into lines and columns (both 1-based). */
export interface Lines {
  range(start: number, end: number): Range;
  lineOf(offset: number): number;
  columnOf(offset: number): number;
  /** The offset of a place; one beyond the text is its end. */
  offsetOf(line: number, column: number): number;
}

/** Indexes the line starts of `text`; a line ends with LF, CR LF or CR. */
export function linesOf(text: string): Lines {
  const starts = startsOf(text);
  const lineIndex = (offset: number): number => {
    let low = 0;
    let high = starts.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if ((starts[middle] ?? 0) <= offset) low = middle;
      else high = middle - 1;
    }
    return low;
  };
  const columnOf = (offset: number): number => offset - (starts[lineIndex(offset)] ?? 0) + 1;
  return {
    lineOf: (offset) => lineIndex(offset) + 1,
    columnOf,
    offsetOf: (line, column) => Math.min((starts[line - 1] ?? text.length) + column - 1, text.length),
    range: (start, end) => {
      const first = lineIndex(start);
      const last = end <= start ? first : lineIndex(end);
      return {
        line: first + 1,
        column: start - (starts[first] ?? 0) + 1,
        endLine: last + 1,
        endColumn: Math.max(start, end) - (starts[last] ?? 0) + 1,
      };
    },
  };
}

function startsOf(text: string): number[] {
  const starts = [0];
  if (text.includes('\r')) {
    for (const { index, 0: end } of text.matchAll(/\r\n|\r|\n/g)) starts.push(index + end.length);
  } else {
    for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) starts.push(at + 1);
  }
  return starts;
}
