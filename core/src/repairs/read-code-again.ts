/** Whether code still says what it said after a repair, but for the one text or name that was meant to change. */
import { must } from '../helpers/at.js';
import type { Language } from '../reading/plan/plan.js';
import { parseScript, type RawNode } from '../reading/scripts/grammar.js';
import { LANGUAGE } from '../reading/scripts/languages.js';
import type { Change, TextEdit } from './change.js';

/** Needs {@link prepareGrammars} to have resolved for the language. */
export function codeSaysWhatIsMeant(
  before: string,
  after: string,
  language: Language,
  changes: Change[],
  edits: TextEdit[],
): boolean {
  const [old, now] = [parseScript(before, language), parseScript(after, language)];
  return (
    now.problems.length <= old.problems.length &&
    isSameShape(old.root, now.root, before, after, edits) &&
    saysTheSameTexts(before, after, language, changes)
  );
}

/** Every node outside of the edits is there as before, and each edit stays inside the name or text that it changes. */
function isSameShape(old: RawNode, now: RawNode, before: string, after: string, edits: TextEdit[]): boolean {
  const moved = movedBy(edits);
  const open: [RawNode, RawNode][] = [[old, now]];
  for (let pair = open.pop(); pair; pair = open.pop()) {
    const [was, is] = pair;
    if (was.type !== is.type || moved(was.start) !== is.start || moved(was.end) !== is.end) return false;
    const isTouched = edits.some(({ start, end }) => start <= was.end && was.start <= end);
    if (!isTouched && before.slice(was.start, was.end) !== after.slice(is.start, is.end)) return false;
    if (!isTouched || isText(was)) continue;
    if (was.children.length !== is.children.length) return false;
    was.children.forEach((child, at) => open.push([child, must(is.children[at])]));
  }
  return true;
}

/** A text without code inside it: how its parts are escaped may change. */
function isText({ type, children }: RawNode): boolean {
  return /string/.test(type) && children.every((child) => /^(?:string|escape)/.test(child.type) && isText(child));
}

/** Where an offset of the text before the edits is found after them. Within an edit, its end. */
function movedBy(edits: TextEdit[]): (offset: number) => number {
  return (offset) =>
    edits.reduce(
      (sum, { start, end, text }) => (end <= offset && start < offset ? sum + text.length - (end - start) : sum),
      offset,
    );
}

/** All texts that the code says, as they are when it runs, but for one in which each change was made. */
function saysTheSameTexts(before: string, after: string, language: Language, changes: Change[]): boolean {
  const [old, now] = [textsIn(LANGUAGE[language].read(before)), textsIn(LANGUAGE[language].read(after))];
  if (old.length !== now.length) return false;
  return old.every((text, at) => text === now[at] || isMeant(text, must(now[at]), changes));
}

function isMeant(was: string, is: string, changes: Change[]): boolean {
  let open = new Set([was]);
  for (const change of changes) {
    if (change.is !== 'replace') continue;
    const next = [...open].flatMap((text) =>
      text
        .split(change.from)
        .slice(1)
        .map((_, at) => replaceAt(text, change, at)),
    );
    open = new Set([...open, ...next]);
  }
  return open.has(is);
}

/** The text with the appearance number `at` of what is replaced written anew. */
function replaceAt(text: string, { from, to }: { from: string; to: string }, at: number): string {
  const parts = text.split(from);
  return parts.slice(0, at + 1).join(from) + to + parts.slice(at + 1).join(from);
}

/** Every text of a script, in the order of the syntax. */
function textsIn(syntax: object): string[] {
  const texts: string[] = [];
  const open: unknown[] = [syntax];
  while (open.length > 0) {
    const one = open.pop();
    if (typeof one !== 'object' || one === null) continue;
    if ('is' in one && one.is === 'text' && 'value' in one) texts.push(String(one.value));
    open.push(...Object.values<unknown>({ ...one }));
  }
  return texts;
}
