import {
  EncodedPacketSink,
  Input,
  type InputVideoTrack,
  MATROSKA,
  MP4,
  QTFF,
  type Source,
  WEBM,
} from 'mediabunny';
import type { ColourMatrix, SourceTimecode, VideoColour } from '@/core/model/shot';
import type { FrameIndex } from '@/core/time/frame-index';
import { rateFromMeasured } from '@/core/time/rate';
import type { Rate } from '@/core/model/time';
import { sourceTimecodeFrom } from '@/core/time/source-timecode';
import { isWhole, type ReadRange } from './container-extent';
import { mayBeInterlaced } from './h264-fields';
import { FootageRefusal, refusal } from './refusal';
import { readTimecodeTrack } from './timecode-track';

/** What a video file says of itself. */
export interface FootageFacts {
  container: string;
  codec: string;
  /** Size in square pixels as shown, after rotation. */
  width: number;
  height: number;
  rotation: 0 | 90 | 180 | 270;
  rate: Rate;
  /** False when the time between frames varies by more than 2 ms. */
  constantRate: boolean;
  /** Seconds from the first frame's start to the last one's end. */
  duration: number;
  colour: VideoColour;
  hasSound: boolean;
  /** False when the file asks for its pixels to be shown wider or narrower than high. */
  squarePixels: boolean;
  /** Bits a channel. */
  depth: 8 | 10;
  /** Of its first frame; null where the file says none. */
  timecode: SourceTimecode | null;
  index: FrameIndex;
}

export const containerFormats = [MP4, QTFF, WEBM, MATROSKA];

const decodableCodecs: Record<string, string> = { avc: 'H.264', vp8: 'VP8', vp9: 'VP9', av1: 'AV1' };
const otherCodecs: Record<string, string> = {
  hevc: 'H.265 (HEVC)',
  prores: 'ProRes',
  mpeg4: 'MPEG-4 part 2',
  mpeg2: 'MPEG-2',
};

/**
 * Reads a file's facts and the timestamp of every frame, in presentation order.
 *
 * @param read, size the same file's bytes and length, to see whether it is whole.
 * @throws FootageRefusal for anything that is not a whole video in a codec the browser decodes.
 */
export async function readFacts(source: Source, read: ReadRange, size: number): Promise<FootageFacts> {
  if (size === 0) throw refusal.empty();
  using input = new Input({ source, formats: containerFormats });
  try {
    if (!(await input.canRead().catch(() => false))) throw refusal.notVideo();
    if (!(await isWhole(read, size))) throw refusal.truncated();
    const track = await input.getPrimaryVideoTrack();
    if (!track) throw refusal.noVideoTrack();
    await requireDecodable(track);
    const index = await indexFrames(track, size);
    if (index.timestamps.length === 0) throw refusal.truncated();
    await requireWhole(track);
    const facts = await gather(input, track, index);
    return { ...facts, timecode: await timecodeOf(input, facts.rate, read, size) };
  } catch (error) {
    if (error instanceof FootageRefusal) throw error;
    // The container was recognised, but what it promises is not there.
    throw refusal.truncated();
  }
}

async function requireDecodable(track: InputVideoTrack) {
  const codec = await track.getCodec();
  const profile = (await track.getCodecParameterString()) ?? '';
  if (!codec || !(codec in decodableCodecs)) {
    const internal = await track.getInternalCodecId();
    const name =
      (codec && otherCodecs[codec]) ??
      (typeof internal === 'string' ? `“${internal}”` : (codec ?? 'a format that Kiv does not know'));
    throw refusal.codec(`in ${name}`);
  }
  // H.264's High 4:2:2, VP9's profile 3 and AV1 with 12 bits: browsers decode 10 bits in 4:2:0.
  const tooDeep =
    /^avc[13]\.7a/i.test(profile) || /^vp09\.03/.test(profile) || /^av01\.\d+\.\w+\.12/.test(profile);
  if (tooDeep) throw refusal.codec(`in a profile of ${decodableCodecs[codec]} that browsers do not decode`);
  if (/^avc[13]\.f4/i.test(profile)) throw refusal.codec('in H.264’s 4:4:4 profile');
  const transfer: string = (await track.getColorSpace()).transfer ?? '';
  if (transfer === 'pq' || transfer === 'hlg') throw refusal.codec(`HDR (${transfer.toUpperCase()})`);
  if (codec !== 'avc') return;
  const description = (await track.getDecoderConfig())?.description;
  if (!description) return;
  const record = ArrayBuffer.isView(description)
    ? new Uint8Array(description.buffer, description.byteOffset, description.byteLength)
    : new Uint8Array(description);
  if (mayBeInterlaced(record)) throw refusal.codec('interlaced');
}

/** H.264's High 10, VP9's profile 2, AV1 with 10 bits. */
const isDeep = (profile: string) =>
  /^avc[13]\.6e/i.test(profile) || /^vp09\.02/.test(profile) || /^av01\.\d+\.\w+\.10/.test(profile);

