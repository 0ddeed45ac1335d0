/** What the code uses: members of types, flags, fields, things it found, texts. */
import { once } from '../../../helpers/once.js';
import { isLike } from '../../../helpers/pattern.js';
import type { FlagUse, MemberUse, TableUse, Touch, Value } from '../../facts.js';
import type { Plan } from '../../plan/plan.js';
import { cutAll } from '../../source.js';
import { LANGUAGE } from '../languages.js';
import { nameOf } from '../tables.js';
import type { Scope } from './scope.js';
import type { Expression, ScriptSyntax } from '../syntax.js';
import { keptIn } from './flow.js';
import { operationIn, placed, thingKey, type Taking } from './taking.js';

type Member = Expression & { is: 'member' };

/** Longer texts are prose, not names. */
const LONGEST_MENTION = 120;

/** Whether an expression is a truth value, and which. */
export function truthOf(value: Expression | undefined): 'on' | 'off' | undefined {
  return value?.is === 'boolean' ? (value.value ? 'on' : 'off') : undefined;
}

/** Notes that the code uses a member of a type, where the code says which type it is. Each once for each type. */
export function noteUse(
  taking: Taking,
  expression: Member,
  receiver: Value,
  how: MemberUse['how'],
  to?: MemberUse['to'],
): void {
  const { here, notes } = taking;
  const { of, name: member } = expression;
  if (receiver.is === 'any' && receiver.each) {
    for (const one of receiver.of) noteUse(taking, expression, one, how, to);
    return;
  }
  const type = taking.types.typeOf(of) ?? typeOfPart(taking, receiver);
  if (!type) return noteUseOfSpawned(taking, expression, receiver, how);
  if (of.is === 'self' && declaresItself(taking.script, here.type, member)) return;
  const key = `${here.type} ${how} ${to ?? ''} ${type}.${member}`;
  const known = notes.uses.get(key);
  // A place where it decides something says more than another.
  if (known && (known.asks !== undefined || here.asking === undefined)) return;
  const use: MemberUse = { of: type, member, how, ...placed(taking, expression) };
  if (how === 'reads' && here.asking !== undefined) use.asks = here.asking;
  if (to) use.to = to;
  addUse(taking, key, use);
}

function addUse({ facts, notes }: Taking, key: string, use: MemberUse): void {
  const known = notes.uses.get(key);
  if (known) Object.assign(known, use);
  else {
    notes.uses.set(key, use);
    facts.uses.push(use);
  }
}

/** A member of the script on something that was just spawned. */
function noteUseOfSpawned(taking: Taking, expression: Member, receiver: Value, how: MemberUse['how']): void {
  const thing = receiver.is === 'field' ? keptIn(taking, receiver.name) : receiver;
  const operation = thing && operationIn(taking, thing);
  if (thing?.is !== 'operation' || !operation) return;
  const rule = taking.plan.calls[operation.rule];
  if (rule?.means !== 'spawn' || rule.gives !== 'script') return;
  const { name: member } = expression;
  const key = `spawned ${thing.operation} ${how} ${member}`;
  if (taking.notes.uses.has(key)) return;
  addUse(taking, key, { of: '', member, how, spawned: thing.operation, ...placed(taking, expression) });
}

/** The type of a part that was asked for by its type, now or before, to be kept in a field. */
function typeOfPart(taking: Taking, value: Value): string | undefined {
  const kept = value.is === 'field' ? keptIn(taking, value.name) : undefined;
  const operation = operationIn(taking, kept ?? value);
  if (!operation || taking.plan.calls[operation.rule]?.means !== 'part') return undefined;
  const { type } = operation.arguments;
  return type?.is === 'constant' ? type.name.split('.').pop() : undefined;
}

/** Whether a type has a member of its own, so that using it leads nowhere else. */
function declaresItself({ types }: ScriptSyntax, type: number, member: string): boolean {
  const own = types[type];
  return (
    own !== undefined &&
    (own.fields.some((field) => field.name === member) || own.functions.some((code) => code.name === member))
  );
}

/** A flag of the own type. Which fields are flags is known when all of the type was read. */
export function noteFlag(
  taking: Taking,
  expression: { name: string; start: number; end: number },
  how: FlagUse['how'],
  value?: Expression,
): void {
  const { here, notes } = taking;
  const { name: field } = expression;
  if (here.type < 0) return;
  const to = truthOf(value);
  const name = `${here.type}/${field}`;
  const at = placed(taking, expression);
  if (to && !notes.setToTruth.has(name)) notes.setToTruth.set(name, at.range);
  const key = `${here.function} ${here.type} ${how} ${to ?? ''} ${field}`;
  const known = notes.flags.get(key);
  if (known && (known.asks !== undefined || here.asking === undefined || how === 'writes')) return;
  const use: FlagUse = { field, how, ...at };
  if (how === 'reads' && here.asking !== undefined) use.asks = here.asking;
  if (to) use.to = to;
  notes.flags.set(key, use);
}

