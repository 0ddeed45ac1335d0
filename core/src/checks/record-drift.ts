/** The part of fragile/base-drift that is about records. */
import type { Linked } from '../linking/linked.js';
import { recordFields, records, type RecordLevel } from '../linking/records.js';
import type { World } from '../linking/world/world.js';
import { sentence } from '../model/finding.js';
import { nameOf } from '../model/graph.js';
import { sameKey, titled, type Draft } from './check.js';

/** Records that say again what they have from their bases anyway. */
export function ofRecords({ world, graph }: Linked): Draft[] {
  return [...records(world)].flatMap((piece): Draft[] => {
    const again = saidAgain(world, piece);
    const [first] = again;
    if (!first) return [];
    const more = again.length - 1;
    return [
      {
        sentence: [
          titled(graph, piece),
          ...sentence` says ${first.name} = ${first.text}`,
          more > 0 ? ` (and ${more} more) again, which ` : ' again, which ',
          { name: nameOf(graph, first.base.piece), piece: first.base.piece },
          ' says anyway',
        ],
        sure: 'Both values are written out and are the same.',
        pieces: [piece, first.base.piece],
        evidence: [
          ...again.slice(0, 4).map(({ own }) => ({ file: own.file, range: own.value.range, shows: 'said again' })),
          { file: first.base.file, range: first.base.value.range, shows: 'what it has anyway' },
        ],
        walk: [],
        places: again.length,
        repairs: [
          {
            title: again.length > 1 ? 'Take them out' : 'Take it out',
            words: 'Without it the record follows what it is derived from when that is changed.',
          },
        ],
        sameBy: [sameKey(graph, piece)],
      },
    ];
  });
}

function saidAgain(world: World, piece: number): { name: string; text: string; own: RecordLevel; base: RecordLevel }[] {
  return [...recordFields(world, piece).fields.values()].flatMap(({ name, levels }) => {
    const [own, base] = [levels.at(-1), levels.at(-2)];
    // What adds to another value, or is empty, says something of its own.
    if (own?.piece !== piece || !base || levels.some(({ value }) => value.joins !== 'replaces' || value.words))
      return [];
    const { text } = own.value;
    return text && text === base.value.text ? [{ name, text, own, base }] : [];
  });
}
