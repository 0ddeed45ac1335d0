/**
 * Step 7: what cannot be known from texts is asked. A rule that is not sure, or beside which another one explains as much,
 * is a question; its answers are that rule, others that may be meant, and none. The question comes first whose answer
 * settles most places.
 */
import type { CallField } from './calls.js';
import type { Reading } from './references.js';
import { rowFor, type Sight } from './means.js';
import { saysTarget, targetOf, type Evidence, type Naming } from './rules.js';

/** What may be meant instead. */
export interface Alternative {
  /** What it would name, in words. */
  says: string;
  of: number;
  leads: number;
  /** The rule as it would be written. */
  rule: Record<string, unknown>;
  /** Under which key, where it is another one: the rule that was asked about goes then. */
  key?: string;
}

/** Rules from here on are asked about only where another one explains as much. */
const SURE = 0.95;
/** Of an explanation's score another one must have so much to be worth a thought, and so much to be asked about. */
const WORTH = 0.6;
const AS_GOOD = 0.85;
const MOST_OTHERS = 2;
/** What the choice between two that are as good is worth, as a share of its places. */
const CHOICE = 0.3;

/**
 * What else a place may name, and how much its answer settles.
 * @param rule as the plan has it now
 */
export function questionOf(
  { reading, sure, of, key, others: known = [] }: Evidence,
  rule: Readonly<Record<string, unknown>>,
  candidates: readonly Reading[],
  sight: Sight,
): Pick<Evidence, 'asks' | 'others'> {
  const open = sure < SURE ? of * (1 - sure) : 0;
  if (!reading) return { asks: Math.round(open), others: [] };
  const now = JSON.stringify(targetOf(reading, sight.naming));
  const seen = new Set([now]);
  const worth = candidates.filter((one) => {
    // What else stands in a text beside this part of it is no answer.
    if (one.score < reading.score * WORTH || one.cut.pattern !== reading.cut.pattern) return false;
    if (!isKnown(one, sight.naming)) return false;
    const target = JSON.stringify(targetOf(one, sight.naming));
    if (seen.has(target)) return false;
    seen.add(target);
    return true;
  });
  const isOpen = worth.some((one) => one.score >= reading.score * AS_GOOD);
  const asks = Math.max(open, isOpen ? of * CHOICE : 0);
  const others = worth.slice(0, MOST_OTHERS).map((one): Alternative => ({
    says: saysTarget(one),
    of: one.uses,
    leads: one.useHits,
    rule: key.startsWith('calls: ') ? callRule(one, rule, sight) : referenceRule(one, rule, sight.naming),
  }));
  return {
    // Whether it is descent, each of the places depends on.
    asks: Math.round(known.length > 0 ? of : asks),
    others: [...known, ...others].slice(0, MOST_OTHERS),
  };
}

/** Whether a plan can say it: what it names is among its pieces. */
function isKnown({ to }: Reading, naming: Naming): boolean {
  if ('path' in to) return true;
  return to.domains.every(
    (one) =>
      one.naming === 'type' ||
      one.naming === 'function' ||
      (one.declaredBy ? naming.declared.has(one) : one.piece !== undefined && naming.of(one.piece) !== undefined),
  );
}

function referenceRule(
  reading: Reading,
  { at, written }: Readonly<Record<string, unknown>>,
  naming: Naming,
): Record<string, unknown> {
  const { cut } = reading;
  return {
    at,
    ...(written !== undefined && { written }),
    ...targetOf(reading, naming),
    ...(cut.pattern !== undefined && { pattern: cut.pattern }),
    ...(cut.every && { every: true }),
  };
}

function callRule(
  reading: Reading,
  { also }: Readonly<Record<string, unknown>>,
  sight: Sight,
): Record<string, unknown> {
  const { form, at } = (reading.field as CallField).place;
  const { call, means, more } = rowFor(reading, form, at, sight);
  return { call, means, ...(also !== undefined && { also }), ...more };
}
