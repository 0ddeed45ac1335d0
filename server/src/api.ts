/** Shapes of what the API takes and gives; shared with the interface, so it holds types alone. */
import type {
  Coupling,
  Excerpt,
  Family,
  FamilyRow,
  FamilySummary,
  KeyedTwins,
  TwinPage,
  FindingView,
  MapChange,
  Remembered,
  Waiver,
  Grip,
  Happening,
  Language,
  PlayAgainstMap,
  SeenInPlay,
  PlayEvent,
  TimesBeside,
  PartValues,
  PieceName,
  PutRule,
  Readiness,
  StoryLine,
  TraceLine,
} from '@glue-trace/core';

export interface Progress {
  phase: 'looking' | 'reading' | 'linking' | 'saving';
  done: number;
  total: number;
  /** While reading: how long the rest will take, as far as one can say. */
  secondsLeft?: number;
}

/** Why something failed, as told to the user. */
export interface ScanError {
  code: string;
  title: string;
  detail: string;
  mistakes: { file?: string; key: string; message: string; line?: number; column?: number }[];
}

/** Problem details (RFC 9457), as every error is answered. */
export interface Problem extends ScanError {
  type: string;
  status: number;
}

export interface ScanSummary {
  id: number;
  projectId: number;
  state: 'running' | 'done' | 'failed' | 'stopped';
  /** ISO 8601, UTC. */
  startedAt: string;
  milliseconds: number | null;
  /** Files whose facts were known from an earlier scan. */
  reused: number | null;
  error: ScanError | null;
}

/** A project as the interface sees it. */
export interface ProjectView {
  id: number;
  name: string;
  folder: string;
  openedAt: string;
  /** `ready`: there is a plan that can be read. Otherwise what the project needs first. */
  /** `learned`: there is none; it is scanned by one that is learned from its files. */
  plan: 'ready' | 'learned' | 'broken' | 'folder gone';
  planError: Pick<ScanError, 'title' | 'detail' | 'mistakes'> | null;
  running: { scanId: number; progress: Progress } | null;
  lastScan: ScanSummary | null;
  verdict: string | null;
}

/** Findings that one scan has and the one before has not, and the other way round. */
export interface ScanChange {
  /** The scan that it is measured against: the last one that somebody looked at, or else the one before. */
  since: number;
  appeared: number;
  gone: number;
}

/** What listeners of a project's scans are told. */
export type ScanEvent =
  | { is: 'progress'; scanId: number; progress: Progress }
  | { is: 'done'; scanId: number; change: ScanChange | null }
  | { is: 'failed'; scanId: number; error: ScanError }
  | { is: 'stopped'; scanId: number }
  /** A scan that began by itself found every file as it was, and was dropped. */
  | { is: 'unchanged'; scanId: number };

/** Somebody decided or noted something in the project. */
export interface ProjectChange {
  /** The window in which it was done, as that calls itself; empty when it does not say. */
  by: string;
}

/** How changes of a project's files are seen: at once, or by looking through them every so many seconds. */
export interface Watching {
  everySeconds: number | null;
}

/** What the folder chooser shows of one folder. */
export interface FolderListing {
  path: string;
  /** Folder above, null where the chooser ends. */
  parent: string | null;
  hasPlan: boolean;
  folders: { name: string; path: string; hasPlan: boolean }[];
}

/** A line of the findings list. */
export interface FindingRow {
  position: number;
  fingerprint: string;
  check: string;
  severity: string;
  file: string;
  line: number;
  text: string;
  sentence: FindingView['sentence'];
  places: number;
  /** 1 when it is accepted on purpose. */
  waived: number;
  /** What somebody noted on it; null for nothing. */
  note: string | null;
  /** What play said of it; left out where no session is kept. */
  play?: SeenInPlay;
}

/** How the list of findings is narrowed, for requests that mean all that it shows. */
export interface Shown {
  severity?: string[];
  check?: string[];
  folder?: string;
  text?: string;
  waived?: 'without' | 'with' | 'only';
  /** Only what this scan does not have. */
  since?: number;
  /** Only what lies on this route. */
  route?: string;
  /** Only what failed in play, what came up there, or what never did. */
  played?: 'failed' | 'came' | 'never';
  /** Key of a scene: only what is about it and what comes along with it. */
  scene?: string;
  /** Only what this person touched last, as the version history knows. */
  owner?: string;
  /** Only what rests on what somebody wrote or took, or on learned rules that nobody looked at. */
  rests?: 'written' | 'learned';
  /** Only those that somebody noted something on. */
  noted?: boolean;
  /** In which order: the worst first unless given. */
  order?: 'worst' | 'file' | 'places';
}

