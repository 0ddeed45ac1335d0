import { SaxesParser } from 'saxes';
import { adopt, branch, leaf, member, type ReadProblem, type Tree, type TreeNode } from './node.js';

/** Problems beyond this many say nothing new: the file is no XML. */
const MOST_PROBLEMS = 50;

/**
 * Reads XML. An element becomes an object: its attributes are members by their names, its elements are lists under
 * their tags, its own text is `#text`, its tag is `#tag`. An attribute of the same name as a tag inside is found as
 * `@name`. The root holds the document's element in the same way: `$.Scene[0].Gate[*].name`.
 *
 * Entities that a document declares for itself are not expanded, and nothing outside of the text is loaded.
 */
export function readXml(text: string): Tree {
  const problems: ReadProblem[] = [];
  const root = branch('object', 0, text.length);
  const open: TreeNode[] = [root];
  let attributes: TreeNode[] = [];
  const parser = new SaxesParser({ xmlns: false, position: true });
  const at = (): number => Math.min(parser.position, text.length);

  parser.on('error', (error) => {
    const message = error.message.replace(/^\d+:\d+: /, '').replace(/\.$/, '');
    if (problems.length < MOST_PROBLEMS) problems.push({ message, start: Math.max(0, at() - 1), end: at() });
  });
  parser.on('attribute', ({ name, value }) => {
    // The event comes right behind the closing quote; the opening one is the last of its kind before.
    const end = at() - 1;
    const start = text.lastIndexOf(text[end], end - 1) + 1;
    const keyStart = text.lastIndexOf(name, start);
    const found = leaf('text', value, start, end);
    found.key = name;
    found.keyStart = keyStart;
    found.keyEnd = keyStart + name.length;
    attributes.push(found);
  });
  parser.on('opentag', ({ name }) => {
    const start = text.lastIndexOf(`<${name}`, at() - 1);
    const element = branch('object', Math.max(0, start), at());
    adopt(element, leaf('text', name, start + 1, start + 1 + name.length), '#tag');
    for (const attribute of attributes) {
      adopt(element, attribute, attribute.key, attribute.keyStart, attribute.keyEnd);
    }
    attributes = [];
    adopt(listFor(open[open.length - 1], name, start), element);
    open.push(element);
  });
  const addText = (value: string): void => {
    const element = open[open.length - 1];
    if (!value.trim() || element === root) return;
    const known = member(element, '#text');
    if (known) known.value = `${String(known.value)}${value}`;
    else {
      const end = Math.max(0, at() - 1);
      adopt(element, leaf('text', value, Math.max(0, end - value.length), end), '#text');
    }
  };
  parser.on('text', addText);
  parser.on('cdata', addText);
  parser.on('closetag', () => {
    const element = open.length > 1 ? open.pop() : undefined;
    if (element) element.end = at();
  });
  parser.write(text).close();
  trimTexts(root);
  return { documents: [root], problems };
}

/** The list of elements of one tag; an attribute that has the tag's name makes room. */
function listFor(parent: TreeNode, tag: string, start: number): TreeNode {
  const known = member(parent, tag);
  if (known?.kind === 'list') return known;
  if (known) known.key = `@${tag}`;
  const list = branch('list', Math.max(0, start), Math.max(0, start));
  adopt(parent, list, tag);
  return list;
}

/** Texts without the white space that only lays the file out. */
function trimTexts(root: TreeNode): void {
  const open = [root];
  for (let node = open.pop(); node; node = open.pop()) {
    if (node.key === '#text') node.value = String(node.value).trim();
    open.push(...node.children);
  }
}
