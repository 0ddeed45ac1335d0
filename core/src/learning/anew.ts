/**
 * Learning again, beside a plan that stands: what is learned of places that it does not read yet, and which of its rules do
 * not hold. Nothing that a person wrote or refused is changed: what is found is proposed.
 */
import { push } from '../helpers/push.js';
import { must } from '../helpers/at.js';
import type { Linked } from '../linking/linked.js';
import type { Range } from '../model/piece.js';
import { placesIn } from '../pointing/places.js';
import { spotOf, spotOfLink } from '../pointing/plan-trial.js';
import type { FileFacts } from '../reading/facts.js';
import type { Plan } from '../reading/plan/plan.js';
import { PlanEdit } from '../pointing/edit.js';
import { decide, rulesOf, type PutRule } from './decide.js';
import type { Evidence } from './rules.js';

/** A plan that was learned now, and what it finds. */
export interface LearnedNow {
  text: string;
  plan: Plan;
  rules: readonly Omit<Evidence, 'reading'>[];
  facts: readonly FileFacts[];
}

/** A rule that the plan does not have. */
export interface Proposal extends Omit<Evidence, 'reading' | 'others' | 'asks'> {
  /** The key under which it was learned. */
  learnedAs: string;
  /** As it would stand in the plan, under its key. */
  rule: Readonly<Record<string, unknown>>;
  /** What speaks for the rules inside of it, by their keys, for files that nothing reads. */
  inner?: NonNullable<PutRule['inner']>;
}

/** A rule of the plan of which much leads nowhere. */
export interface Failing {
  key: string;
  of: number;
  leads: number;
  misses: string[];
  /** What stands there as was learned now, where most of it leads somewhere. */
  instead?: { says: string; of: number; leads: number; rule: Readonly<Record<string, unknown>> };
}

/** Of what a learned rule finds, so much must be new for the rule to be proposed. */
const NEW_SHARE = 0.5;
/** Fewer places are no rule. */
const FEWEST = 2;
/** A rule of which more leads nowhere does not hold. */
const MOST_LOST = 0.2;
const FEWEST_LOST = 3;
const MOST_MISSES = 5;

/**
 * What the plan could say besides. Rules for files that nothing reads come whole, with all that is learned of them.
 * @param facts what the plan finds
 */
