import {
  EncodedAudioPacketSource,
  type EncodedPacket,
  EncodedPacketSink,
  EncodedVideoPacketSource,
  FilePathSource,
  FilePathTarget,
  Input,
  type InputAudioTrack,
  MkvOutputFormat,
  MovOutputFormat,
  Mp4OutputFormat,
  Output,
  type OutputFormat,
  WebMOutputFormat,
} from 'mediabunny';
import { type FrameIndex, keyFrameFor } from '@/core/time/frame-index';
import { containerFormats } from './facts';

/** A part of a video, as it was written. */
export interface WrittenPart {
  /** The frame of the whole that is its first, and how many it has. */
  first: number;
  count: number;
}

/** s by which times may differ and still be the same frame's. */
const near = 1e-6;

/**
 * Writes the part of a video that holds some of its frames, its sound along, without encoding anything anew: from the
 * key frame before the first of them to the last, and on to where no frame between is missing.
 *
 * @param index of the whole.
 * @param to path of the new file; its container is the old one's.
 * @returns null where the part would be all of it, or its container or codec cannot be written; nothing is left then.
 */
export async function writePartOfVideo(
  file: string,
  index: FrameIndex,
  [from, last]: readonly [from: number, last: number],
  to: string,
): Promise<WrittenPart | null> {
  const { timestamps } = index;
  const first = keyFrameFor(index, from);
  if (first === 0 && last >= timestamps.length - 1) return null;
  using input = new Input({ source: new FilePathSource(file), formats: containerFormats });
  const track = await input.getPrimaryVideoTrack();
  const format = formatFor((await input.getFormat()).name);
  const codec = await track?.getCodec();
  if (!track || !format || !codec || !format.getSupportedVideoCodecs().includes(codec)) return null;
  const zero = timestamps[first];
  const sink = new EncodedPacketSink(track);
  const start = await sink.getKeyPacket(zero + near, { verifyKeyPackets: true });
  if (!start || Math.abs(start.timestamp - zero) > near) return null;
  const count = await packetsNeeded(sink, start, timestamps, first, last);
  if (count === null || (first === 0 && count === timestamps.length)) return null;
  const output = new Output({ format, target: new FilePathTarget(to) });
  const video = new EncodedVideoPacketSource(codec);
  output.addVideoTrack(video, { rotation: await track.getRotation() });
  const heard = await soundOf(await input.getPrimaryAudioTrack(), format, output);
  await output.start();
  const config = (await track.getDecoderConfig()) ?? undefined;
  let written = 0;
  for await (const packet of sink.packets(start)) {
    if (packet.timestamp < zero - near) continue;
    const timestamp = Math.max(0, packet.timestamp - zero);
    await video.add(packet.clone({ timestamp }), { decoderConfig: config });
    if (++written === count) break;
  }
  if (heard) await addSound(heard, zero, timestamps[first + count - 1]);
  await output.finalize();
  return { first, count };
}

function formatFor(container: string): OutputFormat | null {
  switch (container) {
    case 'MP4':
      return new Mp4OutputFormat();
    case 'QuickTime File Format':
      return new MovOutputFormat();
    case 'WebM':
      return new WebMOutputFormat();
    case 'Matroska':
      return new MkvOutputFormat();
    default:
      return null;
  }
}

/**
 * How many packets from a key frame on, as they are decoded, hold all frames up to one and none without those before it; frames
 * that are shown before the key frame hang on what came before it, and are left out.
 */
async function packetsNeeded(
  sink: EncodedPacketSink,
  start: EncodedPacket,
  timestamps: ArrayLike<number>,
  first: number,
  last: number,
): Promise<number | null> {
  let [count, latest] = [0, -Infinity];
  for await (const { timestamp } of sink.packets(start, undefined, { metadataOnly: true })) {
    if (timestamp < start.timestamp - near) continue;
    count++;
    latest = Math.max(latest, timestamp);
    if (count > last - first && Math.abs(timestamps[first + count - 1] - latest) <= near) return count;
  }
  return null;
}

interface Heard {
  track: InputAudioTrack;
  source: EncodedAudioPacketSource;
}

async function soundOf(
  track: InputAudioTrack | null,
  format: OutputFormat,
  output: Output,
): Promise<Heard | null> {
  const codec = await track?.getCodec();
  if (!track || !codec || !format.getSupportedAudioCodecs().includes(codec)) return null;
  const source = new EncodedAudioPacketSource(codec);
  output.addAudioTrack(source);
  return { track, source };
}

async function addSound({ track, source }: Heard, zero: number, end: number) {
  const config = (await track.getDecoderConfig()) ?? undefined;
  for await (const packet of new EncodedPacketSink(track).packets()) {
    if (packet.timestamp < zero - near) continue;
    if (packet.timestamp > end) break;
    const timestamp = Math.max(0, packet.timestamp - zero);
    await source.add(packet.clone({ timestamp }), { decoderConfig: config });
  }
}
