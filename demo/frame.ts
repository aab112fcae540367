export const width = 1280;
export const height = 720;
export const framesPerSecond = 25;
/** Share of a frame's time in which the shutter is open: 180°. */
export const shutter = 0.5;

/** One drawn frame. */
export interface Frame {
  rgb: Uint8Array;
  /** The object's true alpha, 0 to 255; null in a shot without an object. */
  alpha: Uint8Array | null;
}

/** A polygon, x and y in px by turns. */
export type Polygon = number[];

export interface DrawnShot {
  name: string;
  frames: number;
  draw(frame: number): Frame;
  /** Where the picture of the scene has gone by a frame, px from its first frame: the camera's path, turned round. */
  camera(frame: number): [x: number, y: number];
  /** Where the object's trailing edge is at each row of `edgeRows`, or null in rows it does not reach. */
  trailingEdge?(alpha: Uint8Array): (number | null)[];
  /** True outlines at the middle of a frame's exposure, by name. */
  outlines?(frame: number): Record<string, Polygon>;
}
