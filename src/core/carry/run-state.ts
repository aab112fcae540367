import type { ChainBelief } from '../edge/chain';
import type { EdgeSoftness } from '../edge/softness-profile';
import type { Affine } from '../geometry/affine';
import type { Passage } from '../edge/straight';
import type { ObjectMemory } from '../edge/layer-costs';
import type { SideColours } from '../edge/side-colours';
import type { Frames } from './frames';
import type { FollowSettings } from './follow-settings';

/** What one frame said of a run. */
export interface RunSight {
  belief: ChainBelief;
  /** px across from where it was expected to where each place was looked for; missing where none leapt. */
  leaps?: Float64Array;
  /** How well either side was explained: standard deviations, code values. */
  behindError: Float32Array;
  objectError: Float32Array;
  /** Mean cost of the picture right beside the edge. */
  misfit: Float32Array;
  /** px to either side that were looked at. */
  reach: number;
  /** 1 where the place is in the picture. */
  seen: Uint8Array;
  /** How soft the edge is taken to be, and px a frame across it that go with it. */
  softness: EdgeSoftness;
  speed: number;
}

/** Share of the search range from which on an edge counts as found at its end: it may lie anywhere beyond. */
const atTheEnd = 0.9;

/** Whether a place's edge was found at the end of the search range. */
export function isAtTheEnd({ belief, reach }: Pick<RunSight, 'belief' | 'reach'>, i: number): boolean {
  return Math.abs(belief.mean[i]) > atTheEnd * reach;
}

/** What is known of a run on a frame on which it has been found. */
export interface RunState {
  readonly objectMap: Affine;
  /** The movement of what the object shows, where it does not go along with the edge. */
  readonly texture: Affine | null;
  /** How what lies behind moves over so many frames; null: it is not known. */
  readonly behindWay: (Passage & { frame: number; frames: number }) | null;
  readonly softness: EdgeSoftness;
  readonly memory: ObjectMemory | null;
  readonly shade: Float32Array | null;
  readonly inner: SideColours | null;
  readonly outer: SideColours | null;
  /** px between samples. */
  readonly grain: number;
  /** px a frame of time across the line, against what lies behind. */
  readonly speed: Float64Array;
  /** px from frame to frame across the line, of all of it together; null where that is not known. */
  readonly went: number | null;
  /** px a frame across the line beside the object's movement. */
  readonly own: Float64Array;
  /** 1 where the line runs through the object. */
  readonly attached: Uint8Array;
}

/** Where and how runs are followed. */
export interface RunContext {
  frames: Frames;
  direction: 1 | -1;
  settings: FollowSettings;
}
