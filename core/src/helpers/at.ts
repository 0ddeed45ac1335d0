/**
 * Reading what must be there. Lists, columns and records are indexed by numbers and names that come from elsewhere;
 * where one leads nowhere that is a fault of ours, and it is told where it happens, not three stages later.
 */

/** @throws RangeError when the list has no such item */
export function itemAt<T>(list: ArrayLike<T>, index: number): T {
  const found = list[index];
  if (found === undefined) throw new RangeError(`nothing stands at ${index} of ${list.length}`);
  return found;
}

/** A number of a column. @throws RangeError when the column is shorter */
export function cellAt(column: Int32Array | Uint8Array | Uint16Array | Float32Array, index: number): number {
  const found = column[index];
  if (found === undefined) throw new RangeError(`no row ${index} of ${column.length}`);
  return found;
}

/** @throws RangeError when the record has no such name */
export function entryOf<V>(record: Readonly<Record<string, V>>, name: string): V {
  const found = record[name];
  if (found === undefined) throw new RangeError(`nothing is called “${name}”`);
  return found;
}

/** What a map holds under a key. @throws RangeError when it holds nothing there */
export function knownIn<K, V>(map: ReadonlyMap<K, V>, key: K): V {
  const found = map.get(key);
  if (found === undefined) throw new RangeError(`${String(key)} is not known`);
  return found;
}

/** What is there by all that was looked at before. @throws RangeError when it is not */
export function must<T>(value: T | null | undefined): T {
  if (value === null || value === undefined) throw new RangeError('something is not there that must be');
  return value;
}
