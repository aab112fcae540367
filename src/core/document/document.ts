import { type RowChange, sameRow } from './edit';
import type { CrossingRow, EdgeRow, KeyRow, LayerRow, MarkRow, OutlineRow, PoseRow } from './rows';

/** A crossing in memory. Never changed in place: an edit makes a new one that shares what stayed the same. */
export interface CrossingDocument {
  crossing: CrossingRow;
  layers: Readonly<Record<string, LayerRow>>;
  outlines: Readonly<Record<string, OutlineRow>>;
  /** By outline id; each list ascends by frame. */
  poses: Readonly<Record<string, readonly PoseRow[]>>;
  /** The keys of outlines' edges, likewise. */
  edges: Readonly<Record<string, readonly EdgeRow[]>>;
  marks: Readonly<Record<string, MarkRow>>;
  /** By the layer that is keyed. */
  keys: Readonly<Record<string, KeyRow>>;
}

/** A change met another row than the one it was made from. */
export class EditConflict extends Error {
  constructor(readonly change: RowChange) {
    super(`The ${change.table} ${change.id} is not what the edit was made from.`);
    this.name = 'EditConflict';
  }
}

export function documentFromRows(
  crossing: CrossingRow,
  layers: readonly LayerRow[],
  outlines: readonly OutlineRow[],
  poses: readonly PoseRow[],
  marks: readonly MarkRow[] = [],
  edges: readonly EdgeRow[] = [],
  keys: readonly KeyRow[] = [],
): CrossingDocument {
  return {
    crossing,
    layers: Object.fromEntries(layers.map((row) => [row.id, row])),
    outlines: Object.fromEntries(outlines.map((row) => [row.id, row])),
    poses: byOutline(poses),
    edges: byOutline(edges),
    marks: Object.fromEntries(marks.map((row) => [row.id, row])),
    keys: Object.fromEntries(keys.map((row) => [row.id, row])),
  };
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
  const copied = new Set<string>();
  for (const change of changes) {
    if (!sameRow(currentRow(next, change), change.before)) throw new EditConflict(change);
    if (change.table === 'crossing') {
      if (!change.after) throw new EditConflict(change);
      next.crossing = change.after;
    } else if (change.table === 'layer') {
      next.layers = withRow(next.layers, change.id, change.after);
    } else if (change.table === 'outline') {
      next.outlines = withRow(next.outlines, change.id, change.after);
    } else if (change.table === 'mark') {
      next.marks = withRow(next.marks, change.id, change.after);
    } else if (change.table === 'key') {
      next.keys = withRow(next.keys, change.id, change.after);
    } else if (change.table === 'pose') {
      next.poses = withKey('poses', next.poses, change.before, change.after, copied);
    } else {
      next.edges = withKey('edges', next.edges, change.before, change.after, copied);
    }
  }
  return next;
}

function currentRow(document: CrossingDocument, change: RowChange): object | null {
  switch (change.table) {
    case 'crossing':
      return document.crossing;
    case 'layer':
      return document.layers[change.id] ?? null;
    case 'outline':
      return document.outlines[change.id] ?? null;
    case 'mark':
      return document.marks[change.id] ?? null;
    case 'key':
      return document.keys[change.id] ?? null;
    case 'pose': {
      const row = (change.after ?? change.before)!;
      return poseAtFrame(document, row.outlineId, row.frame);
    }
    case 'edge': {
      const row = (change.after ?? change.before)!;
      return edgeAtFrame(document, row.outlineId, row.frame);
    }
  }
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

/** The place of the first key at or after `frame` in an ascending list; its length when there is none. */
export function firstKeyFrom(keys: readonly { frame: number }[], frame: number): number {
  let low = 0;
  let high = keys.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (keys[middle].frame < frame) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The pose made on exactly this source frame, or null. */
export function poseAtFrame(document: CrossingDocument, outlineId: string, frame: number): PoseRow | null {
  const list = document.poses[outlineId] ?? [];
  const pose = list[firstKeyFrom(list, frame)];
  return pose?.frame === frame ? pose : null;
}

/** The key of an outline's edge on exactly this source frame, or null. */
export function edgeAtFrame(document: CrossingDocument, outlineId: string, frame: number): EdgeRow | null {
  const list = document.edges[outlineId] ?? [];
  const edge = list[firstKeyFrom(list, frame)];
  return edge?.frame === frame ? edge : null;
}

/** Layers from the bottom up. */
export function layersInOrder(document: CrossingDocument): LayerRow[] {
  return Object.values(document.layers).sort((a, b) => a.position - b.position);
}

/** A layer's outlines in the order in which they combine. */
export function outlinesOfLayer(document: CrossingDocument, layerId: string): OutlineRow[] {
  return Object.values(document.outlines)
    .filter((row) => row.layerId === layerId)
    .sort((a, b) => a.position - b.position);
}

/** Marks in the order of their frames. */
export function marksInOrder(document: CrossingDocument): MarkRow[] {
  return Object.values(document.marks).sort((a, b) => a.frame - b.frame || a.name.localeCompare(b.name));
}

/** First and last crossing frame that are played and exported. */
export function playedRange({ crossing }: CrossingDocument): [first: number, last: number] {
  const end = crossing.length - 1;
  const last = Math.min(end, crossing.outFrame ?? end);
  return [Math.min(last, crossing.inFrame), last];
}

/** How many crossing frames are played and exported. */
export function playedLength(document: CrossingDocument): number {
  const [first, last] = playedRange(document);
  return last - first + 1;
}
