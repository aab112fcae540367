import { ebur128 } from '../../../fixtures/ffmpeg-sound';
import { both, sine } from '../../../fixtures/tones';
import { limit, limiterReach } from './limiter';
import { LoudnessMeter, truePeak } from './loudness';
import { seeded } from '../random';
import { decibelsOf, silence, type Stereo } from './stereo';
import { mixRate } from '../model/limits';

function integrated(sound: Stereo): number {
  const meter = new LoudnessMeter();
  // In uneven parts, as it comes while playing.
  for (let i = 0; i < sound[0].length; i += 7001)
    meter.add(sound.map((channel) => channel.slice(i, i + 7001)) as unknown as Stereo);
  return meter.integrated();
}

const tones = (...parts: readonly (readonly [dbfs: number, seconds: number])[]): Stereo => {
  const all = parts.map(([dbfs, seconds]) => sine(1000, dbfs, seconds * mixRate));
  const joined = new Float32Array(all.reduce((sum, { length }) => sum + length, 0));
  all.reduce((at, part) => (joined.set(part, at), at + part.length), 0);
  return both(joined);
};

// EBU Tech 3341 (2016), table 1: signals 1 to 5 by their formulas, and what a meter shows, ± 0.1 LU; from memory.
test.each([
  ['1', tones([-23, 20]), -23],
  ['2', tones([-33, 20]), -33],
  ['3', tones([-36, 10], [-23, 60], [-36, 10]), -23],
  ['4', tones([-72, 10], [-36, 10], [-23, 60], [-36, 10], [-72, 10]), -23],
  ['5', tones([-26, 20], [-20, 20.1], [-26, 20]), -23],
])('loudness of signal %s of EBU Tech 3341', (_, sound, expected) => {
  expect(Math.abs(integrated(sound) - expected)).toBeLessThanOrEqual(0.1);
});

// The same, signals 15 and 16: sines at a quarter and a sixth of the rate, phases of 45° and 60°: −6 dBTP, +0.2/−0.4.
test.each([
  [4, 45],
  [6, 60],
])('true peak of a sine at 1/%d of the rate with a phase of %d°', (part, degrees) => {
  const sound = sine(mixRate / part, -6.02, 4800, mixRate, (degrees * Math.PI) / 180);
  // It comes and goes softly, as a tone that is cut off is more than itself.
  sound.forEach((x, i) => (sound[i] = x * Math.min(1, i / 1200, (4800 - i) / 1200)));
  const peak = truePeak(both(sound));
  expect(decibelsOf(peak)).toBeGreaterThan(-6.42);
  expect(decibelsOf(peak)).toBeLessThan(-5.82);
});

const noise = (seconds: number, gain: number): Stereo => {
  const random = seeded(5);
  const sound = silence(seconds * mixRate);
  for (const channel of sound)
    for (let i = 0; i < channel.length; i++)
      channel[i] = gain * (2 * random() - 1) * (0.3 + (0.7 * (i % 9000)) / 9000);
  return sound;
};

test('loudness and true peak as ffmpeg’s ebur128 finds them', () => {
  const sound = noise(5, 0.4);
  const reference = ebur128(sound);
  expect(Math.abs(integrated(sound) - reference.integrated)).toBeLessThanOrEqual(0.1);
  expect(Math.abs(decibelsOf(truePeak(sound)) - reference.peak)).toBeLessThanOrEqual(0.3);
});

test('silence has no loudness', () => {
  expect(integrated(silence(mixRate))).toBe(-Infinity);
});

test('the limiter keeps the true peak below −1 dBTP, and leaves what is quiet as it is', () => {
  const loud = noise(2, 2.5);
  const limited = limit(loud);
  expect(ebur128(limited).peak).toBeLessThan(-1);
  // It only turns down, and no more than the loudest needs.
  const gains = [...limited[0].subarray(0, 50_000)].map((y, i) => y / loud[0][i + limiterReach]);
  expect(Math.min(...gains)).toBeGreaterThan(0.87 / truePeak(loud));
  expect(Math.max(...gains)).toBeLessThanOrEqual(1);
  const quiet = noise(1, 0.2);
  const untouched = limit(quiet);
  const same = quiet[0].slice(limiterReach, quiet[0].length - limiterReach);
  expect(Buffer.from(untouched[0].buffer).equals(Buffer.from(same.buffer))).toBe(true);
});

// The same table, signal 6: a sine in five channels, −28 dBFS left and right, −24 in the centre, −30 in the surrounds; from memory.
test('loudness in 5.1 is that of signal 6 of EBU Tech 3341, whatever the low effects hold', () => {
  const meter = new LoudnessMeter(6);
  const channel = (dbfs: number) => sine(1000, dbfs, 20 * mixRate);
  meter.add([channel(-28), channel(-28), channel(-24), channel(-3), channel(-30), channel(-30)]);
  expect(Math.abs(meter.integrated() + 23)).toBeLessThanOrEqual(0.1);
});
