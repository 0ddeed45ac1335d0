import { itemAt } from '../helpers/at.js';
import { push } from '../helpers/push.js';
import { sentence } from '../model/finding.js';
import type { Linked } from '../linking/linked.js';
import type { FileFacts } from '../reading/facts.js';
import { baseName, folderOf } from '../reading/source.js';
import { named, type Check, type Draft } from './check.js';

/** A file that the plan covers and that cannot be read as a whole. */
export const unreadable: Check = {
  id: 'broken/unreadable',
  title: 'A file cannot be read to its end, or there is too much of something to be put on the map',
  severity: 'error',
  why: 'The game may not be able to read it either, and what stands in it is not on the map.',
  decides:
    'Fires once for each file in which the parser found a fault, at the first one; where hardly any of the files of one ending in a folder, or of one name in any, can be read to its end (5 or more, and 4 of 5), once for all of them, as a warning; a file of which most lines do not keep to the format is a warning, too. What could be read all the same is on the map, and whatever may stand in the rest is nowhere told to be missing: in its text, or, when it stops in the middle, anything that such a file can hold. Fires as well, as a warning, for what is left out of the map since there is too much of it, and for a check with more than 20,000 findings; and, as a note, for rows of a table that have more or fewer cells than its head. Silent for files that nothing reads, and for those that are only listed.',
  run: (linked) => [...leftOut(linked), ...notRead(linked), ...odd(linked)],
};

function notRead({ facts, world }: Linked): Draft[] {
  const isUsual = usualFaults(facts);
  const usual = new Map<string, Placed[]>();
  const alone: Placed[] = [];
  for (const [source, fact] of facts.entries()) {
    if (fact.problems.length === 0) continue;
    const placed = { fact, piece: itemAt(world.files.piece, source) };
    const kind = isUsual(fact);
    if (kind) push(usual, kind, placed);
    else alone.push(placed);
  }
  return [...alone.map(faultIn), ...[...usual.entries()].map(([kind, all]) => usualIn(kind, all))];
}

interface Placed {
  fact: FileFacts;
  piece: number;
}

function faultIn({ fact: { file, problems }, piece }: Placed): Draft {
  const first = itemAt(problems, 0);
  const more = problems.length > 1 ? ` (and ${problems.length - 1} more)` : '';
  // No slip of the pen spoils every other line.
  const faulty = new Set(problems.map(({ range }) => range.line));
  const isOther = faulty.size >= FEWEST_ALIKE && faulty.size >= Math.max(...faulty) / 2;
  return {
    ...(isOther && { severity: 'warning' as const }),
    sentence: [
      { name: file, piece },
      ...(isOther
        ? sentence` is no file of the format that its rule reads it by: ${first.message}`
        : sentence` cannot be read to its end: ${first.message}`),
      more,
    ].filter((run) => run !== ''),
    sure: isOther
      ? 'Most of its lines do not keep to the format: the game must read it by other rules.'
      : 'The format does not allow what stands there; whatever could be read around it was read.',
    pieces: [piece],
    evidence: problems.slice(0, MOST_SHOWN).map(({ message, range }) => ({ file, range, shows: message })),
    walk: [],
    places: problems.length,
    repairs: [
      {
        title: 'Correct the file',
        words: 'Mend what stands there. Until then, what may stand in the rest is told to be missing nowhere.',
      },
    ],
    sameBy: [file],
  };
}

const MOST_SHOWN = 6;
/** A fault that so many files of a kind have, and this share of them, is how the team writes. */
const [FEWEST_ALIKE, MOSTLY] = [5, 0.8];

/** What files are told by that belong together: those of one ending in a folder, and those of one name in any. */
const kindsOf = ({ file }: FileFacts): string[] => [
  `files ${file.slice(file.lastIndexOf('.'))} in ${folderOf(file) || 'the project'}`,
  `files ${baseName(file)}`,
];

/**
 * Files of a kind of which hardly any can be read to its end: whatever reads them in the game goes by other rules.
 * @returns the kind, in words, by which the fault of a file is usual
 */
function usualFaults(facts: readonly FileFacts[]): (fact: FileFacts) => string | undefined {
  const kinds = new Map<string, { of: number; faulty: number }>();
  for (const fact of facts) {
    if (fact.kind === 'media') continue;
    for (const kind of kindsOf(fact)) {
      const { of, faulty } = kinds.get(kind) ?? { of: 0, faulty: 0 };
      kinds.set(kind, { of: of + 1, faulty: faulty + (fact.problems.length > 0 ? 1 : 0) });
    }
  }
  const isUsual = (kind: string): boolean => {
    const { of, faulty } = kinds.get(kind) ?? { of: 0, faulty: 0 };
    return faulty >= FEWEST_ALIKE && faulty >= of * MOSTLY;
  };
  return (fact) => kindsOf(fact).find(isUsual);
}

function usualIn(kind: string, all: readonly Placed[]): Draft {
  const { fact, piece } = itemAt(all, 0);
  const first = itemAt(fact.problems, 0);
  return {
    severity: 'warning',
    sentence: [
      `Hardly any of the ${kind} can be read to their end, ${all.length} cannot, as `,
      { name: fact.file, piece },
      `: ${first.message}`,
    ],
    sure: 'Hardly any of them keeps to the format: the game must read them by other rules. What could be read is on the map.',
    pieces: all.map((one) => one.piece),
    evidence: all.slice(0, MOST_SHOWN).map((one) => {
      const { message, range } = itemAt(one.fact.problems, 0);
      return { file: one.fact.file, range, shows: message };
    }),
    walk: [],
    places: all.length,
    repairs: [
      {
        title: 'Say how they are read',
        words:
          'Read them line by line (“format”: “lines”), or leave them out of the plan. What may stand in the rest is told to be missing nowhere.',
      },
    ],
    sameBy: ['usual', kind],
  };
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
