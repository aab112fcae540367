import { applyChanges, EditConflict } from '@/core/document/document';
import type { CrossingDocument } from '@/core/document/tables';
import type { RowChange } from '@/core/document/edit';
import { inconsistencyOf } from '@/core/document/invariants';
import { shotsNamedBy } from '@/core/document/references';
import type { CrossingChanges } from '@/wire/answers';
import type { CommitBody } from './bodies';
import { putEdit, revisionOf } from './crossings';
import { type Connection, database, prepared } from './database';
import { storedChanges, writeRow } from './document-rows';
import { documentAt, keepDocument } from './open-documents';
import { Problem } from './problem';
import { validatedRow } from './row-bodies';
import { rememberLostShot, shotById } from './shots';

/** More changes than these are told by giving the whole document. */
const mostChanges = 100;

/**
 * What was done to a crossing after a revision, oldest first; null where that is not known any more, because edits
 * that were undone have been replaced.
 */
export function changesSince(id: string, since: number): CrossingChanges {
  return database().transaction(() => {
    const revision = revisionOf(id);
    const rows = prepared(
      database(),
      `SELECT request.revision, kind, edit.id, label, changes FROM request LEFT JOIN edit ON edit.id = edit_id
         WHERE request.crossing_id = ? AND request.revision > ? ORDER BY request.revision`,
    ).all(id, since) as {
      revision: number;
      kind: 'do' | 'undo' | 'redo' | null;
      id: string | null;
      label: string;
      changes: string;
    }[];
    const whole = rows.length === revision - since && rows.every(({ kind, id: editId }) => kind && editId);
    if (!whole || rows.length > mostChanges) return { revision, commits: null };
    return {
      revision,
      commits: rows.map((row) => ({
        kind: row.kind!,
        edit: { id: row.id!, label: row.label, changes: storedChanges(row.changes) },
      })),
    };
  })();
}

/**
 * Carries out one step: its row changes, its place in the history and the new revision, in one transaction. A step
 * that was carried out before is answered again and not repeated.
 *
 * @returns the revision after the step.
 * @throws Problem 409 when the crossing is not at the step's base revision or its rows are others; 400 when the
 *   rows do not fit together.
 */
export function takeCommit(crossingId: string, step: CommitBody): number {
  const db = database();
  let after: CrossingDocument | null = null;
  const revision = db.transaction(() => {
    const known = prepared(db, 'SELECT revision FROM request WHERE id = ? AND crossing_id = ?')
      .pluck()
      .get(step.requestId, crossingId);
    if (known !== undefined) return known as number;
    const current = revisionOf(crossingId);
    if (step.baseRevision !== current) {
      throw new Problem(409, 'This crossing was changed in another window.', { revision: current });
    }
    const changes =
      step.kind === 'do' ? recordEdit(db, crossingId, step) : moveInHistory(db, crossingId, step);
    after = writeChanges(db, crossingId, current, changes);
    const revision = current + 1;
    prepared(db, 'UPDATE crossing SET revision = ?, updated_at = ? WHERE id = ?').run(
      revision,
      new Date().toISOString(),
      crossingId,
    );
    prepared(db, 'INSERT INTO request (id, crossing_id, revision, kind, edit_id) VALUES (?, ?, ?, ?, ?)').run(
      step.requestId,
      crossingId,
      revision,
      step.kind,
      step.edit?.id ?? step.editId,
    );
    return revision;
  })();
  // Only now that it is written does the database prove it.
  if (after) keepDocument(crossingId, revision, after);
  return revision;
}

/** An edit's changes, each row as its table has it. @throws Problem 400 that names the first that is not. */
export function checkedChanges(changes: NonNullable<CommitBody['edit']>['changes']): RowChange[] {
  return changes.map(({ table, id, before, after }) => {
    const rows = {
      before: before && validatedRow(table, before),
      after: after && validatedRow(table, after),
    };
    if ([rows.before, rows.after].some((row) => row && row.id !== id) || (!rows.before && !rows.after)) {
      throw new Problem(400, 'A change must name the row that it changes.');
    }
    return { table, id, ...rows } as RowChange;
  });
}

function recordEdit(db: Connection, crossingId: string, { edit }: CommitBody): RowChange[] {
  const changes = checkedChanges(edit!.changes);
  prepared(db, 'DELETE FROM edit WHERE crossing_id = ? AND undone = 1').run(crossingId);
  putEdit(db, crossingId, { id: edit!.id, label: edit!.label, changes });
  return changes;
}

function moveInHistory(db: Connection, crossingId: string, { kind, editId }: CommitBody): RowChange[] {
  const next = prepared(
    db,
    kind === 'undo'
      ? 'SELECT id, inverse AS changes FROM edit WHERE crossing_id = ? AND undone = 0 ORDER BY sequence DESC LIMIT 1'
      : 'SELECT id, changes FROM edit WHERE crossing_id = ? AND undone = 1 ORDER BY sequence LIMIT 1',
  ).get(crossingId) as { id: string; changes: string } | undefined;
  if (next?.id !== editId)
    throw new Problem(409, 'This crossing was changed in another window.', {
      revision: revisionOf(crossingId),
    });
  prepared(db, 'UPDATE edit SET undone = ? WHERE id = ?').run(kind === 'undo' ? 1 : 0, editId);
  const changes = storedChanges(next!.changes);
  rememberShotsOf(crossingId, changes);
  return changes;
}

/** Has the record of every shot that changes out of the history name, whatever became of it. */
function rememberShotsOf(crossingId: string, changes: readonly RowChange[]) {
  const size = prepared(database(), 'SELECT width, height FROM crossing WHERE id = ?').get(crossingId);
  for (const { table, after } of changes)
    for (const id of after ? shotsNamedBy(table, after as never) : [])
      rememberLostShot(id, size as { width: number; height: number });
}

/** @returns the document after the changes. */
function writeChanges(
  db: Connection,
  crossingId: string,
  revision: number,
  changes: readonly RowChange[],
): CrossingDocument {
  const before = documentAt(crossingId, revision);
  let after: CrossingDocument;
  try {
    after = applyChanges(before, changes);
  } catch (error) {
    if (error instanceof EditConflict)
      throw new Problem(409, 'This crossing was changed in another window.', {
        revision: revisionOf(crossingId),
      });
    throw error;
  }
  requireConsistent(after, changes);
  for (const change of changes) writeRow(db, crossingId, change);
  return after;
}

/** @throws Problem 400 when the document does not hold together after the changes, 404 when it names a shot that is not there. */
export function requireConsistent(document: CrossingDocument, changes: readonly RowChange[]) {
  const why = inconsistencyOf(document, changes);
  if (why !== null) throw new Problem(400, why);
  for (const { table, after } of changes) if (after) shotsNamedBy(table, after as never).forEach(shotById);
}
