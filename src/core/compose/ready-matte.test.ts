import cv, { opencvReady } from '../../../fixtures/opencv';
import { applyChanges, documentOf } from '../document/document';
import { setLayer } from '../actions/layer-actions';
import { plainCrossing, plainLayer, plainOutline, plainPose, poseId } from '../document/tables';
import type { Shot } from '../model/shot';
import { MatteScratch } from '../matte/matte';
import { joinReady } from '../matte/ready';
import type { PicturePlanes } from '../picture/planes';
import { seeded } from '../random';
import { coverageAt } from './coverage-curve';
import { drawPicture } from './picture';
import { picturesOf, sceneAt } from './scene';

/** A matte that is a picture: its levels, its size and its place in time. */

const [width, height] = [64, 36];

function shotOf(id: string, own: Partial<Shot> = {}): Shot {
  return {
    ...{ id, name: id, width, height, rotation: 0, rate: { num: 25, den: 1 }, frameCount: 60 },
    ...{ colour: { matrix: 'bt709', fullRange: false }, motion: null, ...own },
  };
}

function planesOf(lumaAt: (i: number) => number, of: { width: number; height: number }, fullRange = false) {
  const chroma = (of.width * of.height) / 4;
  return {
    ...{ width: of.width, height: of.height, chromaWidth: of.width / 2, chromaHeight: of.height / 2 },
    y: Uint8Array.from({ length: of.width * of.height }, (_, i) => lumaAt(i)),
    ...{ u: new Uint8Array(chroma).fill(128), v: new Uint8Array(chroma).fill(128) },
    colour: { matrix: 'bt709', fullRange },
  } satisfies PicturePlanes;
}

test('levels of luma become alpha as BT.709 has black and white, narrow and full', () => {
  const levels = [0, 16, 71, 126, 235, 255];
  const of = { width: 6, height: 2 };
  const joined = (fullRange: boolean, turned: boolean, before: number) => {
    const out = new Uint8Array(12).fill(before);
    joinReady(
      planesOf((i) => levels[i % 6], of, fullRange),
      shotOf('m', of),
      turned,
      { width: 6, height: 2 },
      out,
    );
    return [...out.subarray(0, 6)];
  };
  // ITU-R BT.709-6, table 5: black 16, white 235. 71: 55 of 219; 126: 110 of 219.
  expect(joined(false, false, 0)).toEqual([0, 0, 64, 128, 255, 255]);
  expect(joined(true, false, 0)).toEqual(levels);
  expect(joined(false, true, 0)).toEqual([255, 255, 191, 127, 0, 0]);
  expect(joined(false, false, 100)).toEqual([100, 100, 100, 128, 255, 255]);
});

test('a larger matte is averaged as OpenCV’s INTER_AREA does', async () => {
  await opencvReady();
  const random = seeded(7);
  for (const times of [2, 3, 5]) {
    const of = { width: width * times, height: height * times };
    const planes = planesOf(() => Math.floor(random() * 256), of, true);
    const out = new Uint8Array(width * height);
    joinReady(planes, shotOf('m', of), false, { width, height }, out);
    const whole = cv.matFromArray(of.height, of.width, cv.CV_8UC1, planes.y);
    const small = new cv.Mat();
    cv.resize(whole, small, new cv.Size(width, height), 0, 0, cv.INTER_AREA);
    const off = out.reduce((most, alpha, i) => Math.max(most, Math.abs(alpha - small.data[i])), 0);
    expect(off).toBeLessThanOrEqual(1);
    whole.delete();
    small.delete();
  }
});

const shots = { top: shotOf('top'), below: shotOf('below'), matte: shotOf('matte', { frameCount: 10 }) };
const start = documentOf({
  crossing: [
    {
      ...{ ...plainCrossing, id: 'c', name: 'T', plan: 'pass-by' as const, width, height, length: 50 },
      ...{ rateNum: 25, rateDen: 1 },
    },
  ],
  layer: [
    { ...plainLayer, id: 'b', role: 'incoming', shotId: 'below', position: 0 },
    { ...plainLayer, id: 't', role: 'outgoing', shotId: 'top', position: 1 },
  ],
});
const matted = (settings = {}) =>
  applyChanges(start, setLayer(start, 't', { matteId: 'matte', matteFrom: 20, ...settings }));
