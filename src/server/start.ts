import { copyDaily } from './copies';
import { database, UnusableDatabase } from './database';
import { fillDemo } from './demo';
import { resumeExports } from './exports';
import { diskFull, isDiskFull } from './full-disk';
import { resumeJobs } from './jobs';
import { forgetOldUploads } from './uploads';

/** What `scripts/serve.mjs` waits for before it says that Kiv is ready. */
const starting = globalThis as typeof globalThis & { kivStarted?: () => void };

/**
 * Opens the database, fills an empty data folder with the demo, takes up the work on footage that was under way, and
 * sees to the daily copies. What makes a start impossible is said in a sentence and ends it.
 */
export async function startServer() {
  try {
    database();
    // Who opens a Kiv for one crossing has no use for the demo.
    if (process.env.KIV_DEMO !== 'none') await fillDemo();
    await forgetOldUploads();
  } catch (error) {
    if (error instanceof UnusableDatabase) console.error(error.message);
    else if (isDiskFull(error)) console.error(diskFull().message);
    else throw error;
    process.exit(1);
  }
  resumeJobs();
  resumeExports();
  copyDaily();
  starting.kivStarted?.();
}
