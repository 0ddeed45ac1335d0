import { sentence } from '../model/finding.js';
import type { Range } from '../model/piece.js';
import { isMatch } from '../reading/match.js';
import type { Linked } from '../linking/linked.js';
import { grouped, type Check, type Draft } from './check.js';

/** So many scripts must type the same value. */
const MANY = 3;
/** Numbers that mean nothing by themselves. */
const TRIVIAL = /^-?(?:0|1|2|10|100|1000|0\.0|1\.0|0\.5)$/;

/** A value is typed in several scripts, or a table in code repeats a data asset. */
export const repeatedValue: Check = {
  id: 'twin/repeated-value',
  title: 'One value is typed in several places',
  severity: 'note',
  why: 'Whoever changes it in one place gets a game that disagrees with itself.',
  decides:
    'Fires on a path that three or more scripts type in a call that uses, loads or spawns it, on a field of one name to which three or more types give the same number, when none of them has it from a common parent, and on a table in code whose names are those of the records of a data asset – a warning, when a number differs from what the plan keeps of the record (details). Silent on events, labels and input actions, which are names, on numbers such as 0, 1 and 100, on constants that scripts share, and on scripts for which copies are fine.',
  run: (linked) => [...paths(linked), ...numbers(linked), ...tables(linked)],
};

interface Typed {
  key: string;
  what: string;
  file: string;
  range: Range;
  piece: number;
}

function paths(linked: Linked): Draft[] {
  const { facts, plan, world } = linked;
  const typed = facts.flatMap(({ file, script }, source): Typed[] =>
    !script || isMatch(file, plan.house.copiesFine)
      ? []
      : script.operations.flatMap(({ rule, arguments: given, range }) => {
          const { means, target } = plan.calls[rule];
          const isPath = ['spawn', 'use file', 'load', 'refer'].includes(means) && target.by === 'path';
          if (!isPath || given.path?.is !== 'text') return [];
          const { text } = given.path;
          return [{ key: text, what: text, file, range, piece: world.filePiece[source] }];
        }),
  );
  return grouped(typed, ({ key }) => key).flatMap((same) => draftOf(same, 'the path'));
}

function numbers(linked: Linked): Draft[] {
  const { plan, world } = linked;
  const typed = world.types.flatMap((type): Typed[] => {
    const { file } = world.facts[type.source];
    if (isMatch(file, plan.house.copiesFine)) return [];
    return type.script.types[type.local].fields.flatMap(({ name, default: given, range }) => {
      if (given === undefined || !/^-?\d[\d_.]*f?$/.test(given) || TRIVIAL.test(given)) return [];
      const isParents = type.ancestors.some(({ script, local }) =>
        script.types[local].fields.some((field) => field.name === name),
      );
      return isParents
        ? []
        : [{ key: `${name} = ${given}`, what: `${name} = ${given}`, file, range, piece: type.piece }];
    });
  });
  return grouped(typed, ({ key }) => key).flatMap((same) => draftOf(same, 'the value'));
}

function draftOf(same: Typed[], kind: string): Draft[] {
  const files = grouped(same, ({ file }) => file);
  if (files.length < MANY) return [];
  const [{ what }] = same;
  return [
    {
      sentence: sentence`${files.length} scripts type ${kind} ${what}`,
      sure: 'It is written out in each of them, letter by letter the same.',
      pieces: [...new Set(same.map(({ piece }) => piece))],
      evidence: files.slice(0, 6).map(([{ file, range }]) => ({ file, range, shows: 'typed here' })),
      walk: [],
      places: same.length,
      repairs: [
        {
          title: 'Write it once',
          words: 'Keep it in a constant that the scripts share, in a data asset, or in a field to fill.',
        },
      ],
      sameBy: [kind, what],
    },
  ];
}

/** Tables in code whose names are the records of a data asset. */
function tables({ facts, world, graph }: Linked): Draft[] {
  const assets = facts.flatMap((fact, source) => {
    const records = fact.pieces.flatMap((piece, at) =>
      piece.kind === 'record' ? [{ piece, index: world.pieceOf[source][at], name: piece.id || piece.name }] : [],
    );
    return records.length >= 3 ? [{ fact, source, records: new Map(records.map((one) => [one.name, one])) }] : [];
  });
  if (assets.length === 0) return [];
  return facts.flatMap(({ script, file }, source) =>
    (script?.tables ?? []).flatMap(({ entries, range }): Draft[] => {
      const asset = assets.find(
        ({ records }) => entries.filter(({ key }) => records.has(key)).length >= Math.max(3, 0.8 * entries.length),
      );
      if (!asset) return [];
      const differing = entries.filter(({ key, number }) => {
        const details = Object.values(asset.records.get(key)?.piece.details ?? {});
        return details.some((one) => /^-?[\d.]+$/.test(one)) && !details.some((one) => Number(one) === Number(number));
      });
      const first = differing[0] && asset.records.get(differing[0].key)!;
      return [
        {
          severity: differing.length > 0 ? 'warning' : undefined,
          sentence: [
            ...sentence`A table in ${{ name: file.split('/').pop()!, piece: world.filePiece[source] }} repeats ${{ name: asset.fact.name, piece: world.filePiece[asset.source] }}`,
            differing.length > 0
              ? `, and ${differing.length === 1 ? 'one number differs' : `${differing.length} numbers differ`}: ${differing[0].key} is ${differing[0].number} here`
              : '',
          ].filter((run) => run !== ''),
          sure: 'The names of the table are those of the records, and the numbers were compared.',
          pieces: [world.filePiece[source], world.filePiece[asset.source]],
          evidence: [
            { file, range: differing[0]?.range ?? range, shows: 'the table in code' },
            {
              file: asset.fact.file,
              range: first ? first.piece.range : asset.fact.range,
              shows: `what ${graph.texts[graph.pieces.name[world.filePiece[asset.source]]]} says`,
            },
          ],
          walk: [],
          places: 1,
          repairs: [
            {
              title: 'Read it from the data',
              words: `Take the numbers from ${asset.fact.file}, and take the table out.`,
            },
          ],
          sameBy: [file, asset.fact.file],
        },
      ];
    }),
  );
}
