import { randomUUID } from 'node:crypto';
import { rowsOf, shotIdsOf } from '@/core/document/document';
import { type CrossingDocument, type LayerRow, plainCrossing, type Table } from '@/core/document/tables';
import { changeRow, type Edit, inverseChanges } from '@/core/document/edit';
import { proposedSize } from '@/core/actions/format-actions';
import { begunAt, isStretchOf, lengthOf, onStretch, trimmedTo, wholeOf } from '@/core/actions/first-stretch';
import { markEdge } from '@/core/actions/layer-actions';
import { limits } from '@/core/model/limits';
import { layOut, layoutOf } from '@/core/document/plans';
import type { Timing } from '@/core/formats/timeline-taken';
import { nominalRateOf } from '@/core/time/rate';
import { crossingFrameOf } from '@/core/time/time-map';
import type { Rate } from '@/core/model/time';
import type { CrossingListing, History, OpenedCrossing } from '@/wire/answers';
import type { NewCrossingBody } from './bodies';
import { type Connection, database, prepared } from './database';
import { deleteRows, insertCrossing, storedChanges, writeRow } from './document-rows';
import { documentAt, forgetDocument } from './open-documents';
import { notFound, Problem } from './problem';
import { forgetDeletedShots, requireFootage, shotById, shotWithIndex } from './shots';

/** How many edits are given at once. */
const historyPage = 200;

/** All crossings, the one worked on last first, as far as the shelf shows them. */
export function listCrossings(): CrossingListing[] {
  const db = database();
  const layers = prepared(
    db,
    `SELECT layer.id, role, shot.name AS shotName FROM layer JOIN shot ON shot.id = shot_id
     WHERE crossing_id = ? AND visible = 1 ORDER BY position DESC`,
  );
  const crossings = prepared(
    db,
    `SELECT id, name, plan, width, height, rate_num AS rateNum, rate_den AS rateDen, length, revision,
         updated_at AS updatedAt FROM crossing ORDER BY updated_at DESC`,
  ).all() as Omit<CrossingListing, 'layers'>[];
  return crossings.map((crossing) => ({
    ...crossing,
    layers: layers.all(crossing.id) as CrossingListing['layers'],
  }));
}

function stateOf(id: string): { revision: number; updatedAt: string } {
  const state = prepared(
    database(),
    'SELECT revision, updated_at AS updatedAt FROM crossing WHERE id = ?',
  ).get(id);
  if (!state) throw notFound('crossing');
  return state as { revision: number; updatedAt: string };
}

export function revisionOf(id: string): number {
  return stateOf(id).revision;
}

export function openCrossing(id: string): OpenedCrossing {
  return database().transaction(() => {
    const revision = revisionOf(id);
    const document = documentAt(id, revision);
    const shotIds = [...new Set(Object.values(document.layers).flatMap(shotIdsOf))];
    return { document, revision, shots: shotIds.map(shotWithIndex), ...readHistory(id) };
  })();
}

/** The newest edits, or those before one; oldest first. */
export function readHistory(id: string, before = Number.MAX_SAFE_INTEGER): History {
  const rows = prepared(
    database(),
    `SELECT sequence, id, label, changes, undone FROM edit WHERE crossing_id = ? AND sequence < ?
       ORDER BY sequence DESC LIMIT ?`,
  ).all(id, before, historyPage + 1) as {
    sequence: number;
    id: string;
    label: string;
    changes: string;
    undone: number;
  }[];
  const history = rows
    .slice(0, historyPage)
    .reverse()
    .map((row) => ({ ...row, changes: storedChanges(row.changes), undone: row.undone === 1 }));
  return { history, hasOlder: rows.length > historyPage };
}

/**
 * Makes a crossing with its layers laid out by the plan. Unless told otherwise it takes on the size and the nominal rate of
 * the outgoing shot, or of the traced one where that is a still; and the length of the traced one.
 *
 * @throws Problem 400 when the plan cannot be laid out.
 */
