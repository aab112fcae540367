import { pictureOf, texture } from '../../../fixtures/pass-film';
import { identity } from '../geometry/affine';
import { behindMotion } from './behind-way';
import { SeamModel } from './line-model';

const wall = texture(1, 140, 160);
const object = texture(2, 30, 110);

test('a dark shadow that goes along with the object does not lead what lies behind astray', () => {
  // The object goes to the right by 12 px a frame and darkens 14 px of a pale wall, which goes to the left by 2.
  const at = (t: number) =>
    pictureOf((x, y) => {
      const edge = 190 + 12 * t;
      if (x > edge) return object(x - 12 * t, y);
      const shade = 1 - 0.5 / (1 + Math.exp((edge - 14 - x) / 2));
      return 16 + shade * (wall(x + 2 * t, y) - 16);
    });
  const { line } = SeamModel.along(
    [
      [190, 0],
      [190, 180],
    ],
    4,
  ).runs[0];
  const found = behindMotion(at(0), at(1), line, 2, identity, [40, 24], [12, 0]);
  expect(Math.abs(found!.map[4] + 2)).toBeLessThan(0.7);
  expect(Math.abs(found!.map[5])).toBeLessThan(0.7);
});
