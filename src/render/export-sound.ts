import { rateOf } from '@/core/time/rate';
import type { ExportSoundCodec } from '@/core/formats/export-formats';
import type { CrossingDocument } from '@/core/document/tables';
import { sampleOfFrame } from '@/core/sound/behind';
import { followsEdge } from '@/core/sound/signature';
import type { Mixer } from '@/core/sound/mixer';
import { usualCeiling } from '@/core/sound/limiter';
import { decibelsOf, gainOf, type Stereo } from '@/core/sound/stereo';
import { mixRate } from '@/core/model/limits';
import { opusPeak } from '@/footage/opus-peak';
import { WavWriter, wavOf } from '@/footage/sound-writer';
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
}

/** Highest true peak of a sound once it is encoded, dBTP, and how much further it is held down to stay below. */
const [highestPeak, margin] = [-1, 0.05];
/** How often a sound is encoded to find out how far it has to be held down. */
const encodings = 3;

/** A crossing's sound as it is written out, from the first frame's beginning to the last one's end. */
export class ExportSound {
  private constructor(
    private readonly engine: SoundEngine,
    /** Crossing samples. */
    readonly from: number,
    readonly to: number,
    private readonly gain: number,
    private ceiling: number,
  ) {}

  static async open({ document, media, first, count, target, codec }: SoundOrder): Promise<ExportSound> {
    const engine = new SoundEngine(document, media);
    const rate = rateOf(document.crossing);
    if (Object.values(document.pieces).some(followsEdge))
      engine.takeCoverage(await coverageOf(document, media));
    const [from, to] = [sampleOfFrame(first, rate), sampleOfFrame(first + count, rate)];
    let gain = 1;
    for (let k = 0; target !== null && k < corrections; k++) {
      const { integrated } = await engine.loudness({ from, to, gain });
      if (!Number.isFinite(integrated) || Math.abs(integrated - target) < 0.05) break;
      gain *= gainOf(Math.max(-50, Math.min(40, target - integrated)));
    }
    const sound = new ExportSound(engine, from, to, gain, usualCeiling);
    if (codec === 'opus') await sound.leaveRoomForOpus();
    return sound;
  }

  /** What is lost in encoding lifts peaks: holds the mix down by as much as they come out over −1 dBTP. */
  private async leaveRoomForOpus() {
    for (let k = 0; k < encodings; k++) {
      const peak = decibelsOf(await opusPeak(partsOf(this, null, () => {})));
      if (peak <= highestPeak) return;
      this.ceiling -= peak - highestPeak + margin;
    }
  }

  /** The whole from its beginning, part by part. @param track only that one; null: the mix. */
  mixer(track: number | null = null): Mixer {
    return this.engine.mixer(this.from, null, {
      gain: this.gain,
      ceiling: this.ceiling,
      only: track === null ? null : (piece) => piece.track === track,
    });
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

/** A crossing's sound, part by part. @param onShare told how much of it is done, 0 to 1. */
async function* partsOf(
  sound: ExportSound,
  track: number | null,
  onShare: (share: number) => void,
): AsyncGenerator<Stereo> {
  const mixer = sound.mixer(track);
  for (let at = sound.from; at < sound.to; at += part) {
    yield await mixer.next(Math.min(part, sound.to - at));
    onShare(Math.min(1, (at + part - sound.from) / (sound.to - sound.from)));
  }
}

/** Writes the mix as WAV. */
export async function writeMix(
  sound: ExportSound,
  stream: ReturnType<ExportSink['stream']>,
  onShare: (share: number) => void,
) {
  const writer = new WavWriter(stream);
  try {
    await writer.start();
    for await (const each of partsOf(sound, null, onShare)) await writer.add(each);
    await writer.finish();
  } catch (error) {
    await writer.cancel().catch(() => {
      // What made it fail is thrown already.
    });
    throw error;
  }
}

/** Writes each track that sounds as a WAV, together in a ZIP. */
export async function writeTracks(
  document: CrossingDocument,
  sound: ExportSound,
  stream: ReturnType<ExportSink['stream']>,
  onShare: (share: number) => void,
) {
  const zip = new ZipOut(stream);
  const heard = Object.values(document.pieces).filter(({ muted }) => !muted);
  const tracks = [...new Set(heard.map(({ track }) => track))].sort((a, b) => a - b);
  try {
    for (const [k, track] of tracks.entries()) {
      const wav = wavOf(
        sound.to - sound.from,
        partsOf(sound, track, (share) => onShare((k + share) / tracks.length)),
      );
      await zip.addPieces(`track-${track + 1}.wav`, wav);
    }
    await zip.finish();
  } catch (error) {
    await zip.cancel().catch(() => {
      // What made it fail is thrown already.
    });
    throw error;
  }
}
