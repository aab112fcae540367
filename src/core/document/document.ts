import { firstKeyFrom } from '../time/track';
import { type RowChange, sameRow } from './edit';
import {
  type CrossingRow,
  type EdgeRow,
  type LayerRow,
  type MarkRow,
  type OutlineRow,
  type PieceRow,
  type PoseRow,
  type CrossingDocument,
  type RowTypes,
  type StrokeRow,
  type Table,
  tables,
} from './tables';

/** A change met another row than the one it was made from. */
export class EditConflict extends Error {
  constructor(readonly change: RowChange) {
    super(`The ${change.table} ${change.id} is not what the edit was made from.`);
    this.name = 'EditConflict';
  }
}

/** Names of the tables, the crossing's own first. */
export const tableNames = Object.keys(tables) as Table[];

/** A document's rows by table. */
export type RowsByTable = { [T in Table]?: readonly RowTypes[T][] };

type Collections = Record<string, unknown>;

/** The document that holds these rows; of the crossing's own table there is one. */
export function documentOf(rows: RowsByTable & { crossing: readonly [CrossingRow] }): CrossingDocument {
  const document: Collections = {};
  for (const table of tableNames) {
    const { collection, shape } = tables[table];
    const list = (rows[table] ?? []) as readonly { id: string }[];
    if (shape === 'one') document[collection] = list[0];
    else if (shape === 'by id') document[collection] = Object.fromEntries(list.map((row) => [row.id, row]));
    else document[collection] = byOutline(list as unknown as readonly Keyed[]);
  }
  return document as unknown as CrossingDocument;
}

/** All rows of a document, table by table: those that others refer to first. */
export function rowsOf(document: CrossingDocument): { [T in Table]: readonly RowTypes[T][] } {
  const collections = document as unknown as Collections;
  return Object.fromEntries(
    tableNames.map((table) => {
      const { collection, shape } = tables[table];
      const held = collections[collection] as object;
      return [
        table,
        shape === 'one' ? [held] : shape === 'by id' ? Object.values(held) : Object.values(held).flat(),
      ];
    }),
  ) as never;
}

/** What lies at an outline's frames, ascending by frame. */
interface Keyed {
  outlineId: string;
  frame: number;
}

function byOutline<R extends Keyed>(rows: readonly R[]): Record<string, R[]> {
  const lists: Record<string, R[]> = {};
  for (const row of rows) (lists[row.outlineId] ??= []).push(row);
  for (const list of Object.values(lists)) list.sort((a, b) => a.frame - b.frame);
  return lists;
}

/**
 * The document after the changes.
 *
 * @throws EditConflict when a row is not what the change says it was: nothing is changed then.
 */
export function applyChanges(document: CrossingDocument, changes: readonly RowChange[]): CrossingDocument {
  const next = { ...document };
  const collections = next as unknown as Collections;
  const copied = new Set<string>();
  for (const change of changes) {
    if (!sameRow(currentRow(next, change), change.before)) throw new EditConflict(change);
    const { collection, shape } = tables[change.table];
    if (shape === 'one') {
      if (!change.after) throw new EditConflict(change);
      collections[collection] = change.after;
    } else if (shape === 'by id') {
      collections[collection] = withRow(
        collections[collection] as Readonly<Record<string, object>>,
        change.id,
        change.after,
      );
    } else {
      collections[collection] = withKey(
        collection,
        collections[collection] as Readonly<Record<string, readonly Keyed[]>>,
        change.before as Keyed | null,
        change.after as Keyed | null,
        copied,
      );
    }
  }
  return next;
}

function currentRow(document: CrossingDocument, change: RowChange): object | null {
  const { collection, shape } = tables[change.table];
  const held = (document as unknown as Collections)[collection];
  if (shape === 'one') return held as object;
  if (shape === 'by id') return (held as Record<string, object>)[change.id] ?? null;
  const { outlineId, frame } = (change.after ?? change.before) as unknown as Keyed;
  return keyAtFrame((held as Record<string, readonly Keyed[]>)[outlineId] ?? [], frame);
}

function withRow<R>(rows: Readonly<Record<string, R>>, id: string, row: R | null): Record<string, R> {
  const next = { ...rows };
  if (row) next[id] = row;
  else delete next[id];
  return next;
}

