/** Findings of the sample as the page of a check shows them: all that a user is told. */
import type { Analysis } from '../analyse.js';
import { plain, type Finding } from '../model/finding.js';
import { titleOf, type Graph } from '../model/graph.js';

/** More of one check would say the same again. */
const MOST = 3;

/** Markdown with the first findings of a check; empty when there are none. */
export function examplesOf({ findings, linked }: Analysis, check: string): string {
  const own = findings.filter((finding) => finding.check === check);
  return own
    .slice(0, MOST)
    .map((finding) => example(linked.graph, finding))
    .join('\n');
}

function example(graph: Graph, finding: Finding): string {
  const { severity, sentence, sure, pieces, evidence, walk, places, repairs } = finding;
  const lines = [
    `> **${severity}** ${plain(sentence)}${places > 1 ? ` (${places} places)` : ''}`,
    `> _Sure, since:_ ${sure}`,
    `> _About:_ ${pieces.map((piece) => titleOf(graph, piece)).join('; ')}`,
    ...evidence.map(({ file, range, shows }) => `> \`${file}:${range.line}:${range.column}\` ${shows}`),
    ...(walk.length > 0 ? [`> _Walk:_ ${walk.map(({ asks, finds }) => `${asks}: ${finds}`).join(' → ')}`] : []),
    ...repairs.map(({ title, words, changes }) => `> _${changes ? 'Repair' : 'Way out'}:_ ${title}. ${words}`),
  ];
  return `${lines.join('  \n')}\n`;
}
