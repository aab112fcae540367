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
import { setLayer } from '../actions/layer-actions';
import { setMove } from '../actions/move-actions';
import { numbersPerPoint } from '../model/choices';
import type { Shot } from '../model/shot';
import { drawMatte, MatteScratch } from '../matte/matte';
import { drawOutlines } from '../matte/outline-matte';
import { regionOf } from '../outline';
import type { PicturePlanes } from '../picture/planes';
import { cutAt } from './cut';
import { deepMatteOf, matteOf, noPictures } from './layer-matte';
import { drawDeepAlpha, drawPicture } from './picture';
import { sceneAt } from './scene';

/** Mattes with 16 bits. */

const [width, height] = [160, 90];
const scratch = new MatteScratch();
const most = 65_535;

test('a hard edge has each pixel’s area to 16 bits, a soft one its profile to some 12', () => {
  const out = new Uint16Array(width * height);
  // Left of x = 50.2 + 0.0105 y: in a pixel that the line does not leave within a row, the area is that at its middle.
  const hard = { featherInside: 0, featherOutside: 0, spread: 0 };
  const at = (y: number) => 50.2 + 0.0105 * y;
  const seam = regionOf([at(-9), -9, at(99), 99], 'seam', 'right', width, height);
  drawMatte(seam, hard, width, height, out, scratch);
  for (let y = 0; y < height; y++) {
    const x = Math.floor(at(y));
    if (Math.floor(at(y + 1)) !== x) continue;
    expect(Math.abs(out[y * width + x] - most * (at(y + 0.5) - x))).toBeLessThanOrEqual(2);
    expect([out[y * width + x - 1], out[y * width + x + 1]]).toEqual([most, 0]);
  }
  // A circle, softened by 12 px to the inside and 8 to the outside: 3t² − 2t³ over the distance.
  const corners = Array.from({ length: 2000 }, (_, k) => (k * Math.PI) / 1000).flatMap((a) => [
    80.3 + 30 * Math.cos(a),
    44.6 + 30 * Math.sin(a),
  ]);
  const soft = { featherInside: 12, featherOutside: 8, spread: 2 };
  drawMatte(regionOf(corners, 'loop', 'right', width, height), soft, width, height, out, scratch);
  let [worst, levels] = [0, new Set<number>()];
  for (let i = 0; i < out.length; i++) {
    const d = 30 - Math.hypot((i % width) + 0.5 - 80.3, Math.floor(i / width) + 0.5 - 44.6);
    const t = Math.min(1, Math.max(0, (d + 2 + 8) / 20));
    worst = Math.max(worst, Math.abs(out[i] - most * t * t * (3 - 2 * t)));
    levels = levels.add(out[i]);
  }
  expect(worst).toBeLessThan(20);
  expect(levels.size).toBeGreaterThan(1000);
  // Nothing is left of it for the next one.
  const bytes = [new Uint8Array(width * height), new Uint8Array(width * height)];
  drawMatte(seam, soft, width, height, bytes[0], scratch);
  drawMatte(seam, soft, width, height, bytes[1], new MatteScratch());
  expect(bytes[0]).toEqual(bytes[1]);
});

const shot: Shot = {
  ...{ id: 's', name: 's', width, height, rotation: 0, rate: { num: 25, den: 1 }, frameCount: 60 },
  ...{ colour: { matrix: 'bt709', fullRange: false }, motion: null },
};
const shots = { s: shot };

function crossing(outlines: { row: Partial<OutlineRow>; from: number[]; to: number[] }[]): CrossingDocument {
  const rows = outlines.map(({ row }, k) => ({
    ...{ ...plainOutline, id: `o${k}`, layerId: 't', cutsLayerId: null, name: `${k}`, position: k },
    ...{ kind: 'loop' as const, sweptSide: 'right' as const, points: ['a', 'b', 'c', 'd'], ...row },
  }));
  const poses = outlines.flatMap(({ from, to }, k) =>
    [from, to].map((places, n) => ({
      ...{ ...plainPose, id: poseId(`o${k}`, 40 * n), outlineId: `o${k}`, frame: 40 * n },
      ...{ origin: 'by hand' as const, onward: 'linear' as const },
      coordinates: Array.from({ length: places.length / 2 }, (_, i) => [
        places[2 * i],
        places[2 * i + 1],
        ...Array.from({ length: numbersPerPoint - 2 }, () => 0),
      ]).flat(),
    })),
  );
  const set = { id: 'c', name: 'T', plan: 'pass-by' as const, width, height, length: 50 };
  return documentOf({
    crossing: [{ ...plainCrossing, ...set, rateNum: 25, rateDen: 1 }],
    layer: [{ ...plainLayer, id: 't', role: 'outgoing', shotId: 's', position: 0 }],
    outline: rows,
    pose: poses,
  });
}

