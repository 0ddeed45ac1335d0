/** Facts of files, kept for the next scan, and for making the map of an earlier one anew. */
import { factsKey, type FactsCache } from '../scan/facts-cache.js';
import type { FileEntry } from '../scan/read-one.js';
import { FILE } from './files.js';
import { now, type Sql } from './sql.js';

/** Those of scans that are kept are kept with them. */
const DAYS_FACTS_ARE_KEPT = 30;

export function factsTable(sql: Sql) {
  const factsOf = (key: string): string | undefined =>
    sql('SELECT body FROM facts WHERE key = ?').get<{ body: string }>(key)?.body;

  /** Drops what no scan needs that is kept. Run in a transaction. */
  const dropOld = (at: string): void => {
    const before = new Date(Date.parse(at) - DAYS_FACTS_ARE_KEPT * 86_400_000).toISOString();
    if (!sql('SELECT 1 FROM facts WHERE used_at < ? LIMIT 1').get(before)) return;
    const needed = sql(
      `SELECT DISTINCT files.hash, files.path, scans.plan FROM files JOIN scans ON scans.id = files.scan_id
       WHERE files.hash <> '' AND scans.plan IS NOT NULL`,
    ).all<Pick<FileEntry, 'hash' | 'path'> & { plan: string }>();
    const touch = sql('UPDATE facts SET used_at = ? WHERE key = ? AND used_at < ?');
    for (const { plan, ...file } of needed) touch.run(at, factsKey(file, plan), before);
    sql('DELETE FROM facts WHERE used_at < ?').run(before);
  };

  return {
    /** Packed facts of a file as it was, by {@link factsKey}. */
    factsKept: factsOf,
    factsCache(projectId: number): FactsCache & { save(): void } {
      const added = new Map<string, string>();
      const used: string[] = [];
      return {
        entries: () =>
          sql(
            `${FILE} WHERE scan_id = (SELECT max(id) FROM scans WHERE state = 'done' AND project_id = ?)`,
          ).all<FileEntry>(projectId),
        get(key) {
          const body = factsOf(key);
          if (body !== undefined) used.push(key);
          return body;
        },
        put: (key, packed) => void added.set(key, packed),
        formerHash(path) {
          const row = sql(
            `SELECT hash FROM files WHERE path = ? AND hash <> ''
               AND scan_id IN (SELECT id FROM scans WHERE state = 'done' AND project_id = ?) ORDER BY scan_id DESC LIMIT 1`,
          ).get<{ hash: string }>(path, projectId);
          return row?.hash;
        },
        save: () =>
          sql.together(() => {
            const at = now();
            const add = sql('INSERT OR REPLACE INTO facts VALUES (?, ?, ?)');
            for (const [key, packed] of added) add.run(key, packed, at);
            const touch = sql('UPDATE facts SET used_at = ? WHERE key = ?');
            for (const key of used) touch.run(at, key);
            added.clear();
            used.length = 0;
            dropOld(at);
          }),
      };
    },
  };
}
