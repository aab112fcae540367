import { mostChannels } from '@/core/sound/downmix';
import type { Rate } from '@/core/model/time';
import { encodeWith, inputOf, run, timeLimit } from './run-ffmpeg';

/** The sentence for work that needs ffmpeg on a machine without it. */
export const installFfmpeg =
  'This file has to be converted, and ffmpeg is not installed. Install it (on Debian: sudo apt-get install ffmpeg) and press “Try again”: the file is kept.';

export async function hasFfmpeg(): Promise<boolean> {
  try {
    const look = { limit: timeLimit.look };
    await Promise.all([run('ffmpeg', ['-version'], look), run('ffprobe', ['-version'], look)]);
    return true;
  } catch {
    return false;
  }
}

/** What ffprobe says of a file's pictures. */
export interface Probe {
  codec: string;
  pixelFormat: string;
  width: number;
  height: number;
  interlaced: boolean;
  /** Bits a channel. */
  depth: number;
  transfer: string;
}

/** @returns null when there are no pictures that ffmpeg knows. */
export async function probe(file: string): Promise<Probe | null> {
  const entries =
    'stream=codec_long_name,codec_name,pix_fmt,width,height,field_order,color_transfer,bits_per_raw_sample';
  let streams: Record<string, string | number | undefined>[];
  try {
    const answer = await run(
      'ffprobe',
      ['-v', 'error', '-select_streams', 'v:0', '-show_entries', entries, '-of', 'json', ...inputOf(file)],
      { limit: timeLimit.look },
    );
    streams = (JSON.parse(answer) as { streams?: typeof streams }).streams ?? [];
  } catch {
    return null;
  }
  const [stream] = streams;
  if (!stream?.width || !stream.height) return null;
  const pixelFormat = String(stream.pix_fmt ?? '');
  return {
    codec: String(stream.codec_long_name ?? stream.codec_name ?? 'unknown').split(' / ')[0],
    pixelFormat,
    width: Number(stream.width),
    height: Number(stream.height),
    interlaced: ['tt', 'bb', 'tb', 'bt'].includes(String(stream.field_order ?? '')),
    depth: Number(/p(9|10|12|14|16)/.exec(pixelFormat)?.[1] ?? 8),
    transfer: String(stream.color_transfer ?? ''),
  };
}

/**
 * Converts a file's first sound to FLAC of 24 bits, which holds as many channels as Kiv mixes; of more it keeps as many.
 *
 * @throws Error when it has none that ffmpeg knows.
 */
export async function convertSound(from: string, to: string): Promise<void> {
  const answer = await run(
    'ffprobe',
    [
      ...['-v', 'error', '-select_streams', 'a:0', '-show_entries', 'stream=channels', '-of', 'csv=p=0'],
      ...inputOf(from),
    ],
    { limit: timeLimit.look },
  );
  const channels = parseInt(answer);
  if (!(channels > 0)) throw new Error('There is no sound in it.');
  await convert([
    ...[...inputOf(from), '-map', '0:a:0', '-vn', '-map_metadata', '-1'],
    ...(channels > mostChannels ? ['-ac', String(mostChannels)] : []),
    ...['-c:a', 'flac', '-sample_fmt', 's32', '-f', 'flac', to],
  ]);
}

/** Makes a video without loss, FFV1 with alpha in Matroska (RFC 9043), of PNG pictures that follow each other in a file. */
export async function encodeLossless(
  pictures: string,
  rate: Rate,
  to: string,
  cancelled: AbortSignal,
): Promise<void> {
  await convert(
    [
      ...inputOf(pictures, '-f', 'image2pipe', '-framerate', `${rate.num}/${rate.den}`, '-c:v', 'png'),
      ...['-c:v', 'ffv1', '-level', '3', '-g', '1', '-slicecrc', '1'],
      ...['-pix_fmt', 'bgra', '-f', 'matroska', to],
    ],
    cancelled,
  );
}

/** Highest true peak of a sound once it is encoded, dBTP, and how much further it is turned down to stay below. */
const [highestPeak, margin] = [-1, 0.05];
/** How often a sound is encoded until its peaks are low enough: what is turned down a little is encoded otherwise. */
const encodings = 4;

/**
 * Puts a WAV to a video's pictures as AAC in MP4; the pictures are not touched. What is lost in encoding lifts peaks, by
 * some tenths of a decibel: where they come out over −1 dBTP, the sound is turned down by as much and encoded again.
 */
export async function joinSound(
  pictures: string,
  sound: string,
  to: string,
  cancelled: AbortSignal,
): Promise<void> {
  let gain = 0;
  for (let k = 0; k < encodings; k++) {
    await convert(
      [
        ...[...inputOf(pictures), ...inputOf(sound), '-map', '0:v:0', '-map', '1:a:0'],
        ...['-c:v', 'copy', '-af', `volume=${gain.toFixed(2)}dB`, '-c:a', 'aac', '-b:a', '256k'],
        ...['-movflags', '+faststart', '-f', 'mp4', to],
      ],
      cancelled,
    );
    const peak = await truePeakOf(to, cancelled);
    if (peak <= highestPeak) return;
    gain -= peak - highestPeak + margin;
  }
}

/** Highest true peak of a file's first sound as it is decoded, dBTP: ITU-R BS.1770, by ffmpeg's ebur128. */
export async function truePeakOf(file: string, cancelled?: AbortSignal): Promise<number> {
  let highest = 0;
  await run(
    'ffmpeg',
    [
      ...['-v', 'error', '-nostdin', ...inputOf(file), '-map', '0:a:0', '-vn'],
      ...['-af', 'ebur128=peak=true:metadata=1,ametadata=print:key=lavfi.r128.true_peak:file=-'],
      ...['-f', 'null', '-'],
    ],
    {
      limit: timeLimit.whole,
      signal: cancelled,
      onLine(line) {
        const peak = /^lavfi\.r128\.true_peak=([\d.]+)/.exec(line);
        if (peak) highest = Math.max(highest, Number(peak[1]));
      },
    },
  );
  return 20 * Math.log10(highest);
}

