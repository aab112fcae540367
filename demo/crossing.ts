import { numbersPerPoint, poseId } from '../src/core/document/rows';

/** The crossing that is ready on the shelf: the gardener's back, traced part of the way from the film's true edge. */
export function demoCrossing(rows: number[], edges: (number | null)[][]) {
  const crossingId = '6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e01';
  const layerId = '6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e03';
  const outlineId = '6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e04';
  const [first, length] = [30, 66];
  const poses = [48, 52, 56, 60, 64, 68, 72].map((frame) => ({
    id: poseId(outlineId, frame),
    outlineId,
    frame,
    origin: 'by hand',
    coordinates: poseAlong(rows, edges[frame]),
  }));
  return {
    shots: { 'gardener.mp4': 'Gardener with barrow', 'lily-pond.mp4': 'Lily pond, night' },
    crossing: {
      id: crossingId,
      name: 'Glasshouse to lily pond',
      plan: 'pass-by',
      width: 1280,
      height: 720,
      rateNum: 25,
      rateDen: 1,
      length,
    },
    layers: [
      {
        id: '6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e02',
        role: 'incoming',
        shotFile: 'lily-pond.mp4',
        position: 0,
        offset: 0,
      },
      { id: layerId, role: 'outgoing', shotFile: 'gardener.mp4', position: 1, offset: first },
    ],
    outlines: [
      {
        id: outlineId,
        layerId,
        name: 'Gardener’s back',
        kind: 'seam',
        sweptSide: 'right',
        position: 0,
        points: ['p1', 'p2', 'p3', 'p4', 'p5', 'p6', 'p7', 'p8'],
        featherSide: 'both',
        feather: 14,
        spread: 0,
      },
    ],
    poses,
  };
}

/** Rows, as indices of the edge's list, at which a person would put a point down a back. */
const chosen = [0, 10, 14, 24, 36, 52, 70, 89];

/** A pose through the edge at the chosen rows, with handles a third of the way along the curve (Catmull-Rom). */
function poseAlong(rows: number[], edge: (number | null)[]): number[] {
  const at = chosen.map((k) => {
    const x = edge[k];
    if (x === null) throw new Error(`The edge does not reach row ${rows[k]}.`);
    return [x, rows[k]];
  });
  const pose: number[] = [];
  at.forEach(([x, y], k) => {
    const [px, py] = at[Math.max(0, k - 1)];
    const [nx, ny] = at[Math.min(at.length - 1, k + 1)];
    const slope = (nx - px) / (ny - py);
    const handle = (toY: number) => [((toY - y) / 3) * slope, (toY - y) / 3].map(rounded);
    pose.push(
      rounded(x),
      y,
      ...(k === 0 ? [0, 0] : handle(py)),
      ...(k === at.length - 1 ? [0, 0] : handle(ny)),
    );
  });
  if (pose.length !== chosen.length * numbersPerPoint) throw new Error('A pose is incomplete.');
  return pose;
}

function rounded(value: number): number {
  return Math.round(value * 100) / 100;
}
