import type { SourceTimecode } from '@/core/model/shot';
import { countsInDropFrame } from '@/core/time/timecode';
import { rateFromMeasured } from '@/core/time/rate';
import type { ReadRange } from './container-extent';

/** A box of ISO/IEC 14496-12: where its contents begin, and where it ends. */
interface Box {
  type: string;
  from: number;
  to: number;
}

/** Most boxes that are looked at side by side: files that are broken on purpose have no end of them. */
const mostBoxes = 10_000;

/**
 * The timecode track of an MP4 or MOV file (QuickTime File Format Specification, *Timecode Media*): the number in its first
 * sample, and how its sample description counts.
 *
 * @param size of the file, bytes.
 * @returns null where there is none, or it does not hold together.
 */
export async function readTimecodeTrack(read: ReadRange, size: number): Promise<SourceTimecode | null> {
  const movie = await childOf(read, { type: '', from: 0, to: size }, 'moov');
  if (!movie) return null;
  for await (const track of childrenOf(read, movie)) {
    if (track.type !== 'trak') continue;
    const media = await childOf(read, track, 'mdia');
    const handler = media && (await childOf(read, media, 'hdlr'));
    if (!handler || (await textAt(read, handler.from + 8)) !== 'tmcd') continue;
    const info = await childOf(read, media, 'minf');
    const table = info && (await childOf(read, info, 'stbl'));
    const found = table && (await timecodeIn(read, table, size));
    if (found) return found;
  }
  return null;
}

/** @param table the sample table of a timecode track. */
async function timecodeIn(read: ReadRange, table: Box, size: number): Promise<SourceTimecode | null> {
  const description = await childOf(read, table, 'stsd');
  if (!description) return null;
  // Version, flags and count of entries; then size, type, six bytes and the data reference of the first.
  const entry = viewOf(await read(description.from + 8, 34));
  if (entry.byteLength < 34 || (await textAt(read, description.from + 12)) !== 'tmcd') return null;
  const flags = entry.getUint32(20);
  const [timescale, frameDuration] = [entry.getUint32(24), entry.getUint32(28)];
  const offset = await firstOffset(read, table);
  if (timescale === 0 || frameDuration === 0 || offset === null || offset + 4 > size) return null;
  const sample = viewOf(await read(offset, 4));
  if (sample.byteLength < 4) return null;
  const rate = rateFromMeasured(timescale / frameDuration);
  return { start: sample.getUint32(0), rate, dropFrame: (flags & 1) === 1 && countsInDropFrame(rate) };
}

/** Where in the file the first sample lies. */
async function firstOffset(read: ReadRange, table: Box): Promise<number | null> {
  const short = await childOf(read, table, 'stco');
  const long = short ?? (await childOf(read, table, 'co64'));
  if (!long) return null;
  const entry = viewOf(await read(long.from + 4, 12));
  if (entry.byteLength < (short ? 8 : 12) || entry.getUint32(0) === 0) return null;
  return short ? entry.getUint32(4) : Number(entry.getBigUint64(4));
}

async function childOf(read: ReadRange, parent: Box, type: string): Promise<Box | null> {
  for await (const box of childrenOf(read, parent)) if (box.type === type) return box;
  return null;
}

async function* childrenOf(read: ReadRange, parent: Box): AsyncGenerator<Box> {
  let at = parent.from;
  for (let n = 0; n < mostBoxes && at + 8 <= parent.to; n++) {
    const head = await read(at, 16);
    if (head.length < 8) return;
    const data = viewOf(head);
    let length = data.getUint32(0);
    let header = 8;
    if (length === 1 && head.length === 16) [length, header] = [Number(data.getBigUint64(8)), 16];
    else if (length === 0) length = parent.to - at;
    if (length < header || at + length > parent.to) return;
    yield { type: textOf(head.subarray(4, 8)), from: at + header, to: at + length };
    at += length;
  }
}

const viewOf = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
const textOf = (bytes: Uint8Array) => String.fromCharCode(...bytes);
const textAt = async (read: ReadRange, at: number) => textOf(await read(at, 4));

/**
 * Samples since midnight with which a Broadcast Wave file begins: TimeReference of its `bext` chunk (EBU Tech 3285, section
 * 2.3), in RIFF, RF64 and BW64 files.
 *
 * @param head the file's first bytes: the chunk stands before the samples.
 * @returns null where it says nothing.
 */
export function readTimeReference(head: Uint8Array): number | null {
  if (head.length < 12 || !['RIFF', 'RF64', 'BW64'].includes(textOf(head.subarray(0, 4)))) return null;
  const data = viewOf(head);
  for (let at = 12; at + 8 <= head.length;) {
    const length = data.getUint32(at + 4, true);
    if (textOf(head.subarray(at, at + 4)) === 'bext') {
      // After description, originator, its reference, date and time.
      const from = at + 8 + 256 + 32 + 32 + 10 + 8;
      if (length < 346 || from + 8 > head.length) return null;
      const samples = Number(data.getBigUint64(from, true));
      return samples > 0 ? samples : null;
    }
    at += 8 + length + (length % 2);
  }
  return null;
}
