import type { FramePicture } from '../picture/frame-picture';
import { type Affine, applyAffine } from '../geometry/affine';
import { quantile } from '../numbers/quantile';
import { bilinear, meanOfSquares } from '../picture/planes';

/** Where a picture has edges, a sample a few px of it; rows without padding. */
export interface EdgeField {
  width: number;
  height: number;
  /** Samples a px of the picture. */
  share: number;
  /** How strong the edge at a sample is beside others of the picture, 0 to 1. */
  strength: Float32Array;
  /** Direction in which the picture changes most, a unit vector; its sign means nothing. */
  nx: Float32Array;
  ny: Float32Array;
}

/** A frame near the one that is looked at, and the scene's movement to it, px to px of the pictures. */
export interface Neighbour {
  picture: FramePicture;
  map: Affine;
}

/** Widest picture, px, whose edges are looked at. */
const widest = 700;
/** How much less an edge counts that stands still with the scene. */
const standingLess = 0.85;
/** Strength of the picture's edges, as a share of them by rank, that counts as strong. */
const strongRank = 0.93;
/** Code values a sample below which no edge is strong: grain. */
const leastStrong = 7;

/**
 * The edges of a picture in luma and colour (Di Zenzo 1986), those that stand still with the scene counted less: in a
 * frame before or after they are found where the scene's movement takes them, while the edge of what crosses is not.
 */
export function edgeField(picture: FramePicture, neighbours: readonly Neighbour[]): EdgeField {
  const own = gradientsOf(picture);
  const { width, height, share, strength, nx, ny } = own;
  const standing = new Float32Array(width * height);
  for (const neighbour of neighbours)
    addStanding(standing, own, gradientsOf(neighbour.picture), neighbour.map);
  // Some of the samples tell as much as all.
  const some = strength.filter((_, i) => i % 7 === 0);
  const strong = Math.max(leastStrong, quantile(some, strongRank));
  const out = new Float32Array(width * height);
  for (let i = 0; i < out.length; i++) {
    const value = (strength[i] / strong) * (1 - standingLess * standing[i]);
    out[i] = value / (0.5 + value);
  }
  return { width, height, share, strength: out, nx, ny };
}

/** Edges as {@link EdgeField} has them, their strength in code values a sample. */
function gradientsOf(picture: FramePicture): EdgeField {
  let k = 0;
  while (picture.width / 2 ** k > widest) k++;
  const luma = picture.level(k);
  const { width, height } = luma;
  const { u, v, chromaWidth, chromaHeight } = picture.planes;
  const chroma = [u, v].map((plane) => fitted(plane, chromaWidth, chromaHeight, width, height));
  const xx = new Float32Array(width * height);
  const xy = new Float32Array(width * height);
  const yy = new Float32Array(width * height);
  for (const values of [luma.values, ...chroma]) addTensor(values, width, height, xx, xy, yy);
  const strength = new Float32Array(width * height);
  const nx = new Float32Array(width * height);
  const ny = new Float32Array(width * height);
  const { sqrt } = Math;
  for (let i = 0; i < strength.length; i++) {
    const half = (xx[i] - yy[i]) / 2;
    const root = sqrt(half * half + xy[i] * xy[i]);
    strength[i] = sqrt((xx[i] + yy[i]) / 2 + root);
    // The larger eigenvalue's vector.
    const [a, b] = half > 0 ? [half + root, xy[i]] : [xy[i], root - half];
    const length = sqrt(a * a + b * b) || 1;
    nx[i] = a / length;
    ny[i] = b / length;
  }
  return { width, height, share: width / picture.width, strength, nx, ny };
}

/** A plane at another size: the mean of squares while it is twice as large or more, then between samples. */
function fitted(values: Uint8Array, w: number, h: number, width: number, height: number): Uint8Array {
  let k = 0;
  while (Math.floor(w / 2 ** (k + 1)) >= width && Math.floor(h / 2 ** (k + 1)) >= height) k++;
  const [rw, rh] = [Math.floor(w / 2 ** k), Math.floor(h / 2 ** k)];
  const reduced = k === 0 ? values : meanOfSquares(values, w, rw, rh, k);
  if (rw === width && rh === height) return reduced;
  const out = new Uint8Array(width * height);
  for (let j = 0, o = 0; j < height; j++)
    for (let i = 0; i < width; i++, o++)
      out[o] = bilinear(reduced, rw, rh, ((i + 0.5) * rw) / width - 0.5, ((j + 0.5) * rh) / height - 0.5);
  return out;
}

/** Adds a plane's products of derivatives (Scharr's kernel, code values a sample); nothing at the border's samples. */
function addTensor(
  values: Uint8Array,
  width: number,
  height: number,
  xx: Float32Array,
  xy: Float32Array,
  yy: Float32Array,
) {
  for (let j = 1; j + 1 < height; j++)
    for (let i = 1; i + 1 < width; i++) {
      const at = j * width + i;
      const [a, b] = [at - width, at + width];
      const dx =
        (3 * (values[a + 1] - values[a - 1] + values[b + 1] - values[b - 1]) +
          10 * (values[at + 1] - values[at - 1])) /
        32;
      const dy =
        (3 * (values[b - 1] - values[a - 1] + values[b + 1] - values[a + 1]) + 10 * (values[b] - values[a])) /
        32;
      xx[at] += dx * dx;
      xy[at] += dx * dy;
      yy[at] += dy * dy;
    }
}

/** Samples about its place within which an edge's like is looked for. */
const slack = 1;

/** Raises each sample's share of its edge that is there in the neighbour too, in strength and direction. */
function addStanding(standing: Float32Array, own: EdgeField, other: EdgeField, map: Affine) {
  const { width, height, share, strength, nx, ny } = own;
  const { floor } = Math;
  for (let j = 1; j + 1 < height; j++)
    for (let i = 1; i + 1 < width; i++) {
      const at = j * width + i;
      if (strength[at] < 1) continue;
      const [x, y] = applyAffine(map, (i + 0.5) / share, (j + 0.5) / share);
      const u = floor(x * share);
      const v = floor(y * share);
      if (u < slack || v < slack || u >= width - slack || v >= height - slack) continue;
      let best = standing[at];
      for (let row = v - slack; row <= v + slack; row++)
        for (let k = row * width + u - slack; k <= row * width + u + slack; k++) {
          const along = nx[at] * other.nx[k] + ny[at] * other.ny[k];
          const ratio = other.strength[k] / strength[at];
          const like = along * along * (ratio > 1 ? 1 / ratio : ratio);
          if (like > best) best = like;
        }
      standing[at] = best;
    }
}
