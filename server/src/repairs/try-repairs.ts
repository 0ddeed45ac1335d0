/** Tries repairs of a project that was just scanned, in memory. */
import {
  editsOfRepair,
  tryRepairs,
  type FileFacts,
  type Finding,
  type Fix,
  type Tried,
  type Verdict,
} from '@glue-trace/core';
import { textAt } from '../files/read-text.js';
import { prepareLanguages } from '../scan/read-one.js';
import type { ScanResult } from '../scan/scan-folder.js';

/** A repair that was tried; the reason why it does not count, where it does not. */
export interface TriedRepair<One extends Tried> {
  repair: One;
  reason?: string;
}

/**
 * Of two ways out of one fault the first is tried; the other one is not among the answers.
 * @param result what was analysed is replaced by the same, linked again
 */
export async function triedRepairs<One extends Tried & { oneOf?: string }>(
  folder: string,
  result: ScanResult,
  asked: readonly One[],
): Promise<TriedRepair<One>[]> {
  const {
    plan,
    facts,
    analysis: { findings },
  } = result;
  const ways = new Set<string>();
  const first = asked.filter(({ oneOf }) => {
    if (oneOf === undefined) return true;
    if (ways.has(oneOf)) return false;
    ways.add(oneOf);
    return true;
  });
  if (first.length === 0) return [];
  const touched = new Set(first.flatMap(({ changes }) => changes.map(({ file }) => file)));
  await prepareLanguages(facts.flatMap(({ file, script }) => (script && touched.has(file) ? [script.language] : [])));
  const textOf = (file: string): string => textAt(folder, file);
  const findingsOf = (some: FileFacts[]): readonly Finding[] => result.again(some).findings;
  let verdicts: Verdict[];
  try {
    verdicts = tryRepairs({ plan, facts, findings, textOf, findingsOf }, first);
  } finally {
    result.analysis = result.again(facts);
  }
  return first.map((repair, at) => ({ repair, ...(verdicts[at] !== undefined && { reason: verdicts[at] }) }));
}

/** The sure repairs of all findings that hold when tried, by the fingerprint of their finding. */
export async function fixesOf(folder: string, result: ScanResult): Promise<Map<string, Fix>> {
  const asked = result.analysis.findings.flatMap((finding) => {
    const [repair] = finding.repairs;
    if (!repair?.sure || !repair.changes) return [];
    const { title, changes, oneOf, mends } = repair;
    return [{ finding, title, changes, oneOf, mends }];
  });
  const tried = await triedRepairs(folder, result, asked);
  return new Map(
    tried.flatMap(({ repair: { finding, title, changes }, reason }): [string, Fix][] =>
      reason === undefined
        ? [[finding.fingerprint, { title, files: editsOfRepair(result.plan, (file) => textAt(folder, file), changes) }]]
        : [],
    ),
  );
}
