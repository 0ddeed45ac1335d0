import { itemAt, knownIn } from '../helpers/at.js';
/**
 * Rows that differ in few places. Rows that differ in at most n places agree in whole in one of n + 1 equal blocks at
 * least (the pigeonhole principle, as Manber used it for similar files, 1994): only those that share a block are compared.
 */

/** In one block, a row is compared with so many that came before it. */
const MOST_COMPARED = 8;

/**
 * @param rows all of the same length
 * @param most places in which a row may differ from the first of its group
 * @returns groups of two and more, as positions in `rows`, each in order
 */
export function nearSame(rows: readonly (readonly string[])[], most: number): number[][] {
  const blocks = new Map<string, number[]>();
  const groups = new Map<number, number[]>();
  rows.forEach((row, at) => {
    const size = Math.ceil(row.length / (most + 1)) || 1;
    const keys = Array.from({ length: Math.ceil(row.length / size) }, (_, block) =>
      [block, ...row.slice(block * size, (block + 1) * size)].join('\u0000'),
    );
    const heads = new Set(keys.flatMap((key) => (blocks.get(key) ?? []).slice(0, MOST_COMPARED)));
    const head = [...heads].sort((a, b) => a - b).find((other) => differing(itemAt(rows, other), row).length <= most);
    if (head !== undefined) return void knownIn(groups, head).push(at);
    groups.set(at, [at]);
    for (const key of keys) {
      const known = blocks.get(key);
      if (known) known.push(at);
      else blocks.set(key, [at]);
    }
  });
  return [...groups.values()].filter((group) => group.length > 1);
}

/** Places in which two rows differ. */
function differing(one: readonly string[], other: readonly string[]): number[] {
  return one.flatMap((text, at) => (text === other[at] ? [] : [at]));
}

/** Places in which not all rows have the same. */
export function apart(rows: readonly (readonly string[])[]): number[] {
  return itemAt(rows, 0).flatMap((text, at) => (rows.some((row) => row[at] !== text) ? [at] : []));
}
