import { bandPass, Biquad, highPass, lowPass } from './biquad';
import type { MakerName } from '../model/maker-names';
import { type Random, seeded } from '../random';
import { type Stereo } from './stereo';
import { mixRate } from '../model/limits';

/** What a made sound is made from. */
export interface MakerSettings {
  maker: MakerName;
  /** Samples at the mix's rate, 1 or more. */
  length: number;
  /** How high it lies, in octaves from where it lies by nature, −2 to 2. */
  height: number;
  /** How much of its upper range there is, 0 to 100. */
  brightness: number;
  /** Where its loudest moment lies, percent of its length; of sweeps only. */
  loudestAt: number;
  seed: number;
}

/** Seconds, height, brightness and the loudest moment that a sound begins with. */
export const makerBeginnings: Readonly<Record<MakerName, { seconds: number; brightness: number }>> = {
  'air sweep': { seconds: 0.9, brightness: 55 },
  thud: { seconds: 0.5, brightness: 40 },
  latch: { seconds: 0.3, brightness: 60 },
  creak: { seconds: 1.2, brightness: 50 },
  wind: { seconds: 4, brightness: 40 },
  murmur: { seconds: 4, brightness: 45 },
  water: { seconds: 4, brightness: 60 },
  'night insects': { seconds: 4, brightness: 60 },
};

// By short names, as they are called for every sample.
const { sin, cos, exp, floor, min, max, abs, PI } = Math;

/** Highest sample of a made sound: 6 dB below full scale. */
const loudest = 0.5;

/**
 * Makes a sound: the same from the same settings, on every machine that rounds as IEEE 754 asks. Its highest sample is
 * 6 dB below full scale.
 *
 * @throws RangeError when the length is not a positive whole number.
 */
export function make(settings: MakerSettings): Stereo {
  const { maker, length, seed } = settings;
  if (!Number.isInteger(length) || length < 1) throw new RangeError('A sound has at least one sample.');
  // Either side has noise of its own, so that it is wide; what is struck stands in the middle.
  const wide = maker === 'air sweep' || lasting.includes(maker);
  const left = makers[maker](settings, seeded(seed * 2 + 1));
  const right = wide ? makers[maker](settings, seeded(seed * 2 + 2)) : left.slice();
  if (lasting.includes(maker)) for (const side of [left, right]) softenEnds(side);
  let peak = 0;
  for (const side of [left, right]) for (let i = 0; i < length; i++) peak = max(peak, abs(side[i]));
  if (peak > 0) for (const side of [left, right]) for (let i = 0; i < length; i++) side[i] *= loudest / peak;
  return [left, right];
}

/** Sounds of a place, which have no end of their own. */
const lasting: readonly MakerName[] = ['wind', 'murmur', 'water', 'night insects'];

type Made = Float32Array<ArrayBuffer>;

const makers: Readonly<Record<MakerName, (settings: MakerSettings, random: Random) => Made>> = {
  'air sweep': airSweep,
  thud,
  latch,
  creak,
  wind,
  murmur,
  water,
  'night insects': insects,
};

/** Samples from one setting of a moving filter to the next. */
const stride = 32;

function noise(length: number, random: Random): Made {
  const samples = new Float32Array(length);
  for (let i = 0; i < length; i++) samples[i] = 2 * random() - 1;
  return samples;
}

/** A frequency within what a filter can do. */
const within = (frequency: number) => min(20_000, max(20, frequency));

/** Filters with a frequency that runs along. @param frequency Hz at a share of the length, 0 to 1. */
function filterAlong(
  samples: Made,
  coefficients: (frequency: number) => ReturnType<typeof lowPass>,
  frequency: (at: number) => number,
) {
  const filter = new Biquad(coefficients(within(frequency(0))));
  for (let i = 0; i < samples.length; i += stride) {
    filter.set(coefficients(within(frequency(i / samples.length))));
    filter.run(samples, i, min(samples.length, i + stride));
  }
}

