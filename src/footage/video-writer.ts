import {
  type AudioSampleSource,
  canEncodeVideo,
  Mp4OutputFormat,
  Output,
  StreamTarget,
  type StreamTargetChunk,
  VideoSample,
  VideoSampleSource,
  WebMOutputFormat,
} from 'mediabunny';
import { rgbaToI420 } from '@/core/colour/matrix';
import type { VideoColour } from '@/core/model/shot';
import { secondsAt } from '@/core/time/rate';
import type { Rate } from '@/core/model/time';
import {
  type Encoding,
  type ExportFormat,
  exportFormats,
  formatOf,
  isVideo,
  type VideoFormat,
  exportQualities,
  type ExportQuality,
  type ExportSoundCodec,
} from '@/core/formats/export-formats';
import { type Stereo } from '@/core/sound/stereo';
import { mixRate } from '@/core/model/limits';
import { spend } from './spent';
import { warmEncoders } from './warmed-encoder';
import { addSound, opusBitrate, opusPackets, opusSource } from './sound-writer';

/** Exports carry BT.709 in limited range, whatever the shots carried. */
export const exportColour: VideoColour = { matrix: 'bt709', fullRange: false };

/** Bits a second. */
export function exportBitrate(width: number, height: number, rate: Rate, quality: ExportQuality): number {
  const { bitsPerPixel, least } = exportQualities[quality];
  return Math.round(Math.max(least * 1e6, (width * height * bitsPerPixel * rate.num) / rate.den));
}

/** True when this browser encodes the format at the size. */
export function canWrite(format: ExportFormat, width: number, height: number, rate: Rate): Promise<boolean> {
  const { codec } = exportFormats[format];
  // Pictures and plain sound can always be written.
  if (!codec) return Promise.resolve(true);
  return canEncodeVideo(codec, {
    width,
    height,
    bitrate: exportBitrate(width, height, rate, 'fine'),
  });
}

/**
 * Bytes that an export will take, about: exact where nothing is compressed, from the bitrate for videos; null for
 * pictures without loss, which depend on what they show.
 */
export function expectedBytes(
  format: ExportFormat,
  { width, height, rate, frames, quality }: Omit<VideoFacts, 'soundFrames' | 'timecode'>,
  sound: ExportSoundCodec,
): number | null {
  const seconds = secondsAt(frames, rate);
  const { writer, channels, depth, sent, encoding } = formatOf(format);
  if (writer === 'mix') return Math.round(seconds * mixRate * channels * (depth / 8));
  if (sent !== null && sent !== 'pictures' && encoding !== 'hevc' && encoding !== 'av1')
    return Math.round((seconds * masterBits(encoding!) * width * height * rate.num) / rate.den / 8);
  if (!isVideo(format)) return null;
  const heard = sound === 'none' ? 0 : opusBitrate;
  return Math.round((seconds * (exportBitrate(width, height, rate, quality) + heard)) / 8);
}

/**
 * Bits a pixel of a master, about: 220 Mbit/s of ProRes 422 HQ and 330 of ProRes 4444 at 1920 × 1080 and 29.97 frames a
 * second, 440 of DNxHR HQX at 60 (from memory of the makers' tables).
 */
const masterBits = (encoding: Encoding) => (encoding === 'prores-4444' ? 5.3 : 3.5);

/** What a video file is of. */
export interface VideoFacts {
  /** Even numbers of px. */
  width: number;
  height: number;
  rate: Rate;
  /** How many pictures will come, for which the file's index is given room at its beginning. */
  frames: number;
  quality: ExportQuality;
  /** How many frames its sound is as long as; 0: it has none. */
  soundFrames: number;
  /** Of its first frame; null: it says none. Only in WebM: an MP4 has a track for it, which ffmpeg adds. */
  timecode: string | null;
}

/** Bytes that are gathered before they are written out. */
const chunkSize = 4 * 1024 * 1024;

/** Encodes pictures one after the other into a video file that is written out as it grows. */
export class VideoWriter {
  private readonly output: Output;
  private readonly source: VideoSampleSource;
  private readonly planes: Uint8Array;
  private readonly transparent: boolean;
  private written = 0;

  private readonly width: number;
  private readonly height: number;
  private readonly rate: Rate;
  private readonly sound: AudioSampleSource | null;
  private heardTo = 0;

  /** @param sink takes pieces of the file, each with its place; the first ones may be written over at the end. */
  constructor(
    format: VideoFormat,
    { width, height, rate, frames, quality, soundFrames, timecode }: VideoFacts,
    sink: WritableStream<StreamTargetChunk>,
  ) {
    [this.width, this.height, this.rate] = [width, height, rate];
    const { codec, extension, of } = exportFormats[format];
    warmEncoders();
    this.transparent = of === 'cut-out';
    const colours = (width * height * 3) / 2;
    this.planes = new Uint8Array(colours + (this.transparent ? width * height : 0));
    this.output = new Output({
      format: extension === 'webm' ? new WebMOutputFormat() : new Mp4OutputFormat({ fastStart: 'reserve' }),
      target: new StreamTarget(sink, { chunked: true, chunkSize }),
    });
    this.source = new VideoSampleSource({
      codec,
      bitrate: exportBitrate(width, height, rate, quality),
      keyFrameInterval: 1,
      latencyMode: 'quality',
      hardwareAcceleration: 'no-preference',
      alpha: this.transparent ? 'keep' : 'discard',
    });
    this.output.addVideoTrack(this.source, { frameRate: rate.num / rate.den, maximumPacketCount: frames });
    if (timecode && extension === 'webm') this.output.setMetadataTags({ raw: { TIMECODE: timecode } });
    this.sound = soundFrames > 0 ? opusSource() : null;
    if (this.sound)
      this.output.addAudioTrack(this.sound, {
        maximumPacketCount: opusPackets(secondsAt(soundFrames, rate)),
      });
  }

  start(): Promise<void> {
    return this.output.start();
  }

  /**
   * @param pixels display values, 4 bytes a pixel, top row first, of a cut-out with straight alpha; or planes of Y, Cb and Cr
   *   in {@link exportColour}, 4:2:0, one after the other.
   */
  async add(pixels: Uint8Array) {
    const luma = this.width * this.height;
    const ready = pixels.length === luma * 1.5;
    const converting = performance.now();
    if (!ready) {
      rgbaToI420(pixels, this.width, this.height, exportColour, this.planes.subarray(0, luma * 1.5));
      if (this.transparent) for (let i = 0; i < luma; i++) this.planes[luma * 1.5 + i] = pixels[4 * i + 3];
    }
    spend('convert', converting);
    const start = secondsAt(this.written, this.rate);
    const sample = new VideoSample(ready ? pixels : this.planes, {
      format: this.transparent ? 'I420A' : 'I420',
      codedWidth: this.width,
      codedHeight: this.height,
      timestamp: start,
      duration: secondsAt(this.written + 1, this.rate) - start,
      colorSpace: { matrix: 'bt709', primaries: 'bt709', transfer: 'bt709', fullRange: false },
    });
    const encoding = performance.now();
    try {
      await this.source.add(sample);
      spend('encode', encoding);
    } finally {
      sample.close();
    }
    this.written++;
  }

  /** The sound that follows on what was given so far; only where the file was begun with sound. */
  async addSound(sound: Stereo) {
    await addSound(this.sound!, sound, this.heardTo);
    this.heardTo += sound[0].length;
  }

  /** Writes out what is left; the file is whole then. */
  async finish() {
    await this.output.finalize();
  }

  /** Gives up; nothing is kept. */
  async cancel() {
    await this.output.cancel();
  }
}
