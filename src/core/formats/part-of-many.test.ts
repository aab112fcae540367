import fc from 'fast-check';
import { framesOfPart, partOfManyFrom } from './part-of-many';

test('parts have every frame once, in order, and differ by one at the most', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -50, max: 50 }),
      fc.integer({ min: 1, max: 400 }),
      fc.integer({ min: 1, max: 40 }),
      (from, total, of) => {
        fc.pre(of <= total);
        const parts = Array.from({ length: of }, (_, k) =>
          framesOfPart({ from, to: from + total - 1 }, { number: k + 1, of }),
        );
        parts.forEach((part, k) => expect(part.from).toBe(k === 0 ? from : parts[k - 1].to + 1));
        expect(parts.at(-1)!.to).toBe(from + total - 1);
        const lengths = parts.map((part) => part.to - part.from + 1);
        expect(Math.max(...lengths) - Math.min(...lengths)).toBeLessThanOrEqual(1);
      },
    ),
  );
});

test('what is no part is refused in a sentence', () => {
  expect(partOfManyFrom('3/8')).toEqual({ number: 3, of: 8 });
  for (const text of ['0/8', '9/8', '3', '3/', 'a/b', '1/0'])
    expect(() => partOfManyFrom(text)).toThrow(/is not a part/);
  expect(() => framesOfPart({ from: 0, to: 2 }, { number: 1, of: 4 })).toThrow(/3 frames.*4 parts/);
});
