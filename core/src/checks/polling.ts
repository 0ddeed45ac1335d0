import { itemAt } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { sentence } from '../model/finding.js';
import { nameOf } from '../model/graph.js';
import type { Linked, LookUp } from '../linking/linked.js';
import { typeNamed } from '../linking/world/types.js';
import type { WorldType } from '../linking/world/world.js';
import type { MemberUse } from '../reading/facts.js';
import type { Check, Draft } from './check.js';

/** Something is looked up, or asked of another piece, anew in every frame. */
export const polling: Check = {
  id: 'fragile/polling',
  title: 'Something is looked up or asked for anew in every frame',
  severity: 'note',
  why: 'It costs time in every frame of the game, for an answer that seldom changes.',
  decides:
    'Fires once for each function that runs every frame and looks an object or a part up by its name, path or type in it, and where such a function decides by a field of another type whose code sends an event where it sets that very field. Silent on steps up the own tree, on look-ups at other moments, where the result is kept from before, on what is looked up only if something holds, and on fields whose changes nothing announces.',
  run: (linked) => [...lookedUp(linked), ...watched(linked)],
};

function lookedUp({ graph, lookUps }: Linked): Draft[] {
  return grouped(lookUps.filter(isRepeated), ({ file, typePiece }) => `${file} ${typePiece}`).map((same) => {
    const [{ file, typeName, typePiece, firstFound }] = same;
    const lines = same.slice(0, 5).map(({ range }) => ({ file, range, shows: 'looked up every frame' }));
    return {
      sentence: [
        { name: typeName, piece: typePiece },
        ...sentence` looks ${same.length === 1 ? 'something' : `${same.length} things`} up in every frame`,
        ...(firstFound ? [', on ', { name: nameOf(graph, firstFound.object), piece: firstFound.object }] : []),
      ],
      sure: 'The function is one that the plan says the engine calls every frame.',
      pieces: [typePiece],
      evidence: lines,
      walk: [],
      places: same.length,
      repairs: [
        {
          title: 'Look it up once',
          words: 'Keep the result in a field at the start, or wait for an event that says that it changed.',
        },
      ],
      sameBy: [file, typeName],
    };
  });
}

function isRepeated({ moment, isConditional, isStep, foundCount }: LookUp): boolean {
  return moment === 'every frame' && !isConditional && !isStep && foundCount > 0;
}

/** Fields of another type that are asked in every frame though an event says when they change. */
function watched({ world }: Linked): Draft[] {
  return world.types.all.flatMap((type) =>
    type.script.uses.flatMap((use): Draft[] => {
      const target = isWatching(type, use) ? typeNamed(world, use.of, type.source) : undefined;
      const news = target && target !== type ? newsOf(world, target, use.member) : undefined;
      if (!target || !news) return [];
      const { file } = itemAt(world.facts, type.source);
      return [
        {
          sentence: [
            ...sentence`${{ name: type.name, piece: type.piece }} asks ${{ name: `${target.name}.${use.member}`, piece: target.piece }} in every frame, and ${{ name: target.name, piece: target.piece }} sends ${news.event} when it changes`,
          ],
          sure: 'The function runs every frame, and the event is sent in the function that sets the field.',
          pieces: [type.piece, target.piece],
          evidence: [
            { file, range: use.range, shows: 'asked every frame' },
            { file: itemAt(world.facts, target.source).file, range: news.range, shows: 'what says that it changed' },
          ],
          walk: [],
          places: 1,
          repairs: [{ title: 'Listen instead', words: `Listen to ${news.event} and act when it comes.` }],
          sameBy: [file, type.name, target.name, use.member],
        },
      ];
    }),
  );
}

function isWatching({ script, local }: WorldType, { of, how, asks, type, function: at }: MemberUse): boolean {
  const moment = script.functions[at]?.moment;
  return type === local && of !== '' && how === 'reads' && asks !== undefined && moment === 'every frame';
}

/** The event that a type sends in a function in which it sets a field. */
function newsOf(
  world: Linked['world'],
  { script, local }: WorldType,
  member: string,
): { event: string; range: MemberUse['range'] } | undefined {
  const setters = new Set(
    script.fieldValues.filter(({ type, field }) => type === local && field === member).map((one) => one.function),
  );
  for (const { rule, type, function: at, arguments: given, range } of script.operations) {
    if (type !== local || at < 0 || !setters.has(at) || itemAt(world.plan.calls, rule).means !== 'send') continue;
    if (given.event?.is === 'text') return { event: given.event.text, range };
  }
  return undefined;
}
