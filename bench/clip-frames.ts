import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import type { Frames } from '../src/core/carry/frames';
import { FramePicture } from '../src/core/edge/frame-picture';
import { exportColour } from '../src/footage/video-writer';

/** A pass as a folder holds it: `clip.mp4`, and the truth that goes with it. */
export interface PassTruth {
  width: number;
  height: number;
  fps: number;
  kind: 'seam' | 'loop';
  /** Where the swept background lies. */
  side: 'left' | 'right';
  /** One list a frame: of a seam's trailing edge every 4 px of y, or a loop's corners. */
  truth: [number, number][][];
}

/** Names of the passes in a folder. */
export function passesIn(folder: string): string[] {
  return readdirSync(folder)
    .filter((name) => existsSync(path.join(folder, name, 'truth.json')))
    .sort();
}

export function readTruth(folder: string): PassTruth {
  return JSON.parse(readFileSync(path.join(folder, 'truth.json'), 'utf8')) as PassTruth;
}

/** All frames of a pass, decoded by ffmpeg. */
export function readClip(
  folder: string,
  { width, height }: Pick<PassTruth, 'width' | 'height'>,
): Frames & { pictures: FramePicture[] } {
  const out = spawnSync(
    'ffmpeg',
    ['-v', 'error', '-i', path.join(folder, 'clip.mp4'), '-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-'],
    { maxBuffer: 2 ** 32 },
  );
  if (out.status !== 0) throw new Error(`ffmpeg could not read ${folder}: ${String(out.stderr)}`);
  const [cw, ch] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const size = width * height + 2 * cw * ch;
  const pictures = Array.from({ length: Math.floor(out.stdout.length / size) }, (_, k) => {
    const at = (from: number, length: number) =>
      new Uint8Array(out.stdout.buffer, out.stdout.byteOffset + k * size + from, length);
    return new FramePicture({
      width,
      height,
      chromaWidth: cw,
      chromaHeight: ch,
      y: at(0, width * height),
      u: at(width * height, cw * ch),
      v: at(width * height + cw * ch, cw * ch),
      colour: exportColour,
    });
  });
  return { count: pictures.length, pictures, picture: (frame) => Promise.resolve(pictures[frame]) };
}
