/** Texts with holes that the plan fills: `ports/{port}.json` means one file for each port. */
import { once } from '../helpers/once.js';
import { kindOf, nameOf } from '../model/graph.js';
import type { Hole } from '../reading/plan/plan.js';
import { isInSpace } from './sight.js';
import type { World } from './world/world.js';

/** Fillings of one text that are tried. */
const MOST_FILLINGS = 2000;

export interface Filling {
  text: string;
  /** The plan says that what this means must be there. */
  isStated: boolean;
}

/** What a text means once its holes are filled, those that must be there first; undefined for a text without holes. */
export function fillingsOf(world: World, text: string): { fillings: Filling[]; areAll: boolean } | undefined {
  const holes = Object.entries(world.plan.holes).filter(([mark]) => text.includes(mark));
  if (holes.length === 0) return undefined;
  let fillings: Filling[] = [{ text, isStated: true }];
  let areAll = true;
  for (const [mark, hole] of holes) {
    const { texts, areAll: isWhole } = textsFor(world).get(mark) ?? { texts: [], areAll: true };
    const some = texts.slice(0, Math.max(1, Math.floor(MOST_FILLINGS / fillings.length)));
    areAll &&= isWhole && some.length === texts.length;
    const stated = new Set(hole.must);
    fillings = fillings.flatMap((one) =>
      some.map((filled) => ({
        text: one.text.split(mark).join(filled),
        isStated: one.isStated && stated.has(filled),
      })),
    );
  }
  return { fillings, areAll };
}

/** The texts that each hole may be filled with, by its mark. */
const textsFor = once(
  (world: World) => new Map(Object.entries(world.plan.holes).map(([mark, hole]) => [mark, textsOf(world, hole)])),
);

function textsOf(world: World, { texts, from, to, digits, records, must }: Hole): { texts: string[]; areAll: boolean } {
  const count = from === undefined || to === undefined ? 0 : Math.max(0, to - from + 1);
  const numbers = Array.from({ length: Math.min(count, MOST_FILLINGS) }, (_, at) =>
    String((from ?? 0) + at).padStart(digits, '0'),
  );
  const all = new Set([...must, ...texts, ...numbers, ...(records ? namesOf(world, records) : [])]);
  return { texts: [...all], areAll: count <= MOST_FILLINGS };
}

/** Identities or names of the pieces that a hole may stand for. */
function namesOf(world: World, { kinds, space, by }: NonNullable<Hole['records']>): string[] {
  const { graph } = world.builder;
  const fits = (piece: number): boolean =>
    (kinds.length === 0 || kinds.includes(kindOf(graph, piece))) && isInSpace(world, piece, space);
  if (by === 'name')
    return [
      ...new Set(
        [...world.names.byName.values()]
          .flat()
          .filter(fits)
          .map((piece) => nameOf(graph, piece)),
      ),
    ];
  return [...world.names.byId].flatMap(([id, pieces]) => (pieces.some(fits) ? [id] : []));
}
