import { join } from 'node:path';
import { excerptOf, type Excerpt, type Range } from '@glue-trace/core';
import { readRegular } from './regular.js';

/** A file's content, or why it cannot be read as text. */
export type ReadResult = { text: string; bytes: Buffer; note?: string } | { reason: string };

/** Larger files are listed and not read. */
const LARGEST_FILE = 64 * 1024 * 1024;
const LOOKED_AT = 8192;

/**
 * Reads a file as text: UTF-8, or UTF-16 with a byte order mark. Other encodings are read as Latin-1 and noted,
 * so that names in plain letters still count.
 */
export function readText(path: string, size: number): ReadResult {
  if (size > LARGEST_FILE) return { reason: `larger than ${LARGEST_FILE / 1024 / 1024} MB` };
  let bytes: Buffer;
  try {
    bytes = readRegular(path, LARGEST_FILE);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    return {
      reason:
        code === 'ENOENT'
          ? 'gone since the scan began'
          : code === 'EACCES'
            ? 'may not be read by this user'
            : code === undefined
              ? (error as Error).message
              : 'cannot be read',
    };
  }
  return decode(bytes);
}

/** Turns a text back into bytes, in the encoding and with the byte order mark that the file had before. */
export function encode(text: string, before: Buffer): Buffer {
  if (before[0] === 0xff && before[1] === 0xfe) return Buffer.from(`\uFEFF${text}`, 'utf16le');
  if (before[0] === 0xfe && before[1] === 0xff) return Buffer.from(`\uFEFF${text}`, 'utf16le').swap16();
  const decoded = decode(before);
  if ('note' in decoded) return Buffer.from(text, 'latin1');
  const mark = before[0] === 0xef && before[1] === 0xbb && before[2] === 0xbf ? '\uFEFF' : '';
  return Buffer.from(mark + text, 'utf8');
}

/** What bytes say, or why they are no text. */
export function decode(bytes: Buffer): ReadResult {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return { text: new TextDecoder('utf-16le').decode(bytes), bytes };
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return { text: new TextDecoder('utf-16be').decode(bytes), bytes };
  if (bytes.subarray(0, LOOKED_AT).includes(0)) return { reason: 'not a text file' };
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), bytes };
  } catch {
    return {
      text: bytes.toString('latin1'),
      bytes,
      note: 'not valid UTF-8: read letter by letter, names beyond plain letters may be wrong',
    };
  }
}

/** Gives the lines around a place of a project's files; undefined where they cannot be read. */
export function excerptsIn(folder: string): (file: string, range: Range) => Excerpt | undefined {
  return (file, range) => {
    const text = textAt(folder, file);
    return text === '' ? undefined : excerptOf(file, text, range);
  };
}

/** The text of a file of a project, empty where it cannot be read. */
export function textAt(folder: string, path: string): string {
  const content = readText(join(folder, path), 0);
  return 'reason' in content ? '' : content.text;
}
