import { cutHeight, cutWidth, enlarged, height, width } from './walkers';

/** Samples of a truth that are judged: all but those at its own border, which is true to about a pixel only. */
export function judgedOf(truth: Uint8Array): Uint8Array {
  const out = new Uint8Array(truth.length).fill(1);
  for (let j = 0; j < cutHeight; j++)
    for (let i = 0; i < cutWidth; i++) {
      const at = j * cutWidth + i;
      if (i + 1 < cutWidth && truth[at] !== truth[at + 1]) out[at] = out[at + 1] = 0;
      if (j + 1 < cutHeight && truth[at] !== truth[at + cutWidth]) out[at] = out[at + cutWidth] = 0;
    }
  return out;
}

/** Share of both (J, Perazzi et al., CVPR 2016) over the judged samples. */
export function jOf(truth: Uint8Array, found: Uint8Array, judged = judgedOf(truth)): number {
  let [both, either] = [0, 0];
  for (let i = 0; i < truth.length; i++) {
    if (!judged[i]) continue;
    both += truth[i] & found[i];
    either += truth[i] | found[i];
  }
  return either === 0 ? 1 : both / either;
}

/** A mask at the film's own px from one of another size: what most of each sample is. */
export function atFilmSize(mask: Uint8Array, from: { width: number; height: number }): Uint8Array {
  const out = new Uint8Array(cutWidth * cutHeight);
  for (let j = 0; j < cutHeight; j++)
    for (let i = 0; i < cutWidth; i++) {
      const x = Math.floor(((i + 0.5) * from.width) / cutWidth);
      const y = Math.floor(((j + 0.5) * from.height) / cutHeight);
      out[j * cutWidth + i] = mask[y * from.width + x];
    }
  return out;
}

/** A mask at the film's px at the size of its enlargement. */
export function largeOf(mask: Uint8Array): Uint8Array {
  const out = new Uint8Array(width * height);
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++)
      out[j * width + i] = mask[Math.floor(j / enlarged) * cutWidth + Math.floor(i / enlarged)];
  return out;
}
