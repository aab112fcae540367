import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { totalmem } from 'node:os';
import { createInterface } from 'node:readline';

/** The system's ffmpeg and ffprobe; `KIV_FFMPEG` and `KIV_FFPROBE` name others. */
const program = (name: 'ffmpeg' | 'ffprobe') =>
  process.env[name === 'ffmpeg' ? 'KIV_FFMPEG' : 'KIV_FFPROBE'] || name;

/**
 * The containers that ffmpeg may open. Playlists (HLS, DASH, ffconcat), scripts (AviSynth) and devices are not among
 * them: what they point to is other files of this machine.
 */
const containers = [
  ...['mov', 'matroska', 'avi', 'mpeg', 'mpegts', 'mpegvideo', 'mxf', 'asf', 'flv', 'live_flv', 'dv', 'ogg'],
  ...[
    'wav',
    'w64',
    'aiff',
    'caf',
    'mp3',
    'aac',
    'ac3',
    'eac3',
    'dts',
    'flac',
    'au',
    'amr',
    'ape',
    'tta',
    'wv',
  ],
  ...['h264', 'hevc', 'm4v', 'av1', 'ivf', 'nut', 'gxf', 'rm', 'yuv4mpegpipe', 'image2pipe', 'png_pipe'],
].join(',');

/** What is put before an input: its file alone is opened, and nothing that it points to. */
export const inputOf = (file: string, ...options: readonly string[]): string[] => [
  ...['-protocol_whitelist', 'file', '-format_whitelist', containers, ...options],
  ...['-i', `file:${file}`],
];

/** Most memory of a run, KiB: half the machine's, and 4 GiB where that is less. */
const mostMemory = Math.floor(Math.max(4 * 2 ** 30, totalmem() / 2) / 1024);

/** s after which a run that is expected to be quick, and one that reads or writes a whole file, is ended. */
export const timeLimit = { look: 60, whole: 6 * 3600 };
/** s without a word about its progress after which an encoding is taken for stuck. */
const silentLimit = 300;

/** Bounds the memory of what follows and, where the system can, ties its life to the one that started it. */
const bounded = 'ulimit -v "$1" 2>/dev/null; shift; exec "$@"';

interface Shared {
  /** Whether `setpriv` ends a program with the one that started it; undefined before it was tried. */
  kivEndsTogether?: boolean;
  kivFfmpegs?: Set<ChildProcess>;
}
// The server's modules are loaded more than once; what runs is known once.
const shared = globalThis as typeof globalThis & Shared;

function running(): Set<ChildProcess> {
  if (!shared.kivFfmpegs) {
    const children = (shared.kivFfmpegs = new Set());
    process.once('exit', () => children.forEach((child) => child.kill('SIGKILL')));
  }
  return shared.kivFfmpegs;
}

function start(name: 'ffmpeg' | 'ffprobe', args: readonly string[]): ChildProcess {
  shared.kivEndsTogether ??=
    process.platform === 'linux' && spawnSync('setpriv', ['--pdeathsig', 'KILL', 'true']).status === 0;
  const command = [program(name), ...args];
  if (shared.kivEndsTogether) command.unshift('setpriv', '--pdeathsig', 'KILL');
  const [first, ...rest] =
    process.platform === 'win32'
      ? command
      : ['/bin/sh', '-c', bounded, 'kiv', String(mostMemory), ...command];
  const child = spawn(/*turbopackIgnore: true*/ first, rest, { stdio: ['ignore', 'pipe', 'pipe'] });
  running().add(child);
  child.once('close', () => running().delete(child));
  return child;
}

/** A run that ended badly; `code` is “ENOSPC” where the disk was full. */
export class FfmpegFailed extends Error {
  readonly code?: string;

  constructor(said: string, ended: string) {
    super(said.trim().split('\n').pop() || ended);
    this.name = 'FfmpegFailed';
    if (/No space left on device|Disk quota exceeded/.test(said)) this.code = 'ENOSPC';
  }
}

interface RunOptions {
  /** s after which it is ended. */
  limit: number;
  /** s without a line after which it is ended; left out: it may be silent. */
  silent?: number;
  signal?: AbortSignal;
  onLine?: (line: string) => void;
}

/** Most characters of an answer that is kept whole. */
const mostAnswer = 1e9;

/**
 * Runs ffmpeg or ffprobe within its limits.
 *
 * @returns what it wrote; nothing where `onLine` is told of every line.
 * @throws FfmpegFailed when it ends badly or takes longer than it may; the signal's reason when that ends it.
 */
export async function run(
  name: 'ffmpeg' | 'ffprobe',
  args: readonly string[],
  { limit, silent, signal, onLine }: RunOptions,
): Promise<string> {
  signal?.throwIfAborted();
  const child = start(name, args);
  let [said, answer, overdue] = ['', '', ''];
  const end = (why: string) => {
    overdue = why;
    child.kill('SIGKILL');
  };
  const limitTimer = setTimeout(
    () => end(`${name} took longer than ${limit} s and was stopped.`),
    limit * 1000,
  );
  const quiet = () => end(`${name} made no progress for ${silent} s and was stopped.`);
  let silentTimer = silent === undefined ? undefined : setTimeout(quiet, silent * 1000);
  const abort = () => child.kill('SIGKILL');
  signal?.addEventListener('abort', abort);
  if (onLine)
    createInterface({ input: child.stdout! }).on('line', (line) => {
      if (silent !== undefined) {
        clearTimeout(silentTimer);
        silentTimer = setTimeout(quiet, silent * 1000);
      }
      onLine(line);
    });
  else
    child.stdout!.setEncoding('utf8').on('data', (chunk: string) => {
      if (answer.length + chunk.length > mostAnswer) end(`${name} reported too much about this file.`);
      else answer += chunk;
    });
  child.stderr!.on('data', (chunk: Buffer) => {
    said = (said + chunk.toString()).slice(-4000);
  });
  try {
    const code = await new Promise<number | null>((resolve, reject) => {
      child.on('error', reject);
      child.on('close', resolve);
    });
    signal?.throwIfAborted();
    if (overdue) throw new FfmpegFailed(overdue, overdue);
    if (code !== 0) throw new FfmpegFailed(said, `${name} ended with ${code ?? 'a signal'}.`);
    return answer;
  } finally {
    clearTimeout(limitTimer);
    clearTimeout(silentTimer);
    signal?.removeEventListener('abort', abort);
  }
}

/** The same, for an encoding that says how far it has come. @param onFrame told how many frames are written. */
export async function encodeWith(
  args: readonly string[],
  { onFrame, signal }: { onFrame(frames: number): void; signal: AbortSignal },
): Promise<void> {
  await run('ffmpeg', ['-v', 'error', '-nostdin', '-y', '-progress', 'pipe:1', ...args], {
    limit: timeLimit.whole,
    silent: silentLimit,
    signal,
    onLine(line) {
      const frame = /^frame=\s*(\d+)/.exec(line);
      if (frame) onFrame(Number(frame[1]));
    },
  });
}
