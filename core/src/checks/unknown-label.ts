import { sentence } from '../model/finding.js';
import { nearest } from '../nearest.js';
import { placeOf, sameKey, titled, type Check } from './check.js';

/** A label is named that nothing declares and nothing carries. */
export const unknownLabel: Check = {
  id: 'broken/unknown-label',
  title: 'A label that is named does not exist',
  severity: 'error',
  why: 'What asks for objects with this label gets none, and what compares against it never matches.',
  decides:
    'Labels are those that a label list declares and those that some object carries. Silent when the label is among them, when only capitals differ (broken/case-only), when the engine provides it, and when the text is made at run time.',
  run: ({ graph, lostReferences, labels }) =>
    lostReferences
      .filter(({ loss }) => loss.sought === 'label' && !loss.otherCapitals)
      .map(({ file, range, from, field, loss }) => {
        const close = nearest(loss.wanted, labels, 2);
        return {
          sentence: [
            titled(graph, from),
            ...sentence` asks for the label ${loss.wanted}; `,
            ...(close.length > 0
              ? sentence`there is ${close[0]}, but no such label`
              : ['no object carries it and no list declares it']),
          ],
          sure: 'The label is written out in full, and all labels of the project were looked through.',
          pieces: [from],
          evidence: [{ file, range, shows: 'the label as written' }, ...placeOf(graph, from, 'what asks for it')].slice(
            0,
            2,
          ),
          walk: [],
          places: 1,
          repairs: [
            ...close.map((label) => ({
              title: `Write “${label}”`,
              words: `“${label}” exists and is written almost the same.`,
            })),
            { title: 'Declare it', words: 'Add the label to the list, or put it on the objects that are meant.' },
          ],
          sameBy: [sameKey(graph, from), field, loss.wanted],
        };
      }),
};
