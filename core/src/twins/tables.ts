/** Tables in code that repeat the records of a data asset. */
import type { PieceFact, TableFact } from '../reading/facts.js';
import type { Linked } from '../linking/linked.js';

export interface RepeatedTable {
  /** Positions in the list of facts: the script, and the data asset. */
  source: number;
  asset: number;
  table: TableFact;
  /** Numbers that the data asset has otherwise, with the record that says so. */
  differing: { key: string; number: string; line: number; record: PieceFact; says: string }[];
}

/** How many names they must share at least, and how many of those of the table. */
const LEAST_SHARED = 3;
const MOST_OF_IT = 0.8;

export function repeatedTables({ facts }: Linked): RepeatedTable[] {
  const assets = facts.flatMap(({ pieces }, asset) => {
    const records = pieces.filter(({ kind }) => kind === 'record');
    return records.length >= LEAST_SHARED
      ? [{ asset, records: new Map(records.map((record) => [record.id || record.name, record])) }]
      : [];
  });
  if (assets.length === 0) return [];
  return facts.flatMap(({ script }, source) =>
    (script?.tables ?? []).flatMap((table): RepeatedTable[] => {
      const { entries } = table;
      const found = assets.find(
        ({ records }) =>
          entries.filter(({ key }) => records.has(key)).length >= Math.max(LEAST_SHARED, MOST_OF_IT * entries.length),
      );
      if (!found) return [];
      const differing = entries.flatMap(({ key, number, range }) => {
        const record = found.records.get(key);
        const numbers = Object.values(record?.details ?? {}).filter((one) => /^-?[\d.]+$/.test(one));
        return record && numbers.length > 0 && !numbers.some((one) => Number(one) === Number(number))
          ? [{ key, number, line: range.line, record, says: numbers.join(', ') }]
          : [];
      });
      return [{ source, asset: found.asset, table, differing }];
    }),
  );
}
