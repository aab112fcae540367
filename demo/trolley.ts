import type { SKRSContext2D } from '@napi-rs/canvas';
import { develop, Grain } from './develop';
import { palm } from './foliage';
import { type DrawnShot, type Frame, height, shutter, width } from './frame';
import { glasshousePlate } from './glasshouse';
import { addRow, blurred, painted, type Plate, plateOf } from './plate';
import { between, type Random, seeded } from './random';

const length = 1700;
const margin = 60;
/** How far the front's and the back's edge lean over the frame's height, px. */
const lean = { front: 46, back: -34 };
const speed = 52;

/** The bridge: a trolley stacked with crates rolls past close by, right to left, and covers all for some frames. */
export function trolleyShot(): DrawnShot {
  const background = glasshousePlate(1500, 760, 5);
  const trolley = trolleyPlate();
  const noise = new Grain(23, 2.2);
  const subframes = 8;
  const leftAt = (t: number) => 1420 - speed * t;
  const row = new Float32Array(width * 4);
  return {
    name: 'trolley',
    frames: 72,
    camera: (frame) => [-1.2 * frame, 0],
    draw(frame): Frame {
      const sums = new Float32Array(width * height * 4);
      const alpha = new Uint8Array(width * height);
      for (let y = 0; y < height; y++) {
        const out = sums.subarray(y * width * 4, (y + 1) * width * 4);
        addRow(background, y + 12, 10 + 1.2 * (frame + shutter / 2), 1, out, width);
        row.fill(0);
        for (let k = 0; k < subframes; k++) {
          const t = frame + ((k + 0.5) / subframes) * shutter;
          addRow(trolley, y, margin - leftAt(t), 1 / subframes, row, width);
        }
        for (let x = 0, i = 0; x < width; x++, i += 4) {
          const a = row[i + 3];
          for (let c = 0; c < 3; c++) out[i + c] = row[i + c] + out[i + c] * (1 - a);
          alpha[y * width + x] = Math.round(a * 255);
        }
      }
      return { rgb: develop(sums, noise, frame, 1.06, 0.2), alpha };
    },
    outlines(frame) {
      const left = leftAt(frame + shutter / 2);
      return {
        front: [left + lean.front, 0, left, height],
        back: [left + length, 0, left + length + lean.back, height],
      };
    },
  };
}

function trolleyPlate(): Plate {
  const random = seeded(314);
  const canvas = painted(length + 2 * margin, height, (context) => {
    const shape = () => {
      context.beginPath();
      context.moveTo(margin + lean.front, -4);
      context.lineTo(margin + length, -4);
      context.lineTo(margin + length + lean.back, height + 4);
      context.lineTo(margin, height + 4);
      context.closePath();
    };
    context.fillStyle = '#4a3521';
    shape();
    context.fill();
    context.save();
    shape();
    context.clip();
    for (let y = -10; y < height; y += 236)
      for (let x = margin - 40; x < length + 2 * margin; x += 412) paintCrate(context, random, x, y);
    context.restore();
  });
  return plateOf(blurred(canvas, 1.6));
}

function paintCrate(context: SKRSContext2D, random: Random, x: number, y: number) {
  const [w, h] = [404, 228];
  context.fillStyle = '#1d1610';
  context.fillRect(x, y, w, h);
  context.save();
  context.beginPath();
  context.rect(x + 10, y + 10, w - 20, h - 20);
  context.clip();
  for (let k = 0; k < 5; k++)
    palm(context, random, x + between(random, 20, w - 20), y + h, between(random, 120, 210), 20);
  context.restore();
  for (let k = 0; k < 4; k++) {
    const slat = context.createLinearGradient(0, y + k * 58, 0, y + k * 58 + 40);
    const light = between(random, 34, 46);
    slat.addColorStop(0, `hsl(${between(random, 26, 34)}, 38%, ${light + 8}%)`);
    slat.addColorStop(1, `hsl(28, 40%, ${light - 12}%)`);
    context.fillStyle = slat;
    context.fillRect(x, y + k * 58 + 4, w, 36);
    for (let n = 0; n < 26; n++) {
      context.fillStyle = `rgba(30, 18, 8, ${between(random, 0.06, 0.24)})`;
      context.fillRect(
        x + between(random, 0, w),
        y + k * 58 + between(random, 5, 38),
        between(random, 30, 160),
        1.4,
      );
    }
    for (const side of [14, w - 22]) {
      context.fillStyle = '#20242a';
      context.beginPath();
      context.arc(x + side, y + k * 58 + 22, 3.4, 0, 7);
      context.fill();
    }
  }
  context.fillStyle = 'rgba(88, 62, 36, 0.95)';
  for (const post of [0, w - 26]) context.fillRect(x + post, y, 26, h);
}
