/**
 * Step 4: what calls mean. A call of a function that the project does not define is the engine's; what it is given tells
 * what it is about: texts of a domain are looked up, paths are loaded or spawned, texts that no domain holds but two calls
 * share are events. Rules from what code mostly does: Engler et al., “Bugs as deviant behavior” (2001); pairs of calls:
 * Ammons et al., “Mining specifications” (2002).
 */
import { must } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { joinPatterns, type CallPattern, type Code, type Given } from './code.js';
import { inCode, type Domain } from './domains.js';
import { Bag, type Texts } from './texts.js';
import type { Field, Reading } from './references.js';
import { isOfLanguage } from './standard.js';
import { wordsOf } from './words.js';

/** A call, or the read of a property, as a plan writes it. */
export interface CallForm {
  /** `stage.find`, `*.child`, `spawnFrom`. */
  head: string;
  pattern: CallPattern;
}

/** Of the places where a function is called, so many must be on one thing for that to belong to the pattern. */
const ON_ONE = 0.8;

/** Calls by how a plan would write them: on one thing, on anything, on nothing. */
export function formsOf(code: Code, passedOver: ReadonlySet<CallPattern>): CallForm[] {
  const forms: CallForm[] = [];
  const all = [...code.patterns.values()].filter((one) => !passedOver.has(one));
  for (const same of grouped(all, ({ member, isProperty }) => `${member}\n${isProperty ? 'property' : 'call'}`)) {
    const bare = same.filter(({ receiver }) => receiver === '');
    for (const pattern of bare) forms.push({ head: pattern.member, pattern });
    const on = same.filter(({ receiver }) => receiver !== '');
    if (on.length === 0) continue;
    const total = on.reduce((sum, { count }) => sum + count, 0);
    const main = on.reduce((best, one) => (one.count > best.count ? one : best));
    if (main.receiver !== '*' && main.count >= total * ON_ONE) {
      forms.push({ head: `${main.receiver}.${main.member}`, pattern: main });
      continue;
    }
    // On services and on anything: what is asked of a service alone stands for itself.
    const alone = on.filter((one) => isForItself(one, on));
    for (const pattern of alone) forms.push({ head: `${pattern.receiver}.${pattern.member}`, pattern });
    const [first, ...others] = on.filter((one) => !alone.includes(one));
    if (!first) continue;
    const whole = copyOf(first);
    for (const one of others) joinPatterns(whole, one);
    forms.push({ head: `*.${whole.member}`, pattern: { ...whole, receiver: '*' } });
  }
  return forms;
}

/** Fewer different texts do not tell of what a service is asked. */
const FEWEST_ASKED = 4;
/** Of its texts at most so many are given to others, too. */
const SHARED = 0.25;

/** Whether a service is asked for other things than those on which a function of this name is called as well. */
function isForItself({ receiver, given }: CallPattern, all: readonly CallPattern[]): boolean {
  const texts = given.get('0')?.texts;
  if (receiver === '*' || receiver.startsWith('this') || !texts || texts.size < FEWEST_ASKED) return false;
  let shared = 0;
  for (const text of texts.numbers())
    if (all.some((one) => one.receiver !== receiver && one.given.get('0')?.texts.has(text))) shared++;
  return shared <= texts.size * SHARED;
}

function copyOf(pattern: CallPattern): CallPattern {
  return {
    ...pattern,
    files: new Set(pattern.files),
    languages: new Set(pattern.languages),
    uses: { ...pattern.uses },
    typeArguments: new Map(pattern.typeArguments),
    within: new Map(pattern.within),
    after: new Map(pattern.after),
    given: new Map(
      [...pattern.given].map(([at, given]): [string, Given] => {
        const copy = {
          ...given,
          texts: new (given.texts.constructor as new () => Given['texts'])(),
          names: new Map(given.names),
        };
        copy.texts.addAll(given.texts);
        return [at, copy];
      }),
    ),
  };
}

/** A place in a call whose texts may name something. */
export interface CallField extends Field {
  place: { form: CallForm; at: string };
}

/** Every place in calls of the engine at which texts stand. */
export function callFields(forms: readonly CallForm[], code: Code): CallField[] {
  return forms.flatMap((form) => {
    const { pattern } = form;
    if (pattern.isProperty || isOwn(form, code) || isOfLanguage(form, pattern.languages)) return [];
    return [...(rowOfTexts(pattern) ?? pattern.given)].flatMap(([at, given]): CallField[] =>
      given.texts.size === 0
        ? []
        : [
            {
              kind: undefined,
              shape: undefined,
              place: { form, at },
              written: 'value',
              texts: given.texts,
              own: wordsOf(pattern.member),
              words: [...wordsOf(pattern.member), ...wordsOf(pattern.receiver), ...(/^\d/.test(at) ? [] : wordsOf(at))],
            },
          ],
    );
  });
}

