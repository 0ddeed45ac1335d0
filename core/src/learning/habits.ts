/** What scripts are like: functions that the engine calls, fields that files fill, labels, types that calls ask for. */
import type { CallForm, CallRow, Channel } from './calls.js';
import { written } from './calls.js';
import { isNumeric } from './domains.js';
import type { CallPattern, Code, FieldDefined } from './code.js';
import type { Shape } from './shapes.js';
import type { Texts } from './texts.js';
import type { Trees } from './trees.js';

// Moments -----------------------------------------------------------------------------------------------------------

export interface Moments {
  start: string[];
  everyFrame: string[];
  leave: string[];
}

const START = /^(?:on|_)*(?:start|begin|init|ready|awake|enter|setup|create|load|spawn|birth|wake|open)/i;
const FRAME = /^(?:on|_|every|each|fixed|late)*(?:frame|tick|update|step|process|loop|beat|pulse|advance|run)/i;
const LEAVE = /^(?:on|_)*(?:end|exit|leave|stop|destroy|remove|finish|close|dispose|free|die|gone|unload|quit)/i;

/** Functions that many types have and nobody calls are called by the engine. */
export function momentsOf(code: Code, forms: readonly CallForm[], channels: readonly Channel[]): Moments {
  const types = Math.max(1, code.types.size);
  const engines = [...code.functions]
    .filter(
      ([name, { types: of }]) =>
        of.size >= Math.max(2, types * 0.08) && !/^(?:constructor|__init__|__new__)$/.test(name),
    )
    .map(([name, { types: of, parameters }]) => ({ name, of: of.size, parameters, called: code.called.has(name) }))
    .filter(({ called, of }) => !called || of >= types * 0.3);
  const listens = countWithin(channels.flatMap((channel) => channel.listens.map(({ form }) => form.pattern)));
  const letsGo = countWithin(channels.flatMap((channel) => channel.letsGo.map(({ form }) => form.pattern)));
  const kept = countWithin(
    forms.map(({ pattern }) => pattern).filter((pattern) => pattern.uses.kept > pattern.count * 0.4),
  );
  const moments: Moments = { start: [], everyFrame: [], leave: [] };
  for (const { name, of, parameters } of engines) {
    const starts = (listens.get(name) ?? 0) + (kept.get(name) ?? 0) * 0.5;
    if ((letsGo.get(name) ?? 0) > of * 0.3 || LEAVE.test(name)) moments.leave.push(name);
    else if (FRAME.test(name) || (parameters === 1 && starts < of * 0.05 && of >= types * 0.2))
      moments.everyFrame.push(name);
    else if (START.test(name) || starts > of * 0.4) moments.start.push(name);
  }
  return moments;
}

function countWithin(patterns: readonly CallPattern[]): Map<string, number> {
  const counts = new Map<string, number>();
  for (const { within } of patterns)
    for (const [name, count] of within) counts.set(name, (counts.get(name) ?? 0) + count);
  return counts;
}

// Exposed fields ----------------------------------------------------------------------------------------------------

/** What marks the fields that files fill, for a language; undefined where nothing does. */
export interface Exposed {
  rule: Record<string, unknown>;
  isMarked: (field: FieldDefined) => boolean;
}

export function exposedBy(code: Code, filled: ReadonlySet<string>, language: string): Exposed | undefined {
  const fields = code.fields.filter((field) => field.language === language);
  const own = fields.filter(({ name }) => filled.has(name));
  if (own.length === 0) return undefined;
  const found: { key: string; mark: string; score: number }[] = [];
  const rate = (key: string, marksOf: (field: (typeof fields)[number]) => readonly string[]): void => {
    const marks = new Set(own.flatMap((field) => [...marksOf(field)]));
    for (const mark of marks) {
      const marked = fields.filter((field) => marksOf(field).includes(mark));
      const hits = marked.filter(({ name }) => filled.has(name)).length;
      const recall = own.filter((field) => marksOf(field).includes(mark)).length / own.length;
      found.push({ key, mark, score: recall * (0.4 + (0.6 * hits) / marked.length) });
    }
  };
  rate('decorators', ({ decorators }) => decorators);
  rate('types', ({ declared }) => (declared ? [typeOf(declared)] : []));
  found.sort((a, b) => b.score - a.score);
  const [best] = found;
  if (!best || best.score < 0.4) return undefined;
  const { key, mark } = best;
  return {
    rule: { [key]: [mark] },
    isMarked: ({ decorators, declared, language: of }) =>
      of === language && (key === 'decorators' ? decorators.includes(mark) : typeOf(declared) === mark),
  };
}

