import { yuvToRgb } from '../colour/matrix';
import type { Rectangle } from '../geometry/rectangle';
import type { FramePicture } from '../picture/frame-picture';
import { colourGrid } from './colour-grid';
import { boxOn } from './window';

const { ceil, floor, log2, max, min } = Math;

/** A small network that says where people are in a picture. */
export interface PeopleNetwork {
  /** Samples of the picture that it takes, and of what it gives. */
  width: number;
  height: number;
  /**
   * @param rgb R, G and B by turns, 0 to 1, row by row.
   * @returns how much of each sample is a person, 0 to 1.
   */
  shares(rgb: Float32Array): Promise<Float32Array>;
}

/** How much of each sample of a part of a picture is a person, 0 to 1. */
export interface PeopleView {
  /** The part, px of the picture; it may reach beyond. */
  part: Rectangle;
  width: number;
  height: number;
  shares: Float32Array;
}

/** Asks the network about a part of a picture. */
export async function peopleIn(
  picture: FramePicture,
  part: Rectangle,
  network: PeopleNetwork,
): Promise<PeopleView> {
  const { width, height } = network;
  const shares = await network.shares(networkInput(picture, part, width, height));
  return { part, width, height, shares };
}

/** A part of a picture at a network's size: display R, G and B by turns, 0 to 1; beyond the picture its border goes on. */
export function networkInput(
  picture: FramePicture,
  [x0, y0, x1, y1]: Rectangle,
  width: number,
  height: number,
): Float32Array {
  const step = min((x1 - x0) / width, (y1 - y0) / height);
  const level = max(0, floor(log2(max(1, step))));
  const { width: gw, height: gh, y, u, v } = gridOf(picture, level);
  const [sx, sy] = [gw / picture.width, gh / picture.height];
  const m = yuvToRgb(picture.planes.colour);
  const rgb = new Float32Array(3 * width * height);
  // Where the samples of a row lie between those of the grid.
  const columns = placesAlong(width, gw, (i) => (x0 + ((i + 0.5) * (x1 - x0)) / width) * sx - 0.5);
  const rows = placesAlong(height, gh, (j) => (y0 + ((j + 0.5) * (y1 - y0)) / height) * sy - 0.5);
  for (let j = 0, o = 0; j < height; j++) {
    const [top, low] = [rows.at[j] * gw, rows.next[j] * gw];
    const fy = rows.share[j];
    for (let i = 0; i < width; i++) {
      const [left, right] = [columns.at[i], columns.next[i]];
      const fx = columns.share[i];
      const [w00, w10] = [(1 - fx) * (1 - fy), fx * (1 - fy)];
      const [w01, w11] = [(1 - fx) * fy, fx * fy];
      const [p, q, r, s] = [top + left, top + right, low + left, low + right];
      const a = w00 * y[p] + w10 * y[q] + w01 * y[r] + w11 * y[s];
      const b = w00 * u[p] + w10 * u[q] + w01 * u[r] + w11 * u[s];
      const c = w00 * v[p] + w10 * v[q] + w01 * v[r] + w11 * v[s];
      for (let row = 0; row < 12; row += 4) {
        const value = (m[row] * a + m[row + 1] * b + m[row + 2] * c + m[row + 3]) / 255;
        rgb[o++] = value < 0 ? 0 : value > 1 ? 1 : value;
      }
    }
  }
  return rgb;
}

/** Whole places, those after them and the shares between, the border's repeated. */
function placesAlong(count: number, length: number, place: (k: number) => number) {
  const [at, next] = [new Int32Array(count), new Int32Array(count)];
  const share = new Float32Array(count);
  for (let k = 0; k < count; k++) {
    const own = min(length - 1, max(0, place(k)));
    at[k] = floor(own);
    next[k] = min(length - 1, at[k] + 1);
    share[k] = own - at[k];
  }
  return { at, next, share };
}

/** A picture's colours at the size that was asked for last: the same picture is looked at in many parts. */
let last: { picture: FramePicture; level: number; grid: ReturnType<typeof colourGrid> } | null = null;

function gridOf(picture: FramePicture, level: number) {
  if (last?.picture !== picture || last.level !== level)
    last = { picture, level, grid: colourGrid(picture, level) };
  return last.grid;
}

/**
 * What views say of each sample of a grid over a picture so large: the most that any of them has there; NaN where none reaches.
 *
 * @param size px of the picture.
 */
export function sharesOnGrid(
  views: readonly PeopleView[],
  size: { width: number; height: number },
  grid: { width: number; height: number },
): Float32Array {
  const out = new Float32Array(grid.width * grid.height).fill(NaN);
  for (const {
    part: [x0, y0, x1, y1],
    width,
    height,
    shares,
  } of views) {
    const [sx, sy] = [width / (x1 - x0), height / (y1 - y0)];
    const [first, end] = [(x0 * grid.width) / size.width, (x1 * grid.width) / size.width];
    const [from, to] = [max(0, floor(first)), min(grid.width, ceil(end))];
    for (let j = 0; j < grid.height; j++) {
      const v = (((j + 0.5) * size.height) / grid.height - y0) * sy;
      for (let i = from, at = j * grid.width + from; i < to; i++, at++) {
        const u = (((i + 0.5) * size.width) / grid.width - x0) * sx;
        if (u < 0 || v < 0 || u > width || v > height) continue;
        const share = between(shares, width, height, u - 0.5, v - 0.5);
        if (!(out[at] >= share)) out[at] = share;
      }
    }
  }
  return out;
}

/** Bilinear between samples' middles, the border's samples repeated: for shares, so that the one for pictures stays quick. */
function between(shares: Float32Array, width: number, height: number, x: number, y: number): number {
  const [cx, cy] = [min(width - 1, max(0, x)), min(height - 1, max(0, y))];
  const [i, j] = [floor(cx), floor(cy)];
  const [fx, fy] = [cx - i, cy - j];
  const at = j * width + i;
  const [right, below] = [i + 1 < width ? 1 : 0, j + 1 < height ? width : 0];
  const top = (1 - fx) * shares[at] + fx * shares[at + right];
  return (1 - fy) * top + fy * ((1 - fx) * shares[at + below] + fx * shares[at + below + right]);
}

/** Times its longer side, the side of the square about what is expected that the network is asked about (from the bench's walkers). */
const usualMargin = 1.6;
/** Share of the picture's height that the square has at the least. */
const leastSide = 0.2;

/**
 * The square about a region of a grid, px of the picture: there a person is seen large. Null where the region is empty.
 *
 * @param inside more than 0 where the region is.
 * @param margin its side, times the region's longer one.
 */
export function squareAbout(
  inside: ArrayLike<number>,
  grid: { width: number; height: number },
  size: { width: number; height: number },
  margin = usualMargin,
): Rectangle | null {
  const box = boxOn(inside, grid.width);
  if (!box) return null;
  const [left, top, right, bottom] = box;
  const [sx, sy] = [size.width / grid.width, size.height / grid.height];
  const longer = max((right - left) * sx, (bottom - top) * sy);
  const half = max(margin * longer, leastSide * size.height) / 2;
  const [x, y] = [((left + right) / 2) * sx, ((top + bottom) / 2) * sy];
  return [x - half, y - half, x + half, y + half];
}
