import { type Camera, height, type Layer, type Scene, still, toWorld, width } from './scene';
import { textureOf, type TextureName } from './textures';

/** A drawn subject with its truth: something with a border all round, or with a hole. */
export interface Subject {
  name: string;
  what: string;
  /** Looked at only once the work is done. */
  apart?: boolean;
  draw(): Promise<{ scene: Scene; inside(px: number, py: number, t: number): boolean }>;
}

/** Which px of the picture a subject has on a frame: 1 inside. */
export function maskOf(inside: (x: number, y: number, t: number) => boolean, t: number): Uint8Array {
  return Uint8Array.from({ length: width * height }, (_, i) =>
    Number(inside((i % width) + 0.5, Math.floor(i / width) + 0.5, t)),
  );
}

type Distance = NonNullable<Layer['distance']>;

/** A part of a subject: its own colours over its own shape, in coordinates that go along with it. */
interface Part {
  texture: TextureName;
  seed: number;
  dye?: Parameters<typeof textureOf>[2];
  distance: Distance;
  softness?: number;
}

function capsule(x: number, y: number, [ax, ay]: number[], [bx, by]: number[], radius: number) {
  const [dx, dy] = [bx - ax, by - ay];
  const share = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy)));
  const [ex, ey] = [x - ax - share * dx, y - ay - share * dy];
  return Math.sqrt(ex * ex + ey * ey) - radius;
}

const ellipse = (x: number, y: number, rx: number, ry: number) =>
  (Math.hypot(x / rx, y / ry) - 1) * Math.min(rx, ry);

/** px from its own middle within which a subject lies. */
const reach = 540;

/** A subject of parts that lie one over the other before a ground; `moved` takes the world's px to the subject's own. */
export function subject(
  about: Pick<Subject, 'name' | 'what' | 'apart'>,
  frames: number,
  ground: { texture: TextureName; dye?: Parameters<typeof textureOf>[2]; camera?(t: number): Camera },
  moved: (x: number, y: number, t: number) => readonly [number, number],
  parts: readonly Part[],
  extent?: Layer['extent'],
): Subject {
  return {
    ...about,
    async draw() {
      const layers: Layer[] = [{ texture: await textureOf(ground.texture, 1, ground.dye) }];
      for (const { texture, seed, dye, distance, softness } of parts)
        layers.push({
          texture: await textureOf(texture, seed, dye),
          toTexture: moved,
          distance: (x, y, t) => {
            const [u, v] = moved(x, y, t);
            const far = u * u + v * v > reach * reach;
            return far ? 100 : distance(u, v, t);
          },
          softness,
          extent,
        });
      const camera = ground.camera ?? (() => still);
      return {
        scene: { frames, layers, camera },
        inside(px, py, t) {
          const [u, v] = moved(...toWorld(camera(t), 1)(px, py), t);
          return parts.some(({ distance }) => distance(u, v, t) < 0);
        },
      };
    },
  };
}

const sway =
  (far: number) =>
  (t: number): Camera => ({
    x: far * Math.sin(0.7 * t),
    y: 0.6 * far * Math.sin(1.1 * t + 1),
    turn: 0,
    zoom: 1,
  });

/** What was made last for either way, as long as the moment is the same. */
function lastOf<T>(make: (way: number, t: number) => T): (way: number, t: number) => T {
  const kept = new Map<number, { t: number; made: T }>();
  return (way, t) => {
    const own = kept.get(way);
    if (own?.t === t) return own.made;
    const made = make(way, t);
    kept.set(way, { t, made });
    return made;
  };
}

