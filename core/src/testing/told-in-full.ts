/** Whether findings are told so that somebody can work with them: every spec that scans asks it of all that it found. */
import type { Analysis } from '../analyse.js';
import { plain, SEVERITIES, type Finding, type Repair, type Sentence } from '../model/finding.js';
import { nameOf } from '../model/graph.js';
import { GRIPS } from '../model/link.js';
import type { Range } from '../model/piece.js';

/**
 * Gives the analysis back.
 * @throws Error naming every finding that lacks something: words, a place, a way out
 */
export function toldInFull(analysis: Analysis): Analysis {
  const { graph } = analysis.linked;
  const isPiece = (piece: number): boolean => Number.isInteger(piece) && piece >= 0 && piece < graph.pieceCount;
  const lacks = (finding: Finding): string[] => {
    const { sentence, sure, pieces, evidence, walk, places, repairs, severity } = finding;
    return [
      ...sentence.flatMap((run) =>
        run === '' || (typeof run !== 'string' && run.name === '') ? ['an empty run'] : [],
      ),
      ...sentence.flatMap((run) => (typeof run !== 'string' && !isPiece(run.piece ?? 0) ? ['a named piece'] : [])),
      isSentence(plain(sentence)) ? '' : 'a sentence',
      /^\p{Lu}.*\.$/su.test(sure) ? '' : 'why it is sure',
      pieces.length > 0 && pieces.every(isPiece) ? '' : 'its pieces',
      evidence.length > 0 ? '' : 'evidence',
      ...evidence.flatMap(({ file, range, shows }) => [
        file !== '' && isRange(range) ? '' : `the place ${file}`,
        isSentence(shows) ? '' : 'what the evidence shows',
      ]),
      walk.every(({ asks, finds, grip }) => asks && finds && GRIPS.includes(grip)) ? '' : 'steps of its walk',
      Number.isInteger(places) && places > 0 ? '' : 'how many places',
      repairs.length > 0 ? '' : 'a way out',
      ...repairs.flatMap(lacksOfRepair),
      SEVERITIES.includes(severity) ? '' : 'its weight',
    ].filter(Boolean);
  };
  const wrong = analysis.findings.flatMap((finding) => {
    const missing = lacks(finding);
    return missing.length > 0 ? [`${finding.check}, “${plain(finding.sentence)}” lacks ${missing.join(', ')}`] : [];
  });
  const prints = new Map<string, string>();
  // Where a piece stands is no part of what it is known by.
  const bare = (sentence: Sentence): string =>
    plain(sentence.map((run) => (typeof run === 'string' || run.piece === undefined ? run : nameOf(graph, run.piece))));
  for (const { fingerprint, sentence } of analysis.findings) {
    if (prints.has(fingerprint)) wrong.push(`two findings have the fingerprint ${fingerprint}`);
    // Only those that read alike are told apart by a number.
    const [base = ''] = fingerprint.split('-');
    if (prints.has(base) && prints.get(base) !== bare(sentence))
      wrong.push(`“${plain(sentence)}” is taken for another`);
    prints.set(fingerprint, bare(sentence));
  }
  if (wrong.length > 0) throw new Error(wrong.join('\n'));
  return analysis;
}

function lacksOfRepair({ title, words, changes = [], oneOf }: Repair): string[] {
  return [
    isSentence(title) && /^\p{Lu}/u.test(title) ? '' : 'the title of a repair',
    /[.?]$/.test(words) && isSentence(words) ? '' : `words of the repair “${title}”`,
    changes.every(({ file }) => file !== '') ? '' : 'the file of a repair',
    oneOf === '' ? 'what a repair is one of' : '',
  ];
}

/** Words without gaps, and without what only a machine writes. */
function isSentence(text: string): boolean {
  return text.trim() === text && text !== '' && !/ {2}|undefined|\bNaN\b|\[object/.test(text);
}

function isRange({ line, column, endLine, endColumn }: Range): boolean {
  return line >= 1 && column >= 1 && (endLine > line || (endLine === line && endColumn >= column));
}
