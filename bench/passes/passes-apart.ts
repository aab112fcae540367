import { type Scene, still } from './scene';
import { along, capsule, limb, type Line, type Pass, seam, shake, turned, upright } from './shapes';
import { textureOf } from './textures';

/** Passes that the finder was not made with: they were drawn and looked at only once the work on it was done. */
export const passesApart: Pass[] = [
  seam(
    {
      name: 'porter',
      what: 'a porter with a sack, an arm swinging, in a panning hand-held shot',
      hard: true,
      apart: true,
      side: 'right',
    },
    async () => {
      const x = (t: number) => 1150 - 14 * t;
      const bob = (t: number) => 7 * Math.abs(Math.sin(0.28 * t));
      const hand = (t: number): [number, number] => [40 + 120 * Math.sin(0.28 * t), 470];
      const parts = (u: number, y: number, t: number) => [
        Math.max(-120 - u, u - 70 - 30 * Math.sin(y / 190)),
        Math.hypot(u - 60, (y - 240) * 0.8) - 95,
        capsule(u, y, 20, 250, ...hand(t), 34),
      ];
      const sway = shake(151, 5);
      return {
        frames: 66,
        camera: (t) => ({ ...sway(t), x: sway(t).x - 3 * t }),
        behind: [
          { texture: await textureOf('house', 151), nearness: 0.6 },
          {
            texture: await textureOf('planks', 152, { contrast: 0.7 }),
            distance: (px) => Math.abs(((px + 900) % 300) - 150) - 12,
            extent: () => [-900, 2200],
          },
        ],
        object: {
          texture: await textureOf('cloth', 153, { colour: [1, 0.85, 0.6] }),
          toTexture(px, py, t) {
            const [u, y] = [px - x(t), py - bob(t)];
            return parts(u, y, t)[2] < 0 ? limb(u, y, hand(t), [20, 250]) : [u, y];
          },
          shutter: 0.45,
          steps: 4,
          distance: (px, py, t) => Math.min(...parts(px - x(t), py - bob(t), t)),
          extent: (t) => [x(t) - 240, x(t) + 240],
        },
      };
    },
  ),
  seam(
    {
      name: 'veil',
      what: 'cloth that waves and blurs while the light fades',
      hard: true,
      apart: true,
      side: 'left',
    },
    async () => {
      const x = (t: number) => 130 + 15 * t;
      const back = (y: number, t: number) =>
        x(t) + 30 * Math.sin(y / 120 - 0.27 * t) * (y / 720) + 11 * Math.sin(y / 44 + 0.38 * t);
      return {
        frames: 66,
        light: (t) => 1.05 - 0.006 * t + 0.02 * Math.sin(t),
        behind: [{ texture: await textureOf('leaves', 161, { contrast: 0.9 }) }],
        object: {
          texture: await textureOf('cloth', 162, { colour: [1.2, 1.15, 1.1], lift: 20 }),
          toTexture: (px, py, t) => [px - back(py, t), py],
          softness: 2,
          shutter: 0.8,
          steps: 8,
          ...upright(
            back,
            (y, t) => back(y, t) + 380,
            (t) => x(t) + 190,
            270,
          ),
        },
      };
    },
  ),
  seam(
    {
      name: 'barrow',
      what: 'a barrow wheeled past close by, easing in and out of its way',
      hard: false,
      apart: true,
      side: 'left',
    },
    async () => {
      const x = (t: number) => 130 + 920 * (0.5 - 0.5 * Math.cos((Math.PI * t) / 62));
      const back = (y: number, t: number) =>
        x(t) + (y > 430 ? -60 + 0.25 * (y - 430) : 0.1 * (430 - y)) + 8 * Math.sin(y / 60);
      return {
        frames: 62,
        behind: [{ texture: await textureOf('alps', 171, { colour: [0.9, 1, 0.9] }) }],
        object: {
          texture: await textureOf('planks', 172, { colour: [0.8, 0.7, 0.9] }),
          toTexture: along(x),
          shutter: 0.4,
          steps: 5,
          ...upright(
            back,
            (y, t) => back(y, t) + 460,
            (t) => x(t) + 200,
            340,
          ),
        },
      };
    },
  ),
  {
    name: 'crate',
    what: 'a crate carried past, turning a little (a loop about the object)',
    hard: false,
    apart: true,
    kind: 'loop',
    side: 'left',
    async draw() {
      const middle = (t: number): [number, number] => [330 + 9.5 * t, 380 + 14 * Math.sin(t / 6)];
      const angle = (t: number) => 0.16 * Math.sin(t / 14);
      const corners: Line = [
        [-170, -130],
        [150, -150],
        [180, 120],
        [-20, 165],
        [-160, 110],
      ];
      const scene: Scene = {
        frames: 60,
        layers: [
          { texture: await textureOf('boats', 181) },
          {
            texture: await textureOf('planks', 182, { colour: [1.1, 0.9, 0.7] }),
            toTexture(px, py, t) {
              const [mx, my] = middle(t);
              return turned(px - mx, py - my, angle(t), 1);
            },
            shutter: 0.3,
            steps: 3,
            distance(px, py, t) {
              const [mx, my] = middle(t);
              const [u, v] = turned(px - mx, py - my, angle(t), 1);
              return within(u, v, corners);
            },
            extent: (t) => [middle(t)[0] - 260, middle(t)[0] + 260],
          },
        ],
      };
      return {
        scene: { ...scene, camera: () => still },
        truth(t) {
          const [mx, my] = middle(t);
          return corners.map(([u, v]): [number, number] => {
            const [px, py] = turned(u, v, -angle(t), 1);
            return [mx + px, my + py];
          });
        },
      };
    },
  },
];

/** px from a convex polygon whose corners go to the right round it, negative inside. */
function within(x: number, y: number, corners: Line): number {
  return Math.max(
    ...corners.map(([ax, ay], k) => {
      const [bx, by] = corners[(k + 1) % corners.length];
      return ((by - ay) * (x - ax) - (bx - ax) * (y - ay)) / Math.hypot(bx - ax, by - ay);
    }),
  );
}
