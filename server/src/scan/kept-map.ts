/** The map of an earlier scan, made anew from what was read then. */
import {
  createLinker,
  factsOfName,
  readsText,
  ruleFor,
  unpackFacts,
  type FileFacts,
  type Graph,
} from '@glue-trace/core';
import { IS_LINK } from '../files/discover.js';
import type { ScanRow, Store } from '../store/store.js';
import { factsKey, planHashOf } from './facts-cache.js';
import { NO_RULE } from './scan-folder.js';

/**
 * The map that a kept scan came to.
 * @returns undefined when what was read then is no longer kept, or was read by another version of Glue Trace
 */
export function mapOfScan(store: Store, { id, plan: planHash }: Pick<ScanRow, 'id' | 'plan'>): Graph | undefined {
  const plan = planHash === null ? undefined : store.planKept(planHash);
  if (!plan || planHash === null || planHashOf(plan) !== planHash) return undefined;
  const facts: FileFacts[] = [];
  const others: string[] = [];
  for (const entry of store.filesOf(id)) {
    const rule = entry.rule.includes('.') ? ruleFor(plan, entry.path) : undefined;
    if (!rule) {
      if (entry.status === 'listed' || entry.reason === NO_RULE || entry.reason === IS_LINK) others.push(entry.path);
      continue;
    }
    if (!readsText(rule, entry.path) || entry.hash === '') {
      facts.push(factsOfName(entry.path, rule));
      continue;
    }
    const packed = store.factsKept(factsKey(entry, planHash));
    if (packed === undefined) return undefined;
    facts.push(unpackFacts(packed));
  }
  return createLinker().link(facts, others, plan).graph;
}
