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
  /** `writing` and `undoing` until all its files are written. */
  state: 'writing' | 'written' | 'undoing';
  /** The process that writes it or takes it back. */
  writer: number | null;
}

/** Repairs of a project that are kept. */
const REPAIRS_KEPT = 100;
const REPAIR = 'SELECT id, written_at AS writtenAt, title, files, undone_at AS undoneAt, state, writer FROM repairs';

export function repairsTable(sql: Sql) {
  return {
    /** Keeps a repair that is about to be written. */
    addRepair(projectId: number, title: string, files: WrittenFile[]): number {
      const { lastInsertRowid } = sql(
        "INSERT INTO repairs (project_id, written_at, title, files, state, writer) VALUES (?, ?, ?, ?, 'writing', ?)",
      ).run(projectId, now(), title, JSON.stringify(files), process.pid);
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
    /** Those that were stopped in the middle, oldest first. */
    unfinishedRepairs: (projectId: number): RepairRow[] =>
      sql(`${REPAIR} WHERE project_id = ? AND state <> 'written' ORDER BY id`)
        .all<StoredRepair>(projectId)
        .map(repairRow),
    dropRepair: (id: number): void => void sql('DELETE FROM repairs WHERE id = ?').run(id),
    markWritten: (id: number): void => void sql("UPDATE repairs SET state = 'written' WHERE id = ?").run(id),
    markUndoing: (id: number): void =>
      void sql("UPDATE repairs SET state = 'undoing', writer = ? WHERE id = ?").run(process.pid, id),
    markUndone: (id: number): void =>
      void sql("UPDATE repairs SET undone_at = ?, state = 'written' WHERE id = ?").run(now(), id),
  };
}

type StoredRepair = Omit<RepairRow, 'files'> & { files: string };

function repairRow(row: StoredRepair): RepairRow {
  return { ...row, files: fromJson(row.files) };
}
