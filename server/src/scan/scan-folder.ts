import {
  analyse,
  createLinker,
  GlueError,
  factsOfName,
  packFacts,
  PLAN_FILE,
  readFile,
  readsText,
  ruleFor,
  unpackFacts,
  type Analysis,
  type FileFacts,
  type History,
  type Plan,
  type RuleFor,
  type Waiver,
  decided,
  knownBy,
  readinessOf,
  startsOf,
  ROUTES_FILE,
  WAIVERS_FILE,
  itemAt,
  must,
  languagesOf,
} from '@glue-trace/core';
import { today, waiversOf } from '../decisions/waivers-file.js';
import { historyIn } from '../git/history.js';
import { isVersioned } from '../git/repository.js';
import { decode, textAt } from '../files/read-text.js';
import { checkFolder, discover, IS_LINK, type FoundFile } from '../files/discover.js';
import type { Progress } from '../api.js';
import { learnFolder, type LearnedFolder } from '../plans/learn-plan.js';
import { loadPlan, parsePlan, planPath } from '../plans/plan-files.js';
import { prepareLanguages, readOne, type FileEntry } from './read-one.js';
import { factsKey, hashOf, planHashOf, type FactsCache } from './facts-cache.js';
import { readShareOf } from './known.js';
import { isWorthThreads, readOnThreads } from './read-pool.js';
import { reusable } from './reuse.js';

export interface ScanOptions {
  folder: string;
  /** Defaults to the plan in the folder. */
  planFile?: string;
  /** Where the folder has no plan, one is learned from its files and scanned by. */
  learns?: boolean;
  cache?: FactsCache;
  onProgress?: (progress: Progress) => void;
}

export interface ScanResult {
  plan: Plan;
  /** What the plan is known by. */
  planHash: string;
  /** What was learned just now, where the folder has no plan. */
  learned?: LearnedFolder;
  analysis: Analysis;
  /** What was read. */
  facts: FileFacts[];
  /** Links and checks the same files again, some of them read otherwise. What was analysed before no longer holds. */
  again: (facts: FileFacts[]) => Analysis;
  files: FileEntry[];
  /** Waivers that match nothing any more. */
  idleWaivers: Waiver[];
  milliseconds: number;
  /** Files whose facts were known from before. */
  reused: number;
}

/** Files of ours in a project, and what they are. */
const OWN_FILES: Record<string, string> = {
  [PLAN_FILE]: 'the plan itself',
  [WAIVERS_FILE]: 'the waivers',
  [ROUTES_FILE]: 'the routes',
};
/** Why a file is not read that no rule is for. */
export const NO_RULE = 'no rule of the plan matches it';
/** Files that are gone and are looked for in earlier scans. */
const MOST_ASKED = 2000;
/** Progress is told at most once in so many milliseconds. */
const PROGRESS_PAUSE = 100;
/** A file written this shortly before it was read may have changed again within one tick of the clock. */
const CLOCK_DOUBT = 1500;

/** Files → facts → links → findings for a folder. Reads only; what it cannot read is listed with the reason. */
export function scanFolder(options: ScanOptions): Promise<ScanResult> {
  return openSession(options).scan(options.onProgress);
}

/** What was read of a file, and when. */
interface Known {
  entry: FileEntry;
  fact: FileFacts;
  readAt: number;
}

/** What became of a file in this scan; without facts it is known by its path alone. */
type Result = Known | { entry: FileEntry; fact?: undefined };

interface ToRead {
  /** Among all files of the scan. */
  position: number;
  rule: RuleFor;
  entry: FileEntry;
  before?: Known;
}

export interface ScanSession {
  /**
   * Scans the folder; files that have not changed since the scan before are not read again.
   * @param readsAll also looks into those that seem unchanged by their size and time
   * @param learnsAnew where there is no plan, it is learned from what the files say now
   */
  scan(onProgress?: (progress: Progress) => void, readsAll?: boolean, learnsAnew?: boolean): Promise<ScanResult>;
  /**
   * What the files of the last scan come to by another plan. Only those that it may read otherwise are read; nothing is kept.
   * @throws GlueError `scan/none` before the first scan
   */
  tryPlan(plan: Plan): Promise<Analysis>;
  /**
   * A scan with the decisions that stand in the project's files by now.
   * @throws GlueError `waivers/invalid`, `file/unreadable`
   */
  decide(result: ScanResult): ScanResult;
  /** What another plan reads of the files of the last scan, and the paths of those that it does not read. */
  readBy(plan: Plan): Promise<{ facts: FileFacts[]; otherPaths: string[] }>;
}

