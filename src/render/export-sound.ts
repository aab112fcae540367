import { rateOf } from '@/core/time/rate';
import type { ExportSoundCodec } from '@/core/formats/export-formats';
import { fileNameOf } from '@/core/formats/file-name';
import type { CrossingDocument } from '@/core/document/tables';
import { sampleOfFrame } from '@/core/sound/behind';
import { followsEdge } from '@/core/sound/signature';
import { pairs } from '@/core/sound/downmix';
import { LoudnessMeter } from '@/core/sound/loudness';
import type { Mixer } from '@/core/sound/mixer';
import { usualCeiling } from '@/core/sound/limiter';
import { decibelsOf, gainOf, type Stereo } from '@/core/sound/stereo';
import { mixRate } from '@/core/model/limits';
import { ChunkedOut } from '@/footage/chunked-out';
import { opusPeak } from '@/footage/opus-peak';
import { wavOf } from '@/footage/sound-writer';
import { ZipOut } from '@/footage/zip-out';
import type { ShotMedia } from '@/wire/answers';
import { measureCoverage } from './coverage';
import { PictureEngine } from './engine';
import type { ExportSink } from './export-sink';
import { SoundEngine } from './sound';

/** Loudnesses that an export may be brought to, LUFS: ATSC A/85, EBU R 128, and for the web (common practice, no source). */
export const loudnessTargets = [-24, -23, -16, -14] as const;

/** Loudness that an export is brought to, LUFS; null: as it is mixed. */
export type LoudnessTarget = (typeof loudnessTargets)[number] | null;

/** Times that the gain is corrected: what the limiter takes is missed by the first. */
const corrections = 3;

/** What an export's sound needs to know. */
export interface SoundOrder {
  document: CrossingDocument;
  media: readonly ShotMedia[];
  /** First crossing frame that is written, and how many are. */
  first: number;
  count: number;
  target: LoudnessTarget;
  /** What it is written as. */
  codec: ExportSoundCodec;
  /** Two, or the six of 5.1. */
  channels: 2 | 6;
}

/** Highest true peak of a sound once it is encoded, dBTP, and how much further it is held down to stay below. */
const [highestPeak, margin] = [-1, 0.05];
/** How often a sound is encoded to find out how far it has to be held down. */
const encodings = 3;

/** A crossing's sound as it is written out, from the first frame's beginning to the last one's end. */
export class ExportSound {
  private gain = 1;
  private ceiling = usualCeiling;

  private constructor(
    private readonly engine: SoundEngine,
    /** Crossing samples. */
    readonly from: number,
    readonly to: number,
    readonly channels: 2 | 6,
  ) {}

  static async open({
    document,
    media,
    first,
    count,
    target,
    codec,
    channels,
  }: SoundOrder): Promise<ExportSound> {
    const engine = new SoundEngine(document, media);
    const rate = rateOf(document.crossing);
    if (Object.values(document.pieces).some(followsEdge))
      engine.takeCoverage(await coverageOf(document, media));
    const [from, to] = [sampleOfFrame(first, rate), sampleOfFrame(first + count, rate)];
    const sound = new ExportSound(engine, from, to, channels);
    if (target !== null) await sound.bringTo(target);
    if (codec === 'opus') await sound.leaveRoomForOpus();
    return sound;
  }

  /** Turns it up or down until it is as loud as is asked, LUFS. */
  private async bringTo(target: number) {
    for (let k = 0; k < corrections; k++) {
      const meter = new LoudnessMeter(this.channels);
      for await (const part of partsOf(this, null, () => {})) meter.add(part);
      const integrated = meter.integrated();
      if (!Number.isFinite(integrated) || Math.abs(integrated - target) < 0.05) break;
      this.gain *= gainOf(Math.max(-50, Math.min(40, target - integrated)));
    }
  }

  /** What is lost in encoding lifts peaks: holds the mix down by as much as they come out over −1 dBTP. */
  private async leaveRoomForOpus() {
    for (let k = 0; k < encodings; k++) {
      const peak = decibelsOf(await opusPeak(partsOf(this, null, () => {}) as AsyncGenerator<Stereo>));
      if (peak <= highestPeak) return;
      this.ceiling -= peak - highestPeak + margin;
    }
  }

