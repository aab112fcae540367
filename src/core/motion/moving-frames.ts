import { type ShotMotion, numbersPerFrame } from '../model/shot';

/** Share of the picture from which on something moves otherwise than the scene. */
const somethingMoves = 0.015;

/** Frames in which something moves otherwise than the scene, or in which the scene's movement could not be told. */
export function movingFrames({ frames }: ShotMotion, [first, last]: readonly [number, number]): number[] {
  return Array.from({ length: last - first + 1 }, (_, k) => first + k).filter((frame) => {
    const [trust, share] = frames.slice(frame * numbersPerFrame + 4, frame * numbersPerFrame + 6);
    return share > somethingMoves || trust === 0;
  });
}

/** Frames without movement up to which a stretch goes on, and fewest with it that make one. */
const [pause, fewest] = [12, 5];
/** Frames that are taken along before and after a stretch. */
const around = 12;

/**
 * Stretches of a long shot in which something moves, those in which most does first; a long one is taken in parts that lap over each other.
 *
 * @param longest frames of a stretch. @param most how many of them.
 */
export function movingStretches(
  motion: ShotMotion,
  [first, last]: readonly [number, number],
  longest: number,
  most: number,
): [first: number, last: number][] {
  const runs: [number, number][] = [];
  for (const frame of movingFrames(motion, [first, last])) {
    const run = runs.at(-1);
    if (run && frame - run[1] <= pause) run[1] = frame;
    else runs.push([frame, frame]);
  }
  const parts = runs
    .filter(([from, to]) => to - from + 1 >= fewest)
    .map(([from, to]): [number, number] => [Math.max(first, from - around), Math.min(last, to + around)])
    .flatMap(([from, to]) => inParts(from, to, longest));
  const moved = ([from, to]: readonly [number, number]) => {
    let sum = 0;
    for (let frame = from; frame <= to; frame++) sum += motion.frames[frame * numbersPerFrame + 5];
    return sum;
  };
  return parts
    .map((part) => ({ part, sum: moved(part) }))
    .sort((a, b) => b.sum - a.sum)
    .slice(0, most)
    .map(({ part }) => part);
}

/** A stretch in parts that are at most so long, and lap over each other by a third. */
function inParts(from: number, to: number, longest: number): [number, number][] {
  const rest = to - from + 1 - longest;
  if (rest <= 0) return [[from, to]];
  const steps = Math.ceil(rest / ((2 * longest) / 3));
  return Array.from({ length: steps + 1 }, (_, k) => {
    const start = from + Math.round((k * rest) / steps);
    return [start, start + longest - 1];
  });
}
