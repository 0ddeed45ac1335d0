import { itemAt, knownIn } from '../helpers/at.js';
import { once } from '../helpers/once.js';
import { fingerprint } from '../helpers/fingerprint.js';
import { sentence, SEVERITIES, type Finding, type Repair } from '../model/finding.js';
import type { Linked } from '../linking/linked.js';
import type { FileFacts } from '../reading/facts.js';
import { caseOnly } from './case-only.js';
import type { Check, Draft, Ground } from './check.js';
import { ambiguousName } from './ambiguous-name.js';
import { leakedListener } from './leaked-listener.js';
import { noCooldown } from './no-cooldown.js';
import { eventLoop } from './event-loop.js';
import { baseDrift } from './base-drift.js';
import { builtName } from './built-name.js';
import { flagOrder } from './flag-order.js';
import { lateListener } from './late-listener.js';
import { lostState } from './lost-state.js';
import { movesAtRun } from './moves-at-run.js';
import { inOneRow } from './one-row.js';
import { orderBound } from './order-bound.js';
import { reachUp } from './reach-up.js';
import { sideCrossing } from './side-crossing.js';
import { silentOverride } from './silent-override.js';
import { spawnParent } from './spawn-parent.js';
import { unguardedInput } from './unguarded-input.js';
import { unsetInherited } from './unset-inherited.js';
import { usedAfterGone } from './used-after-gone.js';
import { copiedCode } from './copied-code.js';
import { siblingRule } from './sibling-rule.js';
import { copiedWiring } from './copied-wiring.js';
import { doubleAttach } from './double-attach.js';
import { nameClash } from './name-clash.js';
import { repeatedValue } from './repeated-value.js';
import { nearSameAsset } from './near-same-asset.js';
import { typeLadder } from './type-ladder.js';
import { hub } from './hub.js';
import { keyClash } from './key-clash.js';
import { weighLearned } from './learned.js';
import { payloadMismatch } from './payload-mismatch.js';
import { polling } from './polling.js';
import { wideScope } from './wide-scope.js';
import { barredTarget } from './barred-target.js';
import { climb } from './climb.js';
import { emptySlot } from './empty-slot.js';
import { fileTypeMismatch } from './file-type-mismatch.js';
import { loop } from './loop.js';
import { missingCall } from './missing-call.js';
import { missingMember } from './missing-member.js';
import { sameIdentity } from './same-identity.js';
import { staleValue } from './stale-value.js';
import { unlistedScene } from './unlisted-scene.js';
import { unreadable } from './unreadable.js';
import { wrongKind } from './wrong-kind.js';
import { wrongPlace } from './wrong-place.js';
import { missingFile } from './missing-file.js';
import { missingObject } from './missing-object.js';
import { missingPackage } from './missing-package.js';
import { missingPart } from './missing-part.js';
import { neverSent } from './never-sent.js';
import { unheard } from './unheard.js';
import { unknownLabel } from './unknown-label.js';

/** All checks, in the order in which they are listed everywhere. */
export const CHECKS: readonly Check[] = [
  missingFile,
  missingObject,
  missingPart,
  emptySlot,
  wrongKind,
  missingMember,
  missingCall,
  caseOnly,
  unknownLabel,
  fileTypeMismatch,
  staleValue,
  barredTarget,
  sameIdentity,
  wrongPlace,
  unlistedScene,
  missingPackage,
  loop,
  unreadable,
  copiedCode,
  siblingRule,
  copiedWiring,
  doubleAttach,
  nameClash,
  repeatedValue,
  nearSameAsset,
  typeLadder,
  climb,
  reachUp,
  ambiguousName,
  builtName,
  unheard,
  neverSent,
  payloadMismatch,
  silentOverride,
  unsetInherited,
  polling,
  usedAfterGone,
  wideScope,
  lateListener,
  leakedListener,
  noCooldown,
  unguardedInput,
  keyClash,
  flagOrder,
  lostState,
  sideCrossing,
  spawnParent,
  movesAtRun,
  orderBound,
  eventLoop,
  hub,
  baseDrift,
];

export const CHECK_IDS: readonly string[] = CHECKS.map((check) => check.id);

/** Links → findings: runs every check the plan has not switched off. Worst findings first, then by check, file and line. */
export function runChecks(linked: Linked): Finding[] {
  const isChanged = changesSince(linked);
  const findings = CHECKS.filter((check) => linked.plan.checks[check.id] !== 'off').flatMap((check) => {
    const drafts = inOneRow(draftsOf(check, linked, isChanged));
    const told = drafts.slice(0, MOST_OF_ONE_CHECK).map((draft) => finished(check, draft, linked));
    const more = drafts[MOST_OF_ONE_CHECK];
    return more ? [...told, finished(unreadable, notTold(check, more, drafts.length), linked)] : told;
  });
  tellApart(findings);
  return inOrder(weighLearned(findings, linked));
}

