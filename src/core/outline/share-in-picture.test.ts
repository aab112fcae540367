import { shareInPicture } from './share-in-picture';

const point = (x: number, y: number) => [x, y, 0, 0, 0, 0];
const picture = { width: 200, height: 100 };

test('the share of a line that lies in the picture is that of its length', () => {
  const seam = (top: number, bottom: number) => [...point(top, 0), ...point(bottom, 100)];
  expect(shareInPicture(seam(50, 50), false, picture)).toBe(1);
  expect(shareInPicture(seam(-5, -5), false, picture)).toBe(0);
  // It leans out by three quarters.
  expect(shareInPicture(seam(25, -75), false, picture)).toBeCloseTo(0.25, 1);
  // A square about the left border.
  const square = [point(-40, 20), point(40, 20), point(40, 100), point(-40, 100)].flat();
  expect(shareInPicture(square, true, picture)).toBeCloseTo(0.5, 2);
});
