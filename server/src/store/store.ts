/** What is kept between scans, in one SQLite file: a file of statements for each kind of thing. */
import { factsTable } from './facts.js';
import { filesTable } from './files.js';
import { findingsTable } from './findings.js';
import { projectsTable } from './projects.js';
import { repairsTable } from './repairs.js';
import { scansTable } from './scans.js';
import { serverTable } from './servers.js';
import { openSql } from './sql.js';

export type { FindingFilter } from './findings.js';
export type { ProjectRow } from './projects.js';
export type { RepairRow, WrittenFile } from './repairs.js';
export type { ScanRow } from './scans.js';

export type Store = ReturnType<typeof openStore>;

/**
 * Opens the store and brings its tables up to date. `:memory:` keeps nothing.
 * @throws GlueError `file/unwritable`
 */
export function openStore(path: string) {
  const sql = openSql(path);
  return {
    close: (): void => sql.close(),
    neverWait: (): void => sql.neverWait(),
    ...projectsTable(sql),
    ...scansTable(sql),
    ...findingsTable(sql),
    ...filesTable(sql),
    ...repairsTable(sql),
    ...factsTable(sql),
    ...serverTable(sql),
  };
}
