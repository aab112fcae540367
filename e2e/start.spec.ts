import { expect } from '@playwright/test';
import { test } from './kiv';
import Database from 'better-sqlite3';
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { startServer } from './support';

/** Starts on folders that cannot work: one sentence, a code that tells, and nothing touched. */

const newFolder = () => mkdtempSync(path.join(tmpdir(), 'kiv-start-'));

interface Ending {
  code: number | null;
  said: string;
  seconds: number;
}

/** Starts Kiv where it should end by itself. */
function startOn(data: string, args = ['scripts/serve.mjs']): Promise<Ending> {
  const began = Date.now();
  const server = spawn('node', args, {
    env: { ...process.env, PORT: '4796', KIV_DATA: data },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  server.stdout.on('data', (bytes: Buffer) => (said += bytes.toString()));
  server.stderr.on('data', (bytes: Buffer) => (said += bytes.toString()));
  const limit = setTimeout(() => server.kill('SIGKILL'), 25_000);
  return new Promise((resolve) =>
    server.on('close', (code) => {
      clearTimeout(limit);
      resolve({ code, said, seconds: (Date.now() - began) / 1000 });
    }),
  );
}

function expectRefused({ code, said, seconds }: Ending, words: RegExp) {
  expect(said).toMatch(words);
  expect(code).toBe(1);
  expect(said, 'no stack trace').not.toMatch(/^\s+at /m);
  const lines = said.trim().split('\n');
  expect(
    lines.filter((line) => !line.includes('next.config')),
    said,
  ).toHaveLength(1);
  expect(seconds).toBeLessThan(15);
}

test('a folder that cannot be made or written ends the start in a sentence', async () => {
  const folder = newFolder();
  const inTheWay = path.join(folder, 'file');
  writeFileSync(inTheWay, 'mine');
  expectRefused(await startOn(inTheWay), /a file of that name is in the way/);
  expectRefused(await startOn(path.join(inTheWay, 'below')), /a file of that name is in the way/);
  expect(readFileSync(inTheWay, 'utf8')).toBe('mine');
  expectRefused(await startOn('/proc/kiv-data'), /cannot write to its data folder \/proc\/kiv-data/);
});

test('a damaged database and one of a newer Kiv are refused and stay as they are', async () => {
  const folder = newFolder();
  const file = path.join(folder, 'kiv.sqlite');
  writeFileSync(file, 'This is no database, but somebody’s letter. '.repeat(200));
  const letter = readFileSync(file);
  expectRefused(await startOn(folder), /is damaged .*--restore/);
  expect(readFileSync(file).equals(letter)).toBe(true);

  const newer = newFolder();
  const database = new Database(path.join(newer, 'kiv.sqlite'));
  database.exec('CREATE TABLE of_tomorrow (id TEXT); PRAGMA user_version = 999;');
  database.close();
  const before = readFileSync(path.join(newer, 'kiv.sqlite'));
  expectRefused(await startOn(newer), /written by a newer Kiv/);
  expect(readFileSync(path.join(newer, 'kiv.sqlite')).equals(before)).toBe(true);
});

test('a second Kiv on the same folder is refused; the copies of the first can be restored', async () => {
  const folder = newFolder();
  const first = await startServer(4797, folder);
  try {
    expectRefused(await startOn(folder), /Another Kiv already runs/);
    const copies = path.join(folder, 'copies');
    await expect
      .poll(() =>
        (existsSync(copies) ? readdirSync(copies) : []).filter((name) => /^kiv-.*\.sqlite$/.test(name)),
      )
      .toHaveLength(1);
  } finally {
    first.kill('SIGKILL');
  }
  await new Promise((done) => first.once('close', done));
  const names = (file: string) => {
    const database = new Database(path.join(folder, file), { readonly: true });
    const found = database.prepare('SELECT name FROM crossing ORDER BY name').pluck().all();
    database.close();
    return found;
  };
  const before = names('kiv.sqlite');
  const spoilt = new Database(path.join(folder, 'kiv.sqlite'));
  spoilt.prepare("UPDATE crossing SET name = 'spoilt'").run();
  spoilt.close();
  const restore = (...args: string[]) =>
    spawnSync('node', ['scripts/start.mjs', '--restore', ...args], {
      env: { ...process.env, KIV_DATA: folder },
      encoding: 'utf8',
    });
  const listed = restore();
  expect(listed.status, listed.stderr).toBe(0);
  expect(listed.stdout).toContain('1  20');
  // Only a copy's own number or day is meant: every day has digits in it.
  for (const other of ['0', '9', '20', '2', '-1', 'kiv']) {
    const refused = restore(other);
    expect([other, refused.status]).toEqual([other, 2]);
    expect(refused.stderr.trim()).toContain(`There is no copy “${other}”.`);
    expect(refused.stdout).toContain('1  20');
  }
  expect(names('kiv.sqlite')[0]).toBe('spoilt');
  const done = restore('1');
  expect(done.status, done.stderr).toBe(0);
  expect(names('kiv.sqlite')).toEqual(before);
  const aside = readdirSync(folder).find((name) => /^set-aside-.*\.sqlite$/.test(name));
  expect(names(aside!)[0]).toBe('spoilt');
});

test('no room: the start says so; once there is some, what waits is written', async ({ page }) => {
  const folder = newFolder();
  const disk = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=2M', 'tmpfs', folder]);
  test.skip(disk.status !== 0, 'a small disk can only be made by root');
  try {
    expectRefused(await startOn(folder), /no room left on the disk/);
    expect(readdirSync(folder)).toEqual([]);
    // Room for the demo, then a file that takes what is left.
    spawnSync('mount', ['-o', 'remount,size=80M', folder]);
    const server = await startServer(4797, folder);
    try {
      await page.goto('http://127.0.0.1:4797/crossings/6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e01');
      await expect(page.getByTestId('save-state')).toHaveText('Saved', { timeout: 30_000 });
      spawnSync('dd', ['if=/dev/zero', `of=${path.join(folder, 'filler')}`, 'bs=4096']);
      const name = 'Written on a full disk '.repeat(5).trim();
      for (let k = 0; k < 15; k++) {
        await page.getByLabel('Name of the crossing').fill(`${name} ${k}`.slice(-118));
        await page.keyboard.press('Enter');
      }
      await expect(page.getByTestId('save-state')).toContainText('The disk is full:', { timeout: 30_000 });
      const upload = await page.request.post('http://127.0.0.1:4797/api/shots?name=more.mp4', {
        data: readFileSync('demo/footage/door.mp4'),
        headers: { 'content-type': 'application/octet-stream' },
      });
      expect(upload.status()).toBe(507);
      expect(((await upload.json()) as { error: string }).error).toContain('is full');
      expect(readdirSync(path.join(folder, 'arriving'))).toEqual([]);
      spawnSync('rm', [path.join(folder, 'filler')]);
      await expect(page.getByTestId('save-state')).toHaveText('Saved', { timeout: 30_000 });
    } finally {
      server.kill('SIGKILL');
      await new Promise((done) => server.once('close', done));
    }
    const database = new Database(path.join(folder, 'kiv.sqlite'), { readonly: true });
    expect(
      database.prepare("SELECT count(*) FROM edit WHERE label = 'Rename the crossing'").pluck().get(),
    ).toBe(15);
    database.close();
  } finally {
    spawnSync('umount', ['-l', folder]);
  }
});

test('a start that cannot be says why last, and ends what it has begun', async () => {
  const script = `import('./scripts/prepare.mjs').then(({ run, fail }) => {
    run('node', ['-e', 'setInterval(() => console.log("still building"), 5)']);
    setTimeout(() => fail('It cannot be built.'), 400);
  })`;
  const { code, said, seconds } = await startOn(newFolder(), ['-e', script]);
  expect(said).toContain('still building');
  expect(said.trim().split('\n').at(-1)).toBe('It cannot be built.');
  expect(code).toBe(1);
  expect(seconds).toBeLessThan(8);
});
