import { type CrossingDocument, documentFromRows } from '@/core/document/document';
import type { RowChange } from '@/core/document/edit';
import {
  type CrossingRow,
  type EdgeRow,
  type KeyRow,
  type LayerRow,
  type MarkRow,
  type OutlineRow,
  plainEdge,
  plainLayer,
  plainOutline,
  poseId,
  type PoseRow,
  type RowTypes,
  type Table,
} from '@/core/document/rows';
import { type Connection, database } from './database';
import { notFound, Problem } from './problem';

/** The database's name of each field of a row, by table; poses, whose key is two columns, are written apart. */
const columns = {
  crossing: {
    id: 'id',
    name: 'name',
    plan: 'plan',
    width: 'width',
    height: 'height',
    rateNum: 'rate_num',
    rateDen: 'rate_den',
    length: 'length',
    inFrame: 'in_frame',
    outFrame: 'out_frame',
    blend: 'blend',
  },
  layer: {
    id: 'id',
    role: 'role',
    shotId: 'shot_id',
    position: 'position',
    offset: 'frame_offset',
    speed: 'speed',
    reverse: 'reverse',
    holdFrom: 'hold_from',
    trimIn: 'trim_in',
    trimOut: 'trim_out',
    visible: 'visible',
    keeps: 'keeps',
    fit: 'fit',
    flip: 'flip',
    x: 'x',
    y: 'y',
    scale: 'scale',
    turn: 'turn',
    steady: 'steady',
  },
  outline: {
    id: 'id',
    layerId: 'layer_id',
    cutsLayerId: 'cuts_layer_id',
    name: 'name',
    kind: 'kind',
    sweptSide: 'swept_side',
    position: 'position',
    points: 'points',
    combine: 'combine',
    beforeFirst: 'before_first',
    afterLast: 'after_last',
    colour: 'colour',
    locked: 'locked',
    hidden: 'hidden',
    shutter: 'shutter',
    phase: 'phase',
    featherInside: 'feather_inside',
    featherOutside: 'feather_outside',
    spread: 'spread',
    roundness: 'roundness',
    factors: 'factors',
  },
  edge: {
    id: 'id',
    outlineId: 'outline_id',
    frame: 'frame',
    onward: 'onward',
    featherInside: 'feather_inside',
    featherOutside: 'feather_outside',
    spread: 'spread',
    roundness: 'roundness',
    factors: 'factors',
  },
  key: {
    id: 'id',
    cb: 'cb',
    cr: 'cr',
    tolerance: 'tolerance',
    softness: 'softness',
    grow: 'grow',
    clean: 'clean',
    spill: 'spill',
  },
  mark: { id: 'id', frame: 'frame', kind: 'kind', name: 'name' },
} satisfies { [T in Exclude<Table, 'pose'>]: Record<keyof RowTypes[T], string> };

const truths = new Set<string>(['reverse', 'visible', 'keeps', 'flip', 'locked', 'hidden']);
const lists = new Set<string>(['points', 'factors']);

function selected(table: keyof typeof columns): string {
  return Object.entries(columns[table])
    .map(([field, column]) => `${column} AS "${field}"`)
    .join(', ');
}

function fromStored<R>(row: unknown): R {
  return Object.fromEntries(
    Object.entries(row as Record<string, unknown>).map(([field, value]) => [
      field,
      truths.has(field) ? value === 1 : lists.has(field) ? JSON.parse(value as string) : value,
    ]),
  ) as R;
}

function toStored(row: object): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(row).map(([field, value]: [string, unknown]) => [
      field,
      typeof value === 'boolean' ? Number(value) : Array.isArray(value) ? JSON.stringify(value) : value,
    ]),
  );
}

