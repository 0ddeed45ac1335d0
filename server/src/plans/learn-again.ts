import {
  decide,
  failingIn,
  GlueError,
  proposalsFor,
  rulesOf,
  ruleTrials,
  type Failing,
  type Proposal,
} from '@glue-trace/core';
import { openSession, type ScanResult, type ScanSession } from '../scan/scan-folder.js';
import { learnFolder, type LearnedRuleView } from './learn-plan.js';
import { parsePlan, planPath, planTextOf } from './plan-files.js';

/** What was learned of a project that has a plan. */
export interface LearnedAgain {
  /** Rules that the plan does not have, for what it does not read. */
  fresh: Proposal[];
  /** Rules of the plan of which much leads nowhere. */
  failing: (Failing & { rule: string })[];
  /** What is said of rules inside of fresh ones, by the keys that they get. */
  inner: LearnedRuleView[];
}

/** A proposal of which more leads nowhere, in the plan that stands, is none. */
const MOST_LOST = 1 / 3;

/**
 * Learns from the files of a project that has a plan, and says what that plan does not: proved beside what it does say.
 * @param result the last scan of the session
 * @throws GlueError as `discover`
 */
export async function learnAgain(
  folder: string,
  planFile: string | undefined,
  session: ScanSession,
  result: ScanResult,
): Promise<LearnedAgain> {
  const path = planPath(folder, planFile);
  const { text } = planTextOf(folder, planFile);
  const { text: learnedText, rules } = await learnFolder(folder);
  const learned = parsePlan(learnedText, path);
  const { facts } = await session.readBy(learned);
  const now = { text: learnedText, plan: learned, rules, facts };
  const proposals = proposalsFor(text, result.plan, result.facts, now);
  const failing = failingIn(result.analysis.linked, now);
  const fresh = await proved(text, path, proposals, session);
  const ruleAt = rulesOf(text);
  const bySentence = new Map(rules.map((one) => [one.key, one]));
  return {
    fresh,
    failing: failing.map((one) => ({ ...one, rule: JSON.stringify(ruleAt(one.key), null, 2) })),
    inner: fresh.flatMap(({ key, learnedAs, inner = {} }) =>
      Object.keys(inner).flatMap((at) => {
        const told = bySentence.get(learnedAs + at.slice(key.length));
        return told ? [{ ...told, key: at }] : [];
      }),
    ),
  };
}

/** What is learned of a folder beside the plan that stands in it. @throws GlueError as `scanFolder` */
export async function learnBeside(folder: string): Promise<LearnedAgain & { text: string }> {
  const session = openSession({ folder });
  const again = await learnAgain(folder, undefined, session, await session.scan());
  return { ...again, text: planTextOf(folder).text };
}

/** Those that hold in the plan that stands. */
async function proved(
  text: string,
  path: string,
  proposals: readonly Proposal[],
  session: ScanSession,
): Promise<Proposal[]> {
  const put = proposals.filter((one) => planWith(text, path, [one]));
  const whole = planWith(text, path, put);
  if (put.length === 0 || !whole) return [];
  const tried = new Map(
    ruleTrials(
      await session.tryPlan(whole),
      put.map(({ key }) => key),
    ).map((one) => [one.key, one]),
  );
  return put.filter(({ key, inner }) => {
    const { found = 0, lost = 0 } = tried.get(key) ?? {};
    return inner !== undefined || (found > 0 && lost <= found * MOST_LOST);
  });
}

/** The plan with some rules more, if that is one. */
function planWith(text: string, path: string, put: readonly Proposal[]): ReturnType<typeof parsePlan> | undefined {
  try {
    return parsePlan(decide(text, { take: [], refuse: [], put }), path);
  } catch (error) {
    if (!(error instanceof GlueError)) throw error;
    return undefined;
  }
}
