/** Scans, finished or not. */
import { GlueError, type FindingView, type Readiness, itemAt } from '@glue-trace/core';
import type { RuleView, ScanError, ScanSummary } from '../api.js';
import type { FileEntry } from '../scan/read-one.js';
import { fromJson, now, type Sql } from './sql.js';

export interface ScanRow extends ScanSummary {
  readiness: Readiness | null;
}

/** Scans of a project that are kept with their findings. */
const SCANS_KEPT = 50;
const SCAN =
  'SELECT id, project_id AS projectId, state, started_at AS startedAt, milliseconds, reused, error, readiness FROM scans';

export function scansTable(sql: Sql) {
  const newest = (condition: string, projectId: number): ScanRow | undefined => {
    const row = sql(`${SCAN} WHERE project_id = ?${condition} ORDER BY id DESC LIMIT 1`).get<StoredScan>(projectId);
    return row && scanRow(row);
  };

  return {
    beginScan(projectId: number): number {
      const { lastInsertRowid } = sql(`INSERT INTO scans (project_id, state, started_at) VALUES (?, 'running', ?)`).run(
        projectId,
        now(),
      );
      return Number(lastInsertRowid);
    },
    /** Ends a scan that was not finished; one that was saved meanwhile stays. */
    failScan(scanId: number, state: 'failed' | 'stopped', error: ScanError | null): void {
      sql("UPDATE scans SET state = ?, error = ? WHERE id = ? AND state = 'running'").run(
        state,
        error && JSON.stringify(error),
        scanId,
      );
    },
    /** Scans that a stopped server left behind are no longer running. */
    endLeftOver: (): number => sql(`UPDATE scans SET state = 'stopped' WHERE state = 'running'`).run().changes,
    lastScan: (projectId: number): ScanRow | undefined => newest('', projectId),
    lastDoneScan: (projectId: number): ScanRow | undefined => newest(` AND state = 'done'`, projectId),
    doneScans: (projectId: number, most: number): ScanRow[] =>
      sql(`${SCAN} WHERE project_id = ? AND state = 'done' ORDER BY id DESC LIMIT ?`)
        .all<StoredScan>(projectId, most)
        .map(scanRow),

    /** Saves a finished scan whole or not at all. */
    finishScan(
      scanId: number,
      result: {
        milliseconds: number;
        reused: number;
        readiness: Readiness;
        rules: RuleView[];
        findings: FindingView[];
        files: FileEntry[];
      },
    ): void {
      sql.together(() => {
        // A scan that was stopped meanwhile stays stopped.
        const { state } = sql('SELECT state FROM scans WHERE id = ?').one<{ state: string }>(scanId);
        if (state !== 'running') throw new GlueError('scan/stopped', 'The scan was stopped before it was saved.');
        const addFinding = sql('INSERT INTO findings VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)');
        result.findings.forEach((finding, position) => {
          const { file, range } = itemAt(finding.evidence, 0);
          addFinding.run(
            scanId,
            position,
            finding.fingerprint,
            finding.check,
            finding.severity,
            file,
            range.line,
            finding.text,
            JSON.stringify(finding),
            // Every one between line ends, so that a whole one can be looked for.
            ['', ...finding.files, ''].join('\n'),
          );
        });
        const addFile = sql(
          `INSERT INTO files (scan_id, path, status, rule, reason, size, hash, modified) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
        );
        for (const { path, status, rule, reason, size, hash, modified } of result.files)
          addFile.run(scanId, path, status, rule, reason, size, hash, modified);
        sql(`UPDATE scans SET state = 'done', milliseconds = ?, reused = ?, readiness = ?, rules = ? WHERE id = ?`).run(
          result.milliseconds,
          result.reused,
          JSON.stringify(result.readiness),
          JSON.stringify(result.rules),
          scanId,
        );
        sql(
          `DELETE FROM scans WHERE project_id = (SELECT project_id FROM scans WHERE id = @scanId)
             AND id NOT IN (SELECT id FROM scans WHERE project_id = (SELECT project_id FROM scans WHERE id = @scanId) ORDER BY id DESC LIMIT @kept)`,
        ).run({ scanId, kept: SCANS_KEPT });
      });
    },

    /** Drops a scan that found every file as the finished one before did; says whether it did. */
    dropWhenUnchanged(scanId: number, files: FileEntry[]): boolean {
      const before = sql(
        `SELECT max(id) AS id FROM scans WHERE state = 'done' AND project_id = (SELECT project_id FROM scans WHERE id = ?)`,
      ).one<{ id: number | null }>(scanId);
      if (before.id === null) return false;
      const known = sql('SELECT path, status, size, hash FROM files WHERE scan_id = ?').all<FileEntry>(before.id);
      const sign = ({ path, status, size, hash }: FileEntry): string => `${path} ${status} ${size} ${hash}`;
      const signs = new Set(known.map(sign));
      if (known.length !== files.length || !files.every((file) => signs.has(sign(file)))) return false;
      sql('DELETE FROM scans WHERE id = ?').run(scanId);
      return true;
    },
  };
}

type StoredScan = Omit<ScanRow, 'error' | 'readiness'> & { error: string | null; readiness: string | null };

function scanRow(scan: StoredScan): ScanRow {
  return {
    ...scan,
    error: scan.error === null ? null : fromJson(scan.error),
    readiness: scan.readiness === null ? null : fromJson(scan.readiness),
  };
}
