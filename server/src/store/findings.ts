/** Findings of scans. */
import { wordsIn, type FindingView } from '@glue-trace/core';
import type { BesideView, FindingPage, FindingRow, ScanChange, Shown } from '../api.js';
import { fromJson, now, type Sql } from './sql.js';

/** How a list is narrowed, as the store knows it. */
export interface FindingFilter extends Omit<Shown, 'since' | 'route' | 'played' | 'scene' | 'owner'> {
  /** Only those that this scan does not have. */
  notIn?: number;
  /** Only these positions. */
  among?: readonly number[];
  offset: number;
  limit: number;
}

/** What somebody noted on a finding; null for nothing. */
const NOTE = `(SELECT n.text FROM finding_notes AS n JOIN scans ON scans.project_id = n.project_id
                WHERE scans.id = scan_id AND n.fingerprint = findings.fingerprint)`;
const ROW = `SELECT position, fingerprint, check_id AS "check", severity, file, line, text, body ->> '$.places' AS places,
                    waived, body -> '$.sentence' AS sentence, ${NOTE} AS note FROM findings WHERE scan_id = ? AND position = ?`;

/** Findings are saved with the worst first. */
const ORDERS: Record<NonNullable<Shown['order']>, string> = {
  worst: 'position',
  file: 'file, line, position',
  places: "CAST(body ->> '$.places' AS INTEGER) DESC, position",
};
/** More stand in no pane: they are looked for by words. */
const MOST_BESIDE = 20;

