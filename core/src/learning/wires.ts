/** Wires saved in files: items that name an event of the scripts, with the objects and the function at its ends. */
import { must } from '../helpers/at.js';
import type { Channel } from './calls.js';
import type { Code } from './code.js';
import type { Kind } from './kinds.js';
import type { Reading } from './references.js';
import { selectorOf, shapesIn, type Shape } from './shapes.js';
import type { Texts } from './texts.js';
import type { ByShape, Trees } from './trees.js';

export interface Wire {
  kind: Kind;
  item: Shape;
  event: string;
  from?: { at: string; reading: Reading };
  to?: { at: string; reading: Reading };
  handler?: string;
  /** Items of this kind alone; both ends are the item itself. */
  when?: { field: string; is: string[] };
  verb?: 'sends' | 'listens to';
  of: number;
}

const SENDER = /from|send|source|by|origin|emit|who|caller|trigger/i;
const EVENTS = /event|signal|when|on|bell|channel|topic|message|trigger|cue/i;

export function wiresOf(
  kinds: readonly Kind[],
  channels: readonly Channel[],
  known: ReadonlySet<string>,
  trees: Trees,
  readings: ByShape,
  code: Code,
  texts: Texts,
): Wire[] {
  const objects = new Set(trees.objects.map(({ piece }) => piece));
  const wires: Wire[] = [];
  for (const kind of kinds)
    for (const item of shapesIn(kind.shape)) {
      if (item.objects === 0 || objects.has(item)) continue;
      const members = [...item.members.values()].filter(({ values }) => values > 0);
      const handler = members.find((member) => areFunctions(member, code, texts));
      const event = members.find(
        (member) => member !== handler && areEvents(member, known, handler !== undefined, texts),
      );
      if (!event) continue;
      const ends = members.flatMap((member) => {
        const reading = readings.get(member);
        const named =
          reading && !('path' in reading.to) && reading.to.domains.some(({ piece }) => piece && objects.has(piece));
        return named ? [{ member, at: selectorOf(member, item), reading }] : [];
      });
      const at = selectorOf(event, item);
      if (handler && ends.length > 0) {
        const from = ends.length > 1 ? (ends.find(({ member }) => SENDER.test(member.key)) ?? ends[0]) : undefined;
        const to = ends.find((end) => end !== from);
        wires.push({
          kind,
          item,
          event: at,
          handler: selectorOf(handler, item),
          ...(from && { from }),
          ...(to && { to }),
          of: event.texts.total,
        });
      } else if (ends.length === 0 && !handler) wires.push(...stepsOf(kind, item, event, channels, texts));
    }
  return wires;
}

function areFunctions({ texts: bag, key }: Shape, code: Code, texts: Texts): boolean {
  if (bag.size === 0) return false;
  let hits = 0;
  for (const text of bag.numbers()) if (code.functions.has(texts.text(text))) hits++;
  void key;
  return hits / bag.size >= 0.6;
}

function areEvents({ texts: bag, key }: Shape, known: ReadonlySet<string>, hasHandler: boolean, texts: Texts): boolean {
  if (bag.size === 0) return false;
  let hits = 0;
  for (const text of bag.numbers()) if (known.has(texts.text(text))) hits++;
  // Beside a function, what is called so may be told by files alone.
  return hits / bag.size >= 0.5 || (hasHandler && (hits > 0 || EVENTS.test(key)));
}

/** Steps of a graph that send or wait for events: which of them do what is told by what the code does with the same. */
function stepsOf(kind: Kind, item: Shape, event: Shape, channels: readonly Channel[], texts: Texts): Wire[] {
  const sent = new Set<string>();
  const heard = new Set<string>();
  for (const { sends, listens } of channels) {
    for (const { form, at } of sends)
      for (const text of must(form.pattern.given.get(at)).texts.numbers()) sent.add(texts.text(text));
    for (const { form, at } of listens)
      for (const text of must(form.pattern.given.get(at)).texts.numbers()) heard.add(texts.text(text));
  }
  const with_ = item.samples.filter(({ values }) => values.has(event.key));
  // The member that says what a step does: few different texts, and with each of them the event stands there or not.
  const kinds = [...item.members.values()].filter(
    (member) =>
      member !== event &&
      member.values >= item.objects * 0.9 &&
      member.texts.size >= 1 &&
      member.texts.size <= Math.max(12, item.objects / 3),
  );
  const best = kinds
    .map((member) => ({ member, names: new Set(with_.map(({ values }) => values.get(member.key) ?? '')) }))
    .filter(({ names }) => names.size <= 6 && !names.has(''))
    .sort((a, b) => a.member.texts.size - b.member.texts.size || a.names.size - b.names.size)
    .sort((a, b) => purity(b.member, event, item) - purity(a.member, event, item))[0];
  if (!best) return [];
  return [...best.names].flatMap((name): Wire[] => {
    const all = with_.filter(({ values }) => values.get(best.member.key) === name);
    let sends = 0;
    let listens = 0;
    for (const { values } of all) {
      const text = values.get(event.key) ?? '';
      if (heard.has(text) && !sent.has(text)) sends++;
      if (sent.has(text) && !heard.has(text)) listens++;
    }
    const byName = /wait|hear|listen|when|until|on\b|receive/i.test(name)
      ? -0.5
      : /send|ring|emit|fire|call|raise|post|tell|signal/i.test(name)
        ? 0.5
        : 0;
    const score = sends - listens + byName;
    if (score === 0) return [];
    return [
      {
        kind,
        item,
        event: selectorOf(event, item),
        when: { field: selectorOf(best.member, item), is: [name] },
        verb: score > 0 ? 'sends' : 'listens to',
        of: all.length,
      },
    ];
  });
}

/** How well a member tells whether an item has another one. */
function purity(member: Shape, other: Shape, item: Shape): number {
  const counts = new Map<string, { has: number; all: number }>();
  for (const { values } of item.samples) {
    const name = values.get(member.key) ?? '';
    const known = counts.get(name) ?? { has: 0, all: 0 };
    known.all++;
    if (values.has(other.key)) known.has++;
    counts.set(name, known);
  }
  let pure = 0;
  for (const { has, all } of counts.values()) pure += Math.max(has, all - has);
  return pure / Math.max(1, item.samples.length) - counts.size / Math.max(1, item.samples.length);
}
