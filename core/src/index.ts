/** The public surface of the core. Nothing outside imports from deeper inside. */
export * from './model/errors.js';
export * from './model/evidence.js';
export * from './model/finding.js';
export * from './model/graph.js';
export * from './model/link.js';
export * from './model/piece.js';
export { cellAt, entryOf, itemAt, knownIn, must } from './helpers/at.js';
export * from './helpers/folded.js';
export * from './helpers/nearest.js';
export { PLAN_FILE, LANGUAGES, type FileRule, type Language, type Plan, type ScriptRule } from './reading/plan/plan.js';
export { builtInRules, readPlan, type LoadPlan } from './reading/plan/read-plan.js';
export { planForStandards } from './reading/plan/built-in/built-in.js';
export { planSchema } from './reading/plan/schema.js';
export { linkLine, pieceLine } from './reading/glue-facts/schema.js';
export { createGlueFactsReader, type GlueFactsReader } from './reading/glue-facts/read-glue-facts.js';
export { compileSelector } from './reading/selector/select.js';
export { readTree, formatOf, FORMATS, type Format } from './reading/tree/read-tree.js';
export { compileGlob } from './reading/glob.js';
export { isMatch } from './reading/match.js';
export { packFacts, unpackFacts } from './reading/wire.js';
export { FACTS_VERSION, type FileFacts, type ProblemFact } from './reading/facts.js';
export { readFile } from './reading/read-file.js';
export { factsOfName, formatBy, readsText, ruleFor, type RuleFor, languagesOf } from './reading/read-structured.js';
export { prepareGrammars } from './reading/scripts/languages.js';
export { type LoadBinary } from './reading/scripts/grammar.js';
export { linkFacts } from './linking/link.js';
export { createLinker, type Linker } from './linking/relink.js';
export type { EventEnds, Linked, RuleCount } from './linking/linked.js';
export { CHECKS, CHECK_IDS, runChecks } from './checks/registry.js';
export type { Check } from './checks/check.js';
export { analyse, type Analysis } from './analyse.js';
export {
  knownBy,
  readinessOf,
  verdictOf,
  type Counted,
  type ReadShare,
  type Readiness,
} from './readiness/readiness.js';
export {
  covers,
  decided,
  readWaivers,
  WAIVERS_FILE,
  waiversSchema,
  waiversText,
  type Decided,
  type Waiver,
} from './decisions/waivers.js';
export {
  isOnRoute,
  isViewOnRoute,
  onRoute,
  reachedBy,
  readRoutes,
  ROUTES_FILE,
  routesSchema,
  routesText,
  startsOf,
  type Reached,
  type Routes,
  type SavedRoute,
} from './route/route.js';
export { findingsIn, stopsOf, type SeenOf, type Stop, type Stops } from './route/stops.js';
export {
  LONGEST_LINE,
  playEventSchema,
  readPlayEvent,
  readPlayLine,
  type Happening,
  type PlayEvent,
} from './play/event.js';
export { csvRows } from './reports/csv.js';
export { partingOf, timesBeside, type Parting, type TimesBeside } from './play/beside.js';
export {
  createPlayReport,
  type PlayAgainstMap,
  type PlayFinding,
  type PlayReport,
  type PlaySeen,
} from './play/against-map.js';
export { playExpected, type PlayExpected } from './play/expected.js';
export { namesMet, seenInPlay, type MetAs, type MetName, type SeenInPlay } from './play/seen.js';
export { PLAY_CHECKS } from './play/checks/registry.js';
export { piecesCalled, ruleFor as playRuleFor } from './play/checks/check.js';
export { isMediaName } from './reading/source.js';
export * from './trace/trace.js';
export * from './trace/search.js';
export { chainsBetween, type Chains, type ChainStep } from './trace/chains.js';
export {
  neighbourhood,
  MOST_DRAWN,
  type DrawnLink,
  type DrawnPiece,
  type Neighbourhood,
} from './trace/neighbourhood.js';
export {
  coupling,
  couplingLinks,
  foldersBelow,
  groupsOnRoute,
  type Coupling,
  type CouplingOptions,
} from './trace/coupling.js';
export type { Fix } from './reports/sarif.js';
export { ruleSamples, type RuleSample } from './reports/rule-samples.js';
export type { Report, ReportSince } from './reports/report.js';
export { REPORT_FORMATS, writeReport, type ReportFormat } from './reports/write-report.js';
export { partOf, toDot, toGraphml, type MapPart } from './reports/map-files.js';
export {
  baselineSchema,
  mapChange,
  newSince,
  type LinkName,
  type MapChange,
  readBaseline,
  remembered,
  sinceThen,
  type Remembered,
  type Since,
} from './decisions/since.js';
export { gather, languageOf, type Gathered, type ScriptFile } from './learning/scripts.js';
export { isGathered, learn, Learning, type Learned, type LearnFile } from './learning/learn.js';
export { planOf, type LearnedPlan } from './learning/plan-of.js';
export { SURE_ENOUGH } from './checks/learned.js';
export { failingIn, proposalsFor, withProposals, type Failing, type Proposal } from './learning/anew.js';
export { decide, rulesOf, type Decisions, type PutRule } from './learning/decide.js';
export {
  previewCode,
  pointedIn,
  sayInCode,
  type CodeDesk,
  type PointedCodeView,
  type SaidInCode,
} from './pointing/code-bench.js';
export type { WrittenRule } from './pointing/edit.js';
export { compareTrial, ruleTrials, type PlanTrial } from './pointing/plan-trial.js';
export type { Preview } from './pointing/preview.js';
export { LEAST_SURE, planText } from './learning/plan-text.js';
export type { Evidence } from './learning/rules.js';
export * from './trace/finding-view.js';
export { applyEdits, byFile, type Change, type TextEdit } from './repairs/change.js';
export { isCode } from './repairs/encode.js';
export { repairedText, writingOf } from './repairs/repaired.js';
export {
  editsOfRepair,
  repairsChosen,
  tryRepairs,
  type ChosenRepair,
  type Tried,
  type Verdict,
} from './repairs/trial.js';
export { toPatch, type ChangedFile } from './repairs/patch.js';
export { NO_HISTORY, type Commit, type History, type Version } from './model/history.js';
export type { PartValues } from './linking/linked.js';
export {
  lifeCycle,
  SUBJECTS,
  wiring,
  WIRE_STATES,
  type LifeCycle,
  type Reset,
  type Subject,
  type WireEnd,
  type WireRow,
  type WireState,
  type Wiring,
  type WiringFilter,
} from './trace/wiring.js';
export type { StoryLine } from './linking/linked.js';
export { familiesOf, familyOf } from './families/families.js';
export type { Family, FamilyCell, FamilyRow, FamilySummary, Holds } from './families/family.js';
export { findTwins } from './twins/search.js';
export { twinPage } from './pages/twins/twin-page.js';
export { twinTasks } from './pages/twins/tasks.js';
export {
  RISKS,
  TWIN_KINDS,
  type KeyedTwins,
  type Risk,
  type TwinFilter,
  type TwinKind,
  type TwinPage,
} from './pages/twins/twin-view.js';
