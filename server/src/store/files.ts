/** What became of each file in a scan. */
import { folded } from '@glue-trace/core';
import type { FilePage, FileView, RuleView } from '../api.js';
import type { FileEntry } from '../scan/read-one.js';
import { fromJson, type Sql } from './sql.js';

export const FILE = 'SELECT path, status, rule, reason, size, hash, modified FROM files';

export function filesTable(sql: Sql) {
  return {
    /** Files of a scan, those with trouble first. `folder` counts with all below it; `text` is any part of the path. */
    files(
      scanId: number,
      filter: { status?: string[]; folder?: string; text?: string; offset: number; limit: number },
    ): FilePage {
      const parts = ['scan_id = ?'];
      const values: (string | number)[] = [scanId];
      if (filter.status?.length) {
        parts.push(`status IN (${filter.status.map(() => '?').join(', ')})`);
        values.push(...filter.status);
      }
      if (filter.folder) {
        parts.push('substr(path, 1, ?) = ?');
        values.push(filter.folder.length + 1, `${filter.folder}/`);
      }
      if (filter.text) {
        parts.push('instr(folded(path), ?) > 0');
        values.push(folded(filter.text));
      }
      const where = parts.join(' AND ');
      const { total } = sql(`SELECT count(*) AS total FROM files WHERE ${where}`).one<{ total: number }>(...values);
      const rows = sql(
        `SELECT path, status, rule, reason, size FROM files WHERE ${where}
         ORDER BY CASE status WHEN 'unread' THEN 0 WHEN 'partly' THEN 1 WHEN 'listed' THEN 2 ELSE 3 END, path LIMIT ? OFFSET ?`,
      ).all<FileView>(...values, filter.limit, filter.offset);
      return { total, offset: filter.offset, rows };
    },
    /** Paths and what became of them, for counting. */
    fileStates: (scanId: number): Pick<FileView, 'path' | 'status' | 'reason'>[] =>
      sql('SELECT path, status, reason FROM files WHERE scan_id = ? ORDER BY path').all(scanId),
    filesOf: (scanId: number): FileEntry[] => sql(`${FILE} WHERE scan_id = ? ORDER BY path`).all(scanId),
    file: (scanId: number, path: string): FileEntry | undefined =>
      sql(`${FILE} WHERE scan_id = ? AND path = ?`).get(scanId, path),
    rules(scanId: number): RuleView[] {
      const { rules } = sql('SELECT rules FROM scans WHERE id = ?').one<{ rules: string | null }>(scanId);
      return rules ? fromJson(rules) : [];
    },
  };
}