/** A declared type without what it holds. */
const typeOf = (declared: string): string => declared.replace(/[<[(].*$/s, '').trim();

// Labels ------------------------------------------------------------------------------------------------------------

/** Of what a call is given so much must be labels for it to ask for them. */
export const ASKS = 0.5;

/** Lists of texts on objects that calls ask for. */
export function labelsOf(
  trees: Trees,
  open: readonly { texts: ReadonlySet<number> }[],
  explained: ReadonlySet<Shape>,
  all: Texts,
): Map<Shape, Set<number>> {
  const found = new Map<Shape, Set<number>>();
  for (const { piece } of trees.objects)
    for (const list of piece.members.values()) {
      const item = textsIn(list);
      // What is counted or measured is no label.
      if (!item || isNumeric(item.texts, all)) continue;
      const asked = open.filter(({ texts }) => {
        const hits = [...texts].filter((text) => item.texts.has(text)).length;
        return hits >= Math.max(1, texts.size * ASKS);
      });
      // Few words that many objects have are labels, whoever asks for them.
      const isCommon = item.texts.size >= 2 && item.texts.size <= item.texts.total * 0.6 && !explained.has(item);
      if (asked.length > 0 || isCommon) found.set(item, new Set(asked.flatMap(({ texts }) => [...texts])));
    }
  return found;
}

/** The texts of a list: its items, or the one value that each of them has. */
function textsIn({ item }: Shape): Shape | undefined {
  if (!item) return undefined;
  if (item.values > 0) return item.objects > 0 ? undefined : item;
  const [only, ...others] = [...item.members.values()];
  return only && others.length === 0 && only.values > 0 && only.members.size === 0 ? only : undefined;
}

// Types -------------------------------------------------------------------------------------------------------------

const TAKES_OFF = /^(?:remove|detach|drop|take|strip|delete|off)/i;
const PUTS_ON = /^(?:add|attach|give|put|equip|mount|bind|apply)/i;

/** Rows for calls that are given types: whose parts they ask for. */
export function rowsByTypes(forms: readonly CallForm[], code: Code, texts: Texts): CallRow[] {
  return forms.flatMap((form): CallRow[] => {
    const { pattern } = form;
    if (
      pattern.isProperty ||
      pattern.isNew ||
      (code.functions.has(pattern.member) && pattern.onSelf > pattern.count * 0.5)
    )
      return [];
    const known = (name: string): boolean => code.types.has(name.slice(name.lastIndexOf('.') + 1));
    const typed = [...pattern.typeArguments].filter(([name]) => known(name)).reduce((sum, [, count]) => sum + count, 0);
    let call: string | undefined;
    if (typed >= pattern.count * 0.5 && typed > 0) call = `${form.head}<$type>(${pattern.most > 0 ? '...' : ''})`;
    for (const [at, given] of pattern.given) {
      if (call !== undefined) break;
      let hits = 0;
      for (const [name, { count }] of given.names) if (known(name)) hits += count;
      for (const text of given.texts.numbers()) if (known(texts.text(text))) hits += given.texts.count(text);
      if (hits >= Math.max(1, given.total * 0.5)) call = written(form, new Map([[at, '$type']]));
    }
    if (call === undefined) return [];
    const { uses, count, member } = pattern;
    const isGlobal = !form.head.startsWith('*.');
    const means = TAKES_OFF.test(member)
      ? 'detach'
      : (uses.asked + uses.given > count * 0.5 && /^(?:has|is|can|owns|carries)/i.test(member)) ||
          uses.asked > count * 0.5
        ? 'asks part'
        : uses.alone > count * 0.7 || PUTS_ON.test(member)
          ? 'attach'
          : isGlobal || uses.looped > count * 0.3
            ? 'find type'
            : 'part';
    return [
      {
        call,
        means,
        more: means === 'find type' ? { scope: 'all' } : {},
        reading: undefined,
        count,
        sure: 0.9,
        why: 'it is given types that scripts declare',
      },
    ];
  });
}

// Without a text ----------------------------------------------------------------------------------------------------

const UP = /^(?:get)?_?(?:parent|holder|owner|above|outer|container|host|super|keeper)(?:[_A-Z]?(?:object|node)?)?$/i;
const OWN = /^(?:get)?_?(?:object|node|entity|actor|self|thing|me|host)$/i;
const ACTS: [RegExp, string][] = [
  [
    /^(?:set_?)?(?:hide|show|enable|disable|activate|deactivate|switch|toggle|visible|active|shown|hidden)(?:On|Off|_on|_off|ed)?$/i,
    'switch',
  ],
  [/^(?:destroy|remove|delete|kill|free|despawn|dispose|erase)(?:_?(?:object|self|me|now))?$/i, 'destroy'],
  [/^(?:put_?under|set_?parent|reparent|attach_?to|move_?under|hang_?under|place_?under)$/i, 'move'],
  [/^(?:move(?:_?to|_?by)?|travel(?:_?to)?|teleport|translate|set_?position|glide_?to|walk_?to|go_?to)$/i, 'travel'],
];

/** Rows for steps through the tree and for what is done to objects: told by names and by how they follow one another. */
export function rowsByUse(forms: readonly CallForm[], code: Code, taken: ReadonlySet<string>): CallRow[] {
  const rows: CallRow[] = [];
  for (const form of forms) {
    const { pattern, head } = form;
    const { member, count } = pattern;
    if (taken.has(head) || pattern.isNew || pattern.receiver !== '*') {
      const act = ACTS.find(([name]) => name.test(member));
      // A function alone may do it to what it is given.
      if (act && pattern.receiver === '' && !taken.has(head) && pattern.most === 1 && !code.functions.has(member))
        rows.push(rowOf(written(form, new Map([['0', '$object']])), act[1], count, 0.7, 'its name says so'));
      continue;
    }
    if (isTheEngines(pattern, code)) {
      const act = ACTS.find(([name]) => name.test(member));
      if (act) rows.push(rowOf(`${head}()`, act[1], pattern.bare, 0.65, 'its name says so; the own one wants more'));
      continue;
    }
    if (code.functions.has(member) || code.fields.some(({ name }) => name === member && !pattern.isProperty)) continue;
    const noTexts = [...pattern.given.values()].every(({ texts: of }) => of.size === 0);
    if (!noTexts) continue;
    const isStep = pattern.most === 0;
    const follows = pattern.after.get(member) ?? 0;
    if (
      isStep &&
      (UP.test(member) || (follows > 0 && pattern.uses.on >= count * 0.5 && follows >= count * 0.1)) &&
      !declares(code, member)
    )
      rows.push(
        rowOf(
          pattern.isProperty ? head : `${head}()`,
          'step up',
          count,
          UP.test(member) ? 0.85 : 0.65,
          'it follows itself, or its name says so',
        ),
      );
    else if (isStep && OWN.test(member) && pattern.isProperty && !declares(code, member))
      rows.push(rowOf(head, 'same object', count, 0.8, 'its name says so'));
    else if (!pattern.isProperty && pattern.uses.alone >= count * 0.5) {
      const act = ACTS.find(([name]) => name.test(member));
      if (act) rows.push(rowOf(`${head}(${pattern.most > 0 ? '...' : ''})`, act[1], count, 0.7, 'its name says so'));
    }
  }
  return rows;
}

/** Where nothing is given, though each function of the project that is called so must be given something. */
function isTheEngines({ member, bare, isProperty }: CallPattern, { functions }: Code): boolean {
  const own = functions.get(member);
  return !isProperty && own !== undefined && own.needs > 0 && bare >= FEWEST_BARE;
}

const FEWEST_BARE = 3;

function declares(code: Code, name: string): boolean {
  return code.fields.some((field) => field.name === name);
}

function rowOf(call: string, means: string, count: number, sure: number, why: string): CallRow {
  return { call, means, more: {}, reading: undefined, count, sure, why };
}
