import type { SKRSContext2D } from '@napi-rs/canvas';
import { between, type Random } from './random';

/** A leaf from (x, y) at `angle`, with a lit half, a midrib and some veins. */
export function leaf(
  context: SKRSContext2D,
  random: Random,
  x: number,
  y: number,
  angle: number,
  length: number,
  hue: number,
  light: number,
) {
  const width = length * between(random, 0.16, 0.28);
  context.save();
  context.translate(x, y);
  context.rotate(angle);
  const gradient = context.createLinearGradient(0, -width, 0, width);
  const saturation = between(random, 28, 46);
  gradient.addColorStop(0, `hsl(${hue}, ${saturation}%, ${light + 11}%)`);
  gradient.addColorStop(0.5, `hsl(${hue}, ${saturation}%, ${light}%)`);
  gradient.addColorStop(1, `hsl(${hue + 8}, ${saturation}%, ${light * 0.6}%)`);
  context.fillStyle = gradient;
  context.beginPath();
  context.moveTo(0, 0);
  context.bezierCurveTo(length * 0.3, -width, length * 0.75, -width * 0.8, length, 0);
  context.bezierCurveTo(length * 0.75, width * 0.8, length * 0.3, width, 0, 0);
  context.fill();
  context.strokeStyle = `hsla(${hue - 8}, 35%, ${light + 18}%, 0.55)`;
  context.lineWidth = Math.max(0.6, length * 0.015);
  context.beginPath();
  context.moveTo(0, 0);
  context.lineTo(length * 0.97, 0);
  for (let k = 1; k < 5; k++) {
    context.moveTo(length * k * 0.18, 0);
    context.lineTo(length * (k * 0.18 + 0.14), -width * 0.5);
    context.moveTo(length * k * 0.18, 0);
    context.lineTo(length * (k * 0.18 + 0.14), width * 0.5);
  }
  context.stroke();
  context.restore();
}

/** A plant: leaves that spread upward and outward from a place. */
export function plant(
  context: SKRSContext2D,
  random: Random,
  x: number,
  y: number,
  size: number,
  light: number,
) {
  const hue = between(random, 82, 142);
  const count = Math.round(between(random, 22, 46));
  for (let k = 0; k < count; k++) {
    const spread = between(random, -1, 1);
    const angle = -Math.PI / 2 + spread * 1.35;
    const reach = between(random, 0.1, 0.55) * size;
    const length = size * between(random, 0.28, 0.6);
    const shade = light * between(random, 0.65, 1.25);
    leaf(
      context,
      random,
      x + Math.cos(angle) * reach,
      y + Math.sin(angle) * reach,
      angle + spread * 0.5,
      length,
      hue + between(random, -10, 10),
      shade,
    );
  }
}

/** A palm: fronds that arch over, each with many leaflets. */
export function palm(
  context: SKRSContext2D,
  random: Random,
  x: number,
  y: number,
  size: number,
  light: number,
) {
  for (let frond = 0; frond < 13; frond++) {
    const side = between(random, -1, 1);
    const lift = size * between(random, 0.5, 0.95) * (1 - Math.abs(side) * 0.5);
    const reach = side * size * 0.9;
    for (let k = 2; k < 34; k++) {
      const t = k / 34;
      const px = x + reach * t;
      const py = y - lift * Math.sin(t * 2.3);
      const heading = Math.atan2(-lift * 2.3 * Math.cos(t * 2.3), reach);
      for (const turn of [-1.05, 1.05]) {
        const shade = light * between(random, 0.7, 1.3);
        leaf(
          context,
          random,
          px,
          py,
          heading + turn * (1 - t * 0.5),
          size * 0.24 * (1.15 - t),
          between(random, 92, 118),
          shade,
        );
      }
    }
  }
}
