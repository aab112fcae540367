import type { SKRSContext2D } from '@napi-rs/canvas';
import { palm, plant } from './foliage';
import { blurred, painted, type Plate, plateOf } from './plate';
import { between, type Random, seeded } from './random';

/** The inside of the glasshouse by day: panes, iron ribs, planting, a gravel path. */
export function glasshousePlate(width: number, height: number, seed = 1851): Plate {
  const random = seeded(seed);
  const far = blurred(
    painted(width, height, (context) => paintFar(context, random, width, height)),
    5,
  );
  const sharp = painted(width, height, (context) => {
    context.drawImage(far, 0, 0);
    paintIronwork(context, random, width);
    paintUndergrowth(context, random, width);
    for (let x = -60; x < width + 80; x += between(random, 110, 190))
      palm(context, random, x, between(random, 380, 450), between(random, 190, 280), 26);
    for (let x = -40; x < width + 40; x += between(random, 34, 58))
      plant(context, random, x, between(random, 500, 565), between(random, 110, 190), 24);
    paintPath(context, random, width, height);
    for (let x = 20; x < width; x += between(random, 120, 250))
      paintPot(context, random, x, between(random, 575, 600));
  });
  return plateOf(
    painted(width, height, (context) => {
      context.filter = 'blur(1.9px)';
      context.drawImage(sharp, 0, 0);
      context.filter = 'blur(34px)';
      paintLightAndShade(context, random, width, height);
      context.filter = 'blur(26px)';
      context.globalCompositeOperation = 'screen';
      paintLightShafts(context, random, width, height);
    }),
  );
}

function paintFar(context: SKRSContext2D, random: Random, width: number, height: number) {
  const sky = context.createLinearGradient(0, 0, 0, height * 0.75);
  sky.addColorStop(0, '#dfe7df');
  sky.addColorStop(0.5, '#c3d2bd');
  sky.addColorStop(1, '#6f8a63');
  context.fillStyle = sky;
  context.fillRect(0, 0, width, height);
  for (let k = 0; k < 900; k++) {
    const y = between(random, 120, 520);
    context.fillStyle = `hsla(${between(random, 80, 140)}, ${between(random, 18, 38)}%, ${between(random, 22, 62) - y * 0.03}%, 0.5)`;
    context.beginPath();
    context.ellipse(
      between(random, 0, width),
      y,
      between(random, 8, 40),
      between(random, 8, 30),
      random() * 3,
      0,
      7,
    );
    context.fill();
  }
}

function paintIronwork(context: SKRSContext2D, random: Random, width: number) {
  context.lineCap = 'round';
  for (const [dx, colour, scale] of [
    [2.5, 'rgba(40,52,44,0.55)', 1],
    [0, '#e9ece2', 1],
    [-1.5, 'rgba(255,255,250,0.9)', 0.35],
  ] as const) {
    context.strokeStyle = colour;
    for (let x = 40; x < width + 300; x += 300) {
      context.lineWidth = 13 * scale;
      context.beginPath();
      context.moveTo(x + dx, 560);
      context.lineTo(x + dx, 150);
      context.bezierCurveTo(x + dx, 40, x + 90 + dx, -30, x + 150 + dx, -60);
      context.moveTo(x + dx, 150);
      context.bezierCurveTo(x + dx, 40, x - 90 + dx, -30, x - 150 + dx, -60);
      context.stroke();
      context.lineWidth = 4 * scale;
      context.beginPath();
      for (let k = 1; k < 6; k++) {
        context.moveTo(x + k * 50 + dx, 420);
        context.lineTo(x + k * 50 + dx, 0);
      }
      context.stroke();
    }
    context.lineWidth = 6 * scale;
    context.beginPath();
    for (const y of [96, 196, 302, 420]) {
      context.moveTo(0, y + dx);
      context.lineTo(width, y + dx);
    }
    context.stroke();
  }
  // Condensation and reflections on the panes.
  for (let k = 0; k < 240; k++) {
    context.fillStyle = `rgba(255,255,255,${between(random, 0.02, 0.12)})`;
    context.fillRect(
      between(random, 0, width),
      between(random, 0, 380),
      between(random, 4, 44),
      between(random, 20, 90),
    );
  }
}

