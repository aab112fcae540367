import { rateOf } from '@/core/time/rate';
import { applyChanges, playedRange } from '@/core/document/document';
import type { CrossingDocument, PieceRow } from '@/core/document/tables';
import type { RowChange } from '@/core/document/edit';
import type { Shot } from '@/core/model/shot';
import type { Heard } from '@/core/checks/sound-checks';
import { opennessOf, sampleOfFrame, samplesPerFrame } from '@/core/sound/behind';
import { LoudnessMeter, truePeak } from '@/core/sound/loudness';
import { make } from '@/core/sound/makers';
import type { Pair } from '@/core/sound/downmix';
import { Mixer, soundOf } from '@/core/sound/mixer';
import { peaksOf, type PieceWave } from '@/core/sound/peaks';
import { decibelsOf, quietest, silence, type Stereo } from '@/core/sound/stereo';
import { mixRate } from '@/core/model/limits';
import { pieceSignature } from '@/core/sound/signature';
import {
  type SoundScene,
  type SoundSource,
  unpanned,
  type Voice,
  voiceOf,
  voicesOf,
} from '@/core/sound/voice';
import { SoundReader } from '@/footage/sound-reader';
import { LRUCache } from 'lru-cache';
import { letMessagesIn } from './let-messages-in';
import { WaveStore } from './wave-store';
import type { ShotMedia, SoundListing } from '@/wire/answers';

/** A part of the mix with how loud it is. */
export interface MixedPart {
  sound: Stereo;
  /** Highest sample of either side, dBFS. */
  peaks: [left: number, right: number];
  /** Loudness of the 400 ms up to here, LUFS. */
  momentary: number;
}

/** How loud all that is played is, and its highest peak. */
export interface Loudness {
  /** LUFS; −∞ where nothing is heard. */
  integrated: number;
  /** dBTP. */
  peak: number;
  /** Highest sample of the sum before it is limited, dBFS, and which crossing sample it is. */
  highest: number;
  highestAt: number;
}

/** Samples that are mixed at once where no one listens; between two of them playback has its turn. */
const longPart = mixRate / 4;

/** Samples of an end that is looked at. */
const endLength = 240;

/** Mean level of both sides, dBFS. */
function levelOf(sound: Stereo): number {
  let sum = 0;
  for (const channel of sound) for (let i = 0; i < channel.length; i++) sum += channel[i] ** 2;
  return decibelsOf(Math.sqrt(sum / (2 * sound[0].length)));
}

/** Most peaks of a piece's wave: more than it has px. */
const mostPeaks = 1200;

const madeKept = 24;

/** Mixes a crossing's sound from its document, its shots and the sounds that were brought in; lives in a worker. */
export class SoundEngine {
  private readonly readers = new Map<string, Promise<SoundReader | null>>();
  private readonly made = new LRUCache<string, Stereo>({ max: madeKept });
  private shots: Readonly<Record<string, Shot>> = {};
  private media: Readonly<Record<string, ShotMedia>> = {};
  private coverage: ArrayLike<number> = [];
  private draft: readonly RowChange[] | null = null;
  /** Waves by piece, with what they were drawn from. */
  private readonly drawn = new Map<string, { signature: string; wave: PieceWave }>();
  /** Waves of earlier visits. */
  private readonly kept = new WaveStore();

  constructor(
    private document: CrossingDocument,
    media: readonly ShotMedia[],
  ) {
    this.takeShots(media);
  }

  takeShots(media: readonly ShotMedia[]) {
    this.media = Object.fromEntries(media.map((each) => [each.shot.id, each]));
    this.shots = Object.fromEntries(media.map(({ shot }) => [shot.id, shot]));
  }

  takeCoverage(coverage: ArrayLike<number>) {
    this.coverage = coverage;
  }

  change(changes: readonly RowChange[]) {
    this.draft = null;
    this.document = applyChanges(this.document, changes);
  }

  replaceDocument(document: CrossingDocument) {
    this.draft = null;
    this.document = document;
  }

  /** The document as it would be with these changes, while a hand is still dragging; null ends that. */
  setDraft(changes: readonly RowChange[] | null) {
    this.draft = changes;
  }

