/** Findings of scans. */
import { wordsIn, type FindingView } from '@glue-trace/core';
import type { FindingPage, FindingRow, ScanChange } from '../api.js';
import { fromJson, type Sql } from './sql.js';

export interface FindingFilter {
  severity?: string[];
  check?: string[];
  /** Folder or file the finding's first evidence stands in. */
  folder?: string;
  /** Words that the sentence or file must hold. */
  text?: string;
  /** Only findings with this cause. */
  cause?: string;
  /** One row for each cause. */
  grouped?: boolean;
  offset: number;
  limit: number;
}

const ROW = `SELECT position, fingerprint, check_id AS "check", severity, file, line, text, body ->> '$.places' AS places,
                    body -> '$.sentence' AS sentence, cause FROM findings WHERE scan_id = ? AND position = ?`;

export function findingsTable(sql: Sql) {
  /** How many fingerprints of a scan another one does not have. */
  const onlyIn = (scanId: number, other: number): number =>
    sql(
      `SELECT count(*) AS count FROM findings AS a WHERE a.scan_id = ?
         AND NOT EXISTS (SELECT 1 FROM findings AS b WHERE b.scan_id = ? AND b.fingerprint = a.fingerprint)`,
    ).one<{ count: number }>(scanId, other).count;

  /** A page of rows, each for one finding or, grouped, for all with one cause. */
  const rowsOf = (scanId: number, filter: FindingFilter): FindingRow[] => {
    const { where, values } = conditions(scanId, filter);
    const places = sql(
      filter.grouped
        ? `SELECT min(position) AS position, count(*) AS alike FROM findings WHERE ${where} GROUP BY cause
           ORDER BY min(position) LIMIT ? OFFSET ?`
        : `SELECT position, 1 AS alike FROM findings WHERE ${where} ORDER BY position LIMIT ? OFFSET ?`,
    ).all<{ position: number; alike: number }>(...values, filter.limit, filter.offset);
    return places.map(({ position, alike }): FindingRow => {
      const row = sql(ROW).one<Omit<FindingRow, 'sentence' | 'alike'> & { sentence: string }>(scanId, position);
      return { ...row, alike, places: Number(row.places), sentence: fromJson(row.sentence) };
    });
  };

  return {
    findings(scanId: number, filter: FindingFilter): Omit<FindingPage, 'scanId' | 'offset'> {
      const { where, values } = conditions(scanId, filter);
      const { total } = sql(`SELECT count(*) AS total FROM findings WHERE ${where}`).one<{ total: number }>(...values);
      const causes = sql(`SELECT count(DISTINCT cause) AS causes FROM findings WHERE ${where}`);
      const withoutCheck = conditions(scanId, { ...filter, check: undefined });
      const withoutSeverity = conditions(scanId, { ...filter, severity: undefined });
      return {
        total,
        lines: filter.grouped ? causes.one<{ causes: number }>(...values).causes : total,
        rows: rowsOf(scanId, filter),
        byCheck: sql(
          `SELECT check_id AS "check", count(*) AS count FROM findings WHERE ${withoutCheck.where} GROUP BY check_id ORDER BY min(position)`,
        ).all(...withoutCheck.values),
        bySeverity: sql(
          `SELECT severity, count(*) AS count FROM findings WHERE ${withoutSeverity.where} GROUP BY severity ORDER BY min(position)`,
        ).all(...withoutSeverity.values),
      };
    },
    finding(scanId: number, fingerprint: string): FindingView | undefined {
      const row = sql('SELECT body FROM findings WHERE scan_id = ? AND fingerprint = ?').get<{ body: string }>(
        scanId,
        fingerprint,
      );
      return row && fromJson(row.body);
    },
    /** Fingerprints of findings, in order. */
    fingerprints(scanId: number, filter: Partial<FindingFilter>, most: number): string[] {
      const { where, values } = conditions(scanId, filter);
      return sql(`SELECT fingerprint FROM findings WHERE ${where} ORDER BY position LIMIT ?`)
        .all<{ fingerprint: string }>(...values, most)
        .map((row) => row.fingerprint);
    },
    /** What a scan changed against the finished one before; null for the first. */
    changeOf(projectId: number, scanId: number): ScanChange | null {
      const { before } = sql(
        `SELECT max(id) AS before FROM scans WHERE project_id = ? AND state = 'done' AND id < ?`,
      ).one<{ before: number | null }>(projectId, scanId);
      return before === null ? null : { appeared: onlyIn(scanId, before), gone: onlyIn(before, scanId) };
    },
    onlyIn,
  };
}

function conditions(scanId: number, filter: Partial<FindingFilter>): { where: string; values: (string | number)[] } {
  const parts = ['scan_id = ?'];
  const values: (string | number)[] = [scanId];
  const oneOf = (column: string, wanted: string[] | undefined): void => {
    if (!wanted || wanted.length === 0) return;
    parts.push(`${column} IN (${wanted.map(() => '?').join(', ')})`);
    values.push(...wanted);
  };
  oneOf('severity', filter.severity);
  oneOf('check_id', filter.check);
  oneOf('cause', filter.cause === undefined ? undefined : [filter.cause]);
  if (filter.folder) {
    parts.push(`(file = ? OR substr(file, 1, ?) = ?)`);
    values.push(filter.folder, filter.folder.length + 1, `${filter.folder}/`);
  }
  for (const word of wordsIn(filter.text ?? '')) {
    parts.push('(instr(folded(text), ?) > 0 OR instr(folded(file), ?) > 0)');
    values.push(word, word);
  }
  return { where: parts.join(' AND '), values };
}
