import { bilinear, type PicturePlanes, shotToPlanes } from '../picture/planes';
import type { ChromaSettings } from '../document/tables';
import type { Shot } from '../model/shot';

/**
 * The matte of a keyed colour: what of a picture has that colour, alpha 0 to 255.
 *
 * Each chroma sample is judged by its distance to the colour in the plane of Cb and Cr: full within the tolerance,
 * nothing beyond tolerance and softness, a smooth step between. Specks and holes smaller than a square of the side
 * `clean` go; then the matte is grown or shrunk by a disc. All on the grid of the chroma samples, which is all the
 * colour that the picture has; from there it is brought to the matte's size.
 *
 * @param width, height of the matte, which stands for the whole of the shot's frame.
 * @param out width·height bytes, written whole.
 */
export function drawKeyed(
  key: ChromaSettings,
  planes: PicturePlanes,
  shot: Shot,
  { width, height }: { width: number; height: number },
  out: Uint8Array,
) {
  const { chromaWidth, chromaHeight, u, v } = planes;
  const table = alphaTable(key);
  let alpha: Uint8Array = new Uint8Array(chromaWidth * chromaHeight);
  for (let i = 0; i < alpha.length; i++) alpha[i] = table[(u[i] << 8) | v[i]];
  // px of the shot to samples of chroma.
  const perPx = chromaWidth / (shot.rotation % 180 === 0 ? shot.width : shot.height);
  if (key.clean > 0) {
    const least = (key.clean * perPx) ** 2;
    fillSmall(alpha, chromaWidth, true, least);
    fillSmall(alpha, chromaWidth, false, least);
  }
  if (key.grow !== 0) alpha = grown(alpha, chromaWidth, chromaHeight, key.grow * perPx);
  const [a, b, c, d, e, f] = shotToPlanes(shot, planes);
  const [toX, toY] = [chromaWidth / planes.width, chromaHeight / planes.height];
  for (let y = 0, i = 0; y < height; y++) {
    const sy = ((y + 0.5) * shot.height) / height;
    for (let x = 0; x < width; x++, i++) {
      const sx = ((x + 0.5) * shot.width) / width;
      // Chroma stands level with every other luma column, half-way between the rows.
      const cx = (a * sx + c * sy + e - 0.5) * toX;
      const cy = (b * sx + d * sy + f) * toY - 0.5;
      out[i] = bilinear(alpha, chromaWidth, chromaHeight, cx, cy) + 0.5;
    }
  }
}

/** Alpha of every pair of Cb (high byte) and Cr (low byte). */
function alphaTable({ cb, cr, tolerance, softness }: ChromaSettings): Uint8Array {
  const table = new Uint8Array(1 << 16);
  for (let i = 0; i < table.length; i++) {
    const far = Math.hypot((i >> 8) - cb, (i & 255) - cr);
    const t =
      softness > 0 ? Math.min(1, Math.max(0, (far - tolerance) / softness)) : far <= tolerance ? 0 : 1;
    table[i] = Math.round(255 * (1 - t * t * (3 - 2 * t)));
  }
  return table;
}

/**
 * Gives connected patches (by their sides) of fewer than `least` samples to what lies around them: specks that are
 * more than half full, or holes that are less.
 */
function fillSmall(alpha: Uint8Array, width: number, specks: boolean, least: number) {
  const belongs = (i: number) => alpha[i] > 127 === specks;
  const seen = new Uint8Array(alpha.length);
  const patch = new Int32Array(alpha.length);
  for (let start = 0; start < alpha.length; start++) {
    if (seen[start] || !belongs(start)) continue;
    let [length, at] = [1, 0];
    patch[0] = start;
    seen[start] = 1;
    while (at < length) {
      const i = patch[at++];
      const x = i % width;
      const take = (j: number) => {
        if (seen[j] || !belongs(j)) return;
        seen[j] = 1;
        patch[length++] = j;
      };
      if (x > 0) take(i - 1);
      if (x + 1 < width) take(i + 1);
      if (i >= width) take(i - width);
      if (i + width < alpha.length) take(i + width);
    }
    if (length < least) for (let k = 0; k < length; k++) alpha[patch[k]] = specks ? 0 : 255;
  }
}

