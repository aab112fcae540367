/**
 * Edits a crossing as fast as it can until it is killed, saying each step once the server's function has acknowledged it.
 * Arguments: the crossing's id, and a number that chance begins with.
 */
import { randomUUID } from 'node:crypto';
import { writeSync } from 'node:fs';
import { seeded } from '../src/core/random';
import { validatedCommit } from '../src/server/bodies';
import { takeCommit } from '../src/server/commits';
import { openCrossing } from '../src/server/crossings';
import { randomEdit } from './random-edits';

const [, , crossingId, seed] = process.argv;
const random = seeded(Number(seed));
const chance = (below: number) => (below > 0 ? Math.floor(random() * below) : 0);
for (;;) {
  const { document, revision, history } = openCrossing(crossingId);
  const last = history.findLast(({ undone }) => !undone);
  const undo = last && chance(5) === 0;
  const { label, changes } = undo ? { label: '', changes: [] } : randomEdit(document, chance);
  if (!undo && changes.length === 0) continue;
  const editId = undo ? last.id : randomUUID();
  const step = undo ? { kind: 'undo', editId } : { kind: 'do', edit: { id: editId, label, changes } };
  const body = { requestId: randomUUID(), baseRevision: revision, ...step };
  const after = takeCommit(crossingId, validatedCommit(JSON.parse(JSON.stringify(body))));
  // At once, past every buffer: what is said here was acknowledged.
  writeSync(1, `${JSON.stringify({ revision: after, editId, undone: undo === true })}\n`);
}
