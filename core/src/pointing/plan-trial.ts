/** What a project would be with another plan, beside what it is, and what one rule of that plan finds in it. */
import type { Analysis } from '../analyse.js';
import { cellAt, itemAt } from '../helpers/at.js';
import { GRIPS } from '../model/link.js';
import { titleOf, type Graph } from '../model/graph.js';
import type { Range } from '../model/piece.js';
import { placesIn } from './places.js';
import { viewFinding, type FindingView } from '../trace/finding-view.js';

interface Change {
  before: number;
  after: number;
}

interface Some {
  count: number;
  /** The first of them, as they are listed. */
  first: FindingView[];
}

export interface PlanTrial {
  pieces: Change;
  links: Change;
  /** Links that lead nowhere. */
  lost: Change;
  /** Findings that there would be, and those that would be no more. */
  come: Some;
  go: Some;
  rule?: RuleTrial;
}

/** What a rule finds. */
export interface RuleTrial {
  key: string;
  /** Places that it finds, and in how many files. */
  found: number;
  files: number;
  /** Different texts that stand there, where texts stand there. */
  texts: number;
  /** Those that lead nowhere first. */
  places: RulePlace[];
  lost: number;
}

export interface RulePlace {
  file: string;
  range: Range;
  /** What stands there, empty where that is known at run time only. */
  text: string;
  /** What it leads to, where it leads to something. */
  leads?: string;
  isLost: boolean;
}

const MOST_SHOWN = 5;

/** @param rule key of a rule of the plan that was tried, as `calls: stage.find($name)` */
export function compareTrial(before: Analysis, after: Analysis, rule?: string): PlanTrial {
  return {
    pieces: { before: before.readiness.pieces, after: after.readiness.pieces },
    links: { before: before.readiness.links, after: after.readiness.links },
    lost: { before: before.readiness.byGrip.lost, after: after.readiness.byGrip.lost },
    come: beyond(after, before),
    go: beyond(before, after),
    ...(rule !== undefined && { rule: itemAt(ruleTrials(after, [rule]), 0) }),
  };
}

/** Findings of one that the other does not have. */
function beyond(one: Analysis, other: Analysis): Some {
  const known = new Set(other.findings.map(({ fingerprint }) => fingerprint));
  const more = one.findings.filter(({ fingerprint }) => !known.has(fingerprint));
  return {
    count: more.length,
    first: more.slice(0, MOST_SHOWN).map((finding) => viewFinding(one.linked.graph, finding)),
  };
}

/** What some rules find, in the order of their keys. */
export function ruleTrials({ linked: { plan, facts, graph } }: Analysis, keys: readonly string[]): RuleTrial[] {
  const found = new Map(keys.map((key): [string, Found[]] => [key, []]));
  for (const fact of facts)
    for (const { rule, range, text } of placesIn(fact, plan)) found.get(rule)?.push({ file: fact.file, range, text });
  const ends = endsAt(
    graph,
    new Set([...found.values()].flatMap((places) => places.map(({ file, range }) => spotOf(file, range)))),
  );
  return [...found].map(([key, places]) => trialOf(key, places, ends));
}

function trialOf(key: string, found: readonly Found[], ends: ReadonlyMap<string, End>): RuleTrial {
  const places = found.map((place): RulePlace => {
    const { title, isLost } = ends.get(spotOf(place.file, place.range)) ?? { isLost: false };
    return { ...place, ...(title !== undefined && { leads: title }), isLost };
  });
  const lost = places.filter(({ isLost }) => isLost);
  const held = places.filter(({ isLost, leads }) => !isLost && leads !== undefined);
  const rest = places.filter(({ isLost, leads }) => !isLost && leads === undefined);
  const texts = new Set(places.map(({ text }) => text));
  texts.delete('');
  return {
    key,
    found: places.length,
    files: new Set(places.map(({ file }) => file)).size,
    texts: texts.size,
    places: [...differing(lost), ...differing([...held, ...rest])],
    lost: lost.length,
  };
}

/** The first few of different texts. */
function differing(places: readonly RulePlace[]): RulePlace[] {
  const seen = new Set<string>();
  const isNew = ({ text }: RulePlace): boolean => !seen.has(text) && seen.add(text).size > 0;
  const [first, again] = [places.filter(isNew), places.filter(({ text }) => text === '')];
  return [...new Set([...first, ...again])].slice(0, MOST_SHOWN);
}

type Found = Pick<RulePlace, 'file' | 'range' | 'text'>;

/** Where something begins, as a key. */
export function spotOf(file: string, { line, column }: Pick<Range, 'line' | 'column'>): string {
  return `${file}\n${line}\n${column}`;
}

/** Where a link is written, as a key. */
export function spotOfLink({ links, texts }: Graph, link: number): string {
  const [line, column] = [cellAt(links.line, link), cellAt(links.column, link)];
  return spotOf(itemAt(texts, cellAt(links.file, link)), { line, column });
}

const LOST = GRIPS.indexOf('lost');

interface End {
  title?: string;
  isLost: boolean;
}

/** What the links at some places end on, and whether one of them leads nowhere. */
function endsAt(graph: Graph, wanted: ReadonlySet<string>): Map<string, End> {
  const { links, linkCount } = graph;
  const ends = new Map<string, End>();
  for (let at = 0; at < linkCount; at++) {
    const spot = spotOfLink(graph, at);
    if (!wanted.has(spot)) continue;
    const end = ends.get(spot) ?? { isLost: false };
    ends.set(spot, end);
    const to = cellAt(links.to, at);
    if (links.grip[at] === LOST) end.isLost = true;
    else if (to >= 0) end.title ??= titleOf(graph, to);
  }
  return ends;
}
