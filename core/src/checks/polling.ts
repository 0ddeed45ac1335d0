import { sentence } from '../model/finding.js';
import { nameOf } from '../model/graph.js';
import type { LookUp } from '../linking/linked.js';
import { grouped, type Check } from './check.js';

/** Something is looked up anew in every frame. */
export const polling: Check = {
  id: 'fragile/polling',
  title: 'Something is looked up anew in every frame',
  severity: 'note',
  why: 'It costs time in every frame of the game, for an answer that seldom changes.',
  decides:
    'Fires once for each function that runs every frame and looks an object or a part up by its name, path or type in it. Silent on steps up the own tree, on look-ups at other moments, and where the result is kept from before.',
  run: ({ graph, lookUps }) =>
    grouped(lookUps.filter(isRepeated), ({ file, typePiece }) => `${file} ${typePiece}`).map((same) => {
      const [{ file, typeName, typePiece, firstFound }] = same;
      const lines = same
        .slice(0, 5)
        .map((lookUp: LookUp) => ({ file, range: lookUp.range, shows: 'looked up every frame' }));
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
    }),
};

function isRepeated({ moment, isStep, foundCount }: LookUp): boolean {
  return moment === 'every frame' && !isStep && foundCount > 0;
}
