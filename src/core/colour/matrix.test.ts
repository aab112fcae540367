import { rgbaToI420, rgbToYuv, yuvToRgb } from './matrix';

const times = (m: Float64Array, [a, b, c]: number[]) =>
  [0, 4, 8].map((r) => m[r] * a + m[r + 1] * b + m[r + 2] * c + m[r + 3]);

test('coefficients are those of ITU-R BT.601 and BT.709', () => {
  // BT.601-7 §2.5.1: R = Y + 1.402 Cr, G = Y − 0.344136 Cb − 0.714136 Cr, B = Y + 1.772 Cb (full range).
  const full601 = yuvToRgb({ matrix: 'bt601', fullRange: true });
  [1, 0, 1.402, 1, -0.344136, -0.714136, 1, 1.772, 0].forEach((value, i) =>
    expect(full601[Math.floor(i / 3) * 4 + (i % 3)]).toBeCloseTo(value, 5),
  );
  // BT.709-6 §3.3-3.4, 8 bit: 219 and 224 steps; the 75 % bars' yellow (180, 180, 16)-like primaries at 100 %:
  // red is Y 63, Cb 102, Cr 240; blue Y 32, Cb 240, Cr 118.
  const limited709 = rgbToYuv({ matrix: 'bt709', fullRange: false });
  expect(times(limited709, [255, 0, 0]).map(Math.round)).toEqual([63, 102, 240]);
  expect(times(limited709, [0, 0, 255]).map(Math.round)).toEqual([32, 240, 118]);
  expect(times(limited709, [255, 255, 255]).map(Math.round)).toEqual([235, 128, 128]);
});

test('there and back is the same colour, for every matrix and range', () => {
  for (const matrix of ['bt601', 'bt709', 'bt2020'] as const) {
    for (const fullRange of [true, false]) {
      const back = times(
        yuvToRgb({ matrix, fullRange }),
        times(rgbToYuv({ matrix, fullRange }), [12, 200, 77]),
      );
      [12, 200, 77].forEach((value, i) => expect(back[i]).toBeCloseTo(value, 9));
    }
  }
});

test('a flat picture keeps its colour in 4:2:0, and odd sizes are refused', () => {
  const rgba = new Uint8Array(8 * 6 * 4).map((_, i) => [255, 0, 0, 255][i % 4]);
  const out = new Uint8Array(8 * 6 * 1.5);
  rgbaToI420(rgba, 8, 6, { matrix: 'bt709', fullRange: false }, out);
  expect([...new Set(out.subarray(0, 48))]).toEqual([63]);
  expect([...new Set(out.subarray(48, 60))]).toEqual([102]);
  expect([...new Set(out.subarray(60))]).toEqual([240]);
  expect(() => rgbaToI420(rgba, 7, 6, { matrix: 'bt709', fullRange: false }, out)).toThrow(RangeError);
});
