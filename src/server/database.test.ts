import Database from 'better-sqlite3';
import { copyFileSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
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

test('what was traced before a table was built anew is there afterwards, and only known ways onward are taken', () => {
  const migrations = path.join(process.cwd(), 'src/server/migrations');
  const older = mkdtempSync(path.join(tmpdir(), 'kiv-older-'));
  for (const name of readdirSync(migrations).filter((each) => each < '0004'))
    copyFileSync(path.join(migrations, name), path.join(older, name));
  const database = new Database(':memory:');
  database.pragma('foreign_keys = ON');
  migrate(database, older);
  database.exec(`
    INSERT INTO shot (id, name, original_name, file_name, byte_size, container, codec, width, height, rotation, rate_num,
      rate_den, constant_rate, frame_count, duration, colour_matrix, full_range, has_sound, timestamps, key_frames, created_at)
      VALUES ('s', 's', 's', 's', 1, 'mp4', 'avc', 8, 8, 0, 25, 1, 1, 9, 1, 'bt709', 0, 0, x'', x'', '');
    INSERT INTO crossing (id, name, plan, width, height, rate_num, rate_den, length, created_at, updated_at)
      VALUES ('c', 'Door', 'opening', 8, 8, 25, 1, 9, '', '');
    INSERT INTO layer (id, crossing_id, role, shot_id, position, frame_offset) VALUES ('l', 'c', 'outgoing', 's', 0, 0);
    INSERT INTO outline (id, crossing_id, layer_id, name, kind, swept_side, position, points, spread)
      VALUES ('o', 'c', 'l', 'Gap', 'loop', 'left', 0, '["a"]', 0);
    INSERT INTO pose (outline_id, frame, crossing_id, origin, onward, coordinates) VALUES ('o', 3, 'c', 'by hand', 'smooth', '[1]');
    INSERT INTO edge VALUES ('o~3', 'c', 'o', 3, 'hold', 1, 2, -3, 4, '[]');
  `);
  const kept = () => [
    database.prepare('SELECT frame, origin, onward, coordinates FROM pose').raw().all(),
    database.prepare('SELECT * FROM edge').raw().all(),
  ];
  const before = kept();
  migrate(database, migrations);
  expect(kept()).toEqual(before);
  const onward = database.prepare('UPDATE pose SET onward = ?');
  onward.run('eased');
  expect(() => onward.run('sideways')).toThrow('CHECK');
  expect(() => database.prepare("UPDATE pose SET outline_id = 'none'").run()).toThrow('FOREIGN KEY');
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
