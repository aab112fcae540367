import type { SKRSContext2D } from '@napi-rs/canvas';
import { blurred, painted, type Plate, plateOf } from './plate';
import { between, type Random, seeded } from './random';

/** Row at which the water begins. */
export const waterline = 268;

export interface PondPlates {
  /** Sky, lit glasshouse and trees; its mirror image is the water's light. */
  shore: Plate;
  water: Plate;
  farPads: Plate;
  nearPads: Plate;
}

/** The lily pond at night, in layers that move apart when the camera pans. */
export function pondPlates(width: number, height: number): PondPlates {
  const random = seeded(1904);
  const shore = painted(width, height, (context) => paintShore(context, random, width));
  const water = painted(width, height, (context) => {
    context.save();
    context.translate(0, waterline * 2);
    context.scale(1, -1);
    context.filter = 'blur(5px)';
    context.drawImage(shore, 0, waterline - 430, width, 430, 0, waterline - 430, width, 430);
    context.restore();
    context.fillStyle = '#0a1a22';
    context.globalCompositeOperation = 'destination-over';
    context.fillRect(0, waterline, width, height);
    context.globalCompositeOperation = 'source-over';
    const depth = context.createLinearGradient(0, waterline, 0, height);
    depth.addColorStop(0, 'rgba(6, 18, 26, 0.35)');
    depth.addColorStop(1, 'rgba(3, 10, 16, 0.86)');
    context.fillStyle = depth;
    context.fillRect(0, waterline, width, height);
    for (let k = 0; k < 2600; k++) {
      const t = random() ** 1.5;
      context.fillStyle = `rgba(${random() < 0.35 ? '255,214,150' : '120,170,190'},${between(random, 0.03, 0.16)})`;
      context.fillRect(
        between(random, 0, width),
        waterline + t * (height - waterline),
        10 + t * 90,
        0.8 + t * 2.4,
      );
    }
  });
  const pads = (from: number, to: number, count: number) =>
    painted(width + 300, height, (context) => {
      const rows = Array.from({ length: count }, () => between(random, from, to)).sort((a, b) => a - b);
      for (const y of rows)
        paintPad(context, random, between(random, 0, width + 300), y, (y - waterline) / (720 - waterline));
    });
  return {
    shore: plateOf(blurred(shore, 1.3)),
    water: plateOf(blurred(water, 1)),
    farPads: plateOf(blurred(pads(waterline + 24, 470, 120), 0.7)),
    nearPads: plateOf(blurred(pads(520, 760, 46), 1.6)),
  };
}

function paintShore(context: SKRSContext2D, random: Random, width: number) {
  const sky = context.createLinearGradient(0, 0, 0, waterline);
  sky.addColorStop(0, '#0b1430');
  sky.addColorStop(0.6, '#1b3350');
  sky.addColorStop(1, '#3d5a66');
  context.fillStyle = sky;
  context.fillRect(0, 0, width, waterline);
  for (let k = 0; k < 170; k++) {
    context.fillStyle = `rgba(230,236,255,${between(random, 0.1, 0.7)})`;
    context.fillRect(between(random, 0, width), between(random, 0, 120), 1.6, 1.6);
  }
  for (let x = 160; x < width; x += 620) paintDome(context, random, x, 230 + (x % 3) * 30);
  for (let k = 0; k < 420; k++) {
    const x = between(random, 0, width);
    const y = between(random, 196, waterline);
    context.fillStyle = `hsl(${between(random, 150, 200)}, 30%, ${between(random, 3, 11)}%)`;
    context.beginPath();
    context.ellipse(x, y + 12, between(random, 8, 38), between(random, 8, 34), random() * 3, 0, 7);
    context.fill();
  }
  context.fillStyle = '#070d12';
  context.fillRect(0, waterline - 12, width, 14);
  for (let x = 20; x < width; x += between(random, 40, 66)) {
    const y = 176 + 26 * Math.cos(x / 90) + between(random, -5, 5);
    const glow = context.createRadialGradient(x, y, 0, x, y, 26);
    glow.addColorStop(0, 'rgba(255,236,180,1)');
    glow.addColorStop(0.16, 'rgba(255,206,120,0.95)');
    glow.addColorStop(0.3, 'rgba(255,170,80,0.28)');
    glow.addColorStop(1, 'rgba(255,150,60,0)');
    context.fillStyle = glow;
    context.fillRect(x - 26, y - 26, 52, 52);
  }
}

