import cv, { opencvReady } from '../../../fixtures/opencv';
import { swung } from '../compose/leaves';
import { shotMapAt } from '../compose/moves';
import { drawPicture } from '../compose/picture';
import { sceneAt } from '../compose/scene';
import { applyChanges, documentOf } from '../document/document';
import {
  type CrossingDocument,
  type OutlineRow,
  plainCrossing,
  plainLayer,
  plainOutline,
  plainPose,
  poseId,
} from '../document/tables';
import { setMove } from '../actions/move-actions';
import type { Shot } from '../model/shot';
import { applyHomography } from '../geometry/homography';
import { catmullRom, type PicturePlanes } from '../picture/planes';
import { coverageAt } from '../compose/coverage-curve';
import { MatteScratch } from '../matte/matte';
import { swingKeys } from './swing';

/** Bent, swung and smeared pictures, against OpenCV (the package @techstark/opencv-js) and against sums of many. */

beforeAll(opencvReady, 60_000);

const [width, height] = [160, 90];
const shot = (id: string): Shot => ({
  ...{ id, name: id, width, height, rotation: 0, rate: { num: 25, den: 1 }, frameCount: 60 },
  ...{ colour: { matrix: 'bt709', fullRange: true }, motion: null },
});
const shots = { out: shot('out'), in: shot('in') };
const corners = [40, 20, 110, 16, 104, 80, 44, 72];
const leaf: OutlineRow = {
  ...{ ...plainOutline, id: 'o', layerId: 'top', cutsLayerId: null, name: 'Leaf', kind: 'loop', position: 0 },
  ...{ sweptSide: 'right', points: ['a', 'b', 'c', 'd'], hinge: 'd', afterLast: 'hold', beforeFirst: 'hold' },
};
const document: CrossingDocument = documentOf({
  crossing: [
    {
      ...plainCrossing,
      id: 'c',
      name: 'T',
      plan: 'opening',
      width,
      height,
      rateNum: 25,
      rateDen: 1,
      length: 50,
    },
  ],
  layer: [
    { ...plainLayer, id: 'bottom', role: 'incoming', shotId: 'in', position: 0 },
    { ...plainLayer, id: 'top', role: 'outgoing', shotId: 'out', position: 1 },
  ],
  outline: [leaf],
  pose: [
    {
      ...{ id: poseId('o', 0), outlineId: 'o', frame: 0, ...plainPose, origin: 'by hand', onward: 'linear' },
      coordinates: [0, 2, 4, 6].flatMap((k) => [corners[k], corners[k + 1], 0, 0, 0, 0]),
    },
  ],
});
const whole: CrossingDocument = { ...document, outlines: {}, poses: {} };

/** A grey picture of smooth hills, and one of a single grey. */
const planes = (of: (x: number, y: number) => number): PicturePlanes => ({
  ...{ width, height, chromaWidth: width / 2, chromaHeight: height / 2 },
  y: Uint8Array.from({ length: width * height }, (_, i) => of(i % width, Math.floor(i / width))),
  u: new Uint8Array((width * height) / 4).fill(128),
  v: new Uint8Array((width * height) / 4).fill(128),
  colour: { matrix: 'bt709', fullRange: true },
});
const pictures: Record<string, PicturePlanes> = {
  out: planes((x, y) => 128 + 60 * Math.sin(x / 9) + 50 * Math.cos(y / 7)),
  in: planes((x, y) => 40 + ((x + y) % 24)),
};

function drawn(of: CrossingDocument, frame: number, toShot?: (layerId: string) => number[]): Uint8Array {
  const scene = sceneAt(of, shots, frame, { view: 'result', traced: null });
  const out = new Uint8Array(width * height * 4);
  const layers = toShot
    ? scene.layers.map((draw) => ({ ...draw, toShot: toShot(draw.layerId) as never, blur: null }))
    : scene.layers;
  drawPicture(
    { ...scene, layers },
    { shots, crossing: of.crossing, planesOf: ({ shotId }) => pictures[shotId], width, height },
    out,
  );
  return out;
}

