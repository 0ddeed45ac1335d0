/** Kinds of nodes of TypeScript and JavaScript, and texts as they are written. */
import type { RawNode } from '../grammar.js';
import type { Reader } from '../reader.js';

/** What is read of one script. */
export type TypeScriptReader = Reader;

export function unquote(reader: TypeScriptReader, node: RawNode): string {
  return unescape(reader.text.slice(node.start + 1, node.end - 1));
}

/** Whether a node says something of what the code does. */
export function isCode(node: RawNode): boolean {
  return (
    node.type !== 'comment' &&
    node.type !== 'type_arguments' &&
    node.type !== 'optional_chain' &&
    node.field !== 'operator' &&
    !TYPES.has(node.type)
  );
}

/** Nodes that only speak of types. */
const TYPES = new Set([
  'type_annotation',
  'type_identifier',
  'predefined_type',
  'generic_type',
  'union_type',
  'type_parameters',
  'type_alias_declaration',
  'array_type',
  'literal_type',
  'object_type',
  'function_type',
  'nested_type_identifier',
]);

const ESCAPED: Record<string, string> = { n: '\n', t: '\t', r: '\r', b: '\b', f: '\f', v: '\v', '0': '\0' };

export function unescape(text: string): string {
  if (!text.includes('\\')) return text;
  return text.replace(
    /\\(u\{([0-9a-fA-F]+)\}|u([0-9a-fA-F]{4})|x([0-9a-fA-F]{2})|\r\n|[\s\S])/g,
    (_whole, letter: string, a, b, c) => {
      const code = (a ?? b ?? c) as string | undefined;
      if (code) return String.fromCodePoint(Math.min(parseInt(code, 16), 0x10ffff));
      return letter === '\n' || letter === '\r\n' ? '' : (ESCAPED[letter] ?? letter);
    },
  );
}
