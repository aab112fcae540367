import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Readable } from 'node:stream';
import { Uint8ArrayReader, ZipWriter } from '@zip.js/zip.js';
import { zipSync } from 'fflate';
import yauzl from 'yauzl';
import { wavOf } from './sound-writer';
import { readTimeReference } from './timecode-track';
import { streamOf, zipSettings } from './zip-out';

/** ZIPs beyond what 16 and 32 bits count, read by yauzl. */

async function bytesOf(stream: AsyncIterable<Uint8Array>): Promise<Buffer> {
  const chunks: Buffer[] = [];
  for await (const chunk of stream) chunks.push(Buffer.from(chunk));
  return Buffer.concat(chunks);
}

/** A sink that keeps what is written to it. */
function kept() {
  const chunks: Buffer[] = [];
  const sink = new WritableStream<Uint8Array>({ write: (bytes) => void chunks.push(Buffer.from(bytes)) });
  return { sink, bytes: () => Buffer.concat(chunks) };
}

test('more than 65,535 files are all found again', async () => {
  const first = zipSync(
    Object.fromEntries(Array.from({ length: 65_530 }, (_, n) => [`matte-${n}.png`, new Uint8Array([n])])),
    { level: 0 },
  );
  const { sink, bytes } = kept();
  const zip = new ZipWriter(sink, zipSettings);
  await zip.prependZip(new Uint8ArrayReader(first));
  for (let n = 65_530; n < 65_540; n++)
    await zip.add(`matte-${n}.png`, new Uint8ArrayReader(new Uint8Array([n])), { dataDescriptor: false });
  await zip.close();
  const archive = await yauzl.fromBufferPromise(bytes(), { lazyEntries: true });
  let count = 0;
  for await (const entry of archive.eachEntry()) {
    if (entry.fileName !== `matte-${count}.png`) throw new Error(`${entry.fileName} is out of order.`);
    if (count % 9973 === 0 || count > 65_535)
      expect([...(await bytesOf(await archive.openReadStreamPromise(entry)))]).toEqual([count & 255]);
    count++;
  }
  expect(count).toBe(65_540);
});

test('places beyond 4 GiB are counted whole', async () => {
  const { sink, bytes } = kept();
  // As if so many bytes had been written before.
  const before = 2 ** 32 + 4711;
  const zip = new ZipWriter(sink, { ...zipSettings, offset: before });
  await zip.add('first.txt', new Uint8ArrayReader(new TextEncoder().encode('first')), {
    dataDescriptor: false,
  });
  await zip.add('pieces.txt', streamOf(Readable.from([Buffer.from('by '), Buffer.from('pieces')])));
  await zip.close();
  const written = bytes();
  class Moved extends yauzl.RandomAccessReader {
    override _readStreamForRange(from: number, to: number) {
      const place = (at: number) => Math.max(0, at - before);
      const pretended = Buffer.alloc(Math.max(0, before - from));
      return Readable.from([pretended, written.subarray(place(from), place(to))]);
    }
  }
  const archive = await yauzl.fromRandomAccessReaderPromise(new Moved(), before + written.length, {
    lazyEntries: true,
  });
  const found: Record<string, string> = {};
  for await (const entry of archive.eachEntry()) {
    expect(entry.relativeOffsetOfLocalHeader).toBeGreaterThan(2 ** 32);
    found[entry.fileName] = (await bytesOf(await archive.openReadStreamPromise(entry))).toString();
  }
  expect(found).toEqual({ 'first.txt': 'first', 'pieces.txt': 'by pieces' });
});

test('a WAV has its time and six channels as ffprobe reads them, and its time is read back', async () => {
  async function* parts() {
    yield Array.from({ length: 6 }, (_, c) => new Float32Array(7).fill(c / 10));
  }
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'kiv-wav-')), 'bed.wav');
  const bytes = await bytesOf(wavOf({ length: 7, channels: 6, timeReference: 1_728_019_200 }, parts()));
  writeFileSync(file, bytes);
  const { stdout } = spawnSync('ffprobe', ['-v', 'error', '-show_format', '-show_streams', file]);
  expect(stdout.toString()).toMatch(/channel_layout=5\.1\(side\)\n/);
  expect(stdout.toString()).toMatch(/TAG:time_reference=1728019200/);
  expect(readTimeReference(bytes)).toBe(1_728_019_200);
  // As another program writes it.
  const other = `${file}.other.wav`;
  const reference = ['-write_bext', '1', '-metadata', 'time_reference=4321'];
  spawnSync('ffmpeg', ['-v', 'error', '-y', '-i', file, ...reference, other]);
  expect(readTimeReference(readFileSync(other))).toBe(4321);
  const { stdout: raw } = spawnSync('ffmpeg', ['-v', 'error', '-i', file, '-f', 'f32le', '-']);
  const read = new Float32Array(new Uint8Array(raw).buffer);
  read.forEach((value, i) => expect(Math.abs(value - (i % 6) / 10)).toBeLessThan(2 ** -22));
});

test('a WAV that is written from its beginning to its end holds what ffmpeg reads from it', async () => {
  const length = 1000;
  const left = Float32Array.from({ length }, (_, i) => Math.sin(i / 7));
  const right = Float32Array.from({ length }, (_, i) => (i % 2 ? 1.5 : -1.5));
  async function* parts() {
    yield [left.subarray(0, 300), right.subarray(0, 300)] as [Float32Array, Float32Array];
    yield [left.subarray(300), right.subarray(300)] as [Float32Array, Float32Array];
  }
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'kiv-wav-')), 'track.wav');
  writeFileSync(file, await bytesOf(wavOf({ length, channels: 2, timeReference: null }, parts())));
  const { stdout, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-i', file, '-f', 'f32le', '-']);
  expect(stderr.toString()).toBe('');
  const read = new Float32Array(new Uint8Array(stdout).buffer);
  expect(read).toHaveLength(2 * length);
  for (let i = 0; i < length; i++) {
    expect(Math.abs(read[2 * i] - left[i])).toBeLessThan(2 ** -22);
    expect(Math.abs(read[2 * i + 1] - Math.sign(right[i]))).toBeLessThan(2 ** -22);
  }
});
