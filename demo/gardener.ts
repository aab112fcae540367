import type { SKRSContext2D } from '@napi-rs/canvas';
import { leaf, plant } from './foliage';
import { blurred, painted, type Plate, plateOf } from './plate';
import { between, type Random, seeded } from './random';

/** Size of the painted figure; its feet and barrow wheel lie below the frame, as the camera stands close. */
export const gardenerSize = { width: 1300, height: 960 };
/** Where the frame's top lies in the painted figure. */
export const gardenerTop = 120;

/** A gardener in a long coat who pushes a laden barrow to the right, close to the camera and out of focus. */
export function gardenerPlate(): Plate {
  const random = seeded(77);
  const { width, height } = gardenerSize;
  const figure = painted(width, height, (context) => {
    paintBarrow(context, random);
    paintBody(context, random);
    paintBacklight(context, width, height);
  });
  return plateOf(blurred(figure, 3.4));
}

/** The light comes from the panes behind: the near side lies in shade, only its edges catch it. */
function paintBacklight(context: SKRSContext2D, width: number, height: number) {
  context.globalCompositeOperation = 'source-atop';
  const shade = context.createLinearGradient(0, 0, 0, height);
  shade.addColorStop(0, 'rgba(16, 18, 20, 0.16)');
  shade.addColorStop(1, 'rgba(12, 12, 12, 0.58)');
  context.fillStyle = shade;
  context.fillRect(0, 0, width, height);
  context.globalCompositeOperation = 'source-over';
}

function paintBody(context: SKRSContext2D, random: Random) {
  const coat = new Outline(context, (c) => {
    c.moveTo(236, 196);
    c.bezierCurveTo(176, 210, 118, 262, 98, 350);
    c.bezierCurveTo(78, 440, 96, 520, 104, 590);
    c.bezierCurveTo(96, 690, 62, 800, 50, 970);
    c.lineTo(470, 970);
    c.bezierCurveTo(462, 800, 430, 690, 412, 590);
    c.bezierCurveTo(418, 480, 420, 380, 396, 300);
    c.bezierCurveTo(376, 236, 330, 204, 300, 192);
  });
  const cloth = context.createLinearGradient(40, 200, 480, 420);
  cloth.addColorStop(0, '#5b6f80');
  cloth.addColorStop(0.28, '#3a4c5c');
  cloth.addColorStop(0.7, '#26333f');
  cloth.addColorStop(1, '#1b242d');
  coat.fill(cloth);
  coat.inside(() => {
    paintFolds(context, random);
    paintWeave(context, random, 30, 180, 460, 800);
    // Belt and its shadow.
    context.fillStyle = 'rgba(20,22,24,0.75)';
    context.fillRect(60, 566, 400, 30);
    context.fillStyle = '#6e4b2c';
    context.fillRect(60, 560, 400, 26);
  });
  // Neck and head under a wide straw hat.
  context.fillStyle = '#8a5f46';
  context.beginPath();
  context.ellipse(276, 150, 62, 78, 0.12, 0, 7);
  context.fill();
  context.fillStyle = '#4b382c';
  context.beginPath();
  context.ellipse(250, 132, 58, 66, 0.1, 0, 7);
  context.fill();
  context.fillStyle = '#9c3d35';
  context.beginPath();
  context.ellipse(268, 200, 76, 26, 0.08, 0, 7);
  context.fill();
  const straw = context.createLinearGradient(110, 0, 440, 110);
  straw.addColorStop(0, '#e2c98c');
  straw.addColorStop(0.6, '#bd9a58');
  straw.addColorStop(1, '#7d6232');
  context.fillStyle = straw;
  context.beginPath();
  context.ellipse(284, 96, 168, 40, 0.1, 0, 7);
  context.fill();
  context.beginPath();
  context.moveTo(190, 92);
  context.bezierCurveTo(196, 10, 240, -14, 286, -14);
  context.bezierCurveTo(338, -14, 376, 18, 384, 106);
  context.fill();
  context.fillStyle = '#3f2b24';
  context.fillRect(190, 66, 194, 22);
  for (let k = 0; k < 500; k++) {
    context.strokeStyle = `rgba(${random() < 0.5 ? '255,240,190' : '80,60,20'},0.16)`;
    const x = between(random, 120, 440);
    const y = between(random, 0, 128);
    context.beginPath();
    context.moveTo(x, y);
    context.lineTo(x + between(random, -16, 16), y + between(random, -4, 4));
    if (Math.hypot((x - 284) / 164, (y - 96) / 38) < 1) context.stroke();
  }
  paintArm(context, random);
}

function paintFolds(context: SKRSContext2D, random: Random) {
  for (let k = 0; k < 46; k++) {
    const x = between(random, 60, 450);
    const y = between(random, 230, 760);
    const dark = random() < 0.55;
    context.strokeStyle = dark
      ? `rgba(8,14,20,${between(random, 0.12, 0.4)})`
      : `rgba(168,190,205,${between(random, 0.06, 0.2)})`;
    context.lineWidth = between(random, 4, 20);
    context.beginPath();
    context.moveTo(x, y);
    context.bezierCurveTo(
      x + between(random, -40, 40),
      y + 70,
      x + between(random, -30, 30),
      y + 130,
      x + between(random, -50, 30),
      y + between(random, 160, 320),
    );
    context.stroke();
  }
}

