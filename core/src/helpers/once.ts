/**
 * What is worked out once for a thing and kept beside it. One rule tells when it is forgotten: with the thing. So the
 * thing must be the very object that everything comes from that the work looks at:
 *
 * - a map (`Graph`), facts, a function's body, a type's script: they never change;
 * - a `World` only for what linking again leaves as it is: names, types, trees, which parts stand where;
 * - a `Linked` for all that a changed file may change. Each scan makes a new one.
 *
 * Where that would forget too much, {@link keeper} asks what it rests on.
 */
export function once<K extends object, V>(make: (thing: K) => V): (thing: K) => V {
  const known = new WeakMap<K, V>();
  return (thing) => {
    let found = known.get(thing);
    if (found === undefined && !known.has(thing)) {
      found = make(thing);
      known.set(thing, found);
    }
    return found as V;
  };
}

/** The same for each thing and a name, or another thing, beside it. */
export function oncePer<K extends object, N, V>(make: (thing: K, name: N) => V): (thing: K, name: N) => V {
  const names = once((_thing: K) => new Map<N, V>());
  return (thing, name) => {
    const known = names(thing);
    let found = known.get(name);
    if (found === undefined && !known.has(name)) {
      found = make(thing, name);
      known.set(name, found);
    }
    return found as V;
  };
}

/** The same for two things, forgotten with either. */
export function oncePair<K extends object, N extends object, V>(
  make: (one: K, other: N) => V,
): (one: K, other: N) => V {
  const beside = once((one: K) => once((other: N) => make(one, other)));
  return (one, other) => beside(one)(other);
}

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
