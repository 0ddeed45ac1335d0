import { sentence } from '../model/finding.js';
import { nameOf } from '../model/graph.js';
import type { Linked } from '../linking/linked.js';
import type { ValueOnPart, WorldPart } from '../linking/world.js';
import type { Check, Draft } from './check.js';

/** Values saved on instances that hide the base's, or merely repeat it. */
export const baseDrift: Check = {
  id: 'fragile/base-drift',
  title: 'Values saved on instances hide their prefab’s',
  severity: 'note',
  why: 'An edit of the prefab changes nothing, or misses the instances that somebody saved the old value on.',
  decides:
    'Compares what instances of a prefab save with what the prefab says. Fires once for a field of a prefab when an instance saves the very value that is in force without it, and when at least three instances, all there are, save one other value, so that the prefab’s is in force nowhere. Silent on values that differ from instance to instance, on fields that the prefab does not save, and on lists.',
  restsOn: 'data',
  run: (linked) => {
    const fields = new Map<string, Saved[]>();
    const copies = new Map<number, number>();
    for (const part of linked.world.partByPiece.values()) {
      const origin = linked.graph.pieces.origin[part.piece];
      if (origin < 0) continue;
      copies.set(origin, (copies.get(origin) ?? 0) + 1);
      if (part.values.length < 2) continue;
      for (const saved of savedOn(part))
        fields.set(`${origin} ${saved.name}`, [...(fields.get(`${origin} ${saved.name}`) ?? []), saved]);
    }
    return [...fields.values()].flatMap((saved) => draftOf(linked, saved, copies));
  },
};

/** A value saved on an instance, with the one that it stands in front of. */
interface Saved {
  part: WorldPart;
  name: string;
  own: ValueOnPart;
  base: ValueOnPart;
}

function savedOn(part: WorldPart): Saved[] {
  const last = new Map<string, ValueOnPart[]>();
  for (const one of part.values) last.set(one.value.name, [...(last.get(one.value.name) ?? []), one]);
  return [...last].flatMap(([name, levels]) => {
    const [own, base] = [levels.at(-1)!, levels.at(-2)];
    const isText = base !== undefined && own.value.text !== undefined && base.value.text !== undefined;
    return isText && own.source !== base.source ? [{ part, name, own, base }] : [];
  });
}

function draftOf(linked: Linked, saved: Saved[], copies: ReadonlyMap<number, number>): Draft[] {
  const { graph, world } = linked;
  const repeats = saved.filter(({ own, base }) => own.value.text === base.value.text);
  const [{ name, base, part, own }] = saved;
  const origin = graph.pieces.origin[part.piece];
  const prefab = world.facts[base.source];
  const typeName = part.type?.name || part.typeName;
  const common = { walk: [], sameBy: [prefab.file, typeName, name] };
  if (repeats.length > 0) {
    const [first] = repeats;
    return [
      {
        ...common,
        sentence: [
          ...sentence`${{ name: nameOf(graph, first.part.object), piece: first.part.piece }} saves ${name} = ${first.own.value.text!} for ${typeName}, which `,
          { name: prefab.name, piece: origin },
          ' says anyway',
          repeats.length > 1 ? ` (and ${repeats.length - 1} more)` : '',
        ].filter((run) => run !== ''),
        sure: 'Both values are written out and are the same.',
        pieces: [first.part.piece, origin],
        evidence: [
          ...repeats.slice(0, 4).map((one) => ({
            file: world.facts[one.own.source].file,
            range: one.own.value.range,
            shows: 'saved again',
          })),
          { file: prefab.file, range: first.base.value.range, shows: 'what the prefab says' },
        ],
        places: repeats.length,
        repairs: [
          {
            title: 'Take it out',
            words: 'Without the saved value the instance follows the prefab when that is changed.',
          },
        ],
      },
    ];
  }
  const values = new Set(saved.map((one) => one.own.value.text));
  if (values.size > 1 || saved.length < 3 || saved.length < (copies.get(origin) ?? 0)) return [];
  return [
    {
      ...common,
      sentence: sentence`All ${saved.length} instances of ${{ name: prefab.name, piece: origin }} save ${name} = ${own.value.text!}, so its own ${base.value.text!} is in force nowhere`,
      sure: 'All instances were unfolded, and every one saves the same value.',
      pieces: [origin, part.piece],
      evidence: [
        { file: prefab.file, range: base.value.range, shows: 'in force nowhere' },
        ...saved
          .slice(0, 4)
          .map((one) => ({ file: world.facts[one.own.source].file, range: one.own.value.range, shows: 'in force' })),
      ],
      places: saved.length,
      repairs: [
        { title: 'Say it in the prefab', words: 'Write the value into the prefab and take it out of the instances.' },
      ],
    },
  ];
}
