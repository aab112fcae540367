import type { FramePicture } from '../picture/frame-picture';

/** Frames of a shot, numbered from 0; a number is given back only while 0 ≤ frame < count. */
export interface Frames {
  count: number;
  picture(frame: number): Promise<FramePicture>;
  /** Awaited between pieces of work, where whoever works on them lets others in. */
  breathe?(): Promise<void>;
}
