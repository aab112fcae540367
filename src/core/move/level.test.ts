import cv, { opencvReady } from '../../../fixtures/opencv';
import { borderAt } from '../compose/border';
import { drawPicture } from '../compose/picture';
import { cutAt } from '../compose/cut';
import { sceneAt } from '../compose/scene';
import { applyChanges, documentOf } from '../document/document';
import {
  type CrossingDocument,
  type LayerRow,
  type OutlineRow,
  plainCrossing,
  plainLayer,
  plainOutline,
  plainPose,
  poseId,
} from '../document/tables';
import { setLayer } from '../actions/layer-actions';
import { setMove } from '../actions/move-actions';
import type { Shot } from '../model/shot';
import { asFilmed, lensFromLines, lensOf, straightened } from '../geometry/lens';
import { mappedCubic } from '../geometry/mapped-cubic';
import type { PicturePlanes } from '../picture/planes';
import { seeded } from '../random';
import { setAndFill, turnThatLevels } from './level';

/** Lenses, levelling and mixed frames: grids bent by formula, and OpenCV (the package @techstark/opencv-js). */

beforeAll(opencvReady, 60_000);

const [width, height] = [160, 90];
const shot = (id: string, rest: Partial<Shot> = {}): Shot => ({
  ...{ id, name: id, width, height, rotation: 0, rate: { num: 25, den: 1 }, frameCount: 60 },
  ...{ colour: { matrix: 'bt709', fullRange: true }, motion: null },
  ...rest,
});
const shots = { out: shot('out'), in: shot('in') };
const seam: OutlineRow = {
  ...{ ...plainOutline, id: 's', layerId: 'top', cutsLayerId: null, name: 'Back', kind: 'seam', position: 0 },
  ...{ sweptSide: 'right', points: ['a', 'b'] },
};
const document: CrossingDocument = documentOf({
  crossing: [
    {
      ...{ ...plainCrossing, id: 'c', name: 'T', plan: 'pass-by', width, height },
      ...{ rateNum: 25, rateDen: 1, length: 40 },
    },
  ],
  layer: [
    { ...plainLayer, id: 'bottom', role: 'incoming', shotId: 'in', position: 0 },
    { ...plainLayer, id: 'top', role: 'outgoing', shotId: 'out', position: 1 },
  ],
  outline: [seam],
  pose: [0, 59].map((frame) => ({
    ...{ id: poseId('s', frame), outlineId: 's', frame, ...plainPose, origin: 'by hand', onward: 'linear' },
    coordinates: [20 + 2 * frame, -5, 0, 0, 0, 0, 20 + 2 * frame, height + 5, 0, 0, 0, 0],
  })),
});
const plain: CrossingDocument = { ...document, outlines: {}, poses: {} };
const withLayer = (of: CrossingDocument, settings: Partial<LayerRow>) =>
  applyChanges(of, setLayer(of, 'top', settings));

const pictures = new Map<string, PicturePlanes>();

/** A picture of hills that go on from frame to frame; the one beneath is of one grey. */
function pictureOf(shotId: string, frame: number): PicturePlanes {
  const name = `${shotId} ${frame}`;
  const held = pictures.get(name);
  if (held) return held;
  const at = (x: number, y: number) =>
    shotId === 'in' ? 60 : 128 + 60 * Math.sin((x + 3 * frame) / 9) + 50 * Math.cos((y - frame) / 7);
  const planes: PicturePlanes = {
    ...{ width, height, chromaWidth: width / 2, chromaHeight: height / 2 },
    y: Uint8Array.from({ length: width * height }, (_, i) => at(i % width, Math.floor(i / width))),
    u: new Uint8Array((width * height) / 4).fill(128),
    v: new Uint8Array((width * height) / 4).fill(128),
    colour: { matrix: 'bt709', fullRange: true },
  };
  pictures.set(name, planes);
  return planes;
}

function drawn(of: CrossingDocument, frame: number): Uint8Array {
  const scene = sceneAt(of, shots, frame, { view: 'result', traced: null });
  const out = new Uint8Array(width * height * 4);
  const planesOf = (draw: { shotId: string; sourceFrame: number }) =>
    pictureOf(draw.shotId, draw.sourceFrame);
  drawPicture(scene, { shots, crossing: of.crossing, planesOf, width, height }, out);
  return out;
}

