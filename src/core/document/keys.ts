import { type Key, numberAt } from '../time/track';
import type { EaseHandles } from '../model/time';
import { type Channel, channelNumbers, ownsChannel } from '../model/channels';
import { type CrossingDocument, type MoveRow, moveId } from './tables';

/** A move's key as a track has it. */
export interface MoveKey extends Key {
  row: MoveRow;
}

type Keys = Partial<Record<Channel, readonly MoveKey[]>>;

const byOwner = new WeakMap<CrossingDocument['moves'], ReadonlyMap<string, Keys>>();

/** The keys of a layer (or, by the crossing's id, of the whole picture), ascending by frame; none where nothing moves. */
export function keysOf({ moves }: CrossingDocument, ownerId: string): Keys {
  let owners = byOwner.get(moves);
  if (!owners) {
    const found = new Map<string, Partial<Record<Channel, MoveKey[]>>>();
    for (const row of Object.values(moves)) {
      const own = found.get(row.ownerId) ?? {};
      found.set(row.ownerId, own);
      (own[row.channel] ??= []).push({
        frame: row.frame,
        onward: row.onward,
        ease: handlesOf(row),
        row,
      });
    }
    for (const own of found.values())
      for (const keys of Object.values(own)) keys.sort((a, b) => a.frame - b.frame);
    owners = found;
    byOwner.set(moves, owners);
  }
  return owners.get(ownerId) ?? {};
}

function handlesOf({ ease }: MoveRow): EaseHandles | null {
  const [x1, y1, x2, y2] = ease;
  return ease.length === 4 ? [x1, y1, x2, y2] : null;
}

/** A channel's numbers at a crossing frame, each by itself; as at rest where it has no keys. */
export function numbersAt(
  document: CrossingDocument,
  ownerId: string,
  channel: Channel,
  frame: number,
): number[] {
  const numbers = channelNumbers[channel];
  return keyedAt(document, ownerId, channel, frame) ?? numbers.map(({ rest }) => rest);
}

/** The same; null where the channel has no keys. @param frame may lie between frames. */
export function keyedAt(
  document: CrossingDocument,
  ownerId: string,
  channel: Channel,
  frame: number,
): number[] | null {
  const keys = keysOf(document, ownerId)[channel];
  if (!keys) return null;
  return channelNumbers[channel].map(({ low, high, logarithmic }, k) => {
    const of = ({ row }: MoveKey) => (logarithmic ? Math.log(numbersOf(row)[k]) : numbersOf(row)[k]);
    const value = numberAt(keys, frame, of)!;
    return Math.min(high, Math.max(low, logarithmic ? Math.exp(value) : value));
  });
}

/** A channel's number, as near as its bounds allow. @param which of its numbers. */
export function withinBounds(channel: Channel, value: number, which = 0): number {
  const { low, high } = channelNumbers[channel][which];
  return Math.min(high, Math.max(low, value));
}

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
  if (ownerId === crossing.id) return ownsChannel('whole', channel);
  if (layers[ownerId]) return ownsChannel('layer', channel);
  if (pieces[ownerId]) return ownsChannel('piece', channel);
  return outlines[ownerId]?.kind === 'loop' && ownsChannel('leaf', channel);
}