/** Keeps what is known of a folder's files between scans. One closure: each step of a scan is a function over it. */
export function openSession({ folder, planFile, learns, cache }: Omit<ScanOptions, 'onProgress'>): ScanSession {
  const known = new Map<string, Known>();
  const rules = new Map<string, RuleFor | undefined>();
  const linker = createLinker();
  /** What was read of earlier versions of files. */
  const former = new Map<string, FileFacts | undefined>();
  let planInForce: Plan | undefined;
  let planHash = '';
  let learned: LearnedFolder | undefined;
  /** What the last scan went over. */
  let lastScan: { entries: FileEntry[]; links: string[]; history: History } | undefined;

  /** Forgets what was read by another plan; begins with what the cache knows by this one. */
  const usePlan = (plan: Plan): Plan => {
    const hash = planHashOf(plan);
    if (hash === planHash) return must(planInForce);
    known.clear();
    rules.clear();
    former.clear();
    planHash = hash;
    return (planInForce = plan);
  };

  /** The plan of the folder, or the one that was learned when there was none. */
  const planNow = async (): Promise<Plan> => {
    try {
      const plan = loadPlan(folder, planFile);
      learned = undefined;
      return plan;
    } catch (error) {
      if (!learns || planFile !== undefined || !(error instanceof GlueError) || error.code !== 'plan/missing')
        throw error;
      learned ??= await learnFolder(folder);
      if (learned.readFiles === 0)
        throw new GlueError(
          'plan/missing',
          `There is no plan in ${folder}, and no file that one could be learned from. Choose the folder that holds the game’s data and scripts, or write a glue-trace.json there.`,
        );
      return parsePlan(learned.text, planPath(folder));
    }
  };

  const keyOf = (entry: FileEntry): string => factsKey(entry, planHash);

  /** What was read of this file before. */
  const recall = (path: string, stored: Map<string, FileEntry>): Known | undefined => {
    const held = known.get(path);
    const entry = held ? undefined : stored.get(path);
    const packed = entry?.hash ? cache?.get(keyOf(entry)) : undefined;
    return held ?? (entry && packed ? { entry, fact: unpackFacts(packed), readAt: Infinity } : undefined);
  };

  /** Tells files that must be read from those of which everything is known. */
  const sortOut = (found: FoundFile[], plan: Plan, readsAll: boolean): { results: Result[]; toRead: ToRead[] } => {
    const stored = new Map(known.size > 0 ? [] : (cache?.entries() ?? []).map((entry) => [entry.path, entry]));
    const toRead: ToRead[] = [];
    const results = found.map((file, position): Result => {
      const held = known.get(file.path);
      const isTrusted = (one: Known): boolean => isSame(one, file) && (!readsAll || one.entry.status === 'listed');
      if (held && isTrusted(held)) return held;
      // The plan's own text counts as its content: a changed plan is a changed project.
      const hash =
        file.path === PLAN_FILE ? planHash : file.path === WAIVERS_FILE ? hashOf(textAt(folder, WAIVERS_FILE)) : '';
      const entry: FileEntry = { ...file, status: 'unread', rule: '', reason: '', hash };
      const rule = ruleOf(plan, file.path);
      if (!rule && OWN_FILES[file.path])
        return { entry: { ...entry, status: 'listed', rule: OWN_FILES[file.path] ?? '' } };
      if (!rule) return { entry: { ...entry, reason: NO_RULE } };
      entry.rule = `${rule.of}.${rule.name}`;
      const before = recall(file.path, stored);
      if (!readsText(rule, file.path)) {
        // The same facts as before: what is new to the linker counts as changed.
        const fact = before?.fact ?? factsOfName(file.path, rule);
        return remember({ entry: { ...entry, status: 'listed' }, fact, readAt: Infinity });
      }
      if (before && isTrusted(before)) return remember(before);
      toRead.push({ position, rule, entry: before ? { ...before.entry, ...file } : entry, before });
      return { entry };
    });
    return { results, toRead };
  };

  const ruleOf = (plan: Plan, path: string): RuleFor | undefined => {
    if (!rules.has(path)) rules.set(path, ruleFor(plan, path));
    return rules.get(path);
  };

  const remember = (one: Known): Known => {
    known.set(one.entry.path, one);
    return one;
  };

  /** What the time before tells, if somebody asks. */
  const historyFor = async (plan: Plan, results: Result[]): Promise<History> => {
    // Earlier versions are read by this thread, whoever read today's.
    if (isVersioned(folder)) await prepareLanguages(Object.values(plan.scripts).map(({ language }) => language));
    const readEarlier = (path: string, bytes: Buffer): FileFacts | undefined => {
      const rule = ruleOf(plan, path);
      if (!rule || (rule.of === 'files' && rule.rule.as === 'glue facts')) return undefined;
      const content = decode(bytes);
      return 'text' in content ? readFile(path, content.text, rule, plan) : undefined;
    };
    return { ...historyIn(folder, readEarlier, former), sameContent: sameContent(results, cache) };
  };

  /** Reads what must be read, on several threads when there is enough of it; gives how many were the same after all. */
  const readAll = async (
    toRead: ToRead[],
    results: Result[],
    plan: Plan,
    onProgress: (progress: Progress) => void,
  ): Promise<number> => {
    const readAt = Date.now();
    const tell = readingProgress(onProgress, toRead);
    let same = 0;
    const keep = (at: number, entry: FileEntry, fact: FileFacts | undefined, packed?: string): void => {
      const { position, before } = itemAt(toRead, at);
      if (fact && entry.hash) cache?.put(keyOf(entry), packed ?? packFacts(structuredClone(fact)));
      if (!fact) same++;
      results[position] = remember({ entry, fact: fact ?? must(before).fact, readAt });
      tell(entry.size);
    };
    await readMany(folder, plan, toRead, keep);
    return same;
  };

  /** The team's decisions, and the verdict once they count. */
  const decide = (
    { linked, findings }: Analysis,
    entries: FileEntry[],
    facts: FileFacts[],
    plan: Plan,
  ): { analysis: Analysis; idle: Waiver[] } => {
    const { findings: told, idle } = decided(findings, waiversOf(folder).waivers, facts, today());
    const readiness = readinessOf(linked.graph, told, {
      learned: plan.learned.rules,
      known: knownBy(readShareOf(folder, entries, facts, plan), plan.house.leastRead),
      starts: startsOf(linked),
    });
    return { analysis: { linked, findings: told, readiness }, idle };
  };

  return {
    async scan(onProgress = () => undefined, readsAll = false, learnsAnew = false) {
      if (learnsAnew) learned = undefined;
      const started = performance.now();
      onProgress({ phase: 'looking', done: 0, total: 0 });
      checkFolder(folder);
      const plan = usePlan(await planNow());
      const { files: found, passedOver } = discover(folder, plan.ignore);
      const { results, toRead } = sortOut(found, plan, readsAll);
      const held = results.filter(({ entry, fact }) => fact && entry.status !== 'listed').length;
      const same = await readAll(toRead, results, plan, onProgress);
      onProgress({ phase: 'linking', done: found.length, total: found.length });
      const facts = results.flatMap(({ fact }) => (fact ? [fact] : []));
      const links = passedOver.flatMap(({ path, reason }) => (reason === IS_LINK ? [path] : []));
      const otherPaths = [...results.flatMap(({ entry, fact }) => (fact ? [] : [entry.path])), ...links];
      const history = await historyFor(plan, results);
      const again = (some: FileFacts[]): Analysis => analyse(some, otherPaths, plan, linker, history);
      const known = results.map(({ entry }) => entry);
      const { analysis, idle } = decide(again(facts), known, facts, plan);
      lastScan = { entries: results.map(({ entry }) => entry), links, history };
      return {
        plan,
        planHash,
        ...(learned && { learned }),
        analysis,
        facts,
        again,
        files: [...passedOver.map(passedEntry), ...results.map(({ entry }) => told(entry, analysis))],
        idleWaivers: idle,
        milliseconds: Math.round(performance.now() - started),
        reused: held + same,
      };
    },

    decide(result) {
      const { analysis, idle } = decide(result.analysis, result.files, result.facts, result.plan);
      return { ...result, analysis, idleWaivers: idle };
    },

    async tryPlan(plan) {
      const { facts, otherPaths } = await this.readBy(plan);
      return analyse(facts, otherPaths, plan, createLinker(), lastScan?.history);
    },

    async readBy(plan) {
      if (!lastScan || !planInForce) throw new GlueError('scan/none', 'Scan the project first.');
      const { entries, links } = lastScan;
      const isSame = reusable(planInForce, plan, (path) => textAt(folder, path));
      const facts: (FileFacts | undefined)[] = entries.map(() => undefined);
      const toRead: { position: number; entry: FileEntry; rule: RuleFor }[] = [];
      for (const [position, entry] of entries.entries()) {
        const rule = ruleFor(plan, entry.path);
        const before = known.get(entry.path)?.fact;
        if (!rule) continue;
        if (!readsText(rule, entry.path)) facts[position] = factsOfName(entry.path, rule);
        else if (before && isSame(rule, before)) facts[position] = before;
        else toRead.push({ position, rule, entry: { ...entry, hash: '' } });
      }
      await readMany(folder, plan, toRead, (at, _, fact) => (facts[itemAt(toRead, at).position] = fact));
      const otherPaths = [...entries.flatMap(({ path }, at) => (facts[at] ? [] : [path])), ...links];
      return { facts: facts.filter((fact) => fact !== undefined), otherPaths };
    },
  };
}

