import type { PicturePlanes } from '../picture/planes';
import type { Shot } from '../model/shot';
import { readEdge, widthOf } from './profile';
import { straighten, type Walk } from './strip';

/** px across that are looked at to either side of a line, and from sample to sample. */
export const reach = 32;
export const across = 0.5;

/** px along the line that are read about a place. */
const aboutPlace = 90;

/** The picture's and the matte's edge along a line. */
export interface EdgeMeasure {
  /** px from the line, positive inside the region, by row. */
  depths: number[];
  /** 0 outside to 1 inside; null where it does not reach. */
  picture: (number | null)[];
  matte: (number | null)[];
  /** 10 to 90 % widths, px; null where the matte's runs out of reach. */
  pictureWidth: number;
  matteWidth: number | null;
  /** Where the picture's edge lies against the line, px. */
  offset: number;
  support: number;
}

/**
 * Measures the edge of a picture and of a matte along a line, whole or about a place (px of the shot).
 *
 * @param alpha of the matte, at the shot's size.
 * @param expected px into the region at which the whole line's edge was found, if it was.
 * @returns null where the picture shows no edge there.
 */
export function measureEdge(
  planes: PicturePlanes,
  shot: Shot,
  {
    alpha,
    place,
    expected = null,
  }: { alpha: Uint8Array; place: readonly [number, number] | null; expected?: number | null },
  walk: Walk,
): EdgeMeasure | null {
  const strip = straighten(planes, shot, movedInto(walk, expected ?? 0), reach, across);
  const [from, to] = place ? nearestColumns(walk, place) : [0, strip.columns];
  const reading = readEdge(strip, walk.step, [from, to]);
  if (!reading) return null;
  const offset = reading.offset + (expected ?? 0);
  const { width, height, colour } = shot;
  const grey = { chromaWidth: 2, chromaHeight: 2, u: new Uint8Array(4), v: new Uint8Array(4) };
  const matteStrip = straighten(
    { width, height, y: alpha, ...grey, colour },
    { ...shot, rotation: 0 },
    walk,
    reach,
    across,
  );
  const matte = Array.from({ length: strip.rows }, (_, row) => {
    let [sum, count] = [0, 0];
    for (let k = from; k < to; k++) {
      const value = matteStrip.y[row * strip.columns + k];
      if (Number.isNaN(value)) continue;
      sum += value;
      count++;
    }
    return count === 0 ? null : sum / count / 255;
  });
  // The mean profile has the edge in its middle: it is put where the edge was found.
  const shift = Math.round(offset / across);
  const picture = Array.from({ length: strip.rows }, (_, row) => {
    const value = reading.profile[row - shift];
    return value === undefined || Number.isNaN(value) ? null : value;
  });
  return {
    depths: Array.from({ length: strip.rows }, (_, row) => (row - (strip.rows - 1) / 2) * across),
    picture,
    matte,
    pictureWidth: reading.width,
    matteWidth: riseOf(matte),
    offset,
    support: reading.support,
  };
}

/** The walk so many px farther into the region. */
function movedInto(walk: Walk, by: number): Walk {
  return { ...walk, places: walk.places.map((value, i) => value + by * walk.inward[i]) };
}

function nearestColumns(walk: Walk, [x, y]: readonly [number, number]): [number, number] {
  const count = walk.places.length / 2;
  let [nearest, least] = [0, Infinity];
  for (let k = 0; k < count; k++) {
    const far = Math.hypot(walk.places[2 * k] - x, walk.places[2 * k + 1] - y);
    if (far < least) [least, nearest] = [far, k];
  }
  const half = Math.round(aboutPlace / 2 / walk.step);
  const from = Math.min(Math.max(0, nearest - half), Math.max(0, count - 2 * half));
  return [from, Math.min(count, from + 2 * half)];
}

/** 10 to 90 % width of a matte's profile, wherever its middle lies, px. */
function riseOf(profile: readonly (number | null)[]): number | null {
  const middle = profile.findIndex((value) => value !== null && value >= 0.5);
  if (middle < 0) return null;
  // Put in the middle of a profile of its own, so that it can be read like the picture's.
  const half = Math.min(middle, profile.length - 1 - middle);
  return widthOf(
    profile.slice(middle - half, middle + half + 1).map((value) => value ?? NaN),
    { across },
  );
}