/** The time of every decoded picture in presentation order, seconds from the first. */
export async function frameTimes(file: string, cancelled: AbortSignal): Promise<number[]> {
  const times: number[] = [];
  const onLine = (line: string) => {
    if (line.trim() === '') return;
    const time = parseFloat(line);
    // A frame that the container gives no time follows the one before at the same pace.
    const pace = times.length > 1 ? times[times.length - 1] - times[times.length - 2] : 0;
    times.push(Number.isFinite(time) ? time : (times[times.length - 1] ?? 0) + pace);
  };
  await run(
    'ffprobe',
    [
      ...['-v', 'error', '-select_streams', 'v:0', '-show_entries', 'frame=best_effort_timestamp_time'],
      ...['-of', 'csv=p=0', ...inputOf(file)],
    ],
    { limit: timeLimit.whole, signal: cancelled, onLine },
  );
  return times.map((time) => time - times[0]);
}

/**
 * Seconds by which ffmpeg puts all of a file's pictures later than they are. Where a container gives pictures no times of
 * presentation, as AVI does, pictures that are coded out of order come as many later as they wait in the decoder, and sound
 * does not.
 */
export async function pictureDelay(file: string): Promise<number> {
  const first = async (of: 'packet' | 'frame', entries: string) => {
    const answer = await run(
      'ffprobe',
      [
        ...['-v', 'error', '-select_streams', 'v:0', '-read_intervals', '%+#4'],
        ...['-show_entries', `${of}=${entries}`, '-of', 'csv=p=0', ...inputOf(file)],
      ],
      { limit: timeLimit.look },
    );
    return answer.trim().split('\n')[0].split(',');
  };
  const [pts, dts] = await first('packet', 'pts_time,dts_time');
  if (pts !== 'N/A' || !Number.isFinite(parseFloat(dts))) return 0;
  const [shown] = await first('frame', 'best_effort_timestamp_time');
  const delay = parseFloat(shown) - parseFloat(dts);
  return Number.isFinite(delay) ? Math.max(0, delay) : 0;
}

/** How a file's pictures are made into what the browser decodes, and what that does to them, in words. */
export function treatmentOf({ codec, pixelFormat, interlaced, depth, transfer }: Probe): {
  filters: string[];
  says: string;
} {
  const filters: string[] = [];
  const done = [`Converted from ${codec}`];
  if (interlaced) {
    filters.push('bwdif=mode=send_frame:parity=auto:deint=all');
    done.push('interlaced: every frame was made whole from its two fields');
  }
  const hdr = { smpte2084: 'PQ', 'arib-std-b67': 'HLG' }[transfer];
  if (hdr) {
    filters.push(
      'zscale=t=linear:npl=100',
      'format=gbrpf32le',
      'zscale=p=bt709',
      'tonemap=hable:desat=0',
      'zscale=t=bt709:m=bt709:r=tv',
    );
    done.push(`HDR (${hdr}): its range was pressed into that of BT.709, so highlights are paler than graded`);
  } else if (/^(yuvj|rgb|bgr|gbr|gray|pal|argb|abgr|rgba|bgra)/.test(pixelFormat)) {
    filters.push('scale=out_range=tv:out_color_matrix=bt709');
  }
  if (depth > 8 && !hdr) done.push(`${depth} bits a channel were reduced to 8`);
  filters.push('pad=ceil(iw/2)*2:ceil(ih/2)*2', 'format=yuv420p');
  return { filters, says: `${done.join('; ')}.` };
}

/** Runs ffmpeg once over whole files. */
async function convert(args: readonly string[], signal?: AbortSignal) {
  await run('ffmpeg', ['-v', 'error', '-nostdin', '-y', ...args], { limit: timeLimit.whole, signal });
}

/** How a file's pictures are encoded. */
export interface Encoding {
  filters: string[];
  /** Most frames from one key frame to the next. */
  keyEvery: number;
  sound: boolean;
  turn: boolean;
  retag: boolean;
}

/**
 * Encodes a file's pictures as H.264 in MP4 with every frame at its own time, few frames from key to key.
 *
 * @param onFrame told how many frames are written.
 * @param cancelled ends it.
 */
export function encode(
  from: string,
  to: string,
  { filters, keyEvery, sound, turn, retag }: Encoding,
  onFrame: (frames: number) => void,
  cancelled: AbortSignal,
): Promise<void> {
  return encodeWith(
    [
      ...(turn ? [] : ['-noautorotate']),
      ...[...inputOf(from), '-map', '0:v:0'],
      ...(sound ? ['-map', '0:a:0?', '-c:a', 'aac', '-b:a', '192k'] : ['-an']),
      ...(filters.length > 0 ? ['-vf', filters.join(',')] : []),
      ...['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '15', '-g', String(keyEvery), '-bf', '0'],
      ...['-fps_mode', 'passthrough', '-enc_time_base', '-1', '-video_track_timescale', '90000'],
      ...(retag ? ['-colorspace', 'bt709', '-color_range', 'tv'] : []),
      // As fine as the sound, whose beginning is written in it.
      ...['-movie_timescale', '48000', '-movflags', '+faststart', '-f', 'mp4', to],
    ],
    { onFrame, signal: cancelled },
  );
}
