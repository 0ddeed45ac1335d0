import { readdirSync, existsSync } from 'node:fs';
import { homedir } from 'node:os';
import { dirname, join, sep } from 'node:path';
import { GlueError, PLAN_FILE, itemAt } from '@glue-trace/core';
import type { FolderListing } from './api.js';
import { realFolder } from './files/discover.js';

/** The folders that may be opened: what was given on the command line, and what lies under the user's home or the start folder. */
export interface FolderGate {
  starts: string[];
  /** The real place of a folder that may be opened. @throws GlueError `folder/not-allowed` and those of `checkFolder` */
  admit(folder: string): string;
  list(folder: string | undefined): FolderListing;
}

/** @param given folders named on the command line, which may stand anywhere */
export function createGate(given: string[], startFolder: string): FolderGate {
  const starts = [...new Set([...given, startFolder, homedir()].filter(existsSync).map(realFolder))];
  const isUnder = (path: string): boolean =>
    starts.some((start) => path === start || path.startsWith(start.endsWith(sep) ? start : start + sep));
  const admit = (folder: string): string => {
    const real = realFolder(folder);
    if (!isUnder(real)) {
      throw new GlueError(
        'folder/not-allowed',
        `“${folder}” lies outside of ${starts.join(' and ')}. Start “glue serve” with this folder to open it.`,
      );
    }
    return real;
  };
  return {
    starts,
    admit,
    list(folder) {
      const path = admit(folder ?? itemAt(starts, 0));
      const parent = dirname(path);
      return {
        path,
        parent: parent !== path && isUnder(parent) ? parent : null,
        hasPlan: hasPlan(path),
        folders: subfolders(path).map((name) => ({ name, path: join(path, name), hasPlan: hasPlan(join(path, name)) })),
      };
    },
  };
}

function hasPlan(path: string): boolean {
  return existsSync(join(path, PLAN_FILE));
}

/** Folders in a folder, without hidden ones and links. */
function subfolders(path: string): string[] {
  try {
    return readdirSync(path, { withFileTypes: true })
      .filter((entry) => entry.isDirectory() && !entry.name.startsWith('.') && entry.name !== 'node_modules')
      .map((entry) => entry.name)
      .sort((a, b) => a.localeCompare(b));
  } catch {
    throw new GlueError('folder/unreadable', `“${path}” may not be read by this user.`);
  }
}
