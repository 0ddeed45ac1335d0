import { cellAt } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { sentence, type Sentence } from '../model/finding.js';
import { nameOf } from '../model/graph.js';
import type { Barred } from '../linking/faults.js';
import type { Linked } from '../linking/linked.js';
import { faultsOf, named, placeOf, sameKey, titled, type Check } from './check.js';

/** Something is asked of a piece whose mode rules it out. */
export const barredTarget: Check = {
  id: 'broken/barred-target',
  title: 'Something is asked of a piece that cannot take part in it',
  severity: 'error',
  why: 'The engine leaves such pieces out: the slot, the wire or the call has no effect in play.',
  decides:
    'Fires where a slot of a script, a wire that calls a function, an attached script, or a call that destroys, switches or moves ends on a piece whose mode the plan calls barred, where a call that only works on the own object is made on another, and where one that works on one side alone is made by a script of the other. Silent on wires that such a piece only sends, on looking at it, and where the target is not known.',
  run: (linked) =>
    grouped(
      faultsOf(linked, 'barred'),
      ({ file, range, how, target }) => `${file}/${range.line}/${range.column}/${how}/${originKey(linked, target)}`,
    ).map((faults) => {
      const { graph } = linked;
      const [fault] = faults;
      const { file, range, from, target, how } = fault;
      return {
        sentence: [...told(linked, fault), ...(faults.length > 1 ? [` (and ${faults.length - 1} more like it)`] : [])],
        sure: SURE[how] ?? 'The mode is written on the object, and the plan says that it bars scripting.',
        pieces: [...new Set([from, target])],
        evidence: [
          { file, range, shows: SHOWS[how] },
          ...placeOf(graph, target, `the object ${nameOf(graph, target)}`),
        ],
        walk: [],
        places: faults.length,
        repairs: [
          how === 'other side'
            ? {
                title: 'Ask the other side to do it',
                words: 'Send an event that a script of the other side listens to, and make the call there.',
              }
            : how === 'self only'
              ? { title: 'Ask it to do it itself', words: 'Send it an event, and let its own script make the call.' }
              : {
                  title: 'Change the mode or the target',
                  words: `Let ${nameOf(graph, target)} take part in scripts, or choose another object.`,
                },
        ],
        sameBy: [sameKey(graph, from), sameKey(graph, target), how, fault.label],
        cause: [sameKey(graph, target)],
      };
    }),
};

function originKey({ graph }: Linked, piece: number): number {
  return cellAt(graph.pieces.origin, piece) >= 0 ? cellAt(graph.pieces.origin, piece) : piece;
}

const SURE: Partial<Record<Barred['how'], string>> = {
  'self only': 'The plan says that this call works on the own object alone, and the call is made on another one.',
  'other side': 'The plan says on which side this call works, and on which side the script runs.',
};

const SHOWS: Record<Barred['how'], string> = {
  slot: 'the slot',
  wire: 'the wire',
  part: 'the script that is attached',
  act: 'the call',
  'self only': 'the call',
  'other side': 'the call',
};

function told({ graph }: Linked, { from, target, how, label }: Barred): Sentence {
  const mode = ', whose mode bars scripting';
  switch (how) {
    case 'slot':
      return [...sentence`Slot ${label} of `, titled(graph, from), ' holds ', titled(graph, target), mode];
    case 'wire':
      return [...sentence`A wire from ${label} ends on `, titled(graph, target), mode];
    case 'part':
      return ['A script is attached to ', titled(graph, target), mode];
    case 'act':
      return [titled(graph, from), ` ${label} `, titled(graph, target), mode];
    case 'other side':
      return [titled(graph, from), ` ${label} `, titled(graph, target), ', and that works on the other side alone'];
    case 'self only':
      return [titled(graph, from), ` ${label} `, named(graph, target), ', and that works on the own object alone'];
  }
}