export function findingsTable(sql: Sql) {
  /** How many fingerprints of a scan another one does not have. */
  const onlyIn = (scanId: number, other: number): number =>
    sql(
      `SELECT count(*) AS count FROM findings AS a WHERE a.scan_id = ?
         AND a.waived = 0 AND NOT EXISTS (SELECT 1 FROM findings AS b WHERE b.scan_id = ? AND b.waived = 0 AND b.fingerprint = a.fingerprint)`,
    ).one<{ count: number }>(scanId, other).count;

  /** The scan that somebody looked at last, before one; or else the one before it. */
  const lookedAtBefore = (projectId: number, scanId: number): number | null =>
    sql(
      `SELECT coalesce(max(id) FILTER (WHERE seen_at IS NOT NULL), max(id)) AS before FROM scans
         WHERE project_id = ? AND state = 'done' AND id < ?`,
    ).one<{ before: number | null }>(projectId, scanId).before;

  const byFolder = ({ where, values }: ReturnType<typeof conditions>): { folder: string; count: number }[] =>
    sql(
      `SELECT substr(file, 1, max(instr(file, '/') - 1, 0)) AS folder, count(*) AS count FROM findings
         WHERE ${where} GROUP BY 1 ORDER BY 2 DESC, 1`,
    ).all(...values);

  const rowsOf = (scanId: number, filter: FindingFilter): FindingRow[] => {
    const { where, values } = conditions(scanId, filter);
    const places = sql(
      `SELECT position FROM findings WHERE ${where} ORDER BY ${ORDERS[filter.order ?? 'worst']} LIMIT ? OFFSET ?`,
    ).all<{
      position: number;
    }>(...values, filter.limit, filter.offset);
    return places.map(({ position }): FindingRow => {
      const row = sql(ROW).one<Omit<FindingRow, 'sentence'> & { sentence: string }>(scanId, position);
      return { ...row, places: Number(row.places), sentence: fromJson(row.sentence) };
    });
  };

  return {
    findings(scanId: number, filter: FindingFilter): Omit<FindingPage, 'scanId' | 'offset' | 'before'> {
      const { where, values } = conditions(scanId, filter);
      const { total } = sql(`SELECT count(*) AS total FROM findings WHERE ${where}`).one<{ total: number }>(...values);
      const withoutCheck = conditions(scanId, { ...filter, check: undefined });
      const withoutSeverity = conditions(scanId, { ...filter, severity: undefined });
      const withoutFolder = conditions(scanId, { ...filter, folder: undefined });
      const onlyWaived = conditions(scanId, { ...filter, waived: 'only' });
      return {
        total,
        waived: sql(`SELECT count(*) AS count FROM findings WHERE ${onlyWaived.where}`).one<{ count: number }>(
          ...onlyWaived.values,
        ).count,
        rows: rowsOf(scanId, filter),
        byCheck: sql(
          `SELECT check_id AS "check", count(*) AS count FROM findings WHERE ${withoutCheck.where} GROUP BY check_id ORDER BY min(position)`,
        ).all(...withoutCheck.values),
        byFolder: byFolder(withoutFolder),
        bySeverity: sql(
          `SELECT severity, count(*) AS count FROM findings WHERE ${withoutSeverity.where} GROUP BY severity ORDER BY min(position)`,
        ).all(...withoutSeverity.values),
      };
    },
    /** Where the first findings of a scan stand, in order. */
    findingPlaces: (scanId: number, most: number): { file: string; line: number }[] =>
      sql('SELECT file, line FROM findings WHERE scan_id = ? ORDER BY position LIMIT ?').all(scanId, most),
    /** Positions of findings that are not accepted. */
    openPositions: (scanId: number): number[] =>
      sql('SELECT position FROM findings WHERE scan_id = ? AND waived = 0')
        .all<{ position: number }>(scanId)
        .map(({ position }) => position),
    /** Other findings about a piece, worst first. */
    findingsBeside(scanId: number, fingerprint: string, piece: string): BesideView[] {
      return sql(
        `SELECT fingerprint, severity, text FROM findings WHERE scan_id = ? AND fingerprint <> ? AND waived = 0
           AND instr(body, json_quote(?)) > 0
           AND EXISTS (SELECT 1 FROM json_each(body, '$.pieces') WHERE value ->> '$.key' = ?)
           ORDER BY position LIMIT ${MOST_BESIDE}`,
      ).all(scanId, fingerprint, piece, piece);
    },
    noteOn: (projectId: number, fingerprint: string): string =>
      sql('SELECT text FROM finding_notes WHERE project_id = ? AND fingerprint = ?').get<{ text: string }>(
        projectId,
        fingerprint,
      )?.text ?? '',
    /** @param text empty takes the note out */
    noteFinding(projectId: number, fingerprint: string, text: string): void {
      if (text === '')
        sql('DELETE FROM finding_notes WHERE project_id = ? AND fingerprint = ?').run(projectId, fingerprint);
      else
        sql(
          `INSERT INTO finding_notes VALUES (?, ?, ?, ?)
             ON CONFLICT DO UPDATE SET text = excluded.text, noted_at = excluded.noted_at`,
        ).run(projectId, fingerprint, text, now());
    },
    finding(scanId: number, fingerprint: string): FindingView | undefined {
      const row = sql('SELECT body FROM findings WHERE scan_id = ? AND fingerprint = ?').get<{ body: string }>(
        scanId,
        fingerprint,
      );
      return row && fromJson(row.body);
    },
    /** How many findings that count stand in each first folder; empty for files at the top. */
    byFolder: (scanId: number): { folder: string; count: number }[] => byFolder(conditions(scanId, {})),
    /** The findings of a scan that a filter chooses, in order. */
    chosenFindings(scanId: number, filter: Partial<FindingFilter>): FindingView[] {
      const { where, values } = conditions(scanId, filter);
      return sql(`SELECT body FROM findings WHERE ${where} ORDER BY ${ORDERS[filter.order ?? 'worst']}`)
        .all<{ body: string }>(...values)
        .map(({ body }) => fromJson<FindingView>(body));
    },
    /** All findings of a scan, in order. */
    allFindings: (scanId: number): FindingView[] =>
      sql('SELECT body FROM findings WHERE scan_id = ? ORDER BY position')
        .all<{ body: string }>(scanId)
        .map(({ body }) => fromJson<FindingView>(body)),
    /** What a scan changed against the one before it that somebody looked at, or else the finished one before; null for the first. */
    changeOf(projectId: number, scanId: number): ScanChange | null {
      const before = lookedAtBefore(projectId, scanId);
      return before === null ? null : { since: before, appeared: onlyIn(scanId, before), gone: onlyIn(before, scanId) };
    },
    lookedAtBefore,
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
  const { waived = 'without', notIn, among } = filter;
  if (waived !== 'with') parts.push(`waived = ${waived === 'only' ? 1 : 0}`);
  if (notIn !== undefined) {
    parts.push('NOT EXISTS (SELECT 1 FROM findings AS b WHERE b.scan_id = ? AND b.fingerprint = findings.fingerprint)');
    values.push(notIn);
  }
  if (among) {
    parts.push('position IN (SELECT value FROM json_each(?))');
    values.push(JSON.stringify(among));
  }
  if (filter.rests) parts.push(`learned = ${filter.rests === 'learned' ? 1 : 0}`);
  if (filter.noted)
    parts.push(
      `fingerprint IN (SELECT n.fingerprint FROM finding_notes AS n JOIN scans ON scans.project_id = n.project_id WHERE scans.id = scan_id)`,
    );
  if (filter.folder) {
    parts.push(`(instr(files, ?) > 0 OR instr(files, ?) > 0)`);
    values.push(`\n${filter.folder}\n`, `\n${filter.folder}/`);
  }
  for (const word of wordsIn(filter.text ?? '')) {
    parts.push('(instr(folded(text), ?) > 0 OR instr(folded(files), ?) > 0)');
    values.push(word, word);
  }
  return { where: parts.join(' AND '), values };
}
