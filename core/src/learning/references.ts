/**
 * Step 3: what names what. Every field – texts that stand at one place of a kind of files, or of the code – is held
 * against every domain: inclusion dependencies (De Marchi et al. 2009; BINDER, Papenbrock et al. 2015) that are counted,
 * not only tested, since a project is mostly right and its departures are what is looked for. Whether so many hits may be
 * chance is told by texts of the same make elsewhere (randomness as a test: Zhang et al. 2010).
 */
import type { CallField } from './calls.js';
import type { Kind } from './kinds.js';
import { fileOf, pathForm, type Files, type PathForm } from './paths.js';
import { isInList, type Shape } from './shapes.js';
import { isNumber, MAKES, type Bag, type Texts } from './texts.js';
import { affinity, isIdentityName, wordsOf } from './words.js';
import { cutsOf, isNoPath, PLAIN_PATHS, type Cut } from './cuts.js';
import { nameOf, type Domain } from './domains.js';
import { itemAt, must } from '../helpers/at.js';
import { distance } from '../helpers/nearest.js';

/** Texts that stand at one place. */
export interface Field {
  kind: Kind | undefined;
  shape: Shape | undefined;
  /** For places in code: which. */
  place?: object;
  written: 'value' | 'key';
  texts: Bag;
  /** Of its own name alone. */
  own: readonly string[];
  words: readonly string[];
}

/** What the texts of a field, cut in a way, name. */
export interface Reading {
  field: Field;
  cut: Cut;
  to: { domains: Domain[] } | { path: PathForm };
  /** Different texts that each of several domains holds and none before it. */
  hitsOf: readonly number[];
  /** Different texts, and those that lead somewhere. */
  texts: number;
  hits: number;
  /** Times that a text stands there, and that it leads somewhere. */
  uses: number;
  useHits: number;
  /** Share that would lead somewhere by chance. */
  chance: number;
  gain: number;
  score: number;
  /** Texts that lead nowhere, a few. */
  misses: string[];
  examples: string[];
  /** Texts with the file each stands in, a few hundred. */
  found: readonly { text: string; file: number }[];
  /** How sure it is, from 0 to 1. */
  sure: number;
}

/** Of a field with more different texts, as many are looked at: a share is told within a hundredth and a half. */
const MOST_TEXTS = 4000;
/** In letters: what is longer is a text of its own, and is not cut up. */
const LONGEST = 2000;
/** A domain that fewer of a field's texts are in does not explain it. */
const LEAST_HIT = 0.5;
/** By texts of fields that a domain explains nothing of, chance is told. */
const FOREIGN = 0.3;
/** So many whole texts that lead somewhere are no chance. */
const MOSTLY = 0.8;
/** Cuts that are believed less take single words out of a text. */
const BY_WORDS = 0.9;
/** Explanations that are worse are none. */
const LEAST_SCORE = 0.25;
/** Evidence in nats that tells a reference from chance. */
const LEAST_GAIN = 2.5;

interface Variant {
  field: Field;
  cut: Cut;
  texts: number[];
  samples: { text: string; file: number }[];
  /** Files in which each text stands, a few. */
  files: number[][];
  uses: number;
  byMake: number[];
  hits: Map<number, number>;
  hitsByMake: Map<number, number[]>;
}

export interface Found {
  readings: Reading[];
  /** All readings of a field that are worth a thought, best first. */
  others: Map<Field, Reading[]>;
}

/** Reads the texts of fields once, to hold them against one set of domains after another. */
export function referenceFinder(
  fields: readonly Field[],
  files: Files,
  texts: Texts,
): (domains: readonly Domain[]) => Found {
  const byField = new Map(fields.map((field) => [field, variantsOf(field, texts)]));
  const spread = spreadOf(fields);
  const paths = new Map<Variant, Reading[]>();
  const asPath = (variant: Variant): Reading[] => {
    let found = paths.get(variant);
    if (!found) paths.set(variant, (found = byPath(variant, files, texts)));
    return found;
  };
  return (domains) => {
    const variants = [...byField.values()].flat();
    const index = indexed(domains);
    for (const variant of variants) countHits(variant, texts, index);
    const chance = chances(variants, domains);
    const found: Found = { readings: [], others: new Map() };
    for (const [field, cut] of byField) {
      const candidates = cut.flatMap((variant) => [
        ...byDomains(variant, domains, chance, spread, files, texts),
        ...asPath(variant),
      ]);
      candidates.sort((a, b) => b.score - a.score);
      nameOneSort(candidates);
      // Where whole texts lead somewhere, their words do not.
      if (candidates.some(({ cut: by, hits, texts: of }) => by.pattern === undefined && hits >= of * MOSTLY)) {
        const whole = candidates.filter(({ cut: by }) => by.weight >= BY_WORDS);
        candidates.splice(0, candidates.length, ...whole);
      }
      while (candidates.length > 0 && must(candidates.at(-1)).score < LEAST_SCORE) candidates.pop();
      found.others.set(field, candidates.slice(0, 6));
      found.readings.push(...chosen(candidates, textsOf(field, texts)));
    }
    return found;
  };
}

