import { makerNames } from '../model/maker-names';
import { make, makerBeginnings, type MakerSettings } from './makers';
import { type Stereo } from './stereo';
import { mixRate } from '../model/limits';

const settings = (changes: Partial<MakerSettings>): MakerSettings => ({
  maker: 'air sweep',
  length: mixRate,
  height: 0,
  brightness: 50,
  loudestAt: 55,
  seed: 1,
  ...changes,
});

/** Mean frequency of a stretch by its zero crossings, and its power. */
function read(samples: Float32Array, from: number, to: number) {
  let [crossings, power] = [0, 0];
  for (let i = from + 1; i < to; i++) {
    if (samples[i] * samples[i - 1] < 0) crossings++;
    power += samples[i] ** 2;
  }
  return { frequency: (crossings * mixRate) / (2 * (to - from)), power: power / (to - from) };
}

test.each(makerNames)('%s: the same again, another by its seed, 6 dB below full scale', (maker) => {
  const { seconds, brightness } = makerBeginnings[maker];
  const own = settings({ maker, brightness, length: Math.round(Math.min(0.8, seconds) * mixRate) });
  const sound = make(own);
  const bytes = ([left]: Stereo) => Buffer.from(left.buffer);
  expect(bytes(make(own)).equals(bytes(sound))).toBe(true);
  expect(bytes(make({ ...own, seed: 2 })).equals(bytes(sound))).toBe(false);
  const peak = Math.max(...sound.map((side) => side.reduce((most, x) => Math.max(most, Math.abs(x)), 0)));
  expect(peak).toBeCloseTo(0.5, 5);
  // Higher is higher.
  const whole = (height: number) => {
    const [left] = make({ ...own, height });
    return read(left, 0, left.length).frequency;
  };
  expect(whole(1)).toBeGreaterThan(whole(-1) * 1.3);
});

test('a sweep rises to its loudest moment and falls, in height and level', () => {
  const [left] = make(settings({ loudestAt: 60 }));
  const parts = Array.from({ length: 10 }, (_, k) => read(left, k * 4800, (k + 1) * 4800));
  const loudest = parts.reduce((most, { power }, k) => (power > parts[most].power ? k : most), 0);
  expect([5, 6]).toContain(loudest);
  expect(parts[loudest].frequency).toBeGreaterThan(1.5 * parts[2].frequency);
  expect(parts[loudest].frequency).toBeGreaterThan(1.5 * parts[8].frequency);
  for (let k = 1; k <= 4; k++) expect(parts[k].power).toBeGreaterThan(parts[k - 1].power);
});

test('a length that is none is refused', () => {
  expect(() => make(settings({ length: 0 }))).toThrow(RangeError);
});
