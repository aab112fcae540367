import { rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { PlaneLayout } from '@/core/colour/deep-planes';
import type { Encoding, ExportQuality } from '@/core/formats/export-formats';
import { assertNever } from '@/core/model/assert-never';
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

/** The timecode that a file says of its pictures, or of itself, as it is written there; null: none. */
export async function timecodeIn(file: string): Promise<string | null> {
  try {
    const answer = await run(
      'ffprobe',
      [...['-v', 'error', '-show_entries', 'stream_tags:format_tags', '-of', 'json'], ...inputOf(file)],
      { limit: timeLimit.look },
    );
    const { streams = [], format } = JSON.parse(answer) as Record<'format', Tagged> & { streams?: Tagged[] };
    const tags = [...streams, format].flatMap((each) => Object.entries(each?.tags ?? {}));
    // Of a Matroska file the name says what the tag is of, too.
    return tags.find(([name]) => /(^|\/)timecode$/i.test(name))?.[1] ?? null;
  } catch {
    return null;
  }
}

type Tagged = { tags?: Record<string, string> } | undefined;

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

/** How finely HEVC and AV1 are encoded: their constant rate factors, the lower the finer (taste). */
const rateFactors: Readonly<Record<'hevc' | 'av1', Readonly<Record<ExportQuality, number>>>> = {
  hevc: { fine: 14, medium: 20, small: 26 },
  av1: { fine: 18, medium: 28, small: 38 },
};

/** What a master is made of. */
export interface MasterFacts {
  encoding: Exclude<Encoding, 'ffv1'>;
  layout: PlaneLayout;
  width: number;
  height: number;
  rate: Rate;
  quality: ExportQuality;
  /** Of its first frame; null: it has none. */
  timecode: string | null;
}

/** ffmpeg's name for planes of 10 bits. */
const pixelFormatOf = ({ chroma, alpha }: PlaneLayout) =>
  `yuv${alpha ? 'a' : ''}${chroma.replaceAll(':', '')}p10le`;

function encoderOf(encoding: MasterFacts['encoding'], quality: ExportQuality): string[] {
  switch (encoding) {
    case 'prores-422-hq':
      return ['-c:v', 'prores_ks', '-profile:v', '3'];
    case 'prores-4444':
      return ['-c:v', 'prores_ks', '-profile:v', '4', '-alpha_bits', '16'];
    case 'dnxhr-hqx':
      return ['-c:v', 'dnxhd', '-profile:v', 'dnxhr_hqx'];
    case 'hevc':
      return [
        ...['-c:v', 'libx265', '-preset', 'medium', '-crf', String(rateFactors.hevc[quality])],
        ...['-tag:v', 'hvc1', '-x265-params', 'log-level=error'],
      ];
    case 'av1':
      return ['-c:v', 'libsvtav1', '-preset', '6', '-crf', String(rateFactors.av1[quality])];
    default:
      return assertNever(encoding);
  }
}

/**
 * Makes a master of planes of 10 bits that follow each other in a file, BT.709 in limited range, with uncompressed sound if
 * there is any, and a timecode track.
 *
 * @param sound a WAV, or null.
 */
export async function encodeMaster(
  planes: string,
  sound: string | null,
  { encoding, layout, width, height, rate, quality, timecode }: MasterFacts,
  to: string,
  cancelled: AbortSignal,
): Promise<void> {
  const pixels = pixelFormatOf(layout);
  const colour = ['bt709', 'bt709', 'bt709', 'tv'];
  const tags = ['-color_primaries', '-color_trc', '-colorspace', '-color_range'];
  const container = encoding === 'hevc' || encoding === 'av1' ? 'mp4' : 'mov';
  await convert(
    [
      ...inputOf(
        planes,
        ...['-format_whitelist', 'rawvideo', '-f', 'rawvideo', '-pix_fmt', pixels],
        ...['-video_size', `${width}x${height}`, '-framerate', `${rate.num}/${rate.den}`],
      ),
      ...(sound ? inputOf(sound) : []),
      ...['-map', '0:v:0', ...(sound ? ['-map', '1:a:0', '-c:a', 'pcm_s24le'] : [])],
      // Encoders that write colours into every picture take them from there.
      ...['-vf', 'setparams=color_primaries=bt709:color_trc=bt709:colorspace=bt709:range=tv'],
      ...encoderOf(encoding, quality),
      ...['-pix_fmt', pixels, ...tags.flatMap((tag, k) => [tag, colour[k]])],
      ...(timecode ? ['-timecode', timecode] : []),
      ...['-movflags', '+faststart+write_colr', '-video_track_timescale', String(timescaleOf(rate))],
      ...['-f', container, to],
    ],
    cancelled,
  );
}

/** Ticks a second in which every frame of a rate begins on a whole one. */
const timescaleOf = ({ num, den }: Rate) => (den === 1 ? num * 512 : num);

/**
 * Puts files together whose every picture stands by itself, as they are, each picture at its time in the whole, with the sound of
 * the first, which has all of it, and its timecode.
 */
export async function joinPictureFiles(
  parts: readonly string[],
  to: string,
  container: 'mov' | 'mkv',
): Promise<void> {
  const counted = await Promise.all(parts.map(countPictures));
  const { num, den } = counted[0].rate;
  const list = `${to}.list`;
  const seconds = (count: number) => ((count * den) / num).toFixed(9);
  const quoted = (file: string) => `'${path.resolve(file).replaceAll("'", "'\\''")}'`;
  await writeFile(
    list,
    parts.map((part, k) => `file ${quoted(part)}\nduration ${seconds(counted[k].count)}\n`).join(''),
  );
  const timecode = await timecodeIn(parts[0]);
  try {
    await convert([
      ...['-f', 'concat', '-safe', '0', '-i', list, ...inputOf(parts[0])],
      ...['-map', '0:v:0', '-map', '1:a?', '-c', 'copy'],
      ...['-bsf:v', `setts=ts=round(N*${den}/(${num}*TB))`],
      ...(timecode ? ['-timecode', timecode] : []),
      ...(container === 'mov'
        ? ['-movflags', '+faststart+write_colr', '-video_track_timescale', String(timescaleOf({ num, den }))]
        : []),
      ...['-f', container === 'mov' ? 'mov' : 'matroska', to],
    ]);
  } finally {
    await rm(list, { force: true });
  }
}

async function countPictures(file: string): Promise<{ count: number; rate: Rate }> {
  const answer = await run(
    'ffprobe',
    [
      ...['-v', 'error', '-select_streams', 'v:0', '-count_packets'],
      ...['-show_entries', 'stream=nb_read_packets,r_frame_rate', '-of', 'json', ...inputOf(file)],
    ],
    { limit: timeLimit.whole },
  );
  const [stream] = (JSON.parse(answer) as { streams: { nb_read_packets: string; r_frame_rate: string }[] })
    .streams;
  const [num, den] = stream.r_frame_rate.split('/').map(Number);
  return { count: Number(stream.nb_read_packets), rate: { num, den } };
}

/** Puts the sound of another file, and a timecode track, to an MP4's pictures: all as it is. */
export async function joinCopied(
  pictures: string,
  sound: string | null,
  timecode: string | null,
  to: string,
): Promise<void> {
  await convert([
    ...inputOf(pictures),
    ...(sound ? [...inputOf(sound), '-map', '0:v:0', '-map', '1:a:0'] : ['-map', '0:v:0']),
    ...['-c', 'copy', ...(timecode ? ['-timecode', timecode] : [])],
    ...['-movflags', '+faststart', '-f', 'mp4', to],
  ]);
}

/** Puts a timecode track to an MP4, whose pictures and sound are not touched. */
export async function addTimecode(file: string, timecode: string, to: string, cancelled: AbortSignal) {
  await convert(
    [
      ...[...inputOf(file), '-map', '0', '-c', 'copy', '-timecode', timecode],
      ...['-movflags', '+faststart', '-f', 'mp4', to],
    ],
    cancelled,
  );
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
 *
 * @param timecode of the first frame, which becomes a track of its own; null: none.
 */
export async function joinSound(
  pictures: string,
  sound: string,
  timecode: string | null,
  to: string,
  cancelled: AbortSignal,
): Promise<void> {
  let gain = 0;
  for (let k = 0; k < encodings; k++) {
    await convert(
      [
        ...[...inputOf(pictures), ...inputOf(sound), '-map', '0:v:0', '-map', '1:a:0'],
        ...['-c:v', 'copy', '-af', `volume=${gain.toFixed(2)}dB`, '-c:a', 'aac', '-b:a', '256k'],
        ...(timecode ? ['-timecode', timecode] : []),
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
  // What has more bits keeps ten, which browsers decode.
  if (depth > 10 && !hdr) done.push(`${depth} bits a channel were reduced to 10`);
  filters.push('pad=ceil(iw/2)*2:ceil(ih/2)*2', depth > 8 ? 'format=yuv420p10le' : 'format=yuv420p');
  return { filters, says: `${done.join('; ')}.` };
}

/** Runs ffmpeg once over whole files. */
async function convert(args: readonly string[], signal?: AbortSignal) {
  await run('ffmpeg', ['-v', 'error', '-nostdin', '-y', ...args], { limit: timeLimit.whole, signal });
}

/** How a file's pictures are encoded. */
export interface PictureEncoding {
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
  { filters, keyEvery, sound, turn, retag }: PictureEncoding,
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
