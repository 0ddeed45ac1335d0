import { itemAt } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import { kindOf, nameOf, titleOf } from '../model/graph.js';
import type { Value } from '../reading/facts.js';
import { patternOf } from '../linking/look-ups/texts.js';
import type { Linked } from '../linking/linked.js';
import { topOf, type WorldPart } from '../linking/world/world.js';
import { sameKey, type Check } from './check.js';
import { objectOf, operationsThat, reached, type TypeOperation } from './reached.js';

/** What is missing among the children whose name is made at run time. */
interface Gap {
  part: WorldPart;
  object: number;
  /** The name with what is made up as `…`. */
  wanted: string;
  /** What lacks, and what is there. */
  lacks: string[];
  fits: string[];
}

/** A name made at run time, and part of what it could mean is not there. */
export const builtName: Check = {
  id: 'fragile/built-name',
  title: 'A name is made at run time, and what it could mean is not all there',
  severity: 'note',
  why: 'Nobody sees it in the files: the look-up fails on the day the missing one is asked for.',
  decides:
    'Looks at children whose name is put together from a written text and something that is only known at run time. Fires when no child’s name begins and ends as written, and when the children that fit are numbered and a number between them is missing. Silent when nothing of the name is written, when the children are without a gap, when code spawns such things, and when the code asks before use.',
  run: (linked) =>
    operationsThat(linked.world, 'child').flatMap((one) => {
      const name = one.operation.arguments.name ?? one.operation.arguments.object;
      if (name?.is !== 'join' || one.operation.guarded) return [];
      const gaps = gapsOf(linked, one, name.parts);
      if (gaps.length === 0) return [];
      const { graph } = linked;
      const { type, operation, file } = one;
      const { part, object, wanted, lacks, fits } = itemAt(gaps, 0);
      return [
        {
          sentence: [
            { name: type.name, piece: part.piece },
            ...sentence` looks for a child of ${{ name: titleOf(graph, object), piece: object }} called ${wanted}`,
            ...(fits.length === 0
              ? [', and no child is called like that']
              : sentence`; ${fits.length} are there, and ${lacks.join(', ')} ${lacks.length === 1 ? 'is' : 'are'} missing between them`),
            gaps.length > 1 ? ` (and on ${gaps.length - 1} more)` : '',
          ].filter((run) => run !== ''),
          sure: 'What is written of the name was compared with all children, and nothing spawns others.',
          pieces: [type.piece, part.piece, object],
          evidence: [{ file, range: operation.range, shows: 'where the name is made' }],
          walk: [],
          places: gaps.length,
          repairs: [
            {
              title: 'Fill a list of slots',
              words: 'Give the script a list to fill with the children, or ask whether the child is there before use.',
            },
          ],
          sameBy: [file, type.name, wanted, sameKey(graph, object)],
        },
      ];
    }),
};

function gapsOf(linked: Linked, { type, operation }: TypeOperation, parts: Value[]): Gap[] {
  const { graph, world, madeAtRun } = linked;
  const fits = patternOf(parts);
  if ([...madeAtRun].some((name) => fits.test(name))) return [];
  const written = parts.map((part) => (part.is === 'text' ? part.text : '…')).join('');
  const unknown = parts.filter((part) => part.is !== 'text').length;
  const [before = '', after = ''] = written.split('…');
  return reached(linked, type, operation.receiver).flatMap(({ part, piece }): Gap[] => {
    const object = objectOf(linked, piece);
    const isLoose = kindOf(graph, topOf(world, object)) !== 'scene';
    if (isLoose || world.trees.incomplete.has(object)) return [];
    const names = (world.trees.children.get(object) ?? []).map((child) => nameOf(graph, child));
    const there = names.filter((name) => fits.test(name));
    const gap = { part, object, wanted: written, fits: there };
    if (there.length === 0) return [{ ...gap, lacks: [written] }];
    if (unknown !== 1 || there.length < 2) return [];
    const numbers = there.map((name) => name.slice(before.length, name.length - after.length));
    if (!numbers.every((number) => /^\d{1,3}$/.test(number))) return [];
    const known = new Set(numbers.map(Number));
    const [low, high] = [Math.min(...known), Math.max(...known)];
    const lacks = Array.from({ length: high - low }, (_, at) => low + at).filter((number) => !known.has(number));
    return lacks.length > 0 && lacks.length <= known.size
      ? [{ ...gap, lacks: lacks.slice(0, 5).map((number) => `${before}${number}${after}`) }]
      : [];
  });
}
