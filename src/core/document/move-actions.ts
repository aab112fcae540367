import type { Onward } from '../time/track';
import { applyChanges, type CrossingDocument } from './document';
import { changeRow, type RowChange } from './edit';
import {
  type Channel,
  channelNumbers,
  leafChannels,
  soundChannels,
  wholeChannels,
  withinBounds,
} from './channels';
import { type LayerRow, moveId, type MoveRow } from './rows';

/** What one action does to the keys of a layer or of the whole picture; each returns the row changes of one edit. */

/** A key's numbers, as many as its channel has. */
export function numbersOf({ channel, value, second, third }: MoveRow): number[] {
  return [value, second, third].slice(0, channelNumbers[channel].length);
}

/** Whether a row says what its channel can be, under the id that belongs to it. */
export function isSoundMove(row: MoveRow): boolean {
  const { id, ownerId, channel, frame, ease } = row;
  const numbers = channelNumbers[channel];
  const within = [row.value, row.second, row.third].every((value, k) =>
    k < numbers.length ? value >= numbers[k].low && value <= numbers[k].high : value === 0,
  );
  const timed = ease.length === 0 || [ease[0], ease[2]].every((x) => x >= 0 && x <= 1);
  return id === moveId(ownerId, channel, frame) && within && timed;
}

/** Whether a channel is one of what moves or sounds: a layer, the whole picture, a leaf or a piece of sound. */
export function hasChannel(
  { crossing, layers, outlines, pieces }: CrossingDocument,
  { ownerId, channel }: MoveRow,
): boolean {
  const sounds = (soundChannels as readonly Channel[]).includes(channel);
  if (ownerId === crossing.id) return wholeChannels.includes(channel);
  if (layers[ownerId]) return !leafChannels.includes(channel) && !sounds;
  if (pieces[ownerId]) return sounds;
  return outlines[ownerId]?.kind === 'loop' && leafChannels.includes(channel);
}

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