/**
 * Reads files, on several threads when there is enough of it.
 * @param keep is called for each file, in no order, with its position; without facts where the content is as it was
 */
async function readMany(
  folder: string,
  plan: Plan,
  toRead: readonly { entry: FileEntry; rule: RuleFor }[],
  keep: (at: number, entry: FileEntry, fact: FileFacts | undefined, packed?: string) => void,
): Promise<void> {
  const entries = toRead.map(({ entry }) => entry);
  if (isWorthThreads(entries)) {
    await readOnThreads({ folder, plan }, entries, (at, { entry, packed }) =>
      keep(at, entry, packed === undefined ? undefined : unpackFacts(packed), packed),
    );
    return;
  }
  await prepareLanguages(toRead.flatMap(({ rule }) => languagesOf(plan, rule)));
  toRead.forEach(({ rule, entry: found }, at) => {
    const { entry, fact } = readOne(folder, plan, rule, found);
    keep(at, entry, fact);
  });
}

/** Files that hold today what a file that is gone held in an earlier scan. */
function sameContent(results: Result[], cache: FactsCache | undefined): History['sameContent'] {
  let byHash: Map<string, string[]> | undefined;
  let asked = 0;
  return (path) => {
    if (!cache || ++asked > MOST_ASKED) return [];
    if (!byHash) {
      byHash = new Map();
      for (const { entry } of results)
        if (entry.hash) byHash.set(entry.hash, [...(byHash.get(entry.hash) ?? []), entry.path]);
    }
    return byHash.get(cache.formerHash(path) ?? '') ?? [];
  };
}