/** Where a lens puts what belongs at a place: r_u = r_d / (1 + λ r_d²) (Fitzgibbon 2001), solved by halving. */
function bent(lambda: number, x: number, y: number, w: number, h: number): [number, number] {
  const half = Math.hypot(w, h) / 2;
  const [dx, dy] = [x - w / 2, y - h / 2];
  const wanted = Math.hypot(dx, dy) / half;
  let [low, high] = [0, 1.2];
  for (let k = 0; k < 60; k++) {
    const middle = (low + high) / 2;
    if (middle / (1 + lambda * middle * middle) < wanted) low = middle;
    else high = middle;
  }
  return wanted === 0 ? [x, y] : [w / 2 + (dx * low) / wanted, h / 2 + (dy * low) / wanted];
}

test('a grid bent by formula gives its coefficient within 2 %, from few lines and from unsteady presses', () => {
  const size = { width: 1280, height: 720 };
  const line = (
    from: [number, number],
    to: [number, number],
    places: number,
    lambda: number,
    off: () => number,
  ) =>
    Array.from({ length: places }, (_, k) => k / (places - 1)).flatMap((share) => {
      const at = [from[0] + (to[0] - from[0]) * share, from[1] + (to[1] - from[1]) * share] as const;
      const [x, y] = bent(lambda, ...at, 1280, 720);
      return [x + off(), y + off()];
    });
  const still = () => 0;
  for (const lambda of [-0.5, -0.2, -0.05, 0.04, 0.15]) {
    const grid = [0.15, 0.5, 0.85].flatMap((share) => [
      line([1280 * share, 60], [1280 * share, 660], 7, lambda, still),
      line([120, 720 * share], [1160, 720 * share], 7, lambda, still),
    ]);
    const found = lensFromLines(grid, size)!;
    expect(Math.abs(found.lambda / lambda - 1)).toBeLessThan(0.02);
    expect(found.off).toBeLessThan(0.01);
    expect(found.offBefore).toBeGreaterThan(1);
    // Two lines of three presses each do as well.
    const two = lensFromLines(
      [line([100, 90], [1180, 60], 3, lambda, still), line([180, 80], [140, 650], 3, lambda, still)],
      size,
    )!;
    expect(Math.abs(two.lambda / lambda - 1)).toBeLessThan(0.02);
  }
  const random = seeded(5);
  const unsteady = [80, 640].map((y) => line([60, y], [1220, y], 9, -0.2, () => random() - 0.5));
  expect(Math.abs(lensFromLines(unsteady, size)!.lambda / -0.2 - 1)).toBeLessThan(0.05);
  // Two places say nothing of a lens.
  expect(lensFromLines([[0, 0, 100, 100]], size)).toBeNull();
  expect(lensFromLines([line([60, 80], [1220, 80], 9, 0, still)], size)!.lambda).toBeCloseTo(0, 6);
});

test('straightening and filming undo each other, and curves go along', () => {
  for (const lambda of [-0.6, -0.1, 0.1, 0.2]) {
    const lens = lensOf(lambda, shots.out)!;
    for (const [x, y] of [
      [80, 45],
      [3, 2],
      [150, 80],
      [90, 4],
    ]) {
      const there = straightened(lens, x, y);
      expect(asFilmed(lens, ...there).map((value, k) => value - [x, y][k])).toEqual([
        expect.closeTo(0, 9),
        expect.closeTo(0, 9),
      ]);
      expect(bent(lambda, ...there, width, height)[0]).toBeCloseTo(x, 6);
    }
    const cubic = [10, 8, 60, 2, 100, 70, 150, 40];
    const parts = mappedCubic((x, y) => straightened(lens, x, y), cubic);
    for (let k = 0; k <= 40; k++) {
      const t = k / 40;
      const at = (c: readonly number[], i: number, u: number) =>
        (1 - u) ** 3 * c[i] +
        3 * (1 - u) ** 2 * u * c[i + 2] +
        3 * (1 - u) * u * u * c[i + 4] +
        u ** 3 * c[i + 6];
      const part = Math.min(parts.length - 1, Math.floor(t * parts.length));
      const within = t * parts.length - part;
      const [x, y] = straightened(lens, at(cubic, 0, t), at(cubic, 1, t));
      if (x < 0 || x > width) continue;
      // How far the parts lie from the curve: along it they may run otherwise.
      const [px, py] = [0, 1].map((i) => at(parts[part], i, within));
      const [qx, qy] = [0, 1].map((i) => at(parts[part], i, within + 0.01));
      const off = ((x - px) * (qy - py) - (y - py) * (qx - px)) / Math.hypot(qx - px, qy - py);
      expect(Math.abs(off)).toBeLessThan(0.03);
    }
  }
  // Nothing of the shot lies so far out: no place of it is meant.
  const [x] = asFilmed(lensOf(0.5, shots.out)!, 400, 45);
  expect(x).toBeGreaterThan(width);
});

