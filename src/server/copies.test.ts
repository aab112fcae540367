import { mkdtempSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { copyOfDay } from './copies';
import { openDatabase } from './database';
import { respond } from './respond';

const folder = mkdtempSync(path.join(tmpdir(), 'kiv-copies-'));

test('one whole copy a day, the newest seven kept, what was cut off cleared away', async () => {
  const database = openDatabase(path.join(folder, 'kiv.sqlite'));
  const copies = path.join(folder, 'copies');
  for (let day = 1; day <= 9; day++) {
    expect(await copyOfDay(database, copies, `2026-03-0${day}`)).toBe(true);
    expect(await copyOfDay(database, copies, `2026-03-0${day}`)).toBe(false);
    writeFileSync(path.join(copies, 'arriving-2026-03-09.sqlite'), 'half');
  }
  await copyOfDay(database, copies, '2026-03-09');
  expect(readdirSync(copies).sort()).toEqual(
    [3, 4, 5, 6, 7, 8, 9].map((day) => `kiv-2026-03-0${day}.sqlite`),
  );
  const version = database.pragma('user_version', { simple: true });
  database.close();
  const copy = openDatabase(path.join(copies, 'kiv-2026-03-09.sqlite'));
  expect(copy.pragma('user_version', { simple: true })).toBe(version);
  copy.close();
});

test('a full disk is 507 and called by its name, from SQLite and from files', async () => {
  for (const code of ['SQLITE_FULL', 'ENOSPC']) {
    const answer = await respond(() => {
      throw new Error('outer', { cause: Object.assign(new Error('inner'), { code }) });
    });
    expect(answer.status).toBe(507);
    expect(((await answer.json()) as { error: string }).error).toContain('is full');
  }
});
