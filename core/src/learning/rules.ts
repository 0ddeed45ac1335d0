/** What was learned, as rules of the plan language: pieces with what they are known by, and references. */
import { must } from '../helpers/at.js';
import { grouped, type Some } from '../helpers/grouped.js';
import type { Language } from '../reading/plan/plan.js';
import { nameOf as memberName, type Domain } from './domains.js';
import { ruleGroups, type RuleGroup } from './globs.js';
import type { Kind } from './kinds.js';
import type { Alternative } from './questions.js';
import { packageForm } from './packages.js';
import type { PathForm } from './paths.js';
import type { Position } from './positions.js';
import type { Reading } from './references.js';
import { calledBy, isItem, isWithin, KEY, selectorOf, selectorOfAll, sortAbove, step, type Shape } from './shapes.js';
import type { Bag, Texts } from './texts.js';
import type { Trees } from './trees.js';
import type { Wire } from './wires.js';

/** How a learned rule fares. */
export interface Evidence {
  /** The key of the rule in the plan: `files.boats.references.crew`. */
  key: string;
  /** How sure it is that the rule is right, from 0 to 1. */
  sure: number;
  /** Times that a text stands there, and that it leads somewhere. */
  of: number;
  leads: number;
  chance: number;
  examples: string[];
  misses: string[];
  /** The rule in a sentence. */
  says: string;
  /** From what it was learned; undefined for what calls are like. */
  reading?: Reading;
  /** How many places the answer settles when people are asked; none where nothing is open. */
  asks?: number;
  /** What may be meant instead. */
  others?: Alternative[];
}

export interface FileRules {
  name: string;
  rule: Record<string, unknown>;
  evidence: Evidence[];
}

/** A piece that references lead to, with how it is known. */
interface PieceRule {
  kind: Kind;
  piece: Shape;
  id: Domain | undefined;
  named: Domain | undefined;
  space: string;
}

/** Pieces with an identity as good as this are worth a rule though nothing refers to them. */
const GOOD_ENOUGH = 0.6;

export class Naming {
  private readonly pieces = new Map<Shape, PieceRule>();

  /** @param uses how often each domain is named */
  constructor(
    readonly domains: readonly Domain[],
    private readonly uses: ReadonlyMap<Domain, number>,
    united: readonly (readonly Domain[])[],
    objects: ReadonlySet<Shape>,
    readonly all: Texts,
  ) {
    for (const same of grouped(
      domains.filter((domain) => domain.piece && domain.kind),
      (domain) => `${domains.findIndex((one) => one.piece === domain.piece)}`,
    )) {
      const rated = [...same].sort(
        (a, b) => (this.uses.get(b) ?? 0) - (this.uses.get(a) ?? 0) || b.quality - a.quality,
      );
      const worth = rated.filter(
        (one) => (uses.get(one) ?? 0) > 0 || (one.quality >= GOOD_ENOUGH && one.isPooled !== true),
      );
      const isName = ({ member }: Domain): boolean =>
        member !== undefined && /name|title|label/i.test(calledBy(member));
      // Objects have names that several may have; what is theirs alone is their identity.
      const isObject = objects.has(must(same[0].piece));
      // What many have is a name, however it is called: an identity is the thing's own.
      const isOwn = ({ texts, piece, naming }: Domain): boolean => {
        const again = texts.total - texts.size;
        // Files of one name stand in folders of their own.
        if (again > 0 && (naming === 'stem' || naming === 'folder')) return false;
        // What comes again in other files, and never in one, is known in its file alone.
        const isLocal = again > 1 && texts.again === 0 && (piece?.files ?? 0) > 2;
        return again <= Math.max(1, texts.total * 0.1) && !isLocal;
      };
      const id = isObject
        ? worth.find((one) => !isName(one) && isOwn(one))
        : worth[0] && isOwn(worth[0])
          ? worth[0]
          : undefined;
      const others = worth.filter((one) => one !== id);
      const named =
        (isObject ? others.find(isName) : undefined) ??
        (id === undefined ? worth[0] : undefined) ??
        others.find((one) => (uses.get(one) ?? 0) > 0) ??
        others.find(isName);
      const first = id ?? named;
      if (first)
        this.pieces.set(must(first.piece), { kind: must(first.kind), piece: must(first.piece), id, named, space: '' });
    }
    const pooled = domains.filter((one) => one.isPooled === true && (uses.get(one) ?? 0) > 0);
    const sorts = pooled.map((one) => [
      one,
      ...domains.filter(
        ({ kind, member, isPooled }) => isPooled !== true && kind === one.kind && member?.key === one.member?.key,
      ),
    ]);
    this.giveSpaces(sorts, united);
    this.giveDeclared(united);
    this.keepApart();
    this.callByName(united);
  }

