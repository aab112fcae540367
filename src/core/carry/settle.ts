import type { OutlineRow } from '../document/tables';
import type { Affine } from '../geometry/affine';
import { evenOffsets, weightsOf } from '../edge/chain';
import { edgeGoesWithRight } from './object-side';
import type { LineModel } from './line-model';
import { modelOfPose, poseOnLine } from './pose-line';
import { leastInPicture } from '../outline/share-in-picture';
import { faced } from './line-follower';
import type { Frames } from './frames';
import { usualSettings } from './follow-settings';
import { lookAfresh } from './run-follower';
import type { RunSight } from './run-state';

/** px of a pose's line off the edge within which it is found: a hand is nearer than that. */
const settleReach = 12;
/** px that the line may be off in each round. */
const likelyOff = [8, 4];
/** Share of a line's places, in the picture, that must show an edge. */
const leastShown = 0.5;

/** Finds the moving edge near a line from one frame and its neighbours; nothing is remembered. */
export async function sightAt(
  frames: Frames,
  frame: number,
  model: LineModel,
  eitherSide: boolean,
): Promise<{ model: LineModel; sights: RunSight[] }> {
  let found = model;
  let sights: RunSight[] = [];
  const direction = frame + 1 < frames.count ? 1 : -1;
  const context = { frames, direction, settings: { ...usualSettings, reach: settleReach } } as const;
  const flipped: boolean[] = [];
  for (const { line } of model.runs)
    flipped.push(eitherSide && (await edgeGoesWithRight(frames, frame, direction, line)));
  // What is learnt about the line is better the nearer it lies: twice.
  for (let round = 0; round < likelyOff.length; round++) {
    sights = [];
    const offsets: Float64Array[] = [];
    const weights: Float64Array[] = [];
    for (const [r, { line }] of found.runs.entries()) {
      const own = faced(line, flipped[r]);
      const sight = await lookAfresh(context, frame, own, { off: likelyOff[round], near: round > 0 });
      sights.push(sight);
      const sign = flipped[r] ? -1 : 1;
      offsets.push(evenOffsets(sight.belief, 0.35).map((value) => sign * value));
      weights.push(weightsOf(sight.belief));
    }
    found = found.offset(offsets, weights);
  }
  return { model: found, sights };
}

/** A pose pulled onto the moving edge; null where the picture shows none about it, or little of the line is in it. */
export async function settled(
  frames: Frames,
  frame: number,
  outline: Pick<OutlineRow, 'kind' | 'sweptSide'>,
  coordinates: readonly number[],
  toPicture: Affine,
): Promise<number[] | null> {
  const model = modelOfPose(outline, coordinates, toPicture);
  const { model: found, sights } = await sightAt(frames, frame, model, outline.kind === 'loop');
  if (seenShare(sights) < leastInPicture || shownShare(sights) < leastShown) return null;
  return poseOnLine(outline, coordinates, model, found, toPicture);
}

/** Share of a line's places that lie in the picture. */
function seenShare(sights: readonly RunSight[]): number {
  let [within, all] = [0, 0];
  for (const { seen } of sights) {
    all += seen.length;
    for (const place of seen) within += place;
  }
  return all === 0 ? 0 : within / all;
}

/** Share of a line's places, in the picture, that show an edge. */
export function shownShare(sights: readonly RunSight[]): number {
  let [shown, seen] = [0, 0];
  for (const { belief, seen: inPicture, reach } of sights)
    for (let i = 0; i < inPicture.length; i++) {
      if (!inPicture[i]) continue;
      seen++;
      if (belief.doubt[i] < 0.3 && belief.variance[i] < 1.5 * (reach / settleReach) ** 2) shown++;
    }
  return seen === 0 ? 0 : shown / seen;
}
