import { seeded } from '../random';
import { CoverMap, looksEvery, lookWidth } from './cover-map';

const [width, height, looksASecond, count] = [192, 108, 12, 60];
const grain = seeded(1);
const plaster = Float32Array.from({ length: width * height }, () => 3 * (grain() - 0.5));

/** A take before a wall: on each look what lies before it, from column to column, and how bright all of it is. */
function lookedAt(before: (look: number) => readonly [number, number], light: (look: number) => number) {
  const random = seeded(2);
  const map = new CoverMap({ width, height }, looksASecond);
  for (let look = 0; look < count; look++) {
    const [from, to] = before(look);
    const luma = Uint8Array.from({ length: width * height }, (_, i) => {
      const x = i % width;
      const value = x >= from && x < to ? 40 + 20 * Math.sin(0.4 * (x - from)) : 190 + plaster[i];
      return Math.min(255, value * light(look) + 3 * (random() - 0.5));
    });
    map.add(luma, width, height);
  }
  map.end();
  return map;
}

/** Mean share covered, of the columns of a look from one share of the width to another. */
function covered(map: CoverMap, look: number, from: number, to: number): number {
  const some = map.columns[look].slice(Math.ceil(from * lookWidth), Math.floor(to * lookWidth));
  return some.reduce((sum, share) => sum + share, 0) / some.length;
}

/** Dark, a third of the picture wide, through it in twelve looks. */
const passerBy = (look: number) => [20 * (look - 18) - 64, 20 * (look - 18)] as const;

test.each([
  ['in even light', () => 1],
  ['while the light flickers', (look: number) => 1 + 0.06 * Math.sin(2.3 * look)],
])('something dark before a plain wall covers what it is before, all in one take, %s', (_, light) => {
  const map = lookedAt(passerBy, light);
  expect(new Set(map.takes)).toEqual(new Set([0]));
  for (const look of [2, 10, 40]) expect(covered(map, look, 0.02, 0.98)).toBeLessThan(0.1);
  for (const look of [22, 24, 26]) {
    const [from, to] = passerBy(look).map((x) => x / width);
    expect(covered(map, look, Math.max(0.02, from + 0.02), Math.min(0.98, to - 0.02))).toBeGreaterThan(0.8);
    expect(covered(map, look, to + 0.03, 0.98)).toBeLessThan(0.15);
  }
});

test('what is seen at the end has nothing later to be told by', () => {
  const map = lookedAt(passerBy, () => 1);
  expect(map.columns).toHaveLength(count);
  expect(map.columns[count - 1].every(Number.isNaN)).toBe(true);
});

test('a take is looked at a dozen times a second, and every frame of a slow one', () => {
  expect([10, 24, 25, 60].map((num) => looksEvery({ num, den: 1 }))).toEqual([1, 2, 2, 5]);
  expect(looksEvery({ num: 30000, den: 1001 })).toBe(2);
});
