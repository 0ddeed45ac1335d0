/** Kinds of nodes of Python, and texts as they are written. */
import type { RawNode } from '../grammar.js';
import type { Reader } from '../reader.js';

export interface PythonReader extends Reader {
  /** The name by which the functions around us call their own object; the innermost counts. */
  readonly selves: string[];
}

/** Whether a node says something of what the code does. */
export function isCode(node: RawNode): boolean {
  return node.type !== 'comment' && node.field !== 'operator';
}

const ESCAPED: Record<string, string> = { n: '\n', t: '\t', r: '\r', '\n': '' };

export function unescape(text: string): string {
  return text.includes('\\')
    ? text.replace(/\\([\s\S])/g, (_whole, letter: string) => ESCAPED[letter] ?? letter)
    : text;
}
