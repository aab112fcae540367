import type { PicturePlanes } from '@/core/picture/planes';
import { FrameCache } from './frame-cache';

const planes = (bytes: number) =>
  ({ y: new Uint8Array(bytes), u: new Uint8Array(0), v: new Uint8Array(0) }) as PicturePlanes;

test('the cache stays within its bytes and lets the longest unused go', () => {
  const cache = new FrameCache(300);
  for (let n = 0; n < 3; n++) cache.set('a', n, planes(100));
  cache.get('a', 0);
  cache.set('a', 3, planes(100));
  expect([0, 1, 2, 3].map((n) => cache.has('a', n))).toEqual([true, false, true, true]);
  expect(cache.heldBytes).toBe(300);
  cache.set('a', 3, planes(40));
  expect(cache.heldBytes).toBe(240);
  // A picture larger than the budget is still held while it is the newest: it has been asked for.
  cache.set('b', 0, planes(900));
  expect(cache.get('b', 0)).not.toBeNull();
  expect(cache.heldBytes).toBe(900);
  cache.clear();
  expect([cache.get('b', 0), cache.heldBytes]).toEqual([null, 0]);
});

test('a smaller picture is made from a larger one that is held, where that is allowed', () => {
  const plane = (side: number, value: number) => new Uint8Array(side * side).fill(value);
  const large: PicturePlanes = {
    ...{
      width: 8,
      height: 8,
      chromaWidth: 4,
      chromaHeight: 4,
      y: plane(8, 90),
      u: plane(4, 30),
      v: plane(4, 7),
    },
    colour: { matrix: 'bt709', fullRange: false },
  };
  const [exact, shown] = [new FrameCache(1000), new FrameCache(1000, true)];
  for (const cache of [exact, shown]) cache.set('a', 5, large, 1);
  expect([exact.has('a', 5, 2), exact.get('a', 5, 2)]).toEqual([false, null]);
  // Never a larger one from a smaller.
  expect([shown.has('a', 5, 0), shown.has('a', 5, 2)]).toEqual([false, true]);
  expect(shown.get('a', 5, 2)).toMatchObject({ width: 4, chromaWidth: 2, y: plane(4, 90), v: plane(2, 7) });
  expect(shown.heldBytes).toBe(96 + 24);
});
