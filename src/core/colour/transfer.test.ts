import { fromLight, toLight } from './transfer';

test('the curves have the published values, meet without a step, and undo each other', () => {
  // IEC 61966-2-1: mid grey of 18 % is 0.4613; code value 128 of 255 is 0.21586 of white (annex and common tables).
  expect(fromLight(0.18, 'linear sRGB')).toBeCloseTo(0.46136, 4);
  expect(toLight(128 / 255, 'linear sRGB')).toBeCloseTo(0.215861, 5);
  expect(toLight(0.04045, 'linear sRGB')).toBeCloseTo(0.0031308, 6);
  // BT.709-6, 1.2: 4.5 L below 0.018, 1.099 L^0.45 − 0.099 above: 18 % is 0.4090, and 0.018 is 0.081.
  expect(fromLight(0.18, 'linear BT.709')).toBeCloseTo(0.409, 3);
  expect(fromLight(0.018, 'linear BT.709')).toBeCloseTo(0.081, 6);
  for (const blend of ['linear sRGB', 'linear BT.709'] as const) {
    expect([fromLight(0, blend), fromLight(1, blend)].map((value) => Number(value.toFixed(9)))).toEqual([
      0, 1,
    ]);
    for (let code = 0; code <= 255; code++)
      expect(fromLight(toLight(code / 255, blend), blend) * 255).toBeCloseTo(code, 3);
  }
  expect(toLight(0.3, 'display')).toBe(0.3);
});
