import { itemAt } from '../helpers/at.js';
import { sentence, type Sentence } from '../model/finding.js';
import { dated } from '../model/history.js';
import { isPart, LIKENESS_WORDS, twinsOf, type Twins } from '../twins/twins.js';
import type { Check, Draft } from './check.js';

/** The same logic stands in two or more places. */
export const copiedCode: Check = {
  id: 'twin/copied-code',
  title: 'The same logic is written more than once',
  severity: 'note',
  why: 'Whoever mends one copy leaves the others as they were; nobody knows which of them is right.',
  decides:
    'Compares all functions statement by statement, with names and values left out: to the letter, with other values, with other names that stand for one another throughout, and with statements added or taken out. Where statements differ, it is told how many, and when the version history shows that one copy was changed and another left as it was, which and when – a warning. Silent on short functions, on pieces of a few lines within longer ones, on what many functions have alike, on scripts for which the plan says that copies are fine (house.copiesFine), and on brothers that declare the same handler (twin/sibling-rule).',
  restsOn: 'scripts',
  run: (linked) =>
    twinsOf(linked)
      .filter((twins) => !isSiblingRule(twins))
      .map(draftOf),
};

/** The same function of brothers that have one parent type of the project: told by twin/sibling-rule. */
function isSiblingRule({ places, likeness }: Twins): boolean {
  const names = new Set(places.map(({ name }) => name.split('.').pop()));
  const parents = new Set(places.map(({ type }) => type?.ancestors[0]));
  return likeness !== 'statements' && names.size === 1 && parents.size === 1 && !parents.has(undefined);
}

function told(twins: Twins): Sentence {
  const { places, likeness, differences, parting } = twins;
  const [first, second] = [itemAt(places, 0), itemAt(places, 1)];
  const lacking = differences.filter(({ what }) => what === 'statement').length;
  return [
    isPart(twins) ? 'Parts of ' : '',
    ...sentence`${{ name: first.name, piece: first.type?.piece }} and ${{ name: second.name, piece: second.type?.piece }}`,
    places.length > 2 ? ` and ${places.length - 2} more` : '',
    ` are the same ${LIKENESS_WORDS[likeness]}`,
    likeness === 'statements' ? `, ${lacking} of them` : '',
    ...(parting
      ? [
          '; ',
          { name: itemAt(places, parting.copy).name, piece: itemAt(places, parting.copy).type?.piece },
          ` was changed ${dated(parting.by)}, and ${places.length === 2 ? 'the other' : 'others'} not`,
        ]
      : []),
  ].filter((run) => run !== '');
}

function draftOf(twins: Twins): Draft {
  const { places, differences, home, likeness, parting } = twins;
  const values = differences.filter(({ what }) => what === 'value');
  return {
    severity: parting && 'warning',
    sentence: told(twins),
    sure:
      likeness === 'to the letter'
        ? 'All tokens of both were compared.'
        : 'Both were laid side by side statement by statement, and each name stands for one name of the other.',
    pieces: [...new Set(places.flatMap(({ type }) => type?.piece ?? []))],
    evidence: places.slice(0, 6).map(({ file, line, endLine, name }) => ({
      file,
      range: { line, column: 1, endLine: endLine + 1, endColumn: 1 },
      shows: name,
    })),
    walk: [],
    places: places.length,
    repairs: [
      {
        title: HOMES[home.is],
        words: [
          home.type ? `All of them descend from ${home.type.name}: write it there once.` : HOME_WORDS[home.is],
          values.length > 0
            ? `What differs becomes a field: ${values
                .slice(0, 4)
                .map((one) => one.words.join(' | '))
                .join('; ')}.`
            : '',
        ]
          .filter(Boolean)
          .join(' '),
      },
    ],
    sameBy: places.map(({ file, name }) => `${file} ${name}`).sort(),
  };
}

const HOMES: Record<Twins['home']['is'], string> = {
  'the same type': 'One function for both',
  'the parent': 'Move it into the parent',
  'a new parent': 'Give them a parent that has it',
  'a shared script': 'Put it into a script that both use',
};
const HOME_WORDS: Record<Twins['home']['is'], string> = {
  'the same type': 'Write it once in this type and call it from both places.',
  'the parent': '',
  'a new parent': 'Make a type between them and their parent, and write it there once.',
  'a shared script': 'Write it once in a script that all of them take in.',
};
