import { type Canvas, createCanvas, type SKRSContext2D } from '@napi-rs/canvas';

/** A painted picture in float, premultiplied, channel by channel in 0 to 255 (alpha 0 to 1). */
export interface Plate {
  width: number;
  height: number;
  /** r, g, b, a for each pixel. */
  pixels: Float32Array;
}

/** Paints on a canvas and returns it. */
export function painted(width: number, height: number, paint: (context: SKRSContext2D) => void): Canvas {
  const canvas = createCanvas(width, height);
  paint(canvas.getContext('2d'));
  return canvas;
}

/** The canvas out of focus by `radius` px (standard deviation). */
export function blurred(canvas: Canvas, radius: number): Canvas {
  return painted(canvas.width, canvas.height, (context) => {
    context.filter = `blur(${radius}px)`;
    context.drawImage(canvas, 0, 0);
  });
}

export function plateOf(canvas: Canvas): Plate {
  const { width, height } = canvas;
  const data = canvas.getContext('2d').getImageData(0, 0, width, height).data;
  const pixels = new Float32Array(width * height * 4);
  for (let i = 0; i < pixels.length; i += 4) {
    const a = data[i + 3] / 255;
    for (let k = 0; k < 3; k++) pixels[i + k] = data[i + k] * a;
    pixels[i + 3] = a;
  }
  return { width, height, pixels };
}

/**
 * Adds `share` of a row of a plate to an RGBA accumulator row, the plate shifted so that its column `from` stands
 * at the row's first pixel; between columns linearly, beyond the plate nothing.
 */
export function addRow(
  plate: Plate,
  y: number,
  from: number,
  share: number,
  row: Float32Array,
  width: number,
) {
  const y0 = Math.floor(y);
  const fy = y - y0;
  const x0 = Math.floor(from);
  const fx = from - x0;
  for (const [line, weight] of [
    [y0, (1 - fy) * share],
    [y0 + 1, fy * share],
  ]) {
    if (weight === 0 || line < 0 || line >= plate.height) continue;
    const first = Math.max(0, -x0);
    const last = Math.min(width, plate.width - 1 - x0);
    let p = (line * plate.width + x0 + first) * 4;
    const left = weight * (1 - fx);
    const right = weight * fx;
    for (let o = first * 4; o < last * 4; o++, p++)
      row[o] += plate.pixels[p] * left + plate.pixels[p + 4] * right;
  }
}
