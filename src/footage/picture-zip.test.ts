import { decode } from 'fast-png';
import { unzipSync } from 'fflate';
import type { StreamTargetChunk } from 'mediabunny';
import type { PictureOf } from '@/core/formats/export-formats';
import { PictureZip } from './picture-zip';

/** Numbered pictures in a ZIP, read by fflate and fast-png. */

const [width, height] = [4, 2];

async function zipped(of: PictureOf, first: number, add: (zip: PictureZip) => Promise<void>) {
  const bytes: number[] = [];
  const sink = new WritableStream<StreamTargetChunk>({
    write: ({ data, position }) => {
      // Pieces come one right after the other.
      expect(position).toBe(bytes.length);
      bytes.push(...data);
    },
  });
  const zip = new PictureZip(of, width, height, first, sink);
  await zip.start();
  await add(zip);
  await zip.finish();
  return unzipSync(Uint8Array.from(bytes));
}

const rgba = Uint8Array.from({ length: width * height * 4 }, (_, i) => (i * 37) % 256);
const every = (channels: number) =>
  Array.from({ length: width * height }, (_, i) => [...rgba.subarray(4 * i, 4 * i + channels)]).flat();

test.each<[PictureOf, number]>([
  ['result', 3],
  ['cut-out', 4],
  ['matte', 1],
])('a %s has %i channels, bit by bit, numbered from its first frame', async (of, channels) => {
  const entries = await zipped(of, 7, async (zip) => {
    await zip.add(rgba);
    await zip.add(rgba.map((value) => 255 - value));
  });
  expect(Object.keys(entries)).toEqual([`${of}-00007.png`, `${of}-00008.png`]);
  const png = decode(entries[`${of}-00007.png`]);
  expect([png.width, png.height, png.depth, png.channels]).toEqual([width, height, 8, channels]);
  expect([...png.data]).toEqual(every(channels));
});

test('greys of 16 bits stay so; folders are numbered each by itself; before frame 0 numbers begin there', async () => {
  const deep = Uint16Array.from({ length: width * height }, (_, i) => 65_535 - 257 * i - (i % 3));
  const entries = await zipped('matte', -2, async (zip) => {
    await zip.add(deep, '1 Back/');
    await zip.add(deep, '2 Hat/');
    await zip.add(deep, '1 Back/');
  });
  expect(Object.keys(entries)).toEqual([
    '1 Back/matte-00000.png',
    '2 Hat/matte-00000.png',
    '1 Back/matte-00001.png',
  ]);
  const png = decode(entries['2 Hat/matte-00000.png']);
  expect([png.depth, png.channels]).toEqual([16, 1]);
  expect([...png.data]).toEqual([...deep]);
});

test('what cannot be written away is thrown where it is waited for', async () => {
  const sink = new WritableStream<StreamTargetChunk>({
    write: () => Promise.reject(new Error('The disk is full.')),
  });
  const zip = new PictureZip('result', width, height, 0, sink);
  await zip.add(rgba);
  await expect(zip.finish()).rejects.toThrow('The disk is full.');
});
