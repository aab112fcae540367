import { flattenOutline } from './';
import { fittedPose } from './fitted-pose';

const corner = (x: number, y: number) => [x, y, 0, 0, 0, 0];

test('a loop drawn with other points elsewhere gets the first one’s, corner on corner', () => {
  const square = [corner(0, 0), corner(100, 0), corner(100, 100), corner(0, 100)].flat();
  // Larger, farther off, with a point more on each side, and begun at another corner.
  const other = [corner(420, 320), corner(420, 380), corner(420, 440), corner(360, 440), corner(300, 440)];
  const rest = [corner(300, 380), corner(300, 320), corner(360, 320)];
  const fitted = fittedPose(square, true, [...other, ...rest].flat());
  const places = [0, 6, 12, 18].map((i) => fitted.slice(i, i + 2).map(Math.round));
  expect(places.sort((a, b) => a[0] - b[0] || a[1] - b[1])).toEqual([
    [300, 320],
    [300, 440],
    [420, 320],
    [420, 440],
  ]);
});

test('a seam drawn the other way with other points gets the first one’s, at the same shares of its length', () => {
  const seam = [corner(50, 0), corner(50, 100), corner(50, 400)].flat();
  // A quarter of a circle about (0, 0) of radius 400, walked upwards; its cubic is within 0.03 % (Riškus 2006).
  const k = 0.5523 * 400;
  const arc = [0, 400, 0, 0, k, 0, 400, 0, 0, k, 0, 0];
  const fitted = fittedPose(seam, false, arc);
  expect(fitted.slice(0, 2)).toEqual([400, 0].map((value) => expect.closeTo(value, 0)));
  // A quarter of the way down: 22.5 degrees.
  expect(fitted[6]).toBeCloseTo(400 * Math.cos(Math.PI / 8), 0);
  expect(fitted[7]).toBeCloseTo(400 * Math.sin(Math.PI / 8), 0);
  const line = flattenOutline(fitted, false, 1, 0.1);
  for (let i = 0; i < line.length; i += 2) expect(Math.hypot(line[i], line[i + 1])).toBeCloseTo(400, 0);
});