/** Where things of one sort explain as much as those of all sorts together, they are meant. */
function nameOneSort(candidates: Reading[]): void {
  const [best] = candidates;
  if (!best || 'path' in best.to || best.to.domains[0]?.isPooled !== true) return;
  const isOfOne = ({ to }: Reading): boolean =>
    'domains' in to && to.domains.length === 1 && to.domains[0]?.isPooled !== true && to.domains[0]?.kind !== undefined;
  const at = candidates.findIndex((one) => isOfOne(one) && one.cut === best.cut && one.hits >= best.hits);
  const one = candidates[at];
  if (!one) return;
  candidates.splice(at, 1);
  candidates.unshift({ ...one, score: best.score });
}

/** Domains by the texts in them. */
function indexed(domains: readonly Domain[]): Map<number, number[]> {
  const index = new Map<number, number[]>();
  domains.forEach((domain, at) => {
    for (const text of domain.texts.numbers()) {
      const known = index.get(text);
      if (known) known.push(at);
      else index.set(text, [at]);
    }
  });
  return index;
}

function variantsOf(field: Field, texts: Texts): Variant[] {
  const all: { text: string; number: number }[] = [];
  for (const number of field.texts.numbers()) {
    if (all.length === MOST_TEXTS) break;
    const text = texts.text(number);
    if (texts.make(number) === 'word for nothing' || text.length > LONGEST) continue;
    all.push({ text, number });
  }
  if (all.length === 0) return [];
  return cutsOf(all.map(({ text }) => text)).flatMap((cut): Variant[] => {
    const variant: Variant = {
      field,
      cut,
      texts: [],
      samples: [],
      files: [],
      uses: 0,
      byMake: MAKES.map(() => 0),
      hits: new Map(),
      hitsByMake: new Map(),
    };
    const seen = new Set<number>();
    for (const { text, number } of all) {
      // What stands around the point of a number names nothing.
      if (cut.pattern !== undefined && isNumber(texts.make(number))) continue;
      for (const part of cut.of(text)) {
        const own = cut.pattern === undefined ? number : texts.number(part);
        const make = texts.make(own);
        if (make === 'word for nothing') continue;
        variant.uses += field.texts.count(number);
        if (seen.has(own)) continue;
        seen.add(own);
        variant.texts.push(own);
        variant.samples.push({ text: part, file: field.texts.file(number) });
        variant.files.push(field.texts.files(number));
        const at = MAKES.indexOf(make);
        variant.byMake[at] = (variant.byMake[at] ?? 0) + 1;
      }
    }
    return variant.texts.length === 0 ? [] : [variant];
  });
}

/** Counts of a variant's texts how many each domain holds. */
function countHits(variant: Variant, texts: Texts, index: ReadonlyMap<number, readonly number[]>): void {
  variant.hits.clear();
  variant.hitsByMake.clear();
  for (const own of variant.texts) {
    const domains = index.get(own);
    if (!domains) continue;
    const make = MAKES.indexOf(texts.make(own));
    for (const domain of domains) {
      variant.hits.set(domain, (variant.hits.get(domain) ?? 0) + 1);
      let makes = variant.hitsByMake.get(domain);
      if (!makes) variant.hitsByMake.set(domain, (makes = MAKES.map(() => 0)));
      makes[make] = (makes[make] ?? 0) + 1;
    }
  }
}

const numbersIn = (byMake: readonly number[]): number =>
  byMake.reduce((sum, count, make) => (isNumber(itemAt(MAKES, make)) ? sum + count : sum), 0);

type Chance = (domain: number, makes: readonly number[]) => number;

const SMALL = MAKES.indexOf('small number');
const NUMBER = MAKES.indexOf('number');

