import { documentOf } from '../src/core/document/document';
import type { CrossingDocument, MoveRow, OutlineRow } from '../src/core/document/tables';
import { setMove } from '../src/core/actions/move-actions';
import type { RowChange } from '../src/core/document/edit';
import type { Shot } from '../src/core/model/shot';
import { MatteScratch } from '../src/core/matte/matte';
import { fadeInOrder } from '../src/core/move/fades';
import { type PushIn, pushIn } from '../src/core/move/push-in';
import { swingKeys } from '../src/core/move/swing';
import { cornersOf, id, layer, outline, pose, poseAlong, size } from './crossing-rows';
import type { Polygon } from './frame';
import { pane } from './window';

/** The demo's crossings that live by what moves: their keys are worked out as Kiv works them out. */

interface Rows {
  crossing: object;
  layers: ReturnType<typeof layer>[];
  outlines: OutlineRow[];
  poses: object[];
  marks: object[];
}

export function marked(last: string, opens: number, closes: number) {
  return [
    { id: id(last), frame: opens, kind: 'opens', name: 'Opens' },
    { id: id(String(Number(last) + 1)), frame: closes, kind: 'closes', name: 'Closes' },
  ];
}

/** A crossing's rows as a document, each shot known by its file. */
function opened({ crossing, layers, outlines, poses, marks }: Rows): {
  document: CrossingDocument;
  shots: Record<string, Shot>;
} {
  const placed = layers.map((row) => ({ ...row, shotId: row.shotFile }));
  const rows = { crossing: [crossing], layer: placed, outline: outlines, pose: poses, mark: marks };
  const shot = { width: size.width, height: size.height, frameCount: 120, rate: { num: 25, den: 1 } } as Shot;
  return {
    document: documentOf(rows as never),
    shots: Object.fromEntries(layers.map(({ shotFile }) => [shotFile, shot])),
  };
}

const movesOf = (changes: readonly RowChange[]) => changes.map(({ after }) => after as MoveRow);

/** A crossing with a push in through its opening, or out of it. */
export function pushedThrough<R extends Rows>(rows: R, asked: PushIn) {
  const { document, shots } = opened(rows);
  return { ...rows, moves: movesOf(pushIn(document, shots, asked, new MatteScratch())) };
}

/** The shed's door on a still, cut in two leaves that swing open; then the picture pushes in. */
export function swungCrossing() {
  // Where the door lies in the still; its two leaves overlap in the middle, so that no seam is left between them.
  const [left, middle, right, top, bottom] = [452, 644, 836, 92, 690];
  const leafOf = (last: string, name: string, from: number, to: number, position: number) => ({
    outline: outline(last, '43', {
      ...{ name, kind: 'loop', position, hinge: position === 0 ? 'p4' : 'p2' },
      ...{ points: ['p1', 'p2', 'p3', 'p4'], featherInside: 0.6, featherOutside: 0.6 },
      ...{ beforeFirst: 'hold', afterLast: 'hold' },
    }),
    pose: pose(id(last), 0, cornersOf([from, top, to, top, to, bottom, from, bottom])),
  });
  const over = 3;
  const leaves = [
    leafOf('44', 'Left leaf', left, middle + over, 0),
    leafOf('45', 'Right leaf', middle - over, right, 1),
  ];
  const rows = {
    crossing: {
      ...size,
      id: id('41'),
      name: 'Doors to the pond',
      plan: 'hinged leaves',
      length: 75,
      moveShutter: 180,
    },
    layers: [
      layer('42', 'incoming', 'lily-pond.mp4', 0),
      layer('43', 'outgoing', 'door.mp4', 1, { holdFrom: 0 }),
    ],
    outlines: leaves.map((leaf) => leaf.outline),
    poses: leaves.map((leaf) => leaf.pose),
    marks: marked('46', 14, 26),
  };
  const { document } = opened(rows);
  const swung = movesOf(swingKeys(document, rows.outlines, 14)!);
  const moves = Object.fromEntries(swung.map((row) => [row.id, row]));
  const { shots } = opened(rows);
  const asked = { layerId: id('43'), all: false, from: 24, to: 58, back: false, along: 0 };
  const pushed = pushIn({ ...document, moves }, shots, asked, new MatteScratch());
  return { ...rows, moves: [...swung, ...movesOf(pushed)] };
}

