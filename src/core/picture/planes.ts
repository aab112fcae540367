import type { VideoColour, Shot } from '../model/shot';
import type { Affine } from '../geometry/affine';

/** A decoded picture: one plane of luma and two of chroma, rows without padding, 8 bits a sample. */
export interface PicturePlanes {
  width: number;
  height: number;
  chromaWidth: number;
  chromaHeight: number;
  y: Uint8Array;
  u: Uint8Array;
  v: Uint8Array;
  colour: VideoColour;
  /** The same samples with more bits, where they were filmed with more and somebody has asked for them. */
  deep?: DeepSamples;
}

/** Samples in {@link perDeepCode}ths of an 8-bit code value. */
export interface DeepSamples {
  y: Uint16Array;
  u: Uint16Array;
  v: Uint16Array;
}

/** Parts of a code value of 8 bits that deep samples count in. */
export const perDeepCode = 256;

/** Bytes that the planes take. */
export function byteLength(planes: PicturePlanes): number {
  const samples = planes.y.length + planes.u.length + planes.v.length;
  return planes.deep ? 3 * samples : samples;
}

/** From a shot's pixels as shown to the samples of `planes`, turning back the file's rotation and pixel shape. */
export function shotToPlanes(shot: Shot, planes: Pick<PicturePlanes, 'width' | 'height'>): Affine {
  const { rotation, width, height } = shot;
  const upright = rotation === 0 || rotation === 180;
  const sx = planes.width / (upright ? width : height);
  const sy = planes.height / (upright ? height : width);
  switch (rotation) {
    case 0:
      return [sx, 0, 0, sy, 0, 0];
    case 90:
      return [0, -sy, sx, 0, 0, planes.height];
    case 180:
      return [-sx, 0, 0, -sy, planes.width, planes.height];
    case 270:
      return [0, sy, -sx, 0, planes.width, 0];
  }
}

/** Value between samples at (x, y), sample centres at whole numbers; beyond the edge the edge sample. */
export function bilinear(
  samples: ArrayLike<number>,
  width: number,
  height: number,
  x: number,
  y: number,
): number {
  const cx = x < 0 ? 0 : x > width - 1 ? width - 1 : x;
  const cy = y < 0 ? 0 : y > height - 1 ? height - 1 : y;
  const x0 = cx | 0;
  const y0 = cy | 0;
  const fx = cx - x0;
  const right = x0 + 1 < width ? 1 : 0;
  const below = y0 + 1 < height ? width : 0;
  const i = y0 * width + x0;
  const top = samples[i] + (samples[i + right] - samples[i]) * fx;
  const bottom = samples[i + below] + (samples[i + below + right] - samples[i + below]) * fx;
  return top + (bottom - top) * (cy - y0);
}

/**
 * Value between samples at (x, y) by the cubic of Catmull and Rom (1974; the kernel of Keys 1981 with a = −½), sharper
 * than {@link bilinear}; it can lie a little outside the samples' range.
 */
export function catmullRom(
  samples: Uint8Array | Uint16Array,
  width: number,
  height: number,
  x: number,
  y: number,
): number {
  const { floor, min, max } = Math;
  const x0 = floor(x);
  const y0 = floor(y);
  const [a, b, c, d] = cubicWeights(x - x0);
  const down = cubicWeights(y - y0);
  const [last, lowest] = [width - 1, height - 1];
  const i0 = min(last, max(0, x0 - 1));
  const i1 = min(last, max(0, x0));
  const i2 = min(last, max(0, x0 + 1));
  const i3 = min(last, max(0, x0 + 2));
  let sum = 0;
  for (let j = 0; j < 4; j++) {
    const row = min(lowest, max(0, y0 + j - 1)) * width;
    const along =
      a * samples[row + i0] + b * samples[row + i1] + c * samples[row + i2] + d * samples[row + i3];
    sum += down[j] * along;
  }
  return sum;
}

