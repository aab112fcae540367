import { type CrossingDocument, documentFromRows } from '@/core/document/document';
import type { RowChange } from '@/core/document/edit';
import { type CrossingRow, type LayerRow, type OutlineRow, poseId, type PoseRow } from '@/core/document/rows';
import { type Connection, database } from './database';
import { notFound, Problem } from './problem';

/** @throws Problem 404 when there is no such crossing. */
export function readDocument(id: string): CrossingDocument {
  const db = database();
  const crossing = db
    .prepare(
      'SELECT id, name, plan, width, height, rate_num AS rateNum, rate_den AS rateDen, length FROM crossing WHERE id = ?',
    )
    .get(id) as CrossingRow | undefined;
  if (!crossing) throw notFound('crossing');
  const layers = db
    .prepare(
      'SELECT id, role, shot_id AS shotId, position, frame_offset AS offset FROM layer WHERE crossing_id = ?',
    )
    .all(id) as LayerRow[];
  const outlines = db
    .prepare(
      `SELECT id, layer_id AS layerId, name, kind, swept_side AS sweptSide, position, points,
         feather_side AS featherSide, feather, spread FROM outline WHERE crossing_id = ?`,
    )
    .all(id) as (Omit<OutlineRow, 'points'> & { points: string })[];
  const poses = db
    .prepare('SELECT outline_id AS outlineId, frame, origin, coordinates FROM pose WHERE crossing_id = ?')
    .all(id) as (Omit<PoseRow, 'id' | 'coordinates'> & { coordinates: string })[];
  return documentFromRows(
    crossing,
    layers,
    outlines.map((row) => ({ ...row, points: JSON.parse(row.points) as string[] })),
    poses.map(({ outlineId, frame, origin, coordinates }) => ({
      id: poseId(outlineId, frame),
      outlineId,
      frame,
      origin,
      coordinates: JSON.parse(coordinates) as number[],
    })),
  );
}

export function insertCrossing(db: Connection, row: CrossingRow) {
  const now = new Date().toISOString();
  db.prepare(
    'INSERT INTO crossing VALUES (:id, :name, :plan, :width, :height, :rateNum, :rateDen, :length, 0, :now, :now)',
  ).run({ ...row, now });
}

/** Writes one row as a change leaves it; rows of other crossings are never touched. */
export function writeRow(db: Connection, crossingId: string, change: RowChange) {
  switch (change.table) {
    case 'crossing':
      if (!change.after) throw new Problem(400, 'A crossing is not deleted by an edit.');
      db.prepare(
        `UPDATE crossing SET name = :name, plan = :plan, width = :width, height = :height, rate_num = :rateNum,
           rate_den = :rateDen, length = :length WHERE id = :crossingId`,
      ).run({ ...change.after, crossingId });
      return;
    case 'layer':
      if (!change.after)
        db.prepare('DELETE FROM layer WHERE id = ? AND crossing_id = ?').run(change.id, crossingId);
      else
        db.prepare(
          `INSERT INTO layer VALUES (:id, :crossingId, :role, :shotId, :position, :offset) ON CONFLICT (id) DO UPDATE SET
             role = excluded.role, shot_id = excluded.shot_id, position = excluded.position,
             frame_offset = excluded.frame_offset WHERE crossing_id = :crossingId`,
        ).run({ ...change.after, crossingId });
      return;
    case 'outline':
      if (!change.after)
        db.prepare('DELETE FROM outline WHERE id = ? AND crossing_id = ?').run(change.id, crossingId);
      else
        db.prepare(
          `INSERT INTO outline VALUES (:id, :crossingId, :layerId, :name, :kind, :sweptSide, :position, :points, :featherSide,
             :feather, :spread) ON CONFLICT (id) DO UPDATE SET layer_id = excluded.layer_id, name = excluded.name,
             kind = excluded.kind, swept_side = excluded.swept_side, position = excluded.position,
             points = excluded.points, feather_side = excluded.feather_side, feather = excluded.feather,
             spread = excluded.spread WHERE crossing_id = :crossingId`,
        ).run({ ...change.after, points: JSON.stringify(change.after.points), crossingId });
      return;
    case 'pose': {
      const row = (change.after ?? change.before)!;
      if (!change.after) {
        db.prepare('DELETE FROM pose WHERE outline_id = ? AND frame = ? AND crossing_id = ?').run(
          row.outlineId,
          row.frame,
          crossingId,
        );
        return;
      }
      db.prepare(
        `INSERT INTO pose VALUES (:outlineId, :frame, :crossingId, :origin, :coordinates) ON CONFLICT (outline_id, frame)
           DO UPDATE SET origin = excluded.origin, coordinates = excluded.coordinates WHERE crossing_id = :crossingId`,
      ).run({ ...change.after, coordinates: JSON.stringify(change.after.coordinates), crossingId });
    }
  }
}
