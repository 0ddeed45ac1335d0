import type { ErrorCode, Graph, Grip, Losses, Mistake, TwinFilter } from '@glue-trace/core';
import type { FamilyGrid, FamilyName, Progress, StoryView, TwinsPage, ValuesView } from '../api.js';

/** What the thread of a project is begun with. */
export interface WorkerData {
  projectId: number;
  folder: string;
  planFile?: string;
  storePath: string;
}

/** What it is asked for: one scan at a time. */
export interface ToWorker {
  scanId: number;
  /** Begun by itself: dropped when no file has changed since the scan before. */
  isOwnAccord: boolean;
}

/** What is asked of the map that it holds: values saved on a piece, and ways that look-ups take. */
export interface Question {
  is: 'question';
  id: number;
  /** Key of the piece. */
  piece: string;
  /** The look-up whose way is wanted; without it, values are. */
  at?: { file: string; line: number; column: number };
  /** The piece is an event, and its story is wanted. */
  story?: 'forward' | 'backward';
  /** All families, or the one of the piece, or the twins that are wanted, or all of them as a list of tasks. */
  view?: 'families' | 'family' | 'twins' | 'twin tasks';
  twins?: TwinFilter;
  /** Name of the project, for the heading of the tasks. */
  name?: string;
}

export interface Answer {
  values: ValuesView[];
  walk: { asks: string; finds: string; key?: string; grip: Grip }[];
  story: StoryView[];
  families?: FamilyName[];
  family?: FamilyGrid;
  twins?: Omit<TwinsPage, 'isKnown'>;
  tasks?: string;
}

/** What it sends back. */
export type FromWorker =
  | { is: 'progress'; progress: Progress }
  | { is: 'done'; name: string; graph: Graph; losses: Losses }
  | { is: 'answer'; id: number; answer: Answer | null }
  | { is: 'unchanged' }
  | { is: 'failed'; code: ErrorCode; detail: string; mistakes: Mistake[] };
