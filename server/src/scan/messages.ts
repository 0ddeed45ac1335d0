import type {
  ErrorCode,
  Graph,
  Losses,
  MapChange,
  Mistake,
  PlanTrial,
  PlayExpected,
  Range,
  Remembered,
  TwinFilter,
} from '@glue-trace/core';
import type {
  FamilyGrid,
  FamilyName,
  Progress,
  StoryView,
  SureRepairs,
  TwinsPage,
  RepairTrial,
  ValuesView,
  WalkPage,
} from '../api.js';
import type { LearnedAgain } from '../plans/learn-again.js';
import type { LearnedFolder } from '../plans/learn-plan.js';

/** What the thread of a project is begun with. */
export interface WorkerData {
  projectId: number;
  folder: string;
  planFile?: string;
  storePath: string;
}

/** What it is asked for: one scan at a time. */
export interface ScanOrder {
  scanId: number;
  /** Begun by itself: dropped when no file has changed since the scan before. */
  isOwnAccord: boolean;
  /** Reads files also when they have the size and time that they had. */
  readsAll: boolean;
}

/** What is asked of the map that the thread holds. Pieces are named by their keys. */
export type MapQuestion =
  /** Values saved on a piece, from the code to the instance. */
  | { ask: 'values'; piece: string }
  /** The way that the look-up at a place takes from a piece. */
  | { ask: 'walk'; piece: string; at: { file: string } & Range }
  /** What an event leads to, or what can lead to it. */
  | { ask: 'story'; piece: string; direction: 'forward' | 'backward' }
  | { ask: 'families' }
  | { ask: 'family'; piece: string }
  | { ask: 'twins'; filter: TwinFilter }
  /** What the map expects of play. */
  | { ask: 'play' }
  /** All twins as a list of tasks, under the name of the project. */
  | { ask: 'twin tasks'; name: string }
  /** What comes of the sure repairs of a finding when they are made in memory. */
  | { ask: 'trial'; finding: string }
  /** The sure repairs of these findings that hold when they are made together in memory. */
  | { ask: 'sure repairs'; findings: string[] }
  /** What the project would be with another plan, and what a rule of it would find. */
  | { ask: 'plan trial'; text: string; rule?: string }
  /** What is learned beside the plan that stands. */
  | { ask: 'learn again' }
  /** What the project was read by, where it has no plan. */
  | { ask: 'learned' }
  /** Takes over what people decided meanwhile; gives how many findings are waived. */
  | { ask: 'decisions' }
  /** What a revision in the version history comes to by today's plan, and what came and went since to a kept scan. */
  | { ask: 'revision'; revision: string; to: number }
  /** What came and went of the map from one kept scan to another. */
  | { ask: 'map change'; from: number; to: number }
  /** Who last touched these lines, in their order. */
  | { ask: 'touched'; places: { file: string; line: number }[] };

/** What each question is answered with. */
export interface MapAnswers {
  values: ValuesView[];
  walk: WalkPage['steps'];
  story: StoryView[];
  families: FamilyName[];
  /** Undefined when the piece has no family. */
  family: FamilyGrid | undefined;
  twins: TwinsPage;
  play: PlayExpected;
  'twin tasks': string;
  trial: RepairTrial[];
  'sure repairs': SureRepairs;
  'plan trial': PlanTrial;
  'learn again': LearnedAgain;
  learned: LearnedFolder | undefined;
  decisions: number;
  revision: { findings: Remembered[]; change: MapChange | undefined };
  /** Undefined when what was read then is no longer kept. */
  'map change': MapChange | undefined;
  touched: (string | undefined)[];
}

export type QuestionOf<Kind extends MapQuestion['ask']> = Extract<MapQuestion, { ask: Kind }>;

export interface AskedQuestion {
  is: 'question';
  id: number;
  question: MapQuestion;
}

/** How a question ended. A `fault` is ours: its words are for the log. */
export type Outcome =
  | { is: 'answered'; answer: MapAnswers[MapQuestion['ask']] }
  | { is: 'refused'; code: ErrorCode; detail: string }
  | { is: 'no map' }
  | { is: 'fault'; detail: string };

/** Why a scan failed. A `fault/ours` is for the log. */
export interface Failure {
  code: ErrorCode;
  detail: string;
  mistakes: Mistake[];
}

/**
 * Texts and losses of a map, a few at a time: taking over all of a large one at once would keep the server from
 * answering for a second and more. Each is sent when the one before was taken over.
 */
export interface MapPart {
  texts: string[];
  losses: LossOf[];
}

export type LossOf = Losses extends ReadonlyMap<infer Link, infer What> ? [Link, What] : never;

/** What the thread is sent. */
export type ToWorker = ({ is: 'scan' } & ScanOrder) | AskedQuestion | { is: 'more' } | { is: 'close' };

/** What it sends back. */
export type FromWorker =
  | { is: 'progress'; progress: Progress }
  /** A map begins to be handed over: its columns, without texts. */
  | { is: 'map'; graph: Graph }
  | ({ is: 'part' } & MapPart)
  /** All of the map is handed over. */
  | { is: 'done'; name: string }
  | { is: 'outcome'; id: number; outcome: Outcome }
  | { is: 'unchanged' }
  /** No file has changed, but what people decided: the scan before holds it now. */
  | { is: 'decided'; scanId: number }
  | ({ is: 'failed' } & Failure);