/** Grown (+) or shrunk (−) by a disc of `by` samples: the larger or smaller alpha within it; between whole radii mixed. */
function grown(alpha: Uint8Array, width: number, height: number, by: number): Uint8Array {
  const radius = Math.abs(by);
  const whole = Math.floor(radius);
  const near = whole === 0 ? alpha : withinDisc(alpha, width, height, whole, by > 0);
  if (radius === whole) return near;
  const far = withinDisc(alpha, width, height, whole + 1, by > 0);
  const share = radius - whole;
  return near.map((value, i) => Math.round(value + (far[i] - value) * share));
}

function withinDisc(
  alpha: Uint8Array,
  width: number,
  height: number,
  radius: number,
  larger: boolean,
): Uint8Array {
  const out = alpha.slice();
  const row = new Uint8Array(width);
  for (let dy = -radius; dy <= radius; dy++) {
    const half = Math.floor(Math.sqrt(radius * radius - dy * dy));
    for (let y = Math.max(0, -dy); y < Math.min(height, height - dy); y++) {
      const from = (y + dy) * width;
      slide(alpha, from, width, half, larger, row);
      const to = y * width;
      for (let x = 0; x < width; x++)
        if (larger ? row[x] > out[to + x] : row[x] < out[to + x]) out[to + x] = row[x];
    }
  }
  return out;
}

/** The largest (or smallest) of a row's values within `half` of each place. */
function slide(
  values: Uint8Array,
  from: number,
  width: number,
  half: number,
  larger: boolean,
  out: Uint8Array,
) {
  for (let x = 0; x < width; x++) {
    const last = Math.min(width - 1, x + half);
    let best = values[from + x];
    // Neighbours share all but one place: only where that one leaves is the rest looked through.
    if (x > 0 && out[x - 1] !== values[from + x - half - 1]) {
      const next = values[from + last];
      best = x + half < width && (larger ? next > out[x - 1] : next < out[x - 1]) ? next : out[x - 1];
    } else {
      for (let k = Math.max(0, x - half); k <= last; k++) {
        const value = values[from + k];
        if (larger ? value > best : value < best) best = value;
      }
    }
    out[x] = best;
  }
}

/**
 * Mean chroma around a place, and how far it spreads: root mean square distance from the mean.
 *
 * @param x, y px of the shot.
 * @param radius px of the shot.
 */
export function chromaAround(
  planes: PicturePlanes,
  shot: Shot,
  x: number,
  y: number,
  radius: number,
): { cb: number; cr: number; spread: number } {
  const [a, b, c, d, e, f] = shotToPlanes(shot, planes);
  const { chromaWidth, chromaHeight, u, v } = planes;
  const cx = ((a * x + c * y + e) * chromaWidth) / planes.width;
  const cy = ((b * x + d * y + f) * chromaHeight) / planes.height;
  const reach = Math.max(0.71, (radius * chromaWidth) / planes.width);
  let [count, sumU, sumV, squares] = [0, 0, 0, 0];
  for (let row = Math.max(0, Math.floor(cy - reach)); row <= Math.min(chromaHeight - 1, cy + reach); row++) {
    for (
      let column = Math.max(0, Math.floor(cx - reach));
      column <= Math.min(chromaWidth - 1, cx + reach);
      column++
    ) {
      if (Math.hypot(column + 0.5 - cx, row + 0.5 - cy) > reach) continue;
      const i = row * chromaWidth + column;
      sumU += u[i];
      sumV += v[i];
      squares += u[i] * u[i] + v[i] * v[i];
      count++;
    }
  }
  if (count === 0) return { cb: 128, cr: 128, spread: 0 };
  const [cb, cr] = [sumU / count, sumV / count];
  return { cb, cr, spread: Math.sqrt(Math.max(0, squares / count - cb * cb - cr * cr)) };
}

/**
 * Unit direction of a keyed colour in the plane of Cb and Cr, and how much of what a picture has of it is taken out,
 * 0 to 1; null where the colour is grey or nothing is to be taken.
 */
export function spillOf({ cb, cr, spill }: ChromaSettings): { u: number; v: number; share: number } | null {
  const [du, dv] = [cb - 128, cr - 128];
  const length = Math.hypot(du, dv);
  return length < 1 || spill <= 0 ? null : { u: du / length, v: dv / length, share: spill / 100 };
}
