import { readFileSync } from 'node:fs';
import path from 'node:path';
import type { ChromaSettings, PoseRow } from '../src/core/document/tables';
import { carryPoses, type CarryJob } from '../src/core/carry/carry-poses';
import { identity } from '../src/core/geometry/affine';
import { cornersOf, hundredth, id, layer, outline, pose, poseAlong, size } from './crossing-rows';
import {
  lingeringCrossing,
  pulledBackCrossing,
  pushedThrough,
  rampedCrossing,
  swungCrossing,
} from './moving-crossings';
import { doorSounds, passSounds } from './sounds';
import { readFilm } from './film-frames';
import { paintedCrossing } from './painted-crossing';
import type { Polygon } from './frame';

interface Truth {
  outlines: Record<string, Polygon[]>;
}

/** The last is the newest: the two that a new crossing begins with come at the end. */
const shots = {
  'window.mp4': 'Round window',
  'scarecrow.mp4': 'Scarecrow',
  'board.mp4': 'Show board',
  'trolley.mp4': 'Trolley with crates',
  'door.mp4': 'Potting-shed door',
  'nursery.mp4': 'Nursery, by hand',
  'gardener.mp4': 'Gardener with barrow',
  'lily-pond.mp4': 'Lily pond, night',
};

/** The board's colour as its picture has it, at its brightest and its darkest within the tolerance. */
export const boardKey: ChromaSettings = {
  ...{ cb: 144, cr: 191, tolerance: 14, softness: 46, grow: 0, clean: 12, spill: 40 },
};

/** The crossings that are ready on the shelf, each traced part or all of the way from the film's truth. */
export async function demoCrossings(folder: string) {
  const read = <T>(name: string) => JSON.parse(readFileSync(path.join(folder, name), 'utf8')) as T;
  const edge = read<{ rows: number[]; edges: (number | null)[][] }>('gardener-edge.json');
  return {
    shots,
    crossings: [
      rampedCrossing(edge.rows, edge.edges),
      await gardenerCrossing(folder, edge.rows, edge.edges),
      doorCrossing(read<Truth>('door-truth.json')),
      trolleyCrossing(read<Truth>('trolley-truth.json')),
      boardCrossing(),
      swungCrossing(),
      pulledBackCrossing(),
      lingeringCrossing(read<Truth>('scarecrow-truth.json').outlines.figure),
      await paintedCrossing(folder),
    ],
  };
}

/** Frames on which the gardener's back is drawn by hand, and the last that it is carried on to. */
const byHand = [48, 58, 68];
const carriedTo = 72;

/**
 * The gardener's back, drawn on three frames, carried between them, on, part of the way, and back until Kiv is not sure:
 * the rest is still to be carried, and that frame to be put right. A shot that does not match lies hidden below.
 */
async function gardenerCrossing(folder: string, rows: number[], edges: (number | null)[][]) {
  const film = readFilm(path.join(folder, 'gardener.mp4'), size);
  const hand = byHand.map((frame) => pose(id('04'), frame, poseAlong(rows, edges[frame])));
  const carried: PoseRow[] = [];
  const carry = async (from: PoseRow, to: PoseRow | null, way: Pick<CarryJob, 'direction' | 'most'>) => {
    const outline = { kind: 'seam', sweptSide: 'right' } as const;
    const { poses } = await carryPoses(
      film,
      { outline, from, to, stops: true, ...way },
      identity,
      () => true,
    );
    for (const { coordinates, ...each } of poses)
      carried.push({
        ...pose(id('04'), each.frame, coordinates.map(hundredth)),
        ...{
          ...each,
          origin: 'carried',
          coordinates: coordinates.map(hundredth),
          offBy: each.offBy.map(hundredth),
        },
      });
  };
  await carry(hand[0], null, { direction: -1, most: hand[0].frame });
  for (const [k, from] of hand.entries()) {
    const to = hand[k + 1] ?? null;
    await carry(from, to, { direction: 1, most: (to?.frame ?? carriedTo) - from.frame });
  }
  return {
    crossing: { id: id('01'), name: 'Glasshouse to lily pond', plan: 'pass-by', ...size, length: 66 },
    layers: [
      layer('05', 'incoming', 'nursery.mp4', 0, { visible: false }),
      layer('02', 'incoming', 'lily-pond.mp4', 1),
      layer('03', 'outgoing', 'gardener.mp4', 2, { offset: 30 }),
    ],
    outlines: [
      outline('04', '03', {
        name: 'Gardener’s back',
        points: ['p1', 'p2', 'p3', 'p4', 'p5', 'p6', 'p7', 'p8'],
      }),
    ],
    poses: [...hand, ...carried].sort((a, b) => a.frame - b.frame),
    marks: [],
    pieces: passSounds(),
  };
}

