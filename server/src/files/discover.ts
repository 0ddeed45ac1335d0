import { lstatSync, readdirSync, realpathSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { GlueError, isMatch } from '@glue-trace/core';
import { isStoreFile } from '../store/name.js';
import { isBeside } from '../writing/write.js';
import { readIgnoreFile, type Ignores } from './ignore-file.js';
import { readRegular } from './regular.js';

/** A file of the project as found on disk. */
export interface FoundFile {
  /** Project-relative, forward slashes. */
  path: string;
  size: number;
  /** When it was last written, in milliseconds since 1970. */
  modified: number;
}

/** Something that was passed over, with the reason in words. */
export interface PassedOver {
  path: string;
  reason: string;
}

export interface Discovery {
  files: FoundFile[];
  passedOver: PassedOver[];
}

/** Why a link is passed over. That something stands there is known all the same. */
export const IS_LINK = 'a link: links are not followed';
/** Never part of a project. */
export const NEVER_PART_FOLDERS = ['.git', 'node_modules'];
const IGNORE_FILES = ['.gitignore', '.glueignore'];
const MOST_FILES = 500_000;
/** In bytes; larger ones count for nothing. */
const LARGEST_IGNORE_FILE = 1024 * 1024;

/** The lines of an ignore file, and the folder that they hold for. */
interface IgnoreRules {
  base: string;
  ignores: Ignores;
}

/**
 * Finds the files of a project, in order of path. Links are listed, never followed; ignore files count in their
 * own folder and below.
 * @throws GlueError when the folder is missing, not a folder, or cannot be read
 */
export function discover(folder: string, planIgnores: string[], mostFiles = MOST_FILES): Discovery {
  const found: Discovery = { files: [], passedOver: [] };
  checkFolder(folder);
  const walk = (relative: string, rules: IgnoreRules[]): void => {
    const own = readIgnores(join(folder, relative));
    const inForce = own ? [...rules, { base: relative, ignores: own }] : rules;
    let names: string[];
    try {
      names = readdirSync(join(folder, relative)).sort();
    } catch {
      found.passedOver.push({ path: relative, reason: 'this folder cannot be read' });
      return;
    }
    for (const name of names) {
      if (isNeverPart(name)) continue;
      if (found.files.length >= mostFiles) return leaveOut(relative);
      visit(relative ? `${relative}/${name}` : name, inForce);
    }
  };
  const leaveOut = (relative: string): void => {
    const reason = `the project has more than ${mostFiles} files: what comes after them is left out`;
    if (!found.passedOver.some((one) => one.reason === reason)) found.passedOver.push({ path: relative, reason });
  };
  const visit = (path: string, rules: IgnoreRules[]): void => {
    let stat;
    try {
      stat = lstatSync(join(folder, path));
    } catch {
      return;
    }
    if (stat.isSymbolicLink()) return void found.passedOver.push({ path, reason: IS_LINK });
    const isFolder = stat.isDirectory();
    if (
      isIgnored(path, isFolder, rules) ||
      isMatch(path, planIgnores) ||
      (isFolder && isMatch(`${path}/`, planIgnores))
    )
      return;
    if (isFolder) walk(path, rules);
    else if (stat.isFile()) found.files.push({ path, size: stat.size, modified: stat.mtimeMs });
  };
  walk('', []);
  return found;
}

/** Whether a name never belongs to a project: folders of tools, our own store, what is being written. */
export function isNeverPart(name: string): boolean {
  return NEVER_PART_FOLDERS.includes(name) || isStoreFile(name) || isBeside(name);
}

function readIgnores(folder: string): Ignores | undefined {
  const texts = IGNORE_FILES.flatMap((name) => {
    try {
      return [readRegular(join(folder, name), LARGEST_IGNORE_FILE).toString('utf8')];
    } catch {
      return [];
    }
  });
  return texts.length > 0 ? readIgnoreFile(texts.join('\n')) : undefined;
}

function isIgnored(path: string, isFolder: boolean, rules: IgnoreRules[]): boolean {
  return rules.some(({ base, ignores }) => ignores(base ? path.slice(base.length + 1) : path, isFolder));
}

/** @throws GlueError when this is no folder that can be read */
export function checkFolder(folder: string): void {
  let stat;
  try {
    stat = statSync(folder);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EACCES') throw new GlueError('folder/unreadable', `“${folder}” may not be read by this user.`);
    throw new GlueError('folder/missing', `“${folder}” is not there. Check the spelling, or pick the folder anew.`);
  }
  if (!stat.isDirectory())
    throw new GlueError('folder/not-a-folder', `“${folder}” is a file. Give the folder that holds the project.`);
}

/** The folder's real place, with all links resolved. @throws GlueError as {@link checkFolder} */
export function realFolder(folder: string): string {
  checkFolder(folder);
  return realpathSync(folder);
}
