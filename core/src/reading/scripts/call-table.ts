import type { CallRule, Plan } from '../plan/plan.js';
import type { Argument, Expression } from './syntax.js';

/** The call table, by the last name of each pattern's chain. */
export interface CallTable {
  calls: Map<string, Entry[]>;
  properties: Map<string, Entry[]>;
}

interface Entry {
  rule: CallRule;
  /** Position in the plan's `calls`. */
  index: number;
}

const tables = new WeakMap<Plan, CallTable>();

export function callTableOf(plan: Plan): CallTable {
  let table = tables.get(plan);
  if (table) return table;
  table = { calls: new Map(), properties: new Map() };
  plan.calls.forEach((rule, index) => {
    const side = rule.pattern.arguments ? table.calls : table.properties;
    const entries = side.get(rule.pattern.member) ?? [];
    entries.push({ rule, index });
    side.set(rule.pattern.member, entries);
  });
  tables.set(plan, table);
  return table;
}

/** Receiver and member of a callee or property: `a.b.c` has the receiver `a.b` and the member `c`. */
interface Reach {
  member: string;
  receiver: Expression | undefined;
}

function reachOf(expression: Expression): Reach | undefined {
  if (expression.is === 'name') return { member: expression.name, receiver: undefined };
  if (expression.is === 'member') return { member: expression.name, receiver: expression.of };
  return undefined;
}

/** Names of a chain of members, `this` for the own object; undefined when something else stands in it. */
export function chainOf(expression: Expression | undefined): string[] | undefined {
  if (!expression) return [];
  if (expression.is === 'name') return [expression.name];
  if (expression.is === 'self') return ['this'];
  if (expression.is !== 'member') return undefined;
  const before = chainOf(expression.of);
  return before && [...before, expression.name];
}

/**
 * Finds the first entry of the table that a call (or, without `given`, a property read) matches.
 */
export function matchCall(
  table: CallTable,
  callee: Expression,
  given: Argument[] | undefined,
  typeArguments: string[] = [],
): Entry | undefined {
  const reach = reachOf(callee);
  if (!reach) return undefined;
  const entries = (given ? table.calls : table.properties).get(reach.member);
  return entries?.find(({ rule }) => {
    const { arguments: wanted, typeArguments: types, more } = rule.pattern;
    if (types.length > 0 && types.length !== typeArguments.length) return false;
    if (given && wanted && (given.length < wanted.length || (given.length > wanted.length && !more))) return false;
    return fitsHead(rule, reach);
  });
}

/** Finds the entry for a function that is not called here but given to somebody who will: `later(bells.ring)`. */
export function matchHandedOn(table: CallTable, expression: Expression): Entry | undefined {
  const reach = reachOf(expression);
  const entry = reach && table.calls.get(reach.member)?.find(({ rule }) => fitsHead(rule, reach));
  return entry && (entry.rule.means === 'send' || entry.rule.means === 'listen') ? entry : undefined;
}

function fitsHead(rule: CallRule, reach: Reach): boolean {
  const { head } = rule.pattern;
  if (head.is === 'any receiver') return reach.receiver !== undefined && reach.receiver.is !== 'parent';
  const chain = chainOf(reach.receiver);
  if (!chain) return false;
  if (head.is === 'role') return chain.length > 0;
  const code = chain[0] === 'this' && head.names[0] !== 'this' && head.names.length > 0 ? chain.slice(1) : chain;
  return code.length === head.names.length && code.every((name, at) => name === head.names[at]);
}
