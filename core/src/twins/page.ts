/** The twins of a project as the interface and the task list show them. */
import type { Linked } from '../linking/linked.js';
import { twinsOf, type Difference, type Home, type Twins } from './twins.js';

export interface TwinView {
  likeness: Twins['likeness'];
  /** Tokens that writing it once would save. */
  saves: number;
  /** One copy has statements that another lacks. */
  drift: boolean;
  places: { name: string; file: string; line: number; endLine: number; piece: number }[];
  differences: Difference[];
  home: Home['is'];
  /** Name of the parent that could hold it. */
  parent: string;
}

/** Groups, those that save most first; drifted copies before others that save as much. */
export function twinViews(linked: Linked): TwinView[] {
  return twinsOf(linked).map(({ likeness, saves, drift, places, differences, home }) => ({
    likeness,
    saves,
    drift,
    places: places.map(({ name, file, line, endLine, type }) => ({
      name,
      file,
      line,
      endLine,
      piece: type?.piece ?? -1,
    })),
    differences,
    home: home.is,
    parent: home.type?.name ?? '',
  }));
}

const HOMES: Record<Home['is'], string> = {
  'the same type': 'One function of the type, called from both places',
  'the parent': 'The parent that they have',
  'a new parent': 'A new parent between them and theirs',
  'a shared script': 'A script that all of them take in',
};

const WORDS: Record<TwinView['likeness'], string> = {
  'to the letter': 'to the letter',
  values: 'with other values',
  names: 'with other names',
  statements: 'with statements added or taken out',
};

/** Where a group could live, in words. */
export function homeWords({ home, parent }: Pick<TwinView, 'home' | 'parent'>): string {
  return parent ? `${HOMES[home]}: ${parent}` : HOMES[home];
}

/** The groups as a list of tasks, in Markdown. */
export function twinTasks(project: string, groups: readonly TwinView[]): string {
  const lines = [`# ${project}: what is written more than once`, ''];
  for (const group of groups) {
    const [first] = group.places;
    lines.push(
      `- [ ] \`${first.name}\` and ${group.places.length - 1} more, the same ${WORDS[group.likeness]}. ${homeWords(group)}.`,
    );
    for (const { name, file, line, endLine } of group.places)
      lines.push(`  - \`${name}\` in ${file}, lines ${line} to ${endLine}`);
    for (const { what, line, words } of group.differences.slice(0, 12))
      lines.push(
        `  - ${what} near line ${line}: ${words.map((word) => (word ? `\`${word.replaceAll('`', "'")}\`` : '–')).join(' / ')}`,
      );
  }
  return `${lines.join('\n')}\n`;
}