  /**
   * Things of different sorts that carry an identity under one name share a space. What a field names beside each other
   * it names by their spaces, unless these are so many that nobody would list them, and nothing is called alike.
   */
  private giveSpaces(sorts: readonly (readonly Domain[])[], united: readonly (readonly Domain[])[]): void {
    const root = new Map<Shape, Shape>();
    const texts = new Map<Shape, Set<number>>();
    const top = (piece: Shape): Shape => {
      const above = root.get(piece) ?? piece;
      return above === piece ? piece : top(above);
    };
    const textsOf = (piece: Shape, domain: Domain): Set<number> => {
      let own = texts.get(piece);
      if (!own) texts.set(piece, (own = new Set(domain.texts.numbers())));
      return own;
    };
    const unite = (all: readonly Domain[], always: boolean): void => {
      const [first, ...others] = all.filter(({ piece }) => piece && this.pieces.has(piece));
      for (const other of others) {
        const [one, two] = [top(must(must(first).piece)), top(must(other.piece))];
        if (one === two) continue;
        const [many, few] = [textsOf(one, must(first)), textsOf(two, other)];
        if (!always && areAlike(many, few)) continue;
        root.set(two, one);
        for (const text of few) many.add(text);
      }
    };
    for (const all of sorts) unite(all, true);
    for (const all of united) if (all.length > MOST_SPACES) unite(all, false);
    const names = new Map<Shape, string>();
    const taken = new Set<string>();
    // What nobody names leaves its name to the others.
    const named = [...this.pieces.values()];
    const inOrder = [...named.filter((one) => this.isKnownBy(one)), ...named.filter((one) => !this.isKnownBy(one))];
    for (const rule of inOrder) {
      const of = top(rule.piece);
      let name = names.get(of);
      if (name === undefined) {
        const wanted = (calledBy(rule.piece) || rule.kind.name).replace(/[^\p{L}\p{N}]+/gu, ' ').trim() || 'things';
        name = wanted;
        for (let number = 2; taken.has(name); number++) name = `${wanted} ${number}`;
        taken.add(name);
        names.set(of, name);
      }
      rule.space = name;
    }
  }

  /** Things of one space that are called alike have names, and no identities: what stands around them tells them apart. */
  private keepApart(): void {
    for (const same of grouped(
      [...this.pieces.values()].filter(({ id }) => id !== undefined),
      ({ space }) => space,
    )) {
      const texts = new Set<number>();
      let count = 0;
      for (const { id } of same)
        for (const text of must(id).texts.numbers()) {
          texts.add(text);
          count++;
        }
      const isPooled = same.some(({ id }) => id?.isPooled);
      if (same.length === 1 || isPooled || count - texts.size <= Math.max(1, count * 0.02)) continue;
      for (const rule of same) {
        rule.named = rule.named === undefined || !this.isUsed(rule.named) ? rule.id : rule.named;
        rule.id = undefined;
      }
    }
  }

  /** Where some things that a field names have names alone, all of them are found by their names. */
  private callByName(united: readonly (readonly Domain[])[]): void {
    for (const { space, id } of this.pieces.values()) if (id === undefined) this.byName.add(space);
    const groups = united.map((all) => [
      ...new Set(all.flatMap(({ piece }) => (piece && this.of(piece)?.space) ?? [])),
    ]);
    for (let before = -1; before < this.byName.size;) {
      before = this.byName.size;
      for (const spaces of groups)
        if (spaces.some((space) => this.byName.has(space))) for (const space of spaces) this.byName.add(space);
    }
    // What things are named by most is their name then.
    for (const rule of this.pieces.values()) {
      const { id, named, space } = rule;
      if (id && named && this.byName.has(space) && this.usesOf(id) > this.usesOf(named)) rule.named = id;
    }
  }

  private usesOf(domain: Domain): number {
    return this.uses.get(domain) ?? 0;
  }

  /** What calls make known has a space of its own, or shares that of what is named with it. */
  private giveDeclared(united: readonly (readonly Domain[])[]): void {
    for (const domain of this.domains) {
      if (!domain.declaredBy || !this.isUsed(domain)) continue;
      const others = united.filter((all) => all.includes(domain)).flat();
      const known = others.flatMap((one) => this.declared.get(one) ?? (one.piece && this.of(one.piece)?.space) ?? []);
      this.declared.set(domain, known[0] ?? domain.declaredBy.place.form.head);
    }
  }