/** The pond turns out to lie behind the round window of the shed. */
export function pulledBackCrossing() {
  const { x, y, radius } = pane;
  // A circle by four cubics: handles of 0.5523 radii.
  const h = 0.5523 * radius;
  const coordinates = [
    ...[x, y - radius, -h, 0, h, 0],
    ...[x + radius, y, 0, -h, 0, h],
    ...[x, y + radius, h, 0, -h, 0],
    ...[x - radius, y, 0, h, 0, -h],
  ];
  const rows = {
    crossing: {
      ...size,
      id: id('51'),
      name: 'Out of the round window',
      plan: 'pull-back',
      length: 60,
      moveShutter: 180,
    },
    layers: [layer('52', 'outgoing', 'lily-pond.mp4', 0), layer('53', 'incoming', 'window.mp4', 1)],
    outlines: [
      outline('54', '53', {
        ...{ name: 'Pane', kind: 'loop', points: ['p1', 'p2', 'p3', 'p4'] },
        ...{ featherInside: 1.2, featherOutside: 1.2, beforeFirst: 'hold', afterLast: 'hold' },
      }),
    ],
    poses: [pose(id('54'), 0, coordinates)],
    marks: marked('56', 8, 50),
  };
  return pushedThrough(rows, { layerId: id('53'), all: false, from: 8, to: 50, back: true, along: 0 });
}

/** The glasshouse fades round a scarecrow, which goes last. */
export function lingeringCrossing(figure: Polygon[]) {
  const frames = [0, 8, 15, 22, 30, 38, 45, 52, 60, 67, 74];
  const rows = {
    crossing: { ...size, id: id('61'), name: 'The scarecrow stays', plan: 'lingering subject', length: 72 },
    layers: [
      layer('62', 'incoming', 'lily-pond.mp4', 0),
      layer('63', 'outgoing', 'scarecrow.mp4', 1),
      layer('64', 'outgoing', 'scarecrow.mp4', 2, { keeps: true }),
    ],
    outlines: [
      outline('65', '64', {
        ...{
          name: 'Scarecrow',
          kind: 'loop',
          points: figure[0].filter((_, k) => k % 2).map((_, k) => `p${k + 1}`),
        },
        ...{ featherInside: 1.5, featherOutside: 1.5, beforeFirst: 'hold', afterLast: 'hold' },
      }),
    ],
    poses: frames.map((frame) => ({ ...pose(id('65'), frame, cornersOf(figure[frame])), onward: 'smooth' })),
    marks: marked('66', 12, 52),
  };
  return fadedInOrder(rows, id('64'), 12, [20, 20]);
}

/** A crossing whose background fades first, its subject after it. @param lengths frames that each of the two takes. */
export function fadedInOrder<R extends Rows>(
  rows: R,
  keptLayerId: string,
  from: number,
  lengths: [number, number],
) {
  const { document } = opened(rows);
  return { ...rows, moves: movesOf(fadeInOrder(document, keptLayerId, from, lengths)!) };
}

/** px a frame at which the gardener walks. */
const walk = 29;

/** The edge at a frame by which part of it, or all, has left since `end`. */
function goneOn(edges: (number | null)[][], end: number, frame: number): (number | null)[] {
  const known = edges[frame].flatMap((x, k) => (x === null ? [] : [{ k, shift: x - edges[end][k]! }]));
  return edges[end].map((x, k) => {
    const near = known.toSorted((a, b) => Math.abs(a.k - k) - Math.abs(b.k - k))[0];
    return x! + (near?.shift ?? walk * (frame - end));
  });
}

/** The gardener's pass again: time runs faster while he crosses, and settles. */
export function rampedCrossing(rows: number[], edges: (number | null)[][]) {
  const ramp = { ramp: [12, 100, 22, 240, 34, 240, 46, 100], rampAt: 28, rampRound: 6 };
  const whole = edges.flatMap((edge, frame) => (edge.every((x) => x !== null) ? [frame] : []));
  const traced = whole.filter((_, k) => k % 2 === 0 || k === whole.length - 1);
  // Where rows have left the frame they go on as their neighbours do; once all have, as they were going.
  const end = traced.at(-1)!;
  const leaving = [end + 3, end + 6].map((frame) =>
    pose(id('74'), frame, poseAlong(rows, goneOn(edges, end, frame))),
  );
  const crossing = { ...size, id: id('71'), name: 'Faster through the pass', plan: 'pass-by', length: 58 };
  const built = {
    crossing,
    layers: [
      layer('72', 'incoming', 'lily-pond.mp4', 0, { ...ramp, offset: 20 }),
      layer('73', 'outgoing', 'gardener.mp4', 1, { ...ramp, offset: 33 }),
    ],
    outlines: [
      outline('74', '73', {
        name: 'Gardener’s back',
        points: ['p1', 'p2', 'p3', 'p4', 'p5', 'p6', 'p7', 'p8'],
      }),
    ],
    poses: [...traced.map((frame) => pose(id('74'), frame, poseAlong(rows, edges[frame]))), ...leaving],
    marks: marked('76', 18, 41),
  };
  const { document } = opened(built);
  // The faster it goes the more it smears.
  const blur = [
    [16, 0],
    [28, 26],
    [42, 0],
  ].flatMap(([at, value]) => setMove(document, crossing.id, 'blur-along', at, value));
  return { ...built, moves: movesOf(blur) };
}
