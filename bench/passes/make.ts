import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { type ChancePass, chancePasses, type ChanceSet } from './by-chance';
import { passes } from './passes';
import { drawScene, fps, height, type Scene, width } from './scene';
import { gaps } from './gaps';
import { people } from './people';
import type { Line, Pass } from './shapes';
import { type Subject, subjects } from './subjects';
import { spread } from '../spread';

/** The folder of passes, drawn: all, or those named. Drawing takes minutes, on all processors: what was drawn from the same description is taken again. */
export async function drawnPasses(
  names: readonly string[] = passes.map(({ name }) => name),
): Promise<string> {
  const place = path.join(
    os.tmpdir(),
    `kiv-passes-${drawnFrom('passes.ts', 'passes-apart.ts', 'shapes.ts')}`,
  );
  const missing = names.filter((name) => !existsSync(path.join(place, name, 'truth.json')));
  await spread(
    missing.map((name) => ({ work: 'draw' as const, of: `passes=${place}`, name })),
    () => undefined,
  );
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

/** The folder of a set of passes by chance, drawn by all processors: a folder each, with one folder a take. */
export async function drawnByChance(set: ChanceSet): Promise<string> {
  const hash = drawnFrom('by-chance.ts', 'shapes.ts', 'photographs.ts');
  const place = path.join(os.tmpdir(), `kiv-chance-${hash}`, set);
  const missing = chancePasses(set).filter(({ name }) => !existsSync(path.join(place, name, 'traits.json')));
  await spread(
    missing.map(({ name }) => ({ work: 'draw' as const, of: `${set}=${place}`, name })),
    ({ name }) => console.log(`${name} drawn`),
  );
  return place;
}

/** Draws a pass by chance into `folder`/its name: its takes as passes of their own, and `traits.json` when all are there. */
async function makeChancePass(pass: ChancePass, folder: string): Promise<void> {
  const { name, traits, side, crf } = pass;
  const place = path.join(folder, name);
  for (let take = 0; take < pass.takes; take++) {
    const { scene, truth } = await pass.draw(take);
    const into = path.join(place, `take ${take + 1}`);
    await makeClip(scene, 7 + take, into, crf);
    writeTruth(into, { kind: 'seam', side }, scene, truth);
  }
  writeWhole(path.join(place, 'traits.json'), JSON.stringify(traits));
}

/** Tells one set of drawn clips from another. */
function drawnFrom(...described: string[]): string {
  const hash = createHash('sha256');
  for (const file of [...described, 'scene.ts', 'textures.ts', 'make.ts'])
    hash.update(readFileSync(new URL(`./${file}`, import.meta.url)));
  return hash.digest('hex').slice(0, 12);
}

/** Draws one of the bench's own passes, or one by chance, into `folder`/its name. */
export async function makePassOf(set: 'passes' | ChanceSet, name: string, folder: string): Promise<void> {
  if (set === 'passes')
    await makePass(
      passes.find((pass) => pass.name === name)!,
      folder,
    );
  else
    await makeChancePass(
      chancePasses(set).find((pass) => pass.name === name)!,
      folder,
    );
}

/** Draws a pass into `folder`/its name: `clip.mp4` and `truth.json`. */
async function makePass(pass: Pass, folder: string) {
  const place = path.join(folder, pass.name);
  const { scene, truth } = await pass.draw();
  await makeClip(scene, 7 + passes.indexOf(pass), place);
  writeTruth(place, pass, scene, truth);
}

function writeTruth(
  place: string,
  { kind, side }: Pick<Pass, 'kind' | 'side'>,
  { frames }: Scene,
  truth: (t: number) => Line,
) {
  const lines = Array.from({ length: frames }, (_, t) => truth(t));
  const whole = { width, height, fps, kind, side, truth: lines };
  writeWhole(path.join(place, 'truth.json'), JSON.stringify(whole));
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

/** Draws a scene into `place`/`clip.mp4`: H.264, 4:2:0, at x264's constant rate factor `crf`. */
async function makeClip(scene: Scene, seed: number, place: string, crf = 17) {
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
  const output = [
    '-c:v',
    'libx264',
    '-preset',
    'veryfast',
    '-crf',
    String(crf),
    path.join(place, 'clip.mp4'),
  ];
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
