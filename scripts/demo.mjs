/** Draws the demo footage again and encodes it; with --check it only compares the pictures with those shipped. */
import { spawnSync } from 'node:child_process';

const { status } = spawnSync('npx', ['tsx', 'demo/draw.ts', ...process.argv.slice(2)], { stdio: 'inherit' });
process.exit(status ?? 1);
