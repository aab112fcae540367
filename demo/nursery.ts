import { develop, Grain } from './develop';
import { type DrawnShot, height, shutter, width } from './frame';
import { glasshousePlate } from './glasshouse';
import { addRow } from './plate';

/** A shot that matches none: hand-held, shaking, panning the other way and twice as fast, and short. */
export function nurseryShot(): DrawnShot {
  const plate = glasshousePlate(1820, 780, 77);
  const noise = new Grain(19, 2.4);
  // The plate's column and row at the frame's left and top, at time t (frames): a pan and an unsteady hand.
  const left = (t: number) =>
    440 - 6.4 * t + 2.6 * Math.sin(1.7 * t) + 5.2 * Math.sin(0.61 * t + 1.3) + 0.8 * Math.sin(2.6 * t + 0.4);
  const top = (t: number) =>
    28 + 2.4 * Math.sin(1.45 * t + 0.9) + 4.4 * Math.sin(0.53 * t) + 0.8 * Math.sin(2.8 * t);
  const middle = shutter / 2;
  return {
    name: 'nursery',
    frames: 56,
    camera: (frame) => [left(middle) - left(frame + middle), top(middle) - top(frame + middle)],
    draw(frame) {
      const sums = new Float32Array(width * height * 4);
      for (let y = 0; y < height; y++) {
        const row = sums.subarray(y * width * 4, (y + 1) * width * 4);
        for (const part of [0.125, 0.375, 0.625, 0.875]) {
          const t = frame + part * shutter;
          addRow(plate, y + top(t), left(t), 0.25, row, width);
        }
      }
      return { rgb: develop(sums, noise, frame, 1.12, 0.18), alpha: null };
    },
  };
}
