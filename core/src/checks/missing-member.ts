import { itemAt } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { sentence } from '../model/finding.js';
import type { MissingMember } from '../linking/faults.js';
import { writeInstead } from '../repairs/candidates.js';
import { isSlip } from '../repairs/sure.js';
import { nearest } from '../helpers/nearest.js';
import type { Linked } from '../linking/linked.js';
import { nothingToTake, records } from '../linking/records.js';
import { missingMembers, placeOf, sameKey, titled, type Check, type Draft } from './check.js';

/** A field or function of a known type that the type does not have. */
export const missingMember: Check = {
  id: 'broken/missing-member',
  title: 'A type or table does not have the member that is used',
  severity: 'error',
  why: 'The code reads nothing, writes into nothing, or stops with a fault as soon as it gets there.',
  decides:
    'Fires where the code says which type it is – declared, asked for as a part, or the script on a spawned prefab – and neither the type nor its parents have the member, or have it for themselves alone; and where code reads an entry of a table that the plan means, which the table does not have, or takes a name from a file that does not give it. A warning where a record takes something away from what it is derived from, or counts on it, and none of its bases has it. In languages in which code may add members at any time, only a name that stands nowhere else and differs by one letter from one that is there is sure. Silent when a parent is not known, when the engine brings the member, when code elsewhere may add it, in interfaces, and for tables when the code copes with finding nothing.',
  run: (linked) => [...used(linked), ...taken(linked)],
};

function used(linked: Linked): Draft[] {
  return (
    // What is read and then set, as in `+=`, is one use.
    grouped(
      missingMembers(linked).filter(({ isOwn, how, isHidden }) => !isOwn || how !== 'calls' || isHidden),
      ({ from, type, member, prefab }) => `${from}/${type}/${member}/${prefab}`,
    )
      .map((faults) => faults.find(({ how }) => how === 'writes') ?? faults[0])
      .map((fault) => {
        const { graph } = linked;
        const { file, range, from, type, typeName, member, how, isHidden, prefab, members, of } = fault;
        const close = isHidden ? [] : nearest(member, members, 1);
        return {
          severity: isHidden ? 'warning' : undefined,
          sentence: [
            titled(graph, from),
            ` ${of === 'file' ? 'takes' : VERBS[how]} `,
            { name: member },
            ...(prefab >= 0
              ? [' of what it spawns from ', titled(graph, prefab), ', whose script ', { name: typeName, piece: type }]
              : [of === 'file' ? ' from ' : ' of ', { name: typeName, piece: type }, ', which']),
            isHidden ? ' keeps it for itself' : of === 'file' ? ' gives nothing of that name' : ' has no such member',
            ...(close.length > 0 ? sentence`; there is ${itemAt(close, 0)}` : []),
          ],
          sure: isHidden
            ? 'The type is named in the code, and the member is written there as not meant for others.'
            : of === 'table'
              ? 'The table is named in the code, all its entries are written out, and no code sets another.'
              : of === 'file'
                ? 'The file is named in the code, and all that it gives to others is written out.'
                : 'The type is named in the code, and all members of it and of its parents are known.',
          pieces: [from, type],
          evidence: [
            { file, range, shows: `where it ${of === 'file' ? 'takes' : VERBS[how]} ${member}` },
            ...placeOf(graph, type, PLACES[of](typeName)),
          ],
          walk: [],
          places: 1,
          repairs: [
            ...close.map((name) =>
              writeInstead(
                file,
                range,
                member,
                name,
                `${typeName} has “${name}”, which is written almost the same.`,
                isSlip(member, name, members),
              ),
            ),
            isHidden
              ? {
                  title: 'Open it or ask another way',
                  words: `Let ${typeName} offer what is needed, by a function or an event.`,
                }
              : {
                  title: `Give ${typeName} this member`,
                  words: `Declare “${member}” in ${typeName}, or use what it has.`,
                },
          ],
          sameBy: [sameKey(graph, from), typeName, member],
          cause: [typeName, member],
        };
      })
  );
}

/** What a record takes away from its bases, or counts on in them, though none of them has it. */
function taken({ world, graph }: Linked): Draft[] {
  return [...records(world)]
    .flatMap((piece) => nothingToTake(world, piece))
    .map(({ piece, base, name, word, file, range, among }) => {
      const close = nearest(word || name, among, 1);
      return {
        severity: 'warning',
        sentence: [
          titled(graph, piece),
          ...(word ? sentence` takes ${word} out of ${name}` : sentence` changes ${name}`),
          ...sentence`, which ${titled(graph, base)} does not have`,
          ...(close.length > 0 ? sentence`; there is ${itemAt(close, 0)}` : []),
        ],
        sure: 'The record and all that it is derived from were read, and none of them says it.',
        pieces: [piece, base],
        evidence: [
          { file, range, shows: word ? `where it takes ${word}` : `where it changes ${name}` },
          ...placeOf(graph, base, 'what it is derived from'),
        ],
        walk: [],
        places: 1,
        repairs: [
          ...(word
            ? close.map((other) =>
                writeInstead(
                  file,
                  range,
                  word,
                  other,
                  `“${other}” is there and is written almost the same.`,
                  isSlip(word, other, among),
                ),
              )
            : []),
          { title: 'Take it out', words: 'It does nothing as it is: take it out, or name what is there.' },
        ],
        sameBy: [sameKey(graph, piece), name, word],
        cause: [name, word],
      };
    });
}

const PLACES: Record<MissingMember['of'], (name: string) => string> = {
  type: (name) => `the type ${name}`,
  table: (name) => `where ${name} is written`,
  file: (name) => `the file ${name}`,
};
const VERBS: Record<MissingMember['how'], string> = { reads: 'reads', writes: 'sets', calls: 'calls' };