/** How often texts of a make are in a domain where it explains nothing. */
function chances(variants: readonly Variant[], domains: readonly Domain[]): Chance {
  const whole = variants.filter(({ cut }) => cut.pattern === undefined);
  const all = MAKES.map((_, make) => whole.reduce((sum, { byMake }) => sum + (byMake[make] ?? 0), 0));
  const foreign = domains.map(() => ({ own: MAKES.map(() => 0), hits: MAKES.map(() => 0) }));
  for (const { field, texts, byMake, hits, hitsByMake } of whole)
    for (const [domain, hit] of hits) {
      const at = must(foreign[domain]);
      const isForeign = hit / texts.length < FOREIGN;
      // Small numbers are everywhere: those of another name count nothing of a domain, all the same.
      const isOfOther = affinity(field.words, must(domains[domain]).words) === 0;
      byMake.forEach((number, make) => {
        if (!isForeign && !(isOfOther && make === SMALL)) at.own[make] = (at.own[make] ?? 0) + number;
        else at.hits[make] = (at.hits[make] ?? 0) + (hitsByMake.get(domain)?.[make] ?? 0);
      });
    }
  return (domain, makes) => {
    const { own, hits } = must(foreign[domain]);
    const total = makes.reduce((sum, number) => sum + number, 0);
    return makes.reduce((sum, number, make) => {
      if (number === 0) return sum;
      const held = (at: number): number => (all[at] ?? 0) - (own[at] ?? 0);
      // Numbers that are not small are rare, and told by all numbers.
      const foreignTexts = held(make) + (make === NUMBER ? held(SMALL) : 0);
      const rate = ((hits[make] ?? 0) + 0.5) / (foreignTexts + 10);
      return sum + (number / total) * Math.min(0.98, rate);
    }, 0);
  };
}

/** Evidence for a domain, in nats: how much likelier the hits are when the field names it than by chance. */
function gainOf(hits: number, texts: number, chance: number): number {
  const share = (hits + 0.5) / (texts + 1);
  const p = Math.min(0.99, Math.max(1e-4, chance));
  if (share <= p) return 0;
  return hits * Math.log(share / p) + (texts - hits) * Math.log((1 - share) / (1 - p));
}

/** Fields with so few different texts are told by how common each of them is. */
const FEW_TEXTS = 3;

/** In what share of the fields, by their names, each text stands: what stands everywhere says little. */
function spreadOf(fields: readonly Field[]): (text: number) => number {
  const names = new Set<string>();
  const inFields = new Map<number, Set<string>>();
  for (const { own, texts } of fields) {
    const name = own.join(' ');
    names.add(name);
    if (texts.size > FEW_TEXTS) continue;
    for (const text of texts.numbers()) {
      const known = inFields.get(text);
      if (known) known.add(name);
      else inFields.set(text, new Set([name]));
    }
  }
  return (text) => ((inFields.get(text)?.size ?? 1) - 1) / names.size;
}