  /** The spaces of what calls make known, where anything names it. */
  readonly declared = new Map<Domain, string>();

  of(piece: Shape): PieceRule | undefined {
    return this.pieces.get(piece);
  }

  /** The only text of a domain that stands more than once. */
  again({ texts }: Domain): string | undefined {
    const [one, ...others] = [...texts.numbers()].filter((text) => texts.count(text) > 1);
    return one === undefined || others.length > 0 ? undefined : this.all.text(one);
  }

  in(kind: Kind): PieceRule[] {
    return [...this.pieces.values()].filter((rule) => rule.kind === kind);
  }

  private isKnownBy({ id, named }: PieceRule): boolean {
    return this.isUsed(id) || this.isUsed(named);
  }

  private spaceOf(domain: Domain): string | undefined {
    return this.declared.get(domain) ?? (domain.piece && this.of(domain.piece)?.space);
  }

  isUsed(domain: Domain | undefined): boolean {
    return domain !== undefined && (this.uses.get(domain) ?? 0) > 0;
  }

  /** Words for nothing that stand at a place: `none`, `-`. What is called so is something all the same. */
  nothingIn(texts: Bag): string[] {
    const words = [...texts.numbers()].filter((number) => this.all.make(number) === 'word for nothing');
    return words
      .filter((number) => !this.domains.some((one) => one.texts.has(number) && this.isUsed(one)))
      .map((number) => this.all.text(number))
      .filter((text) => text !== '')
      .sort();
  }

  /** Whether the things of a space are found by their names. */
  areNamed(space: string): boolean {
    return this.byName.has(space);
  }
  private readonly byName = new Set<string>();

  /** Whether things are called by this domain, and not known by it. */
  isNameOf(domain: Domain): boolean {
    const rule = domain.piece && this.of(domain.piece);
    return rule !== undefined && (rule.named ?? rule.id) === domain;
  }

  /** How a plan says that a text names a thing of one of these domains. */
  target(domains: readonly Domain[]): Record<string, unknown> {
    const [first] = domains;
    const rule = first?.piece && this.of(first.piece);
    if (first?.naming === 'type') return { by: 'type' };
    if (first?.naming === 'function') return { by: 'function', in: 'project' };
    if (first?.naming === 'declared') return { by: 'id', space: this.declared.get(first) };
    if (!rule) return { by: 'id' };
    const isId = domains.every((domain) => {
      const one = domain.piece && this.of(domain.piece);
      return !one || (!this.areNamed(one.space) && (one.id === domain || one.named !== domain));
    });
    const spaces = [...new Set(domains.flatMap((one) => this.spaceOf(one) ?? []))];
    const isLocal = first.texts.size < first.texts.total * 0.7;
    return {
      by: isId ? 'id' : 'name',
      space: spaces.length === 1 ? spaces[0] : spaces,
      ...(isLocal && { nearest: 'folder' }),
    };
  }
}

/** A field that names more sorts than that names them as one. */
const MOST_SPACES = 6;
/** Things of which so many are called like others are of two sorts; what is called alike by mistake is less. */
const ALIKE = 0.005;

function areAlike(many: ReadonlySet<number>, few: ReadonlySet<number>): boolean {
  let alike = 0;
  for (const text of few) if (many.has(text)) alike++;
  return alike > Math.max(1, (many.size + few.size) * ALIKE);
}

function pathTarget({ from, roots, endings, anywhere, schemes, decode }: PathForm): Record<string, unknown> {
  return {
    by: 'path',
    ...(from === 'file' && { from }),
    ...(roots.length > 0 && { roots }),
    ...(endings.length > 0 && { endings }),
    ...(anywhere && { anywhere, nearest: 'folder' }),
    ...(Object.keys(schemes).length > 0 && { schemes }),
    ...(decode && { decode }),
  };
}

/** The rules of all structured files. */
export function fileRules(
  kinds: readonly Kind[],
  readings: readonly Reading[],
  naming: Naming,
  trees: Trees,
  wires: readonly Wire[],
  positions: readonly Position[],
  paths: readonly string[],
  ruleOf: (language: Language) => string,
): FileRules[] {
  const taken = new Set<string>();
  return ruleGroups(
    kinds.filter(({ table }) => !table),
    paths,
  ).map((group) => {
    const name = free(nameOf(group), taken);
    return fileRule(name, group, readings, naming, trees, wires, positions, ruleOf, paths);
  });
}

