import { grouped } from '../helpers/grouped.js';
import { nameOf, titleOf } from '../model/graph.js';
import { fillings } from '../repairs/fillings.js';
import { sentence } from '../model/finding.js';
import { placeOf, sameKey, type Check } from './check.js';

/** A required slot is empty on an object. */
export const emptySlot: Check = {
  id: 'broken/empty-slot',
  title: 'A slot that must be filled is empty',
  severity: 'error',
  why: 'The script uses the field as if somebody had filled it; on this object nobody has.',
  decides:
    'A field must be filled when the plan calls it exposed and the code gives it no default and does not write it as optional. A slot for which the plan says that empty means the object itself is worth a note. Silent when this object, its prefab or any script sets it.',
  run: (linked) =>
    grouped(linked.emptySlots, (slot) => `${slot.origin}/${slot.typeName}/${slot.field}`).map((slots) => {
      const { graph } = linked;
      const [slot] = slots;
      const more = slots.length > 1 ? [` and ${slots.length - 1} more like it`] : [];
      return {
        sentence: [
          ...sentence`Slot ${slot.field} of ${{ name: slot.typeName, piece: slot.part }} is empty on ${{ name: titleOf(graph, slot.object), piece: slot.object }}`,
          ...more,
          ...(slot.meansSelf ? [': it means the object itself'] : []),
        ],
        severity: slot.meansSelf ? 'note' : undefined,
        sure: slot.isWritten
          ? 'The value is written as empty, the field has no default, and no script sets it.'
          : 'No value is written on the object or its prefab, the field has no default, and no script sets it.',
        pieces: [slot.part, slot.object],
        evidence: [
          {
            file: slot.file,
            range: slot.range,
            shows: slot.isWritten ? 'the empty value' : `the part, without ${slot.field}`,
          },
          {
            file: slot.declaredIn,
            range: slot.declaredAt,
            shows: slot.meansSelf ? 'the field' : 'the field that must be filled',
          },
          ...placeOf(graph, slot.object, `the object ${nameOf(graph, slot.object)}`),
        ],
        walk: [],
        places: slots.length,
        repairs: [
          ...fillings(linked, slot),
          {
            title: `Fill ${slot.field}`,
            words: `Fill the slot${slot.fieldType ? ` with a ${slot.fieldType}` : ''}, or write the field as optional and ask before use.`,
          },
        ],
        sameBy: [sameKey(graph, slot.origin), slot.typeName, slot.field],
        cause: [slot.typeName, slot.field],
      };
    }),
};
