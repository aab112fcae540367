import type { Canvas, SKRSContext2D } from '@napi-rs/canvas';
import { develop, Grain } from './develop';
import { type DrawnShot, type Frame, height, type Polygon, shutter, width } from './frame';
import { blurred, painted } from './plate';
import { between, type Random, seeded } from './random';

/** The doorway: left is where the hinges are. */
const doorway = { left: 452, right: 836, top: 92, bottom: 690 };
const leafWidth = doorway.right - doorway.left;
/** Distance of the eye from the wall, px: how strongly what swings back shrinks. */
const eye = 1500;
const [middleX, middleY] = [width / 2, height / 2 + 20];
const subframes = 4;

/** The opening: a potting-shed door swings inward on its hinges; the camera stands still. */
export function doorShot(): DrawnShot {
  const random = seeded(2718);
  const wall = blurred(
    painted(width, height, (context) => paintWall(context, random)),
    0.9,
  );
  const inside = blurred(
    painted(width, height, (context) => paintInside(context, random)),
    6,
  );
  const leaf = painted(leafWidth, doorway.bottom - doorway.top, (context) => paintLeaf(context, random));
  const noise = new Grain(29, 2.2);
  return {
    name: 'door',
    frames: 90,
    camera: () => [0, 0],
    draw(frame): Frame {
      const sums = new Float32Array(width * height * 4);
      const alpha = new Float32Array(width * height);
      for (let k = 0; k < subframes; k++) {
        const turn = turnAt(frame + ((k + 0.5) / subframes) * shutter);
        const picture = painted(width, height, (context) => {
          context.drawImage(inside, 0, 0);
          drawLeaf(context, leaf, turn);
          context.globalCompositeOperation = 'source-over';
          drawAround(context, wall);
        });
        addPicture(picture, sums);
        const gap = painted(width, height, (context) => {
          context.fillStyle = '#fff';
          tracePolygon(context, gapAt(turn));
          context.fill();
        });
        const data = gap.getContext('2d').getImageData(0, 0, width, height).data;
        for (let i = 0; i < alpha.length; i++) alpha[i] += data[i * 4 + 3] / subframes;
      }
      return { rgb: develop(sums, noise, frame, 1.05, 0.25), alpha: Uint8Array.from(alpha, Math.round) };
    },
    outlines: (frame) => ({ gap: gapAt(turnAt(frame + shutter / 2)) }),
  };
}

/** Turn of the leaf, radians: shut until frame 12, then open to 84° by frame 68, eased. */
function turnAt(t: number): number {
  const share = Math.min(1, Math.max(0, (t - 12) / 56));
  return ((84 * Math.PI) / 180) * (3 * share ** 2 - 2 * share ** 3);
}

/** Where a place of the leaf is seen: `along` px from the hinge, `y` px of the doorway. */
function seen(along: number, y: number, turn: number): [number, number] {
  const shrink = eye / (eye + along * Math.sin(turn));
  const x = doorway.left + along * Math.cos(turn);
  return [middleX + (x - middleX) * shrink, middleY + (y - middleY) * shrink];
}

/** What of the doorway the leaf leaves open: six corners, round from the hinge's top. */
function gapAt(turn: number): Polygon {
  const { left, right, top, bottom } = doorway;
  const [freeTop, freeBottom] = [seen(leafWidth, top, turn), seen(leafWidth, bottom, turn)];
  return [left, top, right, top, right, bottom, left, bottom, ...freeBottom, ...freeTop];
}

function tracePolygon(context: SKRSContext2D, polygon: Polygon) {
  context.beginPath();
  for (let i = 0; i < polygon.length; i += 2) context.lineTo(polygon[i], polygon[i + 1]);
  context.closePath();
}

/** The leaf in strips, each an upright piece of it at its own distance. */
function drawLeaf(context: SKRSContext2D, leaf: Canvas, turn: number) {
  const step = 4;
  for (let along = 0; along < leafWidth; along += step) {
    const [x0, y0] = seen(along, doorway.top, turn);
    const [x1] = seen(along + step, doorway.top, turn);
    const [, y1] = seen(along, doorway.bottom, turn);
    if (x1 <= x0) continue;
    context.drawImage(leaf, along, 0, step, leaf.height, x0, y0, x1 - x0 + 0.6, y1 - y0);
  }
  // Turned away from the light it gets darker.
  const corners = [
    seen(0, doorway.top, turn),
    seen(leafWidth, doorway.top, turn),
    seen(leafWidth, doorway.bottom, turn),
    seen(0, doorway.bottom, turn),
  ].flat();
  context.fillStyle = `rgba(10, 8, 4, ${0.5 * Math.sin(turn)})`;
  tracePolygon(context, corners);
  context.fill();
}

/** The wall, with the doorway left out. */
function drawAround(context: SKRSContext2D, wall: Canvas) {
  const { left, right, top, bottom } = doorway;
  context.save();
  context.beginPath();
  context.rect(0, 0, width, height);
  context.moveTo(left, top);
  context.lineTo(left, bottom);
  context.lineTo(right, bottom);
  context.lineTo(right, top);
  context.closePath();
  context.clip();
  context.drawImage(wall, 0, 0);
  context.restore();
}

