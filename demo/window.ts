import type { SKRSContext2D } from '@napi-rs/canvas';
import { develop, Grain } from './develop';
import { type DrawnShot, type Frame, height, width } from './frame';
import { leaf } from './foliage';
import { blurred, painted, plateOf } from './plate';
import { between, type Random, seeded } from './random';

/** The round window: its middle and the radius of its pane. */
export const pane = { x: 668, y: 322, radius: 196 };

/** The opening of a pull-back: a round window in the gable of the potting shed at dusk; the camera stands still. */
export function windowShot(): DrawnShot {
  const random = seeded(1618);
  const sharp = painted(width, height, (context) => {
    paintBoards(context, random);
    paintWindow(context);
    paintIvy(context, random);
    paintDusk(context);
  });
  const { pixels } = plateOf(blurred(sharp, 0.9));
  const noise = new Grain(41, 2.2);
  const alpha = paneAlpha();
  return {
    name: 'window',
    frames: 60,
    camera: () => [0, 0],
    draw: (frame): Frame => ({ rgb: develop(pixels, noise, frame, 1.05, 0.3), alpha }),
    // Sixteen corners of the round.
    outlines: () => ({
      pane: Array.from({ length: 16 }, (_, k) => (2 * Math.PI * k) / 16).flatMap((turn) => [
        pane.x + pane.radius * Math.cos(turn),
        pane.y + pane.radius * Math.sin(turn),
      ]),
    }),
  };
}

function paneAlpha(): Uint8Array {
  const disc = painted(width, height, (context) => {
    context.fillStyle = '#fff';
    round(context, pane.radius);
    context.fill();
  });
  const { data } = disc.getContext('2d').getImageData(0, 0, width, height);
  return Uint8Array.from({ length: width * height }, (_, i) => data[4 * i + 3]);
}

function round(context: SKRSContext2D, radius: number) {
  context.beginPath();
  context.arc(pane.x, pane.y, radius, 0, 2 * Math.PI);
}

/** Weathered boards, one over the other. */
function paintBoards(context: SKRSContext2D, random: Random) {
  const board = 58;
  for (let y = -10; y < height; y += board) {
    context.fillStyle = `hsl(${between(random, 150, 168)}, ${between(random, 12, 20)}%, ${between(random, 30, 37)}%)`;
    context.fillRect(0, y, width, board);
    for (let k = 0; k < 90; k++) {
      context.fillStyle = `rgba(${random() < 0.6 ? '18,26,24' : '190,205,195'}, ${between(random, 0.03, 0.12)})`;
      context.fillRect(
        between(random, -60, width),
        y + between(random, 4, board - 4),
        between(random, 40, 260),
        1.6,
      );
    }
    context.fillStyle = 'rgba(8, 12, 12, 0.6)';
    context.fillRect(0, y + board - 5, width, 5);
    context.fillStyle = 'rgba(230, 240, 230, 0.14)';
    context.fillRect(0, y, width, 3);
  }
}

function paintWindow(context: SKRSContext2D) {
  const { x, y, radius } = pane;
  context.save();
  context.shadowColor = 'rgba(0, 0, 0, 0.65)';
  context.shadowBlur = 26;
  context.shadowOffsetY = 10;
  const frame = context.createLinearGradient(x, y - radius - 40, x, y + radius + 40);
  frame.addColorStop(0, '#e9e1cb');
  frame.addColorStop(1, '#a99d82');
  context.fillStyle = frame;
  round(context, radius + 42);
  context.fill();
  context.restore();
  context.lineWidth = 4;
  for (const at of [radius + 24, radius + 8]) {
    context.strokeStyle = 'rgba(60, 50, 34, 0.5)';
    round(context, at);
    context.stroke();
  }
  const glow = context.createRadialGradient(x - 40, y + 50, 10, x, y, radius);
  glow.addColorStop(0, '#ffdc97');
  glow.addColorStop(0.6, '#b06f33');
  glow.addColorStop(1, '#3a2415');
  context.fillStyle = glow;
  round(context, radius);
  context.fill();
}

function paintIvy(context: SKRSContext2D, random: Random) {
  for (let k = 0; k < 620; k++) {
    const near = random();
    const x =
      random() < 0.55
        ? between(random, -20, 330 - 250 * near)
        : between(random, 1010 + 200 * near, width + 20);
    const y = height * (0.1 + 0.95 * near);
    leaf(
      context,
      random,
      x,
      y,
      between(random, 0, 2 * Math.PI),
      between(random, 30, 62),
      between(random, 96, 138),
      between(random, 12, 30),
    );
  }
}

function paintDusk(context: SKRSContext2D) {
  const dusk = context.createLinearGradient(0, 0, width, height);
  dusk.addColorStop(0, 'rgba(120, 140, 190, 0.2)');
  dusk.addColorStop(1, 'rgba(10, 12, 36, 0.5)');
  context.globalCompositeOperation = 'source-atop';
  context.save();
  context.beginPath();
  context.rect(0, 0, width, height);
  context.arc(pane.x, pane.y, pane.radius, 0, 2 * Math.PI, true);
  context.clip();
  context.fillStyle = dusk;
  context.fillRect(0, 0, width, height);
  context.restore();
}
