import { isLike } from '../../helpers/pattern.js';
import { itemAt, must } from '../../helpers/at.js';
import { once } from '../../helpers/once.js';
import type { ArgumentPattern, ChainStep, Role } from '../plan/call-pattern.js';
import type { CallRule, Plan } from '../plan/plan.js';
import type { Argument, Expression } from './syntax.js';

/** The call table of a plan; entries for a name are looked out when it first turns up. */
export interface CallTable {
  calls: Side;
  properties: Side;
}

interface Side {
  all: Entry[];
  byMember: Map<string, Entry[]>;
}

interface Entry {
  rule: CallRule;
  /** Position in the plan's `calls`. */
  index: number;
}

/** An entry that a call matches, with what its arguments are taken for. */
export interface Match extends Entry {
  arguments: { role: Role; value: Expression }[];
  /** Names that stand in the chain itself. */
  named: { role: Role; name: string }[];
  /** Arguments that follow those that the pattern names. */
  more: Argument[];
  /** Arguments that the pattern takes for nothing. */
  rest: Expression[];
}

/** What is known of the type of a receiver, as a plain name. */
export type TypeOf = (expression: Expression) => string | undefined;

export const callTableOf = once((plan: Plan): CallTable => {
  const table: CallTable = { calls: { all: [], byMember: new Map() }, properties: { all: [], byMember: new Map() } };
  for (const [index, rule] of plan.calls.entries())
    (rule.pattern.arguments ? table.calls : table.properties).all.push({ rule, index });
  return table;
});

function entriesFor({ all, byMember }: Side, member: string): Entry[] {
  let entries = byMember.get(member);
  if (!entries) {
    entries = all.filter(({ rule }) => isLike(rule.pattern.member, member));
    byMember.set(member, entries);
  }
  return entries;
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
function chainOf(expression: Expression | undefined): string[] | undefined {
  if (!expression) return [];
  if (expression.is === 'name') return [expression.name];
  if (expression.is === 'self') return ['this'];
  if (expression.is !== 'member') return undefined;
  const before = chainOf(expression.of);
  return before && [...before, expression.name];
}

/**
 * Finds the entries of the table that a call (or, without `given`, a property read) matches: the first one, which says
 * what the call gives, and those that add a reference besides.
 */
export function matchCalls(
  table: CallTable,
  callee: Expression,
  given: Argument[] | undefined,
  typeArguments: string[],
  typeOf: TypeOf,
): Match[] {
  const reach = reachOf(callee);
  const matches: Match[] = [];
  if (!reach) return matches;
  let isSaid = false;
  for (const entry of entriesFor(given ? table.calls : table.properties, reach.member)) {
    const { pattern, also } = entry.rule;
    if (isSaid && !also) continue;
    if (pattern.typeArguments.length > 0 && pattern.typeArguments.length !== typeArguments.length) continue;
    const bound = bind(pattern.arguments ?? [], pattern.more, given ?? []);
    const named = bound && headNames(entry.rule, reach, typeOf);
    if (!named) continue;
    if (!fits(entry.rule, bound.arguments, named)) continue;
    const match = { ...entry, ...bound, named };
    if (also) matches.push(match);
    else matches.unshift(match);
    isSaid ||= !also;
  }
  return matches;
}

/** Whether the text that decides is one of those for which the row holds. */
function fits({ when }: CallRule, given: Match['arguments'], named: Match['named']): boolean {
  if (!when) return true;
  const value = given.find(({ role }) => role === when.role)?.value;
  const text = value?.is === 'text' ? value.value : named.find(({ role }) => role === when.role)?.name;
  return text !== undefined && when.is.includes(text);
}

/** Finds the entry for a function that is not called here but given to somebody who will: `later(bells.ring)`. */
export function matchHandedOn(table: CallTable, expression: Expression, typeOf: TypeOf): Entry | undefined {
  const reach = reachOf(expression);
  const entry =
    reach && entriesFor(table.calls, reach.member).find(({ rule }) => headNames(rule, reach, typeOf) !== undefined);
  return entry && (entry.rule.means === 'send' || entry.rule.means === 'listen') ? entry : undefined;
}

/** Ties arguments to the pattern's; undefined when they do not fit. */
function bind(
  wanted: ArgumentPattern[],
  isOpen: boolean,
  given: Argument[],
): Omit<Match, keyof Entry | 'named'> | undefined {
  const bound: Match['arguments'] = [];
  const left = new Set(given);
  const take = ({ role, text }: ArgumentPattern, value: Expression): boolean => {
    if (text !== undefined && (value.is !== 'text' || value.value !== text)) return false;
    if (role) bound.push({ role, value });
    return true;
  };
  for (const pattern of wanted) {
    if (pattern.key !== undefined) {
      const named = given.find((argument) => argument.name === pattern.key);
      const table = given.find((argument) => entryOf(argument.value, must(pattern.key)));
      const value = named?.value ?? (table && entryOf(table.value, pattern.key));
      if (!value || !take(pattern, value)) return undefined;
      left.delete(must(named ?? table));
      continue;
    }
    if (pattern.every) {
      for (const argument of left) if (!argument.name) take(pattern, argument.value);
      const rest = [...left].filter(({ name }) => !name);
      if (rest.length === 0) return undefined;
      for (const argument of rest) left.delete(argument);
      continue;
    }
    const next = [...left].find((argument) => !argument.name) ?? [...left][0];
    if (!next || !take(pattern, next.value)) return undefined;
    left.delete(next);
  }
  if (left.size > 0 && !isOpen) return undefined;
  const used = new Set(bound.map(({ value }) => value));
  return {
    arguments: bound,
    more: [...left],
    rest: given.map(({ value }) => value).filter((value) => !used.has(value)),
  };
}

function entryOf(value: Expression, key: string): Expression | undefined {
  return value.is === 'table' ? value.entries.find((entry) => entry.name === key)?.value : undefined;
}

/** Names captured by the head of the pattern; undefined when the receiver does not fit. */
function headNames(rule: CallRule, { receiver, member }: Reach, typeOf: TypeOf): Match['named'] | undefined {
  const { head, memberRole } = rule.pattern;
  if (head.is === 'any receiver') return receiver !== undefined && receiver.is !== 'parent' ? [] : undefined;
  if (head.is === 'type') return receiver && typeOf(receiver) === head.type ? [] : undefined;
  if (head.is === 'role' && receiver?.is === 'call') return [];
  const chain = chainOf(receiver);
  if (!chain) return undefined;
  if (head.is === 'role') return chain.length > 0 ? [] : undefined;
  const isPassedOver = chain[0] === 'this' && head.steps.length > 0 && nameOf(itemAt(head.steps, 0)) !== 'this';
  const code = isPassedOver ? chain.slice(1) : chain;
  if (code.length !== head.steps.length || !code.every((name, at) => fitsStep(itemAt(head.steps, at), name)))
    return undefined;
  const named = head.steps.flatMap((step, at) =>
    step.is === 'role' ? [{ role: step.role, name: itemAt(code, at) }] : [],
  );
  return memberRole ? [...named, { role: memberRole, name: member }] : named;
}

function nameOf(step: ChainStep): string {
  return step.is === 'exact' ? step.name : '';
}

function fitsStep(step: ChainStep, name: string): boolean {
  if (step.is === 'exact') return step.name === name;
  return step.is === 'role' ? name !== 'this' : isLike(step.pattern, name);
}
