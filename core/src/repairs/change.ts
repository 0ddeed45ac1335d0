/** What a repair changes in files, in terms that say what is meant; `write.ts` turns it into edits of a file's text. */
import { push } from '../helpers/push.js';
import type { Range } from '../model/piece.js';

interface InFile {
  file: string;
}

export type Change =
  /**
   * What is written as `from` inside `range` becomes `to`. `isElsewhere`: where code does not write it there, the one
   * text of the file that is `from` becomes `to`.
   */
  | (InFile & { is: 'replace'; range: Range; from: string; to: string; isElsewhere?: true })
  /** The value at `range`, whatever it is, becomes the text `to`. */
  | (InFile & { is: 'set'; range: Range; to: string })
  /** The member whose value stands at `range` gets another name. */
  | (InFile & { is: 'rename member'; range: Range; to: string })
  /** The entry whose value (or name) stands at `range` goes, with its name and separator. */
  | (InFile & { is: 'remove'; range: Range })
  /** A member is added to the object that the selector `into` finds from the object around `range`. */
  | (InFile & { is: 'add member'; range: Range; into: string; key: string; to: string })
  /** An item is added to the list that the selector finds from the root; to an object, it is added as a name. */
  | (InFile & { is: 'add item'; list: string; to: string });

/** Changes by the file that they are made in. */
export function byFile(changes: readonly Change[]): Map<string, Change[]> {
  const files = new Map<string, Change[]>();
  for (const change of changes) push(files, change.file, change);
  return files;
}

/** One edit of a text. Offsets are 0-based UTF-16 units, the end is exclusive. */
export interface TextEdit {
  start: number;
  end: number;
  text: string;
}

/**
 * Puts edits into a text. Two that are the same count once.
 * @throws RangeError when edits overlap
 */
export function applyEdits(text: string, edits: TextEdit[]): string {
  const sorted = [...edits].sort((a, b) => a.start - b.start || a.end - b.end);
  let result = '';
  let at = 0;
  let before: TextEdit | undefined;
  for (const edit of sorted) {
    if (before && edit.start === before.start && edit.end === before.end && edit.text === before.text) continue;
    if (edit.start < at) throw new RangeError('two changes of one place');
    result += text.slice(at, edit.start) + edit.text;
    at = edit.end;
    before = edit;
  }
  return result + text.slice(at);
}