/** A finding with all that is known of it. */
export type FindingDetail = FindingView & { play?: SeenInPlay; note: string; beside: BesideView[] };

/** Another finding about the same piece. */
export interface BesideView {
  fingerprint: string;
  severity: string;
  text: string;
}

/** Sure repairs of findings that hold when they are tried together. */
export interface SureRepairs extends RepairRequest {
  /** Those that were tried and do not hold. */
  left: { name: string; reason: string }[];
  /** Findings whose repairs somebody has to look at. */
  unsure: number;
  /** Findings that no repair can be written for. */
  without: number;
}

export interface FindingPage {
  scanId: number;
  offset: number;
  total: number;
  rows: FindingRow[];
  /** Findings by check within the other filters. */
  byCheck: { check: string; count: number }[];
  /** Findings by the folder of their first place within the other filters, most first; empty for files at the top. */
  byFolder: { folder: string; count: number }[];
  /** Findings by severity within the other filters. */
  bySeverity: { severity: string; count: number }[];
  /** Findings that are accepted on purpose, within the other filters. */
  waived: number;
  /** The scan that somebody looked at last, before this one; or else the one before. Null for the first. */
  before: number | null;
}

export interface ReadinessPage {
  scan: { id: number; startedAt: string; milliseconds: number | null; reused: number | null };
  readiness: Readiness;
  /** The first errors. */
  blockers: FindingRow[];
  /** Against the scan that somebody looked at last, null for the first. */
  change: ScanChange | null;
  /** Where a route was asked for: findings that lie off it, names of it that nothing has, and all pieces of the map. */
  route?: { off: number; unknown: string[]; pieces: number };
  /** Waivers that match nothing any more. */
  idleWaivers: number;
  /** Oldest first, this scan last. */
  history: { id: number; startedAt: string; bySeverity: Readiness['bySeverity'] | undefined }[];
  files: {
    all: number;
    read: number;
    /** Known by name, and meant to be. */
    listed: number;
    troubled: { path: string; status: string; reason: string }[];
    troubledCount: number;
  };
}

/** Values saved on one part, and all they stand in front of. */
export interface ValuesView extends Omit<PartValues, 'part'> {
  part: PieceName;
}

/** Trace, beyond the links themselves. */
export interface ValuesPage {
  parts: ValuesView[];
}
export interface WalkPage {
  steps: { asks: string; finds: string; key?: string; grip: Grip }[];
}
/** A line of the story of an event. */
export interface StoryView extends Omit<StoryLine, 'piece' | 'whatPiece'> {
  key?: string;
  whatKey?: string;
}
export interface StoryPage {
  lines: StoryView[];
}
/** A family or a row of one, with the key of its piece. */
type Keyed<T> = Omit<T, 'piece'> & { key: string; title: string };
export type FamilyName = Keyed<FamilySummary>;
export interface FamilyGrid extends FamilyName {
  columns: Family['columns'];
  rows: Keyed<FamilyRow>[];
}
export interface FamiliesPage {
  families: FamilyName[];
}
export interface TwinGroupView extends Omit<KeyedTwins, 'places'> {
  places: (Omit<KeyedTwins['places'][number], 'piece'> & { key?: string })[];
}
export interface TwinsPage extends Omit<TwinPage, 'groups' | 'opened'> {
  groups: TwinGroupView[];
  /** The one that was asked for. */
  opened?: TwinGroupView;
}
export interface CouplingLinks {
  lines: TraceLine[];
  count: number;
}
export interface CouplingPage extends Coupling {
  /** Folders to go down into. */
  folders: string[];
  /** Whether each group has something on the route that was asked for. */
  onRoute?: boolean[];
}

/** Repairs that are asked for, each by its place in the list of its finding. */
export interface RepairRequest {
  findings: { fingerprint: string; repair: number }[];
}

/** What came of a sure repair when it was made in memory. */
export interface RepairTrial {
  /** Its place in the list of its finding. */
  repair: number;
  /** Why it does not hold; when it does, its finding goes and nothing new comes. */
  reason?: string;
}

/** What repairs come to before they are written. */
export interface RepairPreview {
  title: string;
  /** A unified diff. */
  patch: string;
  files: string[];
  /** How many repairs it holds. */
  count: number;
  left: { name: string; reason: string }[];
  /** What else to know of it before it is written. */
  notes: string[];
}

/** A repair that was written. */
export interface RepairView {
  id: number;
  /** ISO 8601, UTC. */
  writtenAt: string;
  title: string;
  files: string[];
  isUndone: boolean;
}