function byDomains(
  variant: Variant,
  domains: readonly Domain[],
  chanceOf: Chance,
  spread: (text: number) => number,
  files: Files,
  texts: Texts,
): Reading[] {
  const { field, cut, texts: own, byMake, hits } = variant;
  // Words of a name say what a thing is like, and name nothing.
  if (cut.weight < BY_WORDS && field.shape && isIdentityName(nameOf(field.shape))) return [];
  const isNumeric = numbersIn(byMake) > own.length / 2;
  const rated = [...hits].flatMap(([at, hit]) => {
    const whole = must(domains[at]);
    // Where the name of the call says that it has a function called, that is what a text there names.
    const domain = whole.naming === 'function' && saysCalled(field) ? { ...whole, quality: 0.95 } : whole;
    if (domain.texts === field.texts || (domain.isNumeric !== isNumeric && !cut.pattern)) return [];
    if (
      field.shape !== undefined &&
      (domain.member === field.shape ||
        domain.places?.includes(field.shape) === true ||
        (domain.member?.key === field.shape.key && (domain.isPooled === true || field.shape.at !== undefined)))
    )
      return [];
    if (saysOwn(variant, domain, files) || saysSame(field, domain)) return [];
    // Objects beside each other have members of the same names.
    if (field.written === 'key' && domain.naming === 'key' && field.shape?.parent === domain.piece?.parent?.parent)
      return [];
    // What stands in front of a sign is no type or function, but what something belongs to.
    if ((domain.naming === 'type' || domain.naming === 'function') && cut.pattern !== undefined && cut.weight < 0.97)
      return [];
    const common = own.length > FEW_TEXTS ? 0 : own.reduce((sum, text) => sum + spread(text), 0) / own.length;
    const chance = Math.max(chanceOf(at, byMake), common);
    const slips = slipsIn(variant, domain, hit, texts);
    return [{ at, domain, hit, slips, chance, ...scored(variant, domain, hit + slips / 2, chance) }];
  });
  rated.sort((a, b) => b.score - a.score);
  const readings: Reading[] = [];
  const isEnough = (more: number): boolean => more >= 2 && more >= own.length * 0.03;
  for (const first of rated.slice(0, 4)) {
    const united = [first.domain];
    const hitsOf = [first.hit];
    let hit = first.hit;
    let chance = first.chance;
    if (first.hit < own.length) {
      // What the first leaves over may be of another domain.
      let left = own.filter((text) => !first.domain.texts.has(text));
      for (let round = 0; round < 3 && left.length > 0; round++) {
        const next = rated
          .filter(
            ({ domain, hit: all }) =>
              isEnough(all) &&
              domain.quality > 0.1 &&
              !united.some((one) => one === domain || (one.piece !== undefined && one.piece === domain.piece)),
          )
          .map((one) => ({ ...one, more: left.filter((text) => one.domain.texts.has(text)).length }))
          .filter(({ more }) => isEnough(more))
          .filter(({ more, chance: by }) => gainOf(more, left.length, by) > 4)
          .sort((a, b) => b.more * b.domain.quality - a.more * a.domain.quality)[0];
        if (!next) break;
        united.push(next.domain);
        hitsOf.push(next.more);
        hit += next.more;
        chance = 1 - (1 - chance) * (1 - next.chance);
        left = left.filter((text) => !next.domain.texts.has(text));
      }
    }
    // A slip of the pen speaks for what is meant, though it leads nowhere.
    const slips = united.length === 1 ? first.slips : 0;
    const gain = gainOf(hit + slips, own.length, chance);
    if ((hit + slips) / own.length < LEAST_HIT || gain < LEAST_GAIN) continue;
    // What brings few of the hits says little of the whole.
    if (first.hit < hit * 0.4) continue;
    const quality = united.reduce((sum, domain, at) => sum + domain.quality * (hitsOf[at] ?? 0), 0) / hit;
    const { score } = scored(variant, { ...first.domain, quality }, hit + slips / 2, chance);
    const has = (text: number): boolean => united.some((one) => one.texts.has(text));
    readings.push({
      field,
      cut,
      to: { domains: united },
      hitsOf,
      texts: own.length,
      hits: hit,
      ...usesOf(variant, texts, (_, number) => has(number)),
      chance,
      gain,
      score: score - 0.03 * (united.length - 1),
      found: variant.samples.slice(0, 200),
      sure: 0,
    });
  }
  return readings;
}

/** Of more texts a slip weighs little; shorter words are near to anything. */
const FEW_FOR_SLIPS = 6;
const LONG_FOR_SLIPS = 4;
const LARGE_FOR_SLIPS = 200;

/** How many of a few texts differ by one letter from a text of a domain that is not among them, where others are in it. */
function slipsIn({ texts: own, samples }: Variant, domain: Domain, hit: number, texts: Texts): number {
  if (own.length > FEW_FOR_SLIPS || hit === own.length || domain.isNumeric || domain.texts.size > LARGE_FOR_SLIPS)
    return 0;
  const meant = [...domain.texts.numbers()]
    .map((number) => texts.text(number))
    .filter((text) => text.length >= LONG_FOR_SLIPS);
  return samples.filter(
    ({ text }, at) => !domain.texts.has(must(own[at])) && meant.some((other) => distance(text, other, 1) === 1),
  ).length;
}

/** Names of calls that have a function called which a text names. */
const CALLED = /^(?:call|invoke|run|timer|after|later|delay|wait|every|schedule|defer|repeat|callback)/i;

/** Whether the name of a call says so. */
export const saysCalled = ({ place }: Field): boolean =>
  place !== undefined && CALLED.test((place as CallField['place']).form.pattern.member);

