import { must } from '../helpers/at.js';
import { sentence, type Repair } from '../model/finding.js';
import type { Linked } from '../linking/linked.js';
import { candidatesFor, isDeclaredKind, replacements } from '../repairs/candidates.js';
import { placeOf, sameKey, titled, type Check } from './check.js';

/** A label is named that nothing declares and nothing carries. */
export const unknownLabel: Check = {
  id: 'broken/unknown-label',
  title: 'A label, action, text or scene that is named is not declared',
  severity: 'error',
  why: 'What asks for it gets nothing, what compares against it never matches, and a text shows its placeholder.',
  decides:
    'Labels are those that a label list declares and those that some object carries; input actions, texts, flags and scenes are those that the plan reads. Silent when the name is among them, when only capitals differ (broken/case-only), when the engine provides it, when the code asks first, and when the text is made at run time.',
  run: (linked) =>
    linked.lostReferences
      .filter(
        ({ loss, role }) =>
          (loss.sought === 'label' || isDeclaredKind(loss)) && !loss.otherCapitals && role === undefined,
      )
      .map((lost) => {
        const { graph } = linked;
        const { file, range, from, field, loss } = lost;
        const what = loss.sought === 'label' ? 'label' : must(loss.kinds).join(' or ');
        const repairs = replacements(linked, lost);
        const [close] = candidatesFor(linked, lost);
        return {
          sentence: [
            titled(graph, from),
            ...sentence` asks for the ${what} ${loss.wanted}; `,
            ...(close
              ? sentence`there is ${close.text}, but no such ${what}`
              : [what === 'label' ? 'no object carries it and no list declares it' : 'nothing declares it']),
          ],
          sure: 'The name is written out in full, and everything of that kind in the project was looked through.',
          pieces: [from],
          evidence: [{ file, range, shows: 'the name as written' }, ...placeOf(graph, from, 'what asks for it')].slice(
            0,
            2,
          ),
          walk: [],
          places: 1,
          repairs: [
            ...repairs,
            ...declaring(linked, what, loss.wanted),
            { title: 'Declare it', words: `Declare the ${what}, or name one that is there.` },
          ],
          sameBy: [sameKey(graph, from), field, loss.wanted],
          cause: [what, loss.wanted],
        };
      }),
};

/** Adds a name to the list that declares its kind, where the list is one of bare names. */
function declaring({ plan, facts }: Linked, kind: string, name: string): Repair[] {
  for (const [ruleName, rule] of Object.entries(plan.files)) {
    for (const piece of Object.values(rule.pieces)) {
      const list = /^(\$.*)(?:\.\*|\[\*\])$/.exec(piece.at)?.[1];
      const file = facts.find((fact) => fact.rule === ruleName)?.file;
      const isBare = piece.named.key === true || piece.named.select === '$';
      if (piece.kind !== kind || piece.when || list === undefined || !file || !isBare) continue;
      return [
        {
          title: `Declare “${name}”`,
          words: `It goes to the end of the list in ${file}.`,
          changes: [{ is: 'add item', file, list, to: name }],
        },
      ];
    }
  }
  return [];
}
