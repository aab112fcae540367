import { mkdirSync, readdirSync, renameSync, rmSync } from 'node:fs';
import path from 'node:path';
import { copiesFolder } from './data-folder';
import { type Connection, database } from './database';
import { isDiskFull } from './full-disk';

const kept = 7;
/** ms between two looks whether a new day has begun. */
const lookEvery = 3600e3;

const copyName = /^kiv-(\d{4}-\d{2}-\d{2})\.sqlite$/;

/**
 * Copies the database by SQLite's own backup, unless the day has its copy already, and keeps the newest seven.
 *
 * @param day as in 2026-11-25.
 * @returns whether a copy was made.
 */
export async function copyOfDay(db: Connection, folder: string, day: string): Promise<boolean> {
  mkdirSync(folder, { recursive: true });
  for (const name of readdirSync(folder)) if (name.startsWith('arriving-')) rmSync(path.join(folder, name));
  const file = path.join(folder, `kiv-${day}.sqlite`);
  const copies = () =>
    readdirSync(folder)
      .filter((name) => copyName.test(name))
      .sort();
  if (copies().includes(path.basename(file))) return false;
  const arriving = path.join(folder, `arriving-${day}.sqlite`);
  try {
    await db.backup(arriving);
    renameSync(arriving, file);
  } finally {
    rmSync(arriving, { force: true });
  }
  for (const name of copies().slice(0, -kept)) rmSync(path.join(folder, name));
  return true;
}

/** Copies the open database now and on every day that follows. */
export function copyDaily() {
  const copy = async () => {
    try {
      await copyOfDay(database(), copiesFolder(), new Date().toISOString().slice(0, 10));
    } catch (error) {
      console.error(
        isDiskFull(error)
          ? 'There was no room for today’s copy of the database; it is tried again in an hour.'
          : error,
      );
    }
  };
  void copy();
  setInterval(() => void copy(), lookEvery).unref();
}