const box = (x: number, y: number, w: number, h: number) => [x, y, x + w, y + 1, x + w, y + h, x, y + h];
const document = crossing([
  {
    row: { shutter: 180, featherInside: 3, featherOutside: 2 },
    from: box(8, 6, 60, 70),
    to: box(70, 9, 66, 70),
  },
  {
    row: { combine: 'take away', featherOutside: 9, factors: [0.3, 2, 1, 0.5] },
    from: box(30, 20, 30, 30),
    to: box(90, 40, 40, 30),
  },
  { row: { combine: 'keep only', spread: 1.5 }, from: box(-9, -9, 150, 80), to: box(-9, -9, 150, 80) },
]);

test('outlines that are joined, blurred and softened are what they are with 8 bits, more finely', () => {
  for (const keeps of [false, true]) {
    const shown = applyChanges(document, setLayer(document, 't', { keeps }));
    const cut = cutAt(shown, shots, shown.layers.t, 20);
    if (cut.extent !== 'outlined') throw new Error('It is outlined there.');
    const plain = matteOf(cut, shot, 1, scratch, noPictures);
    const deep = deepMatteOf(cut, shot, 1, scratch, noPictures);
    let [worst, between] = [0, 0];
    for (let i = 0; i < deep.alpha.length; i++) {
      worst = Math.max(worst, Math.abs(deep.alpha[i] / 257 - plain.alpha[i]));
      if (deep.alpha[i] % 257 > 0) between++;
    }
    expect(worst).toBeLessThanOrEqual(1.5);
    expect(between).toBeGreaterThan(500);
  }
  // Two moments of an edge that moves by 1.5 px: the mean of both areas.
  const out = new Uint16Array(width * height);
  const lines = [50.25, 51.75].map((x) => [x, -9, 0, 0, 0, 0, x, 99, 0, 0, 0, 0]);
  const outline = { ...Object.values(document.outlines)[0], kind: 'seam' as const, points: ['a', 'b'] };
  const edge = { featherInside: 0, featherOutside: 0, spread: 0, roundness: 0, factors: [] };
  const posed = [{ outline, edge, coordinates: lines[0], exposures: lines }];
  drawOutlines(posed, 'empty', { scale: 1, width, height, scratch }, out);
  expect([...out.subarray(49, 53)].map((value) => Math.round((1000 * value) / most))).toEqual([
    1000, 625, 375, 0,
  ]);
});

test('the alpha of a crossing is how white stands on black, placed, moved, faded and mixed', () => {
  const white: PicturePlanes = {
    ...{ width, height, chromaWidth: width / 2, chromaHeight: height / 2 },
    y: new Uint8Array(width * height).fill(235),
    ...{ u: new Uint8Array(3600).fill(128), v: new Uint8Array(3600).fill(128), colour: shot.colour },
  };
  const placed = applyChanges(document, setLayer(document, 't', { turn: 7, scale: 83, x: 6.5 }));
  const faded = applyChanges(placed, setMove(placed, 't', 'opacity', 0, 60));
  const cases = {
    placed,
    faded,
    'mixed and bent': applyChanges(
      placed,
      setLayer(placed, 't', { betweens: 'mixed', speed: 60, lens: -0.2 }),
    ),
    'its shutter open': applyChanges({ ...placed, crossing: { ...placed.crossing, moveShutter: 180 } }, [
      ...setMove(placed, 't', 'place', 10, -20, 0),
      ...setMove(placed, 't', 'place', 30, 40, 9),
    ]),
  };
  for (const [what, shown] of Object.entries(cases)) {
    const scene = sceneAt(shown, shots, 20, { view: 'result', traced: null });
    const rgba = new Uint8Array(width * height * 4);
    drawPicture(scene, { shots, crossing: shown.crossing, planesOf: () => white, width, height }, rgba);
    const out = new Uint16Array(width * height);
    drawDeepAlpha(scene, { shots, crossing: shown.crossing, planesOf: () => null, width, height }, out);
    let [worst, soft] = [0, 0];
    for (let i = 0; i < out.length; i++) {
      worst = Math.max(worst, Math.abs(out[i] / 257 - rgba[4 * i]));
      if (out[i] > 0 && out[i] < most) soft++;
    }
    expect({ what, worst: worst <= 2 }).toEqual({ what, worst: true });
    expect(soft).toBeGreaterThan(500);
  }
});
