import type { VideoSample } from 'mediabunny';
import type { VideoColour } from '@/core/model/shot';
import { type PicturePlanes, reducePlanes } from '@/core/picture/planes';
import { spend } from './spent';

/** Where samples are copied to that are kept only at a smaller size. */
let passing = new Uint8Array(0);

/**
 * The planes of a decoded sample, copied out without row padding, at a half, a quarter … of their size. The sample
 * stays open.
 *
 * @param halvings 0 for its own size.
 * @param deep whether samples of more than 8 bits are kept beside those that are rounded to 8; only at their own size.
 * @throws Error for pixel formats other than planar ones and NV12.
 */
export async function copyPlanes(
  sample: VideoSample,
  colour: VideoColour,
  halvings = 0,
  deep = false,
): Promise<PicturePlanes> {
  const format = sample.format?.replace(/P1[02]$/, '');
  const bits = Number(/P(1[02])$/.exec(sample.format ?? '')?.[1] ?? 8);
  const { width, height } = sample.visibleRect;
  const halfWidth = format !== 'I444';
  const halfHeight = format === 'I420' || format === 'I420A' || format === 'NV12';
  if (!halfHeight && format !== 'I422' && format !== 'I444') {
    throw new Error(`Pictures in the pixel format ${sample.format ?? 'unknown'} are not read.`);
  }
  const size = sample.allocationSize();
  // While it is copied nothing else may take it: whoever comes meanwhile gets a new one.
  const buffer = halvings > 0 && passing.length >= size ? passing : new Uint8Array(size);
  passing = new Uint8Array(0);
  const copying = performance.now();
  const layout = await sample.copyTo(buffer);
  spend('copy', copying);
  const chromaWidth = halfWidth ? (width + 1) >> 1 : width;
  const chromaHeight = halfHeight ? (height + 1) >> 1 : height;
  const plane = (k: number, w: number, h: number) =>
    withoutPadding(buffer, layout[k].offset, layout[k].stride, w, h);
  const reduced = (planes: PicturePlanes) => {
    const reducing = performance.now();
    const small = reducePlanes(planes, halvings);
    spend('reduce', reducing);
    if (halvings > 0) passing = buffer;
    return small;
  };
  if (bits > 8) {
    const planes = [
      { w: width, h: height },
      { w: chromaWidth, h: chromaHeight },
      { w: chromaWidth, h: chromaHeight },
    ].map(({ w, h }, k) => wordsOf(buffer, layout[k], w, h));
    const [y8, u8, v8] = planes.map((words) => roundedTo8(words, bits));
    const own = { width, height, chromaWidth, chromaHeight, y: y8, u: u8, v: v8, colour };
    if (!deep || halvings > 0) return reduced(own);
    const [yDeep, uDeep, vDeep] = planes.map((words) => words.map((value) => value << (16 - bits)));
    return { ...own, deep: { y: yDeep, u: uDeep, v: vDeep } };
  }
  if (format !== 'NV12') {
    return reduced({
      width,
      height,
      chromaWidth,
      chromaHeight,
      y: plane(0, width, height),
      u: plane(1, chromaWidth, chromaHeight),
      v: plane(2, chromaWidth, chromaHeight),
      colour,
    });
  }
  const pairs = plane(1, chromaWidth * 2, chromaHeight);
  const u = new Uint8Array(chromaWidth * chromaHeight);
  const v = new Uint8Array(chromaWidth * chromaHeight);
  for (let i = 0; i < u.length; i++) {
    u[i] = pairs[2 * i];
    v[i] = pairs[2 * i + 1];
  }
  return reduced({
    ...{ width, height, chromaWidth, chromaHeight, colour },
    ...{ y: plane(0, width, height), u, v },
  });
}

/** A plane of two bytes a sample, the lower one first, as every machine that runs a browser stores them. */
function wordsOf(
  buffer: Uint8Array,
  { offset, stride }: { offset: number; stride: number },
  width: number,
  height: number,
): Uint16Array {
  return new Uint16Array(withoutPadding(buffer, offset, stride, 2 * width, height).slice().buffer);
}

/** Samples rounded to 8 bits. */
function roundedTo8(words: Uint16Array, bits: number): Uint8Array {
  const [shift, half] = [bits - 8, 1 << (bits - 9)];
  const bytes = new Uint8Array(words.length);
  for (let i = 0; i < bytes.length; i++) {
    const value = (words[i] + half) >> shift;
    bytes[i] = value > 255 ? 255 : value;
  }
  return bytes;
}

function withoutPadding(
  buffer: Uint8Array,
  offset: number,
  stride: number,
  width: number,
  height: number,
): Uint8Array {
  if (stride === width) return buffer.subarray(offset, offset + width * height);
  const packed = new Uint8Array(width * height);
  for (let row = 0; row < height; row++) {
    packed.set(buffer.subarray(offset + row * stride, offset + row * stride + width), row * width);
  }
  return packed;
}