/** Someone from head to foot who walks, arms and legs swinging; (0, 0) is the hip. */
export function person(seed: number, pace: number, coat: Part['dye'], trousers: Part['dye']): Part[] {
  const swing = (t: number) => Math.sin(pace * t);
  // Joints by moment: they are asked for at every px.
  const legs = lastOf((way: number, t: number) => {
    const a = 0.42 * way * swing(t);
    const knee = [120 * Math.sin(a), 115 * Math.cos(a)];
    const foot = [knee[0] + 110 * Math.sin(a - 0.25), knee[1] + 115 * Math.cos(a - 0.25)];
    return { hip: [0, 0], knee, foot, toe: [foot[0] + 34, foot[1] + 6] };
  });
  const leg = (x: number, y: number, way: number, t: number) => {
    if (y < -34 || Math.abs(x) > 300) return 100;
    const { hip, knee, foot, toe } = legs(way, t);
    return Math.min(
      capsule(x, y, hip, knee, 34),
      capsule(x, y, knee, foot, 27),
      capsule(x, y, foot, toe, 17),
    );
  };
  const arms = lastOf((way: number, t: number) => {
    const a = -0.55 * way * swing(t);
    const elbow = [10 + 85 * Math.sin(a), -170 + 85 * Math.cos(a)];
    const hand = [elbow[0] + 75 * Math.sin(a + 0.5), elbow[1] + 75 * Math.cos(a + 0.5)];
    return { shoulder: [10, -170], elbow, hand };
  });
  const arm = (x: number, y: number, way: number, t: number) => {
    if (y < -200 || y > 60 || Math.abs(x) > 220) return 100;
    const { shoulder, elbow, hand } = arms(way, t);
    return Math.min(capsule(x, y, shoulder, elbow, 22), capsule(x, y, elbow, hand, 18));
  };
  return [
    { texture: 'cloth', seed, dye: coat, distance: (x, y, t) => arm(x, y, -1, t) },
    {
      texture: 'cloth',
      seed: seed + 1,
      dye: trousers,
      distance: (x, y, t) => Math.min(leg(x, y, 1, t), leg(x, y, -1, t)),
    },
    {
      texture: 'cloth',
      seed: seed + 2,
      dye: coat,
      distance: (x, y) => capsule(x, y, [0, -20], [4, -165], 56),
    },
    {
      texture: 'cloth',
      seed: seed + 3,
      dye: { colour: [1.45, 1.5, 1.5], contrast: 0.3 },
      distance: (x, y) => Math.min(ellipse(x - 8, y + 272, 38, 48), capsule(x, y, [4, -200], [6, -240], 20)),
    },
    {
      texture: 'cloth',
      seed: seed + 4,
      dye: { colour: [0.3, 0.35, 0.35], contrast: 0.6 },
      distance: (x, y) => Math.max(ellipse(x - 2, y + 280, 42, 50), y + 276 - 0.5 * (x - 2)),
    },
    { texture: 'cloth', seed: seed + 5, dye: coat, distance: (x, y, t) => arm(x, y, 1, t) },
  ];
}

/** A hand that holds a card; (0, 0) is the palm. */
function handWithCard(seed: number, skin: Part['dye'], card: Part['dye'], cardTexture: TextureName): Part[] {
  const finger = (x: number, y: number, k: number) =>
    capsule(x, y, [-62 + 34 * k, -30], [-80 + 46 * k, -128 + 14 * Math.abs(k - 1.4)], 17);
  return [
    {
      texture: cardTexture,
      seed,
      dye: card,
      distance: (x, y) => Math.max(Math.abs(x + 20 + 0.2 * y) - 110, Math.abs(y + 150 - 0.2 * x) - 160),
    },
    {
      texture: 'cloth',
      seed: seed + 1,
      dye: skin,
      distance: (x, y) =>
        Math.min(
          capsule(x, y, [-30, 10], [24, 26], 62),
          capsule(x, y, [20, 60], [110, 470], 52),
          capsule(x, y, [50, 10], [88, -70], 20),
          ...[0, 1, 2, 3].map((k) => finger(x, y, k)),
        ),
    },
  ];
}

const ring = (outer: number, inner: number, bar: number): Distance => {
  const hole = (x: number, y: number) => Math.max(Math.hypot(x, y) - inner, bar - Math.abs(y));
  return (x, y) => Math.max(Math.hypot(x, y) - outer, -hole(x, y));
};

/** A head with hair that stands out in strands. */
const fringe =
  (radius: number, strands: number): Distance =>
  (x, y) => {
    const angle = Math.atan2(y, x);
    const out =
      0.6 * Math.sin(strands * angle) + 0.5 * Math.sin(1.7 * strands * angle + 1) + 0.4 * Math.sin(5 * angle);
    return (Math.hypot(x, 0.85 * y) - radius - 13 * out) * 0.6;
  };

export const going =
  (x0: number, y0: number, dx: number, dy: number) =>
  (x: number, y: number, t: number): [number, number] => [x - x0 - dx * t, y - y0 - dy * t];