/** A glasshouse lit from within, seen across the water. */
function paintDome(context: SKRSContext2D, random: Random, x: number, width: number) {
  const light = context.createRadialGradient(x, waterline - 30, 10, x, waterline - 60, width);
  light.addColorStop(0, '#ffe2a0');
  light.addColorStop(0.45, '#d9913f');
  light.addColorStop(1, '#5c3417');
  context.fillStyle = light;
  context.beginPath();
  context.moveTo(x - width, waterline);
  context.lineTo(x - width, waterline - 60);
  context.bezierCurveTo(
    x - width,
    waterline - 130,
    x - width * 0.5,
    waterline - 140,
    x - width * 0.36,
    waterline - 140,
  );
  context.bezierCurveTo(
    x - width * 0.34,
    waterline - 240,
    x + width * 0.34,
    waterline - 240,
    x + width * 0.36,
    waterline - 140,
  );
  context.bezierCurveTo(
    x + width * 0.5,
    waterline - 140,
    x + width,
    waterline - 130,
    x + width,
    waterline - 60,
  );
  context.lineTo(x + width, waterline);
  context.fill();
  context.save();
  context.clip();
  for (let k = 0; k < 90; k++) {
    context.fillStyle = `rgba(30,40,14,${between(random, 0.2, 0.55)})`;
    context.beginPath();
    context.ellipse(
      x + between(random, -width, width),
      waterline - between(random, 0, 70),
      between(random, 6, 26),
      between(random, 10, 40),
      random(),
      0,
      7,
    );
    context.fill();
  }
  context.strokeStyle = 'rgba(36,24,14,0.9)';
  context.lineWidth = 3;
  context.beginPath();
  for (let k = -9; k <= 9; k++) {
    context.moveTo(x + (k * width) / 9, waterline);
    context.bezierCurveTo(
      x + (k * width) / 9,
      waterline - 90,
      x + (k * width) / 12,
      waterline - 150,
      x + (k * width) / 26,
      waterline - 230,
    );
  }
  for (let y = 30; y < 220; y += 34) {
    context.moveTo(x - width, waterline - y);
    context.lineTo(x + width, waterline - y);
  }
  context.stroke();
  context.restore();
}

function paintPad(context: SKRSContext2D, random: Random, x: number, y: number, near: number) {
  const size = 16 + near * 92 * between(random, 0.7, 1.2);
  const tilt = 0.3 + near * 0.08;
  context.save();
  context.translate(x, y);
  context.scale(1, tilt);
  const notch = between(random, 0, 6.28);
  const pad = context.createRadialGradient(-size * 0.3, -size * 0.4, size * 0.1, 0, 0, size);
  const hue = between(random, 110, 160);
  pad.addColorStop(0, `hsl(${hue}, 34%, ${20 + near * 12}%)`);
  pad.addColorStop(0.85, `hsl(${hue + 10}, 38%, ${9 + near * 8}%)`);
  pad.addColorStop(1, `hsl(${hue - 30}, 34%, ${22 + near * 12}%)`);
  context.fillStyle = pad;
  context.beginPath();
  context.moveTo(0, 0);
  context.arc(0, 0, size, notch + 0.22, notch + 6.06);
  context.closePath();
  context.fill();
  context.strokeStyle = 'rgba(190,220,170,0.22)';
  context.lineWidth = 1.4;
  context.beginPath();
  for (let k = 0; k < 13; k++) {
    const a = notch + 0.4 + k * 0.44;
    context.moveTo(0, 0);
    context.lineTo(Math.cos(a) * size * 0.94, Math.sin(a) * size * 0.94);
  }
  context.stroke();
  context.restore();
  if (random() < 0.24)
    paintLily(context, random, x + between(random, -size, size) * 0.4, y - size * 0.1, size * 0.5);
}

function paintLily(context: SKRSContext2D, random: Random, x: number, y: number, size: number) {
  const pink = random() < 0.5;
  for (let ring = 0; ring < 3; ring++) {
    for (let k = 0; k < 9; k++) {
      const a = -Math.PI * (0.06 + (k / 8) * 0.88);
      const reach = size * (1 - ring * 0.24);
      context.fillStyle = pink ? `hsl(335, 50%, ${58 + ring * 10}%)` : `hsl(45, 35%, ${70 + ring * 8}%)`;
      context.beginPath();
      context.ellipse(
        x + Math.cos(a) * reach * 0.5,
        y + Math.sin(a) * reach * 0.36,
        reach * 0.42,
        reach * 0.15,
        a,
        0,
        7,
      );
      context.fill();
    }
  }
}
