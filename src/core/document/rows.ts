import type { Rate } from '../time/rate';
import type { VideoColour } from '../colour/matrix';

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
  colour: VideoColour;
}

export type Plan = 'pass-by';

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
}

/** A shot's place in the crossing. */
export interface LayerRow {
  id: string;
  role: Role;
  shotId: string;
  /** 0 is the bottom layer. */
  position: number;
  /** The source frame shown at crossing frame 0; may lie outside the shot. */
  offset: number;
}

export type OutlineKind = 'seam' | 'loop';
export type Side = 'left' | 'right';
export type FeatherSide = 'inside' | 'outside' | 'both';

/** A seam or a loop on a layer: what it encloses, or sweeps, is cut away from that layer. */
export interface OutlineRow {
  id: string;
  layerId: string;
  name: string;
  kind: OutlineKind;
  /** A seam's region lies on this side as one walks from its first point to its last; a loop ignores it. */
  sweptSide: Side;
  position: number;
  /** Stable ids of the points, in order along the outline. */
  points: string[];
  featherSide: FeatherSide;
  /** Width of the soft edge in pixels of the shot, 0 or more. */
  feather: number;
  /** How far the region is grown (+) or shrunk (−), in pixels of the shot. */
  spread: number;
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
}

export type Table = keyof RowTypes;
