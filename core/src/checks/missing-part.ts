import { itemAt } from '../helpers/at.js';
import { sentence, type Repair } from '../model/finding.js';
import { nameOf, titleOf } from '../model/graph.js';
import { isOnlyOne, writeInstead } from '../repairs/candidates.js';
import type { Linked } from '../linking/linked.js';
import { isBarred } from '../linking/slots.js';
import { named, placeOf, sameKey, titled, type Check, type Draft } from './check.js';
import { lookUpDraft, lostLookUps, subject, type LostLookUp } from './look-up-drafts.js';

/** A part is asked of an object that does not carry it. */
export const missingPart: Check = {
  id: 'broken/missing-part',
  title: 'An object does not carry the part it is asked for',
  severity: 'error',
  why: 'The script holds nothing where it expects a part, and fails at the first use of it.',
  decides:
    'The object is found by walking the look-up; its parts, those of its prefab and all types they come from are compared. Silent when the part or one of a child type is carried, when the object is not known before play, when no part of this type is known at all, when the engine provides it, and when the code asks before use.',
  run: (linked) => [
    ...lostLookUps(linked, (loss) => loss.sought === 'part' && !loss.otherCapitals).map((lost) => {
      const { loss } = lost;
      const { graph } = linked;
      const onChild = loss.elsewhere[0];
      const isSelf = loss.lastObject === itemAt(lost.places, 0).object;
      return lookUpDraft(linked, lost, {
        sentence: [
          ...subject(linked, lost),
          ...sentence` asks ${isSelf ? 'its own object' : named(graph, loss.lastObject)} for its part ${loss.wanted}; `,
          ...(onChild
            ? sentence`that part is on ${onChild} instead`
            : [loss.among.length > 0 ? `it carries only ${loss.among.join(', ')}` : 'it carries no parts']),
        ],
        sure: 'The code writes out by which way or name it comes to the object, and all parts of that stand in the scene and its prefabs.',
        repairs: [
          ...askChild(linked, lost),
          ...(onChild ? [{ title: 'Ask the child', words: `${onChild} carries the part: look it up there.` }] : []),
          isBarred(linked.world, loss.lastObject)
            ? {
                title: 'Ask another object',
                words: `Ask an object that carries a ${loss.wanted}: the mode of ${nameOf(graph, loss.lastObject)} bars scripting, so that it can carry none.`,
              }
            : {
                title: `Attach ${loss.wanted}`,
                words: `Attach a ${loss.wanted} part to the object, or ask an object that carries one.`,
              },
        ],
      });
    }),
    ...linked.lostReferences
      .filter(({ verb, loss }) => verb === 'overrides' && loss.sought === 'part')
      .map((reference) => fromChange(linked, reference)),
  ],
};

/** Where the object was found by its name, the child can be found so just as well. */
function askChild(linked: Linked, { lookUp, loss, places }: LostLookUp): Repair[] {
  const { graph, world } = linked;
  const place = itemAt(places, 0);
  const child = (world.trees.children.get(loss.lastObject) ?? []).find(
    (one) => titleOf(graph, one) === loss.elsewhere[0],
  );
  const isByName = place.walk.at(-2)?.asks.startsWith('an object of the scene named');
  if (child === undefined || !isByName || lookUp.foundCount > 0) return [];
  const [from, to] = [nameOf(graph, loss.lastObject), nameOf(graph, child)];
  if (!isOnlyOne(linked, to, place.object)) return [];
  const words = `${to} carries the part, and is the only object of that name in the scene.`;
  return [{ ...writeInstead(lookUp.file, lookUp.range, from, to, words), title: `Look for “${to}” instead` }];
}

/** An instance changes a part that its prefab does not have. */
function fromChange({ graph }: Linked, { file, range, from, loss }: Linked['lostReferences'][number]): Draft {
  return {
    sentence: [
      titled(graph, from),
      ...sentence` changes the part ${loss.wanted} of its prefab, which has no such part`,
    ],
    sure: 'The prefab and all that it is made from were unfolded, and the parts of the object were compared.',
    pieces: [from],
    evidence: [{ file, range, shows: 'the change' }, ...placeOf(graph, from, 'the instance')],
    walk: [],
    places: 1,
    repairs: [
      {
        title: 'Take the change out',
        words: 'It does nothing. If the part was moved or renamed, name it as the prefab names it now.',
      },
    ],
    sameBy: [sameKey(graph, from), loss.wanted],
  };
}
