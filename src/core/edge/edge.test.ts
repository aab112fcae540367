import { type OutlineRow, plainEdge, plainOutline, type PoseRow, type Shot } from '../document/rows';
import { MatteScratch } from '../matte/matte';
import { drawOutlines } from '../matte/outline-matte';
import { inwardDirections, signedArea, speedAcross } from '../outline';
import { measureEdge } from './measure';
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
  drawOutlines(posed, 'empty', 1, width, height, alpha, new MatteScratch());
  const walk = walkOutline(outline, line, shot, 1);
  for (const place of [null, [158, 60] as const]) {
    const measured = measureEdge(planes, shot, alpha, walk, place)!;
    expect(Math.abs(measured.pictureWidth - 16)).toBeLessThan(1);
    expect(Math.abs(measured.offset - 4)).toBeLessThanOrEqual(1);
    expect(Math.abs(measured.matteWidth! - 0.6084 * 18)).toBeLessThan(0.6);
    expect(measured.support).toBe(1);
  }
  const flat = { ...planes, y: new Uint8Array(width * height).fill(90) };
  expect(measureEdge(flat, shot, alpha, walk, null)).toBeNull();
  expect(matteWidth(featherOfWidth(13))).toBeCloseTo(13, 9);
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