/** The door's gap, traced all the way; then the picture pushes in through it. */
function doorCrossing(truth: Truth) {
  const asked = { layerId: id('13'), all: false, from: 46, to: 82, back: false, along: 0 };
  return { ...pushedThrough(openDoor(truth), asked), pieces: doorSounds() };
}

function openDoor({ outlines }: Truth) {
  return {
    crossing: { id: id('11'), name: 'Door to the pond', plan: 'opening', ...size, length: 90 },
    layers: [layer('12', 'incoming', 'lily-pond.mp4', 0), layer('13', 'outgoing', 'door.mp4', 1)],
    outlines: [
      outline('14', '13', {
        name: 'Gap of the door',
        kind: 'loop',
        points: ['p1', 'p2', 'p3', 'p4', 'p5', 'p6'],
        featherInside: 1.5,
        featherOutside: 1.5,
        afterLast: 'hold',
        // As long as the film's own.
        shutter: 180,
      }),
    ],
    poses: [12, 16, 20, 23, 26, 29, 32, 36, 40, 44, 48, 52, 56, 60, 64, 68, 89].map((frame) =>
      pose(id('14'), frame, cornersOf(outlines.gap[frame])),
    ),
    marks: [
      { id: id('15'), frame: 13, kind: 'opens', name: 'Opens' },
      { id: id('16'), frame: 68, kind: 'closes', name: 'Closes' },
    ],
  };
}

/** The trolley's front and back edge, traced at their two ends. */
function trolleyCrossing({ outlines }: Truth) {
  const ends = (name: 'front' | 'back') => {
    const first = outlines[name].findIndex(([top, , bottom]) => Math.min(top, bottom) < 1300);
    const last = outlines[name].findIndex(([top, , bottom]) => Math.max(top, bottom) < -20);
    return [first, last];
  };
  const posesOf = (last: string, name: 'front' | 'back') =>
    ends(name).map((frame) => pose(id(last), frame, cornersOf(outlines[name][frame])));
  return {
    crossing: { id: id('21'), name: 'Behind the trolley', plan: 'bridge', ...size, length: 72 },
    layers: [
      layer('22', 'incoming', 'lily-pond.mp4', 0),
      layer('23', 'passing', 'trolley.mp4', 1),
      layer('24', 'outgoing', 'gardener.mp4', 2),
    ],
    outlines: [
      outline('25', '23', {
        name: 'Front edge',
        purpose: 'front edge',
        cutsLayerId: id('24'),
        sweptSide: 'left',
        points: ['p1', 'p2'],
        featherInside: 13,
        featherOutside: 13,
      }),
      outline('26', '23', {
        name: 'Back edge',
        purpose: 'back edge',
        sweptSide: 'left',
        points: ['p1', 'p2'],
        featherInside: 13,
        featherOutside: 13,
        position: 1,
      }),
    ],
    poses: [...posesOf('25', 'front'), ...posesOf('26', 'back')],
    marks: [],
  };
}

/** The show board, keyed by its colour: the hands that carry it are not of that colour, and stay. */
function boardCrossing() {
  return {
    crossing: { id: id('31'), name: 'On the show board', plan: 'keyed board', ...size, length: 60 },
    layers: [layer('32', 'incoming', 'lily-pond.mp4', 0), layer('33', 'outgoing', 'board.mp4', 1)],
    outlines: [],
    poses: [],
    marks: [{ id: id('34'), frame: 8, kind: 'opens', name: 'Opens' }],
    chromas: [{ id: id('33'), ...boardKey }],
  };
}
