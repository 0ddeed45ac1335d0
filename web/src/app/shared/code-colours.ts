/** Code coloured by its language, in the theme's own hues. */
import csharp from 'highlight.js/lib/languages/csharp';
import ini from 'highlight.js/lib/languages/ini';
import javascript from 'highlight.js/lib/languages/javascript';
import json from 'highlight.js/lib/languages/json';
import lua from 'highlight.js/lib/languages/lua';
import python from 'highlight.js/lib/languages/python';
import typescript from 'highlight.js/lib/languages/typescript';
import xml from 'highlight.js/lib/languages/xml';
import yaml from 'highlight.js/lib/languages/yaml';
import { createLowlight } from 'lowlight';

const lowlight = createLowlight({ csharp, ini, javascript, json, lua, python, typescript, xml, yaml });

/** Endings of files whose names are not those of their language. */
const LANGUAGES: Record<string, string> = {
  ...{ ts: 'typescript', tsx: 'typescript', mts: 'typescript', js: 'javascript', mjs: 'javascript', jsx: 'javascript' },
  ...{ py: 'python', cs: 'csharp', yml: 'yaml', toml: 'ini', cfg: 'ini', svg: 'xml', html: 'xml' },
};
/** Longer ones are data that nobody reads; colouring them takes its time. */
const LONGEST = 20_000;

/** What the style sheet colours: words of the language, texts, numbers and the like, remarks. */
export type Hue = 'word' | 'text' | 'figure' | 'remark' | '';
const HUES: Record<string, Hue> = {
  ...{ keyword: 'word', built_in: 'word', meta: 'word', tag: 'word', section: 'word', type: 'word', operator: '' },
  ...{ string: 'text', regexp: 'text', char: 'text', number: 'figure', literal: 'figure', comment: 'remark' },
};

/** A part of a line in one hue. */
export interface Run {
  text: string;
  hue: Hue;
}

/** Lines of a file as their parts, in order; in one plain part each where nobody knows the language. */
export function colouredLines(file: string, lines: readonly string[]): Run[][] {
  const ending = file.slice(file.lastIndexOf('.') + 1).toLowerCase();
  const language = LANGUAGES[ending] ?? ending;
  const text = lines.join('\n');
  if (!lowlight.registered(language) || text.length > LONGEST) return lines.map((line) => [{ text: line, hue: '' }]);
  const shown: Run[][] = [[]];
  const put = (part: string, hue: Hue): void => {
    part.split('\n').forEach((piece, at) => {
      if (at > 0) shown.push([]);
      if (piece !== '') shown.at(-1)?.push({ text: piece, hue });
    });
  };
  const walk = (node: Node, hue: Hue): void => {
    if (node.type === 'text') put(node.value ?? '', hue);
    const own = node.properties?.className?.map((name) => HUES[name.replace('hljs-', '')]).find(Boolean);
    for (const child of node.children ?? []) walk(child, own ?? hue);
  };
  walk(lowlight.highlight(language, text), '');
  return shown;
}

/** A part of what the package gives. */
interface Node {
  type: string;
  value?: string;
  properties?: { className?: string[] };
  children?: Node[];
}

/** The parts of a line before a column, up to another one, and after it. Columns count from 0, the second is not included. */
export function cutAt(runs: readonly Run[], from: number, to: number): { before: Run[]; marked: Run[]; after: Run[] } {
  const parts: { before: Run[]; marked: Run[]; after: Run[] } = { before: [], marked: [], after: [] };
  let at = 0;
  for (const { text, hue } of runs) {
    const put = (into: Run[], start: number, end: number): void => {
      const piece = text.slice(Math.max(0, start - at), Math.max(0, end - at));
      if (piece !== '') into.push({ text: piece, hue });
    };
    put(parts.before, 0, from);
    put(parts.marked, from, to);
    put(parts.after, to, Infinity);
    at += text.length;
  }
  return parts;
}
