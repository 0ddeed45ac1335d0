import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import {
  factsOfName,
  prepareGrammars,
  readFile,
  type FileFacts,
  type Language,
  type Plan,
  type RuleFor,
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
  const [problem] = fact.problems;
  const reason = content.note ?? (problem ? `line ${problem.range.line}: ${problem.message}` : '');
  return { entry: { ...found, hash, status: reason ? 'partly' : 'read', reason }, fact };
}
