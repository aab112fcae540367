import { MatteSums } from './mean';
import { blockShift, blocksPerRow } from './runs';

/**
 * Working memory of the matte computation, kept between mattes so that none is allocated on the way. One belongs
 * to one thread and one matte at a time.
 */
export class MatteScratch {
  /** Signed area sums, two columns more than the picture; all zero between uses. */
  area = new Float32Array(0);
  /**
   * Distance to the line, `nearSteps` of them to what is reached; `far` elsewhere and between uses. Row by row, as
   * many to the row as its runs hold.
   */
  distance = new Uint16Array(0);
  /** The same, two at a time. */
  distancePairs = new Uint32Array(0);
  /** What the softness is multiplied by at the nearest place of the line, where that varies; laid out alike. */
  factor = new Float32Array(0);
  /** The row of a soft matte that is being drawn, alpha 0 to 255; and the same four at a time. */
  row = new Uint8Array(0);
  rowWords = new Uint32Array(0);
  /** 1 for each run of 16 pixels of a row that has been written to; all zero between uses. */
  touched = new Uint8Array(0);
  readonly sums = new MatteSums();

  /** Makes room for a picture of `width` × `height` px. */
  fit(width: number, height: number, varying = false) {
    const stride = blocksPerRow(width) << blockShift;
    if (this.row.length !== stride) {
      this.row = new Uint8Array(stride);
      this.rowWords = new Uint32Array(this.row.buffer);
    }
    if (varying && this.factor.length < stride * height) this.factor = new Float32Array(stride * height);
    if (this.distance.length < stride * height) {
      this.distance = new Uint16Array(stride * height).fill(far);
      this.distancePairs = new Uint32Array(this.distance.buffer);
    }
    const area = (width + 2) * height;
    if (this.area.length < area) this.area = new Float32Array(area);
    const blocks = blocksPerRow(width + 2) * height;
    if (this.touched.length < blocks) this.touched = new Uint8Array(blocks);
  }
}

/** In how many steps the distances up to a band's reach are told apart. */
export const nearSteps = 4090;
/** Stands for no distance, further than any. */
export const far = 4095;
