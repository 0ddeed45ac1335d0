/** How far a learned plan comes to the same as the true one: links by where they stand and what they lead to, findings. */
import { analyse, type Analysis } from '../analyse.js';
import { CHECK_IDS } from '../checks/registry.js';
import { cellAt, itemAt } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import { learn, type Learned, type LearnFile } from '../learning/learn.js';
import { planOf, type LearnedPlan } from '../learning/plan-of.js';
import { decide, rulesOf } from '../learning/decide.js';
import { LEAST_SURE, planText } from '../learning/plan-text.js';
import type { Evidence } from '../learning/rules.js';
import { callKey } from '../linking/rule-counts.js';
import { kindOf, type Graph } from '../model/graph.js';
import { VERBS } from '../model/link.js';
import type { FileFacts } from '../reading/facts.js';
import { readFile } from '../reading/read-file.js';
import { factsOfName, readsText, ruleFor } from '../reading/read-structured.js';
import type { Plan } from '../reading/plan/plan.js';
import { readPlan } from '../reading/plan/read-plan.js';

export interface Share {
  of: number;
  found: number;
}

export interface Measured {
  analysis: Analysis;
  plan: Plan;
  learned: Learned;
  written: LearnedPlan;
  milliseconds: number;
  data: Share;
  scripts: Share;
  /** Of the links of the learned plan, those that the true one has too. */
  right: Share;
  broken: Share;
  /** Errors of the learned plan, and those that the true one tells as well. */
  errors: Share;
  /** How many links of each learned rule are right. */
  rules: { evidence: Evidence; share: Share }[];
  /** Links that are not found, and those that are not right, in words. */
  missed: string[];
  wrong: string[];
}

const SCRIPT = /\.(?:ts|js|lua|cs|py)$/;
/** What follows from other links, or from the tree alone. */
const passedOver = (verb: string, place: string): boolean =>
  verb === 'holds' || (verb === 'extends' && SCRIPT.test(place.replace(/:.*$/, '')));

interface Told {
  place: string;
  verb: string;
  /** Everything that the end may be known by. */
  ends: string[];
  words: string;
}

export function analysed(plan: Plan, files: Iterable<LearnFile>): Analysis {
  const facts: FileFacts[] = [];
  const others: string[] = [];
  for (const { path, text } of files) {
    const found = ruleFor(plan, path);
    if (!found) others.push(path);
    else
      facts.push(
        text !== undefined && readsText(found, path) ? readFile(path, text, found, plan) : factsOfName(path, found),
      );
  }
  return analyse(facts, others, plan);
}

/**
 * @param among files whose links count; all of them unless given
 * @param answers so many questions are answered first, as the true plan would have it
 */
export function measureLearning(
  files: readonly LearnFile[],
  truePlan: string,
  broken: readonly string[],
  among: (file: string) => boolean = () => true,
  answers = 0,
): Measured {
  const truth = analysed(readPlan(truePlan, CHECK_IDS), files);
  const start = Date.now();
  const learned = learn(files);
  const written = planOf('Learned', learned);
  const milliseconds = Date.now() - start;
  const text = answers > 0 ? answered(files, truth, written, answers) : planText(written);
  const plan = readPlan(text, CHECK_IDS);
  const analysis = analysed(plan, files);
  const [own, other] = [linksOf(truth), linksOf(analysis)];
  const byPlace = places(other);
  const byTruePlace = places(own);
  const data: Share = { of: 0, found: 0 };
  const scripts: Share = { of: 0, found: 0 };
  const missed: string[] = [];
  const counts = ({ place }: Told): boolean => among(place.replace(/:\d+.*$/, ''));
  for (const link of own.filter(counts)) {
    const share = SCRIPT.test(link.place) || /\.(?:ts|js|lua|cs|py):/.test(link.place) ? scripts : data;
    share.of++;
    if (has(byPlace, link)) share.found++;
    else missed.push(link.words);
  }
  const right: Share = { of: 0, found: 0 };
  const wrong: string[] = [];
  for (const link of other.filter(counts)) {
    right.of++;
    if (has(byTruePlace, link)) right.found++;
    else wrong.push(link.words);
  }
  const byRule = new Map<string, Share>();
  const note = (key: string, place: string): void => {
    const links = byPlace.get(place) ?? [];
    if (links.length === 0) return;
    let share = byRule.get(key);
    if (!share) byRule.set(key, (share = { of: 0, found: 0 }));
    share.of++;
    if (links.some((link) => has(byTruePlace, link))) share.found++;
  };
  for (const { file, rule, references, script } of analysis.linked.facts) {
    for (const one of references) note(`files.${rule}.references.${one.rule}`, `${file}:${one.range.line}`);
    for (const one of script?.operations ?? [])
      note(callKey(itemAt(plan.calls, one.rule).call), `${file}:${one.range.line}`);
  }
  const told = (one: Analysis): string[] =>
    one.findings.map((finding) => finding.evidence.map(({ file, range }) => `${file}:${range.line}`)[0] ?? '');
  const texts = new Map(
    files.flatMap(({ path, text }) => (text === undefined ? [] : [[path, text.split('\n')] as const])),
  );
  const lineOf = (place: string): string => {
    const at = place.lastIndexOf(':');
    return texts.get(place.slice(0, at))?.[Number(place.slice(at + 1)) - 1] ?? '';
  };
  const found = told(analysis).map(lineOf);
  const trueErrors = new Set(truth.findings.map(({ evidence }) => `${evidence[0].file}:${evidence[0].range.line}`));
  const errors = analysis.findings.filter(({ severity }) => severity === 'error');
  return {
    analysis,
    plan,
    learned,
    written,
    milliseconds,
    data,
    scripts,
    right,
    broken: { of: broken.length, found: broken.filter((text) => found.some((line) => line.includes(text))).length },
    errors: {
      of: errors.length,
      found: errors.filter(({ evidence }) => trueErrors.has(`${evidence[0].file}:${evidence[0].range.line}`)).length,
    },
    rules: written.evidence.flatMap((evidence) => {
      const share = byRule.get(evidence.key);
      return share ? [{ evidence, share }] : [];
    }),
    missed,
    wrong,
  };
}

