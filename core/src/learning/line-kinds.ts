/**
 * Text of a team's own, line by line: which kinds of lines there are, told by the words that stand first and by the names
 * in front of values. Prose has none, and is left alone.
 */

import type { CodeInside } from './code-inside.js';

/** As a plan writes it under `lines`. */
export interface LineKinds {
  skip?: string;
  kinds: Record<string, { pattern: string; holds?: true }>;
  /** Code between the lines; no part of how they are read. */
  inside?: CodeInside;
}

interface Pair {
  key: string;
  sign: string;
  isQuoted: boolean;
}

/** More lines say nothing new; of more, stretches from everywhere are looked at. */
const MOST_LINES = 12_000;
const STRETCH = 60;
/** A word or name that stands in fewer lines is no kind. */
const FEWEST = 3;
/** So much of a text must be of some kind. */
const COVERED = 0.5;
const MOST_KINDS = 16;
/** Rows of numbers, and of letters with numbers: nothing is named there. */
const NUMBERS = /^\s*(?:[a-z]{0,2}[-+]?[\d.,]+(?:\s+|$))+$/i;
const COMMENT = /^\s*(?:#|\/\/|;|--|\*\*)/;
/** A word in front of names and values: `rope: length=12`. */
const HEAD = /^\s*([A-Za-z_][\w-]*)\s*(?::\s+|\s+)(?=[A-Za-z_][\w-]*\s*=)/;
const PAIR = /(?<key>[A-Za-z_][\w-]*(?: [a-z][\w-]*)*)\s*(?<sign>[=:])\s*(?<mark>_?"[^"]*"|[^\s"]+)/g;