/** What one rule of the plan came to. */
export interface RuleView {
  /** Its key in the plan, e.g. `files.scenes.pieces.objects`. */
  rule: string;
  files: number;
  pieces: number;
  /** For rows of the call table: how many calls they match. */
  uses?: number;
  links: number;
  lost: number;
}

export type FileStatus = 'read' | 'partly' | 'listed' | 'unread';

/** What became of one file. */
export interface FileView {
  path: string;
  /** `read`: fully; `partly`: with faults; `listed`: known by name only; `unread`: nothing reads it. */
  status: FileStatus;
  /** Rule of the plan that reads it, empty if none. */
  rule: string;
  /** Why it was not (fully) read, empty if it was. */
  reason: string;
  size: number;
}

/** Files of one folder or of one ending, counted by what became of them. */
export interface Coverage {
  name: string;
  counts: Record<FileStatus, number>;
}

export interface ReadingPage {
  total: Record<FileStatus, number>;
  folders: Coverage[];
  endings: Coverage[];
  rules: RuleView[];
}

/** The plan as it stands on disk. */
export interface PlanPage {
  path: string;
  text: string;
  /** SHA-256 of the text: given back when the plan is saved, to tell whether it changed meanwhile. */
  hash: string;
  /** The project's own, or one that reads it as long as there is none: saving writes that. */
  origin: 'own' | 'built in' | 'learned';
  /** Texts of the plans that it builds on, by the path it gives. */
  bases: Record<string, string>;
}

/** What was learned of a project's files and nobody has looked at yet. */
export interface LearnedPage {
  /** Whether the plan is a file; else it was learned just now and is written with the first decision. */
  isWritten: boolean;
  /** The plan, and its SHA-256: given back with a decision, to tell whether it changed meanwhile. */
  text: string;
  hash: string;
  /** Text files of the project, and of them those that some rule reads. */
  textFiles: number;
  readFiles: number;
  /** Learned rules, those that are used most first. */
  rules: LearnedRow[];
  /** Whether it was learned again, beside what the plan says. */
  isAgain: boolean;
}

/** A learned rule with what speaks for it. */
export interface LearnedRow {
  key: string;
  /** From 0 to 1. */
  sure: number;
  of: number;
  leads: number;
  says: string;
  examples: string[];
  /** Texts that lead nowhere, a few. */
  misses: string[];
  /** As it is written in the plan. */
  rule: string;
  /** How many places an answer settles: more than 0 where it is a question. */
  asks: number;
  /** What may be meant instead. */
  others: LearnedOther[];
  /** When it was learned again: a rule that the plan does not have, or one of the plan of which much leads nowhere. */
  is?: 'new' | 'failing';
  /** What speaks for rules inside of a new one, by their keys. */
  inner?: PutRule['inner'];
}

/** What a place may name instead of what a learned rule says. */
export interface LearnedOther {
  /** What it would name, in words. */
  says: string;
  of: number;
  leads: number;
  /** As it would be written in the plan. */
  rule: string;
  /** Under which key, where it is another one: the rule that was asked about goes then. */
  key?: string;
}

/** A file of the project as text. */
export interface TextPage {
  path: string;
  text: string;
  /** The file goes on; only its beginning is here. */
  isCut: boolean;
  /** For scripts, by their ending. */
  language?: Language;
}

export interface FilePage {
  total: number;
  offset: number;
  rows: FileView[];
}

export interface CheckView {
  id: string;
  title: string;
  severity: string;
  why: string;
  decides: string;
}

export interface ExcerptView extends Excerpt {
  /** The file is no longer as it was when scanned. */
  isChanged: boolean;
}

export interface About {
  version: string;
  starts: string[];
}

/** A waiver to be written: of findings, or of a check at a place. */
export interface WaiverRequest {
  /** Fingerprints of findings of the last scan. */
  findings: string[];
  /** Instead of findings: all that the list shows when it is narrowed so. */
  shown?: Shown;
  /** Without findings: a check, or a family as `fragile/*`, and a glob of files. */
  check?: string;
  in?: string;
  reason: string;
  by?: string;
  /** The last day on which it counts, as 2026-03-02; for good when left out. */
  until?: string;
}

/** A waiver as it stands in the project's file. */
export interface WaiverView extends Waiver {
  /** Its position in the file. */
  at: number;
  /** In force, ended, or matching nothing any more. */
  state: 'in force' | 'ended' | 'idle';
}