test('the straightened picture is OpenCV’s, remapped by the formula; its matte goes along with it', () => {
  const lambda = -0.35;
  const out = drawn(withLayer(plain, { lens: lambda }), 5);
  const luma = pictureOf('out', 5).y;
  const source = cv.matFromArray(height, width, cv.CV_8UC1, [...luma]);
  const maps = [0, 1].map((axis) =>
    cv.matFromArray(
      height,
      width,
      cv.CV_32FC1,
      Array.from({ length: width * height }, (_, i) => {
        const [x, y] = bent(lambda, (i % width) + 0.5, Math.floor(i / width) + 0.5, width, height);
        return (axis === 0 ? x : y) - 0.5;
      }),
    ),
  );
  const wanted = new cv.Mat();
  cv.remap(source, wanted, maps[0], maps[1], cv.INTER_CUBIC, cv.BORDER_REPLICATE, new cv.Scalar());
  let [sum, most] = [0, 0];
  for (let i = 0; i < width * height; i++) {
    const off = Math.abs(out[4 * i] - wanted.data[i]);
    sum += off / (width * height);
    most = Math.max(most, off);
  }
  for (const mat of [source, wanted, ...maps]) mat.delete();
  expect(sum).toBeLessThan(0.6);
  expect(most).toBeLessThanOrEqual(4);
  // The seam of frame 12 lies at x = 44 of the shot: what is cut begins where the lens puts that.
  const cut = drawn(withLayer(document, { lens: lambda }), 12);
  const lens = lensOf(lambda, shots.out)!;
  for (const y of [6, 45, 84]) {
    let x = 0;
    while (cut[4 * (y * width + x)] === 60) x++;
    const there = asFilmed(lens, x, y + 0.5);
    expect(Math.abs(there[0] - 44)).toBeLessThan(1.5);
  }
});

test('an outline that cuts another shot goes where its own shot is bent to, and back by that one’s own bends', () => {
  const cutsBelow = { ...document, outlines: { s: { ...seam, cutsLayerId: 'bottom' } } };
  const bentBoth = applyChanges(cutsBelow, [
    ...setLayer(cutsBelow, 'top', { lens: -0.35 }),
    ...setLayer(cutsBelow, 'bottom', { lens: 0.1, scale: 80 }),
    ...setMove(cutsBelow, 'top', 'upper-left', 0, 12, 9),
  ]);
  const cut = cutAt(bentBoth, shots, bentBoth.layers.bottom, 12);
  if (cut.extent !== 'outlined') throw new Error('Nothing is cut.');
  const [lens, onto] = [lensOf(-0.35, shots.out)!, lensOf(0.1, shots.in)!];
  // The corner's homography, by OpenCV.
  const [from, to] = [
    [0, 0, width, 0, width, height, 0, height],
    [12, 9, width, 0, width, height, 0, height],
  ].map((each) => cv.matFromArray(4, 1, cv.CV_32FC2, each));
  const h = cv.getPerspectiveTransform(from, to).data64F;
  for (const [i, y] of [
    [0, -5],
    [6, height + 5],
  ]) {
    const [x, v] = straightened(lens, 44, y);
    const w = h[6] * x + h[7] * v + h[8];
    const pulled = [(h[0] * x + h[1] * v + h[2]) / w, (h[3] * x + h[4] * v + h[5]) / w];
    const middle = [width / 2, height / 2];
    const placed = pulled.map((value, k) => middle[k] + (value - middle[k]) / 0.8) as [number, number];
    const wanted = asFilmed(onto, ...placed);
    const [posed] = cut.posed;
    expect(posed.coordinates[i]).toBeCloseTo(wanted[0], 3);
    expect(posed.coordinates[i + 1]).toBeCloseTo(wanted[1], 3);
  }
});