  /** The whole from its beginning, part by part, mixed to two channels. @param track only that one; null: the mix. */
  mixer(track: number | null = null): Mixer {
    return this.engine.mixer(this.from, null, this.settings(track));
  }

  /** The same for each pair of channels that it has. */
  mixers(track: number | null): Mixer[] {
    if (this.channels === 2) return [this.mixer(track)];
    const settings = this.settings(track);
    return pairs.map((pair) => this.engine.mixer(this.from, null, { ...settings, pair }));
  }

  private settings(track: number | null) {
    return {
      gain: this.gain,
      ceiling: this.ceiling,
      only: track === null ? null : (piece: { track: number }) => piece.track === track,
    };
  }

  close() {
    this.engine.close();
  }
}

const coverageCache = 32e6;

async function coverageOf(document: CrossingDocument, media: readonly ShotMedia[]) {
  const engine = new PictureEngine(media, coverageCache);
  try {
    return (await measureCoverage(document, engine, () => true))!;
  } finally {
    await engine.close();
  }
}

/** Samples that are mixed at once. */
const part = mixRate;

/** A crossing's sound, part by part, channel by channel. @param onShare told how much of it is done, 0 to 1. */
async function* partsOf(
  sound: ExportSound,
  track: number | null,
  onShare: (share: number) => void,
): AsyncGenerator<readonly Float32Array<ArrayBuffer>[]> {
  const mixers = sound.mixers(track);
  for (let at = sound.from; at < sound.to; at += part) {
    const count = Math.min(part, sound.to - at);
    const channels: Float32Array<ArrayBuffer>[] = [];
    for (const mixer of mixers) channels.push(...(await mixer.next(count)));
    yield channels;
    onShare(Math.min(1, (at + part - sound.from) / (sound.to - sound.from)));
  }
}

const wavOfTrack = (
  sound: ExportSound,
  track: number | null,
  timeReference: number | null,
  onShare: (share: number) => void,
) =>
  wavOf(
    { length: sound.to - sound.from, channels: sound.channels, timeReference },
    partsOf(sound, track, onShare),
  );

/** Writes the mix as WAV. @param timeReference samples since midnight with which it begins; null: the file does not say. */
export async function writeMix(
  sound: ExportSound,
  stream: ReturnType<ExportSink['stream']>,
  timeReference: number | null,
  onShare: (share: number) => void,
) {
  const out = new ChunkedOut(stream);
  try {
    for await (const bytes of wavOfTrack(sound, null, timeReference, onShare)) {
      out.take(null, bytes);
      await out.flushIfLarge();
    }
    await out.finish();
  } catch (error) {
    await out.cancel().catch(() => {
      // What made it fail is thrown already.
    });
    throw error;
  }
}

/** Characters of the pieces' names in a stem's file name. */
const longestStem = 60;

/** Writes each track that sounds as a WAV, called by its number and what lies on it, together in a ZIP. */
export async function writeTracks(
  document: CrossingDocument,
  sound: ExportSound,
  stream: ReturnType<ExportSink['stream']>,
  timeReference: number | null,
  onShare: (share: number) => void,
) {
  const zip = new ZipOut(stream);
  const heard = Object.values(document.pieces)
    .filter(({ muted }) => !muted)
    .sort((a, b) => a.start - b.start);
  const tracks = [...new Set(heard.map(({ track }) => track))].sort((a, b) => a - b);
  try {
    for (const [k, track] of tracks.entries()) {
      const names = new Set(heard.filter((piece) => piece.track === track).map(({ name }) => name));
      const wav = wavOfTrack(sound, track, timeReference, (share) => onShare((k + share) / tracks.length));
      const name = fileNameOf([...names].join(', ').slice(0, longestStem).trim(), 'Sound');
      await zip.addPieces(`${track + 1} ${name}.wav`, wav);
    }
    await zip.finish();
  } catch (error) {
    await zip.cancel().catch(() => {
      // What made it fail is thrown already.
    });
    throw error;
  }
}