/** Air that is pushed past: a band of noise that rises to its loudest moment and falls away. */
function airSweep({ length, height, brightness, loudestAt }: MakerSettings, random: Random): Made {
  const peak = min(0.98, max(0.02, loudestAt / 100));
  // 0 at the ends, 1 at the loudest moment; it goes faster than it comes.
  const swell = (at: number) => (at < peak ? at / peak : 1 - (at - peak) / (1 - peak));
  const samples = noise(length, random);
  const low = 260 * 2 ** height;
  const high = low * 2 ** (1.5 + brightness / 33);
  filterAlong(
    samples,
    (f) => bandPass(f, 1.1),
    (at) => low * (high / low) ** (swell(at) ** 1.5),
  );
  for (let i = 0; i < length; i++) samples[i] *= swell(i / length) ** 2.4;
  return samples;
}

/** Something heavy that comes to rest: a low tone that sinks, and a dull knock. */
function thud({ length, height, brightness }: MakerSettings, random: Random): Made {
  const base = 62 * 2 ** height;
  const samples = new Float32Array(length);
  const knock = noise(length, random);
  new Biquad(lowPass(within(180 * 2 ** (height + brightness / 25)))).run(knock);
  let phase = 0;
  for (let i = 0; i < length; i++) {
    const t = i / mixRate;
    phase += (2 * PI * base * (1 + 0.9 * exp(-t * 28))) / mixRate;
    const attack = min(1, t * 900);
    samples[i] = attack * (sin(phase) * exp(-t * 9) + 1.6 * knock[i] * exp(-t * 55));
  }
  return samples;
}

/** Metal that falls into place: two clicks, each rung by a few resonances. */
function latch({ length, height, brightness }: MakerSettings, random: Random): Made {
  const struck = new Float32Array(length);
  for (const [at, strength] of [
    [0, 0.7],
    [0.06 + 0.03 * random(), 1],
  ]) {
    const start = Math.round(at * mixRate);
    for (let i = 0; i < 90 && start + i < length; i++)
      struck[start + i] = strength * (2 * random() - 1) * exp(-i / 18);
  }
  const samples = new Float32Array(length);
  for (let ring = 0; ring < 5; ring++) {
    const frequency = within((700 + 900 * ring + 300 * random()) * 2 ** height);
    const copy = struck.slice();
    new Biquad(bandPass(frequency, 18)).run(copy);
    const share = (brightness / 100) ** (ring * 0.35);
    for (let i = 0; i < length; i++) samples[i] += share * copy[i];
  }
  return samples;
}

/** A dry hinge: it sticks and slips, faster and slower, and rings the wood. */
function creak({ length, height, brightness }: MakerSettings, random: Random): Made {
  const slips = new Float32Array(length);
  let pace = 70;
  for (let at = 0; at < length; at += mixRate / (pace * 2 ** (height * 0.5))) {
    const share = at / length;
    pace += (random() - 0.5) * 14 + (95 * sin(PI * share) + 45 - pace) * 0.06;
    pace = max(25, pace);
    slips[floor(at)] = sin(PI * share) ** 0.6 * (0.6 + 0.4 * random());
  }
  const samples = new Float32Array(length);
  for (const [frequency, share] of [
    [420, 1],
    [960, 0.8],
    [1750, 0.2 + brightness / 150],
    [2900, brightness / 120],
  ]) {
    const copy = slips.slice();
    filterAlong(
      copy,
      (f) => bandPass(f, 9),
      (at) => frequency * 2 ** height * (1 + 0.16 * sin(PI * at)),
    );
    for (let i = 0; i < length; i++) samples[i] += share * copy[i];
  }
  return samples;
}

/** A slow course between 0 and 1 that never repeats. @param perSecond how often it turns, about. */
function wander(length: number, perSecond: number, random: Random): (i: number) => number {
  const span = mixRate / perSecond;
  const points = Array.from({ length: Math.ceil(length / span) + 2 }, random);
  return (i) => {
    const k = floor(i / span);
    const share = (1 - cos(PI * (i / span - k))) / 2;
    return points[k] + (points[k + 1] - points[k]) * share;
  };
}

function wind({ length, height, brightness }: MakerSettings, random: Random): Made {
  const samples = noise(length, random);
  const gust = wander(length, 0.9, random);
  const top = 300 * 2 ** (height + brightness / 40);
  filterAlong(
    samples,
    (f) => lowPass(f, 2),
    (at) => top * 2 ** (1.6 * gust(at * length) - 0.8),
  );
  new Biquad(highPass(within(70 * 2 ** height))).run(samples);
  for (let i = 0; i < length; i++) samples[i] *= 0.25 + 0.75 * gust(i) ** 1.5;
  return samples;
}