/** A route that can be chosen. */
export interface RouteView {
  name: string;
  note: string;
  /** Where it begins, as it is written; with the piece that is meant, if there is one. */
  from: { written: string; piece?: PieceName }[];
  /** The one from where play begins when nobody says otherwise; it cannot be changed. */
  isDefault: boolean;
  /** Pieces that can be reached. */
  pieces: number;
}

/** One scan of the history. */
export interface ScanView {
  id: number;
  startedAt: string;
  milliseconds: number | null;
  note: string;
  /** Somebody looked at it. */
  isSeen: boolean;
  bySeverity: Readiness['bySeverity'] | undefined;
  byFamily: Readiness['byFamily'];
  /** Findings that count by their first folder. */
  byFolder: { folder: string; count: number }[];
  /** Who last touched the lines of what was found, most first; null until it was asked for while the scan was the last. */
  byWho: TouchedBy[] | null;
  waived: number;
  pieces: number;
  links: number;
}

/** Two times beside each other. */
export interface ComparisonView {
  from: string;
  to: string;
  appeared: Remembered[];
  gone: Remembered[];
  moved: Remembered[];
  same: number;
  /** Findings that are accepted on purpose by now, and were not then. */
  waived: number;
  /** What of the map came and went; left out when what was read of one of them is no longer kept. */
  map?: MapChange;
  /** Two scans that were not made by one plan. */
  isOtherPlan: boolean;
  /** Who last touched the lines of what is new, most first. */
  touched: TouchedBy[];
}

/** How many places somebody touched last. */
export interface TouchedBy {
  by: string;
  count: number;
}

// Play logs -----------------------------------------------------------------------------------------------------------

/** A session of play. */
export interface PlaySessionView {
  id: number;
  name: string;
  note: string;
  /** `sent` or `file`. */
  cameBy: string;
  startedAt: string;
  endedAt: string | null;
  isOpen: boolean;
  events: number;
  /** Lines that could not be read, and events that were too many. */
  unread: number;
  dropped: number;
  problems: { line: number; problem: string }[];
}

export interface PlayPage {
  /** What a game sends along, and where to. */
  token: string;
  path: string;
  /** Newest first. */
  sessions: PlaySessionView[];
}

export interface PlaySessionPage {
  session: PlaySessionView;
  /** Most first. */
  kinds: PlayKind[];
  /** Of each stretch of time its first second since 1970, a kind (0 for all that come rarely), how many, and the positions of the first and the last. */
  rates: [second: number, kind: number, events: number, first: number, last: number][];
  marks: { at: number; note: string }[];
}

/** Events of one name to which the same happens. */
export interface PlayKind {
  id: number;
  type: string;
  happening: Happening;
  events: number;
}

export interface PlayEventView {
  /** Position in the session, from 1. */
  at: number;
  kind: number;
  /** Milliseconds since 1970. */
  time: number;
  id: string;
  source: string;
  subject: string | null;
  handler: string | null;
  frame: number | null;
  side: string | null;
  cause: string | null;
  /** Where in the code, such as `scripts/gate.ts:12`. */
  place: string | null;
  /** As JSON; shortened in lists. */
  data: string | null;
}

export interface PlayEventPage {
  /** The latest first. */
  rows: PlayEventView[];
  /** How far back was looked: before that there may be more, unless it is 1. */
  lookedTo: number;
  events: number;
}

export interface PlayDetail {
  event: PlayEventView & { others: string | null };
  /** What led to it, the first of all first, and what it led to. */
  ledHere: PlayEventView[];
  ledTo: PlayEventView[];
  /** What of it stands on the map; null where the project cannot be scanned. */
  onMap: { written: string; piece: PieceName }[] | null;
  /** What the team says that the event means. */
  means: string | null;
}

export interface PlayTaken {
  session: number;
  taken: number;
  dropped: number;
  /** What was wrong, the first few. */
  problems: string[];
}

/** What happened beside what the map expects; lines name sessions by their position in `judged`. */
export interface PlayMapView extends PlayAgainstMap {
  /** `left` are events that were too many to be judged. */
  judged: { id: number; name: string; left: number }[];
  route: string;
  /** The checks that found something. */
  checks: Pick<CheckView, 'id' | 'title' | 'why' | 'decides'>[];
}

/** Two sessions beside each other. */
export interface PlayBesideView {
  /** How many events are the same from the beginning; where they part, if they do. */
  same: number;
  one: PlayEvent | null;
  other: PlayEvent | null;
  /** What came more often in one of them, a few. */
  times: TimesBeside[];
}

/** What came meanwhile, while somebody looks. */
export type PlayNews = Pick<PlaySessionView, 'id' | 'isOpen' | 'events' | 'unread' | 'dropped'>[];