/** Weights of the samples at −1, 0, 1 and 2 for a place between 0 and 1. */
function cubicWeights(t: number): [number, number, number, number] {
  return [
    ((2 - t) * t - 1) * t * 0.5,
    ((3 * t - 5) * t * t + 2) * 0.5,
    ((4 - 3 * t) * t + 1) * t * 0.5,
    (t - 1) * t * t * 0.5,
  ];
}

/** The planes at a half, a quarter … of their size, each sample the mean of a square; 0 halvings: as they are. */
export function reducePlanes(planes: PicturePlanes, halvings: number): PicturePlanes {
  if (halvings === 0) return planes;
  const side = 1 << halvings;
  const width = Math.max(1, Math.floor(planes.width / side));
  const height = Math.max(1, Math.floor(planes.height / side));
  const chromaWidth = Math.max(1, Math.floor(planes.chromaWidth / side));
  const chromaHeight = Math.max(1, Math.floor(planes.chromaHeight / side));
  return {
    width,
    height,
    chromaWidth,
    chromaHeight,
    y: meanOfSquares(planes.y, planes.width, width, height, halvings),
    u: meanOfSquares(planes.u, planes.chromaWidth, chromaWidth, chromaHeight, halvings),
    v: meanOfSquares(planes.v, planes.chromaWidth, chromaWidth, chromaHeight, halvings),
    colour: planes.colour,
  };
}

/** Samples at a half, a quarter … of their size, each the mean of a square. */
export function meanOfSquares(
  from: Uint8Array,
  stride: number,
  width: number,
  height: number,
  halvings: number,
) {
  const to = new Uint8Array(width * height);
  if (halvings === 1) {
    for (let y = 0, o = 0; y < height; y++) {
      let i = 2 * y * stride;
      for (let x = 0; x < width; x++, i += 2)
        to[o++] = (from[i] + from[i + 1] + from[i + stride] + from[i + stride + 1] + 2) >> 2;
    }
    return to;
  }
  const side = 1 << halvings;
  const half = 1 << (2 * halvings - 1);
  const sums = new Uint32Array(width);
  for (let y = 0; y < height; y++) {
    sums.fill(half);
    for (let row = 0; row < side; row++) {
      let i = (y * side + row) * stride;
      for (let x = 0; x < width; x++) {
        let sum = 0;
        for (let k = 0; k < side; k++) sum += from[i++];
        sums[x] += sum;
      }
    }
    for (let x = 0, o = y * width; x < width; x++) to[o++] = sums[x] >> (2 * halvings);
  }
  return to;
}

/** A smaller copy, each sample the mean of those it stands for; for thumbnails. */
export function shrinkPlanes(planes: PicturePlanes, width: number, height: number): PicturePlanes {
  const chromaWidth = Math.ceil((width * planes.chromaWidth) / planes.width);
  const chromaHeight = Math.ceil((height * planes.chromaHeight) / planes.height);
  return {
    width,
    height,
    chromaWidth,
    chromaHeight,
    y: shrink(planes.y, planes.width, planes.height, width, height),
    u: shrink(planes.u, planes.chromaWidth, planes.chromaHeight, chromaWidth, chromaHeight),
    v: shrink(planes.v, planes.chromaWidth, planes.chromaHeight, chromaWidth, chromaHeight),
    colour: planes.colour,
  };
}

function shrink(
  from: Uint8Array,
  fromWidth: number,
  fromHeight: number,
  width: number,
  height: number,
): Uint8Array {
  const to = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const y0 = Math.floor((y * fromHeight) / height);
    const y1 = Math.max(y0 + 1, Math.floor(((y + 1) * fromHeight) / height));
    for (let x = 0; x < width; x++) {
      const x0 = Math.floor((x * fromWidth) / width);
      const x1 = Math.max(x0 + 1, Math.floor(((x + 1) * fromWidth) / width));
      let sum = 0;
      for (let row = y0; row < y1; row++)
        for (let i = row * fromWidth + x0; i < row * fromWidth + x1; i++) sum += from[i];
      to[y * width + x] = sum / ((x1 - x0) * (y1 - y0)) + 0.5;
    }
  }
  return to;
}
