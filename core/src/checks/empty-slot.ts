import { nameOf, titleOf } from '../model/graph.js';
import { sentence } from '../model/finding.js';
import { grouped, placeOf, sameKey, type Check } from './check.js';

/** A required slot is empty on an object. */
export const emptySlot: Check = {
  id: 'broken/empty-slot',
  title: 'A slot that must be filled is empty',
  severity: 'error',
  why: 'The script uses the field as if somebody had filled it; on this object nobody has.',
  decides:
    'A field must be filled when the plan calls it exposed and the code gives it no default and does not write it as optional. Silent when this object, its prefab or any script sets it.',
  run: ({ graph, emptySlots }) =>
    grouped(emptySlots, (slot) => `${slot.origin}/${slot.typeName}/${slot.field}`).map((slots) => {
      const [slot] = slots;
      const more = slots.length > 1 ? [` and ${slots.length - 1} more like it`] : [];
      return {
        sentence: [
          ...sentence`Slot ${slot.field} of ${{ name: slot.typeName, piece: slot.part }} is empty on ${{ name: titleOf(graph, slot.object), piece: slot.object }}`,
          ...more,
        ],
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
          { file: slot.declaredIn, range: slot.declaredAt, shows: 'the field that must be filled' },
          ...placeOf(graph, slot.object, `the object ${nameOf(graph, slot.object)}`),
        ],
        walk: [],
        places: slots.length,
        repairs: [
          {
            title: `Fill ${slot.field}`,
            words: `Fill the slot${slot.fieldType ? ` with a ${slot.fieldType}` : ''}, or write the field as optional and ask before use.`,
          },
        ],
        sameBy: [sameKey(graph, slot.origin), slot.typeName, slot.field],
      };
    }),
};
