/**
 * Findings that rest on rules which were learned and that nobody has looked at: they say so, and are told as errors only
 * where the rule is sure and most of what it reads leads somewhere.
 */
import { itemAt } from '../helpers/at.js';
import { push } from '../helpers/push.js';
import { severityBelow, type Finding } from '../model/finding.js';
import type { Range } from '../model/piece.js';
import type { Linked } from '../linking/linked.js';
import { otherEnding } from '../linking/paths.js';
import { callKey } from '../linking/rule-counts.js';
import { ruleKey } from '../reading/plan/content.js';

/** A rule must be as sure, and as much of what it reads must lead somewhere, for a loss to be told as an error. */
export const SURE_ENOUGH = 0.95;
const LEADS_ENOUGH = 0.95;
/** A rule that is less sure is hardly more than a guess. */
const GUESS = 0.7;

/** The same findings, each as firmly as the rule lets it be told by which the place was read. */
export function weighLearned(findings: readonly Finding[], linked: Linked): Finding[] {
  const { rules } = linked.plan.learned;
  if (Object.keys(rules).length === 0) return [...findings];
  const byPlace = rulesByPlace(linked);
  // Whether a file gives what another one takes in rests on no rule.
  const taken = new Set(
    linked.facts.flatMap(({ file, script }) => (script?.imports ?? []).map(({ range }) => `${file}:${range.line}`)),
  );
  const { byId, byName } = linked.world.names;
  // What is known by that text may be of a sort that the rule should look at as well, and a file be taken with another ending.
  const isOther = ({ check, evidence }: Finding): boolean => {
    const { file, range } = itemAt(evidence, 0);
    const text = wanted.get(placeAt(file, range));
    if (text === undefined) return false;
    if (check === 'broken/missing-file') return otherEnding(linked.world, text).length > 0;
    return check === 'broken/missing-object' && (byId.has(text) || byName.has(text));
  };
  const wanted = new Map(linked.lostReferences.map(({ file, range, loss }) => [placeAt(file, range), loss.wanted]));
  return findings.flatMap((finding) => {
    const { file, range } = itemAt(finding.evidence, 0);
    const places = byPlace.get(placeAt(file, range));
    const key =
      (taken.has(`${file}:${range.line}`)
        ? undefined
        : Object.keys(rules).find((one) => RESTS_ON[finding.check]?.test(one))) ??
      weakest(places, rules) ??
      (places ? undefined : Object.keys(rules).find((one) => TAKEN_IN[finding.check]?.test(one)));
    const rule = key === undefined ? undefined : rules[key];
    if (key === undefined || !rule) return finding;
    const { links = 0, lost = 0 } = linked.rules.get(key) ?? {};
    const [leads, of] = links + lost > 0 ? [links, links + lost] : [rule.leads, rule.of];
    if (LOSS.test(finding.check) && isRefuted(leads, of, rule)) return [];
    // One text may lead to several things: what was counted when it was learned counts as well.
    const share = Math.min(shareOf(leads, of), shareOf(rule.leads, rule.of));
    const isFirm =
      rule.sure >= SURE_ENOUGH && share >= LEADS_ENOUGH && !isOfTwoSorts(finding, byPlace) && !isOther(finding);
    const severity = isFirm ? finding.severity : severityBelow(finding.severity, rule.sure < GUESS ? 2 : 1);
    const told = `The rule was learned and nobody has looked at it: ${links + lost > 0 ? `${leads} of ${of} lead somewhere, ` : ''}it is ${Math.round(rule.sure * 100)} % sure.`;
    return { ...finding, severity, sure: `${finding.sure} ${told}`, isLearned: true };
  });
}

/** Findings of what leads nowhere. */
const LOSS = /^broken\/(?:missing-|case-only)/;
/** Fewer places refute nothing. */
const FEWEST = 3;

/** Whether hardly half as much of what a rule reads leads somewhere as was learned: then it does not say what was meant. */
function isRefuted(leads: number, of: number, rule: Linked['plan']['learned']['rules'][string]): boolean {
  return of >= FEWEST && shareOf(leads, of) < shareOf(rule.leads, rule.of) / 2;
}

/** That things of two rules may not be called alike is a guess: they may be of two sorts. */
function isOfTwoSorts({ check, evidence }: Finding, byPlace: ReadonlyMap<string, string[]>): boolean {
  if (check !== 'broken/same-identity') return false;
  const [one, other] = evidence.map(({ file, range }) => byPlace.get(placeAt(file, range)) ?? []);
  return one !== undefined && other !== undefined && !one.some((key) => other.includes(key));
}

/** Of the rules that read a place the least sure: which of them it is that leads nowhere may not be known. */
function weakest(places: readonly string[] | undefined, rules: Linked['plan']['learned']['rules']): string | undefined {
  const sure = (key: string): number => rules[key]?.sure ?? 1;
  return places?.filter((key) => key in rules).sort((a, b) => sure(a) - sure(b))[0];
}

const shareOf = (leads: number, of: number): number => (of === 0 ? 1 : leads / of);

/** Findings that rest on what the code goes by, and not on how a place is read; with the keys of such rules. */
const RESTS_ON: Record<string, RegExp> = {
  'broken/empty-slot': /^scripts\.[^.]+$/,
  'broken/stale-value': /^scripts\.[^.]+$/,
  'broken/file-type-mismatch': /^scripts\.[^.]+\.typeNamed$/,
  'broken/missing-call': /^engine\.(?:members|functions)$/,
  'broken/missing-member': /^engine\.members$/,
};

/** Findings about imports, which no rule reads. */
const TAKEN_IN: Record<string, RegExp> = { 'broken/missing-file': /^scripts\.[^.]+\.imports$/ };

const placeAt = (file: string, { line, column }: Range): string => `${file}:${line}:${column}`;

/** Keys of the rules by which what stands at a place is read. */
function rulesByPlace({ facts, plan }: Linked): Map<string, string[]> {
  const found = new Map<string, string[]>();
  for (const fact of facts) {
    const at = (range: Range): string => placeAt(fact.file, range);
    for (const { rule, range } of fact.references) push(found, at(range), ruleKey(fact, 'references', rule));
    for (const { rule, range, handlerAt, fromAt, toAt } of fact.events)
      for (const place of [range, handlerAt, fromAt, toAt])
        if (place) push(found, at(place), ruleKey(fact, 'events', rule));
    for (const written of fact.extends ?? []) push(found, at(written.range), `files.${fact.rule}.extends`);
    for (const { rule, extends: bases } of fact.pieces)
      for (const written of bases ?? []) push(found, at(written.range), `${ruleKey(fact, 'pieces', rule)}.extends`);
    for (const { rule, madeFrom, parts } of fact.pieces)
      for (const written of [madeFrom, ...parts.map(({ script }) => script)])
        if (written) push(found, at(written.range), ruleKey(fact, 'pieces', rule));
    for (const { rule, range } of fact.pieces) push(found, at(range), ruleKey(fact, 'pieces', rule));
    for (const { rule, range } of fact.script?.operations ?? [])
      push(found, at(range), callKey(itemAt(plan.calls, rule).call));
  }
  return found;
}
