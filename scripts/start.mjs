/** `npm start`: everything from a fresh checkout to the served app. */
import { prepare, root } from './prepare.mjs';

process.chdir(root);
process.env.NODE_ENV = 'production';
await prepare();
await import('./serve.mjs');