function addPicture(canvas: Canvas, sums: Float32Array) {
  const data = canvas.getContext('2d').getImageData(0, 0, width, height).data;
  for (let i = 0; i < sums.length; i++) sums[i] += data[i] / subframes;
}

function paintWall(context: SKRSContext2D, random: Random) {
  context.fillStyle = '#6d4a3a';
  context.fillRect(0, 0, width, height);
  for (let row = 0; row < 30; row++) {
    for (let x = row % 2 ? -34 : 0; x < width; x += 68) {
      context.fillStyle = `hsl(${between(random, 10, 22)}, ${between(random, 24, 38)}%, ${between(random, 30, 45)}%)`;
      context.fillRect(x + 2, row * 24 + 2, 64, 20);
      context.fillStyle = `rgba(255, 235, 210, ${between(random, 0.02, 0.14)})`;
      context.fillRect(x + 2, row * 24 + 2, 64, 4);
    }
  }
  const { left, right, top, bottom } = doorway;
  context.fillStyle = '#2f4a3e';
  context.fillRect(left - 26, top - 26, right - left + 52, bottom - top + 40);
  context.fillStyle = '#3d6152';
  context.fillRect(left - 20, top - 20, right - left + 40, bottom - top + 30);
  context.fillStyle = '#6b675f';
  context.fillRect(0, bottom + 2, width, height);
  for (let k = 0; k < 240; k++) {
    context.fillStyle = `rgba(${random() < 0.5 ? '30,28,24' : '190,184,170'}, 0.3)`;
    context.fillRect(
      between(random, 0, width),
      between(random, bottom + 4, height),
      between(random, 3, 16),
      2,
    );
  }
  for (const x of [330, 950]) {
    context.fillStyle = '#a3532f';
    context.beginPath();
    context.moveTo(x - 60, 560);
    context.lineTo(x + 60, 560);
    context.lineTo(x + 44, bottom + 6);
    context.lineTo(x - 44, bottom + 6);
    context.fill();
    for (let k = 0; k < 90; k++) {
      context.fillStyle = `hsl(${between(random, 88, 130)}, ${between(random, 30, 50)}%, ${between(random, 16, 44)}%)`;
      context.beginPath();
      context.ellipse(
        x + between(random, -78, 78),
        500 + between(random, -90, 60),
        between(random, 8, 22),
        7,
        random() * 3,
        0,
        7,
      );
      context.fill();
    }
  }
  const light = context.createLinearGradient(0, 0, width, height);
  light.addColorStop(0, 'rgba(255, 226, 170, 0.25)');
  light.addColorStop(1, 'rgba(20, 16, 30, 0.35)');
  context.fillStyle = light;
  context.fillRect(0, 0, width, height);
}

function paintInside(context: SKRSContext2D, random: Random) {
  const glow = context.createRadialGradient(660, 300, 30, 650, 380, 460);
  glow.addColorStop(0, '#ffe0a4');
  glow.addColorStop(0.5, '#a46a34');
  glow.addColorStop(1, '#241810');
  context.fillStyle = glow;
  context.fillRect(0, 0, width, height);
  for (let k = 0; k < 60; k++) {
    context.fillStyle = `hsla(${between(random, 70, 130)}, 30%, ${between(random, 10, 26)}%, 0.8)`;
    context.beginPath();
    context.ellipse(
      between(random, 420, 860),
      between(random, 430, 720),
      between(random, 14, 60),
      between(random, 10, 46),
      random() * 3,
      0,
      7,
    );
    context.fill();
  }
}

function paintLeaf(context: SKRSContext2D, random: Random) {
  const [w, h] = [leafWidth, doorway.bottom - doorway.top];
  context.fillStyle = '#41705f';
  context.fillRect(0, 0, w, h);
  for (let x = 0; x < w; x += 64) {
    context.fillStyle = `rgba(${random() < 0.5 ? '20,40,32' : '150,190,170'}, 0.18)`;
    context.fillRect(x, 0, 62, h);
    context.fillStyle = 'rgba(10, 22, 18, 0.8)';
    context.fillRect(x + 61, 0, 3, h);
    for (let n = 0; n < 40; n++) {
      context.fillStyle = `rgba(12, 28, 22, ${between(random, 0.05, 0.2)})`;
      context.fillRect(x + between(random, 2, 58), between(random, 0, h), 1.5, between(random, 20, 120));
    }
  }
  context.fillStyle = '#2c5145';
  for (const y of [70, h / 2 - 24, h - 118]) context.fillRect(0, y, w, 48);
  context.fillStyle = '#d9b25a';
  context.beginPath();
  context.arc(w - 34, h / 2, 13, 0, 7);
  context.fill();
  context.fillStyle = '#1f2422';
  for (const y of [84, h - 104]) context.fillRect(0, y, 190, 18);
}
