/** Evidence: the file, lines and excerpt that a link or finding rests on. */
import type { Range } from './piece.js';

export interface Evidence {
  /** Project-relative path. */
  file: string;
  range: Range;
  /** What this place shows, e.g. `the look-up`, `the object it runs on`. */
  shows: string;
}

/** Lines of a file around a range, as shown beside a finding. */
export interface Excerpt {
  file: string;
  /** 1-based number of the first line. */
  firstLine: number;
  lines: string[];
  /** 1-based, inclusive: the lines to be highlighted. */
  from: number;
  to: number;
}

/** Lines longer than this are cut in an excerpt, so that one line of 200 MB cannot fill the screen. */
const LONGEST_LINE = 400;

/** Takes the lines of `range` with `around` lines of context from a file's text. */
export function excerptOf(file: string, text: string, range: Range, around = 2): Excerpt {
  const lines = text.split(/\r\n|\r|\n/);
  const from = Math.min(Math.max(1, range.line), lines.length);
  const to = Math.min(
    Math.max(from, range.endColumn === 1 ? range.endLine - 1 : range.endLine),
    from + 11,
    lines.length,
  );
  const firstLine = Math.max(1, from - around);
  const shown = lines.slice(firstLine - 1, Math.min(lines.length, to + around));
  return {
    file,
    firstLine,
    lines: shown.map((line) => (line.length > LONGEST_LINE ? line.slice(0, LONGEST_LINE) + ' …' : line)),
    from,
    to,
  };
}