/** The rules of tables in scripts, by language, of those that name something or are named. */
export function tableRules(
  kinds: readonly Kind[],
  readings: readonly Reading[],
  naming: Naming,
  trees: Trees,
  wires: readonly Wire[],
  paths: readonly string[],
  ruleOf: (language: Language) => string,
): { language: Language; name: string; rule: Record<string, unknown>; evidence: Evidence[] }[] {
  const taken = new Set<string>();
  // What files as such give is of several kinds, as data files are.
  const places = grouped(
    kinds.filter(({ table }) => table),
    ({ table }) => `${table?.language}\n${table?.place}\n${table?.name}`,
  );
  const groups = places.flatMap((same) => (same.length === 1 ? [{ kinds: same, globs: [] }] : ruleGroups(same, paths)));
  return groups.flatMap((group) => {
    const table = must(must(group.kinds[0]).table);
    const name = free(nameOf(group), taken);
    const { rule, evidence } = fileRule(name, group, readings, naming, trees, wires);
    const isNamed = group.kinds
      .flatMap((kind) => naming.in(kind))
      .some(({ id, named }) => naming.isUsed(id) || naming.isUsed(named));
    if (!isNamed && rule.references === undefined) return [];
    const { match, pieces, references, events } = rule;
    return [
      {
        language: table.language,
        name,
        rule: {
          [table.place]: table.name,
          through: table.through,
          ...(group.globs.length > 0 && { files: match }),
          ...(pieces !== undefined && { pieces }),
          ...(references !== undefined && { references }),
          ...(events !== undefined && { events }),
        },
        evidence: evidence.map((one) => ({
          ...one,
          key: one.key.replace(`files.${name}`, `scripts.${ruleOf(table.language)}.tables.${name}`),
        })),
      },
    ];
  });
}

function nameOf({ kinds, globs }: RuleGroup): string {
  if (kinds.length === 1) return must(kinds[0]).name;
  const biggest = [...kinds].sort((a, b) => b.files.length - a.files.length)[0];
  return must(biggest ?? kinds[0]).name || (globs[0] ?? 'data');
}

function free(wanted: string, taken: Set<string> | Record<string, unknown>): string {
  const has = (one: string): boolean => (taken instanceof Set ? taken.has(one) : one in taken);
  let name = wanted;
  for (let number = 2; has(name); number++) name = `${wanted} ${number}`;
  if (taken instanceof Set) taken.add(name);
  return name;
}

