/** Twins as a list of tasks. */
import { itemAt } from '../../helpers/at.js';
import type { Linked } from '../../linking/linked.js';
import { entriesOf } from './entries.js';

const MOST_TOLD = 12;

/** All groups as a list of tasks, in Markdown. */
export function twinTasks(project: string, linked: Linked): string {
  const groups = entriesOf(linked).map((entry) => entry.view());
  const lines = [`# ${project}: what is written more than once`, ''];
  for (const { places, likeness, home, parting, differences, fields } of groups) {
    const first = itemAt(places, 0);
    const lives = home.words && ` It could live in ${home.words}.`;
    lines.push(`- [ ] ${code(first.name)} and ${places.length - 1} more: ${likeness}.${lives} ${home.change}`);
    if (parting) lines.push(`  - ${parting}`);
    for (const { name, file, line, endLine, change } of places)
      lines.push(`  - [ ] ${code(name)} in ${file}, lines ${line} to ${endLine}. ${change}`);
    for (const { name, words } of fields.slice(0, MOST_TOLD))
      lines.push(`  - ${code(name)}: ${words.map(code).join(' / ')}`);
    for (const { what, words } of differences
      .filter((one) => one.what !== 'value' || fields.length === 0)
      .slice(0, MOST_TOLD))
      lines.push(`  - ${what}: ${words.map((word) => (word ? code(word) : 'not there')).join(' / ')}`);
  }
  return `${lines.join('\n')}\n`;
}

/** A text as code in Markdown: the marks around it are more than any inside. */
function code(text: string): string {
  const inside = Math.max(0, ...[...text.matchAll(/`+/g)].map(([run]) => run.length));
  const marks = '`'.repeat(inside + 1);
  return inside > 0 ? `${marks} ${text} ${marks}` : `${marks}${text}${marks}`;
}
