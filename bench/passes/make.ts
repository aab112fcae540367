import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { passes, type Pass } from './passes';
import { drawScene, fps, height, width } from './scene';

/** The folder of all passes, drawn. Drawing takes minutes: what was drawn from the same description is taken again. */
export async function drawnPasses(): Promise<string> {
  const place = path.join(os.tmpdir(), `kiv-passes-${drawnFrom()}`);
  for (const pass of passes) await makePass(pass, place);
  return place;
}

/** Tells one set of drawn passes from another. */
function drawnFrom(): string {
  const hash = createHash('sha256');
  for (const file of ['passes.ts', 'scene.ts', 'textures.ts', 'make.ts'])
    hash.update(readFileSync(new URL(`./${file}`, import.meta.url)));
  return hash.digest('hex').slice(0, 12);
}

/**
 * Draws a pass into `folder`/its name, unless it is there: `clip.mp4` (H.264, 4:2:0) and `truth.json`.
 *
 * @returns its folder.
 */
async function makePass(pass: Pass, folder: string): Promise<string> {
  const place = path.join(folder, pass.name);
  if (existsSync(path.join(place, 'truth.json'))) return place;
  mkdirSync(place, { recursive: true });
  const { scene, truth } = await pass.draw();
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
  for (const frame of drawScene(scene, 7 + passes.indexOf(pass)))
    if (!encoder.stdin.write(frame)) await once(encoder.stdin, 'drain');
  encoder.stdin.end();
  const [code] = await closed;
  if (code !== 0) throw new Error(`ffmpeg ended with ${code} on ${pass.name}.`);
  const { kind, side } = pass;
  const lines = Array.from({ length: scene.frames }, (_, t) => truth(t));
  const file = path.join(place, 'truth.json');
  writeFileSync(`${file}.part`, JSON.stringify({ width, height, fps, kind, side, truth: lines }));
  renameSync(`${file}.part`, file);
  return place;
}
