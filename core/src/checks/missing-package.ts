import { sentence } from '../model/finding.js';
import { isEngines } from '../linking/targets.js';
import { nearest } from '../nearest.js';
import { placeOf, sameKey, titled, type Check } from './check.js';

/** A package needs another one that is not there. */
export const missingPackage: Check = {
  id: 'broken/missing-package',
  title: 'A package that is needed is not there',
  severity: 'error',
  why: 'What the package takes from the other one is missing in play, or the package is not loaded at all.',
  decides:
    'The packages of the project are those whose manifests the plan reads. Silent when one of them has the identity that is needed, and when the engine provides it.',
  run: ({ plan, graph, lostReferences, packages }) =>
    lostReferences
      .filter(({ loss }) => loss.sought === 'package' && !isEngines(plan.engine.ids, loss.wanted))
      .map(({ file, range, from, loss }) => {
        const close = nearest(loss.wanted, packages, 1);
        return {
          sentence: [
            titled(graph, from),
            ...sentence` needs the package ${loss.wanted}, which the project does not have`,
            ...(close.length > 0 ? sentence`; there is ${close[0]}` : []),
          ],
          sure: 'The need is written in the manifest, and the manifests of all packages were read.',
          pieces: [from],
          evidence: [{ file, range, shows: 'the need' }, ...placeOf(graph, from, 'the package')].slice(0, 2),
          walk: [],
          places: 1,
          repairs: [
            ...close.map((id) => ({
              title: `Need “${id}”`,
              words: `“${id}” is there and is written almost the same.`,
            })),
            {
              title: 'Add the package or drop the need',
              words: 'Bring the package into the project, or take it out of the manifest if nothing uses it any more.',
            },
          ],
          sameBy: [sameKey(graph, from), loss.wanted],
        };
      }),
};
