import { Bezier } from 'bezier-js';
import { cubicBezierEasing, easeInOut } from './easing';

/** The keywords of W3C, CSS Easing Functions Level 1, section 2.2.1; held against the package bezier-js. */
const keywords: [string, [number, number, number, number]][] = [
  ['ease', [0.25, 0.1, 0.25, 1]],
  ['ease-in', [0.42, 0, 1, 1]],
  ['ease-out', [0, 0, 0.58, 1]],
  ['ease-in-out', [0.42, 0, 0.58, 1]],
  ['an overshooting one', [0.3, -0.6, 0.7, 1.6]],
];

test.each(keywords)('%s goes through the points of its curve', (_name, [x1, y1, x2, y2]) => {
  const ease = cubicBezierEasing(x1, y1, x2, y2);
  const curve = new Bezier(0, 0, x1, y1, x2, y2, 1, 1);
  for (let k = 0; k <= 100; k++) {
    const { x, y } = curve.get(k / 100);
    expect(ease(x)).toBeCloseTo(y, 9);
  }
});

test('beyond its ends it goes on along the tangent, and times that run back are refused', () => {
  const ease = cubicBezierEasing(0.25, 0.1, 0.25, 1);
  expect(ease(-0.5)).toBeCloseTo(-0.2, 12);
  expect(ease(1.5)).toBe(1);
  // Where the first handle lies on the end, the second gives the tangent (the recommendation's own rule).
  expect(cubicBezierEasing(0, 0, 0.5, 1)(-0.1)).toBeCloseTo(-0.2, 12);
  expect(() => cubicBezierEasing(1.2, 0, 0.5, 1)).toThrow('between the times');
});

test('eased both ways it is even about its middle', () => {
  for (let k = 0; k <= 20; k++) expect(easeInOut(k / 20) + easeInOut(1 - k / 20)).toBeCloseTo(1, 9);
  expect(easeInOut(0.1)).toBeLessThan(0.03);
});
