import { documentOf } from '../document/document';
import {
  type CrossingDocument,
  plainPose,
  type OutlineRow,
  plainLayer,
  plainOutline,
  type PoseRow,
  poseId,
  moveId,
  type MoveRow,
} from '../document/tables';
import type { Shot } from '../model/shot';
import { MatteScratch } from '../matte/matte';
import { coverageAt } from './coverage-curve';
import { drawDeepPicture, drawPicture } from './picture';
import { type PicturePlanes, reducePlanes, shotToPlanes, shrinkPlanes } from '../picture/planes';
import { applyAffine } from '../geometry/affine';
import { sceneAt } from './scene';

const [width, height] = [64, 36];
const colour = { matrix: 'bt709', fullRange: false } as const;
const shot = (id: string, rest: Partial<Shot> = {}): Shot => ({
  id,
  name: id,
  width,
  height,
  rotation: 0,
  rate: { num: 25, den: 1 },
  frameCount: 50,
  colour,
  motion: null,
  ...rest,
});
const flat = (y: number, u: number, v: number): PicturePlanes => ({
  width,
  height,
  chromaWidth: width / 2,
  chromaHeight: height / 2,
  y: new Uint8Array(width * height).fill(y),
  u: new Uint8Array((width * height) / 4).fill(u),
  v: new Uint8Array((width * height) / 4).fill(v),
  colour,
});
const outline: OutlineRow = {
  ...plainOutline,
  id: 's',
  layerId: 'top',
  cutsLayerId: null,
  name: 'Back',
  kind: 'seam',
  sweptSide: 'right',
  position: 0,
  points: ['a', 'b'],
};
const pose = (frame: number, x: number): PoseRow => ({
  id: poseId('s', frame),
  outlineId: 's',
  frame,
  ...plainPose,
  origin: 'by hand',
  onward: 'linear',
  coordinates: [x, -5, 0, 0, 0, 0, x, height + 5, 0, 0, 0, 0],
});
const crossing = {
  id: 'c',
  name: 'Test',
  plan: 'pass-by' as const,
  width,
  height,
  rateNum: 25,
  rateDen: 1,
  length: 40,
  inFrame: 0,
  outFrame: null,
  blend: 'display' as const,
  moveShutter: 0,
  blurBorder: 'extend' as const,
};
const document = documentOf({
  crossing: [crossing],
  layer: [
    { ...plainLayer, id: 'bottom', role: 'incoming', shotId: 'in', position: 0, offset: -4 },
    { ...plainLayer, id: 'top', role: 'outgoing', shotId: 'out', position: 1, offset: 10 },
  ],
  outline: [outline],
  pose: [pose(20, 10), pose(30, 50.5)],
});
const shots = { in: shot('in'), out: shot('out') };
// Code values of BT.709's red and blue at 100 % (BT.709-6, 8 bit), and what they decode to.
const planes = { out: flat(63, 102, 240), in: flat(32, 240, 118) };

function result(doc: CrossingDocument, frame: number, view: 'result' | 'plain' | 'matte' = 'result') {
  const out = new Uint8Array(width * height * 4);
  drawPicture(
    sceneAt(doc, shots, frame, { view, traced: 'top' }),
    { shots, crossing, planesOf: (draw) => planes[draw.shotId as 'in'], width, height },
    out,
  );
  return (x: number, y: number) => [...out.subarray((y * width + x) * 4, (y * width + x) * 4 + 4)];
}
const near = (a: number[], b: number[]) =>
  a.forEach((value, i) => expect(Math.abs(value - b[i])).toBeLessThanOrEqual(2));

test('the wipe: outgoing before, both at the edge, incoming after; poses stay on their source frames', () => {
  near(result(document, 9)(5, 5), [255, 0, 0, 255]);
  const middle = result(document, 20);
  near(middle(49, 5), [0, 0, 255, 255]);
  near(middle(51, 5), [255, 0, 0, 255]);
  // W3C Compositing and Blending Level 1, §9.1.4, source-over: co = cs·αs + cb·(1 − αs); half of the pixel is cut.
  near(middle(50, 5), [128, 0, 128, 255]);
  near(result(document, 21)(60, 20), [0, 0, 255, 255]);
  // The incoming shot starts 4 frames in: before that it is black behind the cut, and nothing fails.
  const early = { ...document, layers: { ...document.layers, top: { ...document.layers.top, offset: 22 } } };
  expect(result(early, 2)(3, 3)).toEqual([0, 0, 0, 255]);
  expect(result(document, 20, 'matte')(3, 3)).toEqual([255, 255, 255, 255]);
  near(result(document, 20, 'plain')(3, 3), [255, 0, 0, 255]);
});

