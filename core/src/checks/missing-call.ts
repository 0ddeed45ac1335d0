import { itemAt } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import type { Range } from '../model/piece.js';
import type { Linked } from '../linking/linked.js';
import { functionOf, isConstructor } from '../linking/flow.js';
import { isMissing, isWhole, mayEndInSister, memberNames } from '../linking/members.js';
import { scriptRuleOf } from '../reading/plan/content.js';
import { writeInstead } from '../repairs/candidates.js';
import { isSlip } from '../repairs/sure.js';
import { nearest } from '../helpers/nearest.js';
import { faultsOf, missingMembers, placeOf, sameKey, titled, type Check } from './check.js';

/** A call to a function that nobody defines. */
export const missingCall: Check = {
  id: 'broken/missing-call',
  title: 'A function is called that nobody defines',
  severity: 'error',
  why: 'The script stops with a fault as soon as it gets there.',
  decides:
    'Fires on functions of the own object that neither the type nor its parents have, given as handlers or called, and – where the plan names the functions that the engine brings – on functions called without a receiver that the file does not see: that it does not define, take in, or have from its parents, and that is not there for all. Fires as well on functions that call through to one of a parent that no parent has, and on functions named by a text, in scripts and in files, that are in none of the places where the plan has them looked for. Silent when a parent is not known, when the call may end in a sister that some type has as a parent beside this one, when the language brings the function, and when it is taken in from elsewhere.',
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
        elsewhere: [],
        how: ' on itself, and neither it nor its parents have it',
        sure: 'All functions of the type and of its parents are known.',
      }));
    const bare = faultsOf(linked, 'missing call').map((fault) => ({
      ...fault,
      functions: [...fault.functions],
      how:
        fault.elsewhere.length > 0 ? `, which only ${fault.elsewhere.join(' and ')} has` : ', which no script defines',
      sure:
        fault.elsewhere.length > 0
          ? 'The file sees no function of this name: not its own, none that it takes in, and none that the engine brings.'
          : 'No script defines a function of this name, and the plan names those that the engine brings.',
    }));
    const named = linked.lostReferences
      .filter(({ loss }) => loss.sought === 'function')
      .map(({ file, range, from, loss: { wanted: name, among: functions } }) => ({
        ...{ file, range, from, name, functions },
        elsewhere: [],
        how: ' by its name, and it is not there',
        sure: 'All functions are known that stand where the plan has this one looked for.',
      }));
    return [...own, ...bare, ...named, ...throughNothing(linked)].map(
      ({ file, range, from, name, functions, elsewhere, how, sure }) => {
        // Of `Gate.open` only the last part is the function's name.
        const owner = /^.+[.:]/.exec(name)?.[0] ?? '';
        const close = nearest(name.slice(owner.length), functions, 1).map((other) => owner + other);
        return {
          sentence: [
            titled(graph, from),
            ...sentence` calls ${`${name}()`}`,
            how,
            ...(close.length > 0 ? sentence`; there is ${`${close[0]}()`}` : []),
          ],
          sure,
          pieces: [from],
          evidence: [{ file, range, shows: 'the call' }, ...placeOf(graph, from, 'whose code it is')],
          walk: [],
          places: 1,
          repairs: [
            ...close.map((other) =>
              writeInstead(
                file,
                range,
                name,
                other,
                `“${other}” is there and is written almost the same.`,
                isSlip(name.slice(owner.length), other.slice(owner.length), functions),
              ),
            ),
            ...elsewhere.map((other) => ({
              title: `Take in ${other}`,
              words: `The function is written there: take it in, or call it by what gives it.`,
            })),
            {
              title: 'Define it or take the call out',
              words: `Write the function “${name}”, or call one that is there.`,
            },
          ],
          sameBy: [sameKey(graph, from), name],
          cause: [name],
        };
      },
    );
  },
};

interface CallOfNothing {
  file: string;
  range: Range;
  from: number;
  name: string;
  functions: string[];
  elsewhere: string[];
  how: string;
  sure: string;
}

/** Functions that call through to one of a parent that no parent has. */
function throughNothing({ world }: Linked): CallOfNothing[] {
  return world.types.all.flatMap((type) =>
    type.script.functions.flatMap(({ type: local, name, callsParentAt: range }): CallOfNothing[] => {
      if (local !== type.local || range === undefined || type.ancestors.length === 0 || isConstructor(name)) return [];
      const fact = itemAt(world.facts, type.source);
      // What the engine calls, its own types may have.
      const { start, everyFrame, leave } = scriptRuleOf(world.plan, fact).moments;
      if ([...start, ...everyFrame, ...leave].includes(name) || !isWhole(world, type)) return [];
      if (type.ancestors.some((one) => functionOf(one, name) !== undefined || !isMissing(world, one, name))) return [];
      if (mayEndInSister(world, type, name)) return [];
      return [
        {
          ...{ file: fact.file, range, from: type.piece, name },
          functions: type.ancestors.flatMap(memberNames),
          elsewhere: [],
          how: ' of its parent, and no parent has it',
          sure: 'All functions of its parents are known.',
        },
      ];
    }),
  );
}