  /**
   * A mixer from a crossing sample on.
   *
   * @param alone the piece that is heard alone, or null.
   * @param gain factor of the sum before it is limited.
   * @param ceiling highest true peak that is let through, dBTP.
   * @param only which pieces are mixed; null: all.
   * @param pair of the channels of 5.1; null: all mixed to two.
   */
  mixer(
    from: number,
    alone: string | null,
    {
      gain,
      ceiling,
      only = null,
      pair = null,
    }: {
      gain?: number;
      ceiling?: number;
      only?: ((piece: PieceRow) => boolean) | null;
      pair?: Pair | null;
    } = {},
  ): Mixer {
    const voices = voicesOf(this.scene(), alone).filter(({ piece }) => !only || only(piece));
    if (!pair) return new Mixer(voices, this.read, from, { gain, ceiling });
    const read = (source: SoundSource, at: number, count: number) => this.read(source, at, count, pair);
    // The centre and low effects stand nowhere between left and right.
    const placed = pair === 'middle' ? voices.map(unpanned) : voices;
    return new Mixer(placed, read, from, { gain, ceiling });
  }

  /** The waves of all pieces as they will sound; those that sound as before are not mixed again. */
  async waves(): Promise<PieceWave[]> {
    const scene = this.scene();
    const { pieces } = scene.document;
    const waves: PieceWave[] = [];
    for (const id of this.drawn.keys()) if (!pieces[id]) this.drawn.delete(id);
    for (const piece of Object.values(pieces)) {
      const voice = voiceOf(scene, piece);
      if (!voice) continue;
      const signature = pieceSignature(scene.document, piece, this.coverage);
      const known = this.drawn.get(piece.id);
      let wave = known?.signature === signature ? known.wave : null;
      wave ??= await this.kept.get(piece.id, signature);
      if (!wave) {
        wave = await this.waveOf(voice);
        // While a hand drags it is another at every move.
        if (!this.draft) void this.kept.keep(signature, wave);
      }
      this.drawn.set(piece.id, { signature, wave });
      waves.push(wave);
    }
    return waves;
  }

  private async waveOf(voice: Voice): Promise<PieceWave> {
    // A sound may be hours longer than the crossing, which is all that is seen.
    const { crossing } = this.document;
    const end = sampleOfFrame(crossing.length, rateOf(crossing));
    const from = Math.min(Math.max(voice.from, 0), voice.to);
    const to = Math.max(from, Math.min(voice.to, end));
    const perPeak = Math.max(64, Math.ceil((to - from) / mostPeaks));
    const peaks = new Float32Array(2 * Math.ceil((to - from) / perPeak));
    const part = perPeak * Math.max(1, Math.floor(longPart / perPeak));
    for (let at = from; at < to; at += part) {
      const sound = await soundOf(voice, this.read, at, Math.min(part, to - at));
      peaks.set(peaksOf(sound, perPeak), (2 * (at - from)) / perPeak);
      await letMessagesIn();
    }
    const zero = voice.piece.start - voice.piece.inSample;
    return { id: voice.piece.id, from, to, zero, perPeak, peaks };
  }

  /** How loud all that is played is, or a stretch of it with a gain. */
  async loudness(stretch: { from: number; to: number; gain: number } | null = null): Promise<Loudness> {
    const { from, to, gain } = stretch ?? { ...this.played(), gain: 1 };
    const meter = new LoudnessMeter();
    const mixer = this.mixer(from, null, { gain });
    let peak = 0;
    for (let at = from; at < to; at += longPart) {
      const sound = await mixer.next(Math.min(longPart, to - at));
      meter.add(sound);
      peak = Math.max(peak, truePeak(sound));
      await letMessagesIn();
    }
    return {
      integrated: meter.integrated(),
      peak: decibelsOf(peak),
      highest: decibelsOf(mixer.highest),
      highestAt: mixer.highestAt,
    };
  }

  /** The pieces that are silent because the file they come from was deleted. */
  async missing(): Promise<string[]> {
    const { pieces, layers } = this.document;
    const found = await Promise.all(
      Object.values(pieces).map(async ({ id, source, sourceId }) => {
        if (source === 'made' || !sourceId) return null;
        if (source === 'layer') return this.media[layers[sourceId]?.shotId]?.deleted ? id : null;
        // What is out of reach now is not deleted: whoever needs it says so.
        const reader = await this.readerOf({ kind: source, id: sourceId }).catch(() => undefined);
        return reader === null ? id : null;
      }),
    );
    return found.filter((id) => id !== null);
  }