/** Whether the file surely is as it was when it was read, without looking into it. */
function isSame({ entry, readAt }: Known, { size, modified }: FoundFile): boolean {
  return entry.size === size && entry.modified === modified && readAt - modified > CLOCK_DOUBT;
}

/** A file that another package replaces is read, but does not count. */
function told(entry: FileEntry, { linked }: Analysis): FileEntry {
  const by = linked.replacedBy.get(entry.path);
  return by ? { ...entry, status: 'listed', reason: `replaced by ${by}` } : entry;
}

function passedEntry({ path, reason }: { path: string; reason: string }): FileEntry {
  return { path, reason, status: 'unread', rule: '', size: 0, hash: '', modified: 0 };
}

/** Tells how many files are read and, from the bytes read so far, how long the rest will take. */
function readingProgress(
  onProgress: (progress: Progress) => void,
  toRead: { entry: FileEntry }[],
): (size: number) => void {
  const total = toRead.length;
  const allBytes = toRead.reduce((sum, { entry }) => sum + entry.size, 0);
  const started = performance.now();
  let [done, bytes, told] = [0, 0, started];
  onProgress({ phase: 'reading', done, total });
  return (size) => {
    done++;
    bytes += size;
    const now = performance.now();
    if (now - told < PROGRESS_PAUSE) return;
    told = now;
    const secondsLeft = bytes > 0 ? Math.ceil((((now - started) / bytes) * (allBytes - bytes)) / 1000) : undefined;
    onProgress({ phase: 'reading', done, total, secondsLeft });
  };
}
