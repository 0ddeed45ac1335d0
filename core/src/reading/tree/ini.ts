import { itemAt } from '../../helpers/at.js';
import { adopt, branch, leaf, type ReadProblem, type Tree, type TreeNode } from './node.js';

/**
 * Reads INI files as they are commonly written: `[section]`, `key = value` or `key: value`, comments from `;` or `#`
 * at the start of a line, values in quotes taken without them. A section or key that stands again adds to what is
 * there: the last value wins, as with most readers. There is no standard.
 */
export function readIni(text: string): Tree {
  const root = branch('object', 0, text.length);
  const problems: ReadProblem[] = [];
  let section = root;
  const sections = new Map<string, TreeNode>();
  for (const { 0: line, index: start } of text.matchAll(/[^\r\n]+/g)) {
    const trimmed = line.trim();
    if (!trimmed || trimmed.startsWith(';') || trimmed.startsWith('#')) continue;
    const from = start + line.indexOf(trimmed);
    const head = /^\[([^\]]*)\]/.exec(trimmed);
    if (head) section = sectionNamed(root, sections, itemAt(head, 1).trim(), from, from + head[0].length);
    else if (!addPair(section, trimmed, from)) {
      problems.push({ message: 'neither a section nor a key with a value', start: from, end: from + trimmed.length });
    }
  }
  return { documents: [root], problems };
}

function sectionNamed(
  root: TreeNode,
  sections: Map<string, TreeNode>,
  name: string,
  start: number,
  end: number,
): TreeNode {
  const known = sections.get(name);
  if (known) return known;
  const section = branch('object', start, end);
  sections.set(name, section);
  adopt(root, section, name, start + 1, end - 1);
  return section;
}

function addPair(section: TreeNode, line: string, from: number): boolean {
  const found = /^([^=:]+?)\s*[=:]\s*(.*)$/.exec(line);
  if (!found) return false;
  const [, key = '', written = ''] = found;
  const quoted = /^(["'])(.*)\1$/.exec(written);
  const value = quoted ? itemAt(quoted, 2) : written;
  const start = from + line.length - written.length + (quoted ? 1 : 0);
  adopt(section, leaf('text', value, start, start + value.length), key, from, from + key.length);
  section.end = Math.max(section.end, start + value.length);
  return true;
}
