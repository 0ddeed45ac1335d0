/** How a text is written in each format. */
import { LANGUAGES, type Language } from '../reading/plan/plan.js';
import type { Format } from '../reading/tree/read-tree.js';

/** What a file is written in: a structured format, a language, or anything that nothing here reads. */
export type Writing = Format | Language | 'plain';

export function isCode(writing: Writing): writing is Language {
  return (LANGUAGES as readonly string[]).includes(writing);
}

/** Plain YAML scalars that mean the text they show. */
const YAML_PLAIN = /^[A-Za-z_./\u00c0-\uffff](?:[\w ./@+()\u00c0-\uffff-]*[\w./@+()\u00c0-\uffff-])?$/;
/** Words and numbers that YAML takes for something else: `.4` is a number. */
const YAML_OTHER = /^(?:true|false|yes|no|on|off|null|y|n|~|\.inf|\.nan|\.\d[\d_]*(?:e[+-]?\d+)?)$/i;

function isPlainYaml(text: string): boolean {
  return YAML_PLAIN.test(text) && !YAML_OTHER.test(text);
}

/** A whole value with whatever marks it as a text. In XML, INI and CSV those marks stand outside of the value. */
export function wholeText(text: string, writing: Writing): string {
  switch (writing) {
    case 'yaml':
      return isPlainYaml(text) ? text : JSON.stringify(text);
    case 'xml':
      return xmlText(text);
    case 'ini':
      return text;
    case 'csv':
      return /[",;\t\r\n]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text;
    default:
      return JSON.stringify(text);
  }
}

/** The name of a member. */
export function nameText(name: string, writing: Writing): string {
  if (writing === 'json') return JSON.stringify(name);
  if (writing === 'yaml') return wholeText(name, 'yaml');
  if (writing === 'toml') return /^[\w-]+$/.test(name) ? name : JSON.stringify(name);
  return name;
}

/**
 * A text that is put into the place of another one, inside the same marks.
 * @param quote the mark in front of it, or an empty text
 */
export function innerText(text: string, writing: Writing, quote: string): string {
  if (writing === 'xml') return xmlText(text);
  if (writing === 'csv') return text.replace(/"/g, '""');
  if (writing === 'yaml' && quote === "'") return text.replace(/'/g, "''");
  if (isCode(writing) || writing === 'plain') {
    return text.replace(/[\\\n\r]|['"`]/g, (mark) =>
      mark === '\n' ? '\\n' : mark === '\r' ? '\\r' : mark === '\\' || mark === quote ? `\\${mark}` : mark,
    );
  }
  if (writing === 'ini' || (writing === 'yaml' && quote === '') || (writing === 'toml' && quote === "'")) return text;
  return JSON.stringify(text).slice(1, -1);
}

const XML_NAMES: Record<string, string> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&apos;',
};

/** Line ends and tabs would be read as spaces in an attribute. */
function xmlText(text: string): string {
  return text.replace(/[&<>"'\t\n\r]/g, (mark) => XML_NAMES[mark] ?? `&#${mark.charCodeAt(0)};`);
}

/** Whether a text that replaces a plain one in YAML needs quotes of its own. */
export function needsQuotes(text: string): boolean {
  return !isPlainYaml(text);
}
