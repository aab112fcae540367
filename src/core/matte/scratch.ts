/**
 * Working memory of the matte computation, kept between mattes so that none is allocated on the way. One belongs
 * to one thread and one matte at a time.
 */
export class MatteScratch {
  /** Signed area sums, two columns more than the picture; all zero between uses. */
  area = new Float32Array(0);
  /** Distance to the line in px; Infinity between uses. */
  distance = new Float32Array(0);
  /** What the softness is multiplied by at the nearest place of the line, where that varies. */
  factor = new Float32Array(0);
  /** 1 for each run of 32 pixels of a row that has been written to; all zero between uses. */
  touched = new Uint8Array(0);

  private summed = [new Uint32Array(0), new Uint32Array(0)];

  /** Two rows of words, all zero. */
  sums(words: number): [Uint32Array, Uint32Array] {
    const [a, b] = this.summed;
    if (a.length < words) this.summed = [new Uint32Array(words), new Uint32Array(words)];
    else {
      a.fill(0, 0, words);
      b.fill(0, 0, words);
    }
    return [this.summed[0], this.summed[1]];
  }

  /** Makes room for a picture of `width` × `height` px. */
  fit(width: number, height: number, varying = false) {
    if (varying && this.factor.length < width * height) this.factor = new Float32Array(width * height);
    if (this.distance.length < width * height)
      this.distance = new Float32Array(width * height).fill(Infinity);
    const area = (width + 2) * height;
    if (this.area.length < area) this.area = new Float32Array(area);
    const blocks = blocksPerRow(width + 2) * height;
    if (this.touched.length < blocks) this.touched = new Uint8Array(blocks);
  }
}

/** log2 of the pixels in a run. */
export const blockShift = 5;

export function blocksPerRow(width: number): number {
  return (width + (1 << blockShift) - 1) >> blockShift;
}
