import { cellAt } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { sentence } from '../model/finding.js';
import { titleOf } from '../model/graph.js';
import { faultsOf, sameKey, titled, type Check } from './check.js';

/** Something is done to all of a type while several exist. */
export const wideScope: Check = {
  id: 'fragile/wide-scope',
  title: 'Something is done to all of a kind while several exist',
  severity: 'note',
  why: 'What was written when there was one hits every one that was added since.',
  decides:
    'Fires on calls that destroy, switch or move every part of a type, by the plan’s `find type`, where the scene of the object that carries the code has more than one. Silent when there is exactly one, and on what is found by a label, since a label is put on each on purpose.',
  run: (linked) =>
    grouped(
      faultsOf(linked, 'wide'),
      ({ foundIn, file, range }) => `${foundIn} ${file} ${range.line} ${range.column}`,
    ).map((faults) => {
      const { graph } = linked;
      const [{ part, typeName, verb, wanted, matches, file, range }] = faults;
      return {
        sentence: [
          { name: typeName, piece: part },
          ...sentence` ${verb} everything of the type ${wanted}, and there are ${matches.length}: `,
          ...matches
            .slice(0, 3)
            .flatMap((match, at) => [...(at > 0 ? [', '] : []), titled(graph, cellAt(graph.pieces.parent, match))]),
          ...(matches.length > 3 ? [` and ${matches.length - 3} more`] : []),
        ],
        sure: 'The call is written for all of a type, and they were counted in the scene.',
        pieces: [part, ...matches.slice(0, 3)],
        evidence: [{ file, range, shows: 'the call' }],
        walk: [],
        places: faults.length,
        repairs: [{ title: 'Say which one', words: `Fill a slot with the ${wanted} that is meant, if it is one.` }],
        sameBy: [
          file,
          typeName,
          verb,
          wanted,
          ...faults.slice(0, 1).map((fault) => sameKey(graph, fault.part)),
          titleOf(graph, part),
        ],
        cause: [file, typeName, verb, wanted],
      };
    }),
};
