/**
 * Runs once when the server starts: opens the database, fills an empty data folder with the demo, takes up the work
 * on footage that was under way, and sees to the daily copies. What makes a start impossible is said in a sentence
 * and ends it.
 */
export async function register() {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  const { database, UnusableDatabase } = await import('./server/database');
  const { fillDemo } = await import('./server/demo');
  const { isDiskFull, diskFull } = await import('./server/full-disk');
  const { forgetOldUploads } = await import('./server/uploads');
  const { resumeJobs } = await import('./server/jobs');
  const { copyDaily } = await import('./server/copies');
  try {
    database();
    await fillDemo();
    await forgetOldUploads();
  } catch (error) {
    if (error instanceof UnusableDatabase) console.error(error.message);
    else if (isDiskFull(error)) console.error(diskFull().message);
    else throw error;
    process.exit(1);
  }
  resumeJobs();
  copyDaily();
  (globalThis as typeof globalThis & { kivStarted?: () => void }).kivStarted?.();
}