function fileRule(
  name: string,
  { kinds, globs }: RuleGroup,
  readings: readonly Reading[],
  naming: Naming,
  trees: Trees,
  wires: readonly Wire[],
  positions: readonly Position[] = [],
  ruleOf: (language: Language) => string = String,
  paths: readonly string[] = [],
): FileRules {
  const [main] = kinds;
  const manifest = kinds.length === 1 ? packageForm(must(main), readings, paths, naming.all) : undefined;
  const as = manifest
    ? 'package'
    : (kinds.map((kind) => trees.roles.get(kind)).find((role) => role !== undefined) ?? 'data asset');
  const rule: Record<string, unknown> = { match: globs.length === 1 ? globs[0] : globs, as };
  if (!must(main).isToldByEnding) rule.format = must(main).format;
  const { lines } = must(main);
  if (lines) rule.lines = { ...(lines.skip !== undefined && { skip: lines.skip }), kinds: lines.kinds };
  const within = (kind: Kind, at: string): string =>
    kinds.length > 1 && kind.tag && at.startsWith('$..') ? `$${step(kind.tag)}[*]${at.slice(1)}` : at;
  const pieces: Record<string, unknown> = {};
  const keys = new Map<Shape, string>();
  for (const kind of kinds)
    for (const one of naming.in(kind)) {
      const isFile = one.piece === kind.shape;
      const isUsed = naming.isUsed(one.id) || naming.isUsed(one.named);
      if (!isUsed && (one.id?.naming === 'stem' || one.id?.naming === 'folder')) continue;
      if (isFile && kinds.length === 1 && !kind.table) {
        rule.id = sourceOf(one.id, one.piece);
        const called = one.named ?? (naming.areNamed(one.space) ? one.id : undefined);
        if (called) rule.named = sourceOf(called, one.piece);
        rule.space = one.space;
        continue;
      }
      // Of files that one rule reads, those of a kind are known by the element that holds all.
      const at = isFile ? (kind.tag ? `$${step(kind.tag)}[0]` : '$') : within(kind, selectorOf(one.piece));
      // Anywhere in the files of this kind is nowhere in those of others.
      if (at.startsWith('$..[?') && kinds.length > 1) continue;
      const named = one.named ?? one.id;
      const key = free(calledBy(one.piece) || kind.name, pieces);
      keys.set(one.piece, key);
      pieces[key] = {
        at,
        kind: trees.objects.some(({ piece }) => piece === one.piece) ? 'object' : 'record',
        ...(one.id && { id: sourceOf(one.id, one.piece, isFile ? kind.tag : '') }),
        ...(named && { named: sourceOf(named, one.piece, isFile ? kind.tag : '') }),
        space: one.space,
        ...objectRule(trees, one.piece, naming),
      };
    }
  for (const { kind, piece } of trees.objects)
    if (kinds.includes(kind) && !naming.of(piece)) {
      const key = free(calledBy(piece) || kind.name, pieces);
      keys.set(piece, key);
      pieces[key] = { at: selectorOf(piece), kind: 'object', ...objectRule(trees, piece, naming) };
    }
  const events: Record<string, unknown> = {};
  for (const wire of wires)
    if (kinds.includes(wire.kind)) events[free(calledBy(wire.item) || 'wires', events)] = wireRule(wire);
  const all = readings.filter((one) => one.field.kind !== undefined && kinds.includes(one.field.kind));
  const own = new Set([
    manifest?.needs,
    ...wires.flatMap(({ from, to }) => [from?.reading, to?.reading]),
    ...trees.objects.flatMap(({ parent, children }) => [parent, children]),
    ...all.filter(
      ({ field, to }) =>
        'domains' in to &&
        to.domains[0]?.naming === 'type' &&
        trees.objects.some(({ parts }) => parts.some(({ item }) => item === field.shape?.parent)),
    ),
    ...trees.objects.flatMap(({ madeFrom, parts }) => [madeFrom, ...parts.map(({ script }) => script)]),
    // What a wire calls is looked for where it leads.
    ...all.filter(({ field, to }) => namesFunction(to) && wires.some(({ item }) => isWithin(field.shape, item))),
  ]);
  const here = positions.filter(({ kind }) => kinds.includes(kind));
  for (const { list } of here) {
    const item = must(list.item);
    if (keys.has(item)) continue;
    const key = free(calledBy(list), pieces);
    keys.set(item, key);
    pieces[key] = {
      at: selectorOf(item),
      kind: 'record',
      named: [
        // What has a name is called by it.
        ...[...item.members.values()]
          .filter((one) => one.values > 0 && NAME.test(one.key))
          .map((one) => selectorOf(one, item)),
        { join: [{ text: `${calledBy(list)} ` }, { index: true }] },
      ],
    };
  }
  for (const one of all) if (here.some(({ field }) => field === one.field.shape)) own.add(one);
  const derived = all.filter((one) => !own.has(one) && isDerived(one, trees));
  const mine = all.filter((one) => !own.has(one) && !derived.includes(one));
  const references: Record<string, unknown> = {};
  const evidence: Evidence[] = [...keys].map(([piece, key]) => {
    const tree = trees.objects.find((one) => one.piece === piece);
    const read = tree
      ? [tree.madeFrom, ...tree.parts.map(({ script }) => script)].filter((one) => one !== undefined)
      : [];
    const id = naming.of(piece)?.id;
    return pieceEvidence(`files.${name}.pieces.${key}`, read, id, id && naming.again(id), naming.isUsed(id));
  });
  if (manifest) {
    Object.assign(rule, manifest.rule);
    evidence.push({
      ...evidenceOf(manifest.needs, `“${memberName(must(manifest.needs.field.shape))}” in ${name}`),
      key: `files.${name}.needs`,
    });
  }
  for (const { field, list, sure, why } of here) {
    const key = free(calledBy(field) || 'positions', references);
    references[key] = { at: selectorOf(field), by: 'index', of: must(keys.get(must(list.item))) };
    evidence.push({
      key: `files.${name}.references.${key}`,
      sure,
      of: field.values,
      leads: field.values,
      chance: 0,
      examples: [],
      misses: [],
      says: `“${memberName(field)}” in ${name} is a position in ${calledBy(list)}: ${why}`,
    });
  }
  const extendsRule = (reading: Reading, piece: Shape): Record<string, unknown> => {
    const { field, cut } = reading;
    return {
      field: selectorOf(must(field.shape), piece),
      ...targetOf(reading, naming),
      ...(cut.pattern !== undefined && { pattern: cut.pattern }),
      ...((cut.every || isItem(must(field.shape))) && { every: true }),
    };
  };
  const extendsKey = (piece: Shape): string => {
    const key = keys.get(piece);
    return `files.${name}${key === undefined ? '' : `.pieces.${key}`}.extends`;
  };
  for (const reading of derived) {
    const piece = must(domainOf(reading)?.piece);
    const key = keys.get(piece);
    const holder = key === undefined ? rule : (pieces[key] as Record<string, unknown>);
    holder.extends = extendsRule(reading, piece);
    evidence.push({
      ...evidenceOf(reading, `“${memberName(must(reading.field.shape))}” in ${name}`),
      key: extendsKey(piece),
    });
  }
  for (const same of grouped(
    mine,
    (reading) =>
      `${reading.field.shape ? calledBy(reading.field.shape) : ''}\n${reading.field.written}\n${reading.cut.pattern ?? ''}\n${JSON.stringify(targetOf(reading, naming))}`,
  )) {
    for (const alike of grouped(same, placeBelowSort)) {
      const [reading] = alike;
      const shape = must(reading.field.shape);
      const key = free(calledBy(shape) || 'values', references);
      const at = within(must(reading.field.kind), selectorOfAll(alike.map(({ field }) => must(field.shape))));
      references[key] = {
        at: reading.field.written === 'key' ? `${at}.*` : at,
        ...(reading.field.written === 'key' && { written: 'key' }),
        ...targetOf(reading, naming),
        ...(reading.cut.pattern !== undefined && { pattern: reading.cut.pattern }),
        ...(reading.cut.every && { every: true }),
      };
      const piece = domainOf(reading)?.piece;
      const mayDescend = alike.length === 1 && piece !== undefined && mayBeDerived(reading, trees);
      evidence.push({
        ...evidenceOfAll(alike, `“${memberName(shape)}” in ${name}`),
        key: `files.${name}.references.${key}`,
        ...(mayDescend && {
          others: [
            {
              says: `what each of them is derived from, with all that this one says`,
              of: reading.uses,
              leads: reading.useHits,
              rule: extendsRule(reading, piece),
              key: extendsKey(piece),
            },
          ],
        }),
      });
    }
  }
  if (Object.keys(pieces).length > 0) rule.pieces = pieces;
  if (Object.keys(references).length > 0) rule.references = references;
  if (Object.keys(events).length > 0) rule.events = events;
  const embedded: Record<string, unknown> = {};
  for (const { shape, pattern, language } of kinds.flatMap(({ inside }) => inside))
    embedded[free((shape && calledBy(shape)) || 'code', embedded)] = {
      ...(shape && { at: selectorOf(shape) }),
      ...(pattern !== undefined && { pattern }),
      script: ruleOf(language),
    };
  if (Object.keys(embedded).length > 0) rule.embedded = embedded;
  return { name, rule, evidence };
}

