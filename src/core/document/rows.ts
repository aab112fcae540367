import type { Rate } from '../time/rate';
import type { VideoColour } from '../colour/matrix';
import type { Blend } from '../colour/transfer';
import { plainTime, type TimeMap } from '../time/time-map';

/** A video file brought into Kiv, as far as tracing and composing need to know it. */
export interface Shot {
  id: string;
  name: string;
  /** Size in square pixels as shown, after rotation. */
  width: number;
  height: number;
  /** Clockwise turn that the file asks for, in degrees. */
  rotation: 0 | 90 | 180 | 270;
  rate: Rate;
  frameCount: number;
  /** Where frames come unevenly: when each comes on, whole µs since the first, ascending; else null or left out. */
  frameTimes?: readonly number[] | null;
  colour: VideoColour;
  /** The shot's own movement, once measured; null before. */
  motion: ShotMotion | null;
}

/** How a whole picture moves from frame to frame, as measured: see core/motion. */
export interface ShotMotion {
  /**
   * Six numbers a frame: the shift (dx, dy in shot px) of the picture's centre since the frame before, the scale
   * (1 = none), the turn (radians, clockwise as y points down), the trust in them (0: bridged, 1: sure) and the share
   * of the picture that moves otherwise. The first frame has no frame before it: no movement.
   */
  frames: readonly number[];
  /** What crosses the picture, or null when nothing does. */
  crosser: Crosser | null;
}

/** Something that moves through the picture, as far as measured. */
export interface Crosser {
  /** `across`: it passes from one border on; `opens`: something in the picture moves, and comes to rest. */
  kind: 'across' | 'opens';
  /** First frame at which something shows behind it, and last frame before it has left or come to rest. */
  opens: number;
  closes: number;
  /** Travels rightwards (1) or leftwards (−1); 0 where it opens. */
  direction: -1 | 0 | 1;
  /** Mean speed of its trailing edge against the frame, px a frame. */
  speed: number;
  /** Share of the frame's height that it reaches, from its top and its bottom: 0 is the top, 1 the bottom. */
  top: number;
  bottom: number;
  /** How far its trailing edge gets across the frame, 0 to 1. */
  reach: number;
}

/** The kinds of crossing; a plan only sets up layers, everything can be changed afterwards. */
export type Plan =
  | 'pass-by'
  | 'arrival'
  | 'bridge'
  | 'opening'
  | 'pull-back'
  | 'hinged leaves'
  | 'keyed board'
  | 'lingering subject';

export type Role = 'outgoing' | 'incoming' | 'passing';

/** One transition being built: the unit that is opened, saved and exported. */
export interface CrossingRow {
  id: string;
  name: string;
  plan: Plan;
  /** Size of the result in pixels. */
  width: number;
  height: number;
  rateNum: number;
  rateDen: number;
  /** Length in crossing frames; they are numbered from 0. */
  length: number;
  /** First and last frame that are played and exported; `outFrame` null stands for the last there is. */
  inFrame: number;
  outFrame: number | null;
  /** How its layers are mixed where an edge is soft. */
  blend: Blend;
}

export type Fit = 'fill' | 'fit' | 'exact';

/** A shot's place in the crossing, in time and in the picture. */
export interface LayerRow extends TimeMap {
  id: string;
  role: Role;
  shotId: string;
  /** 0 is the bottom layer. */
  position: number;
  /** First and last source frame that the layer shows; null stands for the shot's own. */
  trimIn: number | null;
  trimOut: number | null;
  visible: boolean;
  /** Whether its outlines keep what they enclose; else they cut it away. */
  keeps: boolean;
  /** The size before `scale`: filling the crossing's frame, whole within it, or pixel for pixel. */
  fit: Fit;
  /** Mirrored left to right. */
  flip: boolean;
  /** Shift of its middle from the crossing's, in crossing px. */
  x: number;
  y: number;
  /** Percent. */
  scale: number;
  /** Degrees, clockwise. */
  turn: number;
  /** How far the shot's unsteadiness is taken out, percent; 0 is off. */
  steady: number;
}

/** A layer as it is before anything is set. */
export const plainLayer: Omit<LayerRow, 'id' | 'role' | 'shotId' | 'position'> = {
  ...plainTime,
  trimIn: null,
  trimOut: null,
  visible: true,
  keeps: false,
  fit: 'fill',
  flip: false,
  x: 0,
  y: 0,
  scale: 100,
  turn: 0,
  steady: 0,
};

/** A colour that cuts: what of a shot has it is cut away. */
export interface KeySettings {
  /** The colour, in 8-bit code values of Cb and Cr. */
  cb: number;
  cr: number;
  /** Distance from it in that plane within which all is cut, and over which it goes to nothing. */
  tolerance: number;
  softness: number;
  /** How far what is cut is grown (+) or shrunk (−), px of the shot. */
  grow: number;
  /** Side of a square, px of the shot, below whose area specks and holes are cleaned away. */
  clean: number;
  /** How much of the colour is taken out of what is left, percent. */
  spill: number;
}

