/** What a project would be with another plan, beside what it is, and what one rule of that plan finds in it. */
import type { Analysis } from '../analyse.js';
import { cellAt, entryOf, itemAt } from '../helpers/at.js';
import { callKey } from '../linking/rule-counts.js';
import { GRIPS } from '../model/link.js';
import { titleOf, type Graph } from '../model/graph.js';
import type { Range } from '../model/piece.js';
import type { FileFacts, Value } from '../reading/facts.js';
import { ruleKey } from '../reading/plan/content.js';
import type { Plan } from '../reading/plan/plan.js';
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
    eachPlace(fact, plan, (key, range, text) => void found.get(key)?.push({ file: fact.file, range, text }));
  const ends = endsAt(graph, new Set([...found.values()].flatMap((places) => places.map(spotOf))));
  return [...found].map(([key, places]) => trialOf(key, places, ends));
}

function trialOf(key: string, found: readonly Found[], ends: ReadonlyMap<string, End>): RuleTrial {
  const places = found.map((place): RulePlace => {
    const { title, isLost } = ends.get(spotOf(place)) ?? { isLost: false };
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

/** Visits all that the rules of a plan found in a file, with the key of each rule and the text that stands there. */
export function eachPlace(
  fact: FileFacts,
  plan: Plan,
  visit: (rule: string, range: Range, text: string) => void,
): void {
  for (const { rule, range, name, id } of fact.pieces) visit(ruleKey(fact, 'pieces', rule), range, name || id);
  for (const { rule, range, text } of fact.references) visit(ruleKey(fact, 'references', rule), range, text);
  for (const { rule, range, event } of fact.events) visit(ruleKey(fact, 'events', rule), range, event);
  for (const { rule, range, to } of fact.connections) visit(ruleKey(fact, 'connections', rule), range, to);
  for (const { rule, script } of fact.attachments) visit(ruleKey(fact, 'attachments', rule), script.range, script.text);
  if (!fact.script) return;
  const { operations, literals, types, functions } = fact.script;
  for (const { rule, range, arguments: given, isHanded } of operations)
    if (!isHanded)
      visit(
        callKey(itemAt(plan.calls, rule).call),
        range,
        Object.values(given)
          .map(textIn)
          .find((text) => text !== '') ?? '',
      );
  for (const { rule, range, text } of literals) visit(`literals.${rule}`, range, text);
  for (const type of types)
    for (const { exposed, name, range } of type.fields) if (exposed) visit(`scripts.${fact.rule}.exposed`, range, name);
  const { moments } = fact.kind === 'script' ? entryOf(plan.scripts, fact.rule) : { moments: {} };
  const called = new Set(Object.values(moments).flat());
  for (const { name, range } of functions) if (called.has(name)) visit(`scripts.${fact.rule}.moments`, range, name);
}

function textIn(value: Value): string {
  // Of a list of texts the first tells where it is.
  if (value.is === 'any') return value.of.map(textIn).find((text) => text !== '') ?? '';
  return value.is === 'text' ? value.text : value.is === 'constant' ? value.name : '';
}

function spotOf({ file, range: { line, column } }: Found): string {
  return `${file}\n${line}\n${column}`;
}

const LOST = GRIPS.indexOf('lost');

interface End {
  title?: string;
  isLost: boolean;
}

/** What the links at some places end on, and whether one of them leads nowhere. */
function endsAt(graph: Graph, wanted: ReadonlySet<string>): Map<string, End> {
  const { links, texts, linkCount } = graph;
  const ends = new Map<string, End>();
  for (let at = 0; at < linkCount; at++) {
    const spot = `${itemAt(texts, cellAt(links.file, at))}\n${links.line[at]}\n${links.column[at]}`;
    if (!wanted.has(spot)) continue;
    const end = ends.get(spot) ?? { isLost: false };
    ends.set(spot, end);
    const to = cellAt(links.to, at);
    if (links.grip[at] === LOST) end.isLost = true;
    else if (to >= 0) end.title ??= titleOf(graph, to);
  }
  return ends;
}
