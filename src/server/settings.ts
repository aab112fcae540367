import { usualName, wrongPattern } from '@/core/formats/export-name';
import { database, prepared } from './database';
import { Problem } from './problem';

/** What a person has set for all crossings. */
export interface Settings {
  /** The pattern that exported files are called by. */
  exportName: string;
}

export function readSettings(): Settings {
  const value = prepared(database(), `SELECT value FROM setting WHERE name = 'export name'`).pluck().get() as
    string | undefined;
  return { exportName: value ?? usualName };
}

/** @throws Problem 400 where the pattern names nothing. */
export function changeSettings({ exportName }: Settings): Settings {
  const why = wrongPattern(exportName);
  if (why) throw new Problem(400, why);
  prepared(
    database(),
    `INSERT INTO setting (name, value) VALUES ('export name', ?) ON CONFLICT (name) DO UPDATE SET value = excluded.value`,
  ).run(exportName.trim());
  return readSettings();
}
