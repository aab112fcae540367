import type { EdgeSettings, OutlineRow } from '../document/tables';
import type { EdgeReading } from '../edge/profile';
import { edgeTolerance, matteWidth } from '../edge/profile';
import { type Finding, type Fix, framesPhrase, type Hit, stretches } from './findings';
import { median } from '../numbers/quantile';

/** A frame on which a long line has no edge of the picture near it. */
export type Unread = Pick<FrameReading, 'frame' | 'place'>;

/** Share of the line that has to agree on an edge over the crossing, for the picture to be asked about it at all. */
const readable = 0.5;

/**
 * Whether the picture shows an edge along a line clearly enough to judge where it lies: not where the object is
 * broken up, or the line far off throughout.
 */
export function canJudge(readings: readonly FrameReading[], unread: readonly Unread[] = []): boolean {
  const supports = [...readings.map(({ reading }) => reading.support), ...unread.map(() => 0)];
  return median(supports) >= readable;
}

/** Share of the line that agrees on an edge below which there is said to be none. */
export const leastTrace = 0.3;

/** What was read along an outline at one crossing frame. */
export interface FrameReading {
  frame: number;
  /** Whether there is a pose on it. */
  posed: boolean;
  edge: EdgeSettings;
  /** px a frame at which the line moves along its normals. */
  speed: number;
  reading: EdgeReading;
  /** Middle of the line in the frame, px of the shot. */
  place: readonly [number, number];
}

/** Least share of the line that must agree on where the edge is, for the picture to be believed. */
const leastSupport = 0.5;

/** In-betweens are seen for a moment only: they may lie farther off than what a hand has placed. */
const driftAllowance = 1.25;

/**
 * What the picture says of an outline's edge over the crossing; nothing where it cannot judge.
 *
 * @param readings in the order of their frames.
 * @param unread frames on which nothing could be read.
 * @param keeps whether the outline's layer keeps what it encloses: then what lies inside is the object.
 */
export function edgeFindings(
  outline: OutlineRow,
  readings: readonly FrameReading[],
  keeps: boolean,
  unread: readonly Unread[] = [],
): Finding[] {
  if (!canJudge(readings, unread)) return [];
  const believed = readings.filter(({ reading }) => reading.support >= leastSupport);
  const off = believed.filter(
    (each) =>
      Math.abs(each.reading.offset) > edgeTolerance(each.reading.width) * (each.posed ? 1 : driftAllowance),
  );
  const hit = (each: FrameReading, measure: number): Hit => ({
    frame: each.frame,
    measure,
    place: each.place,
  });
  const found: Finding[] = [];
  const say = (
    kind: Finding['kind'],
    hits: readonly Hit[],
    gap: number,
    fix: Fix | null,
    says: (phrase: string, measure: number) => string,
  ) => {
    for (const { from, to, frame, measure, place } of stretches(hits, gap))
      found.push({
        kind,
        outlineId: outline.id,
        from,
        to,
        worst: frame,
        says: says(framesPhrase({ from, to }), measure),
        place: place ?? null,
        fix,
      });
  };
  // The picture's edge inside the region: what lies between belongs to the object, and is cut.
  const cuts = ({ reading }: FrameReading) => reading.offset > 0 !== keeps;
  const px = (measure: number) => `${Math.abs(measure).toFixed(1)} px`;
  const on = (each: FrameReading) => hit(each, each.reading.offset);
  say(
    'object is cut',
    off.filter((each) => each.posed && cuts(each)).map(on),
    1,
    'put on edge',
    (frames, by) => `${frames}: the object is cut, by ${px(by)}.`,
  );
  say(
    'background peeks',
    off.filter((each) => each.posed && !cuts(each)).map(on),
    1,
    'put on edge',
    (frames, by) => `${frames}: background peeks out behind the object, ${px(by)} wide.`,
  );
  say(
    'drifts',
    off.filter(({ posed }) => !posed).map(on),
    1,
    'pose on edge',
    (frames, by) =>
      `${frames}: between poses the line drifts ${px(by)} off the edge; the picture moved otherwise.`,
  );
  say(
    'no edge',
    unread.map(({ frame, place }) => ({ frame, measure: 0, place })),
    1,
    null,
    (frames) => `${frames}: there is no edge along the line; it may lie far off.`,
  );
  const blur = (each: FrameReading) => blurWidth(each.speed, outline.shutter);
  const softness = (each: FrameReading) => {
    const feather = each.edge.featherInside + each.edge.featherOutside;
    return Math.hypot(matteWidth(feather), blur(each));
  };
  const ratio = (each: FrameReading) => softness(each) / each.reading.width;
  const differs = (each: FrameReading) => Math.abs(softness(each) - each.reading.width) > 4;
  const soft = believed.filter((each) => ratio(each) > 1.8 && differs(each));
  const hard = believed.filter((each) => ratio(each) < 0.5 && differs(each));
  const blurred = (each: FrameReading) => outline.shutter === 0 && isBlurred(each);
  const overBlurred = (each: FrameReading) =>
    blur(each) > 1.8 * each.reading.width && blur(each) - each.reading.width > 4;
  const wide = ({ frame, reading, place }: FrameReading) => ({ frame, measure: reading.width, place });
  say(
    'too soft',
    soft.filter((each) => !overBlurred(each)).map(wide),
    6,
    'match softness',
    (frames, width) =>
      `${frames}: the matte is much softer than the picture’s edge, which is ${px(width)} wide; the other shot ghosts through.`,
  );
  say(
    'too hard',
    hard.filter((each) => !blurred(each)).map(wide),
    6,
    'match softness',
    (frames, width) =>
      `${frames}: the matte is much harder than the picture’s edge, which is ${px(width)} wide.`,
  );
  say(
    'not blurred',
    hard.filter(blurred).map(wide),
    6,
    'blur with movement',
    (frames, width) =>
      `${frames}: the edge moves fast and is blurred ${px(width)} wide in the picture; the matte is not.`,
  );
  say(
    'blurs too much',
    soft.filter(overBlurred).map(wide),
    6,
    'blur as picture',
    (frames, width) =>
      `${frames}: the shutter blurs the matte much wider than the picture’s edge, which is ${px(width)} wide.`,
  );
  return found;
}

/** Whether the picture's edge is as wide as its movement makes it. */
export function isBlurred({ speed, reading }: FrameReading): boolean {
  const expected = blurWidth(speed, usualShutter);
  return expected > 5 && reading.width > 0.7 * expected;
}

/** Degrees that a camera's shutter is mostly open (common practice, no source). */
export const usualShutter = 180;

/** px from 10 to 90 % of an edge that moves at `speed` px a frame while the shutter is open for so many degrees. */
export function blurWidth(speed: number, shutter: number): number {
  return 0.8 * ((speed * shutter) / 360);
}