async function hasSquarePixels(track: InputVideoTrack): Promise<boolean> {
  const [coded, shown] = [await track.getCodedWidth(), await track.getDisplayWidth()];
  const [codedHeight, shownHeight] = [await track.getCodedHeight(), await track.getDisplayHeight()];
  const turned = (await track.getRotation()) % 180 !== 0;
  return turned
    ? coded === shownHeight && codedHeight === shown
    : coded === shown && codedHeight === shownHeight;
}

/** Packets after which whoever else uses the thread has a turn. */
const packetsAtOnce = 2000;

/**
 * @param size of the file, bytes: tables that claim more than fits into it are not followed.
 * @throws FootageRefusal `truncated` where they do.
 */
async function indexFrames(track: InputVideoTrack, size: number): Promise<FrameIndex> {
  const sink = new EncodedPacketSink(track);
  const frames: { timestamp: number; key: boolean }[] = [];
  let [bytes, packets] = [0, 0];
  for await (const packet of sink.packets(undefined, undefined, { metadataOnly: true })) {
    bytes += packet.byteLength;
    packets++;
    if (bytes > size || packets > size) throw refusal.truncated();
    if (packets % packetsAtOnce === 0) await new Promise((resolve) => setTimeout(resolve));
    // An edit list puts frames that are decoded but never shown before zero.
    if (packet.timestamp < -1e-6) continue;
    frames.push({ timestamp: packet.timestamp, key: packet.type === 'key' });
  }
  frames.sort((a, b) => a.timestamp - b.timestamp);
  return {
    timestamps: Float64Array.from(frames, (frame) => frame.timestamp),
    keyFrames: Uint32Array.from(frames.flatMap((frame, n) => (frame.key ? [n] : []))),
  };
}

/** A file without a declared length that was cut short ends well before the time its header names. */
async function requireWhole(track: InputVideoTrack) {
  const promised = await track.getDurationFromMetadata();
  const found = await track.computeDuration();
  if (promised && found < promised * 0.98 - 0.1) throw refusal.truncated();
}

async function gather(
  input: Input,
  track: InputVideoTrack,
  index: FrameIndex,
): Promise<Omit<FootageFacts, 'timecode'>> {
  const { timestamps } = index;
  const count = timestamps.length;
  const end = await track.computeDuration();
  const steps = Array.from({ length: count - 1 }, (_, n) => timestamps[n + 1] - timestamps[n]).sort(
    (a, b) => a - b,
  );
  const meanStep = count > 1 ? (timestamps[count - 1] - timestamps[0]) / (count - 1) : end - timestamps[0];
  const space = await track.getColorSpace();
  return {
    container: (await input.getFormat()).name,
    codec: decodableCodecs[(await track.getCodec())!],
    width: await track.getDisplayWidth(),
    height: await track.getDisplayHeight(),
    rotation: await track.getRotation(),
    rate: rateFromMeasured(meanStep > 0 ? 1 / meanStep : 25),
    constantRate: count < 3 || steps[steps.length - 1] - steps[0] < 0.002,
    duration: Math.max(end, timestamps[count - 1] + meanStep) - timestamps[0],
    colour: {
      matrix: colourMatrix(space.matrix ?? null, await track.getDisplayHeight()),
      fullRange: space.fullRange ?? false,
    },
    squarePixels: await hasSquarePixels(track),
    depth: isDeep((await track.getCodecParameterString()) ?? '') ? 10 : 8,
    hasSound: (await input.getAudioTracks()).length > 0,
    index,
  };
}

/** A timecode track's, or that of the tag that Matroska files have (RFC 9559 names none; common practice, no source). */
async function timecodeOf(
  input: Input,
  rate: Rate,
  read: ReadRange,
  size: number,
): Promise<SourceTimecode | null> {
  const track = await readTimecodeTrack(read, size).catch(() => null);
  if (track) return track;
  const { raw } = await input.getMetadataTags();
  return timecodeWritten(raw?.TIMECODE ?? raw?.timecode, rate);
}

/** @param text as a tag says it. @returns null where it is no timecode at this rate. */
export function timecodeWritten(text: unknown, rate: Rate): SourceTimecode | null {
  if (typeof text !== 'string') return null;
  try {
    return sourceTimecodeFrom(text, rate);
  } catch {
    return null;
  }
}

/** Files that do not say are taken as players take them: BT.709 from 720 lines up, BT.601 below (common practice). */
function colourMatrix(name: string | null, height: number): ColourMatrix {
  if (name === 'bt709') return 'bt709';
  if (name === 'bt2020-ncl') return 'bt2020';
  if (name === 'smpte170m' || name === 'bt470bg') return 'bt601';
  return height >= 720 ? 'bt709' : 'bt601';
}
