/** Scans, finished or not. */
import {
  GlueError,
  type FindingView,
  type Plan,
  type Readiness,
  type Waiver,
  itemAt,
  WAIVERS_FILE,
} from '@glue-trace/core';
import type { RuleView, ScanError, ScanSummary, TouchedBy } from '../api.js';
import type { FileEntry } from '../scan/read-one.js';
import { fromJson, now, type Sql } from './sql.js';

export interface ScanRow extends ScanSummary {
  readiness: Readiness | null;
  /** Waivers that match nothing any more. */
  idleWaivers: Waiver[];
  /** What somebody wrote about it. */
  note: string;
  /** When somebody looked at it first. */
  seenAt: string | null;
  /** Who last touched the lines of what was found; null until it was asked for. */
  touched: TouchedBy[] | null;
  /** What the plan is known by that it was made by; null when it was not kept. */
  plan: string | null;
}

/** Scans of a project that are kept with their findings. */
const SCANS_KEPT = 50;
const SCAN =
  'SELECT id, project_id AS projectId, state, started_at AS startedAt, milliseconds, reused, error, readiness, idle_waivers AS idleWaivers, note, seen_at AS seenAt, touched, plan FROM scans';

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
    doneScan: (projectId: number, scanId: number): ScanRow | undefined =>
      newest(` AND state = 'done' AND id = ${Math.trunc(scanId)}`, projectId),
    seeScan: (scanId: number): void =>
      void sql('UPDATE scans SET seen_at = ? WHERE id = ? AND seen_at IS NULL').run(now(), scanId),
    keepTouched: (scanId: number, touched: readonly TouchedBy[]): void =>
      void sql('UPDATE scans SET touched = ? WHERE id = ?').run(JSON.stringify(touched), scanId),
    noteScan: (scanId: number, note: string): void =>
      void sql('UPDATE scans SET note = ? WHERE id = ?').run(note, scanId),
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
        idleWaivers: Waiver[];
        plan: Plan;
        planHash: string;
      },
    ): void {
      sql.together(() => {
        // A scan that was stopped meanwhile stays stopped.
        const { state } = sql('SELECT state FROM scans WHERE id = ?').one<{ state: string }>(scanId);
        if (state !== 'running') throw new GlueError('scan/stopped', 'The scan was stopped before it was saved.');
        const addFinding = sql('INSERT INTO findings VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)');
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
            finding.waived ? 1 : 0,
            finding.isLearned ? 1 : 0,
          );
        });
        const addFile = sql(
          `INSERT INTO files (scan_id, path, status, rule, reason, size, hash, modified) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
        );
        for (const { path, status, rule, reason, size, hash, modified } of result.files)
          addFile.run(scanId, path, status, rule, reason, size, hash, modified);
        sql(
          `UPDATE scans SET state = 'done', milliseconds = ?, reused = ?, readiness = ?, rules = ?, idle_waivers = ?, plan = ? WHERE id = ?`,
        ).run(
          result.milliseconds,
          result.reused,
          JSON.stringify(result.readiness),
          JSON.stringify(result.rules),
          JSON.stringify(result.idleWaivers),
          result.planHash,
          scanId,
        );
        sql('INSERT OR IGNORE INTO plans VALUES (?, ?)').run(result.planHash, JSON.stringify(result.plan));
        sql(
          `DELETE FROM scans WHERE project_id = (SELECT project_id FROM scans WHERE id = @scanId)
             AND note = '' AND id NOT IN (SELECT id FROM scans WHERE project_id = (SELECT project_id FROM scans WHERE id = @scanId) ORDER BY id DESC LIMIT @kept)`,
        ).run({ scanId, kept: SCANS_KEPT });
        sql('DELETE FROM plans WHERE hash NOT IN (SELECT plan FROM scans WHERE plan IS NOT NULL)').run();
      });
    },

    /** The plan that a scan was made by. */
    planKept(hash: string): Plan | undefined {
      const row = sql('SELECT body FROM plans WHERE hash = ?').get<{ body: string }>(hash);
      return row && fromJson(row.body);
    },

    /** What people decided since a scan was saved: which of its findings are accepted, and the verdict then. Says whether any changed. */
    decideScan(
      scanId: number,
      decided: { readiness: Readiness; findings: FindingView[]; idleWaivers: Waiver[] },
    ): boolean {
      let changed = 0;
      sql.together(() => {
        const update = sql(
          'UPDATE findings SET waived = ?, body = ? WHERE scan_id = ? AND fingerprint = ? AND body <> ?',
        );
        for (const finding of decided.findings) {
          const body = JSON.stringify(finding);
          changed += update.run(finding.waived ? 1 : 0, body, scanId, finding.fingerprint, body).changes;
        }
        sql('UPDATE scans SET readiness = ?, idle_waivers = ? WHERE id = ?').run(
          JSON.stringify(decided.readiness),
          JSON.stringify(decided.idleWaivers),
          scanId,
        );
      });
      return changed > 0;
    },

    /** Drops a scan that found every file as the finished one before did, decisions apart; gives that one when it did. */
    dropWhenUnchanged(scanId: number, files: FileEntry[]): number | undefined {
      const before = sql(
        `SELECT max(id) AS id FROM scans WHERE state = 'done' AND project_id = (SELECT project_id FROM scans WHERE id = ?)`,
      ).one<{ id: number | null }>(scanId);
      if (before.id === null) return undefined;
      const counts = ({ path }: FileEntry): boolean => path !== WAIVERS_FILE;
      const found = files.filter(counts);
      const known = sql('SELECT path, status, size, hash FROM files WHERE scan_id = ?')
        .all<FileEntry>(before.id)
        .filter(counts);
      const sign = ({ path, status, size, hash }: FileEntry): string => `${path} ${status} ${size} ${hash}`;
      const signs = new Set(known.map(sign));
      if (known.length !== found.length || !found.every((file) => signs.has(sign(file)))) return undefined;
      sql('DELETE FROM scans WHERE id = ?').run(scanId);
      return before.id;
    },
  };
}

type StoredScan = Omit<ScanRow, 'error' | 'readiness' | 'idleWaivers' | 'touched'> &
  Record<'error' | 'readiness' | 'idleWaivers' | 'touched', string | null>;

function scanRow(scan: StoredScan): ScanRow {
  return {
    ...scan,
    error: scan.error === null ? null : fromJson(scan.error),
    readiness: scan.readiness === null ? null : fromJson(scan.readiness),
    idleWaivers: scan.idleWaivers === null ? [] : fromJson(scan.idleWaivers),
    touched: scan.touched === null ? null : fromJson(scan.touched),
  };
}
