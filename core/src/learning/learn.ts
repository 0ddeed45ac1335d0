/** Learns how the files of a project are read, from the files themselves: see docs/learning.md. */
import { baseName, stem } from '../reading/source.js';
import { formatOf, readByLines, readTree, type Format } from '../reading/tree/read-tree.js';
import type { Tree } from '../reading/tree/node.js';
import { must } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import type { Language, LinesForm } from '../reading/plan/plan.js';
import {
  callFields,
  channelsOf,
  declaredDomains,
  formsOf,
  memberChannels,
  type MemberChannel,
  type CallField,
  type CallForm,
  type CallRow,
  type Channel,
} from './calls.js';
import { codeInBlocks, codeInTexts, type Stretch } from './code-inside.js';
import { agree, sureOf } from './confidence.js';
import { settle, type Code } from './code.js';
import { domainsOf, inCode, type Domain } from './domains.js';
import { fieldsOf } from './fields.js';
import { endingsOf, joinUntold, Kinds, type Kind } from './kinds.js';
import { lineKinds } from './line-kinds.js';
import { Files } from './paths.js';
import { positionsOf, type Position } from './positions.js';
import { isPooled, pooledDomains, pooledFields, settlePools } from './pooled.js';
import { referenceFinder, type Field, type Reading } from './references.js';
import { languageOf, Scripts, scriptsFrom, type Gathered } from './scripts.js';
import { fold, isItem, type Shape } from './shapes.js';
import { tellSorts } from './sorts.js';
import { Bag, Texts } from './texts.js';
import { knownTogether } from './together.js';
import { treesOf, type Trees } from './trees.js';
import { wiresOf, type Wire } from './wires.js';
import { isIdentityName } from './words.js';

/** A file of the project; without a text it is known by its path alone. */
export interface LearnFile {
  path: string;
  text?: string;
}

export interface Learned {
  kinds: Kind[];
  domains: Domain[];
  readings: Reading[];
  others: Map<Field, Reading[]>;
  code: Code;
  forms: CallForm[];
  channels: Channel[];
  memberEvents: MemberChannel[];
  /** Places in calls at which texts stand. */
  calls: CallField[];
  wires: Wire[];
  positions: Position[];
  trees: Trees;
  files: Files;
  texts: Texts;
}

export type { CallField, CallRow };

/** Texts are looked at so far to tell a format by what stands in them. */
const LOOKED_AT = 4000;

