import type { ErrorCode, Graph, Losses, Mistake } from '@glue-trace/core';
import type { Progress } from '../api.js';

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

/** What it sends back. */
export type FromWorker =
  | { is: 'progress'; progress: Progress }
  | { is: 'done'; name: string; graph: Graph; losses: Losses }
  | { is: 'unchanged' }
  | { is: 'failed'; code: ErrorCode; detail: string; mistakes: Mistake[] };
