/** Turns changes into edits of a file's text that touch only what is concerned: layout, comments and line ends stay. */
import { itemAt, must } from '../helpers/at.js';
import { literally } from '../helpers/pattern.js';
import { GlueError } from '../model/errors.js';
import type { Range } from '../model/piece.js';
import { linesOf } from '../reading/lines.js';
import { compileSelector } from '../reading/selector/select.js';
import { isLeaf, type TreeNode } from '../reading/tree/node.js';
import { readTree, type Format } from '../reading/tree/read-tree.js';
import { CDATA_START } from '../reading/tree/xml.js';
import type { Change, TextEdit } from './change.js';
import { innerText, isCode, nameText, needsQuotes, wholeText, type Writing } from './encode.js';
import { holderOf, nodeAt, objectAround, type Stretch } from './nodes.js';

/** Everything needed while one file is changed. */
interface Work {
  file: string;
  text: string;
  writing: Writing;
  documents: TreeNode[];
  stretch(range: Range): Stretch;
}

/**
 * Edits for all changes of one file.
 * @throws GlueError `repair/impossible` when the text is not as the change expects it, or the format has no way to do it
 */
export function editsFor(file: string, text: string, writing: Writing, changes: Change[]): TextEdit[] {
  const lines = linesOf(text);
  const work: Work = {
    file,
    text,
    writing,
    documents: isUnstructured(writing) ? [] : readTree(text, writing).documents,
    stretch: ({ line, column, endLine, endColumn }) => ({
      start: lines.offsetOf(line, column),
      end: lines.offsetOf(endLine, endColumn),
    }),
  };
  return changes.flatMap((change) => editsOf(work, change));
}

function editsOf(work: Work, change: Change): TextEdit[] {
  switch (change.is) {
    case 'replace':
      return [replaced(work, change)];
    case 'set':
      return [set(work, change)];
    case 'rename member':
      return [renamed(work, change.range, change.to)];
    case 'remove':
      return removed(work, change.range);
    case 'add member': {
      const home = objectAround(work.documents, work.stretch(change.range).start, work.writing === 'toml');
      if (!home) throw impossible(work, 'the place of the change is no longer there');
      return addMember(work, home, change.into, change.key, change.to);
    }
    case 'add item':
      return addItem(work, change.list, change.to);
  }
}

function isUnstructured(writing: Writing): writing is Exclude<Writing, Format> {
  return writing === 'plain' || isCode(writing);
}

function impossible(work: Work, why: string): GlueError {
  return new GlueError(
    'repair/impossible',
    `${work.file}: ${why}. Scan again if the file was changed, or make the change by hand.`,
  );
}

// Replacing ---------------------------------------------------------------------------------------------------------

