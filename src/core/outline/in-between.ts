import { bestSimilarity, type Similarity } from '../geometry/similarity';
import { type PoseRow } from '../document/tables';
import { numbersPerPoint as N } from '../model/choices';
import { hermite, monotoneSlope } from '../time/monotone';

/**
 * The pose at `fraction` of the way from one pose to the next: the similarity that best maps the one to the other
 * is interpolated as turn, scale and shift, and what it leaves over point by point, so that a swinging door stays
 * its size in between. Linear in time; below 0 and above 1 it goes on as it was.
 */
export function inBetween(from: readonly number[], to: readonly number[], fraction: number): number[] {
  if (fraction === 0) return from.slice();
  if (fraction === 1) return to.slice();
  const way = wayBetween(from, to);
  const { turn, scale, fromX, fromY, toX, toY } = way.similarity;
  return applied(
    from,
    way,
    [fromX + (toX - fromX) * fraction, fromY + (toY - fromY) * fraction],
    turn * fraction,
    scale ** fraction,
    way.rest.map((value) => value * fraction),
  );
}

/**
 * The pose at a frame between two of a track, gone through smoothly: shift, scale, turn and what is left over each
 * run as a cubic that goes on from the span before into the one after, and never overshoots.
 *
 * @param poses ascending by frame.
 * @param at index of the pose that the frame comes after.
 */
export function smoothInBetween(poses: readonly PoseRow[], at: number, frame: number): number[] {
  const length = poses[at + 1].frame - poses[at].frame;
  const fraction = (frame - poses[at].frame) / length;
  const from = poses[at].coordinates;
  if (fraction === 0) return from.slice();
  const way = wayBetween(from, poses[at + 1].coordinates);
  const spanBefore = at > 0 ? spanOf(poses[at - 1], poses[at]) : null;
  const spanAfter = at + 2 < poses.length ? spanOf(poses[at + 1], poses[at + 2]) : null;
  const { similarity: s } = way;
  /** The value that a quantity has reached, which goes from 0 to `whole` here. */
  const run = (whole: number, of: (way: Way) => number) =>
    hermite(
      fraction,
      length,
      0,
      whole,
      monotoneSlope(spanBefore && of(spanBefore.way) / spanBefore.length, whole / length),
      monotoneSlope(whole / length, spanAfter && of(spanAfter.way) / spanAfter.length),
    );
  return applied(
    from,
    way,
    [
      s.fromX + run(s.toX - s.fromX, ({ similarity }) => similarity.toX - similarity.fromX),
      s.fromY + run(s.toY - s.fromY, ({ similarity }) => similarity.toY - similarity.fromY),
    ],
    run(s.turn, ({ similarity }) => similarity.turn),
    Math.exp(run(Math.log(s.scale), ({ similarity }) => Math.log(similarity.scale))),
    way.rest.map((value, i) => run(value, ({ rest }) => rest[i])),
  );
}

/** How one pose comes to be the next: a similarity, and what it leaves over, seen from the first. */
interface Way {
  similarity: Similarity;
  rest: number[];
}

function spanOf(from: PoseRow, to: PoseRow): { way: Way; length: number } {
  return { way: wayBetween(from.coordinates, to.coordinates), length: to.frame - from.frame };
}

function wayBetween(from: readonly number[], to: readonly number[]): Way {
  const similarity = bestSimilarity(from, to, N);
  const { turn, scale, fromX, fromY, toX, toY } = similarity;
  const cos = Math.cos(turn) / scale;
  const sin = Math.sin(turn) / scale;
  const rest = new Array<number>(from.length);
  for (let i = 0; i < from.length; i += 2) {
    const isPoint = i % N === 0;
    const qx = to[i] - (isPoint ? toX : 0);
    const qy = to[i + 1] - (isPoint ? toY : 0);
    rest[i] = cos * qx + sin * qy - from[i] + (isPoint ? fromX : 0);
    rest[i + 1] = -sin * qx + cos * qy - from[i + 1] + (isPoint ? fromY : 0);
  }
  return { similarity, rest };
}

function applied(
  from: readonly number[],
  { similarity: { fromX, fromY } }: Way,
  [centreX, centreY]: [number, number],
  turn: number,
  scale: number,
  rest: readonly number[],
): number[] {
  const cos = Math.cos(turn) * scale;
  const sin = Math.sin(turn) * scale;
  const pose = new Array<number>(from.length);
  for (let i = 0; i < from.length; i += 2) {
    const isPoint = i % N === 0;
    const x = from[i] + rest[i] - (isPoint ? fromX : 0);
    const y = from[i + 1] + rest[i + 1] - (isPoint ? fromY : 0);
    pose[i] = cos * x - sin * y + (isPoint ? centreX : 0);
    pose[i + 1] = sin * x + cos * y + (isPoint ? centreY : 0);
  }
  return pose;
}
