import { open, rm } from 'node:fs/promises';
import path from 'node:path';
import {
  ALL_FORMATS,
  EncodedAudioPacketSource,
  EncodedPacketSink,
  EncodedVideoPacketSource,
  FilePathSource,
  FilePathTarget,
  Input,
  type InputVideoTrack,
  Mp4OutputFormat,
  Output,
  type StreamTargetChunk,
  WebMOutputFormat,
} from 'mediabunny';
import yauzl from 'yauzl';
import { rateFromMeasured, secondsAt } from '@/core/time/rate';
import { ZipOut } from '@/footage/zip-out';
import { joinCopied, joinPictureFiles, timecodeIn } from './ffmpeg';

/** Why parts cannot be joined, as a sentence. */
export class CannotJoin extends Error {}

/**
 * Puts the parts of an export together without encoding anything again: all frames in their order, each at the time that it has
 * in one run, with the sound of the first part, which has all of it.
 *
 * @param parts files in their order, of one format. @param to a file that is written anew.
 * @throws CannotJoin where they do not belong together.
 */
export async function joinParts(parts: readonly string[], to: string): Promise<void> {
  const ending = path.extname(parts[0]).toLowerCase();
  switch (ending) {
    case '.zip':
      return joinZips(parts, to);
    case '.webm':
    case '.mp4':
      return joinVideos(parts, to, ending);
    case '.mov':
    case '.mkv':
      return joinPictureFiles(parts, to, ending.slice(1) as 'mov' | 'mkv');
    default:
      throw new CannotJoin(`Parts of ${ending || 'such'} files are not joined.`);
  }
}

/** Numbered pictures, whose names go on from part to part. */
async function joinZips(parts: readonly string[], to: string) {
  const handle = await open(to, 'w');
  const sink = new WritableStream<StreamTargetChunk>({
    write: async ({ data, position }) => void (await handle.write(data, 0, data.length, position)),
  });
  const zip = new ZipOut(sink);
  const names = new Set<string>();
  try {
    for (const part of parts) {
      const archive = await yauzl.openPromise(part, { lazyEntries: true, autoClose: false }).catch(() => {
        throw new CannotJoin(`${part} is not a complete ZIP. Write that part again.`);
      });
      try {
        for await (const entry of archive.eachEntry()) {
          if (names.has(entry.fileName))
            throw new CannotJoin(
              `${path.basename(part)} has ${entry.fileName}, which a part before it has too.`,
            );
          names.add(entry.fileName);
          const chunks: Buffer[] = [];
          for await (const chunk of await archive.openReadStreamPromise(entry)) chunks.push(chunk as Buffer);
          await zip.add(entry.fileName, Buffer.concat(chunks));
        }
      } finally {
        archive.close();
      }
    }
    await zip.finish();
  } finally {
    await handle.close();
  }
}

/** Videos with packets that hang on others, each part from a key frame on. */
async function joinVideos(parts: readonly string[], to: string, ending: '.webm' | '.mp4') {
  using first = new Input({ source: new FilePathSource(parts[0]), formats: ALL_FORMATS });
  const { track, codec, config } = await videoOf(first, parts[0]);
  const audio = await first.getPrimaryAudioTrack();
  const audioCodec = await audio?.getCodec();
  const timecode = await timecodeIn(parts[0]);
  // What ffmpeg has written, it puts to the pictures again: sound that begins before them, and a track for the timecode.
  const later = ending === '.mp4' && (audio !== null || timecode !== null);
  const pictures = later ? `${to}.pictures` : to;
  const output = new Output({
    format: ending === '.webm' ? new WebMOutputFormat() : new Mp4OutputFormat({ fastStart: 'in-memory' }),
    target: new FilePathTarget(pictures),
  });
  const stats = await track.computePacketStats();
  const rate = rateFromMeasured(stats.averagePacketRate);
  const video = new EncodedVideoPacketSource(codec);
  output.addVideoTrack(video, { frameRate: rate.num / rate.den });
  const sound = audio && audioCodec && !later ? new EncodedAudioPacketSource(audioCodec) : null;
  if (sound) output.addAudioTrack(sound);
  if (ending === '.webm' && timecode) output.setMetadataTags({ raw: { TIMECODE: timecode } });
  try {
    await output.start();
    let written = 0;
    for (const part of parts) {
      using input = new Input({ source: new FilePathSource(part), formats: ALL_FORMATS });
      const own = await videoOf(input, part);
      if (own.codec !== codec || !sameConfig(own.config, config))
        throw new CannotJoin(
          `${path.basename(part)} is encoded otherwise than the first part. Write all parts with one version of Chromium and ffmpeg.`,
        );
      let count = 0;
      for await (const packet of new EncodedPacketSink(own.track).packets()) {
        const frame = written + Math.round((packet.timestamp * rate.num) / rate.den);
        const timestamp = secondsAt(frame, rate);
        const duration = secondsAt(frame + 1, rate) - timestamp;
        await video.add(packet.clone({ timestamp, duration }), { decoderConfig: config });
        count++;
      }
      if (count === 0) throw new CannotJoin(`${path.basename(part)} has no pictures. Write that part again.`);
      written += count;
    }
    if (sound && audio) {
      const decoderConfig = (await audio.getDecoderConfig()) ?? undefined;
      for await (const packet of new EncodedPacketSink(audio).packets())
        await sound.add(packet, { decoderConfig });
    }
    await output.finalize();
    if (later) await joinCopied(pictures, audio ? parts[0] : null, timecode, to);
  } finally {
    if (later) await rm(pictures, { force: true });
  }
}

async function videoOf(input: Input, part: string) {
  const track: InputVideoTrack | null = (await input.canRead().catch(() => false))
    ? await input.getPrimaryVideoTrack()
    : null;
  const codec = await track?.getCodec();
  const config = (await track?.getDecoderConfig()) ?? undefined;
  if (!track || !codec) throw new CannotJoin(`${path.basename(part)} cannot be read. Write that part again.`);
  return { track, codec, config };
}

function sameConfig(a: VideoDecoderConfig | undefined, b: VideoDecoderConfig | undefined): boolean {
  const bytes = (config: VideoDecoderConfig | undefined) => {
    const description = config?.description;
    if (!description) return '';
    const view = ArrayBuffer.isView(description)
      ? Buffer.from(description.buffer, description.byteOffset, description.byteLength)
      : Buffer.from(description as ArrayBuffer);
    return view.toString('base64');
  };
  return a?.codedWidth === b?.codedWidth && a?.codedHeight === b?.codedHeight && bytes(a) === bytes(b);
}
