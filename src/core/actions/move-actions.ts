import type { Onward } from '../model/time';
import { applyChanges } from '../document/document';
import { type CrossingDocument, type LayerRow, moveId, type MoveRow } from '../document/tables';
import { changeRow, type RowChange } from '../document/edit';
import type { Channel } from '../model/channels';
import { withinBounds, hasChannel } from '../document/keys';

/** Makes or changes the key of a channel at a crossing frame. @param second, third the channel's further numbers. */
export function setMove(
  { moves }: CrossingDocument,
  ownerId: string,
  channel: Channel,
  frame: number,
  value: number,
  second = 0,
  { third = 0, ...way }: Partial<Pick<MoveRow, 'onward' | 'ease' | 'third'>> = {},
): RowChange[] {
  const id = moveId(ownerId, channel, frame);
  const before = moves[id] ?? null;
  const earlier = Object.values(moves)
    .filter((row) => row.ownerId === ownerId && row.channel === channel && row.frame < frame)
    .reduce<MoveRow | null>((last, row) => (last && last.frame > row.frame ? last : row), null);
  const { onward, ease } = before ?? earlier ?? { onward: 'eased' as const, ease: [] };
  const after: MoveRow = {
    id,
    ownerId,
    channel,
    frame,
    onward,
    ease: [...ease],
    value,
    second,
    third,
    ...way,
  };
  return [changeRow('move', before, after)];
}

export function removeMoves(rows: readonly MoveRow[]): RowChange[] {
  return rows.map((row) => changeRow('move', row, null));
}

/** The keys of these channels that owners have. */
export function movesOf(
  { moves }: CrossingDocument,
  owners: readonly string[],
  channels: readonly Channel[],
): MoveRow[] {
  return Object.values(moves).filter(
    ({ ownerId, channel }) => owners.includes(ownerId) && channels.includes(channel),
  );
}

/**
 * Keys worked out anew in place of those that owners had.
 *
 * @param put makes them, in the document without the old ones.
 */
export function replaceMoves(
  document: CrossingDocument,
  owners: readonly string[],
  channels: readonly Channel[],
  put: (without: CrossingDocument) => readonly RowChange[],
): RowChange[] {
  const old = movesOf(document, owners, channels);
  const made = put(applyChanges(document, removeMoves(old)));
  const anew = new Set(made.map(({ id }) => id));
  return [
    ...removeMoves(old.filter(({ id }) => !anew.has(id))),
    ...made.map((change) => ({ ...change, before: document.moves[change.id] ?? null }) as RowChange),
  ];
}

/** Keys taken to other frames; what stood there gives way. None leaves 0 … `last`. */
export function shiftMoves(
  document: CrossingDocument,
  rows: readonly MoveRow[],
  by: number,
  last: number,
): RowChange[] {
  const [first, end] = endsOf(rows);
  const shift = Math.max(-first, Math.min(last - end, by));
  return shift === 0 || rows.length === 0 ? [] : retimed(document, rows, (frame) => frame + shift);
}

/** Keys drawn out or together about a frame; none where two of a channel would meet, or one would leave 0 … `last`. */
export function stretchMoves(
  document: CrossingDocument,
  rows: readonly MoveRow[],
  about: number,
  by: number,
  last: number,
): RowChange[] {
  const at = (frame: number) => Math.round(about + (frame - about) * by);
  const ids = new Set(rows.map((row) => moveId(row.ownerId, row.channel, at(row.frame))));
  if (ids.size < rows.length || rows.some(({ frame }) => at(frame) < 0 || at(frame) > last)) return [];
  return rows.every(({ frame }) => at(frame) === frame) ? [] : retimed(document, rows, at);
}

function retimed(
  { moves }: CrossingDocument,
  rows: readonly MoveRow[],
  at: (frame: number) => number,
): RowChange[] {
  const goes = new Set(rows.map(({ id }) => id));
  const after = new Map<string, MoveRow>();
  for (const row of rows) {
    const frame = at(row.frame);
    const id = moveId(row.ownerId, row.channel, frame);
    after.set(id, { ...row, id, frame });
  }
  const left = rows.filter(({ id }) => !after.has(id)).map((row) => changeRow('move', row, null));
  const put = [...after.values()].map((row) =>
    changeRow('move', goes.has(row.id) || moves[row.id] ? moves[row.id] : null, row),
  );
  return [...left, ...put];
}

/** Copies of keys on another owner, the first of them on a frame; those of channels that it has not, and those beyond `last`, are left out. */
export function copiedMoves(
  document: CrossingDocument,
  rows: readonly MoveRow[],
  ownerId: string,
  frame: number,
  last: number,
): RowChange[] {
  const [first] = endsOf(rows);
  return rows.flatMap((row) => {
    const at = row.frame - first + frame;
    const id = moveId(ownerId, row.channel, at);
    const copy = { ...row, id, ownerId, frame: at };
    if (at > last || !hasChannel(document, copy)) return [];
    return [changeRow('move', document.moves[id] ?? null, copy)];
  });
}

function endsOf(rows: readonly MoveRow[]): [first: number, last: number] {
  const frames = rows.map(({ frame }) => frame);
  return [Math.min(...frames), Math.max(...frames)];
}

/** How keys run on to the next. @param ease handles, or none. */
export function setMovesOnward(
  rows: readonly MoveRow[],
  onward: Onward,
  ease: readonly number[] = [],
): RowChange[] {
  return rows.map((row) => changeRow('move', row, { ...row, onward, ease: [...ease] }));
}

/** A layer's keys, if it has any, going along where it is set otherwise for all frames. */
export function movesAlong(document: CrossingDocument, before: LayerRow, after: LayerRow): RowChange[] {
  const changed: Partial<Record<Channel, (value: number) => number>> = {
    place: (value) => value + after.x - before.x,
    size: (value) => (value * after.scale) / before.scale,
    turn: (value) => value + after.turn - before.turn,
  };
  return Object.values(document.moves)
    .filter(({ ownerId }) => ownerId === before.id)
    .flatMap((row) => {
      const change = changed[row.channel];
      if (!change) return [];
      const value = withinBounds(row.channel, change(row.value));
      const second =
        row.channel === 'place' ? withinBounds('place', row.second + after.y - before.y, 1) : row.second;
      return value === row.value && second === row.second
        ? []
        : [changeRow('move', row, { ...row, value, second })];
    });
}
