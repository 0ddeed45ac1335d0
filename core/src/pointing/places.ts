/** What the rules of a plan find in a file: where, by which rule, and in words. */
import { itemAt } from '../helpers/at.js';
import { callKey } from '../linking/rule-counts.js';
import type { Range } from '../model/piece.js';
import type { FileFacts, ScriptFacts, Value } from '../reading/facts.js';
import { ruleKey, scriptRuleOf } from '../reading/plan/content.js';
import { eventHeardBy } from '../reading/plan/handlers.js';
import type { Plan, ScriptRule } from '../reading/plan/plan.js';

export interface FoundPlace {
  /** Key of the rule, as `files.scenes.pieces.objects` or `calls: stage.find($name)`. */
  rule: string;
  range: Range;
  /** The text that stands there, empty where that is known at run time only. */
  text: string;
  words: string;
}

/** All that the rules of a plan found in a file, in no order. */
export function placesIn(fact: FileFacts, plan: Plan): FoundPlace[] {
  const { pieces, references, events, connections, attachments, script } = fact;
  const key = (group: Parameters<typeof ruleKey>[1], rule: string): string => ruleKey(fact, group, rule);
  return [
    ...pieces.map(({ rule, range, kind, name, id }): FoundPlace => {
      const text = name || id;
      return { rule: key('pieces', rule), range, text, words: `${kind} “${text}”` };
    }),
    ...references.map(({ rule, range, text }): FoundPlace => ({
      rule: key('references', rule),
      range,
      text,
      words: refersTo(text),
    })),
    ...events.map(({ rule, range, event: text }): FoundPlace => {
      return { rule: key('events', rule), range, text, words: `event “${text}”` };
    }),
    ...connections.map(({ rule, range, to: text }): FoundPlace => {
      return { rule: key('connections', rule), range, text, words: `leads to “${text}”` };
    }),
    ...attachments.map(({ rule, script: { range, text } }): FoundPlace => {
      return { rule: key('attachments', rule), range, text, words: `runs “${text}”` };
    }),
    ...(script ? placesInCode(script, `scripts.${script.rule ?? fact.rule}`, scriptRuleOf(plan, fact), plan) : []),
  ];
}

/** What calls mean, fields that people fill in, and functions that the engine calls or that hear an event by their name. */
function placesInCode(
  { operations, literals, types, functions }: ScriptFacts,
  key: string,
  { moments, handlers }: ScriptRule,
  plan: Plan,
): FoundPlace[] {
  const called = new Map(
    Object.entries(moments).flatMap(([moment, names]) => names.map((name) => [name, moment] as const)),
  );
  return [
    ...operations
      .filter(({ isHanded }) => !isHanded)
      .map(({ rule, range, arguments: given }): FoundPlace => {
        const { call, means } = itemAt(plan.calls, rule);
        return { rule: callKey(call), range, text: firstText(Object.values(given)), words: means };
      }),
    ...literals.map(({ rule, range, text }): FoundPlace => ({
      rule: `literals.${rule}`,
      range,
      text,
      words: refersTo(text),
    })),
    ...types
      .flatMap(({ fields }) => fields.filter(({ exposed }) => exposed))
      .map(({ name: text, range }): FoundPlace => {
        return { rule: `${key}.exposed`, range, text, words: `“${text}” is filled in by people` };
      }),
    ...functions.flatMap(({ name: text, range }): FoundPlace[] => {
      const moment = called.get(text);
      if (moment !== undefined) return [{ rule: `${key}.moments`, range, text, words: MOMENT_WORDS[moment] ?? moment }];
      const event = handlers.map((rule) => eventHeardBy(rule, text)).find((heard) => heard !== undefined);
      return event === undefined ? [] : [{ rule: `${key}.handlers`, range, text, words: `hears “${event}”` }];
    }),
  ];
}

const MOMENT_WORDS: Record<string, string> = {
  start: 'called at the start',
  everyFrame: 'called every frame',
  leave: 'called when the object leaves',
};

function refersTo(text: string): string {
  return `refers to “${text}”`;
}

/** Of a list of texts the first tells where it is. */
function firstText(values: readonly Value[]): string {
  return values.map(textIn).find((text) => text !== '') ?? '';
}

function textIn(value: Value): string {
  if (value.is === 'any') return firstText(value.of);
  return value.is === 'text' ? value.text : value.is === 'constant' ? value.name : '';
}
