import { cellAt, itemAt } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import { kindOf, nameOf, type Graph } from '../model/graph.js';
import { replacements } from '../repairs/candidates.js';
import { placeOf, sameKey, titled, type Check } from './check.js';

/** A reference names a file that does not exist. */
export const missingFile: Check = {
  id: 'broken/missing-file',
  title: 'A file that is named does not exist',
  severity: 'error',
  why: 'What should be loaded is not there: the object stays without its script, its picture or its data.',
  decides:
    'The written path is tried from every folder the plan allows and with every ending. Silent when one of them exists, when only capitals differ (broken/case-only), when the engine provides the file, and when the code asks before use.',
  run: (linked) => {
    const { graph } = linked;
    return linked.lostReferences
      .filter(({ loss, role }) => loss.sought === 'file' && !loss.otherCapitals && role === undefined)
      .map((lost) => {
        const { file, range, from, field, loss } = lost;
        const found = replacements(linked, lost);
        const moved = loss.elsewhere[0];
        return {
          sentence: [
            // A part without its script is named by nothing but the path, so its object speaks for it.
            ...sentence`${titled(graph, isNamedBy(graph, from, loss.wanted) ? cellAt(graph.pieces.parent, from) : from)} names the file ${loss.wanted}`,
            ...(field && field !== loss.wanted ? sentence` in ${field}` : []),
            ...(moved ? sentence`; it does not exist, but ${moved} does` : ['; it does not exist']),
          ],
          sure: 'The path is written out in full, and the project has no file there in any folder the plan names.',
          pieces: [from],
          evidence: [{ file, range, shows: 'the path as written' }],
          walk: [],
          places: 1,
          repairs: [
            ...found,
            {
              title: 'Restore or remove',
              words: `Bring the file back at “${loss.wanted}”, or take the reference out.`,
            },
          ],
          sameBy: [sameKey(graph, from), field, loss.wanted],
          cause: [loss.wanted],
        };
      })
      .map((draft) => ({
        ...draft,
        evidence: [...draft.evidence, ...placeOf(graph, itemAt(draft.pieces, 0), 'what holds it')].slice(0, 2),
      }));
  },
};

function isNamedBy(graph: Graph, piece: number, path: string): boolean {
  return kindOf(graph, piece) === 'part' && nameOf(graph, piece) === path;
}
