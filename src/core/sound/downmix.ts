import { silence, type Stereo } from './stereo';

/** Where a channel stands. */
type Place =
  | 'left'
  | 'right'
  | 'centre'
  | 'low'
  | 'left surround'
  | 'right surround'
  | 'behind'
  | 'left behind'
  | 'right behind';

/** The order of channels by their number: as WAVE, FLAC (RFC 9639, section 9.1.3) and decoded sound have them. */
const layouts: Readonly<Record<number, readonly Place[]>> = {
  1: ['centre'],
  2: ['left', 'right'],
  3: ['left', 'right', 'centre'],
  4: ['left', 'right', 'left surround', 'right surround'],
  5: ['left', 'right', 'centre', 'left surround', 'right surround'],
  6: ['left', 'right', 'centre', 'low', 'left surround', 'right surround'],
  7: ['left', 'right', 'centre', 'low', 'behind', 'left surround', 'right surround'],
  8: ['left', 'right', 'centre', 'low', 'left behind', 'right behind', 'left surround', 'right surround'],
};

/** Two of the six channels of 5.1, in the order of a file's: left and right, centre and low effects, the surrounds. */
export type Pair = 'front' | 'middle' | 'surround';
export const pairs: readonly Pair[] = ['front', 'middle', 'surround'];

const placesOf: Readonly<Record<Pair, readonly [Place, Place]>> = {
  front: ['left', 'right'],
  middle: ['centre', 'low'],
  surround: ['left surround', 'right surround'],
};

/** Most channels that are mixed. */
export const mostChannels = 8;

const half = Math.SQRT1_2;
/**
 * ITU-R BS.775-3, annex 4, table 2: 3/2 and fewer to 2/0; the channel of low effects is left out. It knows no channels
 * behind the surrounds: they are taken as further surrounds, one alone as the rear channel of 3/1.
 */
const shares: Readonly<Record<Place, readonly [left: number, right: number]>> = {
  left: [1, 0],
  right: [0, 1],
  centre: [half, half],
  low: [0, 0],
  'left surround': [half, 0],
  'right surround': [0, half],
  behind: [0.5, 0.5],
  'left behind': [half, 0],
  'right behind': [0, half],
};

/**
 * Channels mixed to two. One alone stays as loud on either side (common practice, no source).
 *
 * @throws RangeError for more than eight, or none.
 */
export function toStereo(channels: readonly Float32Array<ArrayBuffer>[]): Stereo {
  if (channels.length === 1) return [channels[0], channels[0].slice()];
  if (channels.length === 2) return [channels[0], channels[1]];
  const layout = layouts[channels.length];
  if (!layout) throw new RangeError(`${channels.length} channels cannot be mixed to two.`);
  const out: Stereo = [new Float32Array(channels[0].length), new Float32Array(channels[0].length)];
  layout.forEach((place, c) => {
    shares[place].forEach((share, side) => {
      if (share === 0) return;
      const [from, to] = [channels[c], out[side]];
      for (let i = 0; i < to.length; i++) to[i] += share * from[i];
    });
  });
  return out;
}

/**
 * One pair of a sound's channels where it is kept in 5.1. What has one channel or two is at the front, as it is in stereo.
 * What stands behind the surrounds comes out of them, one alone at a share that keeps its power (BS.775-3 knows none; taste).
 *
 * @throws RangeError for more than eight channels, or none.
 */
export function toPair(channels: readonly Float32Array<ArrayBuffer>[], pair: Pair): Stereo {
  const count = channels[0]?.length ?? 0;
  if (channels.length <= 2) return pair === 'front' ? toStereo(channels) : silence(count);
  const layout = layouts[channels.length];
  if (!layout) throw new RangeError(`${channels.length} channels cannot be kept in 5.1.`);
  const out = silence(count);
  layout.forEach((place, c) => {
    placesOf[pair].forEach((wanted, side) => {
      const share = place === wanted ? 1 : pair === 'surround' ? (behind[place]?.[side] ?? 0) : 0;
      if (share === 0) return;
      for (let i = 0; i < count; i++) out[side][i] += share * channels[c][i];
    });
  });
  return out;
}

/** Shares of what stands behind in the left and right surround. */
const behind: Partial<Readonly<Record<Place, readonly [left: number, right: number]>>> = {
  behind: [half, half],
  'left behind': [1, 0],
  'right behind': [0, 1],
};
