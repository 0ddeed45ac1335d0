import { grouped } from '../helpers/grouped.js';
import { listed, sentence } from '../model/finding.js';
import { typeName } from '../linking/look-ups/texts.js';
import { typeNamed } from '../linking/world/types.js';
import type { WorldType } from '../linking/world/world.js';
import type { Check, Draft } from './check.js';
import { operationsThat } from './reached.js';

/** So many checks make a ladder. */
const RUNGS = 3;

/** A row of checks for sibling types that one check for their parent covers. */
export const typeLadder: Check = {
  id: 'twin/type-ladder',
  title: 'One question for the parent would do for all its children',
  severity: 'note',
  why: 'The next child will be forgotten in the row; a question for the parent covers it from the first day.',
  decides:
    'Fires on a function that asks in turn for parts of three or more types of the project that have a parent type of the project in common. Silent on fewer, on types without a common parent, on a function that asks for the parent as well, and on look-ups of parts in order to use each.',
  restsOn: 'scripts',
  run: ({ world }) =>
    grouped(operationsThat(world, 'asks part'), ({ type, operation }) => `${type.index} ${operation.function}`).flatMap(
      (asks): Draft[] => {
        const [{ type, operation, file }] = asks;
        const asked = asks.flatMap(({ operation: one }) => {
          const name = one.arguments.type && typeName(one.arguments.type);
          return (name && typeNamed(world, name, type.source)) || [];
        });
        const types = [...new Set(asked)];
        const parent = commonParent(types);
        if (types.length < RUNGS || !parent || types.includes(parent)) return [];
        const name = type.script.functions[operation.function]?.name;
        return [
          {
            sentence: [
              { name: `${type.name}${name ? `.${name}()` : ''}`, piece: type.piece },
              ' asks for ',
              ...listed(types),
              ...sentence` in turn; all of them are ${{ name: parent.name, piece: parent.piece }}`,
            ],
            sure: 'Each of the types descends from that parent.',
            pieces: [type.piece, parent.piece, ...types.map(({ piece }) => piece)],
            evidence: asks
              .slice(0, 5)
              .map(({ operation: one }) => ({ file, range: one.range, shows: 'one of the questions' })),
            walk: [],
            places: asks.length,
            repairs: [
              {
                title: `Ask for ${parent.name}`,
                words: `One question for ${parent.name} covers all of them, and those to come.`,
              },
            ],
            sameBy: [file, type.name, name ?? '', parent.name],
          },
        ];
      },
    ),
};

function commonParent([first, ...others]: WorldType[]): WorldType | undefined {
  if (!first || others.length === 0) return undefined;
  return first.ancestors.find((parent) => others.every((type) => type.ancestors.includes(parent)));
}
