import { scriptRuleOf } from '../reading/plan/content.js';
import { cellAt, itemAt } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import { groupOf } from '../model/graph.js';
import { isNamedAfter, pascal } from '../reading/scripts/type-names.js';
import { stem } from '../reading/source.js';
import type { Linked } from '../linking/linked.js';
import { sameKey, type Check } from './check.js';

/** A script's type is not named as its file. */
export const fileTypeMismatch: Check = {
  id: 'broken/file-type-mismatch',
  title: 'A type is not named as the house ties it to its file',
  severity: 'error',
  why: 'Where types are found by the file’s name, this one is not found; where they are not, people look in the wrong file.',
  decides:
    'Works where the plan says how types are named after their files (typeNamed). Silent when one of the types in the file has the right name, and when the file declares no type.',
  run: (linked) =>
    linked.facts.flatMap((fact, source) => {
      const naming = fact.script && scriptRuleOf(linked.plan, fact).typeNamed;
      const types = (fact.script?.types ?? []).filter((type) => type.kind === 'class');
      if (!naming || types.length === 0) return [];
      const name = stem(fact.file);
      if (types.some((type) => isNamedAfter(naming, name, type.name))) return [];
      const type = itemAt(types, 0);
      const wanted = naming === 'same' ? name : pascal(name);
      const isCapitals = type.name.toLowerCase() === wanted.toLowerCase();
      const piece =
        linked.world.types.inFile.get(source)?.find((one) => one.name === type.name)?.piece ??
        itemAt(linked.world.files.piece, source);
      const place = { file: fact.file, range: type.range };
      return [
        {
          sentence: [
            { name: fact.file, piece: linked.world.files.piece[source] },
            ' holds the type ',
            { name: type.name, piece },
            ...sentence`; by the rule of the house it would be ${wanted}`,
            ...(isCapitals ? [', which differs only in capitals'] : []),
          ],
          sure: 'The plan says how types are named after their files, and no type in the file has that name.',
          pieces: [piece],
          evidence: [{ ...place, shows: 'the type' }],
          walk: [],
          places: 1,
          repairs: [
            ...(isNamedNowhere(linked, piece, type.name)
              ? [
                  {
                    title: `Call the type ${wanted}`,
                    words: 'Nothing else names the type: it is tied to its objects by the file.',
                    changes: [{ is: 'replace' as const, ...place, from: type.name, to: wanted }],
                    ...(isCapitals && { sure: true as const }),
                  },
                ]
              : []),
            {
              title: 'Rename the file or the type',
              words: `Name the type ${wanted} wherever it is used, or the file after the type.`,
            },
          ],
          sameBy: [sameKey(linked.graph, piece)],
        },
      ];
    }),
};

/** Whether the type's name stands nowhere but at its declaration. */
function isNamedNowhere({ graph, facts, mentions }: Linked, piece: number, name: string): boolean {
  const isLinked = [...groupOf(graph.incoming, piece)].some((link) => cellAt(graph.links.grip, link) > 1);
  const isTaken = facts.some(({ script, pieces }) => {
    const taken = script?.imports.some((one) => one.names.some((other) => other.name === name || other.as === name));
    return (
      taken ||
      pieces.some(
        (one) => one.parts.some((part) => part.type === name) || one.overrides?.some((change) => change.part === name),
      )
    );
  });
  return !isLinked && !isTaken && !mentions.has(name);
}