/** Where a reading's text stands below a thing of some sort, for those that one rule can say; apart for all others. */
function placeBelowSort(reading: Reading): string {
  const shape = must(reading.field.shape);
  const sort = sortAbove(shape);
  const isSure = reading.sure >= SURE && reading.useHits >= reading.uses * SURE;
  return sort ? `${selectorOf(must(sort.parent))}\n${selectorOf(shape, sort)}\n${isSure}` : selectorOf(shape);
}

/** What is as sure as that, and leads somewhere as often, is told as an error. */
const SURE = 0.95;

function evidenceOfAll(readings: Some<Reading>, place: string): Omit<Evidence, 'key'> {
  const most = readings.reduce((one, other) => (other.uses > one.uses ? other : one));
  const uses = readings.reduce((sum, one) => sum + one.uses, 0);
  const whole: Reading = {
    ...most,
    uses,
    useHits: readings.reduce((sum, one) => sum + one.useHits, 0),
    sure: readings.reduce((sum, one) => sum + one.sure * one.uses, 0) / uses,
    misses: readings.flatMap(({ misses }) => misses),
  };
  return { ...evidenceOf(whole, place), reading: most };
}

function evidenceOf(reading: Reading, place: string): Omit<Evidence, 'key'> {
  const { sure, uses, useHits, chance, examples, misses } = reading;
  return { sure, of: uses, leads: useHits, chance, examples, misses, reading, says: saysOf(reading, place) };
}

/** Names that people give to what a record is derived from, and those that may mean something else as well. */
const DERIVED =
  /^(?:extends?|inherits?(?:_?from)?|base(?:_?(?:class|type|record|id|name))?|derive[sd]?_?(?:from)?|proto(?:type)?|parent_?(?:class|type|template)|super)$/i;
