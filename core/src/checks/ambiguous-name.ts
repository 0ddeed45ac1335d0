import { cellAt, itemAt } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { sentence } from '../model/finding.js';
import { nameOf, titleOf } from '../model/graph.js';
import { faultsOf, placeOf, sameKey, type Check } from './check.js';

/** A look-up by name for one thing finds several. */
export const ambiguousName: Check = {
  id: 'fragile/ambiguous-name',
  title: 'A look-up by name has several matches',
  severity: 'warning',
  why: 'Which one it gets hangs on the order of the tree; adding or moving an object changes it without a word.',
  decides:
    'Fires when a look-up that means one object – a child by its name, or a search that the plan calls one – finds several objects of that name from one place. Silent when the call means all of them, when only one is there, and in prefabs that no scene holds.',
  run: (linked) =>
    grouped(
      faultsOf(linked, 'ambiguous'),
      ({ foundIn, file, range, origin }) => `${foundIn} ${file} ${range.line} ${range.column} ${origin}`,
    ).map((faults) => {
      const { graph } = linked;
      const [{ part, object, origin, typeName, wanted, matches, file, range }] = faults;
      return {
        sentence: [
          ...sentence`${{ name: typeName, piece: part }} on ${{ name: titleOf(graph, object), piece: object }}`,
          ...(faults.length > 1 ? [` and ${faults.length - 1} more like it`] : []),
          ...sentence` looks for ${wanted}, and there are ${matches.length}`,
        ],
        sure: 'The look-up was walked through the real tree, and all matches stand there before play.',
        pieces: [part, ...matches.slice(0, 3)],
        evidence: [
          { file, range, shows: 'the look-up' },
          ...matches
            .slice(0, 4)
            .flatMap((match) =>
              placeOf(graph, match, `one of them, in ${titleOf(graph, cellAt(graph.pieces.parent, match))}`),
            ),
        ],
        walk: [],
        places: faults.length,
        repairs: [
          {
            title: 'Give each a name of its own',
            words: `Rename all but the one that is meant, or fill a slot with it: an identity leaves no choice.`,
          },
        ],
        sameBy: [file, typeName, wanted, sameKey(graph, origin)],
        cause: [file, typeName, wanted, nameOf(graph, itemAt(matches, 0))],
      };
    }),
};
