/** Most px that a border goes beside its course for it to be trembling, not a limb that swings. */
const most = 24;

/**
 * How much an outer border trembles, px: in every row the second difference of its place over three frames, left and right; its
 * root mean square.
 *
 * @param masks on frames one after the other; null where one is unknown.
 */
export function jitterOf(masks: readonly (Uint8Array | null)[], width: number): number {
  let [sum, count] = [0, 0];
  const borders = masks.map((mask) => mask && bordersOf(mask, width));
  for (let k = 1; k + 1 < borders.length; k++) {
    const three = [borders[k - 1], borders[k], borders[k + 1]];
    if (!three.every((each) => each !== null)) continue;
    const [before, now, after] = three as Int32Array[];
    for (let j = 0; j < now.length; j++) {
      if (before[j] < 0 || now[j] < 0 || after[j] < 0) continue;
      const second = before[j] - 2 * now[j] + after[j];
      if (Math.abs(second) > most) continue;
      sum += second * second;
      count++;
    }
  }
  return Math.sqrt(sum / (count || 1));
}

/** The first and the last column of each row, by turns; −1 where it is empty. */
function bordersOf(mask: Uint8Array, width: number): Int32Array {
  const out = new Int32Array((2 * mask.length) / width).fill(-1);
  for (let j = 0; j * width < mask.length; j++) {
    const row = mask.subarray(j * width, (j + 1) * width);
    out[2 * j] = row.indexOf(1);
    out[2 * j + 1] = row.lastIndexOf(1);
  }
  return out;
}
