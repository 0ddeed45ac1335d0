/** Facts of files kept from earlier scans, and what they are kept by. */
import { createHash } from 'node:crypto';
import { FACTS_VERSION, type Plan } from '@glue-trace/core';
import type { FileEntry } from './read-one.js';

export interface FactsCache {
  /** Files as the last finished scan found them, by path. */
  entries(): FileEntry[];
  /** Packed facts, by a key made of content, path and plan. */
  get(key: string): string | undefined;
  put(key: string, packed: string): void;
  /** Hash of a file's content in the last scan that found it. */
  formerHash(path: string): string | undefined;
}

export function hashOf(text: string): string {
  return createHash('sha256').update(text).digest('hex');
}

/** What a plan is known by to this version of what reads. */
export function planHashOf(plan: Plan): string {
  return hashOf(`${FACTS_VERSION}\n${JSON.stringify(plan)}`);
}

/** What the facts of a file's content are kept by. */
export function factsKey({ hash, path }: Pick<FileEntry, 'hash' | 'path'>, planHash: string): string {
  return hashOf(`${hash}\n${path}\n${planHash}`);
}
