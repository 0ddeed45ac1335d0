import { must } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import { sentence } from '../model/finding.js';
import { nameOf } from '../model/graph.js';
import { steps, type Check } from './check.js';

/** A look-up that climbs the tree. */
export const climb: Check = {
  id: 'fragile/climb',
  title: 'A script climbs the tree to reach something',
  severity: 'note',
  why: 'It holds only as long as nobody wraps the object in a group or moves it: the number of steps is part of the code.',
  decides:
    'Fires once for each climb written in the code: two or more steps up, or one up and then down again. Silent on a single step up, on steps down, and where the look-up is lost everywhere (broken/missing-object).',
  run: ({ graph, lookUps }) => {
    const climbs = lookUps.filter(({ ups, down, foundCount }) => (ups >= 2 || (ups >= 1 && down)) && foundCount > 0);
    return grouped(climbs, ({ file, climbAt }) => `${file} ${climbAt?.line}:${climbAt?.column}`).map((from) => {
      const [lookUp] = from;
      const { part, object } = must(lookUp.firstFound);
      const more = lookUp.foundCount > 1 ? [` and ${lookUp.foundCount - 1} more`] : [];
      return {
        sentence: [
          ...sentence`${{ name: lookUp.typeName, piece: lookUp.typePiece }}`,
          ` climbs ${steps(lookUp.ups)} up${lookUp.down ? ' and down again' : ''} to reach what it needs, on `,
          { name: nameOf(graph, object), piece: object },
          ...more,
        ],
        sure: 'The steps are written in the code and were walked in the tree of each object that carries the script.',
        pieces: [lookUp.typePiece, part],
        evidence: [
          { file: lookUp.file, range: lookUp.climbAt ?? lookUp.range, shows: 'the climb' },
          ...from
            .slice(0, 4)
            .map((one) => ({ file: one.file, range: one.range, shows: 'what it looks up from there' })),
        ],
        walk: [],
        places: lookUp.foundCount,
        repairs: [
          {
            title: 'Fill a slot instead',
            words: 'Give the script an exposed field for what it reaches and fill it on each object.',
          },
        ],
        sameBy: [lookUp.file, lookUp.typeName, `${lookUp.ups}`, lookUp.down ? 'down' : ''],
      };
    });
  },
};
