import { pictureOf, texture } from '../../../fixtures/pass-film';
import { identity } from '../geometry/affine';
import { attachedPlaces, pullAttached } from './attached';
import { still } from './behind-way';
import { SeamModel } from './line-model';

const upright = (x: number) =>
  SeamModel.along(
    [
      [x, 0],
      [x, 180],
    ],
    4,
  ).runs[0].line;

const behind = texture(1, 60, 220);
const object = texture(2, 40, 200);

/** A board that goes to the right by 9 px a frame; a hand on its trailing edge, between two heights, goes along. */
const board = (t: number) =>
  pictureOf((x, y) => {
    const left = 100 + 9 * t - (y > 40 && y < 140 ? 30 : 0);
    return x > left ? object(x - 9 * t, y) : behind(x, y);
  });

test('a line runs through its object where what lies outside goes along, and nowhere else', () => {
  const line = upright(100);
  const rest = { map: identity, ...still(line.count) };
  const attached = attachedPlaces(board(0), board(1), line, {
    soft: 2,
    object: [1, 0, 0, 1, 9, 0],
    behind: rest,
  });
  const hand = [...line.y].map((y) => y > 40 && y < 140);
  const wrong = [...attached].filter((value, i) => (value === 1) !== hand[i]).length;
  // Neighbours are looked at together: the hand's ends blur by a few places.
  expect(wrong).toBeLessThanOrEqual(8);
  expect([...attached].filter(Boolean).length).toBeGreaterThan(16);
});

test('no line runs through its object where only its shadow goes along, however dark the object is', () => {
  // The same picture on both sides of the edge, but for the shadow's 30 px and the light on the object.
  const wall = texture(3, 120, 200);
  const dark = (t: number) =>
    pictureOf((x, y) => {
      const edge = 130 + 9 * t;
      if (x > edge) return 16 + 0.5 * (wall(x - 9 * t, y) - 16);
      return 16 + (x > edge - 30 ? 0.5 : 1) * (wall(x, y) - 16);
    });
  const line = upright(130);
  const rest = { map: identity, ...still(line.count) };
  const attached = attachedPlaces(dark(0), dark(1), line, {
    soft: 2,
    object: [1, 0, 0, 1, 9, 0],
    behind: rest,
  });
  expect([...attached].every((value) => value === 0)).toBe(true);
});

test('an attached place is pulled to where the object takes it, about whatever centre', () => {
  const costs = new Float32Array(10).fill(1);
  pullAttached(costs, Uint8Array.of(0, 1), 2, 0.5, Float64Array.of(3, 1));
  expect([...costs.slice(0, 5)]).toEqual([1, 1, 1, 1, 1]);
  expect([...costs.slice(5)]).toEqual([1, 2.5, 7, 14.5, 25]);
});
