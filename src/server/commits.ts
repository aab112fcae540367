import { applyChanges, type CrossingDocument, EditConflict, shotIdsOf } from '@/core/document/document';
import { type Channel, channelNumbers } from '@/core/document/channels';
import type { RowChange } from '@/core/document/edit';
import { hasChannel, isSoundMove } from '@/core/document/move-actions';
import {
  edgeId,
  type EdgeSettings,
  mostSamples,
  numbersPerPoint,
  poseId,
  type RowTypes,
} from '@/core/document/rows';
import { isSoundRamp } from '@/core/time/ramp';
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
  for (const change of changes)
    if (change.table === 'layer' && change.after)
      for (const id of shotIdsOf(change.after))
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

function rangeOf(channel: Channel): string {
  const ranges = channelNumbers[channel].map(({ low, high }) => `${low} to ${high}`);
  return `A key of the ${channel} is out of range: ${ranges.join(', ')}.`;
}

/** What the document must hold to whatever the edit: ids that belong to it, and the same points in every pose. */
export function requireConsistent(document: CrossingDocument, changes: readonly RowChange[]) {
  const touched = new Set<string>();
  const reshaped = new Set<string>();
  for (const change of changes) {
    if (change.table === 'crossing' && change.id !== document.crossing.id)
      throw new Problem(400, 'The change is of another crossing.');
    if (change.table === 'layer' && change.after) shotIdsOf(change.after).forEach(shotById);
    if (change.table === 'outline') reshaped.add(change.id);
    if (change.table === 'outline') touched.add(change.id);
    if (change.table === 'pose' || change.table === 'edge')
      touched.add((change.after ?? change.before)!.outlineId);
  }
  for (const id of touched) {
    const outline = document.outlines[id];
    // Where the outline stays as it is, only what changes has to fit it.
    const keysOf = <T extends 'pose' | 'edge'>(table: T, all: readonly RowTypes[T][]) =>
      reshaped.has(id)
        ? all
        : changes.flatMap((change) =>
            change.table === table && change.after && (change.after as { outlineId: string }).outlineId === id
              ? [change.after as RowTypes[T]]
              : [],
          );
    const poses = keysOf('pose', document.poses[id] ?? []);
    const edges = keysOf('edge', document.edges[id] ?? []);
    if (!outline && poses.length + edges.length > 0)
      throw new Problem(400, 'Poses and edge keys need their outline.');
    if (outline && !document.layers[outline.layerId]) throw new Problem(400, 'An outline needs its layer.');
    const fits = poses.every(
      (pose) =>
        pose.coordinates.length === outline.points.length * numbersPerPoint &&
        pose.id === poseId(id, pose.frame),
    );
    if (!fits) throw new Problem(400, 'Every pose of an outline has the same points.');
    const rows: (EdgeSettings & { id: string; frame?: number })[] = outline ? [outline, ...edges] : [];
    const keyed = rows.every(
      ({ id: own, frame, factors }) =>
        (frame === undefined || own === edgeId(id, frame)) &&
        (factors.length === 0 || factors.length === outline.points.length),
    );
    if (!keyed) throw new Problem(400, 'An edge has a factor for each point of its outline, or none.');
  }
  if (!Object.values(document.strokes).every(({ outlineId }) => document.outlines[outlineId]))
    throw new Problem(400, 'A stroke needs its outline.');
  if (Object.keys(document.chromas).some((id) => !document.layers[id]))
    throw new Problem(400, 'A keyed colour needs its layer.');
  if (!Object.values(document.layers).every(({ ramp }) => isSoundRamp(ramp)))
    throw new Problem(400, 'A ramp’s keys are whole frames that ascend, with percents from −1000 to 1000.');
  for (const { source, sourceId, inSample, length, fadeIn, fadeOut } of Object.values(document.pieces)) {
    if ((source === 'made') !== (sourceId === null))
      throw new Problem(400, 'A piece of sound names what it comes from, or is made.');
    if (source === 'layer' && !document.layers[sourceId!])
      throw new Problem(400, 'A layer’s sound needs its layer.');
    if (Math.max(fadeIn, fadeOut) > length || inSample + length > mostSamples)
      throw new Problem(400, 'A piece’s fades lie within it.');
  }
  for (const move of Object.values(document.moves)) {
    if (!hasChannel(document, move))
      throw new Problem(400, `There is nothing here that can have a key of its ${move.channel}.`);
    if (!isSoundMove(move)) throw new Problem(400, rangeOf(move.channel));
  }
  for (const { layerId, cutsLayerId, hinge, points } of Object.values(document.outlines)) {
    if (hinge !== null && !points.includes(hinge))
      throw new Problem(400, 'A leaf hangs by a side that begins at one of its points.');
    if (!document.layers[layerId] || (cutsLayerId && !document.layers[cutsLayerId]))
      throw new Problem(400, 'An outline needs its layer.');
  }
}
