/** Lists of things that say what they are: whether that tells sorts apart. */
import { below, type Shape } from './shapes.js';
import { isIdentityName } from './words.js';

/** Fewer things in a list, and fewer of each sort, are one sort. */
const [FEWEST_THINGS, FEWEST_OF_SORT] = [24, 4];
/** Of the things so many say what they are, and so many are of sorts that have some. */
const [MOSTLY_SAID, MOSTLY_COMMON] = [0.95, 0.7];
/** Sorts with fewer of their members in common are different things; with fewer than that, where identities clash. */
const [UNLIKE, NOT_ALIKE] = [0.35, 0.8];
/** Sorts that are compared with each other. */
const MOST_COMPARED = 40;

/**
 * Decides of each list whether what its things say that they are tells sorts apart: sorts hold other members, or each has
 * identities of its own.
 * @param isPart whether a text says which script a thing runs: such things are parts of objects, of whatever sort
 */
export function tellSorts(root: Shape, isPart: (text: string) => boolean): void {
  const open = [root];
  for (let at = open.pop(); at; at = open.pop()) {
    if (at.sorts) {
      if (showSorts([at], isPart)) {
        at.item = undefined;
        at.sorts.shapes.delete('');
      } else delete at.sorts;
    }
    open.push(...below(at));
  }
}

/** Whether what the things of some lists say that they are tells sorts apart, over all of them. */
export function showSorts(lists: readonly Shape[], isPart: (text: string) => boolean = () => false): boolean {
  const items = lists.flatMap(({ item }) => item ?? []);
  const things = total(items);
  if (lists.some(({ key, keys, item }) => keys || (key !== '' && item && holdsList(item, key)))) return false;
  const said = new Map<string, Shape[]>();
  for (const { sorts } of lists)
    for (const [text, shape] of sorts?.shapes ?? [])
      if (text !== '') said.set(text, [...(said.get(text) ?? []), shape]);
  const all = sum([...said.values()].map(total));
  const common = [...said]
    .filter(([, some]) => total(some) >= FEWEST_OF_SORT)
    .sort((a, b) => total(b[1]) - total(a[1]));
  const inCommon = sum(common.map(([, some]) => total(some)));
  if (things < FEWEST_THINGS || all < things * MOSTLY_SAID) return false;
  if (common.length < 2 || inCommon < all * MOSTLY_COMMON) return false;
  if (common.filter(([text]) => isPart(text)).length > common.length / 2) return false;
  const by = lists[0]?.sorts?.by ?? '';
  const sorts = common.map(([, some]) => some);
  const alike = likenessOf(sorts.slice(0, MOST_COMPARED).map((some) => usualMembers(some, by)));
  return alike < UNLIKE || (alike < NOT_ALIKE && identitiesClash(items, sorts));
}

const sum = (numbers: readonly number[]): number => numbers.reduce((all, one) => all + one, 0);
const total = (shapes: readonly Shape[]): number => sum(shapes.map(({ objects }) => objects));

/** Whether lists of the same name stand below: things that hold things of their kind are a tree. */
function holdsList(item: Shape, key: string): boolean {
  const open = [item];
  for (let at = open.pop(); at; at = open.pop()) {
    if (at.key === key && at.lists > 0) return true;
    open.push(...below(at));
  }
  return false;
}

/** Names that most things of a sort have. */
function usualMembers(shapes: readonly Shape[], by: string): Set<string> {
  const counts = new Map<string, number>();
  for (const { members } of shapes)
    for (const [key, { objects, lists, values }] of members)
      if (key !== by) counts.set(key, (counts.get(key) ?? 0) + objects + lists + values);
  const least = total(shapes) / 2;
  return new Set([...counts].flatMap(([key, count]) => (count >= least ? [key] : [])));
}

/** What share of their names sets have in common, each two of them. */
function likenessOf(sets: readonly Set<string>[]): number {
  const shares = sets.flatMap((one, at) =>
    sets.slice(at + 1).map((other) => {
      const shared = [...one].filter((key) => other.has(key)).length;
      return shared / Math.max(1, one.size + other.size - shared);
    }),
  );
  return sum(shares) / shares.length;
}

/** Whether what tells the things of each sort apart stands again in other sorts. */
function identitiesClash(items: readonly Shape[], sorts: readonly (readonly Shape[])[]): boolean {
  const keys = new Set(items.flatMap(({ members }) => [...members.keys()].filter(isIdentityName)));
  return [...keys].some((key) => {
    const whole = differentIn(items, key);
    if (whole.total === 0 || whole.size > whole.total * 0.9) return false;
    const each = sorts.map((some) => differentIn(some, key));
    const own = { size: sum(each.map(({ size }) => size)), total: sum(each.map((one) => one.total)) };
    return own.total > whole.total / 2 && own.size >= own.total * 0.97;
  });
}

/** How many texts stand under a name, and how many different ones. */
function differentIn(shapes: readonly Shape[], key: string): { size: number; total: number } {
  const bags = shapes.flatMap(({ members }) => members.get(key)?.texts ?? []);
  const [first] = bags;
  const size = bags.length === 1 && first ? first.size : new Set(bags.flatMap((bag) => [...bag.numbers()])).size;
  return { size, total: sum(bags.map((bag) => bag.total)) };
}