function places(links: readonly Told[]): Map<string, Told[]> {
  const found = new Map<string, Told[]>();
  for (const link of links) {
    const known = found.get(link.place);
    if (known) known.push(link);
    else found.set(link.place, [link]);
  }
  return found;
}

function has(all: ReadonlyMap<string, readonly Told[]>, link: Told): boolean {
  return (all.get(link.place) ?? []).some(({ ends }) => ends.some((end) => link.ends.includes(end)));
}

/** Links that lead somewhere, as they can be compared between plans. */
function linksOf({ linked }: Analysis): Told[] {
  const { graph } = linked;
  const { links, texts } = graph;
  return Array.from({ length: graph.linkCount }, (_, at) => at).flatMap((at): Told[] => {
    const to = cellAt(links.to, at);
    const verb = itemAt(VERBS, cellAt(links.verb, at));
    const place = `${itemAt(texts, cellAt(links.file, at))}:${cellAt(links.line, at)}`;
    if (to < 0 || passedOver(verb, place)) return [];
    const ends = endsOf(graph, to);
    return [{ place, verb, ends, words: `${verb} ${place} → ${ends.join(' / ')}` }];
  });
}

/** How many things stand in each file. */
const piecesIn = once((graph: Graph): Map<number, number> => {
  const counts = new Map<number, number>();
  for (let at = 0; at < graph.pieceCount; at++) {
    if (kindOf(graph, at) !== 'record') continue;
    const file = cellAt(graph.pieces.file, at);
    counts.set(file, (counts.get(file) ?? 0) + 1);
  }
  return counts;
});

const FILES = new Set(['file', 'scene', 'prefab', 'data asset', 'script', 'graph', 'package', 'media']);

function endsOf(graph: Graph, piece: number): string[] {
  const { pieces, texts } = graph;
  const file = texts[cellAt(pieces.file, piece)] ?? '';
  if (FILES.has(kindOf(graph, piece))) return [file];
  // Where a file holds one thing, the file is as good.
  const alone = piecesIn(graph).get(cellAt(pieces.file, piece)) === 1 ? [file] : [];
  const named = [texts[cellAt(pieces.name, piece)], texts[cellAt(pieces.id, piece)]].filter((text) => text);
  return [...new Set([...alone, ...named.map((text) => `${file} ${text ?? ''}`)])];
}

/** Where something is told to be broken. */
function breaksOf({ findings }: Analysis): Set<string> {
  const broken = findings.filter(({ check }) => check.startsWith('broken/'));
  return new Set(broken.map(({ evidence: [{ file, range }] }) => `${file}:${range.line}`));
}

/** The text of a learned plan once its first questions are answered: each by what comes closest to the true links and breaks. */
function answered(files: readonly LearnFile[], truth: Analysis, written: LearnedPlan, count: number): string {
  const own = linksOf(truth);
  const byTruePlace = places(own);
  const breaks = breaksOf(truth);
  const score = (text: string): number => {
    const analysis = analysed(readPlan(text, CHECK_IDS), files);
    const links = linksOf(analysis);
    const byPlace = places(links);
    const found = own.filter((link) => has(byPlace, link)).length;
    const told = [...breaksOf(analysis)];
    const right = told.filter((place) => breaks.has(place)).length;
    return found - links.filter((link) => !has(byTruePlace, link)).length + right - (told.length - right);
  };
  let text = planText(written);
  const questions = written.evidence
    .filter(({ asks = 0 }) => asks > 0)
    .sort((a, b) => (b.asks ?? 0) - (a.asks ?? 0))
    .slice(0, count);
  for (const { key, others = [], sure } of questions) {
    const rule = ruleOf(written, key);
    const answers = [
      sure >= LEAST_SURE || !rule
        ? decide(text, { take: [key], refuse: [] })
        : decide(text, { take: [], refuse: [], put: [{ key, rule }] }),
      ...others.map((one) =>
        decide(text, {
          take: [],
          refuse: one.key === undefined ? [] : [key],
          put: [{ key: one.key ?? key, rule: one.rule }],
        }),
      ),
      decide(text, { take: [], refuse: [key] }),
    ];
    text = answers
      .map((one) => ({ one, of: score(one) }))
      .reduce((best, next) => (next.of > best.of ? next : best)).one;
  }
  return text;
}

function ruleOf({ plan }: LearnedPlan, key: string): Record<string, unknown> | undefined {
  return rulesOf(JSON.stringify(plan))(key) as Record<string, unknown> | undefined;
}