/** The colour by which a layer is keyed; its id is the layer's. */
export interface KeyRow extends KeySettings {
  id: string;
}

/** A named frame of the crossing; *opens* and *closes* are the first and the last of the moving edge. */
export interface MarkRow {
  id: string;
  frame: number;
  kind: 'mark' | 'opens' | 'closes';
  name: string;
}

export type OutlineKind = 'seam' | 'loop';
export type Side = 'left' | 'right';
/** How an outline joins those before it: it enlarges what is cut, takes from it, or leaves only what lies in both. */
export type Combine = 'add' | 'take away' | 'keep only';

/** What an outline is before its first and after its last pose: as its first or last pose, nothing, or everything. */
export type Beyond = 'empty' | 'full' | 'hold';

/** How an in-between runs from one key to the next; `hold` stays until the next. */
export const onwards = ['linear', 'smooth', 'eased', 'hold'] as const;
export type Onward = (typeof onwards)[number];

export const outlineColours = ['chalk', 'amber', 'rose', 'sky', 'lime'] as const;
export type OutlineColour = (typeof outlineColours)[number];

/** How an outline's edge is drawn; widths in pixels of the shot. */
export interface EdgeSettings {
  /** Width of the soft edge to the inside and to the outside of the line, 0 or more. */
  featherInside: number;
  featherOutside: number;
  /** How far the region is grown (+) or shrunk (−). */
  spread: number;
  /** How far from a corner the line leaves its straight course to go round it. */
  roundness: number;
  /** What the feather is multiplied by at each point, 0 or more; empty where it is 1 everywhere. */
  factors: readonly number[];
}

export const plainEdge: EdgeSettings = {
  featherInside: 0,
  featherOutside: 0,
  spread: 0,
  roundness: 0,
  factors: [],
};

/**
 * A seam or a loop on a layer: what it encloses, or sweeps, is cut away from that layer. Its edge settings hold
 * where the edge has no keys of its own.
 */
export interface OutlineRow extends EdgeSettings {
  id: string;
  /** The layer whose shot it is traced on. */
  layerId: string;
  /** The layer that it cuts; null stands for the one it is traced on. */
  cutsLayerId: string | null;
  name: string;
  kind: OutlineKind;
  /** A seam's region lies on this side as one walks from its first point to its last; a loop ignores it. */
  sweptSide: Side;
  position: number;
  /** Stable ids of the points, in order along the outline. */
  points: string[];
  combine: Combine;
  beforeFirst: Beyond;
  afterLast: Beyond;
  colour: OutlineColour;
  /** Whether the hand leaves it alone. */
  locked: boolean;
  /** Whether its line is left out of the picture; it cuts all the same. */
  hidden: boolean;
  /** Motion blur of the matte: how long the shutter is open, degrees of a frame (0: off, 360: the whole frame). */
  shutter: number;
  /** When it opens against the frame's own time, degrees; −shutter / 2 lies even about it. */
  phase: number;
}

/** An outline as it is before anything is set. */
export const plainOutline: Omit<
  OutlineRow,
  'id' | 'layerId' | 'cutsLayerId' | 'name' | 'kind' | 'sweptSide' | 'position' | 'points'
> = {
  ...plainEdge,
  combine: 'add',
  beforeFirst: 'empty',
  afterLast: 'full',
  colour: 'chalk',
  locked: false,
  hidden: false,
  shutter: 0,
  phase: -90,
};

/** The edge of an outline at one key. */
export interface EdgeRow extends EdgeSettings {
  /** `edgeId(outlineId, frame)`. */
  id: string;
  outlineId: string;
  /** Source frame of the layer's shot. */
  frame: number;
  onward: Onward;
}

export function edgeId(outlineId: string, frame: number): string {
  return `${outlineId}~${frame}`;
}

export type Origin = 'by hand' | 'carried' | 'settled';

/** The points of an outline at one key. */
export interface PoseRow {
  /** `poseId(outlineId, frame)`. */
  id: string;
  outlineId: string;
  /** Source frame of the layer's shot. */
  frame: number;
  origin: Origin;
  /** The way to the next pose. */
  onward: Onward;
  /** Six numbers a point: x, y, then the offsets of the incoming and the outgoing handle, in shot pixels. */
  coordinates: number[];
}

export const numbersPerPoint = 6;

export function poseId(outlineId: string, frame: number): string {
  return `${outlineId}@${frame}`;
}

export interface RowTypes {
  crossing: CrossingRow;
  layer: LayerRow;
  outline: OutlineRow;
  pose: PoseRow;
  edge: EdgeRow;
  key: KeyRow;
  mark: MarkRow;
}

export type Table = keyof RowTypes;
