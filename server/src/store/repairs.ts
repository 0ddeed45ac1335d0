/** Repairs that were written, so that they can be taken back. */
import { fromJson, now, type Sql } from './sql.js';

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

/** Repairs of a project that are kept. */
const REPAIRS_KEPT = 100;
const REPAIR = 'SELECT id, written_at AS writtenAt, title, files, undone_at AS undoneAt FROM repairs';

export function repairsTable(sql: Sql) {
  return {
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
    repair(projectId: number, id: number): RepairRow | undefined {
      const row = sql(`${REPAIR} WHERE project_id = ? AND id = ?`).get<StoredRepair>(projectId, id);
      return row && repairRow(row);
    },
    /** Newest first. */
    repairs: (projectId: number): RepairRow[] =>
      sql(`${REPAIR} WHERE project_id = ? ORDER BY id DESC`).all<StoredRepair>(projectId).map(repairRow),
    markUndone: (id: number): void => void sql('UPDATE repairs SET undone_at = ? WHERE id = ?').run(now(), id),
  };
}

type StoredRepair = Omit<RepairRow, 'files'> & { files: string };

function repairRow(row: StoredRepair): RepairRow {
  return { ...row, files: fromJson(row.files) };
}