/** Nobody reads more: so many have one cause, most likely a rule of the plan. */
const MOST_OF_ONE_CHECK = 20_000;

/** What is said in the place of findings that are too many. */
function notTold({ id, title }: Check, first: Draft, count: number): Draft {
  const left = count - MOST_OF_ONE_CHECK;
  return {
    severity: 'warning',
    sentence: sentence`${left} more findings of “${{ name: title }}” are left out: ${MOST_OF_ONE_CHECK} of the kind are told`,
    sure: 'There is a limit for each check, so that no project can hold up the scan.',
    pieces: first.pieces,
    evidence: first.evidence.slice(0, 1),
    walk: [],
    places: 1,
    repairs: [
      {
        title: 'Look at the first ones',
        words: `So many have one cause, most likely a rule of the plan. Mend that, or switch ${id} off in the plan.`,
      },
    ],
    sameBy: ['left out', id],
  };
}

/** What the checks of one world said last, and the facts they said it of. */
interface Said {
  facts: readonly FileFacts[];
  drafts: Map<string, Draft[]>;
}

const saidOf = once((_world: Linked['world']): { last?: Said } => ({}));

/** Whether scripts, data, or assets of the same world changed since it was last checked. */
function changesSince({ world, facts }: Linked): Record<Ground, boolean> {
  const said = saidOf(world);
  const before = said.last;
  // What a file held before counts as well as what it holds now.
  const changed = before
    ? facts.flatMap((fact, at) =>
        fact === before.facts[at] ? [] : [fact, ...(before.facts[at] ? [before.facts[at]] : [])],
      )
    : facts;
  said.last = { facts: [...facts], drafts: before?.drafts ?? new Map<string, Draft[]>() };
  return {
    scripts: !before || changed.some(({ script }) => script !== undefined),
    // Scripts hold data where the plan reads their tables.
    data:
      !before ||
      changed.some(({ kind, pieces, references }) => kind !== 'script' || pieces.length + references.length > 0),
    assets: !before || changed.some(({ kind }) => kind === 'prefab' || kind === 'data asset'),
  };
}

function draftsOf(check: Check, linked: Linked, isChanged: Record<Ground, boolean>): Draft[] {
  const { restsOn } = check;
  if (!restsOn) return check.run(linked);
  const drafts = saidOf(linked.world).last?.drafts;
  const known = isChanged[restsOn] ? undefined : drafts?.get(check.id);
  const own = known ?? check.run(linked);
  drafts?.set(check.id, own);
  return own;
}

function finished(check: Check, draft: Draft, { plan }: Linked): Finding {
  const house = plan.checks[check.id];
  const print = fingerprint([check.id, ...(draft.cause ? ['cause', ...draft.cause] : draft.sameBy)]);
  // Written out: there are thousands, and a spread of each takes ten times as long.
  return {
    check: check.id,
    severity: house && house !== 'off' ? house : (draft.severity ?? check.severity),
    sentence: draft.sentence,
    sure: draft.sure,
    pieces: draft.pieces,
    evidence: draft.evidence,
    walk: draft.walk,
    places: draft.places,
    files: draft.files ?? [itemAt(draft.evidence, 0).file],
    repairs: sureFirst(draft.repairs),
    fingerprint: print,
  };
}

/** What is sure comes first, what somebody has to look at before it is written comes last. */
function sureFirst(repairs: Repair[]): Repair[] {
  if (repairs.every(({ changes, sure }) => !changes || sure)) return repairs;
  const rank = ({ changes, sure }: Repair): number => (sure ? 0 : changes ? 2 : 1);
  return [...repairs].sort((a, b) => rank(a) - rank(b));
}

/** Findings that are alike in every name get numbers, in file order. */
function tellApart(findings: Finding[]): void {
  const seen = new Map<string, number>();
  for (const finding of findings) {
    const count = (seen.get(finding.fingerprint) ?? 0) + 1;
    seen.set(finding.fingerprint, count);
    if (count > 1) finding.fingerprint += `-${count}`;
  }
}

const RANKS = new Map([...SEVERITIES, ...CHECK_IDS].map((word, at) => [word, at]));

/** Worst first, then by check, file and line. */
function inOrder(findings: Finding[]): Finding[] {
  const weighed = findings.map((finding) => ({
    finding,
    weight: knownIn(RANKS, finding.severity) * 1000 + knownIn(RANKS, finding.check),
    file: itemAt(finding.evidence, 0).file,
    line: itemAt(finding.evidence, 0).range.line,
  }));
  weighed.sort((a, b) => a.weight - b.weight || (a.file < b.file ? -1 : a.file > b.file ? 1 : a.line - b.line));
  return weighed.map(({ finding }) => finding);
}