/** @param copied names the lists that are this edit's own already, and may be changed in place. */
function withKey<R extends Keyed>(
  name: string,
  lists: Readonly<Record<string, readonly R[]>>,
  before: R | null,
  after: R | null,
  copied: Set<string>,
): Readonly<Record<string, readonly R[]>> {
  const { outlineId, frame } = (after ?? before)!;
  const next = (copied.has(name) ? lists : { ...lists }) as Record<string, readonly R[]>;
  const own = `${name} ${outlineId}`;
  const list = copied.has(own) ? (next[outlineId] as R[]) : [...(next[outlineId] ?? [])];
  copied.add(name).add(own);
  const at = firstKeyFrom(list, frame);
  list.splice(at, list[at]?.frame === frame ? 1 : 0, ...(after ? [after] : []));
  next[outlineId] = list;
  return next;
}

/** The key on exactly this frame, or null. */
function keyAtFrame<R extends { frame: number }>(keys: readonly R[], frame: number): R | null {
  const key = keys[firstKeyFrom(keys, frame)];
  return key?.frame === frame ? key : null;
}

/** The pose made on exactly this source frame, or null. */
export function poseAtFrame(document: CrossingDocument, outlineId: string, frame: number): PoseRow | null {
  return keyAtFrame(document.poses[outlineId] ?? [], frame);
}

/** The key of an outline's edge on exactly this source frame, or null. */
export function edgeAtFrame(document: CrossingDocument, outlineId: string, frame: number): EdgeRow | null {
  return keyAtFrame(document.edges[outlineId] ?? [], frame);
}

/** Layers from the bottom up. */
export function layersInOrder(document: CrossingDocument): LayerRow[] {
  return Object.values(document.layers).sort((a, b) => a.position - b.position);
}

/** The shots that a layer is made of: its own, and its matte's. */
export function shotIdsOf({ shotId, matteId }: Pick<LayerRow, 'shotId' | 'matteId'>): string[] {
  return matteId === null ? [shotId] : [shotId, matteId];
}

/** Whether anything cuts by itself, without outlines: a keyed colour, or a matte that is a picture. */
export function cutsByPicture({ chromas, layers }: CrossingDocument): boolean {
  return Object.keys(chromas).length > 0 || Object.values(layers).some(({ matteId }) => matteId !== null);
}

/** A layer's outlines in the order in which they combine. */
export function outlinesOfLayer(document: CrossingDocument, layerId: string): OutlineRow[] {
  return Object.values(document.outlines)
    .filter((row) => row.layerId === layerId)
    .sort((a, b) => a.position - b.position);
}

/** Pieces of sound by track, and along it. */
export function piecesInOrder(document: CrossingDocument): PieceRow[] {
  return Object.values(document.pieces).sort((a, b) => a.track - b.track || a.start - b.start);
}

/** An outline's strokes in the order in which they were painted. */
export function strokesOf(document: CrossingDocument, outlineId: string): StrokeRow[] {
  return Object.values(document.strokes)
    .filter((stroke) => stroke.outlineId === outlineId)
    .sort((a, b) => a.position - b.position);
}

/** Marks in the order of their frames. */
export function marksInOrder(document: CrossingDocument): MarkRow[] {
  return Object.values(document.marks).sort((a, b) => a.frame - b.frame || a.name.localeCompare(b.name));
}

/** What a layer is called in lists: its own name, or its shot's. */
export function layerTitle(
  { name }: Pick<LayerRow, 'name'>,
  shot: { name: string } | null | undefined,
): string {
  return name ?? shot?.name ?? 'a shot';
}

/** The frame on which the edge is marked to open, or to close; undefined where it is not. */
export function markedFrame(
  { marks }: Pick<CrossingDocument, 'marks'>,
  wanted: 'opens' | 'closes',
): number | undefined {
  return Object.values(marks).find(({ kind }) => kind === wanted)?.frame;
}

/** First and last crossing frame that are played and exported. */
export function playedRange({ crossing }: CrossingDocument): [first: number, last: number] {
  const end = crossing.length - 1;
  const last = Math.min(end, crossing.outFrame ?? end);
  return [Math.min(last, crossing.inFrame), last];
}
