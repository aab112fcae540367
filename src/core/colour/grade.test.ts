import { graded, gradeSteps, opponentsOf, plainGrade } from './grade';
import { colourStatistics, matchingGrade } from './matching';

/** Colours that are the same in every run: dull, as those of natural pictures are. */
function colours(count: number, seed: number, tone: readonly number[], spread: number): number[] {
  let state = seed;
  const random = () => (state = (state * 16807) % 2147483647) / 2147483647;
  return Array.from({ length: count }, () => {
    const light = 0.2 * 10 ** (spread * (random() - 0.5));
    return tone.map((part) => light * part * (0.85 + 0.3 * random()));
  }).flat();
}

test('colours are taken apart as the paper’s matrices say, and a plain grade changes nothing', () => {
  // Worked by hand from equations 4 and 6 for a red of 0.4, its cones (0.15244, 0.07868, 0.00964) raised by 1/512.
  const [l, a, b] = opponentsOf(0.4, 0, 0);
  const logs = [-0.81137, -1.09347, -1.93582];
  expect(l).toBeCloseTo((logs[0] + logs[1] + logs[2]) / 1.7320508, 3);
  expect(a).toBeCloseTo((logs[0] + logs[1] - 2 * logs[2]) / 2.4494897, 3);
  expect(b).toBeCloseTo((logs[0] - logs[1]) / 1.4142136, 3);
  // Greys have hardly any colour.
  for (const grey of [0.02, 0.18, 0.9])
    for (const part of opponentsOf(grey, grey, grey).slice(1)) expect(Math.abs(part)).toBeLessThan(0.002);
  const steps = gradeSteps(plainGrade);
  for (const rgb of [
    [0, 0, 0],
    [0.3, 0.5, 0.1],
    [1, 1, 1],
  ])
    graded(steps, rgb[0], rgb[1], rgb[2]).forEach((value, k) => expect(value).toBeCloseTo(rgb[k], 9));
  // A stop is twice the light; middle grey stays where it is under any contrast.
  const [brighter] = graded(gradeSteps({ ...plainGrade, exposure: 1 }), 0.3, 0.3, 0.3);
  expect(brighter).toBeCloseTo(0.6, 2);
  const [middle] = graded(gradeSteps({ ...plainGrade, contrast: 180 }), 0.178, 0.178, 0.178);
  expect(middle).toBeCloseTo(0.178, 2);
  const [grey, , blue] = graded(gradeSteps({ ...plainGrade, saturation: 0 }), 0.2, 0.3, 0.4);
  expect(Math.abs(grey - blue)).toBeLessThan(0.003);
});

test('a matched picture has the other’s mean and spread', () => {
  const own = colours(4000, 7, [1, 0.9, 0.75], 0.7);
  const other = colours(4000, 11, [0.55, 0.7, 0.8], 1);
  const [from, to] = [own, other].map(colourStatistics);
  expect(Math.abs(from.mean[1] - to.mean[1])).toBeGreaterThan(0.05);
  const steps = gradeSteps(matchingGrade(from, to));
  const after: number[] = [];
  for (let i = 0; i < own.length; i += 3) after.push(...graded(steps, own[i], own[i + 1], own[i + 2]));
  const matched = colourStatistics(after);
  matched.mean.forEach((value, k) => expect(value).toBeCloseTo(to.mean[k], 2));
  expect(matched.deviation[0]).toBeCloseTo(to.deviation[0], 2);
  // A picture without spread takes the mean alone.
  const flat = colourStatistics([0.2, 0.2, 0.2, 0.2, 0.2, 0.2]);
  expect(matchingGrade(flat, flat)).toEqual(plainGrade);
  expect(matchingGrade(flat, to).contrast).toBe(100);
});
