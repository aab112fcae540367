import { grown } from './morphology';
import type { Region } from './subject-frame';

/** Samples by which what the network does not see must reach inside to be more than its border. */
const sliver = 2;

/** What belongs to a subject though the network sees no person there: a bag, a barrow. Null where it sees nobody at all. */
export function overruledBy(
  { inside: own, width, height }: Region,
  people: Float32Array | null,
): Uint8Array | null {
  if (!people) return null;
  const unseen = own.map((value, at) => (value && people[at] < 0.5 ? 1 : 0));
  return grown(grown(unseen, -sliver, width, height), sliver + 1, width, height);
}

/** What of a mask is still inside. */
export function kept(mask: Uint8Array | null, inside: Uint8Array): Uint8Array | null {
  return mask && mask.map((value, at) => value & inside[at]);
}

/** What the network says, but nothing where it was overruled. */
export function withoutOverruled(people: Float32Array, overruled: Uint8Array | null): Float32Array {
  return overruled ? people.map((share, at) => (overruled[at] ? NaN : share)) : people;
}
