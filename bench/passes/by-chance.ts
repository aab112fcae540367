import { between, type Random, seeded } from '../../demo/random';
import { photographs } from './photographs';
import { type Camera, edgeOf, type Layer, type Scene, still, width } from './scene';
import { capsule, limb, type Line, shake, turned } from './shapes';
import { photographOf, type Texture } from './textures';

/** The sets: one to work on, one to choose by, and one that is looked at only at the end. */
export const chanceSets = {
  work: { seed: 11000, count: 40 },
  choose: { seed: 12000, count: 20 },
  end: { seed: 13000, count: 20 },
} as const;
export type ChanceSet = keyof typeof chanceSets;

/** What a pass has that may make it hard. */
export interface Traits {
  limb: boolean;
  flicker: boolean;
  shadow: boolean;
  nearer: boolean;
  secondMover: boolean;
  turning: boolean;
  waving: boolean;
  soft: boolean;
  dark: boolean;
  /** Whether the texture goes along with the edge. */
  goesAlong: boolean;
}

/** One pass put together by chance: it is drawn in as many takes as make up sixty frames. */
export interface ChancePass {
  name: string;
  traits: Traits;
  side: 'left' | 'right';
  /** Rate of the encoder: x264's `crf`. */
  crf: number;
  takes: number;
  draw(take: number): Promise<{ scene: Scene; truth(t: number): Line }>;
}

/** Frames of a pass in all its takes, at least. */
const fewest = 60;
/** Frames by which the takes' swings are apart. */
const apart = 37;
/** px outside the picture at which an object's edge begins and ends. */
const outside = 60;

export function chancePasses(set: ChanceSet): ChancePass[] {
  const { seed, count } = chanceSets[set];
  return Array.from({ length: count }, (_, k) =>
    chancePass(`${set} ${String(k + 1).padStart(2, '0')}`, seed + k),
  );
}

interface Swing {
  (t: number): number;
}

function swing(random: Random, low: number, high: number): Swing {
  const [pace, phase] = [between(random, low, high), between(random, 0, 6.28)];
  return (t) => Math.sin(pace * t + phase);
}

