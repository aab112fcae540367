import { soundingCrossing, soundingFrame, soundingLength, soundPiece } from '../../../fixtures/sounding';
import { amplitudeOf, both, sine } from '../../../fixtures/tones';
import { setMove } from '../actions/move-actions';
import { applyChanges } from '../document/document';
import type { CrossingDocument, LayerRow } from '../document/tables';
import type { Shot } from '../model/shot';
import { opennessOf, sampleOfFrame } from './behind';
import { mixed, Mixer, type ReadSource, soundOf } from './mixer';
import { sourceFrameAt } from '../time/time-map';
import { silence, type Stereo } from './stereo';
import { mixRate } from '../model/limits';
import { unpanned, voiceOf, voicesOf } from './voice';

const rate = { num: 25, den: 1 };
const length = soundingLength;

const shot: Shot = {
  id: 'shot',
  name: 'Door',
  width: 640,
  height: 360,
  rotation: 0,
  rate,
  frameCount: 200,
  colour: { matrix: 'bt709', fullRange: false },
  motion: null,
};

const sceneOf = (document: CrossingDocument, coverage: readonly number[] = []) => ({
  document,
  shots: { shot },
  openness: opennessOf(coverage, rate),
});

/** A source: a function of the sample. */
const reading =
  (at: (sample: number) => number): ReadSource =>
  (_source, from, count) => {
    const sound = silence(count);
    for (const channel of sound) for (let i = 0; i < count; i++) channel[i] = at(from + i);
    return Promise.resolve(sound);
  };

const tone = (hz: number) => reading((i) => 0.1 * Math.sin((2 * Math.PI * hz * i) / mixRate));
const ones = reading((i) => (i >= 0 ? 0.25 : 0));
const click = (at: number) => reading((i) => (i === at ? 0.5 : 0));
const clickAt = ([left]: Stereo) =>
  left.reduce((most, x, i) => (Math.abs(x) > Math.abs(left[most]) ? i : most), 0);

test('a piece lies where it was placed, to the sample, and not a sample beyond', async () => {
  const document = soundingCrossing([soundPiece({ start: 4801, inSample: 100, length: 3 })]);
  const [left] = await mixed(voicesOf(sceneOf(document)), ones, 0, 10_000);
  expect([...left.subarray(4800, 4806)]).toEqual([0, 0.25, 0.25, 0.25, 0, 0]);
});

test('in uneven parts, and begun anywhere, it is the same mix', async () => {
  const coverage = Array.from({ length }, (_, n) => n / (length - 1));
  const pieces = [
    soundPiece({ behind: true, fadeIn: 9000, ring: 50, level: 20 - 12 }),
    soundPiece({ id: 'q', start: 31_003, length: 20_000, pan: -40, crossfade: 'comes in' }),
  ];
  const voices = () => voicesOf(sceneOf(soundingCrossing(pieces), coverage));
  const source = reading((i) => 0.9 * Math.sin(i * 0.05) + 0.4 * Math.sin(i * 0.9));
  const whole = await mixed(voices(), source, 0, 80_000);
  const mixer = new Mixer(voices(), source, 0);
  for (let at = 0, n = 1; at + n < 80_000; at += n, n = (n * 7 + 113) % 9000) {
    const part = await mixer.next(n);
    for (let i = 0; i < n; i += 97) expect(part[1][i]).toBeCloseTo(whole[1][at + i], 4);
  }
  const later = await mixed(voices(), source, 41_111, 5000);
  for (let i = 0; i < 5000; i += 31) expect(later[0][i]).toBeCloseTo(whole[0][41_111 + i], 3);
});

