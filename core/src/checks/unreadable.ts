import { itemAt } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import type { Linked } from '../linking/linked.js';
import { named, type Check, type Draft } from './check.js';

/** A file that the plan covers and that cannot be read as a whole. */
export const unreadable: Check = {
  id: 'broken/unreadable',
  title: 'A file cannot be read to its end, or there is too much of something to be put on the map',
  severity: 'error',
  why: 'The game may not be able to read it either, and what stands in it is not on the map.',
  decides:
    'Fires once for each file in which the parser found a fault, at the first one. What could be read all the same is on the map, and whatever may stand in the rest is nowhere told to be missing: in its text, or, when it stops in the middle, anything that such a file can hold. Fires as well, as a warning, for what is left out of the map since there is too much of it, and for a check with more than 20,000 findings; and, as a note, for rows of a table that have more or fewer cells than its head. Silent for files that nothing reads, and for those that are only listed.',
  run: (linked) => [...leftOut(linked), ...notRead(linked), ...odd(linked)],
};

function notRead({ facts, world }: Linked): Draft[] {
  return facts.flatMap(({ file, problems }, source) => {
    if (problems.length === 0) return [];
    const first = itemAt(problems, 0);
    const more = problems.length > 1 ? ` (and ${problems.length - 1} more)` : '';
    return [
      {
        sentence: [
          { name: file, piece: itemAt(world.files.piece, source) },
          ...sentence` cannot be read to its end: ${first.message}`,
          more,
        ].filter((run) => run !== ''),
        sure: 'The format does not allow what stands there; whatever could be read around it was read.',
        pieces: [itemAt(world.files.piece, source)],
        evidence: problems.slice(0, 6).map(({ message, range }) => ({ file, range, shows: message })),
        walk: [],
        places: problems.length,
        repairs: [
          {
            title: 'Correct the file',
            words: 'Mend what stands there. Until then, what may stand in the rest is told to be missing nowhere.',
          },
        ],
        sameBy: [file],
      },
    ];
  });
}

/** What was read all the same: rows of another length than the head. */
function odd({ facts, world }: Linked): Draft[] {
  return facts.flatMap(({ file, notes = [] }, source): Draft[] => {
    const [first] = notes;
    if (!first) return [];
    const piece = itemAt(world.files.piece, source);
    return [
      {
        severity: 'note',
        sentence: [
          ...sentence`${{ name: file, piece }} has ${first.message} in line ${first.range.line}`,
          notes.length > 1 ? ` (and ${notes.length - 1} more)` : '',
        ].filter((run) => run !== ''),
        sure: 'The cells of each row were counted.',
        pieces: [piece],
        evidence: notes.slice(0, 4).map(({ message, range }) => ({ file, range, shows: message })),
        walk: [],
        places: notes.length,
        repairs: [
          {
            title: 'Look whether cells have slipped',
            words: 'Add the cells that lack, or put quotes around what holds the mark between cells.',
          },
        ],
        sameBy: ['odd', file],
      },
    ];
  });
}

/** What there is too much of to be put on the map. */
function leftOut({ world, graph }: Linked): Draft[] {
  return [...world.leftOut.entries()].map(([key, { words, piece, file, range }]) => ({
    severity: 'warning' as const,
    sentence: ['At ', named(graph, piece), `: ${words}`],
    sure: 'There is a limit for each, so that no project can hold up the scan.',
    pieces: [piece],
    evidence: [{ file, range, shows: 'where it was met first' }],
    walk: [],
    places: 1,
    repairs: [
      {
        title: 'Look whether that is meant',
        words: 'So many are seldom meant; what is left out is judged by no check.',
      },
    ],
    sameBy: ['left out', key],
  }));
}
