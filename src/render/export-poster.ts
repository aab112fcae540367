import type { Pixels } from '@/footage/picture-zip';

/** Height of an export's small picture, px. */
const height = 72;

/** A drawn frame, small, for the list of exports: a WebP as base64. */
export async function posterOf(pixels: Pixels, wide: number, tall: number): Promise<string> {
  const width = Math.max(1, Math.round((height * wide) / tall));
  const planes = pixels instanceof Uint8Array && pixels.length === wide * tall * 1.5;
  const whole = planes
    ? new VideoFrame(pixels.slice(), {
        ...{ format: 'I420', codedWidth: wide, codedHeight: tall, timestamp: 0 },
        colorSpace: { matrix: 'bt709', primaries: 'bt709', transfer: 'bt709', fullRange: false },
      })
    : new ImageData(
        pixels instanceof Uint16Array
          ? greys(pixels)
          : pixels instanceof Float32Array
            ? Uint8ClampedArray.from(pixels, (value) => 255 * value)
            : new Uint8ClampedArray(pixels),
        wide,
        tall,
      );
  const bitmap = await createImageBitmap(whole, {
    resizeWidth: width,
    resizeHeight: height,
    resizeQuality: 'high',
  });
  if (whole instanceof VideoFrame) whole.close();
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext('2d')!.drawImage(bitmap, 0, 0);
  bitmap.close();
  const blob = await canvas.convertToBlob({ type: 'image/webp', quality: 0.8 });
  return btoa(String.fromCharCode(...new Uint8Array(await blob.arrayBuffer())));
}

function greys(pixels: Uint16Array): Uint8ClampedArray<ArrayBuffer> {
  const rgba = new Uint8ClampedArray(pixels.length * 4).fill(255);
  for (let i = 0; i < pixels.length; i++) rgba.fill(pixels[i] / 257, 4 * i, 4 * i + 3);
  return rgba;
}
