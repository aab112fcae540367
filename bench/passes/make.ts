import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdirSync, renameSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { passes, type Pass } from './passes';
import { drawScene, fps, height, width } from './scene';

/**
 * Draws a pass into `folder`/its name, unless it is there: `clip.mp4` (H.264, 4:2:0) and `truth.json`.
 *
 * @returns its folder.
 */
export async function makePass(pass: Pass, folder: string): Promise<string> {
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