export function noteFieldRead(taking: Taking, expression: Member): void {
  const { here, notes } = taking;
  const { name: field } = expression;
  const key = `${here.type}/${field}`;
  if (here.type >= 0 && !notes.fieldReads.has(key)) notes.fieldReads.set(key, { field, ...placed(taking, expression) });
}

/** Something is done to what the code found, or to what a field holds. */
export function touch(taking: Taking, on: Value, how: Touch['how'], used: Member, isBare = false, isAct = false): void {
  if (on.is === 'any') return on.of.forEach((one) => touch(taking, one, how, used, isBare, isAct));
  const { here, notes } = taking;
  const { name: member } = used;
  const thing = thingKey(on);
  if (!thing || (on.is !== 'operation' && on.is !== 'field')) return;
  const isDriving = how === 'writes' || (how === 'calls' && isBare);
  const key = `${here.function} ${how} ${String(isDriving)} ${member} ${thing}`;
  const known = notes.touches.get(key);
  if (known && (known.asks !== undefined || here.asking === undefined)) return;
  const found: Touch = { on, member, how, isDriving, isAsked: false, ...placed(taking, used) };
  if (isAct) found.isAct = true;
  if (how !== 'writes' && here.asking !== undefined) found.asks = here.asking;
  notes.touches.set(key, found);
}

/** A text that is a reference by itself, wherever it stands. */
export function noteLiteral(taking: Taking, value: string, at: { start: number; end: number }): void {
  for (const name in taking.plan.literals) {
    const rule = taking.plan.literals[name];
    for (const { text } of rule ? cutAll(value, rule.pattern, rule.every) : [])
      if (text) taking.facts.literals.push({ rule: name, text, ...placed(taking, at) });
  }
}

/** A text or name that is handed to something unseen. */
export function mention(taking: Taking, value: Value): void {
  const { notes } = taking;
  if (value.is === 'text' && value.text.length <= LONGEST_MENTION) notes.mentions.add(value.text);
  else if (value.is === 'constant') notes.mentions.add(value.name.slice(value.name.lastIndexOf('.') + 1));
  else if (value.is === 'any') value.of.forEach((one) => mention(taking, one));
}

/** A table in the code: the names in it, and its numbers when there are several. */
export function noteTable({ facts, notes, text, lines }: Taking, table: Expression & { is: 'table' }): void {
  for (const { name } of table.entries) if (name) notes.tableKeys.add(name);
  const entries = table.entries.flatMap(({ name, value: { is, start, end } }) =>
    name && is === 'number' ? [{ key: name, number: text.slice(start, end), range: lines.range(start, end) }] : [],
  );
  if (entries.length >= 3) facts.tables.push({ entries, range: lines.range(table.start, table.end) });
}

/** Names under which the plan has tables, and whether files may be such tables themselves. */
const namesOfTables = once(({ scripts }: Plan) => {
  const tables = Object.values(scripts).flatMap((rule) => Object.values(rule.tables));
  return { any: tables.length > 0, names: tables.flatMap(({ assigned }) => assigned) };
});

/** A member of something that may be a table under a name: `Limits.harbour`, `Limits["harbour"]`. */
export function noteTableUse(
  taking: Taking,
  expression: Expression & { is: 'member' | 'item' },
  how: TableUse['how'],
  scope: Scope,
): void {
  const { any, names } = namesOfTables(taking.plan);
  if (!any) return;
  const { script, here, notes, facts, rule } = taking;
  // Where members are no entries of tables, only what stands in brackets is one.
  if (expression.is === 'member' && !LANGUAGE[rule.language].areEntriesMembers) return;
  if (expression.is === 'item' && expression.at.is !== 'text') return;
  const member = expression.is === 'member' ? expression.name : expression.at.is === 'text' ? expression.at.value : '';
  const of = nameOf(expression.of);
  if (!of || of.startsWith('this')) return;
  const [first = ''] = of.split('.');
  if (here.function >= 0 && scope.has(first)) return;
  const isTaken = script.imports.some((one) => one.names.some(({ as }) => as === first));
  if (!isTaken && !names.some((name) => isLike(name, of))) return;
  const isAsked =
    here.asking !== undefined || notes.spared.has(expression) || (expression.is === 'member' && expression.safe);
  const key = `${here.type} ${how} ${String(isAsked)} ${of}.${member}`;
  if (notes.tableUses.has(key)) return;
  notes.tableUses.add(key);
  facts.tableUses.push({ of, member, how, isAsked, ...placed(taking, expression) });
}
