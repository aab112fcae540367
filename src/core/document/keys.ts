import { type EaseHandles, type Key, numberAt } from '../time/track';
import { type Channel, channelNumbers } from './channels';
import type { CrossingDocument } from './document';
import { numbersOf } from './move-actions';
import type { MoveRow } from './rows';

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
