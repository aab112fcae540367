import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { height, width } from './frame';
import { edgeRows, gardenerShot, pondShot } from './shots';

const folder = path.join(process.cwd(), 'demo', 'footage');

/** One frame of a shipped file, decoded by ffmpeg. */
function shipped(file: string, frame: number, format: 'rgb24' | 'gray'): Uint8Array {
  const select = ['-vf', `select=eq(n\\,${frame})`, '-frames:v', '1'];
  const { stdout, status } = spawnSync(
    'ffmpeg',
    ['-v', 'error', '-i', path.join(folder, file), ...select, '-f', 'rawvideo', '-pix_fmt', format, '-'],
    {
      maxBuffer: 1e8,
    },
  );
  expect(status).toBe(0);
  return stdout;
}

function psnr(a: Uint8Array, b: Uint8Array): number {
  const sum = a.reduce((total, value, i) => total + (value - b[i]) ** 2, 0);
  return 10 * Math.log10(255 ** 2 / (sum / a.length));
}

test('the generator draws what is shipped: pictures, alpha and the true edge', () => {
  // Whether they are the same to the byte is for `npm run demo -- --check`: another processor may round the paint
  // otherwise. Here the drawn frame is held against the encoded one.
  const gardener = gardenerShot();
  const { rgb, alpha } = gardener.draw(60);
  expect(psnr(rgb, shipped('gardener.mp4', 60, 'rgb24'))).toBeGreaterThan(32);
  expect(psnr(alpha!, shipped('gardener-alpha.mkv', 60, 'gray'))).toBeGreaterThan(45);
  const truth = JSON.parse(readFileSync(path.join(folder, 'gardener-edge.json'), 'utf8')) as {
    rows: number[];
    edges: (number | null)[][];
  };
  expect(truth.rows).toEqual(edgeRows);
  expect(truth.edges).toHaveLength(gardener.frames);
  gardener.trailingEdge!(alpha!).forEach((x, k) =>
    expect(Math.abs(x! - truth.edges[60][k]!)).toBeLessThan(0.1),
  );
  // The object fills the frame's height while it passes, and the frame is clear before and after.
  expect(truth.edges[60].every((x) => x !== null)).toBe(true);
  expect(gardener.draw(0).alpha!.every((a) => a === 0)).toBe(true);
  expect(gardener.draw(95).alpha!.every((a) => a === 0)).toBe(true);
  expect(psnr(pondShot().draw(20).rgb, shipped('lily-pond.mp4', 20, 'rgb24'))).toBeGreaterThan(32);
  expect(rgb).toHaveLength(width * height * 3);
}, 60_000);