// What calls make known -------------------------------------------------------------------------------------------

const DECLARES = /^(?:register|define|declare|add_?new|new|create|make)(?=_|[A-Z]|$)/i;
/** These do so when a table says what it is. */
const MAY_DECLARE = /^(?:add|set_?up|put_?in)(?=_|[A-Z]|$)/i;
/** Fewer texts are no list of what there is. */
const FEWEST_DECLARED = 4;
/** What is made known is so once. */
const ONCE = 0.9;

/** Texts that calls make known, each once, mostly with a table or a function that says what it is. */
export function declaredDomains(fields: readonly CallField[]): Domain[] {
  return fields.flatMap((field): Domain[] => {
    const { texts, place } = field;
    const { form, at } = place;
    if (at !== '0' || texts.size < FEWEST_DECLARED || texts.size < texts.total * ONCE) return [];
    const { pattern } = form;
    const isDescribed = [...pattern.given.keys()].some((one) => !/^\d/.test(one));
    if (!DECLARES.test(pattern.member) && !(isDescribed && MAY_DECLARE.test(pattern.member))) return [];
    if (texts.total < pattern.count * 0.3) return [];
    const called = pattern.member.replace(DECLARES, '').replace(MAY_DECLARE, '').replace(/^_/, '') || pattern.member;
    return [{ ...inCode('declared', texts, 0.8, wordsOf(called), `what ${form.head} makes known`), declaredBy: field }];
  });
}

/** The row of a call that makes something known. */
export function declareRow({ place: { form, at }, texts }: CallField, space: string): CallRow {
  return {
    call: written(form, new Map([[at, '$id']])),
    means: 'declare',
    more: { space },
    reading: undefined,
    count: texts.total,
    sure: 0.9,
    why: `other places name ${texts.size === 1 ? 'it' : 'them'}, and its name says so`,
  };
}

/** Positions from which on all that is given is texts of one sort: they are one place. */
function rowOfTexts({ given, most }: CallPattern): Map<string, Given> | undefined {
  if (most < 2) return undefined;
  const all = Array.from({ length: most }, (_, at) => given.get(String(at)));
  const isTexts = (one: Given | undefined): one is Given => one !== undefined && one.texts.total >= one.total * 0.8;
  let first = most;
  while (first > 0 && isTexts(all[first - 1])) first--;
  const [main, ...others] = all.slice(first).filter(isTexts);
  if (!main || others.length === 0) return undefined;
  const areAlike = others.every(({ texts }) => {
    const shared = [...texts.numbers()].filter(
      (text) => main.texts.has(text) || others.some((one) => one.texts !== texts && one.texts.has(text)),
    );
    return shared.length >= texts.size * 0.3;
  });
  // Fewer are given the later ones.
  if (!areAlike || others.some(({ total }) => total > main.total)) return undefined;
  const texts = new Bag();
  for (const one of [main, ...others]) texts.addAll(one.texts);
  const row: Given = { ...main, texts, names: new Map(), total: main.total };
  return new Map([...[...given].filter(([at]) => !/^\d+$/.test(at) || Number(at) < first), [`${first}...`, row]]);
}

/** Whether the project defines what is called itself. */
function isOwn({ pattern: { member, receiver, onSelf, count } }: CallForm, { functions, types }: Code): boolean {
  const defined = functions.get(member);
  // Some languages let code add to what the engine gives: only what it adds is its own.
  const own = types.get(receiver);
  if (own && defined && [receiver, ...own.parents].some((type) => defined.types.has(type))) return true;
  // What is mostly called on the own object is the own function; elsewhere the engine may have one of the same name.
  return (
    defined !== undefined && (receiver === '*' ? onSelf > count * 0.5 : receiver === '' && defined.types.size === 0)
  );
}

// Events that are members -------------------------------------------------------------------------------------------

/** Calls on members of one thing, each of which is an event: `bells.fogRung.ring()`, `bells.fogRung.hear(…)`. */
export interface MemberChannel {
  /** `bells`. */
  root: string;
  sends: CallPattern[];
  listens: { pattern: CallPattern; handler: string }[];
  letsGo: CallPattern[];
  events: Set<string>;
  /** The patterns that were found in the code. */
  from: CallPattern[];
}