test('a blur leaves borders that are not seen as they are, mirrors them or lets them go; one that is seen is smeared', () => {
  const id = moveId('c', 'blur-along', 0);
  const key: MoveRow = {
    ...{ id, ownerId: 'c', channel: 'blur-along', frame: 0, value: 20, second: 0, third: 0 },
    ...{ onward: 'linear', ease: [] },
  };
  const blurred = (blurBorder: 'extend' | 'mirror' | 'transparent', scale = 100) => ({
    ...document,
    crossing: { ...crossing, blurBorder },
    layers: { bottom: { ...document.layers.bottom, scale, offset: 0 } },
    outlines: {},
    poses: {},
    moves: { [id]: key },
  });
  const at = (doc: CrossingDocument, x: number) => result(doc, 9)(x, 18)[2];
  for (const border of ['extend', 'mirror'] as const)
    for (const x of [0, 5, 32, 63]) expect(at(blurred(border), x)).toBeGreaterThanOrEqual(253);
  // Half of what passes the first pixel is the shot, half is beyond it.
  expect(at(blurred('transparent'), 0) / 255).toBeCloseTo(10.5 / 20, 1);
  expect(at(blurred('transparent'), 32)).toBeGreaterThanOrEqual(253);
  // Half as large its left border lies on x = 16, and is seen.
  expect(at(blurred('extend', 50), 16) / 255).toBeCloseTo(10.5 / 20, 1);
  expect(at(blurred('extend', 50), 4)).toBe(0);
});

test('coverage runs from nothing to all', () => {
  const scratch = new MatteScratch();
  const at = (frame: number) => coverageAt(document, shots, frame, scratch);
  expect([at(9), at(21)]).toEqual([0, 1]);
  expect(at(10)).toBeCloseTo(10 / 64, 2);
  expect(at(20)).toBeCloseTo(50.5 / 64, 2);
});

test('rotation flags and smaller copies map to the right samples', () => {
  // A quarter turn clockwise brings the coded picture's bottom-left corner to the top left.
  const turned = shot('r', { rotation: 90, width: height, height: width });
  expect(applyAffine(shotToPlanes(turned, flat(0, 0, 0)), 0, 0)).toEqual([0, height]);
  expect(applyAffine(shotToPlanes({ ...turned, rotation: 270 }, flat(0, 0, 0)), 0, 0)).toEqual([width, 0]);
  const ramp = flat(0, 128, 128);
  ramp.y.forEach((_, i) => (ramp.y[i] = (i % width) * 4));
  const small = shrinkPlanes(ramp, 16, 9);
  expect([...small.y.subarray(0, 4)]).toEqual([6, 22, 38, 54]);
  expect([small.chromaWidth, small.chromaHeight]).toEqual([8, 5]);
});

test('halved pictures are the means of squares, whatever the size', () => {
  const [w, h] = [23, 14];
  const random = Uint8Array.from({ length: w * h }, (_, i) => (i * 7919 + ((i * i) % 251)) % 256);
  const planes = {
    ...{ width: w, height: h, chromaWidth: 12, chromaHeight: 7, colour: flat(0, 0, 0).colour },
    ...{ y: random, u: random.subarray(0, 84), v: random.subarray(30, 114) },
  };
  expect(reducePlanes(planes, 0)).toBe(planes);
  for (const halvings of [1, 2]) {
    const side = 2 ** halvings;
    const small = reducePlanes(planes, halvings);
    expect([small.width, small.height, small.chromaWidth]).toEqual(
      [w, h, 12].map((n) => Math.floor(n / side)),
    );
    for (const [from, to, stride, columns, rows] of [
      [planes.y, small.y, w, small.width, small.height],
      [planes.u, small.u, 12, small.chromaWidth, small.chromaHeight],
      [planes.v, small.v, 12, small.chromaWidth, small.chromaHeight],
    ] as const)
      for (let y = 0; y < rows; y++)
        for (let x = 0; x < columns; x++) {
          let sum = 0;
          for (let k = 0; k < side * side; k++)
            sum += from[(y * side + Math.floor(k / side)) * stride + x * side + (k % side)];
          expect(Math.abs(to[y * columns + x] - sum / (side * side))).toBeLessThanOrEqual(0.5);
        }
  }
});

test('without rounding it is the same picture, and finer: ten bits faded over black keep steps that eight bits lose', () => {
  const scene = sceneAt(document, shots, 20, { view: 'result', traced: 'top' });
  const bytes = new Uint8Array(width * height * 4);
  const floats = new Float32Array(width * height * 4);
  const drawn = { shots, crossing, width, height };
  const own = (draw: { shotId: string }) => planes[draw.shotId as 'in'];
  drawPicture(scene, { ...drawn, planesOf: own }, bytes);
  drawDeepPicture(scene, { ...drawn, planesOf: own }, floats);
  floats.forEach((value, i) => expect(Math.abs(255 * value - bytes[i])).toBeLessThanOrEqual(1));
  // A ramp of one code value in four parts, as ten bits hold it, at half of its opacity.
  const words = Uint16Array.from({ length: width * height }, (_, i) => (100 << 8) + ((i % width) << 6));
  const chroma = new Uint16Array((width * height) / 4).fill(128 << 8);
  const deep = { ...flat(0, 128, 128), deep: { y: words, u: chroma, v: chroma } };
  const alone = { ...document, layers: { top: document.layers.top }, outlines: {}, poses: {} };
  const whole = sceneAt(alone, shots, 5, { view: 'result', traced: null });
  const fadedScene = { ...whole, layers: whole.layers.map((layer) => ({ ...layer, opacity: 0.5 })) };
  drawDeepPicture(fadedScene, { ...drawn, planesOf: () => deep }, floats);
  const row = Array.from({ length: width }, (_, x) => floats[4 * x]);
  expect(new Set(row.map((value) => Math.round(65_535 * value))).size).toBe(width);
  // BT.709-6: (Y − 16) / 219, and half of it.
  row.forEach((value, x) => expect(value).toBeCloseTo((100 + x / 4 - 16) / 219 / 2, 5));
});
