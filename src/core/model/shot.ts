import type { Rate } from './time';

/** Which luma and chroma weights a video uses: ITU-R BT.601, BT.709 or BT.2020 (non-constant luminance). */
export type ColourMatrix = 'bt601' | 'bt709' | 'bt2020';

export interface VideoColour {
  matrix: ColourMatrix;
  /** True when code values run 0 to 255, false for 16 to 235 (luma) and 16 to 240 (chroma). */
  fullRange: boolean;
}

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
  /** When it was filmed, by the clock of the camera; null or left out where nobody has said. */
  timecode?: SourceTimecode | null;
}

/** The timecode of a shot's first frame (SMPTE ST 12-1). */
export interface SourceTimecode {
  /** Frames since 00:00:00:00, as the timecode counts them: see `time/timecode.ts`. */
  start: number;
  /** What it counts in; half of the shot's own where two frames share a number, as at 50 and 60. */
  rate: Rate;
  /** Whether it leaves out numbers, so that it keeps step with the clock at 29.97 and 59.94. */
  dropFrame: boolean;
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
  /** How it looks: three numbers on every twelfth frame (see core/colour/looks.ts). Shots measured earlier have none. */
  looks?: readonly number[];
  /** Frames that begin another take, ascending (see core/motion/cuts.ts). Shots measured earlier have none. */
  cuts?: readonly number[];
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

/** Numbers a frame in {@link ShotMotion.frames}. */
export const numbersPerFrame = 6;

/** A shot's look is taken on every so many frames, from the first on: mean l, α and β in light (see matching.ts). */
export const lookEvery = 12;

export const numbersPerLook = 3;
