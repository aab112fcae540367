import { applyChanges, documentOf } from '../document/document';
import { inverseChanges } from '../document/edit';
import { changeRate, changeSize } from './format-actions';
import { inconsistencyOf } from '../document/invariants';
import { setMove } from './move-actions';
import { plainCrossing, plainLayer } from '../document/tables';
import { sourceFrameAt } from '../time/time-map';

const crossing = {
  ...{ ...plainCrossing, id: 'c', name: 'T', plan: 'pass-by' as const, width: 1280, height: 720 },
  ...{ rateNum: 25, rateDen: 1, length: 100, inFrame: 10, outFrame: 89 },
};
const layer = { ...plainLayer, id: 'l', role: 'outgoing' as const, shotId: 's', position: 0, x: 40, y: -9 };
const start = documentOf({
  crossing: [crossing],
  layer: [{ ...layer, ramp: [10, 100, 11, 300, 60, 50], rampAt: 20, rampRound: 6 }],
  mark: [{ id: 'm', frame: 50, kind: 'opens', name: 'Opens' }],
});
const document = [12, 13, 60].reduce(
  (now, frame) => applyChanges(now, setMove(now, 'l', 'place', frame, frame, -frame)),
  start,
);

test('at another rate everything lies at the same moments, and undoing brings back every frame', () => {
  for (const rate of [
    { num: 50, den: 1 },
    { num: 24000, den: 1001 },
    { num: 10, den: 1 },
  ]) {
    const changes = changeRate(document, rate);
    const after = applyChanges(document, changes);
    expect(inconsistencyOf(after, changes)).toBeNull();
    expect(applyChanges(after, inverseChanges(changes))).toEqual(document);
    const seconds = (frame: number) => (frame * rate.den) / rate.num;
    const frame = seconds(1);
    const { length, inFrame, outFrame } = after.crossing;
    expect(Math.abs(seconds(length) - 4)).toBeLessThanOrEqual(frame / 2 + 1e-9);
    expect(Math.abs(seconds(inFrame) - 0.4)).toBeLessThanOrEqual(frame / 2 + 1e-9);
    expect(Math.abs(seconds(outFrame! + 1) - 3.6)).toBeLessThanOrEqual(frame / 2 + 1e-9);
    expect(Math.abs(seconds(after.marks.m.frame) - 2)).toBeLessThanOrEqual(frame / 2 + 1e-9);
    const keys = Object.values(after.moves).map(({ frame: at, value }) => [at, value]);
    expect(Math.abs(seconds(keys[keys.length - 1][0]) - 2.4)).toBeLessThanOrEqual(frame / 2 + 1e-9);
    expect(keys.map(([, value]) => value)).toEqual([12, 13, 60]);
    // A ramped layer shows what it showed, but for what the rounding of a key's frame makes of it.
    const shot = { rate: { num: 25, den: 1 } };
    const shown = (of: typeof document, second: number) => {
      const { rateNum: num, rateDen: den } = of.crossing;
      return sourceFrameAt(Math.round((second * num) / den), of.layers.l, { num, den }, shot);
    };
    for (const second of [0.8, 2, 3])
      expect(Math.abs(shown(after, second) - shown(document, second))).toBeLessThanOrEqual(
        rate.num === 10 ? 8 : 3,
      );
  }
  expect(changeRate(document, { num: 50, den: 2 })).toEqual([]);
  // Keys on every frame: of those that cannot all be kept, each is at most a frame off.
  const dense = Array.from({ length: 40 }, (_, k) => k).reduce(
    (now, frame) => applyChanges(now, setMove(now, 'l', 'size', frame, 100 + frame)),
    start,
  );
  const thinned = Object.values(applyChanges(dense, changeRate(dense, { num: 10, den: 1 })).moves);
  expect(thinned.length).toBeGreaterThanOrEqual(16);
  for (const { frame, value } of thinned)
    expect(Math.abs(frame - (value - 100) * 0.4)).toBeLessThanOrEqual(1);
});

test('at another size shifts and their keys grow with the frame', () => {
  const changes = changeSize(document, { width: 2560, height: 1080 });
  const after = applyChanges(document, changes);
  expect(after.layers.l).toMatchObject({ x: 80, y: -13.5 });
  expect(Object.values(after.moves)[2]).toMatchObject({ frame: 60, value: 120, second: -90 });
  expect(inconsistencyOf(after, changes)).toBeNull();
  expect(applyChanges(after, inverseChanges(changes))).toEqual(document);
  expect(changeSize(document, { width: 1280, height: 720 })).toEqual([]);
});
