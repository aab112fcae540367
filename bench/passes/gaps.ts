import { type Camera, type Layer, still, toWorld, width } from './scene';
import type { Subject } from './subjects';
import { textureOf } from './textures';

/** px from the border of what stands before the gap, negative on it; world px. */
type Distance = NonNullable<Layer['distance']>;

const everywhere = () => [-200, width + 200] as const;

/** What lies behind, what moves away before it, and the still frame about it. */
function gap(
  about: Pick<Subject, 'name' | 'what' | 'apart'>,
  { frames, camera = () => still }: { frames: number; camera?(t: number): Camera },
  layers: () => Promise<{ behind: Layer; moving: readonly Layer[]; wall: Layer }>,
): Subject {
  return {
    ...about,
    async draw() {
      const { behind, moving, wall } = await layers();
      const before = [...moving, wall];
      return {
        scene: { frames, camera, layers: [behind, ...before] },
        inside(px, py, t) {
          const [x, y] = toWorld(camera(t), 1)(px, py);
          return before.every(({ distance }) => distance!(x, y, t) > 0);
        },
      };
    },
  };
}

const hand =
  (far: number) =>
  (t: number): Camera => ({
    x: far * Math.sin(0.43 * t),
    y: 0.7 * far * Math.sin(0.71 * t + 1),
    turn: 0.0006 * far * Math.sin(0.3 * t),
    zoom: 1,
  });

/** A wall with a hole of this shape. */
async function wallAbout(inHole: Distance, seed: number, lift = 0): Promise<Layer> {
  return {
    texture: await textureOf('wall', seed, { contrast: 0.6, lift }),
    distance: (x, y, t) => -inHole(x, y, t),
    extent: everywhere,
  };
}

const box =
  (left: number, top: number, right: number, bottom: number): Distance =>
  (x, y) =>
    Math.max(left - x, x - right, top - y, y - bottom);
const disc =
  (cx: (t: number) => number, cy: (t: number) => number, radius: number): Distance =>
  (x, y, t) =>
    Math.hypot(x - cx(t), y - cy(t)) - radius;

/** A leaf that turns away from the camera about an upright hinge; `way` 1: it reaches to the right of it. */
function leaf(hinge: number, wide: number, [top, bottom]: [number, number], way: 1 | -1) {
  const [far, middle] = [1500, 360];
  const at = (px: number, py: number, angle: number): [u: number, v: number, size: number] => {
    const k = Math.sin(angle) / far;
    const q = way * (px - hinge);
    const u = q / (Math.cos(angle) - q * k);
    const size = 1 / (1 + u * k);
    return [u, middle + (py - middle) / size, size];
  };
  return {
    at,
    distance(px: number, py: number, angle: number) {
      const [u, v, size] = at(px, py, angle);
      if (size < 0) return 1e3;
      const c = Math.cos(angle) * size;
      return Math.max(-u * c, (u - wide) * c, (top - v) * size, (v - bottom) * size);
    },
  };
}

const eased = (t: number, from: number, to: number) => {
  const share = Math.min(1, Math.max(0, (t - from) / (to - from)));
  return share * share * (3 - 2 * share);
};

