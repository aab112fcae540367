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
 * @throws Error for pixel formats other than 8-bit planar and NV12.
 */
export async function copyPlanes(
  sample: VideoSample,
  colour: VideoColour,
  halvings = 0,
): Promise<PicturePlanes> {
  const { format } = sample;
  const { width, height } = sample.visibleRect;
  const halfWidth = format !== 'I444';
  const halfHeight = format === 'I420' || format === 'I420A' || format === 'NV12';
  if (!halfHeight && format !== 'I422' && format !== 'I444') {
    throw new Error(`Pictures in the pixel format ${format ?? 'unknown'} are not read.`);
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
  const y = plane(0, width, height);
  const reduced = (planes: PicturePlanes) => {
    const reducing = performance.now();
    const small = reducePlanes(planes, halvings);
    spend('reduce', reducing);
    if (halvings > 0) passing = buffer;
    return small;
  };
  if (format !== 'NV12') {
    return reduced({
      width,
      height,
      chromaWidth,
      chromaHeight,
      y,
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
  return reduced({ width, height, chromaWidth, chromaHeight, y, u, v, colour });
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