test('a swung leaf is the projection of the rectangle turned in space, and OpenCV’s homography of its corners', () => {
  const [cx, cy, distance] = [80, 45, 240];
  for (const [inwards, degrees, hinge] of [
    [true, 35, [40, 20, 40, 72]],
    [false, 20, [40, 20, 40, 72]],
    [true, 70, [40, 72, 46, 20]],
    [true, 50, [40, 20, 100, 24]],
  ] as const) {
    const [hx, hy, gx, gy] = hinge;
    const map = swung(
      { from: [hx, hy], to: [gx, gy], leaf: [75, 47], centre: [cx, cy], distance, inwards },
      degrees,
    )!;
    // Turned about the hinge by Rodrigues' formula, towards or away from a camera at (cx, cy, −distance).
    const length = Math.hypot(gx - hx, gy - hy);
    const axis = [(gx - hx) / length, (gy - hy) / length];
    const across = [-axis[1], axis[0]];
    const side = Math.sign((75 - hx) * across[0] + (47 - hy) * across[1]);
    const angle = (degrees * Math.PI) / 180;
    const seen = [0, 2, 4, 6].flatMap((k) => {
      const v = [corners[k] - hx, corners[k + 1] - hy];
      const along = v[0] * axis[0] + v[1] * axis[1];
      const out = v[0] * across[0] + v[1] * across[1];
      const x = hx + along * axis[0] + out * Math.cos(angle) * across[0];
      const y = hy + along * axis[1] + out * Math.cos(angle) * across[1];
      const z = (inwards ? 1 : -1) * side * out * Math.sin(angle);
      return [cx + ((x - cx) * distance) / (distance + z), cy + ((y - cy) * distance) / (distance + z)];
    });
    for (let k = 0; k < 8; k += 2) {
      const [x, y] = applyHomography(map, corners[k], corners[k + 1]);
      expect(x).toBeCloseTo(seen[k], 9);
      expect(y).toBeCloseTo(seen[k + 1], 9);
    }
    const [from, to] = [corners, seen].map((each) => cv.matFromArray(4, 1, cv.CV_32FC2, each));
    const theirs = cv.getPerspectiveTransform(from, to);
    map.forEach((value, k) => expect(value / map[8]).toBeCloseTo(theirs.data64F[k], 3));
  }
  // Turned so far that its face looks away it is gone.
  const edgeOn = { from: [40, 20], to: [40, 72], leaf: [75, 47], centre: [80, 45], distance: 240 } as const;
  expect(swung({ ...edgeOn, inwards: true }, 130)).toBeNull();
});

test('leaves that are shut leave the picture as it is; open, they show what lies behind, and the wall stays', () => {
  const plain = drawn(whole, 30);
  expect(drawn(document, 30)).toEqual(plain);
  const swinging = applyChanges(document, swingKeys(document, [leaf], 20)!);
  expect(drawn(swinging, 20)).toEqual(plain);
  const [ajar, gone] = [drawn(swinging, 23), drawn(swinging, 40)];
  const at = (picture: Uint8Array, x: number, y: number) => picture[(y * width + x) * 4];
  const behind = (x: number, y: number) => pictures.in.y[y * width + x];
  // Beside the free side it has opened, near the hinge the leaf still hangs; all of it is open in the end.
  expect(at(ajar, 100, 45)).toBe(behind(100, 45));
  expect(at(ajar, 46, 45)).not.toBe(behind(46, 45));
  for (const x of [50, 70, 100]) expect(at(gone, x, 45)).toBe(behind(x, 45));
  for (const [x, y] of [
    [20, 45],
    [130, 60],
    [70, 5],
  ])
    for (const picture of [ajar, gone]) expect(at(picture, x, y)).toBe(at(plain, x, y));
  expect(swingKeys(document, [leaf], 45)).toBeNull();
});

test('what is covered grows as leaves give way, and not all at once as they begin to swing', () => {
  const swinging = applyChanges(document, swingKeys(document, [leaf], 20)!);
  const scratch = new MatteScratch();
  const covered = Array.from({ length: 50 }, (_, frame) => coverageAt(swinging, shots, frame, scratch));
  expect(covered[20]).toBe(0);
  // The loop's area by the shoelace formula, and the picture's.
  const area = corners.reduce((sum, x, k) => {
    if (k % 2 === 1) return sum;
    const [nx, y, ny] = [corners[(k + 2) % 8], corners[k + 1], corners[(k + 3) % 8]];
    return sum + (x * ny - nx * y) / 2;
  }, 0);
  expect(covered[49]).toBeCloseTo(area / (width * height), 2);
  expect(covered[21]).toBeLessThan(0.25 * covered[49]);
  for (let frame = 21; frame < 50; frame++)
    expect(covered[frame]).toBeGreaterThan(covered[frame - 1] - 0.003);
});