const readyAt = (document: typeof start, frame: number) => {
  const scene = sceneAt(document, shots, frame, { view: 'result', traced: null });
  return picturesOf(scene, shots).find(({ shotId }) => shotId === 'matte')?.sourceFrame ?? null;
};

test('its frames go with the shot that it cuts, and its first and last stay beyond them', () => {
  expect([0, 20, 24, 29, 40].map((frame) => readyAt(matted(), frame))).toEqual([0, 0, 4, 9, 9]);
  // Slipped, the shot shows its frame 7 on the crossing's 0.
  expect([13, 20].map((frame) => readyAt(matted({ offset: 7 }), frame))).toEqual([0, 7]);
  expect(readyAt(matted({ matteId: null }), 24)).toBeNull();
  // Where another shot is missing, nothing is cut by it.
  expect(readyAt(matted({ matteId: 'gone' }), 24)).toBeNull();
});

test('the result mixes both shots by it, and outlines go on from there', () => {
  const rising = planesOf((i) => 16 + Math.round((219 * (i % width)) / (width - 1)), { width, height });
  const planesFor = ({ shotId }: { shotId: string }) =>
    shotId === 'matte' ? rising : planesOf(() => (shotId === 'top' ? 200 : 40), { width, height });
  const drawn = (document: typeof start) => {
    const out = new Uint8Array(width * height * 4);
    const scene = sceneAt(document, shots, 24, { view: 'result', traced: null });
    drawPicture(scene, { shots, crossing: { width, height }, planesOf: planesFor, width, height }, out);
    return out;
  };
  const grey = (luma: number) => ((luma - 16) * 255) / 219;
  const expected = (x: number, share: number) =>
    Math.abs(drawnRow[x * 4] - (grey(200) * (1 - share) + grey(40) * share));
  let drawnRow = drawn(matted());
  const shareAt = (x: number) => Math.round((255 * (rising.y[x] - 16)) / 219) / 255;
  for (let x = 0; x < width; x++) expect(expected(x, shareAt(x))).toBeLessThanOrEqual(1);
  drawnRow = drawn(matted({ matteTurned: true }));
  for (let x = 0; x < width; x++) expect(expected(x, 1 - shareAt(x))).toBeLessThanOrEqual(1);
  drawnRow = drawn(matted({ keeps: true }));
  for (let x = 0; x < width; x++) expect(expected(x, 1 - shareAt(x))).toBeLessThanOrEqual(1);

  const held = [32, -4, 70, -4, 70, 40, 32, 40];
  const outline = {
    ...{ ...plainOutline, id: 'o', layerId: 't', cutsLayerId: null, name: 'Held in', kind: 'loop' as const },
    ...{ position: 0, sweptSide: 'right' as const, points: ['a', 'b', 'c', 'd'] },
    ...{ combine: 'take away' as const, beforeFirst: 'hold' as const, afterLast: 'hold' as const },
  };
  const pose = {
    ...{ ...plainPose, id: poseId('o', 0), outlineId: 'o', frame: 0, origin: 'by hand' as const },
    onward: 'linear' as const,
    coordinates: [0, 2, 4, 6].flatMap((k) => [held[k], held[k + 1], 0, 0, 0, 0]),
  };
  const document = { ...matted(), outlines: { o: outline }, poses: { o: [pose] } };
  drawnRow = drawn(document);
  for (let x = 0; x < width; x++) expect(expected(x, x < 32 ? shareAt(x) : 0)).toBeLessThanOrEqual(1);
  // The mean of a ramp is a half; of its darker half a quarter, over half the frame.
  const covered = (of: typeof start) =>
    coverageAt(of, shots, 24, new MatteScratch(), {
      own: null,
      ready: { planes: rising, shot: shots.matte },
    });
  expect(covered(matted())).toBeCloseTo(0.5, 2);
  expect(covered(document)).toBeCloseTo(0.125, 2);
});
