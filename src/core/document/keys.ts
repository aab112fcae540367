import type { EaseHandles, Key } from '../time/track';
import type { Channel } from './channels';
import type { CrossingDocument } from './document';
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
