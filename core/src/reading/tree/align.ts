/**
 * Where the letters of a text stand that is written with escapes, entities, doubled quotes or over several lines: walks
 * what is written and what it says side by side.
 */

/** What one written stretch says: its length as written, and as said. */
interface Step {
  written: number;
  said: string;
}

/** White space between two lines that is looked through. */
const LONGEST_BREAK = 4000;
const MARK_UP = /<!--[\s\S]*?-->|<!\[CDATA\[|<\?[\s\S]*?\?>/y;
const NAMED: Record<string, string> = { lt: '<', gt: '>', amp: '&', quot: '"', apos: "'" };
const ESCAPES: Record<string, string> = {
  n: '\n',
  t: '\t',
  r: '\r',
  b: '\b',
  f: '\f',
  v: '\v',
  a: '\x07',
  e: '\x1b',
  '0': '\0',
};

/**
 * Offsets of what is said in what is written: one for each UTF-16 unit of `said`, and the end. Undefined when the two
 * do not go together.
 * @param written the text as it stands in the file, with any marks around it
 */
export function alignedOffsets(written: string, said: string): Int32Array | undefined {
  const offsets = new Int32Array(said.length + 1);
  for (const start of startsOf(written)) {
    const end = walk(written, said, start, offsets);
    if (end < 0) continue;
    offsets[said.length] = end;
    return offsets;
  }
  return undefined;
}

/** Where the text proper may begin: behind a quote, behind the mark of a block and its line, or at once. */
function startsOf(written: string): number[] {
  const block = /^[|>][^\n]*\n[^\S\n]*/.exec(written);
  if (block) return [block[0].length];
  const quotes = /^(?:"""\n?|'''\n?|["'])/.exec(written);
  return quotes ? [quotes[0].length, 0] : [0];
}

function walk(written: string, said: string, start: number, offsets: Int32Array): number {
  let at = start;
  let done = 0;
  while (done < said.length) {
    const step = stepAt(written, at, said, done);
    if (!step) return -1;
    for (let unit = 0; unit < step.said.length; unit++) offsets[done + unit] = at;
    done += step.said.length;
    at += step.written;
  }
  return at;
}

/** What the next written letters say, when that is what comes next. */
function stepAt(written: string, at: number, said: string, done: number): Step | undefined {
  const sign = written[at];
  if (sign === undefined) return undefined;
  const next = said[done];
  const says = (length: number, what: string): Step | undefined =>
    said.startsWith(what, done) ? { written: length, said: what } : undefined;
  const rest = written.slice(at, at + 12);
  if (sign === '\\') {
    const code = /^\\(?:u\{([\da-fA-F]+)\}|u([\da-fA-F]{4})|U([\da-fA-F]{8})|x([\da-fA-F]{2}))/.exec(rest);
    const number = code && parseInt(code[1] ?? code[2] ?? code[3] ?? code[4] ?? '', 16);
    const step =
      code && number !== null && number <= 0x10ffff
        ? says(code[0].length, code[2] ? String.fromCharCode(number) : String.fromCodePoint(number))
        : says(2, ESCAPES[written[at + 1] ?? ''] ?? written[at + 1] ?? '');
    // A line that goes on behind a backslash says nothing here.
    const goesOn = /^\\\r?\n\s*/.exec(written.slice(at, at + LONGEST_BREAK));
    return step ?? (goesOn ? { written: goesOn[0].length, said: '' } : says(1, '\\'));
  }
  if (sign === '&') {
    const entity = /^&(?:#x([\da-fA-F]+)|#(\d+)|(\w+));/.exec(rest);
    const number = entity && (entity[1] ? parseInt(entity[1], 16) : entity[2] ? Number(entity[2]) : -1);
    const text =
      entity && number !== null && number >= 0 && number <= 0x10ffff
        ? String.fromCodePoint(number)
        : NAMED[entity?.[3] ?? ''];
    const step = entity && text !== undefined ? says(entity[0].length, text) : undefined;
    if (step) return step;
  }
  if ((sign === '"' || sign === "'") && written[at + 1] === sign && next === sign && said[done + 1] !== sign)
    return { written: 2, said: sign };
  // Comments and other mark-up between two runs of a text say nothing of it.
  MARK_UP.lastIndex = at;
  const markUp = sign === '<' && next !== '<' ? MARK_UP.exec(written) : null;
  if (markUp) return { written: markUp[0].length, said: '' };
  if (sign === ']' && next !== ']' && written.startsWith(']]>', at)) return { written: 3, said: '' };
  if (sign === next && sign !== '\n') return { written: 1, said: sign };
  // Lines: what is said of an end of line and what stands in front of the next.
  const line = /^[^\S\n]*\r?\n(?:[^\S\n]*\n)*[^\S\n]*/.exec(written.slice(at, at + LONGEST_BREAK));
  if (!line) return undefined;
  const breaks = line[0].split('\n').length - 1;
  for (const what of ['\n'.repeat(breaks), ' ', '\n'.repeat(Math.max(1, breaks - 1))]) {
    if (!said.startsWith(what, done)) continue;
    // White space in front of a line may be said as well.
    const lead = /[^\S\n]*$/.exec(line[0])?.[0] ?? '';
    const saidLead = /^[^\S\n]*/.exec(said.slice(done + what.length, done + what.length + 200))?.[0] ?? '';
    return { written: line[0].length - Math.min(lead.length, saidLead.length), said: what };
  }
  return undefined;
}
