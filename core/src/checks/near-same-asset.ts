import { sentence } from '../model/finding.js';
import type { FileFacts, PieceFact } from '../reading/facts.js';
import { grouped, type Check } from './check.js';

/** So many values at least must be saved, and so few may differ. */
const LEAST_VALUES = 3;
const MOST_DIFFERENT = 3;

/** Prefabs that differ in a few values. */
export const nearSameAsset: Check = {
  id: 'twin/near-same-asset',
  title: 'Prefabs that differ in a few values',
  severity: 'note',
  why: 'Whoever changes one forgets the others; as variants of one prefab they would follow it.',
  decides:
    'Compares prefabs object by object: the tree, the names below the root, the parts and the fields that are saved. Fires when all of that is the same in two or more and at most three saved values differ, out of at least three. Silent on prefabs of a single object without saved values, on those made from one another, and when nothing or much differs in them.',
  restsOn: 'data',
  run: ({ facts, world }) => {
    const prefabs = facts.flatMap((fact, source) =>
      fact.kind === 'prefab' && fact.pieces.length > 0 && !fact.extends && !fact.pieces[0].madeFrom
        ? [{ fact, source }]
        : [],
    );
    return grouped(prefabs, ({ fact }) => shapeOf(fact)).flatMap((same) => {
      const saved = same.map(({ fact }) => valuesOf(fact));
      const [first] = saved;
      const differing = first.flatMap(({ name }, at) =>
        saved.some((other) => other[at].text !== first[at].text)
          ? [{ name, texts: saved.map((other) => other[at].text) }]
          : [],
      );
      if (same.length < 2 || first.length < LEAST_VALUES || differing.length > MOST_DIFFERENT) return [];
      const names = same.map(({ fact, source }) => ({ name: fact.name, piece: world.filePiece[source] }));
      return [
        {
          sentence: [
            ...names
              .slice(0, 3)
              .flatMap((name, at) => [...(at > 0 ? [at === names.length - 1 ? ' and ' : ', '] : []), name]),
            names.length > 3 ? ` and ${names.length - 3} more` : '',
            ...(differing.length === 0
              ? [' are the same in everything but their name']
              : sentence` differ only in ${differing.map(({ name, texts }) => `${name} (${texts.slice(0, 4).join(' | ')})`).join(', ')}`),
          ].filter((run) => run !== ''),
          sure: 'Trees, parts and saved fields were compared one by one.',
          pieces: names.map(({ piece }) => piece),
          evidence: same
            .slice(0, 6)
            .map(({ fact }) => ({ file: fact.file, range: fact.pieces[0].range, shows: fact.name })),
          walk: [],
          places: same.length,
          repairs: [
            {
              title: 'Make them variants of one',
              words: 'Keep one prefab, and make the others from it with the values that differ saved over its own.',
            },
          ],
          sameBy: same.map(({ fact }) => fact.file).sort(),
        },
      ];
    });
  },
};

/** All but the root's name and the saved values. */
function shapeOf({ rule, pieces }: FileFacts): string {
  return JSON.stringify([
    rule,
    pieces.map(({ kind, name, parent, madeFrom, parts, labels }, at) => [
      kind,
      at === 0 ? '' : name,
      parent,
      madeFrom?.text,
      labels?.map(({ text }) => text),
      parts.map((part) => [part.type, part.script?.text, part.values.map((value) => value.name)]),
    ]),
  ]);
}

function valuesOf({ pieces }: FileFacts): { name: string; text: string }[] {
  return pieces.flatMap((piece: PieceFact) =>
    piece.parts.flatMap((part) =>
      part.values.map(({ name, text, empty }) => ({ name, text: empty ? '(empty)' : (text ?? '(a list)') })),
    ),
  );
}