/** Whether a field is what the file says of itself, and a domain says it again in the same file. */
function saysOwn({ field, texts, samples }: Variant, domain: Domain, files: Files): boolean {
  if (field.texts.size < 2 || field.texts.size / field.texts.total < 0.95) return false;
  if (domain.naming === 'stem' || domain.naming === 'folder') {
    // The file itself, or a folder that it stands in, is called so.
    const same = samples.filter(({ text, file }) => (files.paths[file] ?? '').split(/[/.]/).includes(text)).length;
    return same > texts.length * 0.5;
  }
  // A call itself, seen as a table in the code, or the other way round.
  if ((domain.declaredBy && field.kind?.table) || (field.place && domain.kind?.table)) {
    const here = texts.filter((text, at) => domain.texts.has(text) && domain.texts.file(text) === samples[at]?.file);
    return here.length > domain.texts.size * 0.7;
  }
  if (domain.kind === undefined || domain.kind !== field.kind) return false;
  const levels = isInList(field.shape) ? 1 : 0;
  const same = texts.filter(
    (text, at) => domain.texts.has(text) && domain.texts.file(text) === samples[at]?.file,
  ).length;
  return levels === 0 && same > texts.length * 0.7 && texts.length > 2;
}

/** Whether a field of a thing says what the thing is known by once more. */
function saysSame({ shape, written }: Field, { piece, member }: Domain): boolean {
  if (!shape || !piece || !member || written === 'key' || shape.parent !== piece || member.parent !== piece)
    return false;
  let same = 0;
  let both = 0;
  for (const { values } of piece.samples) {
    const [one, other] = [values.get(shape.key), values.get(member.key)];
    if (one === undefined || other === undefined) continue;
    both++;
    if (one === other) same++;
  }
  return same > both * 0.3;
}

/** Of few texts that come again and again each slip weighs much: how often one of them leads somewhere tells more. */
const FEW_AGAIN = 50;
const TIMES = 3;

function shareOfUses({ field, texts, cut, uses }: Variant, domain: Domain, hit: number): number {
  if (cut.pattern !== undefined || hit === texts.length || texts.length > FEW_AGAIN || uses < texts.length * TIMES)
    return 0;
  let hits = 0;
  for (const text of texts) if (domain.texts.has(text)) hits += field.texts.count(text);
  return hit >= TIMES ? (hits + 0.5) / (uses + 1) : 0;
}

/** How good an explanation is: how many are hit, how good the identity, the size of the domain, shared words. */
function scored(variant: Variant, domain: Domain, hit: number, chance: number): { score: number } {
  const { field, texts, cut } = variant;
  const share = Math.max((hit + 0.5) / (texts.length + 1), shareOfUses(variant, domain, hit));
  // A word in front of what is named says which sort it is.
  const words =
    cut.pattern === undefined
      ? field.words
      : [...field.words, ...wordsOf(cut.pattern.replace(/\\\\.|\\([^)]*\\)/g, ' '))];
  const shared = Math.max(affinity(words, domain.words), 0.4 * affinity(words, domain.around ?? []));
  const size = 1 / (1 + 0.03 * Math.log2(domain.texts.size + 1));
  // A number is the number of something only where its name says so.
  const isSure = chance < 0.03 && hit >= 4 && domain.piece !== field.shape?.parent;
  const named = affinity(field.own, domain.words);
  const numeric = domain.isNumeric
    ? named > 0 || (shared > 0 && cut.pattern !== undefined)
      ? 0.4 + 0.6 * shared
      : isSure
        ? 0.6
        : 0.1
    : 1;
  return {
    score:
      share ** 2 *
      domain.quality ** 0.6 *
      size *
      (1 - 0.6 * Math.min(1, chance)) *
      (1 + 0.25 * shared) *
      numeric *
      (cut.pattern ? cut.weight : 1),
  };
}

const QUALITY_OF_PATHS = 0.8;
const QUALITY_OF_BARE = 0.5;

/** Where texts with signs that no path has lead nowhere, paths are what has none. */
function byPath(variant: Variant, files: Files, texts: Texts): Reading[] {
  const found = byPathOf(variant, files, texts);
  if (variant.cut.pattern !== undefined || !found.some(({ misses }) => misses.some(isNoPath))) return found;
  const kept = variant.samples.flatMap(({ text }, at) => (isNoPath(text) ? [] : [at]));
  const only = <T>(all: readonly T[]): T[] => kept.map((at) => itemAt(all, at));
  const plain = { ...variant, texts: only(variant.texts), samples: only(variant.samples), files: only(variant.files) };
  const better = byPathOf(plain, files, texts);
  const hits = (all: readonly Reading[]): number => Math.max(0, ...all.map((one) => one.hits));
  return hits(better) < hits(found) ? found : better.map((one) => ({ ...one, cut: PLAIN_PATHS }));
}

