/**
 * What the command line tells. Names and texts of a project are somebody else's: signs that a terminal would obey, and
 * marks that turn the direction of writing, are shown as visible signs.
 */

import { ERRORS } from '@glue-trace/core';

/** Signs that are obeyed instead of shown, but for line ends and tabs; what joins letters or keeps them apart is part of words. */
const OBEYED = /[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u061c\u200b\u200e\u200f\u2028-\u202e\u2060-\u2069\ufeff]/g;

/** `\u001b` becomes `␛`; what has no picture of its own is written as its number. */
function shown(text: string): string {
  return text.replace(/\r\n/g, '\n').replace(OBEYED, (sign) => {
    const code = sign.charCodeAt(0);
    if (code < 0x20) return String.fromCharCode(0x2400 + code);
    return code === 0x7f ? '\u2421' : `<U+${code.toString(16).toUpperCase().padStart(4, '0')}>`;
  });
}

/** Tells what was asked for, for people to read. Waits until it has left, so that a long text into a pipe is not cut. */
export function tell(text: string): Promise<void> {
  return give(shown(text));
}

/** Gives a text to another program as it is; to a terminal, as {@link tell} does. */
export function give(text: string): Promise<void> {
  const written = process.stdout.isTTY ? shown(text) : text;
  return new Promise((resolve) => process.stdout.write(written, () => resolve()));
}

/** Tells what else there is to say, beside what was asked for. */
export function remark(text: string): void {
  process.stderr.write(`${shown(text)}\n`);
}

/** Ends when what we tell cannot be told: quietly when nobody reads on, with one line when there is no room for it. */
export function endWhenUnheard(): void {
  process.stderr.on('error', () => process.exit());
  process.stdout.on('error', ({ code, message }: NodeJS.ErrnoException) => {
    if (code === 'EPIPE') process.exit();
    remark(`glue: the output cannot be written: ${message} [file/unwritable]`);
    process.exit(ERRORS['file/unwritable'].exit);
  });
}