export function createCrossing(body: NewCrossingBody): string {
  const shotIds = {
    outgoing: body.outgoingShotId,
    incoming: body.incomingShotId,
    passing: body.passingShotId,
  };
  const shots = [...new Set(Object.values(shotIds))].filter((id) => id !== undefined).map(shotById);
  requireFootage(shots.map((shot) => shot.id));
  const frameCounts = Object.fromEntries(shots.map((shot) => [shot.id, shot.frameCount]));
  let layers: LayerRow[];
  try {
    layers = layOut(body.plan, shotIds, frameCounts, randomUUID);
  } catch (error) {
    if (error instanceof RangeError) throw new Problem(400, error.message);
    throw error;
  }
  const traced = shotById(shotIds[layoutOf(body.plan).traced]!);
  const outgoing = shotById(body.outgoingShotId);
  const model = outgoing.frameCount > 1 ? outgoing : traced;
  const rate = body.rate ?? nominalRateOf(model);
  const { width, height } = body.size ?? proposedSize(model);
  const stretch = body.stretches?.[layoutOf(body.plan).traced] ?? wholeOf(traced);
  const length = lengthOf(stretch, rate, traced);
  const id = randomUUID();
  const db = database();
  db.transaction(() => {
    insertCrossing(db, {
      id,
      name: body.name,
      plan: body.plan,
      ...{ width, height, rateNum: rate.num, rateDen: rate.den },
      length:
        body.timing?.length ?? Math.min(limits.frames, Math.max(1, traced.frameCount === 1 ? 50 : length)),
      ...plainCrossing,
    });
    for (const layer of layers) writeRow(db, id, changeRow('layer', null, begun(layer, body, rate)));
    if (body.timing && body.timing.cut !== null) {
      const cut = { id: randomUUID(), frame: body.timing.cut, kind: 'mark' as const, name: 'Cut' };
      writeRow(db, id, changeRow('mark', null, cut));
    }
    if (body.timing?.edge)
      for (const mark of markEdge({ marks: {} }, body.timing.edge, randomUUID)) writeRow(db, id, mark);
  })();
  return id;
}

/** A layer as the crossing begins with it: lined up as asked, and with as much of its shot as it takes. */
function begun(
  layer: LayerRow,
  { timing, stretches = {}, outgoingShotId }: NewCrossingBody,
  rate: Rate,
): LayerRow {
  const shot = shotById(layer.shotId);
  const stretch = stretches[layer.role];
  if (stretch && !isStretchOf(stretch, shot))
    throw new Problem(
      400,
      `“${shot.name}” has no frames ${stretch.first} to ${stretch.last}; its last is ${shot.frameCount - 1}.`,
    );
  if (shot.frameCount === 1) return layer;
  if (!timing) return stretch ? onStretch(layer, shot, stretch) : layer;
  const lined = timed(layer, timing);
  const { outgoing } = stretches;
  // Lined up with all of the outgoing shot: the crossing begins where the stretch of that does.
  const start =
    outgoing && layer.role !== 'passing'
      ? crossingFrameOf(outgoing.first, timing.outgoing, rate, shotById(outgoingShotId))
      : 0;
  return trimmedTo(begunAt(lined, start, rate, shot), shot, stretch ?? wholeOf(shot));
}

/** A layer as a timeline has it; a still goes on being held, and what only bridges is left as it is. */
function timed(layer: LayerRow, timing: Timing | undefined): LayerRow {
  if (!timing || layer.role === 'passing' || layer.holdFrom !== null) return layer;
  const { offset, speed, reverse, holdFrom } = timing[layer.role];
  return { ...layer, offset, speed, reverse, holdFrom };
}

/**
 * Puts a whole document in, as the demo does.
 *
 * @param history what was done to it before, oldest first.
 */
export function insertDocument(
  document: CrossingDocument,
  history: readonly (Omit<Edit, 'id'> & { undone: boolean })[] = [],
) {
  const db = database();
  const { crossing, ...rest } = rowsOf(document);
  db.transaction(() => {
    insertCrossing(db, crossing[0]);
    for (const [table, rows] of Object.entries(rest) as [Table, readonly object[]][])
      for (const after of rows) writeRow(db, crossing[0].id, changeRow(table, null, after as never));
    for (const { label, changes, undone } of history)
      putEdit(db, crossing[0].id, { id: randomUUID(), label, changes }, undone);
  })();
}

/** An edit as the last of a crossing's history. */
export function putEdit(db: Connection, crossingId: string, { id, label, changes }: Edit, undone = false) {
  prepared(
    db,
    `INSERT INTO edit (crossing_id, id, label, changes, inverse, undone, created_at)
       VALUES (?, ?, ?, ?, ?, ?, ?)`,
  ).run(
    crossingId,
    id,
    label,
    JSON.stringify(changes),
    JSON.stringify(inverseChanges(changes)),
    undone ? 1 : 0,
    new Date().toISOString(),
  );
}

export function deleteCrossing(id: string) {
  revisionOf(id);
  const db = database();
  db.transaction(() => deleteRows(db, id))();
  forgetDocument(id);
  forgetDeletedShots();
}
