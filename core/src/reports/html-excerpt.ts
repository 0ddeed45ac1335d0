import type { Excerpt } from '../model/evidence.js';
import { xmlText } from './xml.js';

/** Lines of a file with their numbers; those that matter are marked. */
export function excerptLines({ firstLine, lines, from, to }: Excerpt): string {
  const rows = lines.map((line, at) => {
    const number = firstLine + at;
    const isMarked = number >= from && number <= to;
    return `<span class="line${isMarked ? ' marked' : ''}"><span class="number">${number}</span>${xmlText(line) || ' '}</span>`;
  });
  return `<pre>${rows.join('')}</pre>`;
}
