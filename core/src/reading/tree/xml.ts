import { itemAt } from '../../helpers/at.js';
import { SaxesParser } from 'saxes';
import { adopt, branch, leaf, member, type ReadProblem, type Tree, type TreeNode } from './node.js';

/** Problems beyond this many say nothing new: the file is no XML. */
const MOST_PROBLEMS = 50;
/** What stands around text in which no mark-up is read. */
export const CDATA_START = '<![CDATA[';
const CDATA_END = ']]>';
/** What may stand between two runs of one text. */
const BETWEEN_RUNS = /<!--[\s\S]*?-->|<\?[\s\S]*?\?>|<!\[CDATA\[|\]\]>/g;

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
  /** Where the mark-up or the run of text begins that is being read. */
  let begun = 0;
  const endMarkUp = (): void => void (begun = at());
  for (const event of ['xmldecl', 'doctype', 'processinginstruction'] as const) parser.on(event, endMarkUp);
  // This event comes in front of the last sign of its mark-up.
  parser.on('comment', () => void (begun = at() + 1));
  parser.on('attribute', ({ name, value }) => {
    const { start, end } = valueBefore(text, at(), value);
    const found = leaf('text', value, start, end);
    [found.key, found.keyStart, found.keyEnd] = [name, ...nameBefore(text, start, name)];
    attributes.push(found);
  });
  parser.on('opentag', ({ name }) => {
    const element = branch('object', begun, at());
    adopt(element, leaf('text', name, begun + 1, Math.min(begun + 1 + name.length, text.length)), '#tag');
    for (const attribute of attributes) adopt(element, attribute, attribute.key, attribute.keyStart, attribute.keyEnd);
    attributes = [];
    adopt(listFor(topOf(open), name, begun), element);
    open.push(element);
    endMarkUp();
  });
  const addText = (value: string, start: number, end: number): void => {
    const element = topOf(open);
    if (!value.trim() || element === root) return;
    const known = member(element, '#text');
    if (known) {
      known.value = `${String(known.value)}${value}`;
      // With nothing but comments in between it is one text, which goes on to here.
      const [, last] = withoutSpace(text, start, end);
      if (text.slice(known.end, start).replace(BETWEEN_RUNS, '').trim() === '') known.end = last;
    } else adopt(element, leaf('text', value, ...withoutSpace(text, start, end)), '#text');
  };
  parser.on('text', (value) => {
    // The event comes behind the `<` of what follows, or at the end of a text that is cut off.
    const end = text[at() - 1] === '<' ? at() - 1 : at();
    addText(value, begun, end);
    begun = end;
  });
  parser.on('cdata', (value) => {
    addText(value, begun + CDATA_START.length, Math.max(0, at() - CDATA_END.length));
    endMarkUp();
  });
  parser.on('closetag', () => {
    const element = open.length > 1 ? open.pop() : undefined;
    if (element) element.end = at();
    endMarkUp();
  });
  parser.write(text).close();
  trimTexts(root);
  return { documents: [root], problems };
}

/** Where a value stands whose end the parser has just gone past: between its quotes, which it cannot hold itself. */
function valueBefore(text: string, at: number, value: string): { start: number; end: number } {
  const end = Math.max(0, at - 1);
  const quote = text[end];
  if (quote !== '"' && quote !== "'") return { start: Math.max(0, end - value.length), end };
  return { start: text.lastIndexOf(quote, end - 1) + 1, end };
}

/** Where an attribute's name stands in front of its value: an equals sign and white space apart, or -1. */
function nameBefore(text: string, value: number, name: string): [number, number] {
  let end = value - 1;
  while (end > 0 && /[\s=]/.test(itemAt(text, end - 1))) end--;
  return end >= name.length && text.startsWith(name, end - name.length) ? [end - name.length, end] : [-1, -1];
}

/** A stretch without the white space at its ends. */
function withoutSpace(text: string, start: number, end: number): [number, number] {
  const raw = text.slice(start, end);
  const from = start + raw.length - raw.trimStart().length;
  return [from, Math.max(from, start + raw.trimEnd().length)];
}

function topOf(open: readonly TreeNode[]): TreeNode {
  return itemAt(open, open.length - 1);
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
