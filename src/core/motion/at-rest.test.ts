import { numbersPerFrame as N } from '../model/shot';
import { seeded } from '../random';
import { MotionMeasure } from './measure';

const [width, height, count] = [400, 225, 12];
const speed = 9;

const grain = seeded(1);
const plaster = Float32Array.from({ length: 300 * 113 }, () => 3 * (grain() - 0.5));
/** What a wall shows: light that falls off, and plaster that is hardly seen. */
const wall = (x: number, y: number) =>
  178 + 14 * Math.sin(x / 130) + plaster[Math.floor(y / 2) * 300 + (Math.floor(x / 2) % 300)];
const coat = (x: number, y: number) => 60 + 25 * Math.sin(0.5 * x + 0.2 * y) * Math.cos(0.4 * y - 0.3 * x);

/** px a frame that the scene is measured to go. */
function measured(lumaAt: (x: number, y: number, frame: number) => number): number[] {
  const random = seeded(3);
  const measure = new MotionMeasure(width, height);
  for (let frame = 0; frame < count; frame++) {
    const luma = new Uint8Array(width * height);
    for (let i = 0; i < luma.length; i++)
      luma[i] = lumaAt(i % width, Math.floor(i / width), frame) + 4 * (random() - 0.5);
    measure.add(luma, width, height);
  }
  const { frames, cuts } = measure.result();
  expect(cuts).toEqual([]);
  return Array.from({ length: count - 1 }, (_, k) => frames[(k + 1) * N]);
}

test('a passer-by before a plain wall passes for a passer-by, not for the scene', () => {
  const went = measured((x, y, frame) => {
    const left = speed * frame - 40;
    return x > left && x < left + 100 ? coat(x - left, y) : wall(x, y);
  });
  for (const dx of went) expect(Math.abs(dx)).toBeLessThan(0.1);
});

test('a camera that pans along it goes with the one thing that hangs there', () => {
  const went = measured((x, y, frame) => {
    const at = x + speed * frame;
    return at > 190 && at < 290 && y > 60 && y < 170 ? coat(at, y) : wall(at, y);
  });
  for (const dx of went) expect(Math.abs(dx + speed)).toBeLessThan(0.5);
});

test('where nothing is to be seen at all, nothing moves', () => {
  expect(measured(() => 120).every((dx) => dx === 0)).toBe(true);
});
