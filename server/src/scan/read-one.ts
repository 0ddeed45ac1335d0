import { createHash } from 'node:crypto';
import { closeSync, openSync, readFileSync, readSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { StringDecoder } from 'node:string_decoder';
import {
  createGlueFactsReader,
  factsOfName,
  prepareGrammars,
  readFile,
  type FileFacts,
  type Language,
  type Plan,
  type RuleFor,
  must,
} from '@glue-trace/core';
import type { FileView } from '../api.js';
import { readText } from '../files/read-text.js';

/** What became of one file, with what tells whether it has changed since. */
export interface FileEntry extends FileView {
  /** SHA-256 of the content as scanned, empty if it was not read. */
  hash: string;
  /** When the file was last written, in milliseconds since 1970. */
  modified: number;
}

export interface ReadOne {
  entry: FileEntry;
  /** Undefined when the content is still what the given hash says. */
  fact: FileFacts | undefined;
}

const require = createRequire(import.meta.url);

/** Makes script grammars ready, once for each thread. */
export async function prepareLanguages(languages: Iterable<Language>): Promise<void> {
  await prepareGrammars(languages, async (path) => readFileSync(require.resolve(path)));
}

/**
 * Reads one file that a rule reads as text. Grammars must be ready. Never throws for what stands in the file.
 * @param found what is known of it; with a hash, a file of the same content is not parsed again
 */
export function readOne(folder: string, plan: Plan, rule: RuleFor, found: FileEntry): ReadOne {
  if (rule.of === 'files' && rule.rule.as === 'glue facts') return readGlueFacts(folder, rule, found);
  const content = readText(join(folder, found.path), found.size);
  if ('reason' in content) {
    return {
      entry: { ...found, status: 'listed', reason: content.reason },
      fact: factsOfName(found.path, rule),
    };
  }
  const hash = createHash('sha256').update(content.bytes).digest('hex');
  if (hash === found.hash) return { entry: found, fact: undefined };
  const fact = readFile(found.path, content.text, rule, plan);
  return finished(found, hash, fact, content.note);
}

const CHUNK = 1024 * 1024;

/** Glue facts may be larger than any text this thread could hold: they are read piece by piece. */
function readGlueFacts(folder: string, rule: RuleFor, found: FileEntry): ReadOne {
  const facts = factsOfName(found.path, rule);
  let file: number;
  try {
    file = openSync(join(folder, found.path), 'r');
  } catch {
    return { entry: { ...found, status: 'listed', reason: 'cannot be read' }, fact: facts };
  }
  try {
    const reader = createGlueFactsReader(facts);
    const digest = createHash('sha256');
    const decoder = new StringDecoder('utf8');
    const bytes = Buffer.allocUnsafe(CHUNK);
    let rest = '';
    for (let count = readSync(file, bytes); count > 0; count = readSync(file, bytes)) {
      const chunk = bytes.subarray(0, count);
      digest.update(chunk);
      const lines = (rest + decoder.write(chunk)).split('\n');
      rest = must(lines.pop());
      for (const line of lines) reader.line(line);
    }
    if (rest) reader.line(rest);
    return finished(found, digest.digest('hex'), reader.end());
  } finally {
    closeSync(file);
  }
}

function finished(found: FileEntry, hash: string, fact: FileFacts, note?: string): ReadOne {
  const [problem] = fact.problems;
  const reason = note ?? (problem ? `line ${problem.range.line}: ${problem.message}` : '');
  return { entry: { ...found, hash, status: reason ? 'partly' : 'read', reason }, fact };
}
