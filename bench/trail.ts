import path from 'node:path';
import { fitOutline } from '../src/core/geometry/fit-curve';
import { MotionMeasure } from '../src/core/motion/measure';
import { numbersPerPoint as N } from '../src/core/model/choices';
import { flattenOutline } from '../src/core/outline';
import { quantile } from '../src/core/numbers/quantile';
import { type EdgeTrail, edgeTrailOn, type Place } from '../src/core/trail/edge-trail';
import { toPolyline } from './carry';
import { passesIn, type PassTruth, readClip, readTruth } from './clip-frames';
import { drawnPasses } from './passes/make';
import type { Figure } from './figure';

/** px of the 95th percentile within which a stretch is taken by whoever draws. */
const near = 2;
/** Presses that a line may need. */
const fewPresses = 5;
/** px within which the points follow the line, as the page has it. */
const tolerance = 1.5;
/** px by which a press is off the edge, and within which it is put onto one. */
const [handOff, snapWithin] = [2, 5];
/** Shares of what is left of the edge to which the next press goes, the farthest first. */
const tries = [1, 0.85, 0.7, 0.55, 0.4, 0.3, 0.2, 0.12, 0.07];

/**
 * `npm run bench -- trail [FOLDER]`: two frames of each pass drawn along the edge, as a person does who sees the line to the
 * pointer: from each press as far as the line lies on the edge. Presses, and how far the line and the points fitted to it
 * are off the truth where the frame has it, both ways.
 */
export async function benchTrail(folder: string | null): Promise<Figure[]> {
  const place = folder ?? (await drawnPasses());
  let [all, few, right] = [0, 0, 0];
  for (const name of passesIn(place)) {
    const pass = readTruth(path.join(place, name));
    const clip = readClip(path.join(place, name), pass);
    const measure = new MotionMeasure(pass.width, pass.height);
    for (const { planes } of clip.pictures) measure.add(planes.y, planes.width, planes.height);
    const motion = measure.result();
    for (const frame of framesToDraw(pass, clip.count)) {
      const began = performance.now();
      const trail = await edgeTrailOn(clip, { ...pass, motion }, frame, [1, 0, 0, 1, 0, 0]);
      const ready = performance.now() - began;
      const { presses, line, slowest } = drawn(trail, pass, frame);
      const error = errorOf(line, pass, frame);
      const closed = isWhole(pass, frame);
      const coordinates = fitOutline(line, tolerance, closed);
      const fitted = errorOf(closedLine(coordinates, closed), pass, frame);
      all++;
      if (presses <= fewPresses) few++;
      if (presses <= fewPresses && fitted <= near) right++;
      console.log(
        `${name}, frame ${frame}: ${presses} presses, p95 ${error.toFixed(1)} px; ${coordinates.length / N} points, p95 ${fitted.toFixed(1)} px; edges in ${ready.toFixed(0)} ms, a line in ${slowest.toFixed(0)} at most`,
      );
    }
  }
  console.log(
    `trail, all: ${all} frames, ${few} with ${fewPresses} presses or fewer, ${right} of them within ${near} px`,
  );
  if (folder) return [];
  return [{ name: 'trail: frames not drawn right', value: (100 * (all - right)) / all, unit: '%' }];
}

const inFrame = ({ width, height }: PassTruth, [x, y]: Place) =>
  x > 4 && y > 4 && x < width - 4 && y < height - 4;

/** Whether it is a loop that lies in the picture with all of its corners. */
function isWhole(pass: PassTruth, frame: number): boolean {
  return pass.kind === 'loop' && pass.truth[frame].every((place) => inFrame(pass, place));
}

/** The true edge as far as it is in the picture, a place every few px; of a loop that is whole there the first one again. */
function truthIn(pass: PassTruth, frame: number): Place[] {
  const truth = pass.truth[frame] ?? [];
  const line = pass.kind === 'loop' ? [...truth, truth[0]] : truth;
  return line.flatMap((place, i) => between(place, line[i + 1] ?? place)).filter((at) => inFrame(pass, at));
}

/** A place, and those on the way to the next at most 4 px apart. */
function between([x, y]: Place, [u, v]: Place): Place[] {
  const count = Math.max(1, Math.ceil(Math.hypot(u - x, v - y) / 4));
  return Array.from({ length: count }, (_, k): Place => [
    x + (k / count) * (u - x),
    y + (k / count) * (v - y),
  ]);
}

/** Two of the frames that show nearly as much of the edge as any does. */
function framesToDraw(pass: PassTruth, count: number): number[] {
  const lengths = Array.from({ length: count }, (_, frame) => truthIn(pass, frame).length);
  const most = lengths.reduce((a, b) => Math.max(a, b));
  const good = lengths.flatMap((length, frame) => (length > 0.9 * most ? [frame] : []));
  return [0.3, 0.6].map((share) => good[Math.floor(share * good.length)]);
}

function drawn(trail: EdgeTrail, pass: PassTruth, frame: number) {
  const truth = truthIn(pass, frame);
  const last = truth.length - 1;
  const pressAt = (i: number): Place => {
    const angle = ((i * 7919) % 628) / 100;
    const [x, y] = [truth[i][0] + handOff * Math.cos(angle), truth[i][1] + handOff * Math.sin(angle)];
    return trail.snapped([x, y], snapWithin);
  };
  const line: number[] = [];
  let [at, presses, slowest] = [0, 1, 0];
  while (at < last) {
    trail.from(pressAt(at));
    let [to, stretch] = [at, [] as number[]];
    for (const share of tries) {
      to = Math.max(at + 1, Math.round(at + share * (last - at)));
      const began = performance.now();
      stretch = trail.to(pressAt(to));
      slowest = Math.max(slowest, performance.now() - began);
      if (errorBetween(stretch, pass, frame, truth.slice(at, to + 1)) <= near) break;
    }
    line.push(...stretch);
    at = to;
    presses++;
  }
  return { presses, line, slowest };
}

function errorOf(line: readonly number[], pass: PassTruth, frame: number): number {
  return errorBetween(line, pass, frame, truthIn(pass, frame));
}

/** px, the 95th percentile of distances from the line to the truth and from these of its places to the line. */
function errorBetween(
  line: readonly number[],
  pass: PassTruth,
  frame: number,
  truth: readonly Place[],
): number {
  const places: [number, number][] = [];
  for (let i = 0; i < line.length; i += 2) places.push([line[i], line[i + 1]]);
  const closed = pass.kind === 'loop';
  const distances = [
    ...places.map(([x, y]) => toPolyline(x, y, pass.truth[frame], closed)),
    ...truth.map(([x, y]) => toPolyline(x, y, places, false)),
  ];
  return quantile(distances, 0.95);
}

/** An outline's curve as places, the first of a loop again at its end. */
function closedLine(coordinates: readonly number[], closed: boolean): number[] {
  const line = flattenOutline(coordinates, closed, 1, 0.1);
  return closed ? [...line, line[0], line[1]] : line;
}
