import { type PieceRow, plainPiece } from '../src/core/document/tables';
import { makerBeginnings } from '../src/core/sound/makers';
import { id } from './crossing-rows';

/** Sound of the demo's crossings, all of it made. */

/** Samples of a frame. */
const perFrame = 48_000 / 25;

/** A made piece from a frame on, so many frames long. */
function made(
  last: string,
  maker: PieceRow['maker'],
  [from, frames]: readonly [number, number],
  rest: Partial<PieceRow> & { track: number },
): PieceRow {
  const length = frames * perFrame;
  return {
    ...plainPiece,
    ...{ id: id(last), name: maker[0].toUpperCase() + maker.slice(1), source: 'made', sourceId: null, maker },
    ...{ start: from * perFrame, inSample: 0, length, madeLength: length },
    brightness: makerBeginnings[maker].brightness,
    ...rest,
  };
}

/** The gardener's pass: a sweep of air, and the two places, one going out as the other comes in. */
export function passSounds(): PieceRow[] {
  return [
    made('a1', 'air sweep', [13, 36], { track: 0, loudestAt: 78, level: -4, seed: 7 }),
    made('a2', 'murmur', [0, 66], { track: 1, level: -12, crossfade: 'goes out', name: 'In the glasshouse' }),
    made('a3', 'night insects', [0, 66], { track: 2, level: -10, crossfade: 'comes in', seed: 3 }),
  ];
}

/** The shed's door: a latch and a hinge; behind it water and people, low and dull until it is open. */
export function doorSounds(): PieceRow[] {
  const behind = { behind: true, ring: 35, bend: [0.42, 0, 0.58, 1] };
  return [
    made('b1', 'latch', [9, 8], { track: 0, level: -6, seed: 2 }),
    made('b2', 'creak', [14, 34], { track: 0, level: -14, fadeOut: 4800, seed: 5 }),
    made('b3', 'water', [0, 90], { track: 1, level: -4, ...behind }),
    made('b4', 'murmur', [0, 90], { track: 2, level: -10, seed: 4, ...behind }),
  ];
}
