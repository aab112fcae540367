import { Bezier } from 'bezier-js';
import { type Cubic, flatteningSteps, nearestOnCubic, pointAt, splitCubic } from './bezier';

const cubics: Cubic[] = [
  [0, 0, 100, 0, 100, 100, 200, 100],
  [10, 300, -250, 40, 420, 20, 33, 310],
  [5, 5, 5, 5, 300, 90, 300, 90],
];

test('points and splits agree with the package bezier-js', () => {
  for (const cubic of cubics) {
    const reference = new Bezier([...cubic]);
    for (const t of [0, 0.13, 0.5, 0.871, 1]) {
      const { x, y } = reference.get(t);
      expect(pointAt(cubic, t)[0]).toBeCloseTo(x, 9);
      expect(pointAt(cubic, t)[1]).toBeCloseTo(y, 9);
    }
    const { left, right } = reference.split(0.31);
    const halves = splitCubic(cubic, 0.31);
    [left, right].forEach((half, i) =>
      half.points.forEach((p, k) => {
        expect(halves[i][2 * k]).toBeCloseTo(p.x, 9);
        expect(halves[i][2 * k + 1]).toBeCloseTo(p.y, 9);
      }),
    );
  }
});

test('flattening stays within its tolerance', () => {
  for (const cubic of cubics) {
    const steps = flatteningSteps(cubic, 0.05);
    for (let k = 0; k < steps; k++) {
      const [ax, ay] = pointAt(cubic, k / steps);
      const [bx, by] = pointAt(cubic, (k + 1) / steps);
      const [mx, my] = pointAt(cubic, (k + 0.5) / steps);
      expect(Math.hypot(mx - (ax + bx) / 2, my - (ay + by) / 2)).toBeLessThan(0.0501);
    }
  }
});

test('the nearest place agrees with the projection of bezier-js', () => {
  for (const [x, y] of [
    [90, 40],
    [30, 70],
    [170, 60],
  ]) {
    const expected = new Bezier([...cubics[0]]).project({ x, y });
    // bezier-js searches a table and refines it roughly: it may be a little farther, never nearer (its
    // search also runs past the ends, so only points whose nearest place lies inside are asked for).
    const { distance } = nearestOnCubic(cubics[0], x, y);
    expect(distance).toBeLessThanOrEqual(expected.d! + 1e-6);
    expect(distance).toBeGreaterThan(expected.d! - 0.1);
  }
});