function byPathOf(variant: Variant, files: Files, texts: Texts): Reading[] {
  const { field, cut, samples, byMake } = variant;
  if (numbersIn(byMake) > samples.length / 2) return [];
  // What is left of a path that was cut leads anywhere.
  if (cut.pattern !== undefined && /[/.]/.test(cut.pattern) && !cut.pattern.startsWith('^(?:[^')) return [];
  const looked = samples
    .slice(0, 400)
    .flatMap(({ text }, at) => (variant.files[at] ?? []).map((file) => ({ text, file: files.paths[file] ?? '' })));
  const written = samples.filter(({ text }) => /[/\\]|\.[A-Za-z]\w{0,7}$/.test(text)).length / samples.length;
  const form = pathForm(looked, files);
  if (!form) return [];
  // Bare words are names of one sort of files, or of none.
  if (written < 0.5 && (form.endings.length > 2 || form.roots.length > 3)) return [];
  const isHit = (text: string, file: number): boolean => fileOf(form, text, files.paths[file] ?? '', files) >= 0;
  // Of a text that stands in several files most must lead somewhere.
  const hits = samples.filter(({ text }, at) => {
    const all = variant.files[at] ?? [];
    return all.filter((file) => isHit(text, file)).length > all.length / 2;
  }).length;
  // A path that fits is no chance; a bare word may well be the name of some file.
  const chance = 0.002 + 0.12 * (1 - written) * (form.anywhere ? 3 : 1);
  const gain = gainOf(hits, samples.length, chance);
  const share = (hits + 0.5) / (samples.length + 1);
  // What a file says of itself is its name.
  const isOwn = (text: string, file: number): boolean => fileOf(form, text, files.paths[file] ?? '', files) === file;
  if (samples.filter(({ text, file }) => isOwn(text, file)).length > hits * 0.7) return [];
  if (share < LEAST_HIT * 0.9 || gain < LEAST_GAIN || hits === 0) return [];
  const quality = written > 0.5 ? QUALITY_OF_PATHS : form.anywhere ? QUALITY_OF_BARE * 0.8 : QUALITY_OF_BARE;
  return [
    {
      field,
      cut,
      to: { path: form },
      hitsOf: [hits],
      texts: samples.length,
      hits,
      ...usesOf(variant, texts, (text, _, file) => isHit(text, file)),
      chance,
      gain,
      score: share ** 2 * quality ** 0.6 * (1 - 0.02 * form.roots.length) * (cut.pattern ? 0.93 : 1),
      found: samples.slice(0, 200),
      sure: 0,
    },
  ];
}

function usesOf(
  { field, cut, texts: own, samples }: Variant,
  texts: Texts,
  isHit: (text: string, number: number, file: number) => boolean,
): Pick<Reading, 'uses' | 'useHits' | 'misses' | 'examples'> {
  let uses = 0;
  let useHits = 0;
  const misses: string[] = [];
  const examples: string[] = [];
  const times = new Map<number, number>();
  if (cut.pattern === undefined) for (const number of own) times.set(number, field.texts.count(number));
  samples.forEach(({ text, file }, at) => {
    const number = must(own[at]);
    const count = times.get(number) ?? 1;
    uses += count;
    if (isHit(text, number, file)) {
      useHits += count;
      if (examples.length < 3) examples.push(text);
    } else if (misses.length < 12) misses.push(text);
  });
  void texts;
  return { uses, useHits, misses, examples };
}

/** The best reading of a field; with it those of other parts of its texts that do not overlap. */
function chosen(candidates: readonly Reading[], written: readonly string[]): Reading[] {
  const [best] = candidates;
  if (!best) return [];
  const readings = [best];
  if (!best.cut.isPartial && !best.cut.every) return readings;
  for (const one of candidates.slice(1)) {
    if (!one.cut.isPartial || readings.length === 3 || one.score < 0.25) continue;
    const isOther = readings.every(({ cut }) => !overlap(cut, one.cut, written));
    if (isOther) readings.push(one);
  }
  return readings;
}

/** Whether two cuts take the same of some text, or one more of it than the other. */
function overlap(one: Cut, other: Cut, written: readonly string[]): boolean {
  return written.some((text) => {
    const others = other.of(text);
    return one.of(text).some((part) => others.some((each) => each.includes(part) || part.includes(each)));
  });
}

/** Some of the texts of a field. */
function textsOf({ texts: bag }: Field, texts: Texts): string[] {
  const some: string[] = [];
  for (const number of bag.numbers()) {
    if (some.length === 60) break;
    some.push(texts.text(number));
  }
  return some;
}
