import { documentOf, markedFrame } from '@/core/document/document';
import { plainCrossing } from '@/core/document/tables';
import { rangeAbout, withTimes } from './times-of-trace';

const crossing = {
  ...{ ...plainCrossing, id: 'c', name: 'A', plan: 'pass-by' as const, width: 640, height: 360 },
  ...{ rateNum: 25, rateDen: 1, length: 100, inFrame: 10 },
};
const document = documentOf({ crossing: [crossing] });
const covered = Float32Array.from({ length: 100 }, (_, k) => Math.min(1, Math.max(0, (k - 40) / 20)));

test('what is covered says when the edge opens and closes, unless somebody has marked it', () => {
  const timed = withTimes(document, covered);
  expect(['opens' as const, 'closes' as const].map((kind) => markedFrame(timed, kind))).toEqual([41, 60]);
  expect(rangeAbout(timed)).toEqual([16, 85]);
  expect(
    withTimes(
      timed,
      covered.map(() => 0),
    ),
  ).toBe(timed);
  for (const unknown of [null, new Float32Array(100)]) expect(withTimes(document, unknown)).toBe(document);
  expect(rangeAbout(document)).toEqual([10, 99]);
});
