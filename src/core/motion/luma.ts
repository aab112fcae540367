/** A picture's luma: `width` × `height` values, 0 to 255, row by row. */
export interface Luma {
  width: number;
  height: number;
  values: Float32Array;
}

/** A copy of another size, w × h, each value the mean over the area that it stands for. */
export function resizedLuma(y: ArrayLike<number>, width: number, height: number, w: number, h: number): Luma {
  const across = areaShares(width, w);
  const down = areaShares(height, h);
  const values = new Float32Array(w * h);
  const line = new Float32Array(width);
  for (let row = 0; row < h; row++) {
    line.fill(0);
    for (let j = down.first[row]; j <= down.last[row]; j++) {
      const share =
        j === down.first[row] ? down.head[row] : j === down.last[row] ? down.tail[row] : down.unit;
      for (let i = 0, k = j * width; i < width; i++, k++) line[i] += share * y[k];
    }
    for (let column = 0; column < w; column++) {
      const [first, last] = [across.first[column], across.last[column]];
      let sum = across.head[column] * line[first];
      for (let i = first + 1; i < last; i++) sum += across.unit * line[i];
      if (last > first) sum += across.tail[column] * line[last];
      values[row * w + column] = sum;
    }
  }
  return { width: w, height: h, values };
}

/** For each of `to` places the samples out of `from` that it lies over, and the shares of the first and the last. */
function areaShares(from: number, to: number) {
  const size = from / to;
  const first = new Int32Array(to);
  const last = new Int32Array(to);
  const head = new Float64Array(to);
  const tail = new Float64Array(to);
  for (let k = 0; k < to; k++) {
    const [begin, end] = [k * size, (k + 1) * size];
    first[k] = Math.min(from - 1, Math.floor(begin + 1e-9));
    last[k] = Math.min(from - 1, Math.max(first[k], Math.ceil(end - 1e-9) - 1));
    head[k] = first[k] === last[k] ? 1 : (first[k] + 1 - begin) / size;
    tail[k] = (end - last[k]) / size;
  }
  return { first, last, head, tail, unit: 1 / size };
}

/** A picture with its gradients, and the same at half the size, and so on. */
export interface PyramidLevel extends Luma {
  dx: Float32Array;
  dy: Float32Array;
}

/** @param levels how many sizes; fewer where a side would fall under 16. */
export function pyramidOf(luma: Luma, levels: number): PyramidLevel[] {
  const pyramid = [withGradients(luma)];
  while (pyramid.length < levels) {
    const last = pyramid[pyramid.length - 1];
    if (Math.min(last.width, last.height) < 32) break;
    pyramid.push(withGradients(halved(last)));
  }
  return pyramid;
}

/** Half the size, smoothed by 1 4 6 4 1 along rows and columns first (Burt and Adelson 1983). */
function halved({ width, height, values }: Luma): Luma {
  const w = width >> 1;
  const h = height >> 1;
  const rows = new Float32Array(w * height);
  const at = (i: number, size: number) => (i < 0 ? -i : i >= size ? 2 * size - 2 - i : i);
  for (let y = 0; y < height; y++) {
    const from = y * width;
    for (let x = 0; x < w; x++) {
      const c = 2 * x;
      const inside = c >= 2 && c + 2 < width;
      const i = from + c;
      rows[y * w + x] = inside
        ? (values[i - 2] + values[i + 2] + 4 * (values[i - 1] + values[i + 1]) + 6 * values[i]) / 16
        : (values[from + at(c - 2, width)] +
            values[from + at(c + 2, width)] +
            4 * (values[from + at(c - 1, width)] + values[from + at(c + 1, width)]) +
            6 * values[i]) /
          16;
    }
  }
  const small = new Float32Array(w * h);
  for (let y = 0; y < h; y++) {
    const c = 2 * y;
    const [a, b, d, e] = [
      at(c - 2, height) * w,
      at(c - 1, height) * w,
      at(c + 1, height) * w,
      at(c + 2, height) * w,
    ];
    for (let x = 0; x < w; x++)
      small[y * w + x] =
        (rows[a + x] + rows[e + x] + 4 * (rows[b + x] + rows[d + x]) + 6 * rows[c * w + x]) / 16;
  }
  return { width: w, height: h, values: small };
}

/** Gradients after Scharr: 3 10 3 across the central difference. */
function withGradients({ width, height, values }: Luma): PyramidLevel {
  const dx = new Float32Array(width * height);
  const dy = new Float32Array(width * height);
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1, i = y * width + 1; x < width - 1; x++, i++) {
      const p = i - width;
      const q = i + width;
      dx[i] =
        (3 * (values[p + 1] - values[p - 1]) +
          10 * (values[i + 1] - values[i - 1]) +
          3 * (values[q + 1] - values[q - 1])) /
        32;
      dy[i] =
        (3 * (values[q - 1] - values[p - 1]) +
          10 * (values[q] - values[p]) +
          3 * (values[q + 1] - values[p + 1])) /
        32;
    }
  }
  return { width, height, values, dx, dy };
}