export function memberChannels(code: Code): MemberChannel[] {
  const onMembers = [...code.patterns.values()].filter(
    ({ receiver, isProperty, isNew }) => receiver.includes('.') && !isProperty && !isNew,
  );
  const channels: MemberChannel[] = [];
  for (const all of grouped(onMembers, ({ receiver }) => receiver.slice(0, receiver.lastIndexOf('.')))) {
    const root = all[0].receiver.slice(0, all[0].receiver.lastIndexOf('.'));
    const eventOf = ({ receiver }: CallPattern): string => receiver.slice(root.length + 1);
    const byMember = grouped(all, ({ member }) => member).map((same) => {
      const whole = same.slice(1).reduce((into, one) => (joinPatterns(into, one), into), copyOf(same[0]));
      const handler = [...whole.given].find(([, given]) => given.functions >= Math.max(1, given.total * 0.5))?.[0];
      return { member: same[0].member, whole, handler, events: new Set(same.map(eventOf)), from: same };
    });
    const heard = byMember.filter(({ handler, member }) => handler !== undefined && !LETS_GO.test(member));
    const events = new Set(heard.flatMap((one) => [...one.events]));
    const others = byMember.filter(
      (one) =>
        !heard.includes(one) &&
        [...one.events].filter((event) => events.has(event)).length >= Math.min(2, one.events.size),
    );
    const sends = others.filter(({ member, handler }) => !LETS_GO.test(member) && handler === undefined);
    // One way to listen serves several events.
    if (sends.length === 0 || !heard.some((one) => one.events.size >= 2)) continue;
    channels.push({
      root,
      sends: sends.map(({ whole }) => whole),
      listens: heard.map(({ whole, handler }) => ({ pattern: whole, handler: must(handler) })),
      letsGo: others.filter((one) => !sends.includes(one)).map(({ whole }) => whole),
      events: new Set([...events, ...sends.flatMap((one) => [...one.events])]),
      from: [...heard, ...others].flatMap(({ from }) => from),
    });
  }
  return channels;
}

// Rows --------------------------------------------------------------------------------------------------------------

/** A row of the call table that was learned. */
export interface CallRow {
  call: string;
  means: string;
  more: Record<string, unknown>;
  reading: Reading | undefined;
  /** Times that it is called. */
  count: number;
  sure: number;
  why: string;
}

/** As much of a call as its pattern is written from. */
interface WrittenForm {
  head: string;
  pattern: Pick<CallPattern, 'isProperty' | 'most'> & { given: ReadonlyMap<string, unknown> };
}

/** The pattern of a call with roles for some of what it is given. */
export function written({ head, pattern }: WrittenForm, roles: ReadonlyMap<string, string>): string {
  if (pattern.isProperty) return head;
  const rest = [...roles.keys()].find((at) => at.endsWith('...'));
  const positions = [...roles.keys()].filter((at) => /^\d+$/.test(at)).map(Number);
  if (rest !== undefined) {
    const before = Array.from({ length: parseInt(rest, 10) }, (_, at) => roles.get(String(at)) ?? '_');
    return `${head}(${[...before, `${roles.get(rest) ?? ''}...`].join(', ')})`;
  }
  const last = Math.max(-1, ...positions);
  const list: string[] = [];
  for (let at = 0; at <= last; at++) list.push(roles.get(String(at)) ?? '_');
  for (const [key, role] of roles) if (!/^\d+$/.test(key)) list.push(`${key}: ${role}`);
  if (pattern.most > last + 1 || [...pattern.given.keys()].some((at) => !/^\d+$/.test(at) && !roles.has(at)))
    list.push('...');
  return `${head}(${list.join(', ')})`;
}

/** A pair of places in calls, or more, that share texts which nothing else holds. */
export interface Channel {
  sends: { form: CallForm; at: string; texts: number }[];
  listens: { form: CallForm; at: string; handler: string; texts: number }[];
  letsGo: { form: CallForm; at: string }[];
  texts: Set<number>;
  fields: CallField[];
}

const LETS_GO = /^(?:off|un|forget|remove|drop|detach|stop|leave|quit|disconnect|ignore|mute|silence|cancel|clear)/i;

