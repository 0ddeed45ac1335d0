/** Changes of files as a unified diff that version control takes as it is. */
import { createTwoFilesPatch } from 'diff';

/** A file before and after. */
export interface ChangedFile {
  file: string;
  before: string;
  after: string;
}

/** @returns a unified diff of all files, each with three lines around its changes; empty when nothing changes */
export function toPatch(files: ChangedFile[]): string {
  return files
    .filter(({ before, after }) => before !== after)
    .map(({ file, before, after }) => {
      const name = (side: 'a' | 'b'): string => quoted(`${side}/${file}`);
      const body = createTwoFilesPatch(name('a'), name('b'), before, after, '', '', {
        context: 3,
        stripTrailingCr: false,
      });
      // The line that underlines a heading is none of the standard, and names end with a tab there.
      const lines = body.replace(/^=+\n/, '').replace(/^(---|\+\+\+) (.*?)\t?$/gm, '$1 $2');
      return `diff --git ${name('a')} ${name('b')}\n${lines}`;
    })
    .join('');
}

/** Names with other than plain characters stand in quotes, their bytes in octal. */
function quoted(name: string): string {
  if (/^[\x20-\x7e]*$/.test(name) && !/["\\]/.test(name)) return name;
  const bytes = [...new TextEncoder().encode(name)].map((byte) => {
    if (byte === 0x22 || byte === 0x5c) return `\\${String.fromCharCode(byte)}`;
    return byte >= 0x20 && byte < 0x7f ? String.fromCharCode(byte) : `\\${byte.toString(8).padStart(3, '0')}`;
  });
  return `"${bytes.join('')}"`;
}
