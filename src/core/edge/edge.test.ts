import { type CrossingRow, type OutlineRow, plainEdge, plainOutline, type PoseRow } from '../document/tables';
import type { Shot } from '../model/shot';
import { MatteScratch } from '../matte/matte';
import { drawOutlines } from '../matte/outline-matte';
import { inwardDirections, signedArea, speedAcross } from '../outline';
import { matchAtPoints } from '../checks/fixes';
import { documentOf } from '../document/document';
import { measureEdge } from './measure';
import { widthsAtPoints } from './point-widths';
import { featherOfWidth, matteWidth } from './profile';
import { factorAt, softLines, softnessKnobs } from './softness';
import { walkOutline } from './strip';

const [width, height] = [320, 200];
const shot = { id: 's', width, height, rotation: 0, colour: { matrix: 'bt709', fullRange: false } } as Shot;
const outline: OutlineRow = {
  ...{
    ...plainOutline,
    id: 'o',
    layerId: 'l',
    cutsLayerId: null,
    name: 'o',
    kind: 'seam',
    sweptSide: 'right',
  },
  ...{ position: 0, points: ['a', 'b'] },
};
const line = [160, -5, 0, 0, 0, 0, 160, 205, 0, 0, 0, 0];

test('picture and matte of known widths are measured as wide as they are, and where they are', () => {
  // A ramp 20 px wide about x = 156: 10 to 90 % of it are 16 px. The region lies to the line's left on the screen.
  const y = new Uint8Array(width * height);
  for (let i = 0; i < y.length; i++) {
    const t = Math.min(1, Math.max(0, ((i % width) + 0.5 - 146) / 20));
    y[i] = Math.round(200 - 140 * t);
  }
  const chroma = new Uint8Array((width * height) / 4).fill(128);
  const planes = {
    ...{ width, height, chromaWidth: width / 2, chromaHeight: height / 2, y, u: chroma, v: chroma },
    colour: shot.colour,
  };
  const alpha = new Uint8Array(width * height);
  const edge = { ...plainEdge, featherInside: 9, featherOutside: 9, spread: -3 };
  const posed = [{ outline, edge, coordinates: line, exposures: [] }];
  drawOutlines(posed, 'empty', { scale: 1, width, height, scratch: new MatteScratch() }, alpha);
  const walk = walkOutline(outline, line, shot, 1);
  for (const place of [null, [158, 60] as const]) {
    const measured = measureEdge(planes, shot, { alpha, place }, walk)!;
    expect(Math.abs(measured.pictureWidth - 16)).toBeLessThan(1);
    expect(Math.abs(measured.offset - 4)).toBeLessThanOrEqual(1);
    expect(Math.abs(measured.matteWidth! - 0.6084 * 18)).toBeLessThan(0.6);
    expect(measured.support).toBe(1);
  }
  const flat = { ...planes, y: new Uint8Array(width * height).fill(90) };
  expect(measureEdge(flat, shot, { alpha, place: null }, walk)).toBeNull();
  expect(matteWidth(featherOfWidth(13))).toBeCloseTo(13, 9);
});

test('an edge that is softer below is measured so at each point, and its feather follows', () => {
  // Ramps from 6 px wide at the top to 30 at the bottom; 10 to 90 % of them are 4.8 to 24 px.
  const wide = (row: number) => 6 + (24 * row) / height;
  const y = Uint8Array.from({ length: width * height }, (_, i) => {
    const t = ((i % width) + 0.5 - 160) / wide(Math.floor(i / width)) + 0.5;
    return Math.round(200 - 140 * Math.min(1, Math.max(0, t)));
  });
  const chroma = new Uint8Array((width * height) / 4).fill(128);
  const planes = {
    ...{ width, height, chromaWidth: width / 2, chromaHeight: height / 2, y, u: chroma, v: chroma },
    colour: shot.colour,
  };
  // The first and the last point lie far outside the frame.
  const rows = [-60, 25, 75, 125, 175, 260];
  const coordinates = rows.flatMap((row) => [160, row, 0, 0, 0, 0]);
  const traced = { ...outline, points: rows.map((row) => `p${row}`) };
  const walk = walkOutline(traced, coordinates, shot, 1);
  const widths = widthsAtPoints(planes, shot, walk, coordinates, 0);
  expect([widths[0], widths[5]]).toEqual([null, null]);
  rows.slice(1, 5).forEach((row, p) => expect(Math.abs(widths[p + 1]! - 0.8 * wide(row))).toBeLessThan(1.6));
  const document = documentOf({ crossing: [{} as CrossingRow], outline: [traced] });
  const [{ after }] = matchAtPoints(document, traced, 0, widths, 0);
  const { featherInside, factors } = after as OutlineRow;
  expect(factors).toHaveLength(6);
  // Those outside have what those beside them have.
  expect([factors[0], factors[5]]).toEqual([factors[1], factors[4]]);
  factors
    .slice(1, 5)
    .forEach((factor, p) => expect(matteWidth(2 * featherInside * factor)).toBeCloseTo(widths[p + 1]!, 0));
  expect(matchAtPoints(document, traced, 0, [null, 8, null, null, null, null], 0)).toEqual([]);
});

test('the region lies where its outline says, whichever way a loop runs', () => {
  const square = [0, 0, 40, 0, 40, 40, 0, 40];
  const back = [0, 0, 0, 40, 40, 40, 40, 0];
  expect([signedArea(square), signedArea(back)]).toEqual([1600, -1600]);
  for (const loop of [square, back]) {
    const [x, y] = inwardDirections({ kind: 'loop', sweptSide: 'left' }, loop)[0];
    expect([x, y].map((value) => value * Math.SQRT2)).toEqual([expect.closeTo(1, 9), expect.closeTo(1, 9)]);
  }
  const seam = [10, 0, 10, 50];
  expect(inwardDirections({ kind: 'seam', sweptSide: 'right' }, seam)[0][0]).toBe(-1);
  expect(inwardDirections({ kind: 'seam', sweptSide: 'left' }, seam)[0][0]).toBe(1);
});

test('knobs stand where the softness ends, and pulled there give their factor back', () => {
  const edge = { ...plainEdge, featherInside: 6, featherOutside: 10, spread: 2, factors: [1, 2.5] };
  const knobs = softnessKnobs(outline, line, edge);
  // Outside lies to the right on the screen.
  expect(knobs.map(({ place }) => place[0])).toEqual([160 + 12, 160 + 27]);
  knobs.forEach((knob, p) => expect(factorAt(knob, knob.place)).toBe(edge.factors[p]));
  expect(factorAt(knobs[0], [100, 0])).toBe(0);
  const [outer, inner] = softLines(outline, line, edge);
  expect([outer[0], inner[0]]).toEqual([172, 156]);
  expect(softnessKnobs(outline, line, plainEdge)).toEqual([]);
});

test('the speed across a seam leaves out what goes along it', () => {
  const pose = (frame: number, dx: number, dy: number) =>
    ({
      frame,
      onward: 'linear',
      coordinates: line.map((value, i) => value + [dx, dy, 0, 0, 0, 0][i % 6]),
    }) as PoseRow;
  const poses = [pose(0, 0, 0), pose(10, 50, 120)];
  expect(speedAcross('seam', poses, 5)).toBeCloseTo(5, 9);
  expect(speedAcross('loop', poses, 5)).toBeCloseTo(13, 9);
  expect(speedAcross('seam', poses.slice(1), 5)).toBe(0);
});
