import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { migrate, openDatabase } from './database';

const folder = mkdtempSync(path.join(tmpdir(), 'kiv-database-'));

test('opens with write-ahead log, foreign keys and every migration, once', () => {
  const file = path.join(folder, 'new.sqlite');
  const database = openDatabase(file);
  expect(database.pragma('journal_mode', { simple: true })).toBe('wal');
  expect(database.pragma('foreign_keys', { simple: true })).toBe(1);
  const version = database.pragma('user_version', { simple: true });
  expect(version).toBeGreaterThan(0);
  expect(() =>
    database
      .prepare(
        `INSERT INTO layer (id, crossing_id, role, shot_id, position, frame_offset)
         VALUES ('l', 'none', 'outgoing', 'none', 0, 0)`,
      )
      .run(),
  ).toThrow('FOREIGN KEY');
  database.close();
  const again = openDatabase(file);
  expect(again.pragma('user_version', { simple: true })).toBe(version);
  again.close();
});

test('a migration that fails leaves no trace, and those before it stay', () => {
  const migrations = mkdtempSync(path.join(tmpdir(), 'kiv-migrations-'));
  writeFileSync(path.join(migrations, '0101_first.sql'), 'CREATE TABLE a (x INTEGER);');
  writeFileSync(
    path.join(migrations, '0102_second.sql'),
    'CREATE TABLE b (x INTEGER); INSERT INTO nowhere VALUES (1);',
  );
  const database = openDatabase(':memory:');
  expect(() => migrate(database, migrations)).toThrow('nowhere');
  const tables = database.prepare("SELECT name FROM sqlite_master WHERE name IN ('a', 'b')").pluck().all();
  expect(tables).toEqual(['a']);
  expect(database.pragma('user_version', { simple: true })).toBe(101);
});

test('a damaged file is said to be damaged', () => {
  const file = path.join(folder, 'damaged.sqlite');
  const database = openDatabase(file);
  for (let k = 0; k < 400; k++) {
    database
      .prepare(
        `INSERT INTO crossing (id, name, plan, width, height, rate_num, rate_den, length, created_at, updated_at)
         VALUES (?, 'Name', 'pass-by', 2, 2, 25, 1, 3, '', '')`,
      )
      .run(`c${k}`);
  }
  database.close();
  const bytes = readFileSync(file);
  bytes.fill(0xee, 4096 * 3, 4096 * 9);
  writeFileSync(file, bytes);
  expect(() => openDatabase(file)).toThrow(/damaged|malformed/);
});
