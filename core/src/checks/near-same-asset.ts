import { itemAt } from '../helpers/at.js';
import { listed, sentence } from '../model/finding.js';
import { assetTwinsOf } from '../twins/assets.js';
import type { Check } from './check.js';

/** Prefabs, or data assets, that differ in a few values. */
export const nearSameAsset: Check = {
  id: 'twin/near-same-asset',
  title: 'Prefabs or data assets that differ in a few values',
  severity: 'note',
  why: 'Whoever changes one forgets the others; as variants of one they would follow it.',
  decides:
    'Compares prefabs object by object: the tree, the names below the root, the parts and the fields that are saved. Fires when all of that is the same in two or more and at most three saved values differ, out of at least three. Compares data assets of one rule value by value: fires when the same values stand in the same places, eight at least, and at most three of them, or a quarter, differ. Silent on prefabs of a single object without saved values, on those made or derived from one another, on files with more than 120 values, on what more than a dozen files have alike, and on files for which copies are fine (house.copiesFine).',
  restsOn: 'assets',
  run: (linked) => {
    const { facts, world } = linked;
    return assetTwinsOf(linked).map(({ kind, sources, differing }) => {
      const same = sources.map((source) => ({ fact: itemAt(facts, source), piece: itemAt(world.files.piece, source) }));
      return {
        sentence: [
          ...listed(
            same.slice(0, 3).map(({ fact, piece }) => ({ name: fact.name, piece })),
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
        sameBy: same.map(({ fact }) => fact.file).sort(),
      };
    });
  },
};
