/** Which server serves the store: there is one at a time. */
import { GlueError } from '@glue-trace/core';
import { isAtWork } from './processes.js';
import type { Sql } from './sql.js';

export function serverTable(sql: Sql) {
  return {
    /** Notes that this process serves the store. @throws GlueError `store/busy` when another one does */
    beginServing(path: string): void {
      sql.together(() => {
        const other = sql('SELECT pid, address FROM server').get<{ pid: number; address: string }>();
        if (other && isAtWork(other.pid))
          throw new GlueError(
            'store/busy',
            `${path} is served already${other.address && `, at ${other.address}`} (process ${other.pid}). Go there, or give another store with --data.`,
          );
        sql("INSERT OR REPLACE INTO server (one, pid, address) VALUES (1, ?, '')").run(process.pid);
      });
    },
    /** Where the store is served now; empty when it is not. */
    serving(): string {
      const row = sql('SELECT pid, address FROM server').get<{ pid: number; address: string }>();
      return row && isAtWork(row.pid) ? row.address : '';
    },
    servesAt: (address: string): void =>
      void sql('UPDATE server SET address = ? WHERE pid = ?').run(address, process.pid),
    endServing: (): void => void sql('DELETE FROM server WHERE pid = ?').run(process.pid),
  };
}
