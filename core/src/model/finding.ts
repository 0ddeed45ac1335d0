/** Findings: what the checks report. */
import type { Change } from '../repairs/change.js';
import type { Evidence } from './evidence.js';
import type { WalkStep } from './link.js';

/** Worst first. `error`: will fail in play; `warning`: after an ordinary change or an unlucky order; `note`: worth knowing. */
export const SEVERITIES = ['error', 'warning', 'note'] as const;
export type Severity = (typeof SEVERITIES)[number];

/** The severity so many steps less grave. */
export function severityBelow(severity: Severity, steps: number): Severity {
  return SEVERITIES[Math.min(SEVERITIES.length - 1, SEVERITIES.indexOf(severity) + steps)] ?? 'note';
}

/** A run of a sentence: plain words, or the name of a thing, with its piece where there is one. */
export type Run = string | { name: string; piece?: number };
export type Sentence = Run[];

/** A proposed way out: in words, and where one can be known, as a change of files. */
export interface Repair {
  title: string;
  /** What to do, in one or two sentences, and for a candidate why it is the likeliest. */
  words: string;
  /** What it changes in files; none when somebody has to decide more. */
  changes?: Change[];
  /** It can be written without somebody looking: nothing else can be meant. */
  sure?: true;
  /** Repairs with the same text here are two ways out of one fault: only one of them is to be written. */
  oneOf?: string;
  /** How many of the finding's places it mends; all when left out. */
  mends?: number;
}

/** Why a finding is accepted, as somebody wrote it. */
export interface Waived {
  reason: string;
  by?: string;
  /** Days as 2026-03-02: when it was decided, and the last one on which it counts. */
  on?: string;
  until?: string;
  /** The file itself says so, on the line or the one above. */
  isInFile?: true;
}

export interface Finding {
  /** Public id of the check, e.g. `broken/missing-object`. */
  check: string;
  severity: Severity;
  sentence: Sentence;
  /** Why this is certain, in a sentence of its own. */
  sure: string;
  /** Pieces concerned, the one to trace first. Indexes into the map of the same scan. */
  pieces: number[];
  /** The place to look at first comes first; never empty. Of very many places the first ones. */
  evidence: Evidence[];
  /** The way a look-up took, when it took one. */
  walk: WalkStep[];
  /** How many places are concerned: one cause – a missing target, a field, a line of code – is one finding. */
  places: number;
  /** Files that its places stand in, the first place's first. */
  files: string[];
  repairs: Repair[];
  /** It is accepted on purpose: it counts no more, and is shown on request. */
  waived?: Waived;
  /** It was accepted until a day that is gone. */
  waiverEnded?: Waived;
  /** It rests on a rule that was learned and that nobody has looked at. */
  isLearned?: true;
  /** Survives line moves, re-ordering and renames of unrelated pieces. */
  fingerprint: string;
}

/**
 * Writes a sentence: text between placeholders stays plain, every placeholder is a name.
 * `sentence`${a} has no ${b}`` keeps the two names apart from the words around them.
 */
export function sentence(words: TemplateStringsArray, ...names: (Run | number)[]): Sentence {
  const runs: Sentence = [];
  words.forEach((word, at) => {
    if (word) runs.push(word);
    if (at < names.length) {
      const name = names[at];
      runs.push(typeof name === 'object' ? name : { name: String(name) });
    }
  });
  return runs;
}

/** `A, B and C`; of more than are given `A, B, C and 2 more`. */
export function listed(names: readonly { name: string; piece?: number }[], count = names.length): Run[] {
  const runs = names.flatMap(({ name, piece }, at): Run[] => {
    const before = at === 0 ? [] : [at === count - 1 ? ' and ' : ', '];
    return [...before, { name, piece }];
  });
  return count > names.length ? [...runs, ` and ${count - names.length} more`] : runs;
}

/** The sentence as plain text, names in typographic quotes only where `quote` is asked for. */
export function plain(runs: Sentence): string {
  return runs.map((run) => (typeof run === 'string' ? run : run.name)).join('');
}
