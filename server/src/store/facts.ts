/** Facts of files, kept for the next scan. */
import type { FactsCache } from '../scan/scan-folder.js';
import type { FileEntry } from '../scan/read-one.js';
import { FILE } from './files.js';
import { now, type Sql } from './sql.js';

const DAYS_FACTS_ARE_KEPT = 30;

export function factsTable(sql: Sql) {
  return {
    factsCache(projectId: number): FactsCache & { save(): void } {
      const added = new Map<string, string>();
      const used: string[] = [];
      return {
        entries: () =>
          sql(
            `${FILE} WHERE scan_id = (SELECT max(id) FROM scans WHERE state = 'done' AND project_id = ?)`,
          ).all<FileEntry>(projectId),
        get(key) {
          const row = sql('SELECT body FROM facts WHERE key = ?').get<{ body: string }>(key);
          if (row) used.push(key);
          return row?.body;
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
            const before = new Date(Date.now() - DAYS_FACTS_ARE_KEPT * 86_400_000).toISOString();
            sql('DELETE FROM facts WHERE used_at < ?').run(before);
          }),
      };
    },
  };
}
