import { spawnSync } from 'node:child_process';
import path from 'node:path';
import type { Shot } from '../src/core/model/shot';
import { drawKeyed } from '../src/core/matte/keyed';
import { boardKey } from './crossing';
import { height, width } from './frame';

/** The key of the demo's crossing against the true alpha of the sheet, which the generator has written down. */

const frames = [10, 20, 26, 34, 55];
const pixels = width * height;

function decoded(file: string, format: 'yuv420p' | 'gray'): Buffer {
  const chosen = frames.map((frame) => `eq(n\\,${frame})`).join('+');
  const input = ['-i', path.join(process.cwd(), 'demo', 'footage', file), '-vf', `select=${chosen}`];
  const output = ['-fps_mode', 'passthrough', '-f', 'rawvideo', '-pix_fmt', format, '-'];
  return spawnSync('ffmpeg', ['-v', 'error', ...input, ...output], { maxBuffer: 2 ** 30 }).stdout;
}

test('the board is keyed within a few code values of its true alpha, and the hands that hold it stay', () => {
  const pictures = decoded('board.mp4', 'yuv420p');
  const alphas = decoded('board-alpha.mkv', 'gray');
  const shot = { id: 's', width, height, rotation: 0 } as Shot;
  const out = new Uint8Array(pixels);
  frames.forEach((_frame, k) => {
    const at = k * pixels * 1.5;
    const planes = {
      ...{ width, height, chromaWidth: width / 2, chromaHeight: height / 2 },
      y: pictures.subarray(at, at + pixels),
      u: pictures.subarray(at + pixels, at + pixels * 1.25),
      v: pictures.subarray(at + pixels * 1.25, at + pixels * 1.5),
      colour: { matrix: 'bt709', fullRange: false } as const,
    };
    drawKeyed(boardKey, planes, shot, { width, height }, out);
    let [difference, wrong] = [0, 0];
    for (let i = 0; i < pixels; i++) {
      const off = Math.abs(out[i] - alphas[k * pixels + i]);
      difference += off;
      // Clearly board, or clearly not, and taken for the other.
      if (off > 200) wrong++;
    }
    expect(difference / pixels).toBeLessThan(1.5);
    expect(wrong).toBeLessThan(50);
  });
  expect(pictures).toHaveLength(frames.length * pixels * 1.5);
});
