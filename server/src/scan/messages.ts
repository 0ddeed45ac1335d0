import type { ErrorCode, Graph, Losses, Mistake } from '@glue-trace/core';
import type { Progress } from '../api.js';

/** What a scan's worker thread is given. */
export interface ToWorker {
  folder: string;
  planFile?: string;
  storePath: string;
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
