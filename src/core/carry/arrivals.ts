import type { Witness } from './course';
import { movingMean } from '../numbers/moving-mean';

/** px by which a direction may miss where the other begins and still have come right, and from which it is lost for sure. */
const [right, lost] = [3, 6];

/**
 * Both directions between two known frames, with what their arrivals say: where one comes out at the other's beginning
 * and the other misses, the other's errors grow to what it is off from the one that arrived. (Its line may be right all
 * the same, as of a limb that comes back; it is not to be called sure.)
 *
 * @param forward from the first frame to the last; `back` the same frames, followed from the last to the first.
 */
export function heldToArrivals(forward: Witness, back: Witness): [forward: Witness, back: Witness] {
  const last = forward.offsets.length - 1;
  const apart = forward.offsets.map((offsets, t) =>
    movingMean(
      offsets.map((value, i) => Math.abs(value - back.offsets[t][i])),
      2,
    ),
  );
  const missed = (by: number) => Math.min(1, Math.max(0, (by - right) / (lost - right)));
  const held = ({ offsets, errors }: Witness, arrival: Float64Array, others: Float64Array): Witness => {
    const doubt = arrival.map((by, i) => missed(by) * (1 - missed(others[i] + right / 2)));
    return {
      offsets,
      errors: errors.map((frame, t) => frame.map((error, i) => Math.hypot(error, doubt[i] * apart[t][i]))),
    };
  };
  // Forward arrives at the last frame, where the other has just begun; back at the first.
  return [held(forward, apart[last], apart[0]), held(back, apart[0], apart[last])];
}
