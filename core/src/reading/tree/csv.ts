import { itemAt } from '../../helpers/at.js';
import { adopt, branch, leaf, type ReadProblem, type Tree } from './node.js';

interface Cell {
  value: string;
  start: number;
  end: number;
}

/**
 * Reads CSV (RFC 4180): the first line names the columns, every further line is an object. Commas, semicolons or tabs
 * part the cells, whichever the first line has most of.
 */
export function readCsv(text: string, columns: readonly string[] = []): Tree {
  const problems: ReadProblem[] = [];
  const notes: ReadProblem[] = [];
  const rows = rowsOf(text, separatorOf(text), problems);
  const head = columns.length > 0 ? columns : (rows[0] ?? []).map(({ value }) => value);
  const body = columns.length > 0 ? rows : rows.slice(1);
  const list = branch('list', 0, text.length);
  for (const row of body) {
    if (row.length === 1 && !itemAt(row, 0).value) continue;
    const object = branch('object', itemAt(row, 0).start, itemAt(row, row.length - 1).end);
    row.forEach((cell, at) => {
      adopt(object, leaf('text', cell.value, cell.start, cell.end), head[at] ?? `column ${at + 1}`);
    });
    if (row.length > head.length || (row.length < head.length && columns.length === 0))
      notes.push({
        message: `${row.length} ${row.length === 1 ? 'cell' : 'cells'} where ${head.length} columns are named`,
        start: itemAt(row, 0).start,
        end: object.end,
      });
    adopt(list, object);
  }
  return { documents: rows.length > 0 ? [list] : [], problems, notes };
}

function separatorOf(text: string): string {
  const first = itemAt(text.split(/[\r\n]/, 1), 0);
  const count = (mark: string): number => first.split(mark).length;
  return [',', ';', '\t'].reduce((best, mark) => (count(mark) > count(best) ? mark : best));
}

function rowsOf(text: string, separator: string, problems: ReadProblem[]): Cell[][] {
  const rows: Cell[][] = [];
  let at = 0;
  while (at < text.length) {
    const row: Cell[] = [];
    for (;;) {
      const cell = text[at] === '"' ? quotedCell(text, at, problems) : plainCell(text, at, separator);
      row.push(cell.cell);
      at = cell.next;
      if (text[at] !== separator) break;
      at++;
    }
    if (text[at] === '\r' && text[at + 1] === '\n') at += 2;
    else if (at < text.length) at++;
    rows.push(row);
  }
  return rows;
}

function plainCell(text: string, start: number, separator: string): { cell: Cell; next: number } {
  let end = start;
  while (end < text.length && text[end] !== separator && text[end] !== '\n' && text[end] !== '\r') end++;
  return { cell: { value: text.slice(start, end), start, end }, next: end };
}

/** A cell in quotes; two quotes stand for one. Text between the closing quote and the separator is a fault. */
function quotedCell(text: string, start: number, problems: ReadProblem[]): { cell: Cell; next: number } {
  let end = start + 1;
  while (end < text.length && (text[end] !== '"' || text[end + 1] === '"')) end += text[end] === '"' ? 2 : 1;
  if (end >= text.length) problems.push({ message: 'a quote is not closed', start, end: text.length });
  const value = text.slice(start + 1, Math.min(end, text.length)).replace(/""/g, '"');
  let next = Math.min(end + 1, text.length);
  const after = next;
  while (next < text.length && !',;\t\r\n'.includes(itemAt(text, next))) next++;
  if (next > after) problems.push({ message: 'text after a closing quote', start: after, end: next });
  return { cell: { value, start: Math.min(start + 1, text.length), end: Math.min(end, text.length) }, next };
}
