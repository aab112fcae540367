import type { Canvas, SKRSContext2D } from '@napi-rs/canvas';
import { develop, Grain } from './develop';
import { type DrawnShot, type Frame, height, type Polygon, width } from './frame';
import { glasshousePlate } from './glasshouse';
import { blurred, painted, plateOf } from './plate';
import { between, type Random, seeded } from './random';

/** Where its pole stands, about which it sways. */
const foot = { x: 640, y: 790 };

/** Its outline at rest, from the crown of the hat clockwise. */
const outline: Polygon = [
  ...[604, 118, 672, 116, 694, 196, 782, 218, 776, 244, 690, 250, 680, 300, 660, 332, 738, 352],
  ...[922, 362, 964, 338, 992, 372, 960, 412, 920, 410, 752, 436, 784, 640, 664, 656, 664, 780],
  ...[616, 780, 614, 656, 500, 642, 530, 438, 362, 412, 322, 416, 290, 376, 320, 340, 360, 362],
  ...[546, 352, 622, 332, 602, 300, 594, 250, 506, 246, 500, 220, 586, 196],
];

/** The lingering subject: a scarecrow in the glasshouse that sways a little; the camera stands still. */
export function scarecrowShot(): DrawnShot {
  const behind = glasshousePlate(1400, 760, 1911);
  const figure = blurred(
    painted(width, height, (context) => paintFigure(context, seeded(404))),
    0.8,
  );
  const noise = new Grain(53, 2.1);
  return {
    name: 'scarecrow',
    frames: 75,
    camera: () => [0, 0],
    draw(frame): Frame {
      const { pixels: over } = plateOf(swayed(figure, turnAt(frame)));
      const sums = new Float32Array(width * height * 4);
      const alpha = new Uint8Array(width * height);
      for (let y = 0, i = 0; y < height; y++)
        for (let x = 0; x < width; x++, i += 4) {
          const from = ((y + 20) * behind.width + x + 60) * 4;
          const a = over[i + 3];
          for (let c = 0; c < 3; c++) sums[i + c] = over[i + c] + behind.pixels[from + c] * (1 - a);
          alpha[i >> 2] = Math.round(255 * a);
        }
      return { rgb: develop(sums, noise, frame, 1.05, 0.25), alpha };
    },
    outlines: (frame) => ({ figure: turned(outline, turnAt(frame)) }),
  };
}

/** Its turn, radians. */
function turnAt(frame: number): number {
  return 0.022 * Math.sin((2 * Math.PI * frame) / 60);
}

function turned(polygon: Polygon, turn: number): Polygon {
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const to: Polygon = [];
  for (let i = 0; i < polygon.length; i += 2) {
    const [x, y] = [polygon[i] - foot.x, polygon[i + 1] - foot.y];
    to.push(foot.x + cos * x - sin * y, foot.y + sin * x + cos * y);
  }
  return to;
}

function swayed(figure: Canvas, turn: number): Canvas {
  return painted(width, height, (context) => {
    context.translate(foot.x, foot.y);
    context.rotate(turn);
    context.translate(-foot.x, -foot.y);
    context.drawImage(figure, 0, 0);
  });
}

function trace(context: SKRSContext2D, polygon: Polygon) {
  context.beginPath();
  for (let i = 0; i < polygon.length; i += 2) context.lineTo(polygon[i], polygon[i + 1]);
  context.closePath();
}

function paintFigure(context: SKRSContext2D, random: Random) {
  trace(context, outline);
  context.clip();
  // Coat, with its patches and seams.
  const cloth = context.createLinearGradient(300, 340, 960, 640);
  cloth.addColorStop(0, '#8d4f38');
  cloth.addColorStop(0.55, '#6d3526');
  cloth.addColorStop(1, '#43211a');
  context.fillStyle = cloth;
  context.fillRect(0, 0, width, height);
  for (const [x, y, w, h, colour] of [
    [560, 470, 90, 76, '#4d6b70'],
    [690, 560, 66, 70, '#b98a4a'],
    [400, 372, 60, 40, '#4d6b70'],
    [840, 366, 48, 42, '#57683e'],
  ] as const) {
    context.fillStyle = colour;
    context.fillRect(x, y, w, h);
    context.strokeStyle = 'rgba(240, 225, 190, 0.7)';
    context.setLineDash([7, 6]);
    context.lineWidth = 2.5;
    context.strokeRect(x + 4, y + 4, w - 8, h - 8);
  }
  context.setLineDash([]);
  context.fillStyle = 'rgba(20, 10, 8, 0.55)';
  context.fillRect(638, 340, 5, 320);
  for (const y of [400, 470, 540, 610]) disc(context, 652, y, 7, '#d9c48c');
  for (let k = 0; k < 900; k++) {
    context.fillStyle = `rgba(${random() < 0.5 ? '20,8,6' : '235,190,150'}, ${between(random, 0.03, 0.1)})`;
    context.fillRect(between(random, 280, 1000), between(random, 330, 660), 2, between(random, 4, 22));
  }
  // Straw at the cuffs.
  for (let k = 0; k < 160; k++) {
    context.strokeStyle = `hsl(44, ${between(random, 50, 70)}%, ${between(random, 46, 70)}%)`;
    context.lineWidth = 3;
    context.beginPath();
    const left = random() < 0.5;
    const x = left ? 362 : 920;
    context.moveTo(x, between(random, 366, 408));
    context.lineTo(x + (left ? -1 : 1) * between(random, 20, 74), between(random, 340, 414));
    context.stroke();
  }
  // Pole, sack of a head, hat.
  context.fillStyle = '#7a6245';
  context.fillRect(610, 650, 60, 140);
  context.fillStyle = '#cbb083';
  context.fillRect(590, 240, 104, 100);
  disc(context, 622, 282, 7, '#2a211a');
  disc(context, 662, 282, 7, '#2a211a');
  context.strokeStyle = '#5c4128';
  context.lineWidth = 4;
  context.beginPath();
  context.arc(642, 296, 22, 0.3, 2.84);
  context.stroke();
  const straw = context.createLinearGradient(560, 110, 730, 250);
  straw.addColorStop(0, '#f0d48a');
  straw.addColorStop(1, '#a87d35');
  context.fillStyle = straw;
  trace(context, [590, 100, 690, 100, 696, 196, 800, 214, 790, 252, 500, 252, 490, 216, 584, 196]);
  context.fill();
  context.fillStyle = '#7b2f35';
  context.fillRect(580, 176, 130, 24);
  // Light from the upper left.
  const light = context.createLinearGradient(300, 100, 980, 700);
  light.addColorStop(0, 'rgba(255, 244, 210, 0.24)');
  light.addColorStop(0.5, 'rgba(0, 0, 0, 0)');
  light.addColorStop(1, 'rgba(8, 8, 18, 0.45)');
  context.fillStyle = light;
  context.fillRect(0, 0, width, height);
}

function disc(context: SKRSContext2D, x: number, y: number, radius: number, colour: string) {
  context.fillStyle = colour;
  context.beginPath();
  context.arc(x, y, radius, 0, 2 * Math.PI);
  context.fill();
}