test('lines turn a layer level, enlarged by as little as fills the frame; a lens that draws in is filled up as well', () => {
  // A post that leans by 3°, and a sill that does.
  const lean = (3 * Math.PI) / 180;
  const lines = [
    [40, 80, 40 + 70 * Math.sin(lean), 80 - 70 * Math.cos(lean)],
    [20, 40, 20 + 110 * Math.cos(lean), 40 + 110 * Math.sin(lean)],
  ];
  for (const flip of [false, true]) {
    const layer = { ...plain.layers.top, flip };
    const before = { ...plain, layers: { ...plain.layers, top: layer } };
    const turn = turnThatLevels(before, shots, layer, 4, lines)!;
    expect(turn).toBeCloseTo(flip ? 3 : -3, 9);
    const after = applyChanges(before, setAndFill(before, shots, layer, { turn }));
    const turned = after.layers.top;
    expect(turnThatLevels(after, shots, turned, 4, lines)).toBeCloseTo(0, 9);
    expect(turned.scale).toBeGreaterThan(104);
    expect(borderAt(after, turned, shots.out, 4, 4)).toBeLessThanOrEqual(0.5);
    const less = { ...turned, scale: turned.scale - 1 };
    expect(borderAt(after, less, shots.out, 4, 4)).toBeGreaterThan(0.5);
  }
  const drawnIn = applyChanges(plain, setAndFill(plain, shots, plain.layers.top, { lens: 0.2 })).layers.top;
  expect(drawnIn.scale).toBeGreaterThan(105);
  // A lens that draws out fills the frame as it is; what did not fill it before is left.
  expect(
    applyChanges(plain, setAndFill(plain, shots, plain.layers.top, { lens: -0.2 })).layers.top.scale,
  ).toBe(100);
  const inset = withLayer(plain, { scale: 60 });
  expect(applyChanges(inset, setAndFill(inset, shots, inset.layers.top, { turn: 2 })).layers.top.scale).toBe(
    60,
  );
  expect(turnThatLevels(plain, shots, plain.layers.top, 4, [])).toBeNull();
});

test('frames between two are OpenCV’s weighted sum of both, each with its own matte', () => {
  // At 40 % crossing frame 8 lies at source 3.2; backwards from 50 at 46.8.
  for (const [of, [from, to], share] of [
    [withLayer(document, { speed: 40, betweens: 'mixed' }), [3, 4], 0.2],
    [withLayer(document, { speed: 40, betweens: 'mixed', reverse: true, offset: 50 }), [47, 46], 0.2],
  ] as const) {
    const parts = sceneAt(of, shots, 8, { view: 'result', traced: null }).layers;
    expect(parts.map(({ sourceFrame }) => sourceFrame)).toEqual([8, from, to]);
    // Either frame alone: the shot at its own speed, slipped to show it.
    const alone = [from, to].map((source) => drawn(withLayer(document, { offset: source - 8 }), 8));
    const mats = alone.map((each) => cv.matFromArray(height, width, cv.CV_8UC4, [...each]));
    const wanted = new cv.Mat();
    cv.addWeighted(mats[0], 1 - share, mats[1], share, 0, wanted, -1);
    const mixed = drawn(of, 8);
    let most = 0;
    for (let i = 0; i < mixed.length; i++) most = Math.max(most, Math.abs(mixed[i] - wanted.data[i]));
    expect(most).toBeLessThanOrEqual(1);
    expect(Buffer.compare(mixed, alone[0])).not.toBe(0);
    for (const mat of [...mats, wanted]) mat.delete();
  }
  const sources = (of: CrossingDocument, frame: number) =>
    sceneAt(of, shots, frame, { view: 'result', traced: null }).layers.flatMap((draw) =>
      draw.layerId === 'top' ? [draw.sourceFrame] : [],
    );
  // Where the two meet, past the last frame, on a held one, standing still by a ramp, and while it is traced: one.
  const slow = { speed: 40, betweens: 'mixed' } as const;
  expect(sources(withLayer(plain, slow), 5)).toEqual([2]);
  expect(sources(withLayer(plain, { ...slow, trimOut: 3 }), 8)).toEqual([3]);
  expect(sources(withLayer(plain, { ...slow, holdFrom: 3 }), 8)).toEqual([3]);
  const ramp = [0, 50, 4, 50, 5, 0, 30, 0];
  expect(sources(withLayer(plain, { betweens: 'mixed', ramp }), 20)).toHaveLength(1);
  expect(sources(withLayer(plain, { betweens: 'mixed', ramp }), 1)).toEqual([0, 1]);
  expect(sceneAt(withLayer(plain, slow), shots, 8, { view: 'plain', traced: 'top' }).layers).toHaveLength(1);
  // Faded, a mix covers as much as one frame does.
  const flat = (of: CrossingDocument) => drawn(withLayer(of, { ...slow, shotId: 'in' }), 8);
  expect([...flat(plain).subarray(0, 4)]).toEqual([60, 60, 60, 255]);
});
