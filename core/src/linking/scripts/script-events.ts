/** Events that scripts send and listen to. */
import { scriptRuleOf } from '../../reading/plan/content.js';
import { itemAt, must } from '../../helpers/at.js';
import type { FileFacts, Operation } from '../../reading/facts.js';
import type { CallRule } from '../../reading/plan/plan.js';
import { eventHeardBy } from '../../reading/plan/handlers.js';
import { OWN_FUNCTION } from '../../reading/plan/schema.js';
import { eventNamed } from '../events.js';
import { patternOf, textsOf } from '../look-ups/texts.js';
import { findTarget } from '../targets.js';
import { callKey } from '../rule-counts.js';
import { countShare, lose, type Work } from '../work.js';
import { typeNamed } from '../world/types.js';
import type { EventEnd } from '../linked.js';
import type { World } from '../world/world.js';
import { askerOf, eventNames, ownType, sideOf, typePiece } from './operations.js';

export function linkEvent(
  work: Work,
  fact: FileFacts,
  from: number,
  operation: Operation,
  rule: CallRule,
  source: number,
): void {
  const { world } = work;
  const isSend = rule.means === 'send';
  const names = operation.arguments.event
    ? eventNames(world, operation.arguments.event, source, ownType(world, source, operation.type))
    : [];
  const { event } = operation.arguments;
  if (names.length === 0 || (event?.is === 'any' && event.of.some(({ is }) => is === 'unknown')))
    noteUnknownEvent(work, operation, isSend);
  if (names.length === 0) return;
  if (rule.under && !names.some((name) => isUnder(world, name, source, must(rule.under)))) return;
  countShare(work, source, callKey(rule.call), names.length, 0);
  const handlers = isSend ? [] : handlersOf(work, fact, from, operation, rule, source);
  const [handler] = handlers;
  for (const name of names) {
    const ends = eventNamed(work, name);
    const end = {
      file: fact.file,
      range: operation.range,
      piece: from,
      moment: operation.moment,
      ...(rule.event !== undefined && { isPutTogether: true as const }),
    };
    if (isSend)
      ends.senders.push({ ...end, handler: '', ...(rule.pattern.more && { payload: operation.payload.length }) });
    else for (const one of handlers) ends.listeners.push({ ...end, ...one });
    world.builder.addLink({
      from,
      to: ends.piece,
      verb: isSend ? 'sends' : 'listens to',
      grip: 'name',
      scope: rule.scope,
      moment: operation.moment,
      side: sideOf(rule, operation),
      label: isSend
        ? sentWords(world, rule, operation)
        : handler?.handler
          ? heardWords(fact, operation, handler.handler)
          : '',
      file: fact.file,
      range: operation.range,
    });
  }
}

/** Functions that hear an event by their name alone. */
export function linkHandlersByName(work: Work, fact: FileFacts, source: number): void {
  const { world } = work;
  const { handlers, side } = scriptRuleOf(world.plan, fact);
  if (handlers.length === 0) return;
  for (const code of must(fact.script).functions) {
    for (const rule of code.type < 0 ? [] : handlers) {
      const name = eventHeardBy(rule, code.name);
      if (name === undefined) continue;
      const ends = eventNamed(work, name);
      const from = typePiece(world, source, code.type);
      const place = { file: fact.file, range: code.range, moment: code.moment };
      ends.listeners.push({ ...place, piece: from, handler: code.name, isPutTogether: true });
      world.builder.addLink({
        ...place,
        from,
        to: ends.piece,
        verb: 'listens to',
        grip: 'name',
        scope: rule.scope,
        side: code.side === 'unknown' ? side : code.side,
        label: `→ ${code.name}(${code.parameters.join(', ')})`,
      });
    }
  }
}

/** The functions that are told: given as such, or named by a text and then looked for. At least one, if without a name. */
function handlersOf(
  work: Work,
  { file }: FileFacts,
  from: number,
  operation: Operation,
  { target: form }: CallRule,
  source: number,
): Pick<EventEnd, 'handler' | 'code'>[] {
  const { handler } = operation.arguments;
  const given = (handler?.is === 'any' ? handler.of : handler ? [handler] : []).flatMap((one) =>
    one.is === 'function'
      ? [{ handler: one.name, ...(one.at !== undefined && { code: one.at }) }]
      : one.is === 'field'
        ? [{ handler: one.name }]
        : [],
  );
  if (given.length > 0) return given;
  const [name = ''] = handler ? textsOf(work.world, handler) : [];
  if (!name) return [{ handler: '' }];
  const named = form.by === 'function' ? form : OWN_FUNCTION;
  const target = findTarget(work.world, named, { ...askerOf(work.world, source, operation), text: name }, source);
  if (target.state === 'lost' && !operation.guarded)
    lose(work, { from, verb: 'calls', file, field: '', range: operation.range, form: named }, target.loss);
  return [{ handler: name }];
}

/** `→ onMoored(boat)`: the handler with what it takes, where it is a function of the same code. */
function heardWords({ script }: FileFacts, { type }: Operation, name: string): string {
  const code = script?.functions.find((one) => one.name === name && one.type === type);
  return `→ ${name}(${code?.parameters.join(', ') ?? ''})`;
}

/** `to Lock 3 alone, with depth`. */
function sentWords(world: World, { pattern }: CallRule, { payload, arguments: given }: Operation): string {
  const to = given.name ?? given.id;
  const whom = to ? textsOf(world, to) : [];
  const sent = !pattern.more || payload.length === 0 ? '' : payloadWords(payload);
  return [whom.length > 0 ? `to ${whom.join(' or ')} alone` : '', sent].filter(Boolean).join(', ');
}

function payloadWords(payload: readonly string[]): string {
  if (payload.some(Boolean)) return `with ${payload.map((name) => name || '…').join(', ')}`;
  return `with ${payload.length} ${payload.length === 1 ? 'value' : 'values'}`;
}

function isUnder(world: World, name: string, source: number, parent: string): boolean {
  const type = typeNamed(world, name, source);
  return (
    type !== undefined &&
    (type.name === parent ||
      type.ancestors.some((ancestor) => ancestor.name === parent) ||
      itemAt(type.script.types, type.local).parents.includes(parent))
  );
}

function noteUnknownEvent(work: Work, operation: Operation, isSend: boolean): void {
  const { event } = operation.arguments;
  if (event?.is === 'join') (isSend ? work.builtSends : work.builtListeners).push(patternOf(event.parts));
  else if (isSend) work.linked.unknownSends = true;
  else work.linked.unknownListeners = true;
}

/** Event names made at run time that fit a known event count as an end of it. */
export function markBuiltEvents(work: Work): void {
  for (const ends of work.events.values()) {
    if (
      work.builtSends.some((pattern) => pattern.test(ends.name)) ||
      work.builtListeners.some((pattern) => pattern.test(ends.name))
    ) {
      work.linked.mentions.add(ends.name);
      work.linked.unknownSends = true;
      work.linked.unknownListeners = true;
    }
  }
}
