/** Tables in code that repeat the records of a data asset. */
import { itemAt } from '../helpers/at.js';
import { grouped } from '../helpers/grouped.js';
import type { PieceFact, TableFact } from '../reading/facts.js';
import type { Linked } from '../linking/linked.js';

export interface RepeatedTable {
  /** Positions in the list of facts: the script, and the data asset, or the first of several with one record each. */
  source: number;
  asset: number;
  /** The data asset, or the rule by which its files are read. */
  name: string;
  table: TableFact;
  /** Numbers that the data asset has otherwise, with the record that says so. */
  differing: { key: string; number: string; line: number; asset: number; record: PieceFact; says: string }[];
}

/** Records that belong together: those of one file, or of the files of one rule that hold one each. */
interface Asset {
  asset: number;
  name: string;
  records: Map<string, { asset: number; record: PieceFact }>;
}

/** How many names they must share at least, and how many of those of the table. */
const LEAST_SHARED = 3;
const MOST_OF_IT = 0.8;

export function repeatedTables({ facts }: Linked): RepeatedTable[] {
  const held = facts.map(({ pieces }, asset) =>
    pieces.flatMap((record) => (record.kind === 'record' ? [{ asset, record }] : [])),
  );
  const single = held.flatMap((records) => (records.length === 1 ? records : []));
  const assets = [...held, ...grouped(single, ({ asset }) => itemAt(facts, asset).rule)].flatMap((records): Asset[] => {
    const [first] = records;
    if (!first || records.length < LEAST_SHARED) return [];
    const { name, rule } = itemAt(facts, first.asset);
    const isOneFile = records.every(({ asset }) => asset === first.asset);
    const byKey = new Map(records.map((one) => [one.record.id || one.record.name, one]));
    return [{ asset: first.asset, name: isOneFile ? name : rule, records: byKey }];
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
        const { record, asset = 0 } = found.records.get(key) ?? {};
        const numbers = Object.values(record?.details ?? {}).filter((one) => /^-?[\d.]+$/.test(one));
        return record && numbers.length > 0 && !numbers.some((one) => Number(one) === Number(number))
          ? [{ key, number, line: range.line, asset, record, says: numbers.join(', ') }]
          : [];
      });
      return [{ source, asset: found.asset, name: found.name, table, differing }];
    }),
  );
}
