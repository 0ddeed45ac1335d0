import { cellAt, itemAt, must } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { nearest } from '../helpers/nearest.js';
import { isEngines } from '../linking/losses.js';
import { labelling, mayBeUnread } from '../linking/world/unread.js';
import { sentence, type Repair } from '../model/finding.js';
import type { Linked } from '../linking/linked.js';
import { candidatesFor, isDeclaredKind, replacements, writeInstead } from '../repairs/candidates.js';
import { isSlip } from '../repairs/sure.js';
import { placeOf, sameKey, titled, type Check, type Draft } from './check.js';

/** A label is named that nothing declares and nothing carries. */
export const unknownLabel: Check = {
  id: 'broken/unknown-label',
  title: 'A label, action, text or scene that is named is not declared',
  severity: 'error',
  why: 'What asks for it gets nothing, what compares against it never matches, and a text shows its placeholder.',
  decides:
    'Labels are those that a label list declares and those that some object carries; a label that is carried and that the lists do not have is worth a warning, where they have one almost alike or nearly all that are carried; input actions, texts, flags and scenes are those that the plan reads. Silent when the name is among them, when only capitals differ (broken/case-only), when the engine provides it, when the code asks first, and when the text is made at run time.',
  run: (linked) => [
    ...linked.lostReferences
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
    ...carriedUndeclared(linked),
  ],
};

/** Of the labels that objects carry, how many a list must declare to be taken for whole. */
const MOST_DECLARED = 0.8;

/** Labels that objects carry and that the list of labels does not have. */
function carriedUndeclared(linked: Linked): Draft[] {
  const { graph, world, plan, facts } = linked;
  const isDeclared = (piece: number): boolean => itemAt(graph.texts, cellAt(graph.pieces.file, piece)) !== '';
  const [declared, carried]: [string[], string[]] = [[], []];
  for (const [name, piece] of world.labels.piece) (isDeclared(piece) ? declared : carried).push(name);
  const own = carried.filter((name) => !isEngines(plan.engine.labels, name) && !mayBeUnread(world, name, labelling));
  if (declared.length === 0 || own.length === 0) return [];
  const used = new Set([...world.labels.of.values()].flat());
  const isWhole = declared.filter((name) => used.has(name)).length >= MOST_DECLARED * used.size;
  const wanted = new Set(own);
  const places = grouped(
    facts.flatMap(({ file, pieces }, source) =>
      pieces.flatMap((piece, at) =>
        (piece.labels ?? [])
          .filter(({ text }) => wanted.has(text))
          .map(({ text, range }) => ({ text, file, range, piece: itemAt(itemAt(world.trees.pieceOf, source), at) })),
      ),
    ),
    ({ text }) => text,
  );
  return places.flatMap((all): Draft[] => {
    const [{ text, file, range, piece }] = all;
    const [close] = nearest(text, declared, 1);
    // A list that leaves most labels out is not meant to have them all.
    if (close === undefined && !isWhole) return [];
    return [
      {
        severity: 'warning',
        sentence: [
          titled(graph, piece),
          ...(all.length > 1 ? [` and ${all.length - 1} more`] : []),
          ...sentence` ${all.length > 1 ? 'carry' : 'carries'} the label ${text}, and no list declares it`,
          ...(close === undefined ? [] : sentence`; there is ${close}`),
        ],
        sure: 'All lists of labels were read, and this one is in none of them.',
        pieces: [piece],
        evidence: all.slice(0, 4).map((one) => ({ file: one.file, range: one.range, shows: 'where it is carried' })),
        walk: [],
        places: all.length,
        repairs: [
          ...(close === undefined || all.length > 1
            ? []
            : [
                writeInstead(
                  file,
                  range,
                  text,
                  close,
                  `“${close}” is declared and is written almost the same.`,
                  isSlip(text, close, declared),
                ),
              ]),
          ...declaring(linked, 'label', text),
          { title: 'Declare it', words: 'Declare the label, or carry one that is declared.' },
        ],
        sameBy: ['carried', text],
      },
    ];
  });
}

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