/** What opens: drawn, with its truth. */
export const gaps: readonly Subject[] = [
  gap({ name: 'one leaf', what: 'a door swings away from the camera' }, { frames: 60 }, async () => {
    const [top, bottom] = [110, 620];
    const swinging = leaf(420, 400, [top, bottom], 1);
    const angle = (t: number) => 1.4 * eased(t, 5, 56);
    return {
      behind: { texture: await textureOf('house', 11) },
      moving: [
        {
          texture: await textureOf('planks', 113, { colour: [0.9, 0.5, 0.45] }),
          toTexture: (x, y, t) => swinging.at(x, y, angle(t)).slice(0, 2) as [number, number],
          shutter: 0.3,
          steps: 3,
          distance: (x, y, t) => swinging.distance(x, y, angle(t)),
          extent: () => [410, 830],
        },
      ],
      wall: await wallAbout(box(420, top, 820, bottom), 112),
    };
  }),
  gap(
    { name: 'two leaves', what: 'two doors swing away, hand-held' },
    { frames: 60, camera: hand(5) },
    async () => {
      const [top, bottom] = [140, 640];
      const [first, second] = [leaf(360, 280, [top, bottom], 1), leaf(920, 280, [top, bottom], -1)];
      const angle = (t: number) => 1.3 * eased(t, 4, 60);
      const colour = await textureOf('planks', 12, { colour: [0.5, 0.7, 0.6] });
      return {
        behind: { texture: await textureOf('alps', 5), nearness: 0.6 },
        moving: [first, second].map((each) => ({
          texture: colour,
          toTexture: (x: number, y: number, t: number) =>
            each.at(x, y, angle(t)).slice(0, 2) as [number, number],
          shutter: 0.3,
          steps: 3,
          distance: (x: number, y: number, t: number) => each.distance(x, y, angle(t)),
          extent: () => [350, 930] as const,
        })),
        wall: await wallAbout(box(360, top, 920, bottom), 15),
      };
    },
  ),
  gap(
    { name: 'curtain', what: 'a curtain is drawn aside, its border waves; hand-held' },
    { frames: 60, camera: hand(4) },
    async () => {
      const x = (t: number) => 300 + 640 * eased(t, 3, 66);
      const border = (y: number, t: number) => x(t) + 22 * Math.sin(y / 60 + 0.35 * t);
      return {
        behind: { texture: await textureOf('boats', 6) },
        moving: [
          {
            texture: await textureOf('cloth', 7, { colour: [0.9, 0.45, 0.5] }),
            toTexture: (px, py, t) => [px - border(py, t), py],
            shutter: 0.4,
            steps: 3,
            distance: (px, py, t) => border(py, t) - px,
            extent: everywhere,
          },
        ],
        wall: await wallAbout(box(290, 90, 990, 660), 16, 20),
      };
    },
  ),
  gap({ name: 'roller', what: 'a shutter of laths goes up' }, { frames: 54 }, async () => {
    const y = (t: number) => 640 - 9 * t;
    return {
      behind: { texture: await textureOf('canyon', 8), toTexture: (px, py) => [1.1 * px, 1.1 * py] },
      moving: [
        {
          texture: await textureOf('planks', 9, { colour: [0.8, 0.85, 0.95] }),
          toTexture: (px, py, t) => [py - y(t), px],
          shutter: 0.4,
          steps: 3,
          distance: (_, py, t) => py - y(t),
          extent: everywhere,
        },
      ],
      wall: await wallAbout(box(320, 80, 960, 640), 17),
    };
  }),
  gap(
    { name: 'lid', what: 'a disc slides off a round hole', apart: true },
    { frames: 54, camera: hand(3) },
    async () => {
      const cx = (t: number) => 620 - 7 * t;
      const hole = disc(
        () => 620,
        () => 370,
        210,
      );
      return {
        behind: { texture: await textureOf('alps', 31, { colour: [0.8, 0.9, 0.8] }) },
        moving: [
          {
            texture: await textureOf('leaves', 32),
            toTexture: (px, py, t) => [px - cx(t), py],
            shutter: 0.4,
            steps: 3,
            distance: disc(cx, () => 372, 240),
            extent: everywhere,
          },
        ],
        wall: await wallAbout(hole, 33, 10),
      };
    },
  ),
  gap(
    { name: 'gate', what: 'a gate slides aside before a scene full of leaves', apart: true },
    { frames: 60 },
    async () => {
      const x = (t: number) => 900 - 6.5 * t - 30 * Math.sin(t / 12);
      return {
        behind: { texture: await textureOf('leaves', 41, { contrast: 0.7 }) },
        moving: [
          {
            texture: await textureOf('house', 42, { colour: [0.7, 0.6, 0.5] }),
            toTexture: (px, py, t) => [px - x(t), py],
            shutter: 0.5,
            steps: 4,
            distance: (px, py, t) => px - (x(t) + 0.08 * (py - 360)),
            extent: everywhere,
          },
        ],
        wall: await wallAbout(box(260, 120, 930, 760), 43),
      };
    },
  ),
];
