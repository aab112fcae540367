/** `npm run bench [-- PART …]`: figures with their references, taken in one run on this machine. */
import { prepare, prepareTestTools, root, run } from './prepare.mjs';

process.chdir(root);
await prepare();
await prepareTestTools();
process.exit(await run('npx', ['tsx', 'bench/run.ts', ...process.argv.slice(2)]));
