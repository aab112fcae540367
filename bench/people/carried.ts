import type { Frames } from '../../src/core/carry/frames';
import { identity } from '../../src/core/geometry/affine';
import type { Shot } from '../../src/core/model/shot';
import { flattenOutline } from '../../src/core/outline';
import { carrySubject } from '../../src/core/subject/carry-subject';
import { findPeople } from '../../src/core/subject/find-people';
import type { PeopleNetwork } from '../../src/core/subject/people';
import { filledBy } from '../../src/core/subject/prior';
import { subjectFrameOn } from '../../src/core/subject/subject-frame';
import { subjectLoops, type SubjectLoop } from '../../src/core/subject/subject-outline';
import type { Stroke } from '../../src/core/subject/strokes';
import { height, width } from '../passes/scene';

export type BenchShot = Pick<Shot, 'width' | 'height' | 'motion'>;

/** What an outline encloses, of a picture of the bench's size: 1 inside. */
export function filled(loops: readonly SubjectLoop[]): Uint8Array {
  const lines = loops.map(({ coordinates, hole }) => ({
    line: Array.from(flattenOutline(coordinates, true, 1, 0.05)),
    hole,
  }));
  return filledBy(lines, width, height);
}

/** Somebody's first outlines from one press, and what it took. */
export interface First {
  mask: Uint8Array;
  loops: SubjectLoop[];
  /** How many others were found. */
  others: number;
  milliseconds: number;
}

/** The people found on a frame, and of them whoever a press takes: who suits `score` best. Null where nobody was found. */
export async function firstByPress(
  frames: Frames,
  shot: BenchShot,
  frame: number,
  network: PeopleNetwork,
  score: (mask: Uint8Array) => number,
): Promise<First | null> {
  const began = performance.now();
  const subject = await subjectFrameOn(frames, shot, frame, identity);
  const found = await findPeople(await frames.picture(frame), subject, network, identity);
  const milliseconds = performance.now() - began;
  const all = found!.map(({ region }) => {
    const loops = subjectLoops(region, identity, width);
    return { loops, mask: filled(loops) };
  });
  const [best] = all.sort((a, b) => score(b.mask) - score(a.mask));
  return best ? { ...best, others: all.length - 1, milliseconds } : null;
}

/** A frame that somebody was carried to. */
export interface CarriedFrame {
  frame: number;
  mask: Uint8Array;
  flagged: boolean;
  points: number;
  milliseconds: number;
}

/**
 * Somebody carried from their first outlines to the end. Every so many frames the largest part that is wrong is painted over, and it
 * goes on from there; the frame counts as it was before that.
 *
 * @param every null: nothing is put right.
 */
export async function carriedOn(
  frames: Frames,
  shot: BenchShot,
  { start, loops }: { start: number; loops: readonly SubjectLoop[] },
  network: PeopleNetwork | null,
  {
    every,
    strokeFor,
  }: { every: number | null; strokeFor(frame: number, mask: Uint8Array): Stroke | null } = {
    every: null,
    strokeFor: () => null,
  },
): Promise<CarriedFrame[]> {
  const out: CarriedFrame[] = [];
  const painted = new Map<number, Stroke[]>();
  let [from, now] = [start, loops];
  for (;;) {
    const [main, ...rest] = now;
    const parts = rest.map(({ coordinates, hole }, k) => ({ id: String(k), coordinates, hole }));
    let last = performance.now();
    const job = {
      kind: 'loop' as const,
      from: { frame: from, coordinates: main.coordinates, parts },
      to: null,
      direction: 1 as const,
      most: every ?? Infinity,
      stops: false,
      origin: -1,
      strokesOn: (at: number) => painted.get(at) ?? [],
      people: network,
    };
    const times: number[] = [];
    const { poses, end } = await carrySubject(frames, shot, job, identity, () => {
      times.push(performance.now() - last);
      last = performance.now();
      return true;
    });
    for (const [k, { frame, coordinates, parts, unsure }] of poses.entries()) {
      now = [{ coordinates, hole: false }, ...parts].map((loop) => ({
        ...{ coordinates: [...loop.coordinates], hole: loop.hole },
      }));
      const points = now.reduce((sum, { coordinates }) => sum + coordinates.length / 6, 0);
      const flagged = unsure !== null;
      out.push({ frame, mask: filled(now), flagged, points, milliseconds: times[k] });
    }
    if (end !== 'done' || out.length === 0) return out;
    const { frame, mask } = out[out.length - 1];
    const stroke = strokeFor(frame, mask);
    if (stroke) painted.set(frame, [stroke]);
    from = frame;
  }
}
