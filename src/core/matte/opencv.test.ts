import cv, { opencvReady } from '../../../fixtures/opencv';
import { type OutlineRow, plainEdge, plainOutline } from '../document/tables';
import { bandDistance } from './distance';
import { MatteScratch } from './matte';
import { nearSteps } from './scratch';
import { drawOutlines } from './outline-matte';

/** Distances and blurs against OpenCV's (the package @techstark/opencv-js, its WebAssembly build). */

beforeAll(opencvReady, 60_000);

const [width, height] = [160, 100];

test('distances to a line through pixel centres are OpenCV’s exact distance transform', () => {
  const mask = new cv.Mat(height, width, cv.CV_8UC1, new cv.Scalar(255));
  // A staircase of level and upright runs: the nearest place of the line is always a pixel's centre, or between two.
  const corners = [-30.5, 30.5, 60.5, 30.5, 60.5, 70.5, 120.5, 70.5, 120.5, -30.5];
  for (let i = 2; i < corners.length; i += 2) {
    const [x0, x1] = [corners[i - 2], corners[i]].sort((a, b) => a - b).map(Math.floor);
    const [y0, y1] = [corners[i - 1], corners[i + 1]].sort((a, b) => a - b).map(Math.floor);
    for (let y = Math.max(0, y0); y <= y1; y++)
      for (let x = Math.max(0, x0); x <= x1; x++) mask.data[y * width + x] = 0;
  }
  const transformed = new cv.Mat();
  cv.distanceTransform(mask, transformed, cv.DIST_L2, cv.DIST_MASK_PRECISE);
  const scratch = new MatteScratch();
  const reach = 18;
  bandDistance(corners, { closed: false, reach, width, height, scratch });
  let compared = 0;
  for (let i = 0; i < width * height; i++) {
    if (transformed.data32F[i] > 17) continue;
    const own = scratch.distance[Math.floor(i / width) * scratch.row.length + (i % width)];
    expect(Math.abs((own * reach) / nearSteps - transformed.data32F[i])).toBeLessThan(0.01);
    compared++;
  }
  expect(compared).toBeGreaterThan(3000);
  mask.delete();
  transformed.delete();
});

test('motion blur along a way of whole pixels is OpenCV’s box blur of the still matte', () => {
  const loop = [30, 20, 95, 32, 80, 85, 42, 70].flatMap((value, i, all) =>
    i % 2 === 0 ? [value, all[i + 1], 0, 0, 0, 0] : [],
  );
  const outline = {
    ...{
      ...plainOutline,
      id: 'o',
      layerId: 'l',
      cutsLayerId: null,
      name: 'o',
      kind: 'loop',
      sweptSide: 'left',
    },
    ...{ position: 0, points: ['a', 'b', 'c', 'd'] },
  } as OutlineRow;
  const steps = 9;
  const moved = (k: number) => loop.map((value, i) => (i % 6 === 0 ? value + k - (steps - 1) / 2 : value));
  const drawn = (exposures: number[][]) => {
    const out = new Uint8Array(width * height);
    const posed = [{ outline, edge: plainEdge, coordinates: loop, exposures }];
    drawOutlines(posed, 'empty', { scale: 1, width, height, scratch: new MatteScratch() }, out);
    return out;
  };
  const still = cv.matFromArray(height, width, cv.CV_8UC1, [...drawn([])]);
  const blurred = new cv.Mat();
  cv.blur(still, blurred, new cv.Size(steps, 1), new cv.Point(-1, -1), cv.BORDER_CONSTANT);
  const own = drawn(Array.from({ length: steps }, (_, k) => moved(k)));
  own.forEach((alpha, i) => expect(Math.abs(alpha - blurred.data[i])).toBeLessThanOrEqual(1));
  still.delete();
  blurred.delete();
});
