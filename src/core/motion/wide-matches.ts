import { cornersOf } from './corners';
import { type Luma, type PyramidLevel, pyramidOf, resizedLuma } from './luma';

/** Points with a description of what surrounds them, comparable across turns and sizes. */
interface Described {
  /** x, y in px of the picture. */
  points: Float32Array;
  /** 256 bits a point. */
  bits: Uint32Array;
}

const words = 8;
const radius = 15;
/** Sizes at which points are looked for, as shares of the picture's. */
const sizes = [1, 0.82, 0.67, 0.55, 0.45];
/** A match's second best must differ in so many more bits than the best (in the manner of Lowe 2004). */
const ratio = 0.85;
const mostBits = 80;

/** 256 pairs of places in a patch, from a normal distribution about its middle (Calonder et al. 2010). */
const pattern = (() => {
  let state = 88172645;
  const random = () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return (state >>> 0) / 2 ** 32;
  };
  const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const within = () => {
    for (;;) {
      const value = (normal() * (2 * radius + 1)) / 5;
      if (Math.abs(value) < radius - 1) return value;
    }
  };
  return Float32Array.from({ length: 256 * 4 }, within);
})();

/**
 * Points of one picture found again in another, however far they have gone: corners at several sizes, turned by their
 * patch's centroid and described by comparisons (Rublee et al. 2011), matched both ways.
 *
 * @returns x, y of each before and after, px.
 */
export function wideMatches(from: Luma, to: Luma): { from: Float32Array; to: Float32Array } {
  const a = described(from);
  const b = described(to);
  const forth = nearest(a, b);
  const back = nearest(b, a);
  const pairs: number[] = [];
  forth.forEach((j, i) => {
    if (j >= 0 && back[j] === i) pairs.push(i, j);
  });
  const count = pairs.length / 2;
  const result = { from: new Float32Array(count * 2), to: new Float32Array(count * 2) };
  for (let k = 0; k < count; k++) {
    const [i, j] = [pairs[2 * k], pairs[2 * k + 1]];
    for (let c = 0; c < 2; c++) {
      result.from[2 * k + c] = a.points[2 * i + c];
      result.to[2 * k + c] = b.points[2 * j + c];
    }
  }
  return result;
}

function described(luma: Luma): Described {
  const points: number[] = [];
  const bits: number[] = [];
  for (const size of sizes) {
    const [w, h] = [Math.round(luma.width * size), Math.round(luma.height * size)];
    if (Math.min(w, h) < 4 * radius) break;
    const scaled = size === 1 ? luma : resizedLuma(luma.values, luma.width, luma.height, w, h);
    const [level] = pyramidOf(scaled, 1);
    const smooth = smoothed(level);
    const corners = cornersOf(level, 8);
    for (let i = 0; i < corners.length; i += 2) {
      const [x, y] = [Math.round(corners[i]), Math.round(corners[i + 1])];
      const edge = Math.ceil(radius * 1.45);
      if (x < edge || y < edge || x >= w - edge || y >= h - edge) continue;
      points.push(((x + 0.5) * luma.width) / w - 0.5, ((y + 0.5) * luma.height) / h - 0.5);
      describe(smooth, w, x, y, bits);
    }
  }
  return { points: Float32Array.from(points), bits: Uint32Array.from(bits) };
}

function describe(values: Float32Array, width: number, x: number, y: number, bits: number[]) {
  let mx = 0;
  let my = 0;
  for (let dy = -radius; dy <= radius; dy++) {
    const reach = Math.floor(Math.sqrt(radius * radius - dy * dy));
    for (let dx = -reach; dx <= reach; dx++) {
      const value = values[(y + dy) * width + x + dx];
      mx += dx * value;
      my += dy * value;
    }
  }
  const angle = Math.atan2(my, mx);
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const at = (k: number) => {
    const px = Math.round(cos * pattern[k] - sin * pattern[k + 1]);
    const py = Math.round(sin * pattern[k] + cos * pattern[k + 1]);
    return values[(y + py) * width + x + px];
  };
  for (let word = 0; word < words; word++) {
    let value = 0;
    for (let bit = 0; bit < 32; bit++) {
      const k = (word * 32 + bit) * 4;
      if (at(k) < at(k + 2)) value |= 1 << bit;
    }
    bits.push(value >>> 0);
  }
}

/** Means over 5 × 5, so that single comparisons do not hang on noise. */
function smoothed({ width, height, values }: PyramidLevel): Float32Array {
  const rows = new Float32Array(values.length);
  const out = new Float32Array(values.length);
  for (let y = 0; y < height; y++)
    for (let x = 2, i = y * width + 2; x < width - 2; x++, i++)
      rows[i] = (values[i - 2] + values[i - 1] + values[i] + values[i + 1] + values[i + 2]) / 5;
  for (let y = 2; y < height - 2; y++)
    for (let i = y * width; i < (y + 1) * width; i++)
      out[i] = (rows[i - 2 * width] + rows[i - width] + rows[i] + rows[i + width] + rows[i + 2 * width]) / 5;
  return out;
}

/** For each point of `a` the one of `b` that is described most alike, or −1 where none stands out. */
function nearest(a: Described, b: Described): Int32Array {
  const [countA, countB] = [a.bits.length / words, b.bits.length / words];
  const found = new Int32Array(countA).fill(-1);
  for (let i = 0; i < countA; i++) {
    let [best, second, which] = [257, 257, -1];
    for (let j = 0; j < countB; j++) {
      let distance = 0;
      for (let w = 0; w < words && distance < second; w++)
        distance += bitCount(a.bits[i * words + w] ^ b.bits[j * words + w]);
      if (distance < best) {
        // The same corner at a neighbouring size is no rival.
        const near =
          which >= 0 &&
          Math.hypot(b.points[2 * j] - b.points[2 * which], b.points[2 * j + 1] - b.points[2 * which + 1]) <
            6;
        if (!near) second = best;
        best = distance;
        which = j;
      } else if (distance < second) {
        const near =
          Math.hypot(b.points[2 * j] - b.points[2 * which], b.points[2 * j + 1] - b.points[2 * which + 1]) <
          6;
        if (!near) second = distance;
      }
    }
    if (best <= mostBits && best < ratio * second) found[i] = which;
  }
  return found;
}

function bitCount(value: number): number {
  let v = value - ((value >>> 1) & 0x55555555);
  v = (v & 0x33333333) + ((v >>> 2) & 0x33333333);
  return (((v + (v >>> 4)) & 0x0f0f0f0f) * 0x01010101) >>> 24;
}
