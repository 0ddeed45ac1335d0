/** The waivers of a project as a file beside its plan. */
import { lstatSync } from 'node:fs';
import { join } from 'node:path';
import { GlueError, readWaivers, WAIVERS_FILE, waiversText, type Waiver } from '@glue-trace/core';
import { readRegular } from '../files/regular.js';
import { writeInside } from '../writing/write.js';

/** In bytes. */
const LARGEST = 16 * 1024 * 1024;

/** What people decided, and the text that says so: empty where there is none. */
export interface WaiversNow {
  text: string;
  waivers: Waiver[];
}

/** @throws GlueError `waivers/invalid`, `file/unreadable` */
export function waiversOf(folder: string): WaiversNow {
  const text = readDocumentOf(folder, WAIVERS_FILE);
  return { text, waivers: readWaivers(text) };
}

/** The text of a document that may stand in a project's folder; empty where it does not. @throws GlueError `file/unreadable` */
export function readDocumentOf(folder: string, name: string): string {
  const path = join(folder, name);
  const stat = lstatSync(path, { throwIfNoEntry: false });
  if (!stat) return '';
  if (stat.isSymbolicLink())
    throw new GlueError('file/unreadable', `${name} is a link, which is not followed. Put the file itself there.`);
  try {
    return readRegular(path, LARGEST)
      .toString('utf8')
      .replace(/^\uFEFF/, '');
  } catch (error) {
    throw new GlueError('file/unreadable', `${name} cannot be read: ${(error as Error).message}.`);
  }
}

/**
 * Changes the waivers of a project. What stands in the file by then counts, so that nothing that somebody else wrote is lost.
 * @throws GlueError `waivers/invalid`, `file/unreadable`, `file/unwritable`
 */
export function changeWaivers(folder: string, change: (waivers: Waiver[]) => Waiver[]): void {
  const { waivers } = waiversOf(folder);
  writeInside(folder, WAIVERS_FILE, waiversText(change(waivers)));
}

/** Today in the time zone of this machine, as 2026-03-02. */
export function today(now = new Date()): string {
  const two = (number: number): string => String(number).padStart(2, '0');
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`;
}
