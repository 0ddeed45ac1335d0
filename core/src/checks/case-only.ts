import { itemAt } from '../helpers/at.js';
import { sentence, type Repair } from '../model/finding.js';
import { lookUpRepairs, replacements } from '../repairs/candidates.js';
import type { Check } from './check.js';
import { placeOf, sameKey, titled } from './check.js';
import { lookUpDraft, lostLookUps, subject } from './look-up-drafts.js';

/** A reference that would hold if capitals did not matter. */
export const caseOnly: Check = {
  id: 'broken/case-only',
  title: 'A name differs only in capitals',
  severity: 'error',
  why: 'It may work on one machine and fail on the next: many file systems, and all look-ups by name, mind capitals.',
  decides:
    'Fires in place of broken/missing-file, missing-object and missing-part when exactly the capitals differ. Silent when the name is right as written.',
  run: (linked) => [
    ...lostLookUps(linked, (loss) => loss.otherCapitals !== '').map((lost) =>
      lookUpDraft(linked, lost, {
        sentence: [
          ...subject(linked, lost),
          ...sentence` asks for ${lost.loss.wanted}; what stands there is written ${lost.loss.otherCapitals}`,
        ],
        sure: 'Both names are written out, and they are equal once capitals are ignored.',
        repairs: orWords(lookUpRepairs(linked, lost.lookUp, itemAt(lost.places, 0)), lost.loss.otherCapitals),
      }),
    ),
    ...linked.lostReferences
      .filter(({ loss, role }) => loss.otherCapitals !== '' && role === undefined)
      .map((reference) => ({ ...reference, repairs: replacements(linked, reference).slice(0, 1) }))
      .map(({ file, range, from, field, loss, repairs }) => ({
        sentence: [
          ...sentence`${titled(linked.graph, from)} names ${loss.wanted}; it is written ${loss.otherCapitals}`,
        ],
        sure: 'Both names are written out, and they are equal once capitals are ignored.',
        pieces: [from],
        evidence: [{ file, range, shows: 'the name as written' }, ...placeOf(linked.graph, from, 'what holds it')],
        walk: [],
        places: 1,
        repairs: orWords(repairs, loss.otherCapitals),
        sameBy: [sameKey(linked.graph, from), field, loss.wanted],
        cause: [loss.wanted],
      })),
  ],
};

/** Where no change can be made out, it is said in words. */
const orWords = (repairs: Repair[], name: string): Repair[] =>
  repairs.length > 0 ? repairs : [{ title: `Write “${name}”`, words: `Write the name as it stands: “${name}”.` }];