function chancePass(name: string, seed: number): ChancePass {
  const random = seeded(seed);
  const chance = (share: number) => random() < share;
  const side = chance(0.5) ? 'left' : 'right';
  const speed = 16 * 4 ** random();
  const traits: Traits = {
    limb: chance(0.33),
    flicker: chance(0.25),
    shadow: chance(0.2),
    nearer: chance(0.15),
    secondMover: chance(0.25),
    turning: chance(0.25),
    waving: chance(0.33),
    soft: chance(0.4),
    dark: chance(0.33),
    goesAlong: chance(0.67),
  };
  const files = photographs();
  const pick = () => files[Math.floor(random() * files.length)];
  const [behindFile, objectFile, otherFile, nearFile] = [pick(), pick(), pick(), pick()];
  const tint = (light: number): [number, number, number] => [
    light * between(random, 0.8, 1.2),
    light * between(random, 0.8, 1.2),
    light * between(random, 0.8, 1.2),
  ];
  const dyes = {
    behind: { colour: tint(1), contrast: between(random, 0.6, 1) },
    object: { colour: tint(traits.dark ? between(random, 0.3, 0.6) : 1), contrast: between(random, 0.4, 1) },
    other: { colour: tint(1) },
    near: { colour: tint(0.7), contrast: 0.6 },
  };
  const edge = edgeShape(random, traits);
  const limbs = traits.limb ? Array.from({ length: chance(0.5) ? 2 : 1 }, () => limbShape(random)) : [];
  const wide = between(random, 420, 820);
  const frames = Math.ceil((width + 2 * outside + edge.out + limbReach(limbs)) / speed);
  const bob = swing(random, 0.2, 0.6);
  const bobs = traits.limb ? between(random, 0, 6) : 0;
  const tilt = swing(random, 0.03, 0.09);
  const turns = traits.turning ? between(random, 0.03, 0.12) : 0;
  const grows = traits.turning ? between(random, -0.15, 0.3) / frames : 0;
  const softness = traits.soft ? between(random, 1, 7) : 0.55;
  const shutter = chance(0.7) ? between(random, 0.1, 0.6) : 0;
  const steps = Math.max(1, Math.min(6, Math.round((shutter * speed) / 4)));
  const pan = chance(0.5) ? between(random, -3, 3) : 0;
  const sway = chance(0.5) ? shake(seed, between(random, 1, 6)) : () => still;
  const gains = lightOver(random, traits.flicker);
  const noise = between(random, 1.5, 5);
  const [otherAt, otherPace, otherSize] = [
    between(random, 300, 980),
    between(random, -7, 7),
    between(random, 60, 110),
  ];
  const nearAt = between(random, 450, 830);
  const [shadowFar, shadowShade] = [between(random, 18, 45), between(random, 0.2, 0.5)];
  return {
    name,
    traits,
    side,
    crf: Math.round(between(random, 15, 25)),
    takes: Math.ceil(fewest / frames),
    async draw(take) {
      const at = (t: number) => t + apart * take;
      const posture = posturesOf(edge.at, limbs);
      const x = (t: number) => -outside - limbReach(limbs) + speed * t;
      const mirrored = (px: number) => (side === 'left' ? px : width - px);
      /** The object's own coordinates: u inward from its edge, v down. */
      const own = (px: number, py: number, t: number): [number, number] => {
        const [u, v] = [mirrored(px) - x(t), py - bobs * bob(at(t))];
        if (!traits.turning) return [u, v];
        const [a, b] = turned(u, v - 360, turns * tilt(at(t)), 1 + grows * t);
        return [a, b + 360];
      };
      const limbAt = (k: number, u: number, v: number, [hu, hv]: readonly [number, number]) => {
        const { from, radius } = limbs[k];
        const wide = radius + faraway;
        if (v < Math.min(from[1], hv) - wide || v > Math.max(from[1], hv) + wide) return faraway;
        if (u < Math.min(from[0], hu) - wide || u > Math.max(from[0], hu) + wide) return faraway;
        return capsule(u, v, from[0], from[1], hu, hv, radius);
      };
      const distance = (px: number, py: number, t: number) => {
        const [u, v] = own(px, py, t);
        const { edgeAt, hands } = posture(at(t));
        let least = Math.max(edgeAt(v) - u, u - wide);
        for (let k = 0; k < hands.length && least > -reallyInside; k++)
          least = Math.min(least, limbAt(k, u, v, hands[k]));
        return least;
      };
      const slide = 211 * take;
      const toTexture = (px: number, py: number, t: number): [number, number] => {
        if (!traits.goesAlong) return [px + slide, py];
        const [u, v] = own(px, py, t);
        const { hands } = posture(at(t));
        for (let k = 0; k < hands.length; k++)
          if (limbAt(k, u, v, hands[k]) < 0) {
            const [a, b] = limb(u, v, hands[k], limbs[k].from);
            return [a + slide, b];
          }
        return [u + slide, v];
      };
      const most = wide * (1 + Math.max(0, grows * frames)) + 120;
      const extent = (t: number): [number, number] => {
        const [low, high] = [x(t) - limbReach(limbs) - edge.out - 120, x(t) + most];
        return side === 'left' ? [low, high] : [width - high, width - low];
      };
      const object: Layer = {
        ...{ texture: await photographOf(objectFile, dyes.object), toTexture },
        ...{ softness, shutter, steps, distance, extent, goes: shutter * (speed + swings) },
      };
      const behind: Layer[] = [{ texture: await photographOf(behindFile, dyes.behind), nearness: 0.6 }];
      if (traits.secondMover) behind.push(await second());
      if (traits.shadow)
        behind.push({
          ...{ shade: shadowShade, softness: 5, extent },
          distance: (px, py, t) => distance(px + (side === 'left' ? shadowFar : -shadowFar), py, t),
        });
      async function second(): Promise<Layer> {
        const texture: Texture = await photographOf(otherFile, dyes.other);
        const middle = (t: number) => otherAt + otherPace * t;
        return {
          texture,
          toTexture: (px, py, t) => [px - middle(t), py],
          distance: (px, py, t) => capsule(px, py, middle(t), 260, middle(t), 560, otherSize),
          extent: (t) => [middle(t) - 120, middle(t) + 120],
        };
      }
      const before: Layer[] = traits.nearer
        ? [
            {
              texture: await photographOf(nearFile, dyes.near),
              distance: (px) => Math.abs(px - nearAt) - 22,
              extent: () => [nearAt - 30, nearAt + 30],
            },
          ]
        : [];
      const camera = (t: number): Camera => ({ ...sway(at(t)), x: sway(at(t)).x + pan * t });
      return {
        scene: {
          ...{ frames, camera, noise, layers: [...behind, object, ...before] },
          light: (t) => gains[at(t) % gains.length],
        },
        truth: (t) => edgeOf(object, camera(t), t, side),
      };
    },
  };
}

