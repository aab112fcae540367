import { blockShift, blocksPerRow } from './runs';

/** Sums of several mattes of one size, of which the mean is taken in the end. */
export class MatteSums {
  /** Sums of the first and third, and of the second and fourth of four pixels, in half a word each. */
  private odd = new Uint32Array(0);
  private even = new Uint32Array(0);
  /** 1 for each run of 16 pixels of a row that has sums of its own. */
  private mixed = new Uint8Array(0);
  /** By how many more mattes than in the run before it a run is full throughout; one longer to the row. */
  private fuller = new Int16Array(0);
  private width = 0;
  private height = 0;
  private blocks = 0;

  /** Gets ready for mattes of `width` × `height` px, 255 of them at most. */
  begin(width: number, height: number) {
    [this.width, this.height, this.blocks] = [width, height, blocksPerRow(width)];
    const bytes = this.blocks << blockShift;
    if (this.fuller.length < (this.blocks + 1) * height)
      this.fuller = new Int16Array((this.blocks + 1) * height);
    if (this.mixed.length >= this.blocks * height) return;
    this.odd = new Uint32Array((bytes * height) >> 2);
    this.even = new Uint32Array((bytes * height) >> 2);
    this.mixed = new Uint8Array(this.blocks * height);
  }

  /** Adds a run of a row, pixel by pixel; the row is given as words of four pixels. */
  addRun(y: number, block: number, rowWords: Uint32Array) {
    const { odd, even } = this;
    const b = y * this.blocks + block;
    this.mixed[b] = 1;
    let sum = b << (blockShift - 2);
    const end = (block + 1) << (blockShift - 2);
    for (let i = block << (blockShift - 2); i < end; i++, sum++) {
      const four = rowWords[i];
      odd[sum] += four & 0x00ff00ff;
      even[sum] += (four >>> 8) & 0x00ff00ff;
    }
  }

  /** Adds (or with −1 takes away) full from one run up to, not including, another. */
  addFull(y: number, from: number, to: number, times: 1 | -1 = 1) {
    const row = y * (this.blocks + 1);
    this.fuller[row + from] += times;
    this.fuller[row + to] -= times;
  }

  /**
   * The mean, rounded; and all sums set back to zero.
   *
   * @param count of the mattes.
   * @param out width·height bytes, written whole.
   */
  mean(count: number, out: Uint8Array) {
    const { width, height, blocks, mixed, fuller } = this;
    const mean = new Uint8Array(255 * count + 1);
    for (let sum = 0; sum < mean.length; sum++) mean[sum] = Math.round(sum / count);
    for (let y = 0, b = 0, f = 0; y < height; y++) {
      const row = y * width;
      let filled = row;
      let whole = 0;
      let value = mean[0];
      for (let block = 0; block <= blocks; block++, f++) {
        const more = fuller[f];
        fuller[f] = 0;
        if (block === blocks) continue;
        const mixing = mixed[b++] === 1;
        if (more === 0 && !mixing) continue;
        // What was alike up to here is filled in one go: short fills cost more than what they fill.
        const x = block << blockShift;
        const start = row + (x < width ? x : width);
        if (start > filled) out.fill(value, filled, start);
        filled = start;
        whole += 255 * more;
        value = mean[whole];
        if (!mixing) continue;
        mixed[b - 1] = 0;
        filled = row + (x + (1 << blockShift) < width ? x + (1 << blockShift) : width);
        this.meanOfRun(b - 1, whole, mean, out, start, filled);
      }
      if (filled < row + width) out.fill(value, filled, row + width);
    }
  }

  private meanOfRun(b: number, whole: number, mean: Uint8Array, out: Uint8Array, start: number, end: number) {
    const { odd, even } = this;
    const first = b << (blockShift - 2);
    for (let i = start, sum = first; sum < first + (1 << (blockShift - 2)); i += 4, sum++) {
      const [p, q] = [odd[sum], even[sum]];
      odd[sum] = 0;
      even[sum] = 0;
      if (i < end) out[i] = mean[(p & 0xffff) + whole];
      if (i + 1 < end) out[i + 1] = mean[(q & 0xffff) + whole];
      if (i + 2 < end) out[i + 2] = mean[(p >>> 16) + whole];
      if (i + 3 < end) out[i + 3] = mean[(q >>> 16) + whole];
    }
  }
}
