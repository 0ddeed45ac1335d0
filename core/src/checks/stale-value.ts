import { itemAt } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { sentence } from '../model/finding.js';
import type { StaleHandler, StaleValue } from '../linking/faults.js';
import type { Linked } from '../linking/linked.js';
import { writeInstead } from '../repairs/candidates.js';
import { isSlip } from '../repairs/sure.js';
import { nearest } from '../helpers/nearest.js';
import { faultsOf, placeOf, sameKey, titled, type Check, type Draft } from './check.js';

/** A saved value, or saved wiring, for something that the script no longer has. */
export const staleValue: Check = {
  id: 'broken/stale-value',
  title: 'Something is saved for a field or function that the script no longer has',
  severity: 'warning',
  why: 'The value is silently lost, or the wire calls nothing: what somebody once set up has no effect in play.',
  decides:
    'Every saved value is compared with the fields of the script and its parents, every wire with the functions of the scripts on its object: one that carries none can do nothing. Such a wire is an error. Silent when a parent is not known, when a part on the object is not known, when the engine brings the member or the plan does not say what it brings, and when code attaches scripts that have the function.',
  run: (linked) => [
    ...grouped(faultsOf(linked, 'stale value'), placeKey).map((faults) => fromValue(linked, faults)),
    ...faultsOf(linked, 'stale handler').map((fault) => fromHandler(linked, fault)),
  ],
};

/** A value of a prefab is seen from every instance, and stands in one place. */
const placeKey = ({ file, range, typeName }: StaleValue): string => `${file}/${range.line}/${range.column}/${typeName}`;

function fromValue({ graph }: Linked, faults: StaleValue[]): Draft {
  const { part, object, type, typeName, field, fields, file, range } = itemAt(faults, 0);
  const [close] = nearest(field, fields, 1);
  return {
    sentence: [
      titled(graph, object),
      ...sentence` saves a value for ${field}, and ${{ name: typeName, piece: type }} has no such field`,
      ...(close ? sentence`; it has ${close}` : []),
    ],
    sure: 'The value is written out, and all fields of the script and of its parents are known.',
    pieces: [part, type],
    evidence: [{ file, range, shows: `the value of ${field}` }, ...placeOf(graph, type, `the type ${typeName}`)],
    walk: [],
    places: faults.length,
    repairs: [
      ...(close
        ? [
            {
              title: `Save it for “${close}”`,
              words: `“${close}” is written almost the same: the field may have been renamed.`,
              changes: [{ is: 'rename member' as const, file, range, to: close }],
              ...(isSlip(field, close, fields) && { sure: true as const }),
            },
          ]
        : []),
      {
        title: 'Take the value out',
        words: 'It has no effect.',
        changes: [{ is: 'remove', file, range }],
      },
    ],
    sameBy: [sameKey(graph, object), file, typeName, field],
    cause: [typeName, field],
  };
}

function fromHandler(linked: Linked, fault: StaleHandler): Draft {
  const { graph } = linked;
  const { object, event, handler, handlerAt, typeNames, functions, file, range } = fault;
  const close = nearest(handler, functions, 1);
  return {
    severity: 'error',
    sentence: [
      ...sentence`The wire from ${event} calls ${`${handler}()`} on `,
      titled(graph, object),
      ...(typeNames.length === 0
        ? [', which carries no script']
        : [...sentence`, and ${typeNames.join(', ')}`, ` ${typeNames.length === 1 ? 'has' : 'have'} no such function`]),
      ...(close.length > 0 ? sentence`; there is ${`${close[0]}()`}` : []),
    ],
    sure:
      typeNames.length === 0
        ? 'The wire is written out, and all that the object carries is known.'
        : 'The wire is written out, and all functions of the scripts on that object are known.',
    pieces: [object],
    evidence: [
      { file, range: handlerAt ?? range, shows: 'the wire' },
      ...placeOf(graph, object, 'the object that it ends on'),
    ],
    walk: [],
    places: 1,
    repairs: [
      ...close.map((name) => {
        const isTwice = hears(linked, object, event, name);
        return writeInstead(
          file,
          handlerAt ?? range,
          handler,
          name,
          `“${name}” is there and is written almost the same.${isTwice ? ` But the script listens to ${event} by itself and calls it then: with the wire it would be called twice. Take the wire out instead.` : ''}`,
          isSlip(handler, name, functions) && !isTwice,
        );
      }),
      { title: 'Rewire or remove', words: 'Let the wire call a function that is there, or take it out.' },
    ],
    sameBy: [sameKey(graph, object), event, handler],
    cause: [typeNames.join(' '), handler],
  };
}

/** Whether a script on an object listens to an event by itself, with a function of that name. */
function hears({ events, world }: Linked, object: number, event: string, handler: string): boolean {
  const types = (world.trees.partsOf.get(object) ?? []).flatMap(({ type }) => (type ? [type, ...type.ancestors] : []));
  const listeners = events.find(({ name }) => name === event)?.listeners ?? [];
  return listeners.some((one) => one.handler === handler && types.some(({ piece }) => piece === one.piece));
}
