import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

process.env.KIV_DATA = mkdtempSync(path.join(tmpdir(), 'kiv-killed-'));

/* The modules read KIV_DATA when they are first used. */
import { killRounds } from './kills';

/** 200 rounds: `npm run bench -- kills`. */
test('killed twenty times while it writes, it has kept all that it had acknowledged', async () => {
  const { acknowledged, wrong } = await killRounds(Number(process.env.KIV_RUNS ?? 20));
  expect(wrong).toEqual([]);
  expect(acknowledged).toBeGreaterThan(100);
}, 240_000);
