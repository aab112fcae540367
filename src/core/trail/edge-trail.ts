import { type FramePicture, lumaAt } from '../picture/frame-picture';
import { whittaker } from '../numbers/whittaker';
import type { Frames } from '../carry/frames';
import type { Shot } from '../model/shot';
import { type Affine, compose, invert } from '../geometry/affine';
import { sceneMap } from '../motion/scene-map';
import { quantile } from '../numbers/quantile';
import { edgeField, type EdgeField } from './edge-field';
import { LeastPaths } from './least-paths';

export type Place = readonly [x: number, y: number];

/** How even a path of samples is made before it is drawn closer (Whittaker 1923). */
const evenness = 6;
/** How even the line is made that was drawn closer, so that grain does not ask for points of its own. */
const afterwards = 8;
/** px to either side of a path within which its edge is looked for, px between the places looked at. */
const reach = 3;
const step = 0.5;
/** px to both sides over which a change is looked for, and how much more a wider look must show to be taken. */
const widths = [1, 4];
const wider = 1.5;
/** px of the picture from one place of a line to the next. */
const spacing = 2;
/** What it costs to go a step across from place to place, against the whole of an edge. */
const acrossCost = 0.12;

/** Frames before and after in which an edge that stands still is looked for. */
const away = 8;

/**
 * A frame's edges to draw on: those that stand still with the scene, as far as its movement is known, count less.
 *
 * @param toPicture from the shot's px to those of the frames' pictures.
 */
export async function edgeTrailOn(
  frames: Frames,
  shot: Pick<Shot, 'width' | 'height' | 'motion'>,
  frame: number,
  toPicture: Affine,
): Promise<EdgeTrail> {
  const picture = await frames.picture(frame);
  const neighbours = [];
  for (const other of [frame - away, frame + away]) {
    if (other < 0 || other >= frames.count) continue;
    const moved: Affine = shot.motion ? sceneMap(shot.motion, shot, frame, other) : [1, 0, 0, 1, 0, 0];
    const map = compose(toPicture, compose(moved, invert(toPicture)));
    neighbours.push({ picture: await frames.picture(other), map });
  }
  return new EdgeTrail(picture, edgeField(picture, neighbours));
}

/** Lines that follow a picture's edges from place to place. All places are px of the picture. */
export class EdgeTrail {
  private paths: LeastPaths | null = null;

  constructor(
    private readonly picture: FramePicture,
    private readonly field: EdgeField,
  ) {}

  /** The strongest edge within `reach` px of a place, the nearer the better; the place itself where there is none. */
  snapped(place: Place, within: number): Place {
    const { width, height, share, strength } = this.field;
    const [x, y] = [place[0] * share, place[1] * share];
    const far = within * share;
    let best: Place = place;
    let most = 0.2;
    for (let j = Math.max(0, Math.floor(y - far)); j <= Math.min(height - 1, y + far); j++)
      for (let i = Math.max(0, Math.floor(x - far)); i <= Math.min(width - 1, x + far); i++) {
        const distance = Math.hypot(i + 0.5 - x, j + 0.5 - y);
        if (distance > far) continue;
        const value = strength[j * width + i] * (1 - (0.6 * distance) / far);
        if (value > most) [most, best] = [value, [(i + 0.5) / share, (j + 0.5) / share]];
      }
    return best;
  }

  /** Begins at a place: from there lines are drawn. */
  from(place: Place) {
    const sample = this.sampleAt(place);
    if (this.paths?.from !== sample) this.paths = new LeastPaths(this.field, sample);
  }

  /**
   * The line from the place begun at to another along the picture's edges: x, y by turns, from the one to the other.
   *
   * @throws Error when nothing was begun.
   */
  to(place: Place): number[] {
    if (!this.paths) throw new Error('A line is drawn from a place that was begun at.');
    const { width, share } = this.field;
    const path = this.paths.pathTo(this.sampleAt(place));
    const xs = whittaker(
      path.map((sample) => ((sample % width) + 0.5) / share),
      evenness,
    );
    const ys = whittaker(
      path.map((sample) => (Math.floor(sample / width) + 0.5) / share),
      evenness,
    );
    const line = evenly(xs, ys, spacing);
    return line.length < 3 ? line.flat() : this.drawnCloser(line);
  }

  private sampleAt([x, y]: Place): number {
    const { width, height, share } = this.field;
    const i = Math.max(1, Math.min(width - 2, Math.floor(x * share)));
    const j = Math.max(1, Math.min(height - 2, Math.floor(y * share)));
    return j * width + i;
  }