test('two leaves that only touch leave no line of the wall between them', () => {
  const half = (id: string, x0: number, x1: number, hinge: string) => ({
    outline: { ...leaf, id, hinge, position: id === 'o' ? 0 : 1 },
    pose: {
      ...document.poses.o[0],
      ...{ id: poseId(id, 0), outlineId: id },
      coordinates: [x0, 20.3, x1, 20.3, x1, 70.6, x0, 70.6].flatMap((value, i, all) =>
        i % 2 ? [] : [value, all[i + 1], 0, 0, 0, 0],
      ),
    },
  });
  const [left, right] = [half('o', 30, 80.4, 'd'), half('p', 80.4, 120, 'b')];
  const both = {
    ...document,
    outlines: { o: left.outline, p: right.outline },
    poses: { o: [left.pose], p: [right.pose] },
  };
  const gone = drawn(applyChanges(both, swingKeys(both, [left.outline, right.outline], 5)!), 30);
  for (const y of [25, 45, 66])
    for (let x = 34; x < 116; x++)
      expect(Math.abs(gone[(y * width + x) * 4] - pictures.in.y[y * width + x])).toBeLessThanOrEqual(1);
});

test('a thick leaf that swings out shows its free side, the box turned in space; swinging in it does not', () => {
  const [distance, thickness, degrees] = [1.5 * width, 14, 40];
  const swing = (inwards: boolean, thick: number) => {
    const outlines = {
      o: { ...leaf, inwards, thickness: thick, thicknessColour: 0x204060, beforeFirst: 'hold' as const },
    };
    return applyChanges(
      { ...document, outlines },
      setMove({ ...document, outlines }, 'o', 'swing', 0, degrees),
    );
  };
  const [thin, thick] = [drawn(swing(false, 0), 5), drawn(swing(false, thickness), 5)];
  const isSide = (x: number, y: number) => {
    const o = (y * width + x) * 4;
    return thick[o] === 0x20 && thick[o + 1] === 0x40 && thick[o + 2] === 0x60;
  };
  // Its box: from the hinge (its lower end at (44, 72), its upper at (40, 20)) across, its far face 14 px behind.
  const [from, to] = [
    [44, 72],
    [40, 20],
  ];
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const across = [-(to[1] - from[1]) / length, (to[0] - from[0]) / length];
  const angle = (-degrees * Math.PI) / 180;
  const seen = (x: number, y: number, z: number) => {
    const d = (x - from[0]) * across[0] + (y - from[1]) * across[1];
    const [along, depth] = [
      d * Math.cos(angle) - z * Math.sin(angle),
      d * Math.sin(angle) + z * Math.cos(angle),
    ];
    const at = [x + (along - d) * across[0], y + (along - d) * across[1]];
    return [width / 2, height / 2].map((c, k) => c + ((at[k] - c) * distance) / (distance + depth));
  };
  const middle = (a: number[], b: number[], share: number) =>
    a.map((value, k) => value + (b[k] - value) * share);
  const near = middle(seen(110, 16, 0), seen(104, 80, 0), 0.5);
  const far = middle(seen(110, 16, thickness), seen(104, 80, thickness), 0.5);
  expect(far[0] - near[0]).toBeGreaterThan(4);
  for (const share of [0.3, 0.5, 0.7]) {
    const [x, y] = middle(near, far, share).map(Math.floor);
    expect([share, isSide(x, y)]).toEqual([share, true]);
  }
  // Just beyond either end of it is the face, and what lies behind.
  expect(isSide(Math.floor(near[0] - 2), Math.floor(near[1]))).toBe(false);
  expect(isSide(Math.ceil(far[0] + 2), Math.floor(far[1]))).toBe(false);
  // Its face is as it was.
  const inner = middle(seen(44, 46, 0), near, 0.5).map(Math.floor);
  const o = (inner[1] * width + inner[0]) * 4;
  expect([...thick.subarray(o, o + 3)]).toEqual([...thin.subarray(o, o + 3)]);
  const [inThin, inThick] = [drawn(swing(true, 0), 5), drawn(swing(true, 3), 5)];
  const changed = inThin.reduce((sum, value, i) => sum + (value === inThick[i] ? 0 : 1), 0);
  expect(changed / (width * height)).toBeLessThan(0.02);
});