/** The format of a text whose ending says nothing; undefined where it is none of them. */
function formatIn(text: string): Format | undefined {
  const start = text
    .slice(0, LOOKED_AT)
    .replace(/^\uFEFF/, '')
    .trimStart();
  const isClean = (tree: Tree): boolean => tree.documents.length > 0 && tree.problems.length === 0;
  if (/^<(?:\?xml|!--|[A-Za-z])/.test(start)) return isClean(readTree(text, 'xml')) ? 'xml' : undefined;
  if (/^[[{]/.test(start) && isClean(readTree(text, 'json'))) return 'json';
  if (/^(?:[;#][^\n]*\n\s*)*\[[^\]\n]+\]\s*\n/.test(start)) {
    const toml = readTree(text, 'toml');
    return isClean(toml) ? 'toml' : isClean(readTree(text, 'ini')) ? 'ini' : undefined;
  }
  return undefined;
}

/** Files that belong to how a team works, and not to the game. */
const ASIDE = /(?:^|\/)(?:node_modules|\.git)\/|(?:^|\/)(?:package(?:-lock)?|tsconfig[^/]*|glue-trace[^/]*)\.json$/;

/** Whether learning looks into a script. */
export function isGathered(path: string): boolean {
  return languageOf(path) !== undefined && !ASIDE.test(path);
}

/** Texts of none of the formats, by their endings: what kinds of lines they have is told by all of them together. */
class OwnTexts {
  private readonly byEnding = new Map<string, { path: string; file: number; text: string }[]>();

  add(path: string, file: number, text: string): void {
    const ending = endingsOf(path);
    if (ending === '' || text.length > LONGEST_OWN || NO_DATA.test(path)) return;
    const known = this.byEnding.get(ending);
    if (known) known.push({ path, file, text });
    else this.byEnding.set(ending, [{ path, file, text }]);
  }

  /** @param addCode takes code that stands in blocks between the lines */
  addTo(
    kinds: Kinds,
    known: readonly Language[],
    addCode: (all: readonly Stretch[], language: Language) => void,
  ): void {
    for (const same of this.byEnding.values())
      // Files of one ending may be of different forms in different folders.
      for (const all of byForm(same)) {
        const inside = codeInBlocks(all, known);
        const lines = lineKinds(inside?.without ?? all.map(({ text }) => text));
        if (!lines) continue;
        if (inside) {
          lines.inside = inside.found;
          addCode(inside.code, inside.found.language);
        }
        const form: LinesForm = {
          kinds: Object.fromEntries(
            Object.entries(lines.kinds).map(([name, { pattern, holds }]) => [name, { pattern, holds: holds === true }]),
          ),
          ...(lines.skip !== undefined && { skip: lines.skip }),
        };
        for (const { path, file, text } of all)
          kinds.add(path, file, 'lines', false, readByLines(text, form).documents, lines);
      }
  }
}

/** In letters: larger texts of no format are no data that people write. */
const LONGEST_OWN = 16_000_000;
/** Texts that are code of another language, or for people. */
const NO_DATA =
  /\.(?:md|txt|rst|html?|css|scss|c|cc|cpp|h|hpp|java|rs|go|rb|php|sh|bat|cmake|mk|am|in|po|pot|frag|vert|glsl|hlsl|shader|log|patch|diff|svg|license|gitignore|tex)$/i;

type Own = { path: string; file: number; text: string };

/** Texts that begin their lines alike. */
function byForm(all: readonly Own[]): Own[][] {
  const whole = lineKinds(all.map(({ text }) => text));
  if (whole || all.length === 1) return [[...all]];
  return grouped(all, ({ path }) => baseName(path).replace(/\d+/g, ''));
}

/** @param files all files of the project. The grammars of their scripts must have been prepared. */
export function learn(files: Iterable<LearnFile>): Learned {
  const learning = new Learning();
  for (const file of files) learning.add(file);
  return learning.finish();
}

/** Files of a project as they are read, one after the other, and what is learned of them in the end. */
export class Learning {
  private readonly texts = new Texts();
  private readonly kinds = new Kinds(this.texts);
  private readonly ownTexts = new OwnTexts();
  private readonly scripts = new Scripts(this.texts);
  private readonly paths: string[] = [];

  /** Files are told by their order. */
  add({ path, text }: LearnFile): void {
    const at = this.paths.push(path) - 1;
    if (text === undefined || ASIDE.test(path)) return;
    const language = languageOf(path);
    if (language) return this.scripts.add(text, at, language);
    const told = formatOf(path);
    const format = told ?? (baseName(path).includes('.') ? formatIn(text) : undefined);
    if (!format) return this.ownTexts.add(path, at, text);
    const { documents } = readTree(text, format);
    this.kinds.add(path, at, format, told !== undefined, documents);
  }

  /** @param apart the first of the scripts, where they were gathered on another thread: here they were added by path alone */
  finish(apart?: Gathered): Learned {
    const { texts, kinds, paths } = this;
    const scripts = apart ? scriptsFrom(apart, texts) : this.scripts;
    if (apart) scripts.join(this.scripts);
    const known = [...new Set(scripts.code.files.values())];
    const addCode = (stretches: readonly Stretch[], language: Language): void => {
      for (const { text, file } of stretches) scripts.add(text, file, language, true);
    };
    this.ownTexts.addTo(kinds, known, addCode);
    const all = [...joinUntold(kinds.kinds(paths), paths), ...scripts.tables.all(paths)];
    const stems = new Set(paths.flatMap((path) => (languageOf(path) ? [stem(path), baseName(path)] : [])));
    const isPart = (text: string): boolean => scripts.code.types.has(text) || stems.has(text);
    for (const kind of all) {
      tellSorts(kind.shape, isPart);
      fold(kind.shape, texts, kind.format === 'xml');
      if (kind.lines?.inside) kind.inside.push(kind.lines.inside);
      if (kind.table || kind.lines) continue;
      const { found, code: stretches } = codeInTexts(kind.shape, texts, known);
      kind.inside.push(...found);
      for (const [language, some] of stretches) addCode(some, language);
    }
    return learnedOf(all, scripts.code, paths, texts);
  }
}

/** Steps 2 to 5, over all that was read. */
function learnedOf(all: Kind[], code: Code, paths: string[], texts: Texts): Learned {
  const domains = [
    ...all.flatMap((kind) => [...domainsOf(kind, paths, texts), ...pooledDomains(kind, texts)]),
    ...typesDomain(code, texts),
    ...functionsDomain(code, texts),
  ];
  settle(code, texts);
  const memberEvents = memberChannels(code);
  const forms = formsOf(code, new Set(memberEvents.flatMap(({ from }) => from)));
  const calls = callFields(forms, code);
  const fields: Field[] = [...all.flatMap((kind) => [...fieldsOf(kind, texts), ...pooledFields(kind)]), ...calls];
  domains.push(...declaredDomains(calls));
  const index = new Files(paths);
  const find = referenceFinder(fields, index, texts);
  const first = find(domains);
  // What turns out to name other things tells none of its own apart.
  let own = withoutReferences(domains, first.readings);
  let found = own.length === domains.length ? first : find(own);
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const together = knownTogether(own, found.readings, texts);
    if (together === own) break;
    own = together;
    found = find(own);
  }
  const { readings: best, others } = found;
  // What a call makes known and others name is no event, though functions stand in what describes it.
  const declaring = new Set(
    best.flatMap(({ to }) =>
      'path' in to ? [] : to.domains.flatMap(({ declaredBy }) => declaredBy?.place.form ?? []),
    ),
  );
  const channels = channelsOf(
    calls.filter(({ place }) => !declaring.has(place.form)),
    new Set(best.filter(isSurely).map(({ field }) => field)),
    texts,
  );
  // Events are no records, though some file may name each of them once.
  const ends = new Set(channels.flatMap((channel) => channel.fields));
  const known = identitiesOfSorts(own);
  const readings = settlePools(best).filter(
    (one) => !ends.has(one.field as CallField) && !areLabels(one) && !isOneOf(one, known),
  );
  const identities = new Map(own.flatMap((one) => (one.member ? [[one.member, one.quality] as const] : [])));
  for (const reading of readings) reading.sure = sureOf(reading, identityOf(reading, identities));
  agree(readings);
  for (const reading of readings)
    if (reading.sure > BELOW_ERRORS && isMissKnown(reading, own, texts)) reading.sure = BELOW_ERRORS;
  const byShape = new Map(
    readings.flatMap((one) =>
      one.field.shape && one.field.written === 'value' ? [[one.field.shape, one] as const] : [],
    ),
  );
  const trees = treesOf(all, byShape, code, index, texts);
  const eventNames = new Set([
    ...channels.flatMap((one) => [...one.texts].map((text) => texts.text(text))),
    ...memberEvents.flatMap(({ events }) => [...events]),
  ]);
  const wires = wiresOf(all, channels, eventNames, trees, byShape, code, texts);
  return {
    kinds: all,
    domains: own,
    readings,
    others,
    calls,
    code,
    forms,
    channels,
    memberEvents,
    trees,
    wires,
    positions: positionsOf(all),
    files: index,
    texts,
  };
}

/** Just less sure than what is told as an error. */
const BELOW_ERRORS = 0.94;
/** Domains as likely as this make their things known. */
const KNOWN = 0.3;

/** Whether most of what leads nowhere by a reading is known elsewhere: then it is not all that is named there. */
function isMissKnown({ misses, to }: Reading, domains: readonly Domain[], texts: Texts): boolean {
  if (misses.length === 0 || 'path' in to) return false;
  const others = domains.filter(
    (one) => !to.domains.includes(one) && one.quality >= KNOWN && (one.naming === 'key' || one.naming === 'member'),
  );
  const known = misses.filter((text) => {
    const number = texts.number(text);
    return others.some((one) => one.texts.has(number));
  });
  return known.length > misses.length / 2;
}

/** Each round may show more sorts that are named beside those that are known together. */
const MOST_ROUNDS = 4;

/** Types that scripts declare. */
function typesDomain({ types }: Code, texts: Texts): Domain[] {
  if (types.size === 0) return [];
  const names = new Bag();
  for (const [name, { file }] of types) names.add(texts.number(name), file);
  return [inCode('type', names, 0.9, ['type', 'class', 'script'], 'a type of the scripts')];
}

/** Functions of one name that are still told apart by it. */
const MOST_ALIKE = 2;

/** Functions that scripts declare, by their names. */
function functionsDomain({ functions }: Code, texts: Texts): Domain[] {
  if (functions.size < 2) return [];
  const names = new Bag();
  // What many types have is told by whose it is, and not by its name.
  for (const [name, { file, count }] of functions) if (count <= MOST_ALIKE) names.add(texts.number(name), file);
  const words = ['function', 'call', 'callback', 'handler', 'method', 'action', 'run', 'script', 'command'];
  return [inCode('function', names, 0.5, words, 'a function of the scripts')];
}

/** Whether a call is about files, types or objects, and not about texts of its own. */
function isSurely({ to, score, cut }: Reading): boolean {
  if (cut.pattern !== undefined && cut.weight < 0.97) return false;
  if ('path' in to) return true;
  const [domain] = to.domains;
  return (
    domain?.naming === 'type' ||
    domain?.naming === 'declared' ||
    (domain?.naming === 'function' && score > 0.45) ||
    (score > 0.45 && domain !== undefined && domain.naming !== 'member') ||
    (score > 0.5 && domain?.member !== undefined && isIdentityName(domain.member.key))
  );
}

/**
 * Whether a field and what it would name are the same words on other objects: lists of few texts that come again and
 * again are labels, and nobody's identity.
 */
function areLabels({ field: { shape }, to }: Reading): boolean {
  const [domain] = 'path' in to ? [] : to.domains;
  const isList = (one: Shape | undefined): boolean =>
    one !== undefined && (isItem(one) || (one.parent !== undefined && isItem(one.parent)));
  return (
    shape !== undefined &&
    domain?.member !== undefined &&
    domain.member.key === shape.key &&
    isList(shape) &&
    domain.texts.size <= MOST_LABELS &&
    domain.texts.size < domain.texts.total
  );
}

/** Where the things of sorts say by what each of them is known: that others are called so as well makes it no reference. */
function identitiesOfSorts(domains: readonly Domain[]): Set<Shape> {
  return new Set(
    domains
      .filter(({ quality }) => quality >= MADE_KNOWN)
      .flatMap(({ member, places = [] }) => [...(member ? [member] : []), ...places])
      .filter(({ key, parent }) => parent?.sort !== undefined && isIdentityName(key)),
  );
}

const isOneOf = ({ field: { shape, written } }: Reading, shapes: ReadonlySet<Shape>): boolean =>
  shape !== undefined && written === 'value' && shapes.has(shape);

/** More different ones are no labels. */
const MOST_LABELS = 12;

/** So many of a domain's texts must be in a better one to be its references. */
const MOSTLY = 0.8;

/** How likely it is that what stands at a place tells its own things apart, from 0 to 1. */
const identityOf = ({ field }: Reading, identities: ReadonlyMap<Shape, number>): number =>
  (field.written === 'value' && field.shape && identities.get(field.shape)) || 0;

/** A place that names other things as well as this makes none known. */
const MADE_KNOWN = 0.4;

function areMostlyIn(texts: Bag, domains: readonly Domain[]): boolean {
  let named = 0;
  for (const text of texts.numbers()) if (domains.some((to) => to.texts.has(text))) named++;
  return named >= texts.size * MOSTLY;
}

/** Fewer texts may be called like others by chance. */
const FEWEST_NAMED = 5;

/** Whether a place among those of a pool surely names things of other files. */
function isReference({ kind }: Domain, reading: Reading | undefined): boolean {
  if (!reading || 'path' in reading.to || reading.score < SURELY || reading.texts < FEWEST_NAMED) return false;
  const others = reading.to.domains.filter((to) => to.kind !== undefined && to.kind !== kind);
  return others.length === reading.to.domains.length && areMostlyIn(must(reading.field.shape).texts, others);
}
const SURELY = 0.5;

/** Whether a table in code says more of things that are known elsewhere: its keys are their names, and none of its own. */
function saysMore({ kind, texts, quality }: Domain, reading: Reading | undefined): boolean {
  if (kind?.table === undefined || !reading || 'path' in reading.to) return false;
  const isOwn = ({ quality: of, member }: Domain): boolean =>
    of >= quality || (member !== undefined && isIdentityName(member.key));
  const better = reading.to.domains.filter((to) => to.kind !== kind && to.texts.size >= texts.size && isOwn(to));
  return better.length > 0 && areMostlyIn(texts, better);
}

/** Domains whose texts are references to a better one. */
function withoutReferences(domains: readonly Domain[], readings: readonly Reading[]): Domain[] {
  const byShape = new Map(
    readings.filter(({ field }) => field.written === 'value').map((one) => [one.field.shape, one]),
  );
  const ofPlaces = new Map(readings.map((one) => [one.field, one]));
  const ofPools = readings.filter(({ field }) => isPooled(field));
  const ofKeys = new Map(
    readings.flatMap((one) => (one.field.written === 'key' ? [[one.field.shape, one] as const] : [])),
  );
  return domains.filter((domain) => {
    if (domain.naming === 'key') return !saysMore(domain, ofKeys.get(domain.piece) ?? ofKeys.get(domain.piece?.parent));
    // What a call is given may be named elsewhere, and made known there.
    if (domain.declaredBy) return (ofPlaces.get(domain.declaredBy)?.score ?? 0) < MADE_KNOWN;
    // Things of which some only name others are not all known by this.
    if (domain.places?.some((place) => isReference(domain, byShape.get(place)))) return false;
    const reading =
      domain.isPooled === true
        ? ofPools.find(({ field }) => field.kind === domain.kind && field.shape?.key === domain.member?.key)
        : domain.member && byShape.get(domain.member);
    if (!reading || reading.score < 0.3) return true;
    if ('path' in reading.to) return domain.quality > 0.6;
    const better = reading.to.domains.filter((to) => to.quality > domain.quality * 1.15);
    return better.length === 0 || !areMostlyIn(domain.texts, better);
  });
}