/** Threads and lint: texture that an eye, or a follower, can hold on to. */
function paintWeave(
  context: SKRSContext2D,
  random: Random,
  x0: number,
  y0: number,
  width: number,
  height: number,
) {
  for (let k = 0; k < 5200; k++) {
    const light = random() < 0.5;
    context.fillStyle = light
      ? `rgba(190,205,214,${between(random, 0.04, 0.16)})`
      : `rgba(0,4,8,${between(random, 0.06, 0.22)})`;
    context.fillRect(
      x0 + random() * width,
      y0 + random() * height,
      between(random, 2, 9),
      between(random, 2, 16),
    );
  }
}

function paintArm(context: SKRSContext2D, random: Random) {
  const sleeve = context.createLinearGradient(180, 300, 480, 520);
  sleeve.addColorStop(0, '#506474');
  sleeve.addColorStop(0.5, '#324352');
  sleeve.addColorStop(1, '#1d2730');
  const arm = new Outline(context, (c) => {
    c.moveTo(196, 270);
    c.bezierCurveTo(150, 330, 150, 430, 196, 500);
    c.bezierCurveTo(280, 560, 400, 566, 520, 556);
    c.lineTo(516, 486);
    c.bezierCurveTo(420, 486, 340, 478, 296, 440);
    c.bezierCurveTo(290, 380, 296, 320, 280, 276);
  });
  context.shadowColor = 'rgba(0,0,0,0.6)';
  context.shadowBlur = 26;
  context.shadowOffsetY = 12;
  arm.fill(sleeve);
  context.shadowColor = 'transparent';
  arm.inside(() => {
    paintWeave(context, random, 150, 260, 380, 320);
    for (let k = 0; k < 14; k++) {
      context.strokeStyle = `rgba(${random() < 0.5 ? '6,10,14' : '170,190,205'},0.2)`;
      context.lineWidth = between(random, 4, 12);
      context.beginPath();
      context.moveTo(between(random, 160, 300), between(random, 300, 520));
      context.lineTo(between(random, 240, 480), between(random, 380, 560));
      context.stroke();
    }
  });
  context.fillStyle = '#b98b52';
  context.beginPath();
  context.ellipse(536, 520, 44, 36, 0, 0, 7);
  context.fill();
}

function paintBarrow(context: SKRSContext2D, random: Random) {
  context.strokeStyle = '#5a4630';
  context.lineWidth = 26;
  context.beginPath();
  context.moveTo(520, 520);
  context.lineTo(1100, 690);
  context.stroke();
  const wood = context.createLinearGradient(0, 600, 0, 940);
  wood.addColorStop(0, '#7d6244');
  wood.addColorStop(1, '#33261a');
  const tray = new Outline(context, (c) => {
    c.moveTo(520, 600);
    c.lineTo(1150, 620);
    c.lineTo(1060, 960);
    c.lineTo(610, 960);
  });
  tray.fill(wood);
  tray.inside(() => {
    for (let k = 0; k < 500; k++) {
      context.fillStyle = `rgba(${random() < 0.5 ? '20,12,4' : '220,190,150'},${between(random, 0.05, 0.2)})`;
      context.fillRect(
        between(random, 520, 1140),
        between(random, 600, 960),
        between(random, 20, 120),
        between(random, 1, 4),
      );
    }
  });
  for (let k = 0; k < 46; k++) {
    const x = between(random, 560, 1130);
    plant(context, random, x, between(random, 420, 640), between(random, 150, 280), between(random, 14, 26));
  }
  for (let k = 0; k < 150; k++) {
    const x = between(random, 560, 1120);
    const y = between(random, 170, 560);
    if (y < 300 && Math.abs(x - 840) > 200) continue;
    context.fillStyle = `hsl(${between(random, 335, 395)}, ${between(random, 45, 70)}%, ${between(random, 45, 74)}%)`;
    for (let petal = 0; petal < 6; petal++) {
      const a = petal * 1.05 + random();
      context.beginPath();
      context.ellipse(x + Math.cos(a) * 11, y + Math.sin(a) * 11, 11, 7, a, 0, 7);
      context.fill();
    }
  }
  for (let k = 0; k < 60; k++) {
    leaf(
      context,
      random,
      between(random, 700, 960),
      between(random, 300, 420),
      between(random, -2.4, -0.7),
      between(random, 90, 190),
      between(random, 90, 130),
      between(random, 16, 32),
    );
  }
}

/** A closed path that is filled and then painted inside of. */
class Outline {
  constructor(
    private readonly context: SKRSContext2D,
    private readonly trace: (context: SKRSContext2D) => void,
  ) {}

  fill(style: Exclude<SKRSContext2D['fillStyle'], string>) {
    this.context.fillStyle = style;
    this.path();
    this.context.fill();
  }

  inside(paint: () => void) {
    this.context.save();
    this.path();
    this.context.clip();
    paint();
    this.context.restore();
  }

  private path() {
    this.context.beginPath();
    this.trace(this.context);
    this.context.closePath();
  }
}
