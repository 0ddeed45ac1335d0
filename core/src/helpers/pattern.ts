/**
 * Patterns that a plan or a project gives: regular expressions that no text can make run for long. They mean what they
 * mean in JavaScript with the flag `u`.
 *
 * The engine is re2js, which takes time in proportion to the text (after Russ Cox, “Regular Expression Matching Can Be
 * Simple And Fast”, 2007). The one of JavaScript, some four times as quick, is taken where pattern and text are such that
 * it cannot take long. It alone can look ahead or behind, and refer back: a pattern that does, and repeats what repeats,
 * is refused; one that does and repeats little matches nothing in a text that could make it run for long.
 */
import { RE2JS } from 're2js';
import { once } from './once.js';

/** A stretch of a text that a pattern, or a group of it, matches. Offsets are 0-based UTF-16. */
export interface Stretch {
  at: number;
  text: string;
}

export interface Match extends Stretch {
  /** What the groups match, the first one first; undefined for one that takes no part. */
  groups: (Stretch | undefined)[];
}

export interface Pattern {
  readonly source: string;
  test(text: string): boolean;
  first(text: string): Match | undefined;
  /** Matches that do not overlap, from left to right. */
  all(text: string): Match[];
}

/** Steps that JavaScript's engine may need at most where it is taken. */
const MOST_STEPS = 1e7;
/** And where there is no other. */
const MOST_STEPS_ALONE = 1e8;

/**
 * Reads a pattern.
 * @throws Error that says what is wrong with it
 */
export function compilePattern(source: string): Pattern {
  const native = new RegExp(source, 'du');
  const linear = linearOf(source);
  const power = repetitionsIn(source) + (source.startsWith('^') ? 0 : 1);
  if (!linear && power === Infinity) throw tooOften();
  const most = linear ? MOST_STEPS : MOST_STEPS_ALONE;
  const isQuick = (text: string): boolean => (text.length + 1) ** power <= most;
  return {
    source,
    test: (text) => (isQuick(text) ? native.test(text) : (linear?.matcher(text).find() ?? false)),
    first(text) {
      if (isQuick(text)) return nativeMatch(native.exec(text));
      const matcher = linear?.matcher(text);
      return matcher?.find() === true ? linearMatch(matcher) : undefined;
    },
    all(text) {
      if (isQuick(text)) return [...text.matchAll(everywhere(native))].flatMap((match) => nativeMatch(match) ?? []);
      const found: Match[] = [];
      const matcher = linear?.matcher(text);
      while (matcher?.find() === true) found.push(linearMatch(matcher));
      return found;
    },
  };
}

/** The pattern for the engine that cannot run forever; undefined when it asks for what that cannot do. */
function linearOf(source: string): RE2JS | undefined {
  if (partsOf(source).includes('\\k')) return undefined;
  try {
    return RE2JS.compile(RE2JS.translateRegExp(alike(source)));
  } catch {
    return undefined;
  }
}

function tooOften(): Error {
  return new Error(
    'this could run forever: it looks ahead or behind, refers back or counts far, and repeats what itself repeats',
  );
}

/** A text as a pattern that matches it and nothing else. */
export function literally(text: string): string {
  return text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
}

/** What the groups of a pattern are called, in their order; undefined for those without a name. */
export function groupNames(source: string): (string | undefined)[] {
  const groups = source.match(/\\[^]|\[(?:\\[^]|[^\]\\])*\]|\((?:\?(?:<[A-Za-z_$][\w$]*>)?)?/g) ?? [];
  return groups
    .filter((part) => part === '(' || part.startsWith('(?<'))
    .map((part) => (part === '(' ? undefined : part.slice(3, -1)));
}

/** Any letters, line ends too. */
export const ANYTHING = '[\\s\\S]*';

const likes = new Map<string, Pattern>();

/** Whether a name fits one in which `*` stands for any letters. */
export function isLike(wanted: string, name: string): boolean {
  if (wanted === name || !wanted.includes('*')) return wanted === name;
  let like = likes.get(wanted);
  if (!like) likes.set(wanted, (like = compilePattern(`^${wanted.split('*').map(literally).join(ANYTHING)}$`)));
  return like.test(name);
}

const everywhere = once((expression: RegExp) => new RegExp(expression.source, 'dgu'));

function nativeMatch(match: RegExpExecArray | null): Match | undefined {
  if (!match) return undefined;
  const groups = (match.indices ?? []).slice(1).map((place, at): Stretch | undefined => {
    const text = match[at + 1];
    return text === undefined ? undefined : { at: place[0], text };
  });
  return { at: match.index, text: match[0], groups };
}

function linearMatch(matcher: ReturnType<RE2JS['matcher']>): Match {
  const stretch = (group: number): Stretch | undefined => {
    const at = matcher.start(group);
    return at < 0 ? undefined : { at, text: matcher.group(group) ?? '' };
  };
  const groups = Array.from({ length: matcher.groupCount() }, (_, at) => stretch(at + 1));
  return { at: matcher.start(), text: matcher.group() ?? '', groups };
}

const LINE_ENDS = '\\n\\r\\u2028\\u2029';
const BLANKS = '\\t\\n\\v\\f\\r \\u00a0\\u1680\\u2000-\\u200a\\u2028\\u2029\\u202f\\u205f\\u3000\\ufeff';

/** The pattern with those signs written out that stand for less in the other engine. */
function alike(source: string): string {
  let isInClass = false;
  return source.replace(/\\[^]|[[\].]/g, (part) => {
    if (part === '[') isInClass = true;
    else if (part === ']') isInClass = false;
    else if (part === '.') return isInClass ? part : `[^${LINE_ENDS}]`;
    else if (part === '\\s') return isInClass ? BLANKS : `[${BLANKS}]`;
    else if (part === '\\S' && !isInClass) return `[^${BLANKS}]`;
    return part;
  });
}

/**
 * How many times over a text may be gone through again: one time for each part that repeats. Repetitions within
 * repetitions, and choices within them, can take any time.
 */
function repetitionsIn(source: string): number {
  let repeats = 0;
  const open: { repeats: number; isChoice: boolean }[] = [];
  const parts = partsOf(source);
  for (const [at, part] of parts.entries()) {
    const last = open.at(-1);
    if (part === '(') open.push({ repeats, isChoice: false });
    else if (part === '|' && last) last.isChoice = true;
    else if (part === ')') {
      const group = open.pop();
      const isRepeated = /^(?:[*+]|\{)/.test(parts[at + 1] ?? '');
      if (isRepeated && group && (group.isChoice || repeats > group.repeats)) return Infinity;
    } else if (part === '*' || part === '+' || /^\{\d+,?/.test(part)) repeats++;
  }
  return repeats;
}

/** Signs of a pattern: letters, what stands behind a backslash, classes and counts as wholes. */
function partsOf(source: string): string[] {
  return source.match(/\\[^]|\[(?:\\[^]|[^\]\\])*\]|\{\d+(?:,\d*)?\}|[^]/gu) ?? [];
}
