/** How much of a project a scan rests on: its text files, and those of them that were read. */
import { closeSync, constants, openSync, readSync } from 'node:fs';
import { join } from 'node:path';
import { isMediaName, type ReadShare, type FileFacts, type Plan } from '@glue-trace/core';
import { endingOf } from './coverage.js';
import type { FileEntry } from './read-one.js';

/** Words for people and for tools, which say nothing of the game. */
const ASIDE =
  /(?:^|\/)(?:\.[^/]*|[^/.]+|[^/]*\.(?:md|rst|adoc|license|licence|lock|log|patch|sh|bat|yml\.example)|package(?:-lock)?\.json|tsconfig[^/]*\.json)$/i;
/** Of files of one ending so many are looked at; the others are like them. */
const LOOKED_AT = 3;
const BYTES = 4096;

/** What was read, and what might have been. */
export function readShareOf(
  folder: string,
  files: readonly FileEntry[],
  facts: readonly FileFacts[],
  plan: Plan,
): ReadShare {
  const read = files.filter(({ status }) => status === 'read' || status === 'partly').length;
  const left = files.filter(
    ({ status, rule, path, size }) =>
      status === 'unread' && rule === '' && size > 0 && !ASIDE.test(path) && !isMediaName(path),
  );
  const looked = new Map<string, boolean[]>();
  const texts = left.filter(({ path }) => {
    const ending = endingOf(path);
    const known = looked.get(ending) ?? [];
    if (known.length < LOOKED_AT) looked.set(ending, [...known, isText(join(folder, path))]);
    return (looked.get(ending) ?? []).some(Boolean);
  });
  const scripts = facts.filter(({ script, kind }) => script !== undefined && kind === 'script');
  const areCallsKnown =
    plan.calls.length > 0 || scripts.some(({ script }) => script !== undefined && script.operations.length > 0);
  return { texts: read + texts.length, read, scripts: scripts.length, areCallsKnown };
}

/** Whether a file seems to hold text, by its first bytes. */
function isText(path: string): boolean {
  try {
    const file = openSync(path, constants.O_RDONLY | (constants.O_NONBLOCK ?? 0));
    try {
      const bytes = Buffer.alloc(BYTES);
      return !bytes.subarray(0, readSync(file, bytes)).includes(0);
    } finally {
      closeSync(file);
    }
  } catch {
    return false;
  }
}
