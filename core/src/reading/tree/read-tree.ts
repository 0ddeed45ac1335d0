import { readCsv } from './csv.js';
import { readIni } from './ini.js';
import { readJson } from './json.js';
import { readToml } from './toml.js';
import { readXml } from './xml.js';
import { readYaml } from './yaml.js';
import { readLines } from './lines.js';
import type { LinesForm } from '../plan/plan.js';
import { isLeaf, type ReadProblem, type Tree, type TreeNode } from './node.js';

export const FORMATS = ['json', 'yaml', 'xml', 'toml', 'ini', 'csv'] as const;
export type Format = (typeof FORMATS)[number];

const READERS: Record<Format, (text: string, columns: readonly string[]) => Tree> = {
  json: readJson,
  yaml: readYaml,
  xml: readXml,
  toml: readToml,
  ini: readIni,
  csv: readCsv,
};

const BY_ENDING: Record<string, Format> = {
  json: 'json',
  jsonc: 'json',
  yaml: 'yaml',
  yml: 'yaml',
  xml: 'xml',
  x3d: 'xml',
  toml: 'toml',
  ini: 'ini',
  cfg: 'ini',
  csv: 'csv',
  tsv: 'csv',
};

/** The format a file is most likely in, by its ending; undefined when the ending says nothing. */
export function formatOf(path: string): Format | undefined {
  return BY_ENDING[path.slice(path.lastIndexOf('.') + 1).toLowerCase()];
}

/**
 * Reads a structured text into trees. Never throws: what a parser cannot take becomes a problem over the whole text.
 * @param columns for CSV whose first line is no head
 */
export function readTree(text: string, format: Format, columns: readonly string[] = []): Tree {
  return readWith((whole) => READERS[format](whole, columns), text);
}

/** Reads a text of the team's own, line by line. Never throws. */
export function readByLines(text: string, form: LinesForm): Tree {
  return readWith((whole) => readLines(whole, form), text);
}

function readWith(read: (text: string) => Tree, text: string): Tree {
  try {
    const tree = read(text);
    if (isDeeper(tree.documents, MOST_LEVELS)) throw new RangeError('nested too deeply');
    if (endsEarly(text, tree.problems)) tree.documents.forEach((document) => dropLast(document, text));
    return tree;
  } catch (error) {
    const message =
      error instanceof RangeError
        ? 'nested too deeply to be read'
        : error instanceof Error
          ? error.message
          : String(error);
    return { documents: [], problems: [{ message, start: 0, end: text.length }] };
  }
}

/** Whoever walks a tree needs a frame of the stack for each level: the limit is the same for every thread. */
const MOST_LEVELS = 500;

function isDeeper(documents: readonly TreeNode[], most: number): boolean {
  let level: TreeNode[] = [...documents];
  for (let depth = 0; level.length > 0; depth++) {
    if (depth > most) return true;
    const next: TreeNode[] = [];
    for (const { children } of level) for (const child of children) if (!isLeaf(child)) next.push(child);
    level = next;
  }
  return false;
}

/** Whether a text stops in the middle of something: the parser found a fault at its very end. */
export function endsEarly(text: string, problems: readonly ReadProblem[]): boolean {
  const { length } = text.trimEnd();
  return problems.some(({ end }) => end >= length);
}

/** What a text ends in may be the first half of a value: it is no value. */
function dropLast(node: TreeNode, text: string): void {
  const last = node.children.at(-1);
  if (!last) return;
  if (isLeaf(last) && last.end >= text.trimEnd().length) node.children.pop();
  else dropLast(last, text);
}
