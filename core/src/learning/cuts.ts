/** What of a text is the reference: the whole, what stands behind a sign, each of several, what marks enclose. */

export interface Cut {
  /** As the plan says it; undefined for the whole text. */
  pattern: string | undefined;
  every: boolean;
  /** The parts of a text that are references; none where the text is none. */
  of: (text: string) => string[];
  /** Texts that it does not fit are no references; of a cut that fits all, each text that leads nowhere is a miss. */
  isPartial: boolean;
  /** How far such a cut is believed, from 0 to 1. */
  weight: number;
}

const WHOLE: Cut = { pattern: undefined, every: false, of: (text) => [text], isPartial: false, weight: 1 };

const MOST_SAMPLES = 400;
/** In letters. */
const LONGEST_PATH = 300;
/** A sign in front of what is named, alone or behind a word. */
const MARK = /^(?:[^\p{L}\p{N}\s"'./\\-]+|[\p{L}\p{N}_-]+[~:#@|=>!$%&*+^]+)(?=[\p{L}\p{N}])/u;
/** Fewer texts that share a sign show nothing. */
const LEAST = 2;
/** And of all texts of the field. */
const LEAST_SHARE = 0.03;

function escaped(text: string): string {
  return text.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&').replace(/\\\//g, '/');
}

function cutBy(pattern: string, every: boolean, isPartial: boolean, weight = 0.97): Cut {
  const one = new RegExp(pattern, every ? 'gu' : 'u');
  return {
    pattern,
    every,
    isPartial,
    weight,
    of: (text) =>
      every
        ? [...text.matchAll(one)].map((match) => match[1] ?? match[0])
        : ((match) => (match ? [match[1] ?? match[0]] : []))(one.exec(text)),
  };
}

/** Signs that stand in no path: what has one puts several together, or is made at run time. */
const NO_PATH = /[\^*?<>|[\]{}]/;
export const isNoPath = (text: string): boolean => NO_PATH.test(text);
/** Texts without such signs, whole. */
export const PLAIN_PATHS: Cut = { ...cutBy('^[^\\^*?<>|\\[\\]{}]+$', false, true), weight: 1 };

/** The ways in which texts of a field may hold what they refer to; the whole text first. */
export function cutsOf(all: readonly string[]): Cut[] {
  const texts = all.slice(0, MOST_SAMPLES);
  const cuts: Cut[] = [WHOLE];
  const enough = (count: number): boolean => count >= LEAST && count >= LEAST_SHARE * texts.length;
  // Beginnings that end in a sign: `#`, `@`, `deck:`, `res://` leads to files and is left to them.
  const starts = counted(texts.flatMap((text) => /^[^\p{L}\p{N}\s"'./\\-]+/u.exec(text)?.[0] ?? []));
  const heads = counted(
    texts.flatMap((text) => /^[\p{L}\p{N}_-]+(?:[~:#@|=>!$%&*+^]+|\.|\/)(?=[^/\s])/u.exec(text)?.[0] ?? []),
  );
  for (const [start, count] of [...starts, ...heads].sort((a, b) => b[1] - a[1]).slice(0, 8))
    if (enough(count)) cuts.push(cutBy(`^${escaped(start)}(.+)$`, false, count < texts.length));
  // Endings that begin with a sign, such as `()`.
  const ends = counted(texts.flatMap((text) => /[^\p{L}\p{N}\s"'/\\_]+$/u.exec(text)?.[0] ?? []));
  for (const [end, count] of [...ends].slice(0, 4))
    if (enough(count) && count > texts.length * 0.5)
      cuts.push(cutBy(`^(.+?)${escaped(end)}$`, false, count < texts.length));
  // What looks like a path is one: its steps and endings are no texts of their own.
  const arePaths =
    texts.filter((text) => /[/\\]|\.[A-Za-z]\w{0,7}$/.test(text) && !/\s/.test(text)).length > texts.length * 0.5;
  // Several in one text.
  for (const sign of [',', ';', '|', ' ', '+', '/', '&']) {
    const count = texts.filter((text) => text.includes(sign)).length;
    // These stand in no name.
    const least = sign === '|' || sign === ';' ? 1 : LEAST;
    if (count < Math.max(least, texts.length * 0.1) || (arePaths && sign === '/')) continue;
    // Each of them may have a sign in front.
    const parts = texts.flatMap((text) => text.split(sign).map((part) => part.trim())).filter((part) => part !== '');
    const marks = counted(parts.flatMap((part) => MARK.exec(part)?.[0] ?? []));
    for (const [mark, number] of [...marks].slice(0, 2))
      if (number >= parts.length * 0.3)
        cuts.push(cutBy(`${escaped(mark)}([^${escaped(sign)}\\s]+)`, true, number < parts.length * 0.9));
    if (sign === ' ') cuts.push(cutBy('[^\\s]+', true, false, 0.85));
    else cuts.push(cutBy(`[^\\s${escaped(sign)}](?:[^${escaped(sign)}]*[^\\s${escaped(sign)}])?`, true, false));
  }
  // By position: what stands in front of a sign, and behind the last.
  for (const sign of ['|', ':', '.', '@', '#', '=', '/', '->', '>', '*', ' ']) {
    const count = texts.filter((text) => text.includes(sign) && !text.startsWith(sign)).length;
    if (count < Math.max(LEAST, texts.length * 0.3) || (arePaths && (sign === '/' || sign === '.'))) continue;
    const written = escaped(sign);
    const first = [...sign][0] ?? '';
    // The last word of a name is seldom another's.
    const weight = sign === ' ' ? 0.65 : 0.95;
    cuts.push(
      cutBy(`^\\s*([^${escaped(first)}]*[^${escaped(first)}\\s])\\s*${written}`, false, count < texts.length, weight),
    );
    cuts.push(cutBy(`${written}\\s*([^${escaped(first)}]+?)\\s*$`, false, count < texts.length, weight));
  }
  // What marks enclose in running text.
  for (const [open, end] of [
    ['{', '}'],
    ['[', ']'],
    ['<', '>'],
    ['%', '%'],
    ['$(', ')'],
    ['«', '»'],
    ['*', '*'],
    ['`', '`'],
    ['"', '"'],
    ["'", "'"],
  ] as const) {
    const inner = new RegExp(
      `${escaped(open)}([^${escaped(end)}${escaped([...open][0] ?? '')}\\s]+)${escaped(end)}`,
      'gu',
    );
    const marks = texts.flatMap((text) => [...text.matchAll(inner)].map((match) => match[1] ?? ''));
    if (marks.length < LEAST) continue;
    const closed = `${escaped(open)}([^\\s${escaped(end)}]+)${escaped(end)}`;
    cuts.push(cutBy(closed, true, true));
    const before = counted(marks.flatMap((mark) => /^[\p{L}_-]*[:=./|]/u.exec(mark)?.[0] ?? []));
    for (const [start, count] of [...before].slice(0, 3))
      if (count >= LEAST)
        cuts.push(cutBy(`${escaped(open)}${escaped(start)}([^\\s${escaped(end)}]+)${escaped(end)}`, true, true));
  }
  // Paths among other texts.
  const isPath = /^[^\s]*[^\s/.][^\s]*(?:\/|\.[A-Za-z])[^\s]+$/u;
  const paths = texts.filter((text) => text.length <= LONGEST_PATH && isPath.test(text)).length;
  if (paths >= LEAST && paths < texts.length * 0.95)
    cuts.push(cutBy('^(?:[^\\s]*/[^\\s]+|[^\\s/]+\\.[A-Za-z]\\w*)$', false, true));
  return cuts;
}

function counted(texts: readonly string[]): Map<string, number> {
  const counts = new Map<string, number>();
  for (const text of texts) counts.set(text, (counts.get(text) ?? 0) + 1);
  return new Map([...counts].sort((a, b) => b[1] - a[1]));
}