/** @throws Problem 404 when there is no such crossing. */
export function readDocument(id: string): CrossingDocument {
  const db = database();
  const crossing = db.prepare(`SELECT ${selected('crossing')} FROM crossing WHERE id = ?`).get(id) as
    CrossingRow | undefined;
  if (!crossing) throw notFound('crossing');
  const all = <R>(table: Exclude<keyof typeof columns, 'crossing'>) =>
    db
      .prepare(`SELECT ${selected(table)} FROM ${table} WHERE crossing_id = ?`)
      .all(id)
      .map((row) => fromStored<R>(row));
  const poses = db
    .prepare(
      'SELECT outline_id AS outlineId, frame, origin, onward, coordinates FROM pose WHERE crossing_id = ?',
    )
    .all(id) as (Omit<PoseRow, 'id' | 'coordinates'> & { coordinates: string })[];
  return documentFromRows(
    crossing,
    all<LayerRow>('layer'),
    all<OutlineRow>('outline'),
    poses.map(({ outlineId, frame, origin, onward, coordinates }) => ({
      id: poseId(outlineId, frame),
      outlineId,
      frame,
      origin,
      onward,
      coordinates: JSON.parse(coordinates) as number[],
    })),
    all<MarkRow>('mark'),
    all<EdgeRow>('edge'),
    all<KeyRow>('key'),
  );
}

export function insertCrossing(db: Connection, row: CrossingRow) {
  const now = new Date().toISOString();
  const fields = Object.entries(columns.crossing);
  db.prepare(
    `INSERT INTO crossing (${fields.map(([, column]) => column).join(', ')}, revision, created_at, updated_at)
     VALUES (${fields.map(([field]) => `:${field}`).join(', ')}, 0, :now, :now)`,
  ).run({ ...toStored(row), now });
}

/** Writes one row as a change leaves it; rows of other crossings are never touched. */
export function writeRow(db: Connection, crossingId: string, change: RowChange) {
  if (change.table === 'pose') return writePose(db, crossingId, change);
  const { table, after } = change;
  if (!after) {
    if (table === 'crossing') throw new Problem(400, 'A crossing is not deleted by an edit.');
    db.prepare(`DELETE FROM ${table} WHERE id = ? AND crossing_id = ?`).run(change.id, crossingId);
    return;
  }
  const fields = Object.entries(columns[table]).filter(([field]) => field !== 'id');
  if (table === 'crossing') {
    db.prepare(
      `UPDATE crossing SET ${fields.map(([field, column]) => `${column} = :${field}`).join(', ')}
       WHERE id = :crossingId`,
    ).run({ ...toStored(after), crossingId });
    return;
  }
  db.prepare(
    `INSERT INTO ${table} (id, crossing_id, ${fields.map(([, column]) => column).join(', ')})
     VALUES (:id, :crossingId, ${fields.map(([field]) => `:${field}`).join(', ')})
     ON CONFLICT (id) DO UPDATE SET ${fields.map(([, column]) => `${column} = excluded.${column}`).join(', ')}
     WHERE crossing_id = :crossingId`,
  ).run({ ...toStored(after), crossingId });
}

function writePose(db: Connection, crossingId: string, change: Extract<RowChange, { table: 'pose' }>) {
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
    `INSERT INTO pose (outline_id, frame, crossing_id, origin, onward, coordinates)
       VALUES (:outlineId, :frame, :crossingId, :origin, :onward, :coordinates) ON CONFLICT (outline_id, frame)
       DO UPDATE SET origin = excluded.origin, onward = excluded.onward, coordinates = excluded.coordinates
       WHERE crossing_id = :crossingId`,
  ).run({ ...change.after, coordinates: JSON.stringify(change.after.coordinates), crossingId });
}

/** Fields that rows have gained, as they stand where nothing was set: rows in an old history lack them. */
const gained = {
  crossing: { inFrame: 0, outFrame: null, blend: 'display' },
  layer: plainLayer,
  outline: { cutsLayerId: null, ...plainOutline },
  pose: { onward: 'linear' },
  edge: plainEdge,
  key: {},
  mark: {},
};

/** A row as it was written down, complete for this version. */
function upToDate(table: Table, row: object | null): object | null {
  if (!row) return null;
  const { featherSide, feather, ...rest } = row as { featherSide?: string; feather?: number };
  if (feather === undefined) return { ...gained[table], ...rest };
  // Before the two sides had widths of their own.
  const inside = featherSide === 'inside' ? feather : featherSide === 'both' ? feather / 2 : 0;
  return { ...gained[table], ...rest, featherInside: inside, featherOutside: feather - inside };
}

/** Changes as they were written down, complete for this version. */
export function storedChanges(json: string): RowChange[] {
  return (JSON.parse(json) as RowChange[]).map(
    (change) =>
      ({
        ...change,
        before: upToDate(change.table, change.before),
        after: upToDate(change.table, change.after),
      }) as RowChange,
  );
}
