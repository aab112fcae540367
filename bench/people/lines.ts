import { confidenceOf, unsureFrom } from '../../src/core/carry/confidence';
import { type FollowSettings, usualSettings } from '../../src/core/carry/follow-settings';
import type { Frames } from '../../src/core/carry/frames';
import { LineFollower } from '../../src/core/carry/line-follower';
import { SeamModel } from '../../src/core/carry/line-model';
import { quantile } from '../../src/core/numbers/quantile';
import { distancesTo } from '../carry';
import type { PassTruth } from '../clip-frames';
import { cutHeight, cutWidth, enlarged, height, walks, width } from './walkers';

/** px of a walker's 95th percentile from which a frame counts as touched: three of the film's own, of which the truth is true to one. */
const tooFar = 3 * enlarged;
/** px within which a frame is right for certain: the film's own, which the truth cannot tell more finely. */
const surelyNear = enlarged;
/** Of a walker's height, from the top, that is followed: hair and feet end in rows of their own. */
const [fromHeight, toHeight] = [0.15, 0.92];
/** Share of those rows that a frame must have for its border to be known. */
const leastRows = 0.95;

const spacing = 4;

/** With leaps, and without: nothing is explained so badly; and from the last frame backward. */
const ways: readonly (readonly [name: string, settings: FollowSettings, direction: 1 | -1])[] = [
  ['with leaps', usualSettings, 1],
  ['without', { ...usualSettings, leaping: { ...usualSettings.leaping, leastMisfit: Infinity } }, 1],
  ['backward', usualSettings, -1],
];

/**
 * `npm run bench -- people lines`: the border that real walkers trail behind them, limbs and all, followed as a seam by its edge; from
 * the truth, and again from it after each frame that is touched.
 */
export async function benchWalkersLines(): Promise<void> {
  const all = new Map(
    ways.map(([name]) => [
      name,
      { touched: 0, frames: 0, flagged: 0, right: 0, falsely: 0, errors: [] as number[] },
    ]),
  );
  for (const films of ['fitted', 'unseen'] as const)
    for await (const walk of walks(films)) {
      const pass = trailingBorder(walk.truths);
      if (!pass) continue;
      const said: string[] = [];
      for (const [name, settings, direction] of ways) {
        const { errors, doubts } = await followed(walk, pass, settings, direction);
        const sum = all.get(name)!;
        const bad = errors.map((error) => error > tooFar);
        sum.frames += errors.length;
        sum.touched += bad.filter(Boolean).length;
        sum.flagged += bad.filter((is, k) => is && doubts[k] >= unsureFrom).length;
        // A frame is unsure from 3 px of the picture on, a quarter of what counts as touched here: what lies between is not flagged falsely.
        const right = errors.map((error) => error <= surelyNear);
        sum.right += right.filter(Boolean).length;
        sum.falsely += right.filter((is, k) => is && doubts[k] >= unsureFrom).length;
        sum.errors.push(...errors);
        said.push(`${name} ${bad.filter(Boolean).length} of ${errors.length}`);
      }
      console.log(`${walk.name}: ${said.join(', ')}`);
    }
  for (const [name, { touched, frames, flagged, right, falsely, errors }] of all)
    console.log(
      `walkers' lines ${name}: touched ${((100 * touched) / frames).toFixed(1)} % of ${frames} frames, ` +
        `median of the frames' p95 ${(quantile(errors, 0.5) / enlarged).toFixed(2)} px of the film, ` +
        `${flagged} of ${touched} flagged, and ${falsely} of the ${right} within a px of the film`,
    );
}

async function followed(frames: Frames, pass: PassTruth, settings: FollowSettings, direction: 1 | -1) {
  const follower = new LineFollower(frames, direction, settings);
  const known = pass.truth.flatMap((line, t) => (line.length > 0 ? [t] : []));
  const pointsAt = (t: number) => (pass.side === 'right' ? pass.truth[t].slice().reverse() : pass.truth[t]);
  const [from, to] = direction > 0 ? [known[0], known.at(-1)!] : [known.at(-1)!, known[0]];
  const first = SeamModel.along(pointsAt(from), spacing);
  await follower.begin(from, first);
  const [errors, doubts]: number[][] = [[], []];
  for (let t = from; t !== to;) {
    t += direction;
    const step = await follower.step();
    if (!step) break;
    if (pass.truth[t].length === 0) continue;
    const { error } = distancesTo(pass, t, step.model);
    errors.push(error);
    doubts.push(confidenceOf(step.sights).doubt);
    if (error > tooFar) await follower.begin(t, first.through(pointsAt(t)));
  }
  return { errors, doubts };
}

/** The border that a walker trails behind them on the rows that they have at first; no line where it is not known. */
function trailingBorder(truths: readonly (Uint8Array | null)[]): PassTruth | null {
  const known = truths.filter((mask) => mask !== null);
  if (known.length < 2) return null;
  const middle = (mask: Uint8Array) => {
    let [sum, count] = [0, 0];
    mask.forEach((is, at) => {
      sum += is * (at % cutWidth);
      count += is;
    });
    return sum / count;
  };
  const side = middle(known[known.length - 1]) > middle(known[0]) ? 'left' : 'right';
  const rowsOf = (mask: Uint8Array) =>
    Array.from({ length: cutHeight }, (_, j) => j).filter((j) =>
      mask.subarray(j * cutWidth, (j + 1) * cutWidth).includes(1),
    );
  const all = rowsOf(known[0]);
  const [top, tall] = [all[0], all[all.length - 1] - all[0]];
  const rows = all.filter((j) => j >= top + fromHeight * tall && j <= top + toHeight * tall);
  const truth = truths.map((mask) => {
    if (!mask) return [];
    const line = rows.flatMap((j): [number, number][] => {
      const row = mask.subarray(j * cutWidth, (j + 1) * cutWidth);
      const i = side === 'left' ? row.indexOf(1) : row.lastIndexOf(1) + 1;
      return row.includes(1) ? [[i * enlarged, (j + 0.5) * enlarged]] : [];
    });
    const whole = line.length >= leastRows * rows.length && line.every(([x]) => x > 40 && x < width - 40);
    return whole ? line : [];
  });
  if (truth.filter((line) => line.length > 0).length < 2) return null;
  return { width, height, fps: 25, kind: 'seam', side, truth };
}