test('behind the closed edge it is 14 dB down and low, open it is untouched, and between it nowhere jumps', async () => {
  const coverage = Array.from({ length }, (_, n) => (n < 20 ? 0 : n >= 30 ? 1 : (n - 19.5) / 10));
  const scene = sceneOf(soundingCrossing([soundPiece({ behind: true })]), coverage);
  const at = async (hz: number, from: number) =>
    amplitudeOf(
      (await soundOf(voicesOf(scene)[0], tone(hz), from * soundingFrame, 15 * soundingFrame))[0],
      hz,
    ) + 20;
  expect(await at(60, 2)).toBeCloseTo(-14, 0);
  // −3 dB at 350 Hz, 12 dB an octave beyond: W3C Web Audio's low-pass of that quality.
  expect(await at(350, 2)).toBeCloseTo(-17, 0);
  expect(await at(2800, 2)).toBeLessThan(-14 - 34);
  for (const hz of [60, 2800, 12_000]) expect(await at(hz, 33)).toBeCloseTo(0, 1);
  const { settingsAt } = voicesOf(scene)[0];
  let [before, worst] = [settingsAt(0).left, 0];
  for (let i = 64; i < length * soundingFrame; i += 64) {
    const { left } = settingsAt(i);
    worst = Math.max(worst, Math.abs(left - before));
    before = left;
  }
  // Over 10 frames of 40 ms it comes up by 0.8: in even steps, with some room.
  expect(worst).toBeLessThan((0.8 / (10 * soundingFrame)) * 64 * 3);
  expect(settingsAt(length * soundingFrame - 1).left).toBeCloseTo(1, 5);
});

test('keys by hand take over where a channel has them', async () => {
  const plain = soundingCrossing([soundPiece({ behind: true, level: -6 })]);
  const keyed = [
    ...setMove(plain, 'p', 'level', 0, -20, 0, { onward: 'linear' }),
    ...setMove(plain, 'p', 'level', 40, 0, 0, { onward: 'linear' }),
    ...setMove(plain, 'p', 'low-pass', 0, 500, 0, { onward: 'linear' }),
    ...setMove(plain, 'p', 'low-pass', 40, 8000, 0, { onward: 'linear' }),
  ];
  const scene = sceneOf(applyChanges(plain, keyed), new Array<number>(length).fill(0));
  const { settingsAt } = voicesOf(scene)[0];
  expect(20 * Math.log10(settingsAt(20 * soundingFrame).left)).toBeCloseTo(-10, 3);
  // Half-way in the logarithm.
  expect(settingsAt(20 * soundingFrame).lowPass).toBeCloseTo(2000, 0);
});

test('a crossfade keeps the power, along the coverage and by time', () => {
  const coverage = Array.from({ length }, (_, n) => (n / (length - 1)) ** 2);
  for (const crossfadeByTime of [false, true]) {
    const scene = sceneOf(
      soundingCrossing([
        soundPiece({ crossfade: 'goes out', crossfadeByTime }),
        soundPiece({ id: 'q', crossfade: 'comes in', crossfadeByTime }),
      ]),
      coverage,
    );
    const [out, into] = voicesOf(scene);
    for (let i = 0; i < length * soundingFrame; i += 1000)
      expect(out.settingsAt(i).left ** 2 + into.settingsAt(i).left ** 2).toBeCloseTo(1, 6);
    expect(out.settingsAt(0).left).toBeCloseTo(1, 1);
    expect(into.settingsAt(length * soundingFrame).left).toBeCloseTo(1, 1);
  }
});

test('from left to right with equal power', () => {
  const at = (pan: number) => voicesOf(sceneOf(soundingCrossing([soundPiece({ pan })])))[0].settingsAt(0);
  expect(at(0).left).toBeCloseTo(1, 9);
  for (const pan of [-100, -50, 30, 100]) expect(at(pan).left ** 2 + at(pan).right ** 2).toBeCloseTo(2, 9);
  expect(at(100).left).toBeCloseTo(0, 9);
});

