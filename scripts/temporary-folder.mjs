import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

/**
 * Before all tests, of Jest and of Playwright: what they keep for a while lies in one folder of this run's own. After the last of them
 * it is removed, and nothing of it stays on the machine.
 */
export default function ownTemporaryFolder() {
  const before = process.env.TMPDIR;
  const folder = mkdtempSync(path.join(tmpdir(), 'kiv-tests-'));
  // Whatever is started from here on takes it over.
  process.env.TMPDIR = folder;
  globalThis.kivRemoveTemporary = () => {
    if (before === undefined) delete process.env.TMPDIR;
    else process.env.TMPDIR = before;
    // A browser or ffmpeg that is just ending may still write.
    rmSync(folder, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 });
  };
  return globalThis.kivRemoveTemporary;
}
