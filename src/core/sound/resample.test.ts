import { soxr } from '../../../fixtures/ffmpeg-sound';
import { amplitudeOf, both, sine } from '../../../fixtures/tones';
import { pairs, toPair, toStereo } from './downmix';
import { readBetween, toMixRate } from './resample';
import { seeded } from '../random';
import { mixRate } from '../model/limits';

const brought = (samples: Float32Array<ArrayBuffer>, rate: number) =>
  toMixRate(samples, rate, 0, 0, Math.floor((samples.length * mixRate) / rate));

test.each([20, 1000, 10_000, 18_000, 20_000])('44.1 to 48 kHz: %d Hz within 0.1 dB', (hz) => {
  const out = brought(sine(hz, -6, 22_050, 44_100), 44_100);
  expect(Math.abs(amplitudeOf(out, hz) + 6)).toBeLessThan(0.1);
});

test.each([
  ['the image of 20 kHz at 24.1 kHz', 44_100, 20_000, 2 * 24_000 - 24_100],
  ['30 kHz folded to 18 kHz', 96_000, 30_000, 18_000],
  ['26 kHz folded to 22 kHz', 192_000, 26_000, 22_000],
])('%s lies below −90 dB', (_, rate, hz, found) => {
  const out = brought(sine(hz, 0, rate / 4, rate), rate);
  expect(amplitudeOf(out, found)).toBeLessThan(-90);
});

test('44.1 to 48 kHz as libsoxr has it', () => {
  const random = seeded(3);
  // Noise below 16 kHz, where both pass all: a sum of tones.
  const samples = new Float32Array(22_050);
  for (let k = 0; k < 40; k++) {
    const tone = sine(60 + 15_900 * random(), -34, samples.length, 44_100, 6 * random());
    for (let i = 0; i < samples.length; i++) samples[i] += tone[i];
  }
  const [ours, [theirs]] = [brought(samples, 44_100), soxr(both(samples), 44_100)];
  let worst = 0;
  for (let i = 2000; i < ours.length - 2000; i++) worst = Math.max(worst, Math.abs(ours[i] - theirs[i]));
  expect(20 * Math.log10(worst)).toBeLessThan(-80);
});

test('a stretch from the middle is what the whole has there', () => {
  const samples = sine(700, -3, 44_100, 44_100);
  const whole = brought(samples, 44_100);
  const part = toMixRate(samples.slice(10_000, 30_000), 44_100, 10_000, 20_000, 3000);
  for (let i = 0; i < 3000; i++) expect(part[i]).toBeCloseTo(whole[20_000 + i], 5);
});

test('read twice as fast a tone lies an octave higher, and nothing is folded back', () => {
  const fast = (hz: number) => readBetween(sine(hz, 0, 48_000), (n) => 2 * n, 24_000, mixRate, 2);
  expect(amplitudeOf(fast(3000), 6000)).toBeCloseTo(0, 1);
  expect(amplitudeOf(fast(14_000), 20_000)).toBeLessThan(-90);
});

// ITU-R BS.775-3, annex 4, table 2.
test('3/2 with low effects to two channels by the published coefficients', () => {
  const channels = [1, 2, 4, 8, 16, 32].map((value) => Float32Array.of(value));
  const [left, right] = toStereo(channels);
  expect(left[0]).toBeCloseTo(1 + 0.7071 * 4 + 0.7071 * 16, 3);
  expect(right[0]).toBeCloseTo(2 + 0.7071 * 4 + 0.7071 * 32, 3);
  expect(() => toStereo(new Array<Float32Array<ArrayBuffer>>(9).fill(channels[0]))).toThrow(RangeError);
  // 7.1 as WAVE and FLAC order it: those behind as further surrounds, none turned down for there being more.
  const more = [1, 2, 4, 8, 16, 32, 64, 128].map((value) => Float32Array.of(value));
  const [wideLeft, wideRight] = toStereo(more);
  expect(wideLeft[0]).toBeCloseTo(1 + 0.7071 * (4 + 16 + 64), 2);
  expect(wideRight[0]).toBeCloseTo(2 + 0.7071 * (4 + 32 + 128), 2);
});

test('kept in 5.1, six channels are what they were, two are at the front, and what stands behind comes out of the surrounds', () => {
  const channels = (count: number) =>
    Array.from({ length: count }, (_, c) => new Float32Array([c + 1]) as Float32Array<ArrayBuffer>);
  const kept = (count: number) =>
    pairs.flatMap((pair) => toPair(channels(count), pair).map(([value]) => Math.round(1e4 * value) / 1e4));
  expect(kept(6)).toEqual([1, 2, 3, 4, 5, 6]);
  expect(kept(2)).toEqual([1, 2, 0, 0, 0, 0]);
  expect(kept(1)).toEqual([1, 1, 0, 0, 0, 0]);
  // 5.0 has no low effects; 7.1 has its surrounds last, and before them what stands behind.
  expect(kept(5)).toEqual([1, 2, 3, 0, 4, 5]);
  expect(kept(8)).toEqual([1, 2, 3, 4, 12, 14]);
});
