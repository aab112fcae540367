import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { passes } from './passes';
import { drawScene, fps, height, type Scene, width } from './scene';
import { gaps } from './gaps';
import { people } from './people';
import type { Pass } from './shapes';
import { type Subject, subjects } from './subjects';

/** The folder of passes, drawn: all, or those named. Drawing takes minutes: what was drawn from the same description is taken again. */
export async function drawnPasses(
  names: readonly string[] = passes.map(({ name }) => name),
): Promise<string> {
  const place = path.join(
    os.tmpdir(),
    `kiv-passes-${drawnFrom('passes.ts', 'passes-apart.ts', 'shapes.ts')}`,
  );
  for (const pass of passes) if (names.includes(pass.name)) await makePass(pass, place);
  return place;
}

/** The folder of all subjects, drawn likewise, a clip each. */
export function drawnSubjects(): Promise<string> {
  return drawnAll(subjects, 'subjects', 107);
}

/** The folder of the people put together by chance, drawn likewise. */
export function drawnPeople(): Promise<string> {
  return drawnAll(people, 'people', 307);
}

/** The folder of all gaps, drawn likewise. */
export function drawnGaps(): Promise<string> {
  return drawnAll(gaps, 'gaps', 207);
}

async function drawnAll(list: readonly Subject[], name: string, seed: number): Promise<string> {
  const place = path.join(os.tmpdir(), `kiv-${name}-${drawnFrom(`${name}.ts`)}`);
  for (const [k, each] of list.entries()) await makeSubject(each, seed + k, place);
  return place;
}

/** Tells one set of drawn clips from another. */
function drawnFrom(...described: string[]): string {
  const hash = createHash('sha256');
  for (const file of [...described, 'scene.ts', 'textures.ts', 'make.ts'])
    hash.update(readFileSync(new URL(`./${file}`, import.meta.url)));
  return hash.digest('hex').slice(0, 12);
}

/** Draws a pass into `folder`/its name, unless it is there: `clip.mp4` and `truth.json`. */
async function makePass(pass: Pass, folder: string) {
  const place = path.join(folder, pass.name);
  if (existsSync(path.join(place, 'truth.json'))) return;
  const { scene, truth } = await pass.draw();
  await makeClip(scene, 7 + passes.indexOf(pass), place);
  const { kind, side } = pass;
  const lines = Array.from({ length: scene.frames }, (_, t) => truth(t));
  writeWhole(
    path.join(place, 'truth.json'),
    JSON.stringify({ width, height, fps, kind, side, truth: lines }),
  );
}

/** Draws a subject into `folder`/its name, unless it is there: `clip.mp4`, and `size.json` when that is whole. */
async function makeSubject(subject: Subject, seed: number, folder: string) {
  const place = path.join(folder, subject.name);
  if (existsSync(path.join(place, 'size.json'))) return;
  const { scene } = await subject.draw();
  await makeClip(scene, seed, place);
  writeWhole(path.join(place, 'size.json'), JSON.stringify({ width, height, fps }));
}

function writeWhole(file: string, text: string) {
  writeFileSync(`${file}.part`, text);
  renameSync(`${file}.part`, file);
}

/** Draws a scene into `place`/`clip.mp4`: H.264, 4:2:0. */
async function makeClip(scene: Scene, seed: number, place: string) {
  mkdirSync(place, { recursive: true });
  const input = [
    '-f',
    'rawvideo',
    '-pix_fmt',
    'rgb24',
    '-s',
    `${width}x${height}`,
    '-r',
    String(fps),
    '-i',
    '-',
  ];
  const colour = ['-vf', 'scale=out_color_matrix=bt709', '-colorspace', 'bt709', '-pix_fmt', 'yuv420p'];
  const output = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '17', path.join(place, 'clip.mp4')];
  const encoder = spawn('ffmpeg', ['-v', 'error', '-y', ...input, ...colour, ...output], {
    stdio: ['pipe', 'inherit', 'inherit'],
  });
  const closed = once(encoder, 'close');
  for (const frame of drawScene(scene, seed))
    if (!encoder.stdin.write(frame)) await once(encoder.stdin, 'drain');
  encoder.stdin.end();
  const [code] = await closed;
  if (code !== 0) throw new Error(`ffmpeg ended with ${code} on ${place}.`);
}
