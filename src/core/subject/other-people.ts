import type { FramePicture } from '../picture/frame-picture';
import { areaOf, grown } from './morphology';
import { largestPatches, patchesOf } from './patches';
import { depthsOf } from './prior';
import { regionShift, shiftedBy } from './region-shift';
import type { Region, SubjectFrame } from './subject-frame';

/** Share of the subject that somebody else must have to be kept apart from it, and the most who are. */
const [leastOther, mostOthers] = [0.08, 4];
/** Frames for which they are taken to go on as they went where the subject hides them. */
const patience = 12;
/** Samples about the subject's region that are its own border, not somebody else's. */
const ownBorder = 2;

/** Where a subject is expected on a grid. */
interface Expected {
  /** 1 inside. */
  expected: Uint8Array;
  depths: Float32Array;
  width: number;
  height: number;
}

interface Other {
  inside: Uint8Array;
  /** px of the picture by which they went last. */
  gone: [number, number];
  /** Frames for which the subject has hidden them. */
  hidden: number;
  /** Whether they may touch the subject. */
  touching: boolean;
}

/**
 * Whoever is seen beside a subject and is not a part of it. They are taken along from frame to frame, so that the subject does not
 * become theirs where the two meet.
 */
export class OtherPeople {
  private others: Other[] = [];
  /** Their colours, luma, Cb, Cr by turns. */
  colours: readonly number[] = [];
  /** How far inside the others each sample is expected on the frame that is looked at; negative outside. */
  private depths: Float32Array | null = null;

  /** Whether one of them may touch the subject. */
  get met(): boolean {
    return this.others.some(({ touching }) => touching);
  }

  /** Takes them on to the next picture. */
  moveOn(from: FramePicture, to: FramePicture, { width, height }: Region) {
    this.depths = null;
    const all = new Uint8Array(width * height);
    for (const other of this.others) {
      const depths = depthsOf(other.inside, width, height);
      if (other.hidden === 0) other.gone = regionShift(from, to, depths, { width, height }, other.gone);
      other.inside = shiftedBy({ inside: other.inside, width, height }, other.gone, to.width);
      for (let at = 0; at < all.length; at++) all[at] |= other.inside[at];
    }
    if (this.others.length > 0) this.depths = depthsOf(all, width, height);
  }

  /**
   * What is the subject's alone: the network says nothing where both are expected, and nobody where the others are nearer; a person who
   * stands apart from the subject and is mostly one of the others is wholly theirs.
   *
   * @param people how much of each sample is a person, 0 to 1; NaN: unknown.
   */
  without(
    people: Float32Array,
    { expected, depths, width, height }: Expected,
  ): { people: Float32Array; expected: Uint8Array; depths: Float32Array } {
    const others = this.depths;
    if (!others) return { people, expected, depths };
    const own = people.map((share, at) =>
      others[at] > 0 && depths[at] > 0 ? NaN : others[at] > depths[at] ? 0 : share,
    );
    const seen = Uint8Array.from(people, (share) => (share >= 0.5 ? 1 : 0));
    const patches = patchesOf(seen, width, height);
    const counts = patches.value.map(() => ({ ours: 0, theirs: 0 }));
    for (let at = 0; at < seen.length; at++) {
      const count = counts[patches.of[at]];
      if (depths[at] > 0) count.ours++;
      if (others[at] > 0) count.theirs++;
    }
    const whole = areaOf(expected);
    const isTheirs = counts.map(
      ({ ours, theirs }, k) => patches.value[k] === 1 && theirs > ours && 2 * ours < whole,
    );
    if (!counts.some(({ ours }, k) => isTheirs[k] && ours > 0)) return { people: own, expected, depths };
    const left = expected.map((value, at) => (isTheirs[patches.of[at]] ? 0 : value));
    return {
      people: own.map((share, at) => (isTheirs[patches.of[at]] ? 0 : share)),
      expected: left,
      depths: depthsOf(left, width, height),
    };
  }

  /** Where the subject or one of them is expected: 1 there. */
  with(expected: Uint8Array): Uint8Array {
    const others = this.depths;
    return others ? expected.map((value, at) => (value || others[at] > 0 ? 1 : 0)) : expected;
  }

  /** The share of what is expected of the subject that lies where somebody else is. */
  over(expected: Uint8Array): number {
    const others = this.depths;
    if (!others) return 0;
    let [both, all] = [0, 0];
    for (let at = 0; at < expected.length; at++) {
      if (!expected[at]) continue;
      all++;
      if (others[at] > 0) both++;
    }
    return both / (all || 1);
  }

  /**
   * Takes in who is seen beside the subject now: those that were known where they were expected, and others that do not touch it.
   *
   * @param people how much of each sample is a person, 0 to 1; NaN: unknown.
   */
  see(people: Float32Array, { inside, width, height }: Region, subject: SubjectFrame) {
    const own = grown(inside, ownBorder, width, height);
    const seen = Uint8Array.from(people, (share) => (share >= 0.5 ? 1 : 0));
    const least = leastOther * areaOf(inside);
    const found: Other[] = [];
    // Those who were known may touch it by now.
    for (const other of this.others) {
      const now = Uint8Array.from(seen, (value, at) => (value && other.inside[at] && !own[at] ? 1 : 0));
      const about = grown(now, ownBorder, width, height);
      const more = now.map((value, at) => value | (seen[at] && about[at] && !own[at] ? 1 : 0));
      if (areaOf(more) >= least) found.push({ inside: more, gone: other.gone, hidden: 0, touching: true });
      else if (other.hidden < patience) found.push({ ...other, hidden: other.hidden + 1, touching: true });
    }
    const patches = largestPatches(seen, width, height, least);
    for (const patch of patches) {
      if (found.length >= mostOthers) break;
      const touches = (mask: Uint8Array) => patch.some((value, at) => value && mask[at]);
      if (touches(own)) continue;
      const known = found.findIndex(({ inside: theirs }) => touches(theirs));
      if (known < 0) found.push({ inside: patch, gone: [0, 0], hidden: 0, touching: false });
      // Alone, they are seen as they are.
      else found[known] = { ...found[known], inside: patch, hidden: 0, touching: false };
    }
    this.others = found;
    // Only when they stand alone are their colours theirs.
    if (found.length > 0 && !this.met) {
      const all = inside.map((_, at) => (found.some((other) => other.inside[at]) ? 1 : 0));
      this.colours = subject.coloursOf(all);
    } else if (found.length === 0) this.colours = [];
  }
}