function paintUndergrowth(context: SKRSContext2D, random: Random, width: number) {
  const dark = context.createLinearGradient(0, 330, 0, 590);
  dark.addColorStop(0, 'rgba(34, 48, 30, 0)');
  dark.addColorStop(0.35, 'rgba(26, 38, 24, 0.96)');
  dark.addColorStop(1, 'rgba(12, 18, 12, 1)');
  context.fillStyle = dark;
  context.fillRect(0, 330, width, 260);
  for (let k = 0; k < 1500; k++) {
    context.fillStyle = `hsla(${between(random, 75, 130)}, 24%, ${between(random, 8, 30)}%, 0.7)`;
    context.beginPath();
    context.ellipse(
      between(random, 0, width),
      between(random, 380, 585),
      between(random, 3, 16),
      between(random, 2, 7),
      random() * 3,
      0,
      7,
    );
    context.fill();
  }
}

/** Sun through the panes: soft bright and dark patches, and the haze of moist air. */
function paintLightAndShade(context: SKRSContext2D, random: Random, width: number, height: number) {
  context.globalCompositeOperation = 'saturation';
  context.fillStyle = 'rgba(128, 128, 128, 0.34)';
  context.fillRect(-80, -80, width + 160, height + 160);
  context.globalCompositeOperation = 'multiply';
  for (let k = 0; k < 70; k++) {
    context.fillStyle = `rgba(40, 48, 44, ${between(random, 0.12, 0.5)})`;
    context.beginPath();
    context.ellipse(
      between(random, 0, width),
      between(random, 260, height),
      between(random, 30, 150),
      between(random, 16, 70),
      random(),
      0,
      7,
    );
    context.fill();
  }
  context.globalCompositeOperation = 'soft-light';
  for (let k = 0; k < 60; k++) {
    context.fillStyle = `rgba(255, 244, 214, ${between(random, 0.2, 0.7)})`;
    context.beginPath();
    context.ellipse(
      between(random, 0, width),
      between(random, 200, height),
      between(random, 20, 110),
      between(random, 14, 60),
      random(),
      0,
      7,
    );
    context.fill();
  }
  context.globalCompositeOperation = 'source-over';
  const haze = context.createLinearGradient(0, 0, 0, 600);
  haze.addColorStop(0, 'rgba(226, 230, 214, 0.34)');
  haze.addColorStop(1, 'rgba(200, 206, 184, 0.02)');
  context.fillStyle = haze;
  context.fillRect(-80, -80, width + 160, height + 160);
}

function paintPath(context: SKRSContext2D, random: Random, width: number, height: number) {
  const ground = context.createLinearGradient(0, 570, 0, height);
  ground.addColorStop(0, '#6d6552');
  ground.addColorStop(1, '#a59a82');
  context.fillStyle = ground;
  context.fillRect(0, 578, width, height - 578);
  for (let k = 0; k < 16000; k++) {
    const depth = random() ** 1.6;
    const y = 580 + depth * (height - 580);
    const size = 0.8 + depth * 4.2;
    context.fillStyle = `hsl(${between(random, 30, 52)}, ${between(random, 6, 18)}%, ${between(random, 34, 72)}%)`;
    context.beginPath();
    context.ellipse(
      between(random, 0, width),
      y,
      size * between(random, 0.8, 1.7),
      size * 0.6,
      random() * 3,
      0,
      7,
    );
    context.fill();
  }
  context.fillStyle = '#7c4a35';
  for (let x = 0; x < width; x += 46) context.fillRect(x, 570 + (x % 3), 43, 13);
}

function paintPot(context: SKRSContext2D, random: Random, x: number, y: number) {
  const size = between(random, 46, 78);
  plant(context, random, x, y - size * 0.5, size * 2.1, 30);
  const clay = context.createLinearGradient(x - size / 2, 0, x + size / 2, 0);
  clay.addColorStop(0, '#c98058');
  clay.addColorStop(0.35, '#b5683f');
  clay.addColorStop(1, '#5d321f');
  context.fillStyle = clay;
  context.beginPath();
  context.moveTo(x - size * 0.5, y - size * 0.55);
  context.lineTo(x + size * 0.5, y - size * 0.55);
  context.lineTo(x + size * 0.36, y + size * 0.4);
  context.lineTo(x - size * 0.36, y + size * 0.4);
  context.fill();
  context.fillRect(x - size * 0.56, y - size * 0.66, size * 1.12, size * 0.2);
}

function paintLightShafts(context: SKRSContext2D, random: Random, width: number, height: number) {
  for (let x = -200; x < width; x += between(random, 150, 340)) {
    const across = between(random, 40, 120);
    context.fillStyle = `rgba(255, 240, 200, ${between(random, 0.08, 0.2)})`;
    context.beginPath();
    context.moveTo(x, -40);
    context.lineTo(x + across, -40);
    context.lineTo(x + across + 360, height);
    context.lineTo(x + 300, height);
    context.fill();
  }
}
