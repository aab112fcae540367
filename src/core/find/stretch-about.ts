import type { Stretch } from '../actions/first-stretch';
import { takesOf } from '../motion/cuts';
import type { FoundCrossing } from './crossings';

/** Seconds of the shot that a crossing takes along before and after. */
const along = 1;

/** The stretch of a shot that a crossing found in it is made of: some of what is before and after, within its take. */
export function stretchAbout(
  { opens, closes }: Pick<FoundCrossing, 'opens' | 'closes'>,
  {
    frameCount,
    rate,
    cuts,
  }: { frameCount: number; rate: { num: number; den: number }; cuts: readonly number[] },
): Stretch {
  const more = Math.round((along * rate.num) / rate.den);
  const middle = Math.round((opens + closes) / 2);
  const takes = takesOf(frameCount, cuts);
  const [first, last] = takes.findLast(([begins]) => begins <= middle) ?? takes[0];
  return {
    first: Math.max(Math.min(first, opens), opens - more),
    last: Math.min(Math.max(last, closes), closes + more),
  };
}
