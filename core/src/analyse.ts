import { runChecks } from './checks/registry.js';
import { missingPaths } from './repairs/candidates.js';
import { createLinker, type Linker } from './linking/relink.js';
import { NO_HISTORY, type History, type Linked } from './linking/linked.js';
import type { Finding } from './model/finding.js';
import { readinessOf, type Readiness } from './readiness/readiness.js';
import type { FileFacts } from './reading/facts.js';
import type { Plan } from './reading/plan/plan.js';

export interface Analysis {
  linked: Linked;
  findings: Finding[];
  readiness: Readiness;
}

/**
 * Facts → links → findings → verdict: everything that is worked out once all files are read.
 * @param linker remembers what was linked; what it gave before no longer holds
 * @param historyOf what is known of files that are looked for and not there, asked only when there are any
 */
export function analyse(
  facts: FileFacts[],
  otherPaths: string[],
  plan: Plan,
  linker: Linker = createLinker(),
  historyOf: (paths: string[]) => History = () => NO_HISTORY,
): Analysis {
  const linked = linker.link(facts, otherPaths, plan);
  const missing = missingPaths(linked);
  if (missing.length > 0) linked.history = historyOf(missing);
  const findings = runChecks(linked);
  return { linked, findings, readiness: readinessOf(linked.graph, findings) };
}
