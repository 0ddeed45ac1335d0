/**
 * Repairs are tried before they are offered as sure: the changes are made in memory, the files read again, everything
 * linked and checked anew. One counts only if its finding goes and no new error or warning comes.
 */
import { itemAt } from '../helpers/at.js';
import { GlueError } from '../model/errors.js';
import { plain, type Finding } from '../model/finding.js';
import type { Range } from '../model/piece.js';
import type { FileFacts } from '../reading/facts.js';
import type { Plan } from '../reading/plan/plan.js';
import { linesOf } from '../reading/lines.js';
import { readFile } from '../reading/read-file.js';
import { readsText, ruleFor } from '../reading/read-structured.js';
import { byFile, type Change } from './change.js';
import { repairedText, writingOf } from './repaired.js';
import { editsFor } from './write.js';

/** A project as it was scanned. */
export interface TriedProject {
  plan: Plan;
  facts: readonly FileFacts[];
  findings: readonly Finding[];
  /** Links and checks what was read of the same files. */
  findingsOf: (facts: FileFacts[]) => readonly Finding[];
  /** The text of a file as it was scanned. */
  textOf: (file: string) => string;
}

/** A repair of a finding. */
export interface Tried {
  finding: Finding;
  changes: Change[];
  /** How many places of the finding it mends; all when left out. */
  mends?: number;
}

/** A repair of a finding that is asked for. */
export interface ChosenRepair extends Tried {
  /** Its place in the list of the finding. */
  at: number;
  /** How it is called when it is left out. */
  name: string;
  oneOf?: string;
}

/**
 * The repair of a finding that is chosen by its number, counting those that can be written from 1. The first sure one
 * brings those along that are sure at the finding's other places.
 */
export function repairsChosen(finding: Finding, number: number, takesUnsure: boolean): ChosenRepair[] {
  const sentence = plain(finding.sentence);
  const written = finding.repairs.flatMap(({ title, changes, sure, oneOf, mends }, at) =>
    changes && (sure || takesUnsure)
      ? [{ finding, at, name: `${title}: ${sentence}`, changes, sure, oneOf, mends }]
      : [],
  );
  const isForSome = number === 1 && written[0]?.sure && written[0].mends !== undefined;
  return isForSome ? written.filter(({ sure, mends }) => sure && mends) : written.slice(number - 1, number);
}

/** Why a repair does not count; undefined when it holds. */
export type Verdict = string | undefined;

/** Scans that are made at most; what could not be tried by then does not count. */
const MOST_SCANS = 60;

/** Tries repairs, together as long as nothing new comes, else in halves. One verdict for each. */
export function tryRepairs(project: TriedProject, tried: readonly Tried[]): Verdict[] {
  const verdicts = new Map<Tried, Verdict>();
  let scans = 0;
  const attempt = (some: readonly Tried[]): void => {
    if (some.length === 0) return;
    if (scans++ >= MOST_SCANS) {
      for (const one of some) verdicts.set(one, 'it could not be tried in time.');
      return;
    }
    const after = findingsAfter(project, some);
    if (typeof after !== 'string') {
      const left = new Map(after.map(({ fingerprint, places }) => [fingerprint, places]));
      const staying = some.filter(({ finding }) => (left.get(finding.fingerprint) ?? 0) > placesLeft(finding, some));
      // What is meant to go makes no room for others.
      const own = new Set(some.map(({ finding }) => finding.fingerprint));
      // What is told as a note may be so: a name that is right again may be typed often.
      const others = (all: readonly Finding[]): Finding[] =>
        all.filter(({ fingerprint, severity }) => !own.has(fingerprint) && severity !== 'note');
      const [first, ...more] = onlyIn(others(after), others(project.findings));
      if (!first || some.length === 1) {
        for (const one of some) verdicts.set(one, first ? brings(first, more.length) : undefined);
        for (const one of staying) verdicts.set(one, 'the finding would stay.');
        return;
      }
    } else if (some.length === 1) {
      verdicts.set(itemAt(some, 0), after);
      return;
    }
    const half = Math.ceil(some.length / 2);
    attempt(some.slice(0, half));
    attempt(some.slice(half));
  };
  attempt(tried);
  return tried.map((one) => verdicts.get(one));
}

/** How many places of a finding stay when all of some repairs hold. */
function placesLeft(finding: Finding, some: readonly Tried[]): number {
  const own = some.filter((one) => one.finding === finding);
  return Math.max(0, finding.places - own.reduce((sum, { mends = finding.places }) => sum + mends, 0));
}

function brings({ sentence }: Finding, more: number): string {
  return `it would bring ${more > 0 ? `${more + 1} findings, such as` : 'another finding'}: ${plain(sentence)}.`;
}

/** What a repair comes to in its files, edit by edit, with the places that they take up before. */
export function editsOfRepair(
  plan: Plan,
  textOf: (file: string) => string,
  changes: readonly Change[],
): { file: string; edits: { range: Range; text: string }[] }[] {
  return [...byFile(changes)].map(([file, own]) => {
    const text = textOf(file);
    const lines = linesOf(text);
    const edits = editsFor(file, text, writingOf(plan, file), own);
    return { file, edits: edits.map(({ start, end, text: now }) => ({ range: lines.range(start, end), text: now })) };
  });
}

/** What a scan finds after some repairs, or why they cannot be written. */
function findingsAfter(project: TriedProject, tried: readonly Tried[]): readonly Finding[] | string {
  const changes = byFile(tried.flatMap((one) => one.changes));
  try {
    const facts = project.facts.map((fact) => {
      const own = changes.get(fact.file);
      return own ? readAfter(project, fact, own) : fact;
    });
    return project.findingsOf(facts);
  } catch (error) {
    if (error instanceof GlueError) return error.detail;
    throw error;
  }
}

function readAfter({ plan, textOf }: TriedProject, fact: FileFacts, changes: Change[]): FileFacts {
  const { file } = fact;
  const rule = ruleFor(plan, file);
  if (!rule || !readsText(rule, file)) return fact;
  return readFile(file, repairedText(file, textOf(file), writingOf(plan, file), changes), rule, plan);
}

/** What is in one list of findings alone. One that has another name there, as a renamed type gives it, is not. */
export function onlyIn(list: readonly Finding[], other: readonly Finding[]): Finding[] {
  const kind = ({ check, evidence }: Finding): string => `${check} ${itemAt(evidence, 0).file}`;
  const prints = new Set(other.map(({ fingerprint }) => fingerprint));
  const own = new Set(list.map(({ fingerprint }) => fingerprint));
  const renamed = other.filter(({ fingerprint }) => !own.has(fingerprint)).map(kind);
  return list.filter((finding) => {
    if (prints.has(finding.fingerprint)) return false;
    const at = renamed.indexOf(kind(finding));
    if (at >= 0) renamed.splice(at, 1);
    return at < 0;
  });
}
