import { itemAt } from '../helpers/at.js';
import { grouped, type Some } from '../helpers/grouped.js';
import { listed, sentence } from '../model/finding.js';
import { folderOf } from '../reading/source.js';
import { assetTwinsOf } from '../twins/assets.js';
import type { Check, Draft } from './check.js';
import { toldTogether } from './one-row.js';

/** Prefabs, or data assets, that differ in a few values. */
export const nearSameAsset: Check = {
  id: 'twin/near-same-asset',
  title: 'Prefabs or data assets that differ in a few values',
  severity: 'note',
  why: 'Whoever changes one forgets the others; as variants of one they would follow it.',
  decides:
    'Compares prefabs object by object: the tree, the names below the root, the parts and the fields that are saved. Fires when all of that is the same in two or more and at most three saved values differ, out of at least three. Compares data assets of one rule value by value: fires when the same values stand in the same places, eight at least, and at most three of them, or a quarter, differ. Three such files or more in the same folders are one finding: a folder that was copied; and so are more than a dozen groups of one rule: that is how the team makes them. Silent on prefabs of a single object without saved values, on those made or derived from one another, on files with more than 120 values, on what more than a dozen files have alike, and on files for which copies are fine (house.copiesFine).',
  restsOn: 'assets',
  run: (linked) => {
    const { facts, world } = linked;
    const drafts = assetTwinsOf(linked).map(({ kind, sources, differing }): Draft => {
      const same = sources.map((source) => ({ fact: itemAt(facts, source), piece: itemAt(world.files.piece, source) }));
      const isOneName = new Set(same.map(({ fact }) => fact.name)).size < same.length;
      return {
        sentence: [
          ...listed(
            same.slice(0, 3).map(({ fact, piece }) => ({ name: isOneName ? fact.file : fact.name, piece })),
            same.length,
          ),
          ...(differing.length === 0
            ? [' are the same in everything but their name']
            : sentence` differ only in ${differing.map(({ name, texts }) => `${name} (${texts.slice(0, 4).join(' | ')})`).join(', ')}`),
        ].filter((run) => run !== ''),
        sure:
          kind === 'prefab'
            ? 'Trees, parts and saved fields were compared one by one.'
            : 'All values of both were compared one by one.',
        pieces: same.map(({ piece }) => piece),
        evidence: same
          .slice(0, 6)
          .map(({ fact }) => ({ file: fact.file, range: fact.pieces[0]?.range ?? fact.range, shows: fact.name })),
        walk: [],
        places: same.length,
        repairs: [
          kind === 'prefab'
            ? {
                title: 'Make them variants of one',
                words: 'Keep one prefab, and make the others from it with the values that differ saved over its own.',
              }
            : {
                title: 'Keep what they share once',
                words:
                  'Let one be like the other and say only what differs, or keep what they share in one that both name.',
              },
        ],
        files: same.map(({ fact }) => fact.file),
        sameBy: same.map(({ fact }) => fact.file).sort(),
      };
    });
    const copied = grouped(drafts, ({ files }) => foldersOf(files).join('\n')).flatMap((same) =>
      same.length < MANY_FILES || foldersOf(same[0].files).length < 2 ? same : [toldTogether(same, inFolders(same))],
    );
    const ruleOf = ({ files = [] }: Draft): string => itemAt(facts, world.files.sourceOf.get(files[0] ?? '') ?? 0).rule;
    return grouped(copied, ruleOf).flatMap((same) =>
      same.length <= HABIT ? same : [toldTogether(same, ofRule(ruleOf(same[0]), same.length))],
    );
  },
};

/** So many files that are nearly the same in the same folders are one copy of a folder. */
const MANY_FILES = 3;

/** Where more groups than these are nearly the same, that is how the team makes such files. */
const HABIT = 12;

const foldersOf = (files: readonly string[] = []): string[] => [...new Set(files.map(folderOf))].sort();

/** A folder that was copied, or a habit, is told once; what it is made of stands in Twins as well. */
function inFolders(same: Some<Draft>): Pick<Draft, 'sentence' | 'sameBy'> {
  const folders = foldersOf(same[0].files);
  return {
    sentence: [
      ...listed(
        folders.slice(0, 3).map((name) => ({ name })),
        folders.length,
      ),
      ` hold ${same.length} files each that are nearly the same`,
    ],
    sameBy: ['folders', ...folders],
  };
}

const ofRule = (rule: string, count: number): Pick<Draft, 'sentence' | 'sameBy'> => ({
  sentence: sentence`Among the files of ${rule} there are ${count} groups that are nearly the same`,
  sameBy: ['rule', rule],
});
