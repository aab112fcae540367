import { createCanvas } from '@napi-rs/canvas';
import { flattenOutline, regionOf } from '../src/core/outline';
import { type OutlineRow, plainEdge, plainOutline } from '../src/core/document/tables';
import { drawMatte, MatteScratch } from '../src/core/matte/matte';
import { drawOutlines } from '../src/core/matte/outline-matte';
import { median, type Figure } from './figure';

const width = 1920;
const height = 1080;
const feather = 40;

/** A wavy loop of 24 points that fills most of the frame's height. */
function loopOf24(): number[] {
  return Array.from({ length: 24 }, (_, k) => {
    const a = (k / 24) * 2 * Math.PI;
    const r = 420 * (1 + 0.15 * Math.sin(5 * a));
    const [tx, ty] = [-Math.sin(a) * r * 0.09, Math.cos(a) * r * 0.09];
    return [960 + r * Math.cos(a), 540 + r * Math.sin(a), -tx, -ty, tx, ty];
  }).flat();
}

/** The same path filled and blurred by Skia; the blur's 10–90 % width is that of the smooth step over 40 px. */
function skia(pose: readonly number[]): () => void {
  const canvas = createCanvas(width, height);
  const context = canvas.getContext('2d');
  const sigma = (0.6084 * feather) / 2.563;
  return () => {
    context.clearRect(0, 0, width, height);
    context.filter = `blur(${sigma}px)`;
    context.beginPath();
    context.moveTo(pose[0], pose[1]);
    for (let i = 0; i < pose.length; i += 6) {
      const j = (i + 6) % pose.length;
      context.bezierCurveTo(
        pose[i] + pose[i + 4],
        pose[i + 1] + pose[i + 5],
        pose[j] + pose[j + 2],
        pose[j + 1] + pose[j + 3],
        pose[j],
        pose[j + 1],
      );
    }
    context.fill();
    context.getImageData(0, 0, 1, 1);
  };
}

/** Time of a 1080p matte with 40 px feather against Skia's fill and blur, turn about in one process. */
export function benchMatte(): Figure[] {
  const pose = loopOf24();
  const out = new Uint8Array(width * height);
  const scratch = new MatteScratch();
  const edges = { featherInside: feather / 2, featherOutside: feather / 2, spread: 0 };
  const kiv = (edge: typeof edges) => () =>
    drawMatte(
      regionOf(flattenOutline(pose, true), 'loop', 'left', width, height),
      edge,
      width,
      height,
      out,
      scratch,
    );
  const blurred = (edge: typeof edges) => {
    const exposures = Array.from({ length: 8 }, (_, k) =>
      pose.map((value, i) => (i % 6 === 0 ? value + k - 3.5 : value)),
    );
    const outline = { ...plainOutline, kind: 'loop', sweptSide: 'left' } as OutlineRow;
    const posed = [{ outline, edge: { ...plainEdge, ...edge }, coordinates: pose, exposures }];
    return () => drawOutlines(posed, 'empty', { scale: 1, width, height, scratch }, out);
  };
  const runs = {
    kiv: kiv(edges),
    hard: kiv(plainEdge),
    blurred: blurred(edges),
    blurredHard: blurred(plainEdge),
    skia: skia(pose),
  };
  const names = Object.keys(runs) as (keyof typeof runs)[];
  const times = Object.fromEntries(names.map((name) => [name, [] as number[]])) as Record<
    keyof typeof runs,
    number[]
  >;
  for (let round = 0; round < 40; round++) {
    for (const name of names) {
      const start = performance.now();
      runs[name]();
      if (round >= 8) times[name].push(performance.now() - start);
    }
  }
  const reference = { name: 'Skia fill and blur', value: median(times.skia) };
  return [
    {
      name: 'matte 1080p, 24 points, 40 px feather',
      value: median(times.kiv),
      unit: 'ms',
      reference,
      atMost: 0.2,
    },
    { name: 'matte 1080p, 24 points, no feather', value: median(times.hard), unit: 'ms', reference },
    {
      name: 'the same with 8 steps of motion blur, 40 px feather',
      value: median(times.blurred),
      unit: 'ms',
      reference,
      atMost: 1,
    },
    {
      name: 'the same with 8 steps of motion blur, no feather',
      value: median(times.blurredHard),
      unit: 'ms',
      reference,
      atMost: 1,
    },
  ];
}
