import { test as base } from '@playwright/test';
import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

/** A Kiv of a test worker's own, so that tests that run side by side meet nobody else's crossings. */
interface OwnKiv {
  origin: string;
  /** Its data folder. */
  data: string;
}

const firstPort = Number(process.env.KIV_TEST_PORT ?? 4790);
/** ms in which it has to answer. */
const patience = 60_000;

async function answers(origin: string, server: ChildProcess): Promise<void> {
  for (const begun = Date.now(); Date.now() - begun < patience;) {
    if (server.exitCode !== null) throw new Error(`Kiv ended with ${server.exitCode}.`);
    const answer = await fetch(`${origin}/api/shots`).catch(() => null);
    if (answer?.ok) return;
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new Error(`Kiv did not answer at ${origin}.`);
}

/**
 * Playwright's `test` with a Kiv for each worker; `baseURL` leads to it. A file whose tests would see what those of other files
 * have done names itself in `alone`, and begins with a new one.
 */
export const test = base.extend<object, { kiv: OwnKiv; alone: string }>({
  alone: ['', { option: true, scope: 'worker' }],
  kiv: [
    async ({}, use, { parallelIndex }) => {
      const port = firstPort + parallelIndex;
      const data = mkdtempSync(path.join(tmpdir(), 'kiv-test-'));
      const env = { ...process.env, PORT: String(port), KIV_DATA: data, KIV_MAX_UPLOAD: '20000000' };
      const server = spawn('node', ['scripts/serve.mjs'], { env, stdio: ['ignore', 'ignore', 'inherit'] });
      const origin = `http://127.0.0.1:${port}`;
      try {
        await answers(origin, server);
        await use({ origin, data });
      } finally {
        const ended = server.exitCode === null ? once(server, 'exit') : null;
        server.kill('SIGTERM');
        const forced = setTimeout(() => server.kill('SIGKILL'), 3000);
        await ended;
        clearTimeout(forced);
      }
    },
    { scope: 'worker', timeout: 2 * patience },
  ],
  baseURL: async ({ kiv }, use) => use(kiv.origin),
});