export function proposalsFor(planText: string, plan: Plan, facts: readonly FileFacts[], now: LearnedNow): Proposal[] {
  const ruleOf = new Map(facts.map(({ file, kind, rule }) => [file, { isScript: kind === 'script', rule }]));
  const known = spotsIn(facts);
  const refused = new Set(plan.learned.refused);
  const evidence = new Map(now.rules.map((one) => [one.key, one]));
  const ruleAt = rulesOf(now.text);
  const taken = rulesOf(planText);
  const spaces = spacesIn(plan);
  const proposals: Proposal[] = [];
  const propose = (
    key: string,
    from: Omit<Evidence, 'reading'>,
    rule: unknown,
    known = spaces,
    inner?: Proposal['inner'],
  ): void => {
    if (refused.has(key) || !isRule(rule)) return;
    const { sure, of, leads, chance, says, examples, misses } = from;
    const told = { key, learnedAs: from.key, sure: rounded(sure), of, leads, chance, says, examples, misses };
    proposals.push({ ...told, rule: inSpaces(rule, known), ...(inner && { inner }) });
  };

  const whole = wholeFiles(now, ruleOf);
  // They keep the spaces of each other.
  const more = new Set([...spaces, ...[...whole.keys()].flatMap((name) => spacesOf(ruleAt(`files.${name}`)))]);
  for (const [name, paths] of whole) {
    const key = freeKey('files', name, taken);
    const own = now.rules.filter((one) => one.key.startsWith(`files.${name}.`));
    const inner = own.map(({ key: at, sure, of, leads }): [string, { sure: number; of: number; leads: number }] => [
      key + at.slice(`files.${name}`.length),
      { sure: rounded(sure), of, leads },
    ]);
    const count = paths.length;
    const says = `nothing reads ${count === 1 ? 'a file' : `${count} files`} such as ${paths[0]}: ${own.length} ${own.length === 1 ? 'rule' : 'rules'} for what stands there`;
    const sure = Math.max(0, ...own.map((one) => one.sure));
    const counts = { of: count, leads: count, chance: 0, examples: paths.slice(0, MOST_MISSES), misses: [] };
    if (own.length > 0)
      propose(
        key,
        { key: `files.${name}`, sure, says, ...counts },
        ruleAt(`files.${name}`),
        more,
        Object.fromEntries(inner),
      );
  }

  for (const [key, places] of placesByRule(now)) {
    const learned = evidence.get(key);
    const [, , name = '', group = ''] = /^(files|scripts)\.(.+)\.(references|events)\.[^.]+$/.exec(key) ?? [];
    const isCall = key.startsWith('calls: ');
    if (!learned || (!isCall && group === '') || whole.has(name)) continue;
    const fresh = places.filter(({ file, range }) => ruleOf.has(file) && !known.has(spotOf(file, range)));
    if (fresh.length < FEWEST || fresh.length < places.length * NEW_SHARE) continue;
    if (isCall) {
      if (taken(key) === undefined) propose(key, learned, ruleAt(key));
      continue;
    }
    // The rule goes to the one that reads most of the files.
    const home = mostOften(
      fresh
        .flatMap(({ file }) => ruleOf.get(file) ?? [])
        .filter(({ isScript }) => !isScript)
        .map(({ rule }) => rule),
    );
    if (home === undefined) continue;
    propose(freeKey(`files.${home}.${group}`, key.slice(key.lastIndexOf('.') + 1), taken), learned, ruleAt(key));
  }
  return proposals.sort((a, b) => b.of - a.of);
}

/** The plan with what was proposed, told as learned: nobody has looked at it yet. */
export function withProposals(planText: string, proposals: readonly Proposal[]): string {
  const put = proposals.map(({ key, rule }) => ({ key, rule }));
  const edit = new PlanEdit(decide(planText, { take: [], refuse: [], put }));
  for (const { key, sure, of, leads, inner = { [key]: { sure, of, leads } } } of proposals)
    for (const [at, evidence] of Object.entries(inner)) edit.set(['learned', 'rules', at], evidence);
  return edit.text;
}

/** Rules of the plan that do not hold, the worst first. */
export function failingIn({ rules, facts, plan, losses, graph }: Linked, now: LearnedNow): Failing[] {
  const lostAt = new Set([...losses.keys()].map((link) => spotOfLink(graph, link)));
  const failing = new Map<string, { spots: string[]; misses: Set<string> }>();
  for (const [key, { links, lost }] of rules)
    if (lost >= FEWEST_LOST && lost > (links + lost) * MOST_LOST) failing.set(key, { spots: [], misses: new Set() });
  if (failing.size === 0) return [];
  for (const fact of facts)
    for (const { rule, range, text } of placesIn(fact, plan)) {
      const one = failing.get(rule);
      const spot = spotOf(fact.file, range);
      if (!one || !lostAt.has(spot)) continue;
      one.spots.push(spot);
      if (text !== '') one.misses.add(text);
    }
  const learnedAt = new Map<string, string>();
  for (const [key, places] of placesByRule(now))
    for (const { file, range } of places) learnedAt.set(spotOf(file, range), key);
  const evidence = new Map(now.rules.map((one) => [one.key, one]));
  const ruleAt = rulesOf(now.text);
  return [...failing]
    .map(([key, { spots, misses }]): Failing => {
      const { links, lost } = must(rules.get(key));
      const other = evidence.get(mostOften(spots.flatMap((spot) => learnedAt.get(spot) ?? [])) ?? '');
      const rule = other && ruleAt(other.key);
      const isBetter = other !== undefined && other.leads > other.of * (1 - MOST_LOST);
      return {
        key,
        of: links + lost,
        leads: links,
        misses: [...misses].slice(0, MOST_MISSES),
        ...(isBetter &&
          isRule(rule) && {
            instead: { says: other.says, of: other.of, leads: other.leads, rule: inSpaces(rule, spacesIn(plan)) },
          }),
      };
    })
    .sort((a, b) => b.of - b.leads - (a.of - a.leads));
}