test('corners pulled one by one draw what OpenCV’s warpPerspective draws', () => {
  let pulled = applyChanges(whole, setMove(whole, 'top', 'upper-left', 0, 12, 9));
  pulled = applyChanges(pulled, setMove(pulled, 'top', 'lower-right', 0, -20, -6));
  pulled = applyChanges(pulled, setMove(pulled, 'top', 'upper-right', 0, -4, 3));
  const own = drawn(pulled, 5);
  const source = cv.matFromArray(height, width, cv.CV_8UC1, [...pictures.out.y]);
  const [from, to] = [
    [0, 0, width, 0, width, height, 0, height],
    [12, 9, width - 4, 3, width - 20, height - 6, 0, height],
    // OpenCV's pixels have their middles at whole numbers.
  ].map((each) =>
    cv.matFromArray(
      4,
      1,
      cv.CV_32FC2,
      each.map((value) => value - 0.5),
    ),
  );
  const theirs = new cv.Mat();
  cv.warpPerspective(
    source,
    theirs,
    cv.getPerspectiveTransform(from, to),
    new cv.Size(width, height),
    cv.INTER_LINEAR,
  );
  let [off, compared] = [0, 0];
  for (let y = 14; y < height - 14; y++)
    for (let x = 18; x < width - 26; x++) {
      off += Math.abs(own[(y * width + x) * 4] - theirs.data[y * width + x]);
      compared++;
    }
  // Ours reads with a sharper kernel.
  expect(off / compared).toBeLessThan(0.6);
  // Folded over, they are left as they were.
  const folded = applyChanges(whole, setMove(whole, 'top', 'upper-left', 0, 300, 9));
  expect(drawn(folded, 5)).toEqual(drawn(whole, 5));
});

test('blur of what moves is the mean of many pictures taken while the shutter is open', () => {
  const linear = { onward: 'linear' as const };
  for (const [what, keys] of [
    ['slides', [['place', 0, 0, 0] as const, ['place', 40, 240, -80] as const]],
    ['pushes in', [['size', 0, 100, 0] as const, ['size', 40, 900, 0] as const]],
    ['turns', [['turn', 0, 0, 0] as const, ['turn', 40, 300, 0] as const]],
  ] as const) {
    // Its matte goes along: it is blurred with it, once.
    let moving: CrossingDocument = { ...document, outlines: { o: { ...leaf, hinge: null } } };
    moving = { ...moving, crossing: { ...moving.crossing, moveShutter: 360 } };
    for (const [channel, frame, value, second] of keys)
      moving = applyChanges(moving, setMove(moving, 'top', channel, frame, value, second, linear));
    const frame = 20;
    const own = drawn(moving, frame);
    const mean = new Float64Array(own.length);
    for (let k = 0; k < 64; k++) {
      const moment = frame + (k + 0.5) / 64 - 0.5;
      const at = (id: string) => [
        ...shotMapAt(moving, moving.layers[id], shots[id === 'top' ? 'out' : 'in'], moment, frame),
      ];
      drawn(moving, frame, at).forEach((value, i) => (mean[i] += value / 64));
    }
    const still = drawn({ ...moving, crossing: { ...moving.crossing, moveShutter: 0 } }, frame);
    const from = (other: ArrayLike<number>) =>
      own.reduce((sum, value, i) => sum + Math.abs(value - other[i]), 0) / own.length;
    expect({ what, close: from(mean) < 2 }).toEqual({ what, close: true });
    // Without blur it is another picture.
    expect(from(still)).toBeGreaterThan(3 * from(mean));
  }
});

test('the sharp kernel is the published one: it runs through its samples and keeps parabolas as they are', () => {
  // Keys 1981, equation 15, with a = −½.
  const kernel = (t: number) => {
    const s = Math.abs(t);
    return s < 1 ? 1.5 * s ** 3 - 2.5 * s ** 2 + 1 : s < 2 ? -0.5 * s ** 3 + 2.5 * s ** 2 - 4 * s + 2 : 0;
  };
  const samples = Uint8Array.from({ length: 12 * 9 }, (_, i) => (i * 89) % 251);
  for (const [x, y] of [
    [4.3, 3.8],
    [5, 4],
    [6.99, 2.01],
  ]) {
    let sum = 0;
    for (let j = 0; j < 9; j++)
      for (let i = 0; i < 12; i++) sum += samples[j * 12 + i] * kernel(x - i) * kernel(y - j);
    expect(catmullRom(samples, 12, 9, x, y)).toBeCloseTo(sum, 9);
  }
  const parabola = Uint8Array.from({ length: 12 * 9 }, (_, i) => (i % 12) ** 2);
  expect(catmullRom(parabola, 12, 9, 5.25, 4)).toBeCloseTo(5.25 ** 2, 9);
});
