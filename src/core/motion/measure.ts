import { type ShotMotion, numbersPerFrame, lookEvery, numbersPerLook } from '../model/shot';
import { atRest, sceneAtRest } from './at-rest';
import { cornersOf } from './corners';
import { CutFinder } from './cuts';
import { crosserOf, type FrameFeatures } from './crosser';
import { followPoints } from './follow';
import { motionGroups, movedBy, type MotionGroup } from './groups';
import { type Luma, type PyramidLevel, pyramidOf, resizedLuma } from './luma';
import { wideMatches } from './wide-matches';

/** Width in px at which movement is measured. */
export const measuringWidth = 400;
const levels = 4;
/** Px, at the measuring width, within which a point moves along with a group. */
const tolerance = 0.5;
/** Support of the foremost movement below which the points count as lost. */
const lost = 0.12;
/** Px by which a group moves that may be the scene nearly at rest. */
const hardly = 1;
/** Px by which a point must move otherwise than the scene to belong to something that crosses it. */
const otherwise = 0.6;

/**
 * Measures how a shot moves, frame by frame: `add` every frame in order, then `result`.
 *
 * Points all over the picture are followed and gathered into groups that move as one. Which group is the scene, and
 * which crosses it, is decided over the whole shot: the scene's movement changes least from frame to frame, so an
 * object that fills the picture for a while does not pass for it. Frames without any of the scene are bridged.
 */
export class MotionMeasure {
  private readonly found: { groups: MotionGroup[]; from: Float32Array; to: Float32Array }[] = [];
  private before: PyramidLevel[] | null = null;
  private readonly cuts = new CutFinder();
  private readonly width: number;
  private readonly height: number;

  /** @param shotWidth, shotHeight of the shot in its own px, which the result is given in. */
  constructor(
    private readonly shotWidth: number,
    shotHeight: number,
  ) {
    this.width = Math.min(measuringWidth, shotWidth);
    this.height = Math.max(16, Math.round((shotHeight * this.width) / shotWidth));
  }

  /** @param values luma of the next frame, upright, at any size: it stands for the whole frame. */
  add(values: ArrayLike<number>, width: number, height: number) {
    const luma = resizedLuma(values, width, height, this.width, this.height);
    const pyramid = pyramidOf(luma, levels);
    if (!this.before) this.found.push({ groups: [], from: new Float32Array(0), to: new Float32Array(0) });
    else {
      let from = cornersOf(this.before[0]);
      let to = followPoints(this.before, pyramid, from);
      let groups = motionGroups(from, to, this.width, this.height, tolerance);
      if ((groups[0]?.support ?? 0) < lost) {
        // Gone further than points can be followed, as in a whip pan: found again by their look.
        const wide = wideMatches(this.before[0], pyramid[0]);
        const again = motionGroups(wide.from, wide.to, this.width, this.height, 3 * tolerance);
        if ((again[0]?.support ?? 0) > (groups[0]?.support ?? 0)) {
          ({ from, to } = wide);
          groups = again;
        }
      }
      const still = this.plainScene(this.before[0], pyramid[0], groups);
      if (still) groups = [still, ...groups.map((group) => before(still, group))];
      this.found.push({ groups, from, to });
    }
    this.before = pyramid;
    const support = this.found[this.found.length - 1].groups[0]?.support ?? 0;
    this.cuts.add(luma.values, luma.width, luma.height, support);
  }

  /** The scene at rest, where the points that are followed are those of something before a plain one. */
  private plainScene(from: Luma, to: Luma, groups: readonly MotionGroup[]): MotionGroup | null {
    const { width, height } = this;
    // What hardly moves is known more exactly than that.
    if (groups.some(({ dx, dy, support }) => Math.hypot(dx, dy) < hardly && support >= lost)) return null;
    const [first] = groups;
    const moved = first ? (x: number, y: number) => movedBy(first, x, y, width, height) : null;
    return sceneAtRest(from.values, to.values, width, height, moved);
  }

  result(): ShotMotion {
    const scene = sceneMovement(this.found.map(({ groups }) => groups));
    const scale = this.shotWidth / this.width;
    const frames: number[] = [];
    const features: FrameFeatures[] = [];
    scene.forEach((movement, k) => {
      const { from, to } = this.found[k];
      const seen = this.featuresOf(movement, from, to);
      features.push(seen);
      const all = seen.still.length + seen.moving.length;
      const share = all === 0 ? 0 : seen.moving.length / all;
      const trust = k === 0 ? 1 : movement.support;
      frames.push(movement.dx * scale, movement.dy * scale, movement.scale, movement.turn, trust, share);
    });
    return { frames, crosser: crosserOf(features, this.shotWidth), cuts: this.cuts.result() };
  }

