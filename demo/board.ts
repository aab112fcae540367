import type { Canvas, SKRSContext2D } from '@napi-rs/canvas';
import { develop, Grain } from './develop';
import { type DrawnShot, type Frame, height, shutter, width } from './frame';
import { glasshousePlate } from './glasshouse';
import { addRow, blurred, painted, type Plate, plateOf } from './plate';
import { between, seeded } from './random';

const size = { width: 1640, height: 940 };
const margin = 70;
/** Width of the wooden frame about the painted sheet, px. */
const wood = 26;
const focus = 1.1;

/** The coloured board: the show board, painted in one colour, is carried in from the right until it fills the picture. */
export function boardShot(): DrawnShot {
  const background = glasshousePlate(1500, 760, 9);
  const board = plateOf(blurred(paintBoard(), focus));
  const sheet = plateOf(blurred(paintSheet(), focus));
  const noise = new Grain(41, 2);
  const subframes = 8;
  // From outside the frame at frame 4 to past its left border at frame 44, slow at both ends; then it stands.
  const leftAt = (t: number) => {
    const way = Math.min(1, Math.max(0, (t - 4) / 40));
    return 1300 - 1440 * way * way * (3 - 2 * way);
  };
  const bobAt = (t: number) => 6 * Math.sin(t / 3.1) * Math.min(1, Math.max(0, (46 - t) / 12));
  const place = (plate: Plate, y: number, t: number, row: Float32Array) =>
    addRow(plate, y + 110 - bobAt(t), margin - leftAt(t), 1 / subframes, row, width);
  return {
    name: 'board',
    frames: 60,
    camera: () => [0, 0],
    draw(frame): Frame {
      const sums = new Float32Array(width * height * 4);
      const alpha = new Uint8Array(width * height);
      const row = new Float32Array(width * 4);
      const keyed = new Float32Array(width * 4);
      for (let y = 0; y < height; y++) {
        const out = sums.subarray(y * width * 4, (y + 1) * width * 4);
        addRow(background, y + 12, 60, 1, out, width);
        row.fill(0);
        keyed.fill(0);
        for (let k = 0; k < subframes; k++) {
          const t = frame + ((k + 0.5) / subframes) * shutter;
          place(board, y, t, row);
          place(sheet, y, t, keyed);
        }
        for (let x = 0, i = 0; x < width; x++, i += 4) {
          for (let c = 0; c < 3; c++) out[i + c] = row[i + c] + out[i + c] * (1 - row[i + 3]);
          alpha[y * width + x] = Math.round(keyed[i + 3] * 255);
        }
      }
      return { rgb: develop(sums, noise, frame, 1.06, 0.12), alpha };
    },
    outlines: (frame) => {
      const left = leftAt(frame + shutter / 2);
      return { front: [left, 0, left, height] };
    },
  };
}

/** The board with the hands that carry it. */
function paintBoard(): Canvas {
  const random = seeded(512);
  return painted(size.width, size.height, (context) => {
    const grain = context.createLinearGradient(0, 0, 0, size.height);
    grain.addColorStop(0, '#7a5836');
    grain.addColorStop(1, '#4b351f');
    context.fillStyle = grain;
    context.fillRect(margin, 0, size.width - margin, size.height);
    for (let k = 0; k < 160; k++) {
      context.fillStyle = `rgba(30, 20, 10, ${between(random, 0.05, 0.2)})`;
      context.fillRect(margin + between(random, 0, wood), between(random, 0, size.height), 2, 90);
    }
    sheetPath(context);
    // Lit unevenly, as it is: brighter at the top left.
    const colour = context.createLinearGradient(0, 0, size.width, size.height);
    colour.addColorStop(0, 'rgb(206, 44, 122)');
    colour.addColorStop(0.5, 'rgb(188, 36, 108)');
    colour.addColorStop(1, 'rgb(164, 28, 92)');
    context.fillStyle = colour;
    context.fill();
    hands(context, false);
  });
}

/** Where the sheet's colour is seen: not on the frame, nor under the hands. */
function paintSheet(): Canvas {
  return painted(size.width, size.height, (context) => {
    context.fillStyle = '#fff';
    sheetPath(context);
    context.fill();
    context.globalCompositeOperation = 'destination-out';
    hands(context, true);
  });
}

function sheetPath(context: SKRSContext2D) {
  context.beginPath();
  context.rect(margin + wood, 0, size.width - margin - wood, size.height);
}

/** Gloved hands that come from behind about the front edge: the fingers lie on the sheet, the rest before it. */
function hands(context: SKRSContext2D, solid: boolean) {
  for (const [middle, turn] of [
    [322, -0.14],
    [668, 0.11],
  ]) {
    context.save();
    context.translate(margin - 6, middle);
    context.rotate(turn);
    const rounded = (x: number, y: number, w: number, h: number, light: number) => {
      const fill = context.createLinearGradient(0, y, 0, y + h);
      fill.addColorStop(0, `hsl(36, 40%, ${light + 10}%)`);
      fill.addColorStop(0.45, `hsl(34, 44%, ${light}%)`);
      fill.addColorStop(1, `hsl(30, 48%, ${light - 15}%)`);
      context.fillStyle = solid ? '#000' : fill;
      context.beginPath();
      context.roundRect(x, y, w, h, h / 2);
      context.fill();
    };
    rounded(-66, -58, 96, 112, 27);
    [70, 88, 84, 62].forEach((reach, finger) =>
      rounded(-34, -60 + finger * 29, reach + 30, 31, 37 - finger * 2),
    );
    rounded(-74, -84, 70, 40, 33);
    context.restore();
  }
}