function rounded(sure: number): number {
  return Math.round(sure * 1000) / 1000;
}

function isRule(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** Learned rules for files of which the plan reads hardly any, with the files that it does not. */
function wholeFiles({ facts }: LearnedNow, ruleOf: ReadonlyMap<string, unknown>): Map<string, string[]> {
  const unread = new Map<string, string[]>();
  const read = new Map<string, number>();
  for (const { file, kind, rule } of facts) {
    if (kind === 'script') continue;
    if (ruleOf.has(file)) read.set(rule, (read.get(rule) ?? 0) + 1);
    else push(unread, rule, file);
  }
  return new Map([...unread].filter(([rule, paths]) => paths.length > (read.get(rule) ?? 0)));
}

function placesByRule({ facts, plan }: LearnedNow): Map<string, { file: string; range: Range }[]> {
  const places = new Map<string, { file: string; range: Range }[]>();
  for (const fact of facts)
    for (const { rule, range } of placesIn(fact, plan)) push(places, rule, { file: fact.file, range });
  return places;
}

/** Places of which the plan says something. */
function spotsIn(facts: readonly FileFacts[]): Set<string> {
  const spots = new Set<string>();
  for (const { file, script, ...data } of facts) {
    // Whatever is told of data has its place; of code only what calls and texts mean.
    const walk = (value: unknown): void => {
      if (typeof value !== 'object' || value === null) return;
      if ('range' in value) spots.add(spotOf(file, value.range as Range));
      for (const inner of Object.values(value)) walk(inner);
    };
    walk(data);
    for (const { range } of script?.operations ?? []) spots.add(spotOf(file, range));
    for (const { range } of script?.literals ?? []) spots.add(spotOf(file, range));
  }
  return spots;
}

/** A key under which nothing stands yet. */
function freeKey(at: string, wanted: string, taken: (key: string) => unknown): string {
  let key = `${at}.${wanted}`;
  for (let number = 2; taken(key) !== undefined; number++) key = `${at}.${wanted} ${number}`;
  return key;
}

function mostOften<Name extends string>(names: readonly Name[]): Name | undefined {
  const counts = new Map<Name, number>();
  for (const name of names) counts.set(name, (counts.get(name) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
}

function spacesIn({ files, scripts, calls }: Plan): Set<string> {
  return new Set([...spacesOf(files), ...spacesOf(scripts), ...spacesOf(calls)]);
}

/** Spaces that pieces are put into. */
function spacesOf(value: unknown): string[] {
  if (typeof value !== 'object' || value === null) return [];
  const own =
    'space' in value && typeof value.space === 'string' && ('kind' in value || 'as' in value || 'means' in value);
  return [...(own ? [value.space as string] : []), ...Object.values(value).flatMap(spacesOf)];
}

/** A rule without the spaces that the plan does not have: what they hold is known there without. */
function inSpaces(rule: Readonly<Record<string, unknown>>, known: ReadonlySet<string>): Record<string, unknown> {
  const inside = (value: unknown): unknown =>
    Array.isArray(value) ? value.map(inside) : isRule(value) ? inSpaces(value, known) : value;
  return Object.fromEntries(
    Object.entries(rule).flatMap(([key, value]) => {
      if (key !== 'space') return [[key, inside(value)]];
      const spaces = [value].flat().filter((one) => known.has(String(one)));
      return spaces.length === 0 ? [] : [[key, spaces.length === 1 ? spaces[0] : spaces]];
    }),
  );
}
