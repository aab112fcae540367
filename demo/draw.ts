import { spawn } from 'node:child_process';
import { createHash, type Hash } from 'node:crypto';
import { once } from 'node:events';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { boardShot } from './board';
import { demoCrossings } from './crossing';
import { doorShot } from './door';
import { type DrawnShot, framesPerSecond, height, type Polygon, width } from './frame';
import { nurseryShot } from './nursery';
import { edgeRows, gardenerShot, pondShot } from './shots';
import { trolleyShot } from './trolley';
import { scarecrowShot } from './scarecrow';
import { windowShot } from './window';

const folder = path.join(import.meta.dirname, 'footage');

/** What is known of each drawn shot: the hash of its pictures as 8-bit RGB, frame after frame. */
type Manifest = Record<string, { frames: number; sha256: string }>;

/** Draws all shots, or those named; with `--check` only looks whether they are still the same. */
async function main() {
  const encode = !process.argv.includes('--check');
  const named = process.argv.slice(2).filter((each) => !each.startsWith('--'));
  mkdirSync(folder, { recursive: true });
  const file = path.join(folder, 'manifest.json');
  const manifest: Manifest = named.length > 0 ? (JSON.parse(readFileSync(file, 'utf8')) as Manifest) : {};
  for (const make of [
    gardenerShot,
    pondShot,
    nurseryShot,
    doorShot,
    trolleyShot,
    boardShot,
    windowShot,
    scarecrowShot,
  ]) {
    const shot = make();
    if (named.length > 0 && !named.includes(shot.name)) continue;
    manifest[shot.name] = { frames: shot.frames, sha256: await drawShot(shot, encode) };
    console.log(`${shot.name}: ${shot.frames} frames, ${manifest[shot.name].sha256.slice(0, 16)}…`);
  }
  const text = JSON.stringify(manifest, null, 2) + '\n';
  if (encode) {
    writeFileSync(file, text);
    writeFileSync(path.join(folder, 'crossings.json'), JSON.stringify(await demoCrossings(folder)) + '\n');
  }
  if (!encode && readFileSync(file, 'utf8') !== text)
    throw new Error('The pictures are not those that the footage was made from.');
}

async function drawShot(shot: DrawnShot, encode: boolean): Promise<string> {
  const hash = createHash('sha256');
  const film = encode ? pictureEncoder(shot.name) : null;
  const hasAlpha = shot.trailingEdge !== undefined || shot.outlines !== undefined;
  const truth = encode && hasAlpha ? alphaEncoder(shot.name) : null;
  const edges: (number | null)[][] = [];
  for (let n = 0; n < shot.frames; n++) {
    const { rgb, alpha } = shot.draw(n);
    hash.update(rgb);
    await film?.write(rgb);
    if (alpha) await truth?.write(alpha);
    if (alpha && shot.trailingEdge) {
      edges.push(shot.trailingEdge(alpha).map((x) => (x === null ? null : Math.round(x * 100) / 100)));
    }
  }
  await film?.end();
  await truth?.end();
  if (encode && shot.trailingEdge) {
    writeFileSync(
      path.join(folder, `${shot.name}-edge.json`),
      JSON.stringify({ unit: 'px', rows: edgeRows, edges }) + '\n',
    );
  }
  if (encode) writeTruth(shot);
  return digest(hash);
}

/** The camera's path and the true outlines, frame by frame. */
function writeTruth(shot: DrawnShot) {
  const rounded = (value: number) => Math.round(value * 100) / 100;
  const frames = Array.from({ length: shot.frames }, (_, n) => n);
  const outlines: Record<string, Polygon[]> = {};
  for (const n of frames)
    for (const [name, polygon] of Object.entries(shot.outlines?.(n) ?? {}))
      (outlines[name] ??= []).push(polygon.map(rounded));
  const camera = frames.map((n) => shot.camera(n).map(rounded));
  writeFileSync(
    path.join(folder, `${shot.name}-truth.json`),
    JSON.stringify({ unit: 'px', camera, outlines }) + '\n',
  );
}

function digest(hash: Hash): string {
  return hash.digest('hex');
}

const size = ['-s', `${width}x${height}`, '-r', String(framesPerSecond)];

/** H.264 in MP4, two passes' worth of care in one: high quality, B-frames, a key frame each second. */
function pictureEncoder(name: string) {
  return encoder([
    ...['-f', 'rawvideo', '-pix_fmt', 'rgb24', ...size, '-i', '-'],
    ...['-vf', 'scale=out_color_matrix=bt709:out_range=tv', '-pix_fmt', 'yuv420p'],
    ...['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv'],
    ...[
      '-c:v',
      'libx264',
      '-preset',
      'slow',
      '-crf',
      '19',
      '-maxrate',
      '6M',
      '-bufsize',
      '3M',
      '-g',
      '25',
      '-bf',
      '2',
    ],
    ...[
      '-fflags',
      '+bitexact',
      '-flags:v',
      '+bitexact',
      '-movflags',
      '+faststart',
      path.join(folder, `${name}.mp4`),
    ],
  ]);
}

/** The true alpha, lossless: FFV1 (RFC 9043) in Matroska. */
function alphaEncoder(name: string) {
  return encoder([
    ...['-f', 'rawvideo', '-pix_fmt', 'gray', ...size, '-i', '-'],
    ...['-c:v', 'ffv1', '-level', '3', '-g', '1', '-fflags', '+bitexact', '-flags:v', '+bitexact'],
    path.join(folder, `${name}-alpha.mkv`),
  ]);
}

function encoder(options: string[]) {
  const ffmpeg = spawn('ffmpeg', ['-v', 'error', '-y', ...options], {
    stdio: ['pipe', 'inherit', 'inherit'],
  });
  const closed = once(ffmpeg, 'close');
  return {
    async write(bytes: Uint8Array) {
      if (!ffmpeg.stdin.write(bytes)) await once(ffmpeg.stdin, 'drain');
    },
    async end() {
      ffmpeg.stdin.end();
      const [code] = await closed;
      if (code !== 0) throw new Error(`ffmpeg ended with code ${code}.`);
    },
  };
}

await main();
