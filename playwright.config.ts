import { defineConfig } from '@playwright/test';
import { chromiumLaunch } from './scripts/chromium.mjs';

export default defineConfig({
  testDir: 'e2e',
  globalSetup: './scripts/temporary-folder.mjs',
  timeout: 120_000,
  // How long to wait for what has no bound of its own: two windows that decode at once are slow on a busy machine.
  expect: { timeout: 15_000 },
  // Software graphics keep two processors busy: two at once take as long as one after the other (measured).
  workers: 1,
  // A test that only passes the second time is reported as flaky, not hidden.
  retries: process.env.CI ? 1 : 0,
  forbidOnly: Boolean(process.env.CI),
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    contextOptions: { reducedMotion: 'reduce' },
    trace: 'off',
    launchOptions: chromiumLaunch,
  },
});
