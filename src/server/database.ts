import Database from 'better-sqlite3';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { databaseFile, prepareDataFolder } from './data-folder';

export type Connection = Database.Database;

/**
 * Opens a database, checks it and brings it up to date.
 *
 * @param file path, or `:memory:`.
 * @throws Error when SQLite finds the file damaged, or a migration fails (which then leaves no trace).
 */
export function openDatabase(file: string): Connection {
  const database = new Database(file);
  database.pragma('journal_mode = WAL');
  database.pragma('synchronous = FULL');
  database.pragma('foreign_keys = ON');
  const integrity = database.pragma('quick_check', { simple: true });
  if (integrity !== 'ok')
    throw new Error(`The database ${file} is damaged (${String(integrity)}). Put back a copy of it.`);
  migrate(database, path.join(process.cwd(), 'src/server/migrations'));
  return database;
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
