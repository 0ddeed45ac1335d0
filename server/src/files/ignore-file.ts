/**
 * Lines that say which files are no part of a project, as version control has them: `#` for notes, `!` for what is part
 * of it all the same, a slash at the end for folders, one before it for paths from there. The last line that fits counts.
 */
import { compileGlob } from '@glue-trace/core';

interface Line {
  fits: (path: string) => boolean;
  isFolder: boolean;
  isKept: boolean;
}

/** Whether a path below the folder of the file is ignored. */
export type Ignores = (path: string, isFolder: boolean) => boolean;

const MOST_LINES = 10_000;
const LONGEST_LINE = 1000;

/** Reads an ignore file. Lines that are none, or too long, count for nothing. */
export function readIgnoreFile(text: string): Ignores {
  const lines = text.split(/\r\n|\n/, MOST_LINES).flatMap(lineOf);
  return (path, isFolder) =>
    lines.findLast((line) => (isFolder || !line.isFolder) && line.fits(path))?.isKept === false;
}

function lineOf(text: string): Line[] {
  const line = text.replace(/(?<!\\)[ \t]+$/, '');
  if (line === '' || line.startsWith('#') || line.length > LONGEST_LINE) return [];
  const isKept = line.startsWith('!');
  const whole = isKept ? line.slice(1) : line;
  const path = whole.replace(/\/$/, '');
  if (path === '') return [];
  const glob = path.includes('/') ? path.replace(/^\//, '') : `**/${path}`;
  // Here, braces stand for themselves.
  return [{ fits: compileGlob(glob.replace(/[{}]/g, '\\$&')), isFolder: whole.endsWith('/'), isKept }];
}
