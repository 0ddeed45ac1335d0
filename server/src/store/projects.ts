/** Projects that were opened. */
import { now, type Sql } from './sql.js';

export interface ProjectRow {
  id: number;
  folder: string;
  planFile: string | null;
  name: string;
  openedAt: string;
}

const PROJECT = 'SELECT id, folder, plan_file AS planFile, name, opened_at AS openedAt FROM projects';

export function projectsTable(sql: Sql) {
  return {
    addProject(folder: string, name: string, planFile: string | null): ProjectRow {
      sql(
        `INSERT INTO projects (folder, plan_file, name, opened_at) VALUES (?, ?, ?, ?)
         ON CONFLICT (folder) DO UPDATE SET plan_file = excluded.plan_file, name = excluded.name, opened_at = excluded.opened_at`,
      ).run(folder, planFile, name, now());
      return sql(`${PROJECT} WHERE folder = ?`).one<ProjectRow>(folder);
    },
    project: (id: number): ProjectRow | undefined => sql(`${PROJECT} WHERE id = ?`).get(id),
    projects: (): ProjectRow[] => sql(`${PROJECT} ORDER BY opened_at DESC, id DESC`).all(),
    renameProject: (id: number, name: string): void =>
      void sql('UPDATE projects SET name = ? WHERE id = ?').run(name, id),
    forgetProject: (id: number): void => void sql('DELETE FROM projects WHERE id = ?').run(id),
  };
}