/** An object's trailing edge: how far in it lies at each height, and how far out at most, px. */
function edgeShape(random: Random, { waving }: Traits) {
  const lean = between(random, -0.15, 0.15);
  const bumps = Array.from({ length: 2 + Math.floor(random() * 4) }, () => {
    const [middle, half, high] = [
      between(random, 0, 720),
      between(random, 40, 150),
      between(random, -55, 55),
    ];
    const own = random() < 0.35 ? between(random, 0.2, 0.6) : 0;
    const to = swing(random, 0.1, 0.4);
    return (v: number, t: number) => high * (1 + own * to(t)) * Math.exp(-(((v - middle) / half) ** 2));
  });
  const waves = waving
    ? Array.from({ length: 2 }, () => {
        const [high, long] = [between(random, 3, 14), between(random, 35, 120)];
        const [pace, phase] = [between(random, -0.5, 0.5), between(random, 0, 6.28)];
        return (v: number, t: number) => high * Math.sin(v / long + pace * t + phase);
      })
    : [];
  const terms = [...bumps, ...waves];
  return {
    out: 120 + 54,
    at: (v: number, t: number) => lean * (v - 360) + terms.reduce((sum, term) => sum + term(v, t), 0),
  };
}

/** px a frame that a limb swings at most. */
const swings = 100;

/** px from an edge from which on it doesn't matter how far inside or outside a place is. */
const [reallyInside, faraway] = [200, 200];

/** Heights, px, at which an edge is worked out; between them it runs straight. */
const [lowest, highest] = [-300, 1020];

interface Posture {
  edgeAt(v: number): number;
  hands: [u: number, v: number][];
}

/** What is the same for all places of a frame, worked out once. */
function posturesOf(at: (v: number, t: number) => number, limbs: readonly Limb[]): (t: number) => Posture {
  let [last, posture]: [number, Posture | null] = [NaN, null];
  const known = new Map<number, Posture>();
  return (t) => {
    if (t === last && posture) return posture;
    let made = known.get(t);
    if (!made) {
      const table = Float64Array.from({ length: highest - lowest + 1 }, (_, k) => at(lowest + k, t));
      const edgeAt = (v: number) => {
        const place = Math.min(highest - lowest - 1, Math.max(0, v - lowest));
        const k = Math.floor(place);
        return table[k] + (table[k + 1] - table[k]) * (place - k);
      };
      made = { edgeAt, hands: limbs.map(({ hand }) => hand(t)) };
      known.set(t, made);
    }
    [last, posture] = [t, made];
    return made;
  };
}

interface Limb {
  from: [u: number, v: number];
  radius: number;
  hand(t: number): [u: number, v: number];
}

/** A limb that swings about a joint within the object and reaches out of it. */
function limbShape(random: Random): Limb {
  const from: [number, number] = [between(random, 20, 60), between(random, 120, 460)];
  const long = between(random, 170, 310);
  const [middle, far] = [between(random, 0.1, 0.6), between(random, 0.3, 0.7)];
  const to = swing(random, 0.1, 0.45);
  return {
    ...{ from, radius: between(random, 24, 55) },
    hand(t) {
      const angle = middle + far * to(t);
      return [from[0] - long * Math.sin(angle), from[1] + long * Math.cos(angle)];
    },
  };
}

function limbReach(limbs: readonly Limb[]): number {
  return limbs.length > 0 ? 200 : 0;
}

/** The light of each frame: even, or flickering, or changing slowly, or with single flashes. */
function lightOver(random: Random, flickers: boolean): number[] {
  const kind = random();
  const [low, high] = [between(random, 0.7, 0.9), between(random, 1, 1.15)];
  const gains = Array.from({ length: 150 }, (_, t) => {
    const [each, flash] = [random(), random()];
    if (kind < 0.6) return low + (high - low) * each;
    if (kind < 0.8) return 0.9 + 0.2 * Math.sin(t / 9);
    return flash < 0.12 ? 1.35 : 1;
  });
  return flickers ? gains : gains.map(() => 1);
}
