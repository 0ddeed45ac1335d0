/**
 * The one place that writes files of a project. Whatever is written is whole or not there: first beside the file, under
 * a name that nobody can guess, then in its place. No link is followed, and nothing outside of the project is touched.
 */
import { createHash, randomBytes } from 'node:crypto';
import {
  chmodSync,
  closeSync,
  constants,
  fchmodSync,
  fchownSync,
  fsyncSync,
  linkSync,
  lstatSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  realpathSync,
  renameSync,
  rmSync,
  writeFileSync,
  writeSync,
  type Stats,
} from 'node:fs';
import { dirname, join, normalize } from 'node:path';
import { GlueError } from '@glue-trace/core';

/** A file to be written. */
export interface NewContent {
  /** Project-relative, forward slashes. */
  file: string;
  /** What it must hold until then. */
  before: Buffer;
  after: Buffer;
}

/** Told before each step, so that tests can stop there. */
export type Seam = (step: string) => void;

const NO_SEAM: Seam = () => undefined;
const BESIDE = /^\.[0-9a-f]{16}\.glue-new$/;
const NOT_THERE_YET = constants.O_WRONLY | constants.O_CREAT | constants.O_EXCL | (constants.O_NOFOLLOW ?? 0);

/**
 * Writes several files, all or none. When one cannot be put in its place, those before it get their old content back.
 * @param seam told before each step
 * @throws GlueError `file/unwritable`, saying which files hold the new content all the same; `repair/changed` when one
 *   is no longer as it was
 */
export function writeAll(folder: string, files: readonly NewContent[], seam: Seam = NO_SEAM): void {
  const beside = new Map<NewContent, string>();
  const done: NewContent[] = [];
  let at = '';
  try {
    for (const one of files) {
      at = one.file;
      const target = placeIn(folder, one.file);
      mustHold(one, target);
      seam(`beside ${one.file}`);
      beside.set(one, putBeside(target, one.after, lstatSync(target)));
    }
    for (const one of files) {
      at = one.file;
      // What was right when it was written beside may not be so any more.
      const target = placeIn(folder, one.file);
      mustHold(one, target);
      seam(`into place ${one.file}`);
      moveOver(beside.get(one) ?? '', target);
      done.push(one);
    }
  } catch (error) {
    for (const path of beside.values()) rmSync(path, { force: true });
    const left = done.filter((one) => !isTakenBack(folder, one));
    if (error instanceof GlueError && error.code === 'repair/changed' && left.length === 0) throw error;
    const why = error instanceof GlueError ? error.detail.replace(/\.$/, '') : `${at}: ${(error as Error).message}`;
    throw new GlueError('file/unwritable', `${why}. ${leftWords(left)}`);
  }
}

function leftWords(left: readonly NewContent[]): string {
  if (left.length === 0) return 'Nothing was changed.';
  return `Changed all the same, and to be taken back by hand: ${left.map(({ file }) => file).join(', ')}.`;
}

function isTakenBack(folder: string, { file, before, after }: NewContent): boolean {
  try {
    const target = placeIn(folder, file);
    mustHold({ file, before: after, after: before }, target);
    moveOver(putBeside(target, before, lstatSync(target)), target);
    return true;
  } catch {
    return false;
  }
}

/** @throws GlueError `repair/changed` */
function mustHold({ file, before }: NewContent, target: string): void {
  if (!readFileSync(target).equals(before))
    throw new GlueError('repair/changed', `${file} was changed meanwhile. Scan again, and look at the repair anew.`);
}

/**
 * Puts one text in the place of a file, or makes the file.
 * @param path where the user said, not what a project says: a link there is followed
 * @throws GlueError `file/unwritable`
 */
export function writeWhole(path: string, text: string): void {
  try {
    const target = realOrNew(path);
    const now = statOf(target);
    // A terminal, a pipe: nothing can be put in its place.
    if (now && !now.isFile()) writeFileSync(target, text);
    else moveOver(putBeside(target, Buffer.from(text), now), target);
  } catch (error) {
    throw new GlueError('file/unwritable', `${path} cannot be written: ${(error as Error).message}.`);
  }
}

/**
 * Makes a program of a text, at a path that the user said.
 * @param mayReplace what stands there may be replaced; else it stays
 * @throws GlueError `file/unwritable`
 */
export function writeExecutable(path: string, text: string, mayReplace: (before: string) => boolean): void {
  let before: string | undefined;
  try {
    before = statOf(path) && readFileSync(path, 'utf8');
    if (before === undefined || mayReplace(before)) {
      mkdirSync(dirname(path), { recursive: true });
      const beside = putBeside(path, Buffer.from(text), undefined);
      chmodSync(beside, 0o755);
      return moveOver(beside, path);
    }
  } catch (error) {
    throw new GlueError('file/unwritable', `${path} cannot be written: ${(error as Error).message}.`);
  }
  throw new GlueError(
    'file/unwritable',
    `${path} was written by somebody else. Add its lines by hand, or give --force to replace it.`,
  );
}