/** Events: places that share texts, of which at least one is given a function besides. */
export function channelsOf(fields: readonly CallField[], explained: ReadonlySet<Field>, texts: Texts): Channel[] {
  const open = fields.filter((field) => !explained.has(field) && field.texts.size >= 1);
  const byText = new Map<number, number[]>();
  open.forEach(({ texts }, at) => {
    for (const text of texts.numbers()) {
      const known = byText.get(text);
      if (known) known.push(at);
      else byText.set(text, [at]);
    }
  });
  const shared = new Map<string, number>();
  for (const places of byText.values())
    if (places.length <= 30)
      for (const one of places)
        for (const other of places)
          if (one < other) shared.set(`${one} ${other}`, (shared.get(`${one} ${other}`) ?? 0) + 1);
  const root = open.map((_, at) => at);
  const top = (at: number): number => (root[at] === at ? at : top(must(root[at])));
  for (const [pair, count] of shared) {
    const [one = 0, other = 0] = pair.split(' ').map(Number);
    const [first, second] = [must(open[one]), must(open[other])];
    const least = Math.min(first.texts.size, second.texts.size);
    // Both ends of an event are told by the one that is given a function: senders alone share words of any sort.
    const hasHandler = handlerOf(first) !== undefined || handlerOf(second) !== undefined;
    if (hasHandler && (count >= 2 ? count / least >= 0.4 : least <= 3)) root[top(other)] = top(one);
  }
  return grouped(
    open.map((_, at) => at),
    (at) => String(top(at)),
  ).flatMap((places): Channel[] => {
    const all = places.map((at) => must(open[at]));
    const channel: Channel = { sends: [], listens: [], letsGo: [], texts: new Set(), fields: all };
    for (const field of all) {
      const { form, at } = field.place;
      const handler = handlerOf(field);
      const isLast = LETS_GO.test(form.pattern.member);
      for (const text of field.texts.numbers()) channel.texts.add(text);
      if (isLast) channel.letsGo.push({ form, at });
      else if (handler !== undefined) channel.listens.push({ form, at, handler, texts: field.texts.size });
      else channel.sends.push({ form, at, texts: field.texts.size });
    }
    keepHeard(channel);
    // Of what is only listened to, options in a table say little.
    const isTold =
      channel.sends.length > 0 ||
      (channel.texts.size >= 3 &&
        channel.listens.some((one) => /^\d/.test(one.at) && /^\d/.test(one.handler) && areNames(one)));
    return channel.listens.length > 0 && isTold ? [channel] : [];
  });

  /** Whether an event is named in most calls, and not a text for people. */
  function areNames({ form, at }: Channel['listens'][number]): boolean {
    const given = form.pattern.given.get(at)?.texts;
    if (!given || given.total < form.pattern.count * MOSTLY_NAMED) return false;
    const names = [...given.numbers()].filter((number) => !/\s/.test(texts.text(number)));
    return names.length >= given.size * MOSTLY_NAMED;
  }
}

const MOSTLY_NAMED = 0.5;
/** Of what is sent so much is listened to; a call of which hardly a text is heard is about something else. */
const LEAST_HEARD = 0.15;
const FEW_SENT = 3;

/** Takes out what shares hardly a text with those that listen. */
function keepHeard(channel: Channel): void {
  const textsAt = ({ form, at }: { form: CallForm; at: string }): number[] => [
    ...(form.pattern.given.get(at)?.texts.numbers() ?? []),
  ];
  const heard = new Set([...channel.listens, ...channel.letsGo].flatMap(textsAt));
  const kept = channel.sends.filter((one) => {
    const sent = textsAt(one);
    return sent.length <= FEW_SENT || sent.filter((text) => heard.has(text)).length >= sent.length * LEAST_HEARD;
  });
  const isGone = ({ place: { form, at } }: CallField): boolean =>
    channel.sends.some((one) => one.form === form && one.at === at) &&
    !kept.some((one) => one.form === form && one.at === at);
  channel.fields = channel.fields.filter((field) => !isGone(field));
  channel.sends = kept;
  channel.texts = new Set(channel.fields.flatMap(({ texts }) => [...texts.numbers()]));
}

const MOST_OPTIONS = 4;
/** A function that is given to fewer of those with a text is no handler. */
const OFTEN_GIVEN = 0.3;

/** Where a function is given beside a text: mostly one. */
function handlerOf({ place: { form, at }, texts }: CallField): string | undefined {
  // A table with many entries describes a thing; that some of them are functions says nothing of the others.
  const isThing = [...form.pattern.given.keys()].filter((one) => !/^\d/.test(one)).length > MOST_OPTIONS;
  for (const [other, given] of form.pattern.given)
    if (
      other !== at &&
      given.functions >= Math.max(1, given.total * 0.5) &&
      given.total >= texts.total * OFTEN_GIVEN &&
      (!isThing || (/^\d/.test(other) && /^\d/.test(at)))
    )
      return other;
  return undefined;
}