test('a layer’s sound goes where its pictures go: slipped, sped, reversed, trimmed, and silent while held', async () => {
  const sound = soundPiece({ source: 'layer', sourceId: 'l', start: 0, length: 1 });
  const heardAt = async (layer: Partial<LayerRow>, sourceFrame: number) => {
    const voice = voiceOf(sceneOf(soundingCrossing([sound], layer)), sound)!;
    const source = click(sampleOfFrame(sourceFrame, rate));
    return clickAt(await soundOf(voice, source, 0, length * soundingFrame)) / soundingFrame;
  };
  expect(await heardAt({ offset: 7 }, 30)).toBe(23);
  expect(await heardAt({ offset: 10, speed: 200 }, 30)).toBeCloseTo(10, 2);
  // Backwards a frame is heard from its end: its beginning sounds when the one before it comes on.
  expect(await heardAt({ offset: 40, reverse: true }, 30)).toBeCloseTo(11, 2);
  const range = (layer: Partial<LayerRow>) => {
    const { from, to } = voiceOf(sceneOf(soundingCrossing([sound], layer)), sound)!;
    return [from / soundingFrame, to / soundingFrame];
  };
  expect(range({ trimIn: 10, trimOut: 29 })).toEqual([10, 30]);
  expect(range({ offset: -5 })).toEqual([5, 50]);
  expect(range({ holdFrom: 20 })).toEqual([0, 20]);
});

test('a muted piece is silent, one heard alone is all there is, and a missing source is passed over', () => {
  const scene = sceneOf(
    soundingCrossing([
      soundPiece({ muted: true }),
      soundPiece({ id: 'q' }),
      soundPiece({ id: 'r', source: 'layer', sourceId: 'gone' }),
    ]),
  );
  expect(voicesOf(scene).map((voice) => voice.piece.id)).toEqual(['q']);
  expect(voicesOf(scene, 'p').map((voice) => voice.piece.id)).toEqual(['p']);
  expect(voicesOf(scene, 'taken away').map((voice) => voice.piece.id)).toEqual(['q']);
});

test('the sum is limited', async () => {
  const loud = reading((i) => both(sine(500, 0, 1, mixRate, (2 * Math.PI * 500 * i) / mixRate))[0][0]);
  const voices = voicesOf(sceneOf(soundingCrossing([soundPiece({ level: 9 })])));
  const [left] = await mixed(voices, loud, 10_000, 4000);
  expect(Math.max(...left)).toBeLessThan(0.892);
});

test('whatever way a layer runs, what is heard is of the frame that is seen, to the sample', () => {
  const sound = soundPiece({ source: 'layer', sourceId: 'l', start: 0, length: 1 });
  const ways: Partial<LayerRow>[] = [
    { offset: 7 },
    { offset: 160, reverse: true },
    { offset: 190, reverse: true, speed: 133 },
    { offset: 20, speed: 47.5 },
    { offset: 5, ramp: [0, 100, 40, 300], rampAt: 10 },
    { offset: 150, reverse: true, ramp: [0, 40, 30, 220], rampAt: 5 },
    { offset: 60, ramp: [0, 200, 30, -200], rampAt: 0 },
    { offset: 60, reverse: true, ramp: [0, 200, 30, -200], rampAt: 0 },
  ];
  for (const way of ways) {
    const document = soundingCrossing([sound], way);
    const [layer] = Object.values(document.layers);
    const { placeOf, from, to } = voiceOf(sceneOf(document), sound)!;
    for (let frame = Math.ceil(from / soundingFrame); (frame + 1) * soundingFrame <= to; frame++) {
      const shown = sourceFrameAt(frame, layer, rate, shot);
      const [begins, middle] = [0, 0.5].map(
        (part) => placeOf((frame + part) * soundingFrame) / soundingFrame,
      );
      // It begins within the frame that comes on, at the end that it is entered by.
      expect([way, frame, begins >= shown && begins <= shown + 1]).toEqual([way, frame, true]);
      // At its own speed it stays there until the next comes on.
      if (layer.speed === 100 && layer.ramp.length === 0)
        expect([way, frame, middle >= shown && middle <= shown + 1]).toEqual([way, frame, true]);
    }
  }
});

test('where a channel stands nowhere between left and right, a piece is as loud as with its place there', () => {
  const scene = sceneOf(soundingCrossing([soundPiece({ level: -6, pan: 80 })]));
  const [voice] = voicesOf(scene);
  const { left, right } = unpanned(voice).settingsAt(0);
  expect([left, right]).toEqual([right, expect.closeTo(10 ** (-6 / 20), 9)]);
});
