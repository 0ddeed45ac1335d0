import { runChecks } from './checks/registry.js';
import { createLinker, type Linker } from './linking/relink.js';
import type { Linked } from './linking/linked.js';
import type { Finding } from './model/finding.js';
import { NO_HISTORY, type History } from './model/history.js';
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
 * @param history what the time before tells; asked only for what is of use
 */
export function analyse(
  facts: FileFacts[],
  otherPaths: string[],
  plan: Plan,
  linker: Linker = createLinker(),
  history: History = NO_HISTORY,
): Analysis {
  const linked = linker.link(facts, otherPaths, plan);
  linked.history = history;
  const findings = runChecks(linked);
  return { linked, findings, readiness: readinessOf(linked.graph, findings, { learned: plan.learned.rules }) };
}
