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
