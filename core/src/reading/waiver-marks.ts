/** Lines of a file that waive what is found there: `// glue: fine, the winch is placed by hand, until 2026-12-24`. */
import type { WaiverMark } from './facts.js';

/** What may stand before such a mark where the line says nothing else: white space and signs that begin a comment. */
const NOTHING_BEFORE = /^[^\p{L}\p{N}"'`]*(?:REM\b|rem\b)?[^\p{L}\p{N}"'`]*$/u;
const END_OF_COMMENT = /\s*(?:\*\/|-->|\]\]|\*\)|#>|%>)\s*$/;
const CHECK = /^[\s:,;–-]*((?:broken|twin|fragile)\/[a-z-]+)/;
const UNTIL = /[\s,;(]*\buntil (\d{4}-\d{2}-\d{2})\)?/;

/**
 * The marks in a text: of a line that holds nothing else for the next one, else for their own.
 * @param marks what begins one, as the plan says
 */
export function marksIn(text: string, marks: readonly string[]): WaiverMark[] {
  if (!marks.some((mark) => text.includes(mark))) return [];
  return text.split(/\r\n|\n|\r/).flatMap((line, at): WaiverMark[] => {
    const mark = marks.find((one) => line.includes(one));
    if (mark === undefined) return [];
    const start = line.indexOf(mark);
    let rest = line.slice(start + mark.length).replace(END_OF_COMMENT, '');
    const check = CHECK.exec(rest);
    if (check) rest = rest.slice(check[0].length);
    const until = UNTIL.exec(rest);
    if (until) rest = rest.replace(until[0], '');
    const reason = rest.replace(/^[\s:,;–-]+|[\s,;]+$/g, '');
    const isAlone = NOTHING_BEFORE.test(line.slice(0, start));
    return [
      {
        line: at + (isAlone ? 2 : 1),
        reason: reason || 'the line itself says so',
        ...(check && { check: check[1] }),
        ...(until && { until: until[1] }),
      },
    ];
  });
}