const MAY_BE_DERIVED = /^(?:like|template|copy_?(?:of|from)|copies|based_?on|variant_?of|archetype|parent)$/i;

const domainOf = ({ to }: Reading): Domain | undefined => ('domains' in to ? to.domains[0] : undefined);

/** Whether a record says by a reading what it is derived from: another of its kind. */
function isDerived(reading: Reading, trees: Trees): boolean {
  const { shape } = reading.field;
  const piece = domainOf(reading)?.piece;
  if (!shape || !piece || !mayBeDerived(reading, trees)) return false;
  return DERIVED.test(memberName(shape)) || goesDown(reading, piece);
}

/** Whether another of its kind is named by what people call that from which something is derived. */
function mayBeDerived(reading: Reading, trees: Trees): boolean {
  const piece = domainOf(reading)?.piece;
  const { shape, written } = reading.field;
  return (
    piece !== undefined &&
    shape !== undefined &&
    written === 'value' &&
    !('places' in reading.field) &&
    reading.field.kind?.table === undefined &&
    isWithin(shape, piece) &&
    (DERIVED.test(memberName(shape)) || MAY_BE_DERIVED.test(memberName(shape))) &&
    (reading.to as { domains: Domain[] }).domains.every((one) => one.piece === piece) &&
    !trees.objects.some((one) => one.piece === piece)
  );
}

/** Whether hardly anything comes back to itself by a reading; what goes in circles is no descent. */
function goesDown({ field, cut, to }: Reading, piece: Shape): boolean {
  const [domain] = 'domains' in to ? to.domains : [];
  const id = domain?.naming === 'key' ? KEY : domain?.member?.key;
  const { shape } = field;
  if (id === undefined || shape === undefined || (shape.parent !== piece && shape.parent?.parent !== piece))
    return false;
  const bases = new Map<string, string[]>();
  for (const { values } of piece.samples) {
    const [own, base] = [values.get(id), values.get(shape.key)];
    if (own !== undefined && base !== undefined) bases.set(own, cut.of(base));
  }
  if (bases.size < field.texts.total / 2) return false;
  if (![...bases.keys()].some((one) => comesBack(one, bases))) return true;
  // A mistake may lead in a circle: where what others are derived from stands before them, all but it is descent.
  const order = new Map([...piece.samples].map(({ values }, at) => [values.get(id), at]));
  const later = [...bases].filter(([own, all]) => all.some((base) => (order.get(base) ?? 0) >= (order.get(own) ?? 0)));
  return bases.size >= FEWEST_IN_ORDER && later.length <= Math.max(1, bases.size * FEW_LATER);
}

const FEWEST_IN_ORDER = 8;
const FEW_LATER = 0.1;

/** Whether a record comes back to itself. */
function comesBack(one: string, bases: ReadonlyMap<string, readonly string[]>): boolean {
  const seen = new Set<string>();
  const open = [...(bases.get(one) ?? [])];
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    if (at === one) return true;
    if (seen.has(at)) continue;
    seen.add(at);
    open.push(...(bases.get(at) ?? []));
  }
  return false;
}

const NAME = /^(?:name|title|label)$/i;

const namesFunction = (to: Reading['to']): boolean => 'domains' in to && to.domains[0]?.naming === 'function';

/** How the things of a piece rule are told apart, and how the files fare that they name: prefabs and scripts. */
function pieceEvidence(
  key: string,
  read: readonly Reading[],
  id: Domain | undefined,
  again: string | undefined,
  isUsed: boolean,
): Evidence {
  const sum = (of: (one: Reading) => number): number => read.reduce((total, one) => total + of(one), 0);
  const own = key.split('.').at(-1) ?? '';
  const apart = id?.naming === 'member' || id?.naming === 'key' ? id : undefined;
  const [of, leads] =
    read.length > 0
      ? [sum(({ uses }) => uses), sum(({ useHits }) => useHits)]
      : [apart?.texts.total ?? 0, apart?.texts.size ?? 0];
  const says = [
    ...(apart
      ? [
          `“${own}” are told apart by their ${apart.member ? memberName(apart.member) : 'keys'}: ${count(apart.texts.size)} of ${count(apart.texts.total)} are different${again === undefined ? '' : `, “${again}” stands more than once`}`,
        ]
      : []),
    ...(read.length > 0
      ? [`${apart ? 'they' : `“${own}”`} name prefabs and scripts: ${count(leads)} of ${count(of)} lead somewhere`]
      : []),
  ];
  return {
    key,
    sure: Math.min(
      0.995,
      ...read.map(({ sure }) => sure),
      ...(apart ? [apart.quality < WELL_TOLD ? 0.6 + 0.3 * apart.quality : isUsed ? 0.97 : BY_ITSELF] : []),
    ),
    of,
    leads,
    chance: 0,
    examples: read.flatMap(({ examples }) => examples).slice(0, 3),
    misses: read.flatMap(({ misses }) => misses),
    says: says.join('; ') || `“${own}” are things of their own`,
  };
}

