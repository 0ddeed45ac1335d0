/** A list that holds something. */
export type Some<T> = [T, ...T[]];

/** Groups items by a key, in order of first appearance. */
export function grouped<T>(items: readonly T[], key: (item: T) => string): Some<T>[] {
  const groups = new Map<string, Some<T>>();
  for (const item of items) {
    const name = key(item);
    const group = groups.get(name);
    if (group) group.push(item);
    else groups.set(name, [item]);
  }
  return [...groups.values()];
}
