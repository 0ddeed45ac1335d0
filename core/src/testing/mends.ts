/** Beside the sample's table of planted faults: for each what a person would change to mend it. */
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const MENDS = fileURLToPath(new URL('../../../samples/sluicekeeper-mends.json', import.meta.url));

/** One change of a mend: words of a file that stand there once, a file written, moved, or taken away. */
export type Edit = { file: string } & (
  { from: string; to: string } | { text: string } | { moved: string } | { gone: true }
);

export interface Mend {
  /** As a row of the table: `check file:line`. */
  fault: string;
  edits: Edit[];
  /** Other rows that go with it, since they have the same cause or stand on the same words. */
  also?: string[];
}

export function mends(): Mend[] {
  return (JSON.parse(readFileSync(MENDS, 'utf8')) as { mends: Mend[] }).mends;
}

/**
 * The texts after a mend.
 * @throws Error when the words to be changed do not stand there exactly once
 */
export function mended(texts: ReadonlyMap<string, string>, { fault, edits }: Mend): Map<string, string> {
  const after = new Map(texts);
  for (const edit of edits) {
    const text = after.get(edit.file) ?? '';
    if ('from' in edit) {
      const [before, behind, more] = text.split(edit.from);
      if (before === undefined || behind === undefined || more !== undefined)
        throw new Error(`${fault}: “${edit.from}” does not stand once in ${edit.file}`);
      after.set(edit.file, before + edit.to + behind);
    } else if ('text' in edit) after.set(edit.file, edit.text);
    else {
      after.delete(edit.file);
      if ('moved' in edit) after.set(edit.moved, text);
    }
  }
  return after;
}
