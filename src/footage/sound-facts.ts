import { ALL_FORMATS, Input, type InputAudioTrack, type Source } from 'mediabunny';
import { mostChannels } from '@/core/sound/downmix';
import { mixRate } from '@/core/model/limits';
import { leadOf } from './sound-lead';
import { FootageRefusal, refusal } from './refusal';
import { readTimeReference } from './timecode-track';

/** What a file says of its sound. */
export interface SoundFacts {
  container: string;
  codec: string;
  sampleRate: number;
  channels: number;
  /** Samples at the mix's rate. */
  length: number;
  /** s of the file before its sound begins, as what compresses it adds some. */
  lead: number;
  /** Samples since midnight, at its own rate, with which it begins; null: it does not say. */
  timeReference: number | null;
}

/** Codecs that the browser decodes. */
const decodable: Readonly<Record<string, string>> = {
  aac: 'AAC',
  opus: 'Opus',
  mp3: 'MP3',
  vorbis: 'Vorbis',
  flac: 'FLAC',
};

/** Longest sound, in s: 12 hours. */
const longest = 12 * 3600;

/**
 * Reads the facts of a file's first sound.
 *
 * @param head the file's first bytes, some thousands. @param size its bytes in all.
 * @throws FootageRefusal `not a sound` for what Kiv cannot read as it is, `codec` for what the browser does not decode,
 *   `truncated` where the file ends too early.
 */
export async function readSoundFacts(source: Source, head: Uint8Array, size: number): Promise<SoundFacts> {
  if (size === 0) throw refusal.empty();
  using input = new Input({ source, formats: ALL_FORMATS });
  try {
    if (!(await input.canRead().catch(() => false))) throw refusal.notSound();
    const track = await input.getPrimaryAudioTrack();
    if (!track) throw refusal.noSound();
    const codec = await track.getCodec();
    const name = codec && (decodable[codec] ?? (/^(pcm|ulaw|alaw)/.test(codec) ? 'PCM' : null));
    const channels = await track.getNumberOfChannels();
    // Beyond 5.1 only these have their channels in one order, whoever decodes them.
    const most = codec === 'flac' || name === 'PCM' ? mostChannels : 6;
    if (!name || channels > most) throw refusal.codec(`sound that has to be converted`);
    const seconds = await wholeDuration(track);
    const sampleRate = await track.getSampleRate();
    const container = (await input.getFormat()).name;
    const lead = leadOf(container, sampleRate, head);
    const length = Math.round((seconds - lead) * mixRate);
    if (length < 1) throw refusal.truncated();
    if (seconds > longest) throw refusal.tooLong();
    return {
      container,
      codec: name,
      sampleRate,
      channels,
      length,
      lead,
      timeReference: readTimeReference(head),
    };
  } catch (error) {
    if (error instanceof FootageRefusal) throw error;
    // The container was recognised, but what it promises is not there.
    throw refusal.truncated();
  }
}

/** s of a block of FLAC at its longest, 65,535 samples (RFC 9639, section 9.1.1), at CD's rate. */
const longestBlock = 65_535 / 44_100;

async function wholeDuration(track: InputAudioTrack): Promise<number> {
  const promised = await track.getDurationFromMetadata();
  const found = await track.computeDuration();
  if (promised && found < promised * 0.98 - 0.1) throw refusal.truncated();
  // A last block of silence is a few bytes, which are not always found: the container knows of it.
  return promised && promised > found && promised - found < longestBlock ? promised : found;
}
