import { mkdirSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import Database from 'better-sqlite3';
import { folded, GlueError, wordsIn, type FindingView, type Readiness } from '@glue-trace/core';
import type {
  FilePage,
  FileView,
  FindingPage,
  FindingRow,
  RuleView,
  ScanChange,
  ScanError,
  ScanSummary,
} from '../api.js';
import type { FileEntry } from '../scan/read-one.js';
import type { FactsCache } from '../scan/scan-folder.js';

const MIGRATIONS = join(dirname(fileURLToPath(import.meta.url)), '..', '..', 'src', 'store', 'migrations');
/** Scans of a project that are kept with their findings. */
const SCANS_KEPT = 50;
const DAYS_FACTS_ARE_KEPT = 30;
/** Repairs of a project that can be taken back. */
const REPAIRS_KEPT = 100;

export interface ProjectRow {
  id: number;
  folder: string;
  planFile: string | null;
  name: string;
  openedAt: string;
}

export interface ScanRow extends ScanSummary {
  readiness: Readiness | null;
}

/** A file that a repair changed. */
export interface WrittenFile {
  file: string;
  /** What it held before, in base 64. */
  before: string;
  /** SHA-256 of what it holds since. */
  hash: string;
}

export interface RepairRow {
  id: number;
  writtenAt: string;
  title: string;
  files: WrittenFile[];
  undoneAt: string | null;
}

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

export type Store = ReturnType<typeof openStore>;

/**
 * Opens the store and brings its tables up to date. `:memory:` keeps nothing.
 * @throws GlueError `file/unwritable`
 */
export function openStore(path: string) {
  let db: Database.Database;
  try {
    if (path !== ':memory:') mkdirSync(dirname(path), { recursive: true });
    db = new Database(path);
  } catch (error) {
    throw new GlueError('file/unwritable', `The store ${path} cannot be opened: ${(error as Error).message}.`);
  }
  db.pragma('journal_mode = WAL');
  db.pragma('foreign_keys = ON');
  db.pragma('busy_timeout = 5000');
  // SQLite's own knows the letters of one language alone.
  db.function('folded', { deterministic: true }, (text: unknown) => folded(String(text)));
  migrate(db);
  const prepared = new Map<string, Database.Statement>();
  const sql = (text: string): Database.Statement => {
    let statement = prepared.get(text);
    if (!statement) prepared.set(text, (statement = db.prepare(text)));
    return statement;
  };

  return {
    close: (): void => void db.close(),

    // Projects
    addProject(folder: string, name: string, planFile: string | null): ProjectRow {
      sql(
        `INSERT INTO projects (folder, plan_file, name, opened_at) VALUES (?, ?, ?, ?)
         ON CONFLICT (folder) DO UPDATE SET plan_file = excluded.plan_file, name = excluded.name, opened_at = excluded.opened_at`,
      ).run(folder, planFile, name, now());
      return sql(`${PROJECT} WHERE folder = ?`).get(folder) as ProjectRow;
    },
    project: (id: number): ProjectRow | undefined => sql(`${PROJECT} WHERE id = ?`).get(id) as ProjectRow | undefined,
    projects: (): ProjectRow[] => sql(`${PROJECT} ORDER BY opened_at DESC, id DESC`).all() as ProjectRow[],
    renameProject: (id: number, name: string): void =>
      void sql('UPDATE projects SET name = ? WHERE id = ?').run(name, id),
    forgetProject: (id: number): void => void sql('DELETE FROM projects WHERE id = ?').run(id),

    // Scans
    beginScan(projectId: number): number {
      const { lastInsertRowid } = sql(`INSERT INTO scans (project_id, state, started_at) VALUES (?, 'running', ?)`).run(
        projectId,
        now(),
      );
      return Number(lastInsertRowid);
    },
    failScan(scanId: number, state: 'failed' | 'stopped', error: ScanError | null): void {
      sql('UPDATE scans SET state = ?, error = ? WHERE id = ?').run(state, error && JSON.stringify(error), scanId);
    },
    /** Scans that a stopped server left behind are no longer running. */
    endLeftOver: (): number => sql(`UPDATE scans SET state = 'stopped' WHERE state = 'running'`).run().changes,
    lastScan: (projectId: number): ScanRow | undefined =>
      scanRow(sql(`${SCAN} WHERE project_id = ? ORDER BY id DESC LIMIT 1`).get(projectId)),
    lastDoneScan: (projectId: number): ScanRow | undefined =>
      scanRow(sql(`${SCAN} WHERE project_id = ? AND state = 'done' ORDER BY id DESC LIMIT 1`).get(projectId)),
    doneScans: (projectId: number, most: number): ScanRow[] =>
      sql(`${SCAN} WHERE project_id = ? AND state = 'done' ORDER BY id DESC LIMIT ?`)
        .all(projectId, most)
        .map((row) => scanRow(row)!),

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
      db.transaction(() => {
        // A scan that was stopped meanwhile stays stopped.
        const { state } = sql('SELECT state FROM scans WHERE id = ?').get(scanId) as { state: string };
        if (state !== 'running') throw new GlueError('scan/stopped', 'The scan was stopped before it was saved.');
        const addFinding = sql('INSERT INTO findings VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)');
        result.findings.forEach((finding, position) => {
          const [{ file, range }] = finding.evidence;
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
            finding.cause,
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
      })();
    },

    /** Drops a scan that found every file as the finished one before did; says whether it did. */
    dropWhenUnchanged(scanId: number, files: FileEntry[]): boolean {
      const before = sql(
        `SELECT max(id) AS id FROM scans WHERE state = 'done' AND project_id = (SELECT project_id FROM scans WHERE id = ?)`,
      ).get(scanId) as { id: number | null };
      if (before.id === null) return false;
      const known = sql('SELECT path, status, size, hash FROM files WHERE scan_id = ?').all(before.id) as FileEntry[];
      const sign = ({ path, status, size, hash }: FileEntry): string => `${path} ${status} ${size} ${hash}`;
      const signs = new Set(known.map(sign));
      if (known.length !== files.length || !files.every((file) => signs.has(sign(file)))) return false;
      sql('DELETE FROM scans WHERE id = ?').run(scanId);
      return true;
    },

    // Findings
    findings(scanId: number, filter: FindingFilter): Omit<FindingPage, 'scanId' | 'offset'> {
      const { where, values } = conditions(scanId, filter);
      const total = (sql(`SELECT count(*) AS total FROM findings WHERE ${where}`).get(...values) as { total: number })
        .total;
      const groups = sql(
        filter.grouped
          ? `SELECT min(position) AS position, count(*) AS alike FROM findings WHERE ${where} GROUP BY cause
             ORDER BY min(position) LIMIT ? OFFSET ?`
          : `SELECT position, 1 AS alike FROM findings WHERE ${where} ORDER BY position LIMIT ? OFFSET ?`,
      ).all(...values, filter.limit, filter.offset) as { position: number; alike: number }[];
      const one = sql(
        `SELECT position, fingerprint, check_id AS "check", severity, file, line, text, body ->> '$.places' AS places,
                body -> '$.sentence' AS sentence, cause FROM findings WHERE scan_id = ? AND position = ?`,
      );
      const rows = groups.map(({ position, alike }) => ({
        ...(one.get(scanId, position) as Omit<FindingRow, 'sentence' | 'alike'> & { sentence: string }),
        alike,
      }));
      const causes = filter.grouped
        ? (
            sql(`SELECT count(DISTINCT cause) AS causes FROM findings WHERE ${where}`).get(...values) as {
              causes: number;
            }
          ).causes
        : total;
      const withoutCheck = conditions(scanId, { ...filter, check: undefined });
      const withoutSeverity = conditions(scanId, { ...filter, severity: undefined });
      return {
        total,
        lines: causes,
        rows: rows.map((row) => ({
          ...row,
          places: Number(row.places),
          sentence: JSON.parse(row.sentence) as FindingRow['sentence'],
        })),
        byCheck: sql(
          `SELECT check_id AS "check", count(*) AS count FROM findings WHERE ${withoutCheck.where} GROUP BY check_id ORDER BY min(position)`,
        ).all(...withoutCheck.values) as FindingPage['byCheck'],
        bySeverity: sql(
          `SELECT severity, count(*) AS count FROM findings WHERE ${withoutSeverity.where} GROUP BY severity ORDER BY min(position)`,
        ).all(...withoutSeverity.values) as FindingPage['bySeverity'],
      };
    },
    finding(scanId: number, fingerprint: string): FindingView | undefined {
      const row = sql('SELECT body FROM findings WHERE scan_id = ? AND fingerprint = ?').get(scanId, fingerprint) as
        { body: string } | undefined;
      return row && (JSON.parse(row.body) as FindingView);
    },
    /** Fingerprints of findings, in order. */
    fingerprints: (scanId: number, filter: Partial<FindingFilter>, most: number): string[] => {
      const { where, values } = conditions(scanId, filter);
      return (
        sql(`SELECT fingerprint FROM findings WHERE ${where} ORDER BY position LIMIT ?`).all(...values, most) as {
          fingerprint: string;
        }[]
      ).map((row) => row.fingerprint);
    },
    /** What a scan changed against the finished one before; null for the first. */
    changeOf(projectId: number, scanId: number): ScanChange | null {
      const before = sql(`SELECT max(id) AS id FROM scans WHERE project_id = ? AND state = 'done' AND id < ?`).get(
        projectId,
        scanId,
      ) as {
        id: number | null;
      };
      return before.id === null
        ? null
        : { appeared: this.onlyIn(scanId, before.id), gone: this.onlyIn(before.id, scanId) };
    },
    /** How many fingerprints of a scan another one does not have. */
    onlyIn: (scanId: number, other: number): number =>
      (
        sql(
          `SELECT count(*) AS count FROM findings AS a WHERE a.scan_id = ?
             AND NOT EXISTS (SELECT 1 FROM findings AS b WHERE b.scan_id = ? AND b.fingerprint = a.fingerprint)`,
        ).get(scanId, other) as { count: number }
      ).count,

    // Files
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
      const { total } = sql(`SELECT count(*) AS total FROM files WHERE ${where}`).get(...values) as { total: number };
      const rows = sql(
        `SELECT path, status, rule, reason, size FROM files WHERE ${where}
         ORDER BY CASE status WHEN 'unread' THEN 0 WHEN 'partly' THEN 1 WHEN 'listed' THEN 2 ELSE 3 END, path LIMIT ? OFFSET ?`,
      ).all(...values, filter.limit, filter.offset) as FileView[];
      return { total, offset: filter.offset, rows };
    },
    /** Paths and what became of them, for counting. */
    fileStates: (scanId: number): Pick<FileView, 'path' | 'status' | 'reason'>[] =>
      sql('SELECT path, status, reason FROM files WHERE scan_id = ? ORDER BY path').all(scanId) as Pick<
        FileView,
        'path' | 'status' | 'reason'
      >[],
    file: (scanId: number, path: string): FileEntry | undefined =>
      sql(`${FILE} WHERE scan_id = ? AND path = ?`).get(scanId, path) as FileEntry | undefined,
    rules(scanId: number): RuleView[] {
      const { rules } = sql('SELECT rules FROM scans WHERE id = ?').get(scanId) as { rules: string | null };
      return rules ? (JSON.parse(rules) as RuleView[]) : [];
    },

    // Repairs
    addRepair(projectId: number, title: string, files: WrittenFile[]): number {
      const { lastInsertRowid } = sql(
        'INSERT INTO repairs (project_id, written_at, title, files) VALUES (?, ?, ?, ?)',
      ).run(projectId, now(), title, JSON.stringify(files));
      sql(
        `DELETE FROM repairs WHERE project_id = @project
           AND id NOT IN (SELECT id FROM repairs WHERE project_id = @project ORDER BY id DESC LIMIT @kept)`,
      ).run({ project: projectId, kept: REPAIRS_KEPT });
      return Number(lastInsertRowid);
    },
    repair: (projectId: number, id: number): RepairRow | undefined =>
      repairRow(sql(`${REPAIR} WHERE project_id = ? AND id = ?`).get(projectId, id)),
    /** Newest first. */
    repairs: (projectId: number): RepairRow[] =>
      sql(`${REPAIR} WHERE project_id = ? ORDER BY id DESC`)
        .all(projectId)
        .map((row) => repairRow(row)!),
    markUndone: (id: number): void => void sql('UPDATE repairs SET undone_at = ? WHERE id = ?').run(now(), id),

    // Facts
    factsCache(projectId: number): FactsCache & { save(): void } {
      const added = new Map<string, string>();
      const used: string[] = [];
      return {
        entries: () =>
          sql(`${FILE} WHERE scan_id = (SELECT max(id) FROM scans WHERE state = 'done' AND project_id = ?)`).all(
            projectId,
          ) as FileEntry[],
        get(key) {
          const row = sql('SELECT body FROM facts WHERE key = ?').get(key) as { body: string } | undefined;
          if (row) used.push(key);
          return row?.body;
        },
        put: (key, packed) => void added.set(key, packed),
        formerHash(path) {
          const row = sql(
            `SELECT hash FROM files WHERE path = ? AND hash <> ''
               AND scan_id IN (SELECT id FROM scans WHERE state = 'done' AND project_id = ?) ORDER BY scan_id DESC LIMIT 1`,
          ).get(path, projectId) as { hash: string } | undefined;
          return row?.hash;
        },
        save: () =>
          db.transaction(() => {
            const at = now();
            const add = sql('INSERT OR REPLACE INTO facts VALUES (?, ?, ?)');
            for (const [key, packed] of added) add.run(key, packed, at);
            const touch = sql('UPDATE facts SET used_at = ? WHERE key = ?');
            for (const key of used) touch.run(at, key);
            added.clear();
            used.length = 0;
            const before = new Date(Date.now() - DAYS_FACTS_ARE_KEPT * 86_400_000).toISOString();
            sql('DELETE FROM facts WHERE used_at < ?').run(before);
          })(),
      };
    },
  };
}

const REPAIR = 'SELECT id, written_at AS writtenAt, title, files, undone_at AS undoneAt FROM repairs';
const PROJECT = 'SELECT id, folder, plan_file AS planFile, name, opened_at AS openedAt FROM projects';
const FILE = 'SELECT path, status, rule, reason, size, hash, modified FROM files';
const SCAN =
  'SELECT id, project_id AS projectId, state, started_at AS startedAt, milliseconds, reused, error, readiness FROM scans';

function scanRow(row: unknown): ScanRow | undefined {
  if (!row) return undefined;
  const scan = row as Omit<ScanRow, 'error' | 'readiness'> & { error: string | null; readiness: string | null };
  return {
    ...scan,
    error: scan.error ? (JSON.parse(scan.error) as ScanError) : null,
    readiness: scan.readiness ? (JSON.parse(scan.readiness) as Readiness) : null,
  };
}

function repairRow(row: unknown): RepairRow | undefined {
  return row
    ? { ...(row as RepairRow), files: JSON.parse((row as { files: string }).files) as WrittenFile[] }
    : undefined;
}

function now(): string {
  return new Date().toISOString();
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

/** Runs the migrations that this store has not seen, each in a transaction of its own. */
function migrate(db: Database.Database): void {
  const done = db.pragma('user_version', { simple: true }) as number;
  const files = readdirSync(MIGRATIONS)
    .filter((name) => name.endsWith('.sql'))
    .sort();
  for (const [at, name] of files.entries()) {
    if (at < done) continue;
    db.transaction(() => {
      db.exec(readFileSync(join(MIGRATIONS, name), 'utf8'));
      db.pragma(`user_version = ${at + 1}`);
    })();
  }
}
