/** Joins the parts of an export: `tsx scripts/join.ts OUT PART …`. Ends with 1, saying why, where that cannot be. */
import { rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { CannotJoin, joinParts } from '../src/server/join-parts';

const [out, ...parts] = process.argv.slice(2);
const { dir, base } = path.parse(out);
const made = path.join(dir, `.joining-${process.pid}-${base}`);
try {
  await joinParts(parts, made);
  await rename(made, out);
} catch (error) {
  console.error(
    error instanceof CannotJoin ? error.message : `The parts could not be joined: ${String(error)}`,
  );
  process.exitCode = 1;
} finally {
  await rm(made, { force: true });
}
