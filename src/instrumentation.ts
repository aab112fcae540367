/**
 * Runs once when the server starts: opens the database, fills an empty data folder with the demo, and takes up the
 * work on footage that was under way.
 */
export async function register() {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  const { database } = await import('./server/database');
  const { fillDemo } = await import('./server/demo');
  const { forgetOldUploads } = await import('./server/uploads');
  const { resumeJobs } = await import('./server/jobs');
  database();
  await fillDemo();
  await forgetOldUploads();
  resumeJobs();
}
