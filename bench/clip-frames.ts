import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { readFilm } from '../demo/film-frames';

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
export function readClip(folder: string, size: Pick<PassTruth, 'width' | 'height'>) {
  return readFilm(path.join(folder, 'clip.mp4'), size);
}