  /** A line moved across onto the steepest change of luma beside it, as one course (Viterbi 1967), between samples. */
  private drawnCloser(line: readonly Place[]): number[] {
    const normals = line.map((_, i): Place => {
      const [a, b] = [line[Math.max(0, i - 2)], line[Math.min(line.length - 1, i + 2)]];
      const length = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
      return [-(b[1] - a[1]) / length, (b[0] - a[0]) / length];
    });
    const { gains, across } = this.changesBeside(line, normals);
    const course = courseThrough(gains, line.length, across);
    const offsets = course.map((place) => (place - (across - 1) / 2) * step);
    const [xs, ys] = [0, 1].map((k) =>
      whittaker(
        line.map((place, i) => place[k] + offsets[i] * normals[i][k]),
        afterwards,
      ),
    );
    return line.flatMap((_, i) => [xs[i], ys[i]]);
  }

  /**
   * By how much luma changes at places across each of the line's: over the shortest way that shows the most of it, since a
   * soft edge is seen over a long one only.
   */
  private changesBeside(line: readonly Place[], normals: readonly Place[]) {
    const luma = this.picture.level(0);
    let chosen: { gains: Float64Array; across: number } | null = null;
    let most = 0;
    for (const over of widths) {
      const across = Math.round((2 * Math.max(reach, over)) / step) + 1;
      const gains = new Float64Array(line.length * across);
      const tops = new Float64Array(line.length);
      for (const [i, [x, y]] of line.entries()) {
        const [nx, ny] = normals[i];
        for (let k = 0; k < across; k++) {
          const d = (k - (across - 1) / 2) * step;
          const [a, b] = [d - over, d + over];
          const change = lumaAt(luma, x + b * nx, y + b * ny) - lumaAt(luma, x + a * nx, y + a * ny);
          gains[i * across + k] = Math.abs(change);
          tops[i] = Math.max(tops[i], gains[i * across + k]);
        }
      }
      const typical = quantile(tops, 0.5);
      if (!chosen || typical > wider * most) {
        chosen = { gains, across };
        most = typical;
      }
    }
    return chosen!;
  }
}

/** The course of most gain through the places across a line, in places, between them where the top lies there. */
function courseThrough(gains: Float64Array, count: number, across: number): Float64Array {
  const whole = quantile(gains, 0.9) || 1;
  const best = new Float64Array(count * across);
  const came = new Uint8Array(count * across);
  for (let i = 0; i < count; i++)
    for (let k = 0; k < across; k++) {
      const far = Math.abs(k - (across - 1) / 2) / across;
      const gain = Math.min(1.5, gains[i * across + k] / whole) - 0.3 * far;
      if (i === 0) best[k] = gain;
      else {
        let [most, from] = [-Infinity, k];
        for (let other = Math.max(0, k - 2); other <= Math.min(across - 1, k + 2); other++) {
          const value = best[(i - 1) * across + other] - acrossCost * (other - k) ** 2;
          if (value > most) [most, from] = [value, other];
        }
        best[i * across + k] = most + gain;
        came[i * across + k] = from;
      }
    }
  const last = (count - 1) * across;
  let k = 0;
  for (let n = 1; n < across; n++) if (best[last + n] > best[last + k]) k = n;
  const course = new Float64Array(count);
  for (let i = count - 1; i >= 0; i--) {
    course[i] = k + topNear(gains, i * across, k, across);
    k = came[i * across + k];
  }
  return course;
}

/** Where between its neighbours the most is: the top of the parabola through three places. */
function topNear(values: Float64Array, row: number, k: number, across: number): number {
  if (k === 0 || k === across - 1) return 0;
  const [a, b, c] = [values[row + k - 1], values[row + k], values[row + k + 1]];
  const bend = a - 2 * b + c;
  return bend >= 0 ? 0 : Math.max(-0.5, Math.min(0.5, (0.5 * (a - c)) / bend));
}

/** A polyline's places anew, as far apart as wanted; its ends stay. */
function evenly(xs: Float64Array, ys: Float64Array, apart: number): Place[] {
  const far = new Float64Array(xs.length);
  for (let i = 1; i < xs.length; i++) far[i] = far[i - 1] + Math.hypot(xs[i] - xs[i - 1], ys[i] - ys[i - 1]);
  const length = far[far.length - 1];
  const count = Math.max(1, Math.round(length / apart));
  const places: Place[] = [];
  for (let n = 0, i = 0; n <= count; n++) {
    const at = (n / count) * length;
    while (i + 2 < far.length && far[i + 1] < at) i++;
    const t = far.length < 2 ? 0 : Math.min(1, (at - far[i]) / (far[i + 1] - far[i] || 1));
    const b = Math.min(i + 1, xs.length - 1);
    places.push([xs[i] + t * (xs[b] - xs[i]), ys[i] + t * (ys[b] - ys[i])]);
  }
  return places;
}
