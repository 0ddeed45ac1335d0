/**
 * Keeps what was worked out for a thing as long as what it rests on is the very same: most edits touch one thing of
 * thousands.
 */
export function keeper<K extends object, V>(): (thing: K, restsOn: readonly unknown[], make: () => V) => V {
  const known = new WeakMap<K, { restsOn: readonly unknown[]; value: V }>();
  return (thing, restsOn, make) => {
    const before = known.get(thing);
    if (before?.restsOn.length === restsOn.length && restsOn.every((one, at) => one === before.restsOn[at]))
      return before.value;
    const value = make();
    known.set(thing, { restsOn, value });
    return value;
  };
}
