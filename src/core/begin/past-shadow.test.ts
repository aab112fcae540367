import { height, pictureOf, texture } from '../../../fixtures/pass-film';
import { identity } from '../geometry/affine';
import { pastShadow } from './past-shadow';

const wall = texture(1, 110, 220);
const object = texture(2, 40, 150);
const edge = (y: number) => 170 + 8 * Math.sin(y / 40);
/** px of the shadow before the edge. */
const wide = 13;

/** Something textured before a wall, on which it casts a shadow, dark or none. */
const crossed = (shade: number) =>
  pictureOf((x, y) => {
    const share = Math.min(1, Math.max(0, x - edge(y) + 0.5));
    const lit = 1 - shade / (1 + Math.exp((edge(y) - wide - x) / 2));
    return (1 - share) * (16 + lit * (wall(x, y) - 16)) + share * object(x, y);
  });
/** A course so many px before the edge, downward: the ground is on its right. */
const courseAt = (before: number) =>
  Array.from({ length: height / 6 + 1 }, (_, k): [number, number] => [edge(6 * k) - before, 6 * k]);
const off = (points: readonly [number, number][]) => points.map(([x, y]) => Math.abs(x - edge(y)));
const bare = (value: (x: number, y: number) => number) => [{ picture: pictureOf(value), map: identity }];

// The finder reaches 12 px.
test.each([0.25, 0.6])(
  'a course on the border of a shadow, %s darker, is moved to the edge that casts it',
  async (shade) => {
    const found = await pastShadow(crossed(shade), courseAt(wide), bare(wall));
    expect(Math.max(...off(found))).toBeLessThan(6);
  },
);

test('a course on the edge itself stays, and so does one where the ground says nothing', async () => {
  const onEdge = courseAt(0);
  expect(await pastShadow(crossed(0.6), onEdge, bare(wall))).toBe(onEdge);
  const before = courseAt(wide);
  const smooth = pictureOf((x, y) => (x > edge(y) ? object(x, y) : 160));
  expect(
    await pastShadow(
      smooth,
      before,
      bare(() => 160),
    ),
  ).toBe(before);
  // Another place altogether: the ground is not what is seen beside the course.
  expect(await pastShadow(crossed(0.6), before, bare(texture(5, 110, 220)))).toBe(before);
  // The first that tells is asked.
  const both = [...bare(texture(5, 110, 220)), ...bare(wall)];
  expect(Math.max(...off(await pastShadow(crossed(0.6), before, both)))).toBeLessThan(6);
});