const turning =
  (x0: number, y0: number, dx: number, pace: number) =>
  (x: number, y: number, t: number): [number, number] => {
    const [u, v, a] = [x - x0 - dx * t, y - y0, pace * t];
    return [u * Math.cos(a) + v * Math.sin(a), -u * Math.sin(a) + v * Math.cos(a)];
  };

const frames = 53;

export const subjects: Subject[] = [
  subject(
    { name: 'person', what: 'from head to foot before a busy ground' },
    frames,
    { texture: 'canyon' },
    going(340, 400, 9, 0),
    person(3, 0.3, { colour: [0.5, 0.75, 1.5] }, { colour: [0.4, 0.45, 0.5] }),
  ),
  subject(
    { name: 'card', what: 'a hand that holds a card' },
    frames,
    { texture: 'house', camera: sway(5) },
    (x, y, t) =>
      turning(620 + 90 * Math.sin(t * 0.11), 420, 0, (0.12 * Math.sin(t * 0.15)) / Math.max(1, t))(x, y, t),
    handWithCard(
      13,
      { colour: [1.35, 1.25, 1.2], contrast: 0.4 },
      { colour: [1, 1, 1.05], contrast: 0.25, lift: 70 },
      'wall',
    ),
  ),
  subject(
    { name: 'ring', what: 'with two holes, rolling' },
    frames,
    { texture: 'boats', dye: { colour: [0.9, 1, 1] } },
    turning(300, 380, 11, 0.05),
    [{ texture: 'wall', seed: 23, dye: { colour: [1, 0.8, 0.7] }, distance: ring(200, 130, 24) }],
  ),
  subject(
    { name: 'fringe', what: 'hair that stands out' },
    frames,
    { texture: 'alps', dye: { lift: 10 } },
    going(380, 360, 7, 1),
    [
      {
        texture: 'leaves',
        seed: 33,
        dye: { colour: [1.1, 0.55, 0.5], contrast: 0.8 },
        distance: fringe(150, 31),
        softness: 1.6,
      },
      {
        texture: 'cloth',
        seed: 34,
        dye: { colour: [1.4, 1.5, 1.5], contrast: 0.3 },
        distance: (x, y) => ellipse(x, y - 30, 92, 120),
      },
    ],
  ),
  subject(
    { name: 'person again', what: 'the other way, hand-held, before boards', apart: true },
    frames,
    { texture: 'planks', dye: { colour: [0.9, 1, 0.9] }, camera: sway(7) },
    (x, y, t) => {
      const [u, v] = going(960, 395, -8, 0)(x, y, t);
      return [-u, v];
    },
    person(43, 0.26, { colour: [1.3, 0.7, 0.5] }, { colour: [0.6, 0.7, 1.2] }),
  ),
  subject(
    { name: 'card again', what: 'a hand with a photograph', apart: true },
    frames,
    { texture: 'leaves', camera: sway(3) },
    (x, y, t) => going(560 + 4 * t, 430 + 25 * Math.sin(t * 0.2), 0, 0)(x, y, t),
    handWithCard(53, { colour: [1.2, 1.15, 1.2], contrast: 0.5 }, { contrast: 0.8 }, 'boats'),
  ),
  subject(
    { name: 'ring again', what: 'a wheel before bricks', apart: true },
    frames,
    { texture: 'wall', camera: sway(2) },
    turning(950, 360, -10, -0.06),
    [{ texture: 'planks', seed: 63, dye: { colour: [0.5, 0.6, 0.6] }, distance: ring(220, 150, 20) }],
  ),
  subject(
    { name: 'fringe again', what: 'fair hair before a house', apart: true },
    frames,
    { texture: 'house', dye: { colour: [0.8, 0.85, 1] } },
    going(840, 350, -6, 0),
    [
      {
        texture: 'cloth',
        seed: 73,
        dye: { colour: [1.5, 1.7, 1.1], contrast: 0.7, lift: 20 },
        distance: fringe(160, 24),
        softness: 1.8,
      },
      {
        texture: 'cloth',
        seed: 74,
        dye: { colour: [1.3, 1.3, 1.35], contrast: 0.3 },
        distance: (x, y) => ellipse(x, y - 34, 96, 126),
      },
    ],
  ),
];
