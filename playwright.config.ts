import { defineConfig } from '@playwright/test';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { chromiumLaunch } from './scripts/chromium.mjs';

const port = Number(process.env.KIV_TEST_PORT ?? 4790);
// The config is read again in every worker; the folder is made once.
process.env.KIV_TEST_DATA ??= mkdtempSync(path.join(tmpdir(), 'kiv-test-'));

export default defineConfig({
  testDir: 'e2e',
  timeout: 120_000,
  // How long to wait for what has no bound of its own: two windows that decode at once are slow on a busy machine.
  expect: { timeout: 15_000 },
  workers: 1,
  // A test that only passes the second time is reported as flaky, not hidden.
  retries: process.env.CI ? 1 : 0,
  forbidOnly: Boolean(process.env.CI),
  reporter: [['list']],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    contextOptions: { reducedMotion: 'reduce' },
    trace: 'off',
    launchOptions: chromiumLaunch,
  },
  webServer: {
    command: 'node scripts/serve.mjs',
    url: `http://127.0.0.1:${port}/api/shots`,
    env: { PORT: String(port), KIV_DATA: process.env.KIV_TEST_DATA, KIV_MAX_UPLOAD: '20000000' },
    gracefulShutdown: { signal: 'SIGTERM', timeout: 3000 },
    stdout: 'ignore',
    stderr: 'pipe',
  },
});
