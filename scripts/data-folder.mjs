/** The data folder as a start finds it: made, tried out, and held for this Kiv alone. */
import Database from 'better-sqlite3';
import {
  closeSync,
  existsSync,
  mkdirSync,
  openSync,
  readdirSync,
  renameSync,
  rmSync,
  statSync,
  writeSync,
} from 'node:fs';
import path from 'node:path';

/** Why Kiv cannot start: one sentence or two for the person at the terminal. */
export class StartRefusal extends Error {}

export const dataFolder = () => path.resolve(process.env.KIV_DATA || 'data');
const databaseFile = () => path.join(dataFolder(), 'kiv.sqlite');
export const copiesFolder = () => path.join(dataFolder(), 'copies');

/** Bytes that must find room before a start: the journal of the first edits. */
const roomNeeded = 4 * 1024 * 1024;

function refuse(folder, error) {
  const elsewhere = 'Set KIV_DATA to another folder, then start again.';
  if (error.code === 'ENOSPC' || error.code === 'EDQUOT')
    throw new StartRefusal(
      `There is no room left on the disk of ${folder}. Make room, then start again. Nothing was changed.`,
    );
  if (error.code === 'EEXIST' || error.code === 'ENOTDIR')
    throw new StartRefusal(
      `Kiv’s data folder ${folder} cannot be made: a file of that name is in the way. Move it, or: ${elsewhere}`,
    );
  if (!error.code) throw error;
  throw new StartRefusal(`Kiv cannot write to its data folder ${folder} (${error.code}). ${elsewhere}`);
}

/** Makes a folder and those above it, one by one: Node's own `recursive` never ends where /proc refuses. */
function makeFolder(folder) {
  const above = path.dirname(folder);
  if (above !== folder && !existsSync(above)) makeFolder(above);
  try {
    mkdirSync(folder);
  } catch (error) {
    if (error.code !== 'EEXIST' || !statSync(folder).isDirectory()) throw error;
  }
}

/** The lock's connection, kept here: one that nothing refers to would be closed, and let go, by the collector. */
let held = null;

/**
 * Makes the data folder, tries that it can be written, and holds it until the process ends.
 *
 * @returns what lets go of it.
 * @throws StartRefusal when it cannot be made or written, is full, or another Kiv has it.
 */
export function claimDataFolder() {
  const folder = dataFolder();
  const probe = path.join(folder, `.trying-${process.pid}`);
  try {
    makeFolder(folder);
    const file = openSync(probe, 'w');
    try {
      for (let written = 0; written < roomNeeded;) written += writeSync(file, Buffer.alloc(65536));
    } finally {
      closeSync(file);
      rmSync(probe, { force: true });
    }
  } catch (error) {
    refuse(folder, error);
  }
  // SQLite's lock on a file of its own: the system lets go of it however the process ends.
  const lock = new Database(path.join(folder, 'kiv.lock'), { timeout: 0 });
  try {
    lock.pragma('journal_mode = MEMORY');
    lock.exec('BEGIN EXCLUSIVE');
  } catch (error) {
    lock.close();
    if (String(error.code).startsWith('SQLITE_BUSY'))
      throw new StartRefusal(
        `Another Kiv already runs on ${folder}. Use that one, end it first, or set KIV_DATA to another folder.`,
      );
    throw new StartRefusal(`${path.join(folder, 'kiv.lock')} is in the way. Move it, then start again.`);
  }
  held = lock;
  return () => held.close();
}

/** The daily copies of the database, the newest first. */
export function listCopies() {
  if (!existsSync(copiesFolder())) return [];
  return readdirSync(copiesFolder())
    .filter((name) => /^kiv-\d{4}-\d{2}-\d{2}\.sqlite$/.test(name))
    .sort()
    .reverse();
}

function requireWhole(file) {
  try {
    const copy = new Database(file, { readonly: true });
    try {
      if (copy.pragma('quick_check', { simple: true }) === 'ok') return;
    } finally {
      copy.close();
    }
  } catch {
    // Said below.
  }
  throw new StartRefusal(`${file} is damaged; restore another one. Nothing was changed.`);
}

/**
 * Puts a daily copy in the place of the database; the present one is set aside beside it. The folder must be held.
 *
 * @param name one of {@link listCopies}.
 * @returns the file that the present database was set aside as, or null where there was none.
 * @throws StartRefusal when there is no such copy or it is damaged: nothing is changed then.
 */
export function restoreCopy(name, now = new Date()) {
  if (!listCopies().includes(name)) throw new StartRefusal(`There is no copy ${name}.`);
  const copy = path.join(copiesFolder(), name);
  requireWhole(copy);
  const file = databaseFile();
  const stamp = now.toISOString().replace(/[:.]/g, '-');
  const aside = path.join(dataFolder(), `set-aside-${stamp}.sqlite`);
  // The copy is written whole beside it first, by SQLite's own means, then takes its place at once.
  const arriving = path.join(dataFolder(), `restoring-${process.pid}.sqlite`);
  rmSync(arriving, { force: true });
  const source = new Database(copy, { readonly: true });
  try {
    source.prepare('VACUUM INTO ?').run(arriving);
  } catch (error) {
    rmSync(arriving, { force: true });
    throw new StartRefusal(`The copy could not be put back (${error.code}). Nothing was changed.`);
  } finally {
    source.close();
  }
  const wasThere = existsSync(file);
  for (const end of ['', '-wal', '-shm']) if (existsSync(file + end)) renameSync(file + end, aside + end);
  renameSync(arriving, file);
  return wasThere ? aside : null;
}