  /** How loud all that is played is, where its sum is highest, and how loud the ends of its pieces are. */
  async heard(): Promise<{ loudness: Loudness; heard: Heard }> {
    const scene = this.scene();
    const { from, to } = this.played();
    const pieces: Heard['pieces'][number][] = [];
    for (const voice of voicesOf(scene)) {
      const count = Math.min(endLength, voice.to - voice.from);
      if (count <= 0) continue;
      // What lies beyond all that is played is not heard.
      const levelAt = async (at: number) =>
        at + count <= from || at >= to ? quietest : levelOf(await soundOf(voice, this.read, at, count));
      pieces.push({
        ...{ id: voice.piece.id, from: voice.from, to: voice.to },
        ...{ startLevel: await levelAt(voice.from), endLevel: await levelAt(voice.to - count) },
      });
    }
    const [loudness, missing] = [await this.loudness(), await this.missing()];
    const { crossing } = scene.document;
    const perFrame = samplesPerFrame(rateOf(crossing));
    const frame = Math.floor(loudness.highestAt / perFrame);
    const highestAt = Math.min(crossing.length - 1, Math.max(0, frame));
    return { loudness, heard: { pieces, missing, highest: loudness.highest, highestAt } };
  }

  close() {
    for (const reader of this.readers.values()) void reader.then((each) => each?.close());
    this.readers.clear();
  }

  /** The crossing samples that are played. */
  private played(): { from: number; to: number } {
    const { document } = this.scene();
    const rate = rateOf(document.crossing);
    const [first, last] = playedRange(document);
    return { from: sampleOfFrame(first, rate), to: sampleOfFrame(last + 1, rate) };
  }

  private scene(): SoundScene {
    const { document, draft, shots, coverage } = this;
    return {
      document: draft ? applyChanges(document, draft) : document,
      shots,
      openness: opennessOf(coverage, rateOf(document.crossing)),
    };
  }

  private readonly read = async (
    source: SoundSource,
    from: number,
    count: number,
    pair: Pair | null = null,
  ): Promise<Stereo> => {
    if (source.kind !== 'made') {
      const reader = await this.readerOf(source);
      return reader ? reader.read(from, count, pair) : silence(count);
    }
    if (pair && pair !== 'front') return silence(count);
    const { maker, height, brightness, loudestAt, seed, madeLength } = source.piece;
    const settings = { maker, height, brightness, loudestAt, seed, length: madeLength };
    const name = JSON.stringify(settings);
    let sound = this.made.get(name);
    if (!sound) {
      sound = make(settings);
      this.made.set(name, sound);
    }
    const out = silence(count);
    const start = Math.max(0, from);
    sound.forEach((channel, side) =>
      out[side].set(channel.subarray(start, Math.max(start, from + count)), start - from),
    );
    return out;
  };

  private readerOf(source: { kind: 'file' | 'shot'; id: string }): Promise<SoundReader | null> {
    const name = `${source.kind} ${source.id}`;
    let reader = this.readers.get(name);
    if (!reader) {
      reader = source.kind === 'file' ? readerOfSound(source.id) : this.readerOfShot(source.id);
      this.readers.set(name, reader);
      reader.catch(() => this.readers.delete(name));
    }
    return reader;
  }

  /** Its sound begins where its first picture comes on; null where it has none, or is gone. */
  private async readerOfShot(id: string): Promise<SoundReader | null> {
    const media = this.media[id] ?? (await answerOrNull<ShotMedia>(`/api/shots/${id}`));
    if (!media || media.deleted || media.stills || !media.hasSound) return null;
    return new SoundReader(media.url, media.timestamps[0] ?? 0);
  }
}

/** @returns null for a sound that is gone. */
async function readerOfSound(id: string): Promise<SoundReader | null> {
  const sound = await answerOrNull<SoundListing>(`/api/sounds/${id}`);
  return sound && new SoundReader(sound.url, sound.lead);
}

/** What the server says of something; null where that is gone. */
async function answerOrNull<T>(address: string): Promise<T | null> {
  const answer = await fetch(address);
  if (answer.status === 404) return null;
  if (!answer.ok) throw new Error('Kiv’s server does not answer.');
  return (await answer.json()) as T;
}