/** An identity as good as this is one. */
const WELL_TOLD = 0.75;
/** That nothing is known by another is less sure: it may be known in its file alone. */
const BY_ITSELF = 0.9;

export function targetOf({ field, to }: Reading, naming: Naming): Record<string, unknown> {
  const nothing = naming.nothingIn(field.texts);
  return {
    ...('path' in to ? pathTarget(to.path) : naming.target(to.domains)),
    ...(nothing.length > 0 && { empty: ['', ...nothing] }),
  };
}

/** What a reading names, as it follows “names”. */
export const saysTarget = ({ to }: Pick<Reading, 'to'>): string =>
  'path' in to ? 'a file' : to.domains.map(({ title }) => title).join(' or ');

/** What a place names, with how many of its texts lead somewhere and how many would by chance. */
export function saysOf({ to, uses, useHits, chance }: Reading, place: string): string {
  const names = saysTarget({ to });
  const byChance = Math.round(chance * 100);
  return `${place} names ${names}: ${count(useHits)} of ${count(uses)} lead somewhere, by chance it would be ${byChance < 1 ? 'hardly any' : `${byChance} in 100`}`;
}

const count = (number: number): string => String(number).replace(/\B(?=(\d{3})+$)/g, ',');

/** How a plan says where the text stands that a thing is known by. */
function sourceOf(domain: Domain | undefined, piece: Shape, tag = ''): unknown {
  if (!domain) return undefined;
  if (domain.naming === 'key') return { key: true };
  if (domain.naming === 'stem') return { file: 'stem' };
  if (domain.naming === 'folder') return { file: 'path', pattern: '([^/]+)/[^/]+$' };
  const way = selectorOf(must(domain.member), piece);
  // Seen from the element that holds all, and not from the file.
  return tag && way.startsWith(`$${step(tag)}[*]`) ? `$${way.slice(`$${step(tag)}[*]`.length)}` : way;
}

function wireRule({ item, event, from, to, handler, when, verb }: Wire): Record<string, unknown> {
  const end = ({ at, reading }: { at: string; reading: Reading }): unknown =>
    reading.cut.pattern === undefined ? at : { select: at, pattern: reading.cut.pattern };
  return {
    at: selectorOf(item),
    ...(when && { when }),
    event,
    ...(from && { from: end(from) }),
    ...(to && { to: end(to) }),
    ...(handler !== undefined && { handler }),
    ...(verb === 'sends' && { from: { text: '' } }),
    ...(verb === 'listens to' && { to: { text: '' } }),
  };
}

/** The source of what a reading cuts out of a text. */
function textAt({ field, cut }: Reading, from: Shape): unknown {
  const at = selectorOf(must(field.shape), from);
  return cut.pattern === undefined ? at : { select: at, pattern: cut.pattern };
}

/** What the rule of an object says of its prefab and of what is attached to it. */
function objectRule(trees: Trees, piece: Shape, naming: Naming): Record<string, unknown> {
  const tree = trees.objects.find((one) => one.piece === piece);
  if (!tree) return {};
  const field = (reading: Reading, from: Shape): Record<string, unknown> => ({
    field: selectorOf(must(reading.field.shape), from),
    ...targetOf(reading, naming),
    ...(reading.cut.pattern !== undefined && { pattern: reading.cut.pattern }),
  });
  const parts = tree.parts.map(({ at, type, script, values, item }) => ({
    at,
    ...(type !== undefined && { type }),
    ...(script && { script: field(script, item) }),
    ...(values !== undefined && { values }),
  }));
  return {
    ...(tree.parent && { parent: { field: textAt(tree.parent, piece), by: 'id' } }),
    ...(tree.children && { children: { at: selectorOf(must(tree.children.field.shape), piece), by: 'id' } }),
    ...(tree.madeFrom && { madeFrom: field(tree.madeFrom, piece) }),
    ...(parts.length > 0 && { parts: parts.length === 1 ? parts[0] : parts }),
    ...(tree.labels && { labels: selectorOf(tree.labels, piece) }),
  };
}
