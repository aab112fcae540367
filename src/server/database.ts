import Database from 'better-sqlite3';
import { existsSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { databaseFile, prepareDataFolder } from './data-folder';

export type Connection = Database.Database;

/** Why the database cannot be worked with: a sentence for the person who starts Kiv. */
export class UnusableDatabase extends Error {}

const migrationsFolder = () => path.join(process.cwd(), 'src/server/migrations');

/**
 * Opens a database, checks it and brings it up to date.
 *
 * @param file path, or `:memory:`.
 * @throws UnusableDatabase when SQLite finds the file damaged or a newer Kiv has written it: nothing in it is changed
 *   then; Error when a migration fails, which leaves no trace.
 */
export function openDatabase(file: string): Connection {
  if (file !== ':memory:' && existsSync(/*turbopackIgnore: true*/ file)) requireUsable(file);
  const database = new Database(file);
  database.pragma('journal_mode = WAL');
  database.pragma('synchronous = FULL');
  database.pragma('foreign_keys = ON');
  migrate(database, migrationsFolder());
  return database;
}

/** Looks at a database without writing to it. */
function requireUsable(file: string) {
  const [log, index] = [`${file}-wal`, `${file}-shm`];
  const before = new Set([log, index].filter((name) => existsSync(/*turbopackIgnore: true*/ name)));
  let version = 0;
  let integrity: unknown;
  try {
    const database = new Database(file, { readonly: true });
    try {
      version = database.pragma('user_version', { simple: true }) as number;
      integrity = database.pragma('quick_check(1)', { simple: true });
    } finally {
      database.close();
    }
  } catch (error) {
    if (error instanceof Database.SqliteError && error.code === 'SQLITE_CANTOPEN')
      throw new UnusableDatabase(
        `The database ${file} cannot be read. Check who may read it. Nothing was changed.`,
      );
    integrity = error instanceof Error ? error.message : error;
  }
  // Reading leaves the files of the journal behind; they are ours only where there were none.
  for (const name of [log, index])
    if (!before.has(name)) rmSync(/*turbopackIgnore: true*/ name, { force: true });
  if (integrity !== 'ok')
    throw new UnusableDatabase(
      `The database ${file} is damaged (${String(integrity)}). Nothing was changed. Put back a copy of it: npm start -- --restore`,
    );
  if (version > newestMigration(migrationsFolder()))
    throw new UnusableDatabase(
      `The database ${file} was written by a newer Kiv. Start that one, or set KIV_DATA to another folder. Nothing was changed.`,
    );
}

function newestMigration(folder: string): number {
  return Math.max(
    ...readdirSync(folder)
      .filter((name) => name.endsWith('.sql'))
      .map((name) => Number.parseInt(name, 10)),
  );
}

/** Runs the migrations that are still missing, in order of their numbers, each in a transaction of its own. */
export function migrate(database: Connection, folder: string) {
  const done = database.pragma('user_version', { simple: true }) as number;
  for (const name of readdirSync(folder).sort()) {
    const number = Number.parseInt(name, 10);
    if (!name.endsWith('.sql') || number <= done) continue;
    database.transaction(() => {
      database.exec(readFileSync(path.join(folder, name), 'utf8'));
      database.pragma(`user_version = ${number}`);
    })();
  }
}

const statements = new WeakMap<Connection, Map<string, Database.Statement>>();

/** A statement of the database, compiled once. */
export function prepared(database: Connection, sql: string): Database.Statement {
  let own = statements.get(database);
  if (!own) statements.set(database, (own = new Map()));
  let statement = own.get(sql);
  if (!statement) own.set(sql, (statement = database.prepare(sql)));
  return statement;
}

// The server's modules are loaded more than once, by page and by route; the connection is one.
const shared = globalThis as typeof globalThis & { kivDatabase?: Connection };

export function database(): Connection {
  if (!shared.kivDatabase) {
    prepareDataFolder();
    const opened = openDatabase(databaseFile());
    process.once('exit', () => opened.close());
    shared.kivDatabase = opened;
  }
  return shared.kivDatabase;
}
