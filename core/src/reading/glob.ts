/**
 * Globs: `*` stands for any letters within a folder, `**` for any folders, `?` for one letter, `[a-z]` and `[!a-z]` for
 * one of some, `{a,b}` for either; a sign behind `\` for itself. Matching goes back to the last star alone, so that no
 * path can make it run for long (after Krauss, “Matching Wildcards: An Algorithm”, 2008).
 */
import { itemAt } from '../helpers/at.js';

/** One letter of a glob: itself, any, one of some, or any number of any. */
type Sign = string | { is: 'any' } | { is: 'star' } | { is: 'one of'; ranges: [string, string][]; isNot: boolean };
/** Any number of folders, or one name. */
type Step = 'any folders' | 'any name' | Sign[];

/** Alternatives beyond so many are refused. */
const MOST_ALTERNATIVES = 1000;

/**
 * Reads a glob.
 * @throws Error when it has too many alternatives
 */
export function compileGlob(glob: string): (path: string) => boolean {
  const forms = alternatives(glob).map((one) => stepsOf(one.replace(/^\.\//, '').split('/')));
  return (path) => {
    const names = path.split('/');
    return forms.some((steps) => matchesSteps(names, steps));
  };
}

/** `a{b,c}` → `ab`, `ac`; what is in brackets or behind `\` stays. */
function alternatives(glob: string): string[] {
  const open = [glob];
  const done: string[] = [];
  for (let text = open.shift(); text !== undefined; text = open.shift()) {
    const braces = bracesIn(text);
    if (!braces) done.push(text);
    else for (const choice of braces.choices) open.push(text.slice(0, braces.start) + choice + text.slice(braces.end));
    if (open.length + done.length > MOST_ALTERNATIVES) throw new Error(`more than ${MOST_ALTERNATIVES} alternatives`);
  }
  return done;
}

/** The first braces that hold a choice. */
function bracesIn(text: string): { start: number; end: number; choices: string[] } | undefined {
  const starts: { start: number; commas: number[] }[] = [];
  for (let at = 0; at < text.length; at++) {
    const letter = text[at];
    if (letter === '\\') at++;
    else if (letter === '[') at = Math.max(at, endOfClass(text, at));
    else if (letter === '{') starts.push({ start: at, commas: [] });
    else if (letter === ',') starts.at(-1)?.commas.push(at);
    else if (letter === '}') {
      const braces = starts.pop();
      if (!braces || braces.commas.length === 0) continue;
      const cuts = [braces.start, ...braces.commas, at];
      const choices = cuts.slice(1).map((cut, index) => text.slice(itemAt(cuts, index) + 1, cut));
      return { start: braces.start, end: at + 1, choices };
    }
  }
  return undefined;
}

/** Where a class that begins here ends, or -1 when it is no class. */
function endOfClass(text: string, start: number): number {
  const first = /^\[[!^]?\]?/.exec(text.slice(start))?.[0].length ?? 1;
  const end = text.indexOf(']', start + first);
  return end < 0 || text.slice(start, end).includes('/') ? -1 : end;
}

/** What ends in `**` means what stands in a folder, not the folder itself. */
function stepsOf(names: string[]): Step[] {
  const steps = names.map((name): Step => (name === '**' ? 'any folders' : signsOf(name)));
  return steps.at(-1) === 'any folders' ? [...steps, 'any name'] : steps;
}

function signsOf(text: string): Sign[] {
  const signs: Sign[] = [];
  for (let at = 0; at < text.length; at++) {
    const letter = itemAt(text, at);
    const end = letter === '[' ? endOfClass(text, at) : -1;
    if (letter === '\\' && at + 1 < text.length) signs.push(itemAt(text, ++at));
    else if (letter === '?') signs.push({ is: 'any' });
    else if (letter === '*') {
      const last = signs.at(-1);
      if (typeof last !== 'object' || last.is !== 'star') signs.push({ is: 'star' });
    } else if (end > 0) {
      signs.push(classOf(text.slice(at + 1, end)));
      at = end;
    } else signs.push(letter);
  }
  return signs;
}

function classOf(text: string): Sign {
  const isNot = /^[!^]/.test(text);
  const ranges: [string, string][] = [];
  const letters = isNot ? text.slice(1) : text;
  for (let at = 0; at < letters.length; at++) {
    const from = itemAt(letters, at);
    const to = letters[at + 1] === '-' ? letters[at + 2] : undefined;
    ranges.push([from, to ?? from]);
    if (to !== undefined) at += 2;
  }
  return { is: 'one of', ranges, isNot };
}

function matchesSteps(names: string[], steps: Step[]): boolean {
  return goesOn(
    names.length,
    steps.length,
    (step) => steps[step] === 'any folders',
    (name, step) => {
      const wanted = itemAt(steps, step);
      return wanted === 'any name' || (wanted !== 'any folders' && matchesName(itemAt(names, name), wanted));
    },
  );
}

function matchesName(name: string, signs: Sign[]): boolean {
  // A star alone stands for a name, and not for none.
  if (name === '' && signs.length > 0) return false;
  return goesOn(
    name.length,
    signs.length,
    (sign) => {
      const wanted = itemAt(signs, sign);
      return typeof wanted === 'object' && wanted.is === 'star';
    },
    (letter, sign) => fits(itemAt(name, letter), itemAt(signs, sign)),
  );
}

function fits(letter: string, sign: Sign): boolean {
  if (typeof sign === 'string') return sign === letter;
  if (sign.is !== 'one of') return sign.is === 'any';
  return sign.ranges.some(([from, to]) => from <= letter && letter <= to) !== sign.isNot;
}

/** Whether all of one row fits all of another, in which a star stands for any number: back to the last star, no further. */
function goesOn(
  length: number,
  wanted: number,
  isStar: (at: number) => boolean,
  fitsAt: (at: number, want: number) => boolean,
): boolean {
  let [at, want] = [0, 0];
  let star = -1;
  let from = 0;
  while (at < length) {
    if (want < wanted && isStar(want)) {
      star = want++;
      from = at;
    } else if (want < wanted && fitsAt(at, want)) {
      at++;
      want++;
    } else if (star >= 0) {
      want = star + 1;
      at = ++from;
    } else return false;
  }
  while (want < wanted && isStar(want)) want++;
  return want === wanted;
}
