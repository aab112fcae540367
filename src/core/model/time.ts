/** How time is written down: rates, time maps and the ways between keys. */

/** A frame rate as an exact fraction, in frames per second: 30000/1001 is NTSC's 29.97. */
export interface Rate {
  num: number;
  den: number;
}

/** Speed by keys: the shares of its own speed at which a layer runs, from key to key on a straight course. */
export interface Ramp {
  /** Crossing frame and percent of each key, one after the other, ascending; empty: no ramp. */
  ramp?: readonly number[];
  /** The crossing frame that goes on showing what it shows without the ramp. */
  rampAt?: number;
  /** Frames over which the corners of its course are rounded. */
  rampRound?: number;
}

/** What a ramp's percents may be: backwards, still, and up to ten times. */
export const rampBounds = [-1000, 1000] as const;

/** How a layer's source frames follow the crossing's frames. */
export interface TimeMap extends Ramp {
  /**
   * The source frame shown at crossing frame 0; may lie outside the shot. Where frames come unevenly it counts frames
   * of the mean rate, so that slipping by one is always as long.
   */
  offset: number;
  /** Percent of the shot's own speed, 25 to 800, to two decimals. */
  speed: number;
  /** Whether the shot runs backwards. */
  reverse: boolean;
  /** The source frame that is held once it is reached, or null. */
  holdFrom: number | null;
}

/** The shot at its own speed from its first frame. */
export const plainTime: TimeMap = { offset: 0, speed: 100, reverse: false, holdFrom: null };

/** How an in-between runs from one key to the next; `hold` stays until the next. */
export const onwards = ['linear', 'smooth', 'eased', 'hold'] as const;

export type Onward = (typeof onwards)[number];

/** Handles of an eased in-between: times 0 to 1, and the share of the way at each. */
export type EaseHandles = readonly [x1: number, y1: number, x2: number, y2: number];
