import { mkdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { PassTruth } from './clip-frames';

const footage = path.resolve('demo/footage');
const size = { width: 1280, height: 720, fps: 25 };

/** The demo's shots as passes, with what their drawing says of the edge. */
const shots: readonly (Pick<PassTruth, 'kind' | 'side'> & { name: string; clip: string; outline: string })[] =
  [
    { name: 'gardener', clip: 'gardener', outline: 'edge', kind: 'seam', side: 'left' },
    { name: 'door', clip: 'door', outline: 'gap', kind: 'loop', side: 'left' },
    { name: 'board', clip: 'board', outline: 'front', kind: 'seam', side: 'left' },
    { name: 'trolley-front', clip: 'trolley', outline: 'front', kind: 'seam', side: 'left' },
    { name: 'trolley-back', clip: 'trolley', outline: 'back', kind: 'seam', side: 'right' },
  ];

/** A folder of the demo's shots as `npm run bench -- carry` takes it. */
export function demoPasses(): string {
  const place = path.join(os.tmpdir(), 'kiv-demo-passes');
  rmSync(place, { recursive: true, force: true });
  for (const { name, clip, outline, kind, side } of shots) {
    const folder = path.join(place, name);
    mkdirSync(folder, { recursive: true });
    symlinkSync(path.join(footage, `${clip}.mp4`), path.join(folder, 'clip.mp4'));
    const truth = outline === 'edge' ? edgeByRows() : outlineOf(clip, outline, kind);
    writeFileSync(path.join(folder, 'truth.json'), JSON.stringify({ ...size, kind, side, truth }));
  }
  return place;
}

function edgeByRows(): PassTruth['truth'] {
  const { rows, edges } = JSON.parse(readFileSync(path.join(footage, 'gardener-edge.json'), 'utf8')) as {
    rows: number[];
    edges: (number | null)[][];
  };
  return edges.map((xs) =>
    xs.some((x) => x === null) ? [] : xs.map((x, k): [number, number] => [x!, rows[k]]),
  );
}

function outlineOf(clip: string, outline: string, kind: PassTruth['kind']): PassTruth['truth'] {
  const { outlines } = JSON.parse(readFileSync(path.join(footage, `${clip}-truth.json`), 'utf8')) as {
    outlines: Record<string, number[][]>;
  };
  return outlines[outline].map((numbers) => {
    const corners = numbers.flatMap((x, k) => (k % 2 ? [] : [[x, numbers[k + 1]] as [number, number]]));
    if (kind === 'loop') return corners;
    const [[ax, ay], [bx, by]] = corners;
    return Array.from({ length: Math.floor(by / 4) + 1 }, (_, k): [number, number] => {
      const share = (4 * k - ay) / (by - ay);
      return [ax + (bx - ax) * share, ay + (by - ay) * share];
    });
  });
}
