import { cellAt, itemAt } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import type { Repair } from '../model/finding.js';
import { sentence } from '../model/finding.js';
import { kindOf, nameOf, titleOf } from '../model/graph.js';
import { groupOf } from '../model/graph.js';
import type { WrongKind } from '../linking/faults.js';
import type { Linked } from '../linking/linked.js';
import { faultsOf, placeOf, sameKey, titled, type Check } from './check.js';

/** A slot is filled with something its field cannot take. */
export const wrongKind: Check = {
  id: 'broken/wrong-kind',
  title: 'A slot holds something its field cannot take',
  severity: 'error',
  why: 'The script gets nothing where it expects its part, and fails at the first use of it.',
  decides:
    'The declared type of the field is compared with what the slot leads to: an object must carry a part of that type or of one that descends from it; for types of the engine the plan says which kinds of piece they take. Silent when the type is not known, when the object may carry parts that are not known, and for interfaces.',
  run: (linked) =>
    grouped(
      faultsOf(linked, 'wrong kind'),
      (fault) => `${fault.origin}/${fault.typeName}/${fault.field}/${fault.text}`,
    ).map((faults) => {
      const [fault] = faults;
      const { graph } = linked;
      const { object, typeName, field, wants, target, file, range, below } = fault;
      const kind = kindOf(graph, target);
      return {
        sentence: [
          ...sentence`Slot ${field} of ${{ name: typeName, piece: fault.part }} on `,
          titled(graph, object),
          ...(faults.length > 1 ? [` and ${faults.length - 1} more like it`] : []),
          ...sentence` takes a ${wants}; `,
          titled(graph, target),
          kind === 'object' ? ' carries none' : ` is a ${kind}`,
          ...(below >= 0 ? [', but ', { name: nameOf(graph, below), piece: below }, ' below it does'] : []),
        ],
        sure: 'The field’s type is declared in the code, and all parts of the object in the slot are known.',
        pieces: [fault.part, target],
        evidence: [
          { file, range, shows: 'the slot as it is filled' },
          ...placeOf(graph, target, `what stands in it: ${titleOf(graph, target)}`),
        ],
        walk: [],
        places: faults.length,
        repairs: [
          ...instead(linked, fault),
          {
            title: `Fill it with a ${wants}`,
            words: `Choose something that carries a ${wants}, or attach one to ${titleOf(graph, target)}.`,
          },
        ],
        sameBy: [sameKey(graph, fault.origin), typeName, field],
        cause: [typeName, field, sameKey(graph, target)],
      };
    }),
};

/** What lies near and would do: the child that carries the part, or the only other object of the file that does. */
function instead(linked: Linked, { target, below, wants, file, range, text }: WrongKind): Repair[] {
  const { graph, world } = linked;
  const idOf = (piece: number): string => itemAt(graph.texts, cellAt(graph.pieces.id, piece));
  const source = world.files.sourceOf.get(file);
  const wanted = wants.split(' or ');
  const suiting = (source === undefined ? [] : itemAt(world.trees.pieceOf, source)).filter(
    (piece) =>
      piece !== target &&
      idOf(piece) !== '' &&
      [...groupOf(graph.children, piece)].some(
        (child) => kindOf(graph, child) === 'part' && wanted.includes(nameOf(graph, child)),
      ),
  );
  const chosen = below >= 0 && idOf(below) ? [below] : suiting.length <= 2 ? suiting : [];
  if (!idOf(target) || idOf(target) !== text) return [];
  return chosen.map((piece) => ({
    title: `Fill in ${nameOf(graph, piece)}`,
    words: `${nameOf(graph, piece)} carries a ${wants}.`,
    changes: [{ is: 'replace', file, range, from: text, to: idOf(piece) }],
  }));
}
