/** Connected parts of a grid of two values. */
export interface Patches {
  /** The number of each sample's patch. */
  of: Int32Array;
  /** For each patch its value, how many samples it has, and whether it reaches the grid's border. */
  value: number[];
  size: number[];
  atBorder: boolean[];
}

/** Parts of equal value that hang together by their sides. */
export function patchesOf(values: Uint8Array, width: number, height: number): Patches {
  const of = new Int32Array(width * height).fill(-1);
  const found: Patches = { of, value: [], size: [], atBorder: [] };
  const stack = new Int32Array(width * height);
  for (let start = 0; start < of.length; start++) {
    if (of[start] >= 0) continue;
    const own = found.value.length;
    const value = values[start];
    let [depth, size, atBorder] = [1, 0, false];
    stack[0] = start;
    of[start] = own;
    const visit = (next: number) => {
      if (of[next] >= 0 || values[next] !== value) return;
      of[next] = own;
      stack[depth++] = next;
    };
    while (depth > 0) {
      const at = stack[--depth];
      const i = at % width;
      size++;
      if (i > 0) visit(at - 1);
      else atBorder = true;
      if (i + 1 < width) visit(at + 1);
      else atBorder = true;
      if (at >= width) visit(at - width);
      else atBorder = true;
      if (at + width < of.length) visit(at + width);
      else atBorder = true;
    }
    found.value.push(value);
    found.size.push(size);
    found.atBorder.push(atBorder);
  }
  return found;
}

/** The patches of ones of a mask as masks of their own, the largest first. @param least samples below which one is left out. */
export function largestPatches(mask: Uint8Array, width: number, height: number, least: number): Uint8Array[] {
  const { of, value, size } = patchesOf(mask, width, height);
  return size
    .map((own, k) => ({ own, k }))
    .filter(({ own, k }) => value[k] === 1 && own >= least)
    .sort((a, b) => b.own - a.own)
    .map(({ k }) => {
      const patch = new Uint8Array(mask.length);
      for (let at = 0; at < patch.length; at++) if (of[at] === k) patch[at] = 1;
      return patch;
    });
}
