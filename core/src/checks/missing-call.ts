import { sentence } from '../model/finding.js';
import { writeInstead } from '../repairs/candidates.js';
import { nearest } from '../helpers/nearest.js';
import { faultsOf, missingMembers, placeOf, sameKey, titled, type Check } from './check.js';

/** A call to a function that nobody defines. */
export const missingCall: Check = {
  id: 'broken/missing-call',
  title: 'A function is called that nobody defines',
  severity: 'error',
  why: 'The script stops with a fault as soon as it gets there.',
  decides:
    'Fires on functions of the own object that neither the type nor its parents have, given as handlers or called, and – where the plan names the functions that the engine brings – on functions called without a receiver that no script defines. Silent when a parent is not known, when the language brings the function, and when it is taken in from elsewhere.',
  run: (linked) => {
    const { graph } = linked;
    const own = missingMembers(linked)
      .filter((fault) => fault.isOwn && fault.how === 'calls' && !fault.isHidden)
      .map(({ file, range, from, member, members }) => ({
        file,
        range,
        from,
        name: member,
        functions: members,
        isOwn: true,
      }));
    const bare = faultsOf(linked, 'missing call').map((fault) => ({ ...fault, isOwn: false }));
    return [...own, ...bare].map(({ file, range, from, name, functions, isOwn }) => {
      const close = nearest(name, functions, 1);
      return {
        sentence: [
          titled(graph, from),
          ...sentence` calls ${`${name}()`}`,
          isOwn ? ' on itself, and neither it nor its parents have it' : ', which no script defines',
          ...(close.length > 0 ? sentence`; there is ${`${close[0]}()`}` : []),
        ],
        sure: isOwn
          ? 'All functions of the type and of its parents are known.'
          : 'No script defines a function of this name, and the plan names those that the engine brings.',
        pieces: [from],
        evidence: [{ file, range, shows: 'the call' }, ...placeOf(graph, from, 'whose code it is')],
        walk: [],
        places: 1,
        repairs: [
          ...close.map((other) =>
            writeInstead(file, range, name, other, `“${other}” is there and is written almost the same.`),
          ),
          {
            title: 'Define it or take the call out',
            words: `Write the function “${name}”, or call one that is there.`,
          },
        ],
        sameBy: [sameKey(graph, from), name],
        cause: [name],
      };
    });
  },
};
