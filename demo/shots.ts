import { gardenerPlate, gardenerTop } from './gardener';
import { glasshousePlate } from './glasshouse';
import { addRow, type Plate } from './plate';
import { pondPlates, waterline } from './pond';
import { develop, Grain } from './develop';
import { type DrawnShot, height, shutter, width } from './frame';

/** Rows at which the true trailing edge is given: the middles of pixels 4, 12, 20 … */
export const edgeRows = Array.from({ length: height / 8 }, (_, k) => k * 8 + 4.5);

/** The outgoing shot: a gardener walks past with a laden barrow, left to right, while the camera pans along a little. */
export function gardenerShot(): DrawnShot {
  const background = glasshousePlate(1760, 760);
  const figure = gardenerPlate();
  const noise = new Grain(3, 2.1);
  const subframes = 8;
  // Left end of the painted figure at time t (frames): an even walk with the lurch of each step.
  const figureAt = (t: number) => -1440 + 30 * t + 5 * Math.sin((2 * Math.PI * t) / 13);
  const bobAt = (t: number) => 7 * Math.sin((2 * Math.PI * t) / 13 + 0.7);
  // The coat swings more the lower down; the elbow goes back once a step.
  const swayAt = (t: number, y: number) => {
    const low = Math.max(0, (y - 520) / 320);
    const elbow = Math.exp(-(((y - 410) / 70) ** 2));
    return (
      24 * low * low * Math.sin((2 * Math.PI * t) / 26 + y / 300) -
      13 * elbow * (1 + Math.sin((2 * Math.PI * t) / 26))
    );
  };
  return {
    name: 'gardener',
    frames: 96,
    camera: (frame) => [-3.1 * frame, 0],
    draw(frame) {
      const sums = new Float32Array(width * height * 4);
      const figureRow = new Float32Array(width * 4);
      const alpha = new Uint8Array(width * height);
      for (let y = 0; y < height; y++) {
        const row = sums.subarray(y * width * 4, (y + 1) * width * 4);
        for (const part of [0.25, 0.75])
          addRow(background, y + 12, 20 + 3.1 * (frame + part * shutter), 0.5, row, width);
        figureRow.fill(0);
        for (let k = 0; k < subframes; k++) {
          const t = frame + ((k + 0.5) / subframes) * shutter;
          const py = y + gardenerTop - bobAt(t);
          addRow(figure, py, -figureAt(t) - swayAt(t, py), 1 / subframes, figureRow, width);
        }
        for (let x = 0, i = 0; x < width; x++, i += 4) {
          const a = figureRow[i + 3];
          for (let c = 0; c < 3; c++) row[i + c] = figureRow[i + c] + row[i + c] * (1 - a);
          alpha[y * width + x] = Math.round(a * 255);
        }
      }
      return { rgb: develop(sums, noise, frame, 1.06, 0.2), alpha };
    },
    trailingEdge: (alpha) => edgeRows.map((y) => leftmostHalf(alpha, Math.floor(y))),
  };
}

/** The incoming shot: the lily pond by night, the camera panning the same way. */
export function pondShot(): DrawnShot {
  const { shore, water, farPads, nearPads } = pondPlates(1800, 760);
  const noise = new Grain(11, 2.5);
  const meanSpeed = 3.4 + 0.2 * shareOf(farPads) * (1 - shareOf(nearPads)) + 0.9 * shareOf(nearPads);
  return {
    name: 'lily-pond',
    frames: 96,
    // Its layers move at 3.4, 3.6 and 4.3 px a frame; the picture as a whole at the mean over the areas they show.
    camera: (frame) => [-meanSpeed * frame, 0],
    draw(frame) {
      const sums = new Float32Array(width * height * 4);
      const over = new Float32Array(width * 4);
      for (let y = 0; y < height; y++) {
        const row = sums.subarray(y * width * 4, (y + 1) * width * 4);
        for (const part of [0.25, 0.75]) {
          const t = frame + part * shutter;
          const pan = 24 + 3.4 * t;
          if (y + 12 < waterline) addRow(shore, y + 12, pan, 0.5, row, width);
          else addRow(water, y + 12 + ripple(y, t) * 0.4, pan + ripple(y, t), 0.5, row, width);
        }
        for (const [pads, speed] of [
          [farPads, 3.6],
          [nearPads, 4.3],
        ] as [Plate, number][]) {
          over.fill(0);
          for (const part of [0.25, 0.75]) {
            const t = frame + part * shutter;
            addRow(pads, y + 12 + Math.sin(t / 17 + y / 140), 40 + speed * t, 0.5, over, width);
          }
          for (let i = 0; i < width * 4; i += 4) {
            for (let c = 0; c < 3; c++) row[i + c] = over[i + c] + row[i + c] * (1 - over[i + 3]);
          }
        }
      }
      return { rgb: develop(sums, noise, frame, 1.04, 0.3), alpha: null };
    },
  };
}

/** Share of the frame that a plate of the frame's height covers. */
function shareOf({ pixels }: Plate): number {
  let sum = 0;
  for (let i = 3; i < pixels.length; i += 4) sum += pixels[i];
  return sum / (pixels.length / 4);
}

/** Sideways shift of a row of reflections, in px: wider the nearer the water. */
function ripple(y: number, t: number): number {
  const near = (y + 12 - waterline) / (height - waterline);
  return (
    (1 + 5 * near) * (Math.sin(y / (3 + 16 * near) + t / 4.5) + 0.5 * Math.sin(y / (7 + 30 * near) - t / 7))
  );
}

/** The leftmost place, in px, at which a row's alpha rises through one half; null where it does not. */
function leftmostHalf(alpha: Uint8Array, y: number): number | null {
  const row = alpha.subarray(y * width, (y + 1) * width);
  if (row[0] >= 128) return null;
  for (let x = 1; x < width; x++) {
    if (row[x] < 127.5) continue;
    return x - 0.5 + (127.5 - row[x - 1]) / (row[x] - row[x - 1]);
  }
  return null;
}
