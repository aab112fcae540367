/** `npm start`: everything from a fresh checkout to the served app. `-- --restore [NUMBER]` puts a copy back. */
import { prepare, root } from './prepare.mjs';

process.chdir(root);
const at = process.argv.indexOf('--restore');
await prepare(at < 0 ? 'to serve' : 'to restore');
process.env.NODE_ENV = 'production';
if (at < 0) await import('./serve.mjs');
else {
  const { restore } = await import('./restore.mjs');
  const { StartRefusal } = await import('./data-folder.mjs');
  try {
    process.exitCode = await restore(process.argv[at + 1]);
  } catch (error) {
    if (!(error instanceof StartRefusal)) throw error;
    console.error(error.message);
    process.exitCode = 1;
  }
}