  /** Points that move with the scene and such that move otherwise, as shares of the frame. */
  private featuresOf(movement: MotionGroup, from: Float32Array, to: Float32Array): FrameFeatures {
    const seen: FrameFeatures = { still: [], moving: [] };
    const { width, height } = this;
    for (let i = 0; i < from.length; i += 2) {
      if (Number.isNaN(to[i])) continue;
      const [x, y] = movedBy(movement, from[i], from[i + 1], width, height);
      const point = {
        x: to[i] / width,
        y: to[i + 1] / height,
        dx: (to[i] - x) / width,
        own: (to[i] - from[i]) / width,
      };
      const distance = Math.hypot(to[i] - x, to[i + 1] - y);
      (distance < otherwise ? seen.still : seen.moving).push(point);
    }
    return seen;
  }
}

/** What moves before a scene that stands still: no more of the picture than that leaves. */
function before({ support: still }: MotionGroup, group: MotionGroup): MotionGroup {
  const left = 1 - still;
  return { ...group, support: left * group.support, extent: left * group.extent };
}

/** How much a group that moves with the scene is worth, and how dear a change of movement is, px squared. */
const worth = 0.5;
const fullSupport = 0.3;
const change = 4.5;
/** How much less a group counts that is not spread over the picture's width: a thing that stands before the scene. */
const narrow = 0.8;
/** A second movement of this support makes a frame contested, unless it stands beside or before one all around. */
const contested = 0.1;
const [around, beside] = [0.85, 0.6];
/** Longest stretch without the scene that is bridged at its price. */
const longestGap = 80;

/**
 * The scene's movement through a shot: of all ways through the frames' groups, frames left out allowed, the one that
 * has most of the picture and changes least (Viterbi 1967). How dear a change is follows the shot's own unrest, as
 * the frames show it that have one movement only. Frames left out are bridged with `support` 0.
 */
export function sceneMovement(groups: readonly (readonly MotionGroup[])[]): MotionGroup[] {
  interface Node {
    frame: number;
    group: MotionGroup;
    value: number;
    before: Node | null;
  }
  const price = Math.max(change, 10 * unrest(groups));
  const nodes: Node[][] = groups.map(() => []);
  let best: Node | null = null;
  groups.forEach((list, frame) => {
    for (const group of list) {
      const own = worth * Math.min(1, group.support / fullSupport) * (1 - narrow * (1 - group.extent));
      const node: Node = { frame, group, value: own, before: null };
      for (let back = frame - 1; back >= 0 && back >= frame - longestGap; back--) {
        for (const earlier of nodes[back]) {
          const distance = (group.dx - earlier.group.dx) ** 2 + (group.dy - earlier.group.dy) ** 2;
          const value = earlier.value + own - distance / price;
          if (value > node.value) {
            node.value = value;
            node.before = earlier;
          }
        }
      }
      nodes[frame].push(node);
      if (!best || node.value > best.value) best = node;
    }
  });
  const chosen: (MotionGroup | null)[] = groups.map(() => null);
  for (let node: Node | null = best; node; node = (node as Node).before)
    chosen[(node as Node).frame] = (node as Node).group;
  return bridged(chosen);
}

/** The change of movement between neighbouring frames, px squared, that nine in ten of the uncontested stay under. */
function unrest(groups: readonly (readonly MotionGroup[])[]): number {
  const changes: number[] = [];
  const alone = ([first, second]: readonly MotionGroup[]) =>
    first && (!second || second.support < contested || (first.extent > around && second.extent < beside));
  for (let k = 1; k < groups.length; k++) {
    if (!alone(groups[k]) || !alone(groups[k - 1])) continue;
    changes.push((groups[k][0].dx - groups[k - 1][0].dx) ** 2 + (groups[k][0].dy - groups[k - 1][0].dy) ** 2);
  }
  changes.sort((a, b) => a - b);
  return changes[Math.floor(changes.length * 0.9)] ?? 0;
}

function bridged(chosen: readonly (MotionGroup | null)[]): MotionGroup[] {
  return chosen.map((group, frame) => {
    if (group) return group;
    if (frame === 0) return atRest;
    let [a, b] = [frame - 1, frame + 1];
    while (a > 0 && !chosen[a]) a--;
    while (b < chosen.length && !chosen[b]) b++;
    const [before, after] = [chosen[a] ?? null, chosen[b] ?? null];
    if (!before || !after) return { ...(before ?? after ?? atRest), support: 0 };
    const t = (frame - a) / (b - a);
    const mix = (key: 'dx' | 'dy' | 'scale' | 'turn') => before[key] + (after[key] - before[key]) * t;
    return { dx: mix('dx'), dy: mix('dy'), scale: mix('scale'), turn: mix('turn'), support: 0, extent: 0 };
  });
}

/** Whether the numbers of a motion fit a shot of so many frames. */
export function fitsShot(motion: ShotMotion, frameCount: number): boolean {
  const { frames, looks, cuts = [] } = motion;
  if (cuts.some((cut, k) => cut < 1 || cut >= frameCount || (k > 0 && cut <= cuts[k - 1]))) return false;
  if (looks && looks.length !== Math.ceil(frameCount / lookEvery) * numbersPerLook) return false;
  return frames.length === frameCount * numbersPerFrame;
}