/**
 * Puts one text in the place of a file of a project, or makes the file.
 * @throws GlueError `file/unwritable`, also when a link leads there
 */
export function writeInside(folder: string, file: string, text: string): void {
  try {
    const target = placeIn(folder, file);
    moveOver(putBeside(target, Buffer.from(text), statOf(target)), target);
  } catch (error) {
    const why = error instanceof GlueError ? error.detail : (error as Error).message;
    throw new GlueError('file/unwritable', `${join(folder, file)} cannot be written: ${why}.`);
  }
}

/**
 * Makes a file of a project that is not there yet.
 * @returns whether it was made; otherwise there is one, and it was left as it is
 * @throws GlueError `file/unwritable`
 */
export function writeNew(folder: string, file: string, text: string): boolean {
  try {
    const target = placeIn(folder, file);
    const beside = putBeside(target, Buffer.from(text), undefined);
    try {
      takeName(beside, target, text);
      syncFolder(dirname(target));
    } finally {
      rmSync(beside, { force: true });
    }
    return true;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EEXIST') return false;
    const why = error instanceof GlueError ? error.detail : (error as Error).message;
    throw new GlueError('file/unwritable', `${join(folder, file)} cannot be written: ${why}.`);
  }
}

/** A link takes a name that is free and no other; where there are none, the file is made anew. */
function takeName(beside: string, target: string, text: string): void {
  try {
    linkSync(beside, target);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EEXIST') throw error;
    writeFileSync(target, text, { flag: 'wx' });
  }
}

/** Takes away what a writing that was stopped left beside the files of some folders. */
export function clearLeftOver(folders: Iterable<string>): void {
  for (const folder of new Set(folders)) {
    for (const name of namesIn(folder)) if (BESIDE.test(name)) rmSync(join(folder, name), { force: true });
  }
}

/** Whether a name is one under which something is written before it is put in its place. */
export function isBeside(name: string): boolean {
  return BESIDE.test(name);
}

/** Other names of the same content, which keep the old one: files of a repair that have any. */
export function withOtherNames(folder: string, files: readonly string[]): string[] {
  return files.filter((file) => (statOf(join(folder, file))?.nlink ?? 1) > 1);
}

/**
 * Where a file of a project really stands. Looked at in the moment of writing.
 * @throws GlueError `file/unwritable` when a link leads there, or out of the project
 */
export function placeIn(folder: string, file: string): string {
  const home = realpathSync(folder);
  const target = join(home, normalize(file));
  const isInside = target.startsWith(`${home}/`) || target.startsWith(`${home}\\`);
  if (!isInside || realpathSync(dirname(target)) !== dirname(target))
    throw new GlueError('file/unwritable', `${file} leads out of the project, or through a link`);
  if (statOf(target)?.isFile() === false) throw new GlueError('file/unwritable', `${file} is no ordinary file`);
  return target;
}

function statOf(path: string): Stats | undefined {
  return lstatSync(path, { throwIfNoEntry: false });
}

function realOrNew(path: string): string {
  return statOf(path) ? realpathSync(path) : path;
}

/** Writes beside a file, with the mode and, where it may, the owner that the file has. */
function putBeside(target: string, content: Buffer, like: Stats | undefined): string {
  const path = join(dirname(target), `.${randomBytes(8).toString('hex')}.glue-new`);
  const file = openSync(path, NOT_THERE_YET, like?.mode ?? 0o666);
  try {
    for (let at = 0; at < content.length;) at += writeSync(file, content, at);
    if (like) keepRights(file, like);
    fsyncSync(file);
  } catch (error) {
    rmSync(path, { force: true });
    throw error;
  } finally {
    closeSync(file);
  }
  return path;
}

function keepRights(file: number, { mode, uid, gid }: Stats): void {
  try {
    fchownSync(file, uid, gid);
  } catch {
    // Only its owner may give a file away.
  }
  fchmodSync(file, mode);
}

function moveOver(beside: string, target: string): void {
  try {
    renameSync(beside, target);
  } catch (error) {
    rmSync(beside, { force: true });
    throw error;
  }
  syncFolder(dirname(target));
}

/** What a folder holds survives a power cut once the folder itself is written; not every system can be asked to. */
function syncFolder(folder: string): void {
  try {
    const opened = openSync(folder, constants.O_RDONLY);
    try {
      fsyncSync(opened);
    } finally {
      closeSync(opened);
    }
  } catch {
    // Then it is written when the system sees fit.
  }
}

function namesIn(folder: string): string[] {
  try {
    return readdirSync(folder);
  } catch {
    return [];
  }
}

export function hashOfBytes(bytes: Buffer): string {
  return createHash('sha256').update(bytes).digest('hex');
}
