/** The one way to the database: statements are prepared once, and texts are compared as everywhere else. */
import { mkdirSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import Database from 'better-sqlite3';
import { folded, GlueError, type ErrorCode } from '@glue-trace/core';

const MIGRATIONS = join(dirname(fileURLToPath(import.meta.url)), '..', '..', 'src', 'store', 'migrations');

/** What a statement gives or changes. Rows have the shape that the statement names; whoever calls says which. */
export interface Statement {
  get<Row>(...values: unknown[]): Row | undefined;
  /** For what always has a row, as counts have. */
  one<Row>(...values: unknown[]): Row;
  all<Row>(...values: unknown[]): Row[];
  run(...values: unknown[]): { changes: number; lastInsertRowid: number | bigint };
}

export interface Sql {
  (text: string): Statement;
  /** Does all of it or nothing. */
  together<Result>(run: () => Result): Result;
  /** From now on a write fails at once with `store/busy` while another connection writes; five seconds are waited else. */
  neverWait(): void;
  close(): void;
}

/**
 * Opens a database and brings its tables up to date. `:memory:` keeps nothing.
 * @param folder of the statements that do so
 * @throws GlueError `file/unwritable` when it cannot be made; `store/newer`, `store/spoilt`, `store/busy`,
 *   `store/unwritable`: these also from every statement
 */
export function openSql(path: string, folder = MIGRATIONS): Sql {
  const db = openDatabase(path);
  telling(path, () => {
    db.pragma('busy_timeout = 5000');
    mustBeOurs(db, path, folder);
    db.pragma('journal_mode = WAL');
    db.pragma('foreign_keys = ON');
    // SQLite's own knows the letters of one language alone.
    db.function('folded', { deterministic: true }, (text: unknown) => folded(String(text)));
    migrate(db, folder);
  });
  const prepared = new Map<string, Statement>();
  const sql = (text: string): Statement => {
    let statement = prepared.get(text);
    if (!statement) prepared.set(text, (statement = telling(path, () => statementOf(db.prepare(text), path))));
    return statement;
  };
  return Object.assign(sql, {
    together: <Result>(run: () => Result): Result => telling(path, () => db.transaction(run)()),
    neverWait: (): void => void db.pragma('busy_timeout = 0'),
    close: (): void => void db.close(),
  });
}

/** The binding knows nothing of what a statement selects: that is said where the statement is written. */
function statementOf(prepared: Database.Statement, path: string): Statement {
  return {
    get: <Row>(...values: unknown[]) => telling(path, () => prepared.get(...values)) as Row | undefined,
    one: <Row>(...values: unknown[]) => {
      const row = telling(path, () => prepared.get(...values)) as Row | undefined;
      if (row === undefined) throw new Error(`no row for: ${prepared.source}`);
      return row;
    },
    all: <Row>(...values: unknown[]) => telling(path, () => prepared.all(...values)) as Row[],
    run: (...values) => telling(path, () => prepared.run(...values)),
  };
}

/** What SQLite says when the file is at fault, and not the statement. */
const FAULTS: [RegExp, ErrorCode, string][] = [
  [
    /^SQLITE_(NOTADB|CORRUPT)/,
    'store/spoilt',
    'is no store any more. Move it away, and a new one is made; repairs written before can then not be taken back.',
  ],
  [
    /^SQLITE_(BUSY|LOCKED)/,
    'store/busy',
    'is being written by another program. Try again, or give another store with --data.',
  ],
  [
    /^SQLITE_(READONLY|FULL|IOERR|CANTOPEN|PERM|AUTH)/,
    'store/unwritable',
    'cannot be written. Make room for it, or give another place with --data.',
  ],
];

/** Does something with the database; faults of the file are told by name. */
function telling<Result>(path: string, run: () => Result): Result {
  try {
    return run();
  } catch (error) {
    const { code = '', message } = error as { code?: string; message: string };
    const fault = FAULTS.find(([pattern]) => pattern.test(code));
    if (!fault) throw error;
    throw new GlueError(fault[1], `${path} ${fault[2]} (${message})`);
  }
}

/** @throws GlueError `store/newer`, before anything is written */
function mustBeOurs(db: Database.Database, path: string, folder: string): void {
  const [has, known] = [Number(db.pragma('user_version', { simple: true })), migrations(folder).length];
  if (has > known)
    throw new GlueError(
      'store/newer',
      `${path} has the version ${has}, and this Glue Trace knows ${known}. Bring Glue Trace up to date, or give another store with --data.`,
    );
}

function migrations(folder: string): string[] {
  return readdirSync(folder)
    .filter((name) => name.endsWith('.sql'))
    .sort();
}

/** A value that the store itself wrote as JSON. */
export function fromJson<Value>(text: string): Value {
  return JSON.parse(text) as Value;
}

function openDatabase(path: string): Database.Database {
  try {
    if (path !== ':memory:') mkdirSync(dirname(path), { recursive: true });
    return new Database(path);
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error);
    throw new GlueError('file/unwritable', `The store ${path} cannot be opened: ${why}.`);
  }
}

/** Runs the migrations that this store has not seen, each in a transaction of its own. */
function migrate(db: Database.Database, folder: string): void {
  const done = Number(db.pragma('user_version', { simple: true }));
  for (const [at, name] of migrations(folder).entries()) {
    if (at < done) continue;
    db.transaction(() => {
      db.exec(readFileSync(join(folder, name), 'utf8'));
      db.pragma(`user_version = ${at + 1}`);
    })();
  }
}

/** The present moment as it is stored. */
export function now(): string {
  return new Date().toISOString();
}