/** People heard through a room: bands where voices have theirs, each speaking and pausing. */
function murmur({ length, height, brightness }: MakerSettings, random: Random): Made {
  const samples = new Float32Array(length);
  const voices = 7;
  for (let voice = 0; voice < voices; voice++) {
    const band = noise(length, random);
    const syllables = wander(length, 4 + 2.5 * random(), random);
    const turns = wander(length, 0.7, random);
    const vowel = wander(length, 3, random);
    const base = (260 + 420 * random()) * 2 ** height;
    filterAlong(
      band,
      (f) => bandPass(f, 4),
      (at) => base * 2 ** (1.2 * vowel(at * length) - 0.4),
    );
    for (let i = 0; i < length; i++)
      samples[i] += band[i] * syllables(i) ** 2 * (0.15 + max(0, 1.6 * turns(i) - 0.6));
  }
  new Biquad(lowPass(within(1400 * 2 ** (height + brightness / 50 - 1)))).run(samples);
  return samples;
}

/**
 * Water: many bubbles, each a tone that dies away and rises a little (Minnaert 1933; van den Doel, *Physically Based
 * Models for Liquid Sounds*, 2005), over a soft rush.
 */
function water({ length, height, brightness }: MakerSettings, random: Random): Made {
  const samples = noise(length, random);
  new Biquad(bandPass(within(900 * 2 ** height), 0.6)).run(samples);
  for (let i = 0; i < length; i++) samples[i] *= 0.05;
  const bubbles = Math.round((length / mixRate) * 70);
  for (let k = 0; k < bubbles; k++) {
    // Bubbles from 7 mm down to 1 mm in radius: 3.26 m/s over the radius.
    const radius = 0.007 * 2 ** (-(1 + brightness / 40) * random() * 1.2);
    const frequency = (3.26 / radius) * 2 ** height;
    const damping = 0.13 / radius + 0.0072 * radius ** -1.5;
    const start = floor(random() * length);
    const strength = (radius / 0.007) * (0.3 + 0.7 * random());
    const end = min(length, start + Math.ceil((7 / damping) * mixRate));
    let phase = 0;
    for (let i = start; i < end; i++) {
      const t = (i - start) / mixRate;
      phase += (2 * PI * min(18_000, frequency * (1 + 0.1 * damping * t))) / mixRate;
      samples[i] += strength * sin(phase) * exp(-damping * t) * min(1, t * 4000);
    }
  }
  return samples;
}

/** Insects at night: several singers, each a high tone in pulses that come in groups. */
function insects({ length, height, brightness }: MakerSettings, random: Random): Made {
  const samples = new Float32Array(length);
  const singers = 6;
  for (let singer = 0; singer < singers; singer++) {
    const tone = min(16_000, (2600 + (brightness / 100) * 2600 * random() + 300 * singer) * 2 ** height);
    const pulses = 28 + 14 * random();
    const groups = 1.4 + 1.4 * random();
    const [offset, distance] = [random(), 0.25 + 0.75 * random()];
    const sings = wander(length, 0.5, random);
    let phase = 2 * PI * random();
    for (let i = 0; i < length; i++) {
      const t = i / mixRate;
      phase += (2 * PI * tone) / mixRate;
      const pulse = max(0, sin(2 * PI * pulses * t)) ** 2;
      const group = (t * groups + offset) % 1 < 0.55 ? 1 : 0;
      samples[i] += distance * pulse * group * sin(phase) * (0.3 + 0.7 * sings(i));
    }
  }
  return samples;
}

/** Seconds that a lasting sound takes to come and to go, at the most. */
const soft = 0.12;

function softenEnds(samples: Made) {
  const count = min(floor(samples.length / 4), Math.round(soft * mixRate));
  for (let i = 0; i < count; i++) {
    const gain = sin(((i + 0.5) / count) * (PI / 2));
    samples[i] *= gain;
    samples[samples.length - 1 - i] *= gain;
  }
}