/** The kinds of lines of some texts that belong together; undefined where they are prose, or something else. */
export function lineKinds(texts: readonly string[]): LineKinds | undefined {
  const said = stretches(
    texts.flatMap((text) =>
      text.split(/\r?\n/).filter((line) => line.trim() !== '' && line.length < 1000 && !NUMBERS.test(line)),
    ),
  );
  const own = said.filter((line) => !COMMENT.test(line));
  if (own.length < FEWEST) return undefined;
  const kinds: LineKinds['kinds'] = {};
  let covered = 0;
  const rows = own.map((line) => {
    const head = HEAD.exec(line);
    return { line, head: head?.[1] ?? '', pairs: pairsIn(line.slice(head?.[0].length ?? 0)) };
  });
  const many = rows.filter(({ pairs }) => pairs.length >= 2);
  const byHead = groupedBy(many, ({ head, pairs }) => head || (pairs[0]?.key ?? ''));
  for (const same of byHead.sort((a, b) => b.length - a.length)) {
    if (same.length < FEWEST || Object.keys(kinds).length >= MOST_KINDS) continue;
    const head = same[0]?.head ?? '';
    kinds[named(head || (same[0]?.pairs[0]?.key ?? ''), kinds)] = {
      pattern: rowPattern(
        same.map(({ pairs }) => pairs),
        head,
      ),
    };
    covered += same.length;
  }
  const single = rows.filter(({ line, pairs }) => pairs.length === 1 && isPair(line));
  const rest = rows.filter(({ line, pairs }) => pairs.length < 2 && !isPair(line));
  const commands = groupedBy(rest, ({ line }) => /^\s*([A-Za-z_][\w-]*)(?=\s+\S)/.exec(line)?.[1] ?? '').filter(
    (same) =>
      same.length >= FEWEST &&
      // What stands once in each text, and always the same, is a heading.
      (same.length > texts.length || same.some(({ line }) => line !== same[0]?.line)) &&
      isCommand(same.map(({ line }) => line)),
  );
  const hasPairs = single.length >= own.length * 0.3;
  const begins = hasPairs ? beginningOf(rows) : undefined;
  for (const same of commands.sort((a, b) => b.length - a.length).slice(0, MOST_KINDS)) {
    const word = /^\s*([A-Za-z_][\w-]*)/.exec(same[0]?.line ?? '')?.[1] ?? '';
    kinds[named(word, kinds)] = {
      pattern: commandPattern(
        word,
        same.map(({ line }) => line),
      ),
      ...(hasPairs && !begins && { holds: true as const }),
    };
    covered += same.length;
  }
  if (hasPairs) {
    covered += single.length;
    const head = begins ?? (commands.length === 0 ? firstOf(single) : undefined);
    if (head)
      kinds[named(head.key, kinds)] = {
        pattern: `^\\s*${head.key}\\s*${head.sign}\\s*_?"?(?<${groupOf(head.key)}>[^"]*?)"?\\s*$`,
        holds: true,
      };
    kinds[named('pairs', kinds)] = {
      pattern: '^\\s*(?<key>[A-Za-z_][\\w-]*(?: [\\w-]+)*)\\s*[=:]\\s*_?"?(?<value>[^"]*?)"?\\s*$',
    };
  }
  if (Object.keys(kinds).length === 0 || covered < own.length * COVERED) return undefined;
  const comments = said.filter((line) => /^\s*#/.test(line)).length;
  return { ...(comments > 0 && { skip: '^\\s*#' }), kinds };
}

interface Row {
  line: string;
  pairs: Pair[];
}

/** Of the stretches of names and values so many begin with one name for that to begin a block. */
const MOSTLY = 0.6;

/** The name that stands first behind other lines, nearly each time that it stands anywhere. */
function beginningOf(rows: readonly Row[]): Pair | undefined {
  const isSingle = (row: Row | undefined): boolean => row?.pairs.length === 1 && isPair(row.line);
  const times = new Map<string, { pair: Pair; first: number; count: number }>();
  let stretches = 0;
  rows.forEach((row, at) => {
    const [pair] = row.pairs;
    if (!pair || !isSingle(row)) return;
    const known = times.get(pair.key) ?? { pair, first: 0, count: 0 };
    times.set(pair.key, known);
    known.count++;
    if (isSingle(rows[at - 1])) return;
    known.first++;
    stretches++;
  });
  const [best] = [...times.values()].sort((a, b) => b.first - a.first);
  return best && best.first >= FEWEST && best.first >= stretches * MOSTLY && best.first >= best.count * MOSTLY
    ? best.pair
    : undefined;
}

/** The name of the first line, where it comes again about as often as any: what stands first in each block begins it. */
function firstOf(single: readonly Row[]): Pair | undefined {
  const counts = new Map<string, number>();
  for (const { pairs } of single) counts.set(pairs[0]?.key ?? '', (counts.get(pairs[0]?.key ?? '') ?? 0) + 1);
  const head = single[0]?.pairs[0];
  const count = counts.get(head?.key ?? '') ?? 0;
  return count >= 2 && count >= Math.max(...counts.values()) * 0.3 ? head : undefined;
}

/** All lines, or as many as are looked at: stretches of them, evenly over all. */
function stretches(lines: readonly string[]): readonly string[] {
  if (lines.length <= MOST_LINES) return lines;
  const count = MOST_LINES / STRETCH;
  const apart = Math.floor(lines.length / count);
  return Array.from({ length: count }, (_, at) => lines.slice(at * apart, at * apart + STRETCH)).flat();
}

function pairsIn(line: string): Pair[] {
  return [...line.matchAll(PAIR)].map(({ groups }) => ({
    key: groups?.key ?? '',
    sign: groups?.sign ?? '=',
    isQuoted: /^_?"/.test(groups?.mark ?? ''),
  }));
}

const isPair = (line: string): boolean => /^\s*[A-Za-z_][\w-]*(?: [\w-]+)*\s*[=:]\s*\S.*$/.test(line);

/** A line with several names and values: the first, or the word in front, must stand there, the others may. */
function rowPattern(rows: readonly (readonly Pair[])[], head: string): string {
  const order = new Map<string, { pair: Pair; place: number; count: number; quoted: number }>();
  for (const row of rows)
    row.forEach((pair, place) => {
      const known = order.get(pair.key) ?? { pair, place: 0, count: 0, quoted: 0 };
      known.place += place;
      known.count++;
      if (pair.isQuoted) known.quoted++;
      order.set(pair.key, known);
    });
  const all = [...order.values()]
    .filter(({ count }) => count >= rows.length * 0.02)
    .sort((a, b) => a.place / a.count - b.place / b.count)
    .slice(0, 24);
  return `^\\s*${head ? `${head}\\s*:?` : ''}${all
    .map(({ pair: { key, sign }, count, quoted }, at) => {
      // No looking ahead: such patterns can be matched in any text.
      const value =
        quoted > count / 2 ? `_?"(?<${groupOf(key)}>[^"]*)"` : `_?"?(?<${groupOf(key)}>[^\\s"]*[^\\s":])"?:?`;
      const one = `${key.replace(/ /g, '\\s+')}\\s*${sign}\\s*${value}`;
      return at === 0 && !head ? one : `(?:.*?\\s${one})?`;
    })
    .join('')}`;
}

/** Whether lines that begin with one word are no prose: their parts are few. */
function isCommand(lines: readonly string[]): boolean {
  const counts = lines.map((line) => line.trim().split(/\s+/).length);
  // Rows of numbers name nothing.
  const areNumbers = lines.every((line) =>
    line
      .trim()
      .split(/\s+/)
      .slice(1)
      .every((part) => /^[a-z]?[-\d.]+$/i.test(part)),
  );
  // What has a sign between two sides is a text and what it is in another language.
  const areSides = lines.filter((line) => line.includes('=')).length > lines.length / 2;
  return Math.max(...counts) <= 8 && !areNumbers && !areSides && !lines.some((line) => /[.,!?]\s*$/.test(line));
}

function commandPattern(word: string, lines: readonly string[]): string {
  const parts = lines.map(
    (line) =>
      line
        .trim()
        .match(/"[^"]*"|\S+/g)
        ?.slice(1) ?? [],
  );
  const least = Math.min(...parts.map(({ length }) => length));
  const most = Math.max(...parts.map(({ length }) => length));
  let pattern = `^\\s*${word}`;
  for (let at = 0; at < most; at++) {
    const all = parts.flatMap((one) => one[at] ?? []);
    const [first] = all;
    // What always stands there holds the line together.
    if (at < least && first !== undefined && all.every((part) => part === first) && /^[a-z]+$/i.test(first)) {
      pattern += `\\s+${first}`;
      continue;
    }
    const value = all.every((part) => part.startsWith('"'))
      ? `"(?<${word.replace(/\W/g, '')}${at + 1}>[^"]*)"`
      : `"?(?<${word.replace(/\W/g, '')}${at + 1}>[^\\s"]+)"?`;
    pattern += at < least ? `\\s+${value}` : `(?:\\s+${value})?`;
  }
  return `${pattern}\\s*$`;
}

const groupOf = (key: string): string => key.replace(/\W+/g, '_');

function named(wanted: string, taken: Record<string, unknown>): string {
  const plain = wanted || 'lines';
  let name = plain;
  for (let number = 2; name in taken; number++) name = `${plain} ${number}`;
  return name;
}

function groupedBy<T>(all: readonly T[], key: (one: T) => string): T[][] {
  const groups = new Map<string, T[]>();
  for (const one of all) {
    const name = key(one);
    if (name === '') continue;
    const known = groups.get(name);
    if (known) known.push(one);
    else groups.set(name, [one]);
  }
  return [...groups.values()];
}
