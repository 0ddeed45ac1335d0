/**
 * Places of one name taken together: where each holds a few texts only, all of them tell what none tells alone. So it is
 * with documents whose things may carry an identity wherever they stand, and name each other by it.
 */
import { domainAt, nameOf, type Domain } from './domains.js';
import type { Kind } from './kinds.js';
import type { Field, Reading } from './references.js';
import { isItem, newShape, shapesIn, sortAbove, step, type Shape } from './shapes.js';
import type { Texts } from './texts.js';
import { wordsOf } from './words.js';

/** Members of one name that stand directly in things of different sorts. */
function membersByName({ shape, inside }: Kind): Map<string, Shape[]> {
  const found = new Map<string, Shape[]>();
  for (const one of shapesIn(shape)) {
    if (one.texts.size === 0 || one.members.size > 0 || inside.some((code) => code.shape === one)) continue;
    const key = isItem(one) ? `${one.parent?.key ?? ''}[*]` : one.key;
    if (key === '' || key === '[*]' || key.startsWith('#')) continue;
    const known = found.get(key);
    if (known) known.push(one);
    else found.set(key, [one]);
  }
  return new Map([...found].filter(([, all]) => all.length > 1));
}

/** Things that carry an identity under one name, whatever they are. */
export function pooledDomains(kind: Kind, texts: Texts): Domain[] {
  return [...membersByName(kind)].flatMap(([key, members]): Domain[] => {
    // What stands in things of sorts is told by the sort.
    if (key.endsWith('[*]') || members.some(sortAbove)) return [];
    const piece = newShape();
    piece.at = `$..[?@${step(key)}]`;
    const member = newShape(key, piece);
    for (const one of members) member.texts.addAll(one.texts);
    member.values = member.texts.total;
    piece.members.set(key, member);
    piece.objects = member.texts.total;
    const domain = domainAt(kind, piece, member, texts);
    return domain ? [{ ...domain, isPooled: true as const, places: members }] : [];
  });
}

/** A field of several places. */
export interface PooledField extends Field {
  places: readonly Shape[];
}

export function pooledFields(kind: Kind): PooledField[] {
  return [...membersByName(kind)].map(([key, places]): PooledField => {
    const name = key.replace(/\[\*\]$/, '');
    const shape = newShape(name);
    shape.at = `$..${step(name).replace(/^\./, '')}${key.endsWith('[*]') ? '[*]' : ''}`;
    for (const one of places) shape.texts.addAll(one.texts);
    const first = places[0];
    const own = wordsOf(first ? nameOf(first) : name);
    return { kind, shape, places, written: 'value', texts: shape.texts, own, words: own };
  });
}

/** Of a pooled field's texts in each place so many must be explained by the same. */
const EACH = 0.5;

/**
 * Puts the reading of all places of a name in the place of their own, where each goes with it and some had none; else it is
 * left out.
 */
export function settlePools(readings: readonly Reading[]): Reading[] {
  const own = new Map(
    readings.flatMap((one) => (isPooled(one.field) || !one.field.shape ? [] : [[one.field.shape, one] as const])),
  );
  const kept = new Set<Reading>();
  const gone = new Set<Shape>();
  for (const reading of readings) {
    if (!isPooled(reading.field)) continue;
    const { places } = reading.field;
    if (!places.every((place) => goesWith(reading, place, own.get(place)))) continue;
    if (places.every((place) => own.has(place))) continue;
    kept.add(reading);
    for (const place of places) gone.add(place);
  }
  return readings.filter((one) =>
    isPooled(one.field) ? kept.has(one) : !one.field.shape || one.field.written === 'key' || !gone.has(one.field.shape),
  );
}

export const isPooled = (field: Field): field is PooledField => 'places' in field;

/** Whether what stands at a place is what the reading of all says. */
function goesWith(whole: Reading, { texts }: Shape, own: Reading | undefined): boolean {
  if (own && own.cut.pattern !== whole.cut.pattern) return false;
  if ('path' in whole.to) return !own || 'path' in own.to;
  const { domains } = whole.to;
  if (own && ('path' in own.to || !own.to.domains.every((one) => domains.includes(one)))) return false;
  let hits = 0;
  let all = 0;
  for (const text of texts.numbers()) {
    all++;
    if (domains.some((domain) => domain.texts.has(text))) hits++;
  }
  return whole.cut.pattern !== undefined || hits >= all * EACH;
}
