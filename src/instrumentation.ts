/** Runs once when the server starts: opens the database, and fills an empty data folder with the demo. */
export async function register() {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  const { database } = await import('./server/database');
  const { fillDemo } = await import('./server/demo');
  database();
  await fillDemo();
}
