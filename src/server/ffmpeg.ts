import { type ChildProcess, execFile, spawn } from 'node:child_process';
import { createInterface } from 'node:readline';
import { promisify } from 'node:util';
import type { Rate } from '@/core/time/rate';

const call = promisify(execFile);

/** The system's ffmpeg and ffprobe; `KIV_FFMPEG` and `KIV_FFPROBE` name others. */
const program = (name: 'ffmpeg' | 'ffprobe') =>
  process.env[name === 'ffmpeg' ? 'KIV_FFMPEG' : 'KIV_FFPROBE'] || name;

/** What is said where ffmpeg is wanted and not there. */
export const installFfmpeg =
  'This file has to be converted, and ffmpeg is not installed. Install it (on Debian: sudo apt-get install ffmpeg) and press “Try again”: the file is kept.';

export async function hasFfmpeg(): Promise<boolean> {
  try {
    await Promise.all([call(program('ffmpeg'), ['-version']), call(program('ffprobe'), ['-version'])]);
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
    const { stdout } = await call(/*turbopackIgnore: true*/ program('ffprobe'), [
      ...['-v', 'error', '-select_streams', 'v:0', '-show_entries', entries, '-of', 'json', file],
    ]);
    streams = (JSON.parse(stdout) as { streams?: typeof streams }).streams ?? [];
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
 * Converts a file's first sound to FLAC of 24 bits; more than six channels are mixed to two.
 *
 * @throws Error when it has none that ffmpeg knows.
 */
export async function convertSound(from: string, to: string): Promise<void> {
  const { stdout } = await call(/*turbopackIgnore: true*/ program('ffprobe'), [
    ...['-v', 'error', '-select_streams', 'a:0', '-show_entries', 'stream=channels', '-of', 'csv=p=0', from],
  ]);
  const channels = parseInt(stdout);
  if (!(channels > 0)) throw new Error('There is no sound in it.');
  await call(/*turbopackIgnore: true*/ program('ffmpeg'), [
    ...['-v', 'error', '-nostdin', '-y', '-i', from, '-map', '0:a:0', '-vn', '-map_metadata', '-1'],
    ...(channels > 6 ? ['-ac', '2'] : []),
    ...['-c:a', 'flac', '-sample_fmt', 's32', '-f', 'flac', to],
  ]);
}

/** Makes a video without loss, FFV1 with alpha in Matroska (RFC 9043), of PNG pictures that follow each other in a file. */
export async function encodeLossless(pictures: string, rate: Rate, to: string): Promise<void> {
  await call(/*turbopackIgnore: true*/ program('ffmpeg'), [
    ...['-v', 'error', '-nostdin', '-y', '-f', 'image2pipe', '-framerate', `${rate.num}/${rate.den}`],
    ...['-c:v', 'png', '-i', pictures, '-c:v', 'ffv1', '-level', '3', '-g', '1', '-slicecrc', '1'],
    ...['-pix_fmt', 'bgra', '-f', 'matroska', to],
  ]);
}

/** Puts a WAV to a video's pictures as AAC in MP4; the pictures are not touched. */
export async function joinSound(pictures: string, sound: string, to: string): Promise<void> {
  await call(/*turbopackIgnore: true*/ program('ffmpeg'), [
    ...['-v', 'error', '-nostdin', '-y', '-i', pictures, '-i', sound, '-map', '0:v:0', '-map', '1:a:0'],
    ...['-c:v', 'copy', '-c:a', 'aac', '-b:a', '256k', '-movflags', '+faststart', '-f', 'mp4', to],
  ]);
}

/** The time of every decoded picture in presentation order, seconds from the first. */
export async function frameTimes(file: string, cancelled: AbortSignal): Promise<number[]> {
  const { stdout } = await call(
    /*turbopackIgnore: true*/ program('ffprobe'),
    [
      ...['-v', 'error', '-select_streams', 'v:0', '-show_entries', 'frame=best_effort_timestamp_time'],
      ...['-of', 'csv=p=0', file],
    ],
    { maxBuffer: 1e9, signal: cancelled },
  );
  const times: number[] = [];
  for (const line of stdout.split('\n')) {
    if (line.trim() === '') continue;
    const time = parseFloat(line);
    // A frame that the container gives no time follows the one before at the same pace.
    const pace = times.length > 1 ? times[times.length - 1] - times[times.length - 2] : 0;
    times.push(Number.isFinite(time) ? time : (times[times.length - 1] ?? 0) + pace);
  }
  return times.map((time) => time - times[0]);
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

/** Runs ffmpeg on one file; resolves when it has ended well. */
export interface Encoding {
  child: ChildProcess;
  ended: Promise<void>;
}

/**
 * Encodes a file's pictures as H.264 in MP4 with every frame at its own time, few frames from key to key.
 *
 * @param keyEvery most frames from one key frame to the next.
 * @param onFrame told how many frames are written.
 */
export function encode(
  from: string,
  to: string,
  options: { filters: string[]; keyEvery: number; sound: boolean; turn: boolean; retag: boolean },
  onFrame: (frames: number) => void,
): Encoding {
  const { filters, keyEvery, sound, turn, retag } = options;
  const child = spawn(
    /*turbopackIgnore: true*/ program('ffmpeg'),
    [
      ...['-v', 'error', '-nostdin', '-y', '-progress', 'pipe:1'],
      ...(turn ? [] : ['-noautorotate']),
      ...['-i', from, '-map', '0:v:0'],
      ...(sound ? ['-map', '0:a:0?', '-c:a', 'aac', '-b:a', '192k'] : ['-an']),
      ...(filters.length > 0 ? ['-vf', filters.join(',')] : []),
      ...['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '15', '-g', String(keyEvery), '-bf', '0'],
      ...['-fps_mode', 'passthrough', '-enc_time_base', '-1', '-video_track_timescale', '90000'],
      ...(retag ? ['-colorspace', 'bt709', '-color_range', 'tv'] : []),
      ...['-movflags', '+faststart', '-f', 'mp4', to],
    ],
    { stdio: ['ignore', 'pipe', 'pipe'] },
  );
  createInterface({ input: child.stdout! }).on('line', (line) => {
    const frame = /^frame=\s*(\d+)/.exec(line);
    if (frame) onFrame(Number(frame[1]));
  });
  let said = '';
  child.stderr!.on('data', (chunk: Buffer) => {
    said = (said + chunk.toString()).slice(-2000);
  });
  const ended = new Promise<void>((resolve, reject) => {
    child.on('error', reject);
    child.on('close', (code) =>
      code === 0
        ? resolve()
        : reject(new Error(said.trim().split('\n').pop() || `ffmpeg ended with ${code}`)),
    );
  });
  return { child, ended };
}