function replaced(work: Work, { range, from, to, isElsewhere }: Change & { is: 'replace' }): TextEdit {
  const { text, writing } = work;
  const { start, end } = work.stretch(range);
  const raw = text.slice(start, end);
  if (isElsewhere && isCode(writing) && !raw.includes(innerText(from, writing, '"'))) return literal(work, from, to);
  const at = placeOf(work, raw, from);
  const from0 = start + at.offset;
  const whole = raw.slice(0, at.offset) + to + raw.slice(at.offset + at.length);
  const quote = quoteBefore(work, { start: from0, end: from0 + at.length });
  if (writing === 'yaml' && quote === '' && needsQuotes(whole)) return { start, end, text: JSON.stringify(whole) };
  if (writing === 'csv' && text[start - 1] !== '"' && /[",;\t\r\n]/.test(to))
    return { start, end, text: wholeText(whole, 'csv') };
  return { start: from0, end: from0 + at.length, text: isInCdata(work, start) ? to : innerText(to, writing, quote) };
}

/** The one text of a script that is `from`. */
function literal(work: Work, from: string, to: string): TextEdit {
  const { text, writing } = work;
  const forms = [
    ...new Set(['"', "'", '`'].map((quote) => literally(quote + innerText(from, writing, quote) + quote))),
  ];
  const found = [...text.matchAll(new RegExp(forms.join('|'), 'gu'))];
  if (found.length !== 1)
    throw impossible(
      work,
      found.length === 0 ? `“${from}” is not written there` : `“${from}” stands there more than once`,
    );
  const [{ index, 0: whole }] = [itemAt(found, 0)];
  return { start: index + 1, end: index + whole.length - 1, text: innerText(to, writing, itemAt(whole, 0)) };
}

/** Whether a text of XML stands where no mark-up is read. */
function isInCdata({ text, writing }: Work, start: number): boolean {
  return writing === 'xml' && text.startsWith(CDATA_START, start - CDATA_START.length);
}

/** Where the text stands in the raw one: in quotes of its own first, then as a whole word, then anywhere – once. */
function placeOf(work: Work, raw: string, from: string): { offset: number; length: number } {
  const forms = [...new Set([from, innerText(from, work.writing, '"'), innerText(from, work.writing, "'")])];
  for (const form of forms) {
    const escaped = literally(form);
    for (const pattern of [`(?<=(['"\`]))${escaped}(?=\\1)`, `(?<![\\w])${escaped}(?![\\w])`, escaped]) {
      const found = [...raw.matchAll(new RegExp(pattern, 'gu'))];
      if (found.length === 1) return { offset: itemAt(found, 0).index, length: form.length };
      if (found.length > 1 && pattern !== escaped) throw impossible(work, `“${from}” stands there more than once`);
    }
  }
  throw impossible(work, `“${from}” is not written there as it was`);
}

/** The quote that opens the text around a stretch, as far as it can be seen on its line. */
function quoteBefore({ text, writing, documents }: Work, stretch: Stretch): string {
  if (writing === 'json') return '"';
  if (writing === 'yaml' || writing === 'toml') {
    const holder = holderOf(documents, stretch);
    const mark = holder && text[holder.isName ? holder.node.keyStart : holder.node.start];
    return mark === '"' || mark === "'" ? mark : '';
  }
  for (let at = stretch.start - 1; at >= 0 && text[at] !== '\n'; at--)
    if (/['"`]/.test(itemAt(text, at))) return itemAt(text, at);
  return '';
}

function set(work: Work, { range, to }: Change & { is: 'set' }): TextEdit {
  const { text, writing } = work;
  if (isUnstructured(writing)) throw impossible(work, 'a value in code is not replaced as a whole');
  const { start, end } = work.stretch(range);
  const isQuotedCell = writing === 'csv' && text[start - 1] === '"';
  const value = isInCdata(work, start) ? to : isQuotedCell ? innerText(to, writing, '"') : wholeText(to, writing);
  if (start < end || writing === 'csv' || writing === 'ini' || writing === 'xml') return { start, end, text: value };
  // YAML: nothing is written behind the name.
  const node = nodeAt(work.documents, { start, end });
  const colon = node ? text.indexOf(':', node.keyEnd) : -1;
  if (colon < 0) throw impossible(work, 'no value is written there');
  return { start: colon + 1, end: colon + 1, text: ` ${value}` };
}

function renamed(work: Work, range: Range, to: string): TextEdit {
  const node = nodeAt(work.documents, work.stretch(range));
  if (!node || node.keyStart < 0 || work.writing === 'csv') throw impossible(work, 'the name is no longer there');
  return { start: node.keyStart, end: node.keyEnd, text: nameText(to, work.writing) };
}

// Removing ----------------------------------------------------------------------------------------------------------

function removed(work: Work, range: Range): TextEdit[] {
  const { writing } = work;
  if (isUnstructured(writing)) throw impossible(work, 'code is not taken out by itself');
  const node = nodeAt(work.documents, work.stretch(range));
  if (!node) throw impossible(work, 'what is to be taken out is no longer there');
  if (writing === 'csv') return [{ start: node.start, end: node.end, text: '' }];
  if (writing === 'xml') return [withoutXml(work, node)];
  const start = node.keyStart >= 0 ? node.keyStart : node.start;
  const isFlow = writing === 'json' || isInFlow(work, node);
  if (isFlow && isOnly(work, node))
    return [{ start: must(node.parent).start + 1, end: must(node.parent).end - 1, text: '' }];
  return isFlow ? withoutComma(work, start, node.end) : [wholeLines(work, start, node.end)];
}

/** Whether an entry stands between brackets, and so between commas. */
function isInFlow({ text, writing }: Work, node: TreeNode): boolean {
  const { parent } = node;
  if (!parent || (writing !== 'yaml' && writing !== 'toml')) return false;
  return text[parent.start] === '{' || (text[parent.start] === '[' && parent.kind === 'list');
}

/** Whether nothing else stands between the brackets, no comment either. */
function isOnly({ text }: Work, { parent, start, end, keyStart }: TreeNode): boolean {
  if (!parent || parent.children.length !== 1) return false;
  const around = text.slice(parent.start + 1, keyStart >= 0 ? keyStart : start) + text.slice(end, parent.end - 1);
  return /^[\s,]*$/.test(around);
}

function withoutXml(work: Work, node: TreeNode): TextEdit {
  const { text } = work;
  if (node.kind === 'object') return wholeLines(work, node.start, node.end, false);
  let start = node.keyStart;
  while (start > 0 && /\s/.test(itemAt(text, start - 1))) start--;
  return { start, end: node.end + 1, text: '' };
}

/** An entry between commas goes with one of them; if it stands on lines of its own, these go as well. */
function withoutComma(work: Work, start: number, end: number): TextEdit[] {
  const { text } = work;
  const after = /^[^\S\r\n]*,/.exec(text.slice(end));
  if (after) return [line(text, start, end + after[0].length)];
  const before = /,(?=(?:\s|\/\/[^\n]*\n|\/\*[^]*?\*\/)*$)/.exec(text.slice(0, start));
  const whole = line(text, start, end);
  if (!before) return [whole];
  const isTogether = /^,\s*$/.test(text.slice(before.index, whole.start)) && whole.start >= before.index;
  // The line end that stood before the entry goes with it; the one behind it stays.
  if (isTogether) return [{ start: before.index, end, text: '' }];
  return [{ start: before.index, end: before.index + 1, text: '' }, whole];
}

/** A stretch with the rest of its lines when nothing else stands on them. */
function line(text: string, start: number, end: number): TextEdit {
  let from = start;
  while (from > 0 && /[^\S\r\n]/.test(itemAt(text, from - 1))) from--;
  const ends = /^[^\S\r\n]*(\r\n|\r|\n)/.exec(text.slice(end));
  const isAlone = (from === 0 || /[\r\n]/.test(itemAt(text, from - 1))) && ends !== null;
  if (isAlone) return { start: from, end: end + ends[0].length, text: '' };
  let to = end;
  while (to < text.length && /[^\S\r\n]/.test(itemAt(text, to))) to++;
  return { start, end: to, text: '' };
}

/** Every line that an entry stands on. */
function wholeLines({ text }: Work, start: number, end: number, always = true): TextEdit {
  if (!always) return line(text, start, end);
  const from = Math.max(text.lastIndexOf('\n', start - 1), text.lastIndexOf('\r', start - 1)) + 1;
  const last = Math.max(start, end - (/[\r\n]/.test(text[end - 1] ?? '') ? 1 : 0));
  const rest = must(/^[^\r\n]*(\r\n|\r|\n)?/.exec(text.slice(last)));
  return { start: from, end: last + rest[0].length, text: '' };
}

// Adding ------------------------------------------------------------------------------------------------------------

function addMember(work: Work, home: TreeNode, into: string, key: string, to: string): TextEdit[] {
  const [found] = compileSelector(into)(home);
  const object = into === '$' ? home : found;
  if (object?.kind === 'object') return newMember(work, object, key, wholeText(to, work.writing));
  const name = /^\$\.([\w-]+)$/.exec(into)?.[1];
  if (object || !name || (work.writing !== 'json' && work.writing !== 'yaml'))
    throw impossible(work, `there is no place for “${key}”`);
  // The object that holds the values is not there yet.
  return newMember(work, home, name, `{ ${nameText(key, work.writing)}: ${wholeText(to, work.writing)} }`);
}

/** A member behind the last one, laid out as that one is. */
function newMember(work: Work, object: TreeNode, key: string, value: string): TextEdit[] {
  const { text, writing } = work;
  const name = nameText(key, writing);
  if (writing === 'xml') return [newAttribute(work, object, key, value)];
  const members = object.children.filter((child) => child.keyStart >= 0);
  const last = members.at(-1);
  const isFlow = text[object.start] === '{';
  if (!last) {
    if (isFlow)
      return [{ start: object.start, end: object.end, text: `{ ${name}${writing === 'toml' ? ' =' : ':'} ${value} }` }];
    if (writing !== 'ini' && writing !== 'toml') throw impossible(work, `there is no place for “${key}”`);
    const at = endOfLine(text, object.start);
    return [inserted(at, `${newlineOf(text)}${name} = ${value}`.trimEnd())];
  }
  const between = text.slice(last.keyEnd, last.start).replace(/["']$/, '');
  if (isFlow) {
    const lead = leadOf(text, last.keyStart, object.start);
    return behind(text, last.end, lead, `${name}${between}${value}`);
  }
  const at = endOfLine(text, Math.max(last.keyEnd, last.end - (/[\r\n]/.test(text[last.end - 1] ?? '') ? 1 : 0)));
  const own = /^\s*[:=]\s*$/.test(between) && writing !== 'yaml' ? between : writing === 'yaml' ? ': ' : ' = ';
  const sign = value === '' ? own.trimEnd() : own;
  return [inserted(at, `${newlineOf(text)}${indentOf(text, last.keyStart)}${name}${sign}${value}`)];
}

function newAttribute({ text }: Work, element: TreeNode, key: string, value: string): TextEdit {
  const last = element.children.filter((child) => isLeaf(child) && child.keyStart >= 0).at(-1);
  const tag = element.children.find((child) => child.key === '#tag');
  const at = last ? last.end + 1 : (tag?.end ?? element.start + 1);
  const lead = last ? must(/\s+$/.exec(text.slice(0, last.keyStart)))[0] : ' ';
  return { start: at, end: at, text: `${lead}${key}="${value}"` };
}

function addItem(work: Work, selector: string, to: string): TextEdit[] {
  const { text, writing, documents } = work;
  const [list] = documents.flatMap((document) => compileSelector(selector)(document));
  if (list?.kind === 'object') return newMember(work, list, to, writing === 'ini' ? '' : wholeText('', writing));
  if (list?.kind !== 'list') throw impossible(work, `there is no list at ${selector}`);
  const value = wholeText(to, writing);
  const last = list.children.at(-1);
  if (text[list.start] === '[' && writing !== 'csv') {
    if (!last) return [{ start: list.start, end: list.end, text: `[${value}]` }];
    return behind(text, last.end, leadOf(text, last.start, list.start), value);
  }
  if (!last || writing !== 'yaml') throw impossible(work, `an entry for “${to}” cannot be made up by itself`);
  const dash = text.lastIndexOf('-', last.start);
  const at = endOfLine(text, last.end);
  return [inserted(at, `${newlineOf(text)}${indentOf(text, dash)}- ${value}`)];
}

function inserted(at: number, text: string): TextEdit {
  return { start: at, end: at, text };
}

/** An entry behind the last one between brackets: a comma that stands there counts, a comment stays on its line. */
function behind(text: string, end: number, lead: string, entry: string): TextEdit[] {
  const [, comma = '', comment = ''] = must(/^([^\S\r\n]*,)?([^\S\r\n]*(?:#|\/\/)[^\r\n]*)?/.exec(text.slice(end)));
  const rest = /[\r\n]/.test(lead) ? comment : '';
  const at = end + comma.length + rest.length;
  const own = `${lead}${entry}${comma ? ',' : ''}`;
  if (comma) return [inserted(at, own)];
  return rest ? [inserted(end, ','), inserted(at, own)] : [inserted(at, `,${own}`)];
}

/** The white space in front of an entry between brackets: its line and indentation, or a single space. */
function leadOf(text: string, start: number, opening: number): string {
  const lead = must(/\s*$/.exec(text.slice(opening + 1, start)))[0];
  return /[\r\n]/.test(lead) ? lead.replace(/^[^\r\n]*/, '') : ' ';
}

function indentOf(text: string, offset: number): string {
  const from = Math.max(text.lastIndexOf('\n', offset - 1), text.lastIndexOf('\r', offset - 1)) + 1;
  return must(/^[^\S\r\n]*/.exec(text.slice(from, offset)))[0];
}

function endOfLine(text: string, offset: number): number {
  const found = /[\r\n]/.exec(text.slice(offset));
  return found ? offset + found.index : text.length;
}

function newlineOf(text: string): string {
  return /\r\n|\r|\n/.exec(text)?.[0] ?? '\n';
}
