import { between, seeded } from '../../demo/random';
import { passesApart } from './passes-apart';
import { type Scene, still, width } from './scene';
import { along, capsule, limb, type Line, type Pass, seam, shake, turned, upright } from './shapes';
import { textureOf } from './textures';

/** Each hard in a way of its own. */
export const passes: Pass[] = [
  seam({ name: 'pole', what: 'narrow, rigid and slow', hard: false, side: 'left' }, async () => {
    const x = (t: number) => 420 + 2.6 * t;
    const lean = (y: number) => 0.04 * (y - 360);
    return {
      frames: 60,
      behind: [{ texture: await textureOf('boats', 1) }],
      object: {
        texture: await textureOf('planks', 2, { colour: [0.8, 0.9, 1.2] }),
        toTexture: along(x),
        ...upright(
          (y, t) => x(t) + lean(y),
          (y, t) => x(t) + lean(y) + 70,
          x,
          110,
        ),
      },
    };
  }),
  seam({ name: 'van', what: 'rigid and fast', hard: false, side: 'right' }, async () => {
    const x = (t: number) => 1210 - 21 * t;
    const back = (y: number, t: number) => x(t) - 26 * ((y - 330) / 330) ** 2 - (y > 560 ? 14 : 0);
    return {
      frames: 54,
      behind: [{ texture: await textureOf('house', 1, { colour: [1, 0.95, 0.85] }) }],
      object: {
        texture: await textureOf('wall', 4, { colour: [0.7, 1, 1.5], contrast: 0.4, lift: 50 }),
        toTexture: along(x),
        shutter: 0.25,
        steps: 6,
        ...upright(
          (y, t) => back(y, t) - 900,
          back,
          (t) => x(t) - 450,
          500,
        ),
      },
    };
  }),
  seam(
    { name: 'trunk', what: 'a trunk that stands still in a shaky, panning shot', hard: false, side: 'left' },
    async () => {
      const sway = shake(5, 9);
      const bark = (y: number) => 640 + 18 * Math.sin(y / 120) + 7 * Math.sin(y / 37);
      return {
        frames: 60,
        camera: (t) => ({ ...sway(t), x: sway(t).x + 320 - 9 * t }),
        behind: [{ texture: await textureOf('alps', 1), nearness: 0.35 }],
        object: {
          texture: await textureOf('leaves', 8, { colour: [0.9, 0.6, 0.4], contrast: 0.6 }),
          ...upright(
            bark,
            (y) => bark(y) + 240,
            () => 760,
            180,
          ),
        },
      };
    },
  ),
  seam({ name: 'walker', what: 'a person whose legs and arm swing', hard: true, side: 'left' }, async () => {
    const x = (t: number) => 150 + 13 * t;
    const swing = (t: number) => Math.sin(t * 0.3);
    const bob = (t: number) => 5 * Math.sin(t * 0.6);
    const hand = (t: number): [number, number] => [-30 - 250 * Math.sin(0.55 * swing(t)), 400];
    const foot = (way: number, t: number): [number, number] => [
      6 + 330 * Math.sin(0.34 * way * swing(t)),
      900,
    ];
    const parts = (u: number, y: number, t: number) => {
      const back = -78 - 22 * Math.cos((y - 250) / 120);
      const torso = y < 470 ? Math.max(back - u, u - 110) : 1e3;
      const leg = (way: number) => capsule(u, y, 6, 440, ...foot(way, t), 74);
      return [torso, leg(1), leg(-1), capsule(u, y, -30, 130, ...hand(t), 38)];
    };
    return {
      frames: 72,
      behind: [{ texture: await textureOf('canyon', 1) }],
      object: {
        texture: await textureOf('cloth', 12),
        toTexture(px, py, t) {
          const [u, y] = [px - x(t), py - bob(t)];
          const [torso, front, rear, arm] = parts(u, y, t);
          // Each limb carries its cloth along; the arm hangs before the body, one leg before the other.
          if (arm < 0) return limb(u, y, hand(t), [-30, 130]);
          if (torso < 0) return [u, y];
          return front < rear ? limb(u, y, foot(1, t), [6, 440]) : limb(u, y, foot(-1, t), [6, 440]);
        },
        shutter: 0.4,
        steps: 4,
        distance: (px, py, t) => Math.min(...parts(px - x(t), py - bob(t), t)),
        extent: (t) => [x(t) - 330, x(t) + 330],
      },
    };
  }),
  seam({ name: 'curtain', what: 'cloth that waves as it goes', hard: true, side: 'left' }, async () => {
    const x = (t: number) => 160 + 11 * t;
    const back = (y: number, t: number) =>
      x(t) + (26 * Math.sin(y / 95 + 0.32 * t) + 9 * Math.sin(y / 38 - 0.45 * t)) * (0.25 + y / 900);
    return {
      frames: 72,
      behind: [{ texture: await textureOf('house', 3, { colour: [0.8, 0.9, 1] }) }],
      object: {
        texture: await textureOf('cloth', 21, { colour: [0.8, 1, 1.5] }),
        toTexture: (px, py, t) => [px - back(py, t), py],
        shutter: 0.5,
        steps: 4,
        ...upright(
          back,
          (y, t) => back(y, t) + 420,
          (t) => x(t) + 210,
          290,
        ),
      },
    };
  }),
  seam({ name: 'soft', what: 'out of focus: an edge 30 px wide', hard: false, side: 'right' }, async () => {
    const x = (t: number) => 1130 - 12 * t;
    const edge = (y: number, t: number) => x(t) + 30 * Math.sin(y / 210);
    return {
      frames: 66,
      behind: [{ texture: await textureOf('boats', 1, { colour: [1, 0.9, 0.8] }) }],
      object: {
        texture: await textureOf('cloth', 31, { colour: [0.5, 0.55, 0.6], contrast: 0.5 }),
        toTexture: along(x),
        softness: 11,
        shutter: 0.5,
        steps: 3,
        ...upright(
          (y, t) => edge(y, t) - 500,
          edge,
          (t) => x(t) - 250,
          340,
        ),
      },
    };
  }),
  seam({ name: 'streak', what: 'heavy motion blur', hard: false, side: 'left' }, async () => {
    const x = (t: number) => 120 + 24 * t;
    const back = (y: number, t: number) => x(t) + 0.09 * (y - 360) + 12 * Math.sin(y / 80);
    return {
      frames: 46,
      behind: [{ texture: await textureOf('alps', 2, { lift: 30 }) }],
      object: {
        texture: await textureOf('wall', 33, { colour: [1.1, 0.8, 0.7] }),
        toTexture: along(x),
        shutter: 0.95,
        steps: 16,
        ...upright(
          back,
          (y, t) => back(y, t) + 520,
          (t) => x(t) + 260,
          350,
        ),
      },
    };
  }),
  seam(
    { name: 'faint', what: 'barely darker than what lies behind', hard: false, side: 'left' },
    async () => {
      const x = (t: number) => 170 + 10 * t;
      const back = (y: number, t: number) => x(t) + 34 * Math.sin(y / 150) + 0.05 * y;
      return {
        frames: 72,
        behind: [{ texture: await textureOf('canyon', 5, { contrast: 0.5, lift: -35 }) }],
        object: {
          texture: await textureOf('leaves', 35, { colour: [0.95, 0.78, 0.95], contrast: 0.3, lift: -22 }),
          toTexture: along(x),
          shutter: 0.3,
          steps: 3,
          ...upright(
            back,
            (y, t) => back(y, t) + 380,
            (t) => x(t) + 190,
            290,
          ),
        },
      };
    },
  ),
  seam(
    { name: 'fence', what: 'before boards whose gaps run like the edge', hard: false, side: 'right' },
    async () => {
      const x = (t: number) => 1140 - 8.5 * t;
      const edge = (y: number, t: number) => x(t) + 10 * Math.sin(y / 130);
      return {
        frames: 72,
        camera: (t) => ({ ...still, x: 0.8 * t }),
        behind: [{ texture: await textureOf('planks', 41) }],
        object: {
          texture: await textureOf('planks', 42, { colour: [0.75, 0.8, 0.95], contrast: 0.8 }),
          toTexture: along(x),
          ...upright(
            (y, t) => edge(y, t) - 420,
            edge,
            (t) => x(t) - 210,
            260,
          ),
        },
      };
    },
  ),
  seam({ name: 'lamp', what: 'the light flickers', hard: true, side: 'left' }, async () => {
    const x = (t: number) => 150 + 12 * t;
    const random = seeded(51);
    const gains = Array.from({ length: 80 }, () => between(random, 0.72, 1.12));
    const back = (y: number, t: number) => x(t) + 22 * Math.sin(y / 170 + 1);
    return {
      frames: 72,
      light: (t) => gains[t],
      behind: [{ texture: await textureOf('house', 6) }],
      object: {
        texture: await textureOf('leaves', 52, { colour: [1.2, 0.8, 0.7] }),
        toTexture: along(x),
        shutter: 0.3,
        steps: 3,
        ...upright(
          back,
          (y, t) => back(y, t) + 360,
          (t) => x(t) + 180,
          250,
        ),
      },
    };
  }),
  seam({ name: 'arm', what: 'one limb with a movement of its own', hard: true, side: 'left' }, async () => {
    const x = (t: number) => 230 + 9 * t;
    const hand = (t: number): [number, number] => [
      -40 - 150 * (0.5 + 0.45 * Math.sin(t * 0.17)),
      430 + 40 * Math.cos(t * 0.17),
    ];
    const arm = (u: number, y: number, t: number) => capsule(u, y, -40, 300, ...hand(t), 40);
    return {
      frames: 72,
      behind: [{ texture: await textureOf('boats', 7, { colour: [0.85, 0.95, 1.1] }) }],
      object: {
        texture: await textureOf('cloth', 61, { colour: [1, 1.1, 0.7] }),
        toTexture(px, py, t) {
          const u = px - x(t);
          return arm(u, py, t) < 0 ? limb(u, py, hand(t), [-40, 300]) : [u, py];
        },
        shutter: 0.3,
        steps: 3,
        distance(px, py, t) {
          const u = px - x(t);
          return Math.min(Math.max(-70 - 20 * Math.cos(py / 170) - u, u - 160), arm(u, py, t));
        },
        extent: (t) => [x(t) - 260, x(t) + 180],
      },
    };
  }),
  seam({ name: 'shadow', what: 'its shadow runs along with it', hard: true, side: 'left' }, async () => {
    const x = (t: number) => 210 + 11 * t;
    const back = (y: number, t: number) => x(t) + 16 * Math.sin(y / 140);
    return {
      frames: 72,
      behind: [
        { texture: await textureOf('wall', 71, { contrast: 0.8 }) },
        {
          shade: 0.45,
          softness: 5,
          ...upright(
            (y, t) => back(y, t) - 34 - 0.05 * y,
            (y, t) => back(y, t) + 200,
            (t) => x(t) + 60,
            220,
          ),
        },
      ],
      object: {
        texture: await textureOf('cloth', 72, { colour: [0.7, 0.8, 0.6] }),
        toTexture: along(x),
        shutter: 0.4,
        steps: 4,
        ...upright(
          back,
          (y, t) => back(y, t) + 340,
          (t) => x(t) + 170,
          230,
        ),
      },
    };
  }),
  seam(
    { name: 'street', what: 'a second mover and parallax behind it', hard: true, side: 'left' },
    async () => {
      const x = (t: number) => 140 + 12 * t;
      const other = (t: number) => 980 - 7 * t;
      const back = (y: number, t: number) => x(t) + 24 * Math.sin(y / 190 + 2);
      return {
        frames: 72,
        camera: (t) => ({ ...still, x: 2.2 * t }),
        behind: [
          { texture: await textureOf('alps', 8), nearness: 0.3 },
          {
            texture: await textureOf('wall', 82, { lift: 10 }),
            distance: (px, py) => 430 + 40 * Math.sin(px / 90) - py,
            extent: () => [-3000, 3000],
          },
          {
            texture: await textureOf('leaves', 83, { colour: [1.3, 1, 0.6] }),
            toTexture: along(other),
            distance: (px, py, t) => capsule(px, py, other(t), 260, other(t), 560, 90),
            extent: (t) => [other(t) - 100, other(t) + 100],
          },
        ],
        object: {
          texture: await textureOf('cloth', 84),
          toTexture: along(x),
          shutter: 0.4,
          steps: 4,
          ...upright(
            back,
            (y, t) => back(y, t) + 360,
            (t) => x(t) + 180,
            240,
          ),
        },
      };
    },
  ),
  seam(
    { name: 'barrel', what: 'turns and grows as it comes nearer', hard: false, side: 'right' },
    async () => {
      const x = (t: number) => 1060 - 9 * t;
      const grow = (t: number) => 1 + 0.006 * t;
      const tilt = (t: number) => 0.12 * Math.sin(t / 14);
      return {
        frames: 66,
        behind: [{ texture: await textureOf('canyon', 9, { colour: [0.9, 1, 0.9] }) }],
        object: {
          texture: await textureOf('planks', 92, { colour: [1.3, 0.9, 0.6] }),
          toTexture: (px, py, t) => turned(px - x(t), py - 360, tilt(t), grow(t)),
          shutter: 0.4,
          steps: 4,
          distance(px, py, t) {
            const [u, v] = turned(px - x(t), py - 360, tilt(t), grow(t));
            const half = 150 + 20 * Math.cos(v / 160);
            return (Math.abs(u) - half) * grow(t);
          },
          extent: (t) => [x(t) - 420, x(t) + 420],
        },
      };
    },
  ),
  seam(
    { name: 'post', what: 'a post in front covers the edge for a while', hard: false, side: 'left' },
    async () => {
      const x = (t: number) => 190 + 12 * t;
      const back = (y: number, t: number) => x(t) + 26 * Math.cos(y / 160);
      return {
        frames: 66,
        behind: [{ texture: await textureOf('boats', 10) }],
        object: {
          texture: await textureOf('cloth', 102, { colour: [1.1, 0.9, 0.9] }),
          toTexture: along(x),
          shutter: 0.3,
          steps: 3,
          ...upright(
            back,
            (y, t) => back(y, t) + 360,
            (t) => x(t) + 180,
            250,
          ),
        },
        before: [
          {
            texture: await textureOf('planks', 103, { colour: [0.6, 0.6, 0.6], contrast: 0.4 }),
            distance: (px) => Math.abs(px - 640) - 24,
            extent: () => [610, 670],
          },
        ],
      };
    },
  ),
  {
    name: 'door',
    what: 'a door opens away from the camera (a loop of four corners)',
    hard: false,
    kind: 'loop',
    side: 'left',
    async draw() {
      const angle = (t: number) => 0.15 + 0.021 * t;
      const [hinge, top, bottom, wide, far, middle] = [420, 110, 620, 400, 1500, 360];
      const leaf = (px: number, py: number, t: number): [number, number, number] => {
        const k = Math.sin(angle(t)) / far;
        const q = px - hinge;
        const u = q / (Math.cos(angle(t)) - q * k);
        const size = 1 / (1 + u * k);
        return [u, middle + (py - middle) / size, size];
      };
      const scene: Scene = {
        frames: 54,
        layers: [
          { texture: await textureOf('house', 11), toTexture: (px, py) => [px * 1.1, py * 1.1] },
          {
            texture: await textureOf('wall', 112, { colour: [0.8, 0.9, 0.9], contrast: 0.6 }),
            distance: (px, py) => Math.min(px - hinge, hinge + wide - px, py - top, bottom - py),
            extent: () => [-10, width + 10],
          },
          {
            texture: await textureOf('planks', 113, { colour: [0.9, 0.5, 0.45] }),
            toTexture: (px, py, t) => {
              const [u, v] = leaf(px, py, t);
              return [u, v];
            },
            shutter: 0.3,
            steps: 3,
            distance(px, py, t) {
              const [u, v, size] = leaf(px, py, t);
              if (size < 0) return 1e3;
              const c = Math.cos(angle(t)) * size;
              return Math.max(-u * c, (u - wide) * c, (top - v) * size, (v - bottom) * size);
            },
            extent: () => [hinge, hinge + wide],
          },
        ],
      };
      const corner = (u: number, v: number, t: number): [number, number] => {
        const size = 1 / (1 + (u * Math.sin(angle(t))) / far);
        return [hinge + u * Math.cos(angle(t)) * size, middle + (v - middle) * size];
      };
      return {
        scene,
        truth: (t) => [
          corner(0, top, t),
          corner(wide, top, t),
          corner(wide, bottom, t),
          corner(0, bottom, t),
        ],
      };
    },
  },
  {
    name: 'shutters',
    what: 'two leaves slide apart: a gap that grows (a loop)',
    hard: false,
    kind: 'loop',
    side: 'left',
    async draw() {
      const gap = (t: number) => [620 - 5 * t, 660 + 6.5 * t];
      const [top, bottom] = [90, 640];
      const planks = await textureOf('planks', 122, { colour: [0.7, 0.9, 0.7] });
      const scene: Scene = {
        frames: 60,
        camera: (t) => ({ ...still, x: 3 * Math.sin(t / 9), y: 2 * Math.sin(t / 7) }),
        layers: [
          { texture: await textureOf('canyon', 12), nearness: 0.4 },
          {
            texture: planks,
            toTexture: (px, py, t) => [px + 5 * t, py],
            shutter: 0.4,
            steps: 3,
            distance: (px, _, t) => px - gap(t)[0],
            extent: () => [-100, width],
          },
          {
            texture: planks,
            toTexture: (px, py, t) => [px - 6.5 * t + 300, py],
            shutter: 0.4,
            steps: 3,
            distance: (px, _, t) => gap(t)[1] - px,
            extent: () => [0, width + 100],
          },
          {
            texture: await textureOf('wall', 123, { contrast: 0.5, lift: 30 }),
            distance: (_, py) => Math.min(py - top, bottom - py),
            extent: () => [-100, width + 100],
          },
        ],
      };
      const camera = scene.camera!;
      return {
        scene,
        truth(t) {
          const [left, right] = gap(t);
          const { x, y } = camera(t);
          const corners: Line = [
            [left, top],
            [right, top],
            [right, bottom],
            [left, bottom],
          ];
          return corners.map(([px, py]): [number, number] => [px - x, py - y]);
        },
      };
    },
  },
  seam(
    {
      name: 'coat',
      what: 'a coat that flaps in a hand-held shot, with a shadow',
      hard: true,
      side: 'right',
    },
    async () => {
      const x = (t: number) => 1120 - 13 * t;
      const edge = (y: number, t: number) =>
        x(t) +
        60 * Math.exp(-(((y - 640) / 200) ** 2)) * (1 + 0.5 * Math.sin(0.4 * t)) +
        14 * Math.sin(y / 70 + 0.3 * t);
      return {
        frames: 66,
        camera: shake(131, 6),
        behind: [
          { texture: await textureOf('house', 13, { colour: [0.9, 0.8, 0.7] }) },
          {
            shade: 0.3,
            softness: 9,
            ...upright(
              (_, t) => x(t) - 200,
              (y, t) => edge(y, t) + 40,
              (t) => x(t) - 80,
              260,
            ),
          },
        ],
        object: {
          texture: await textureOf('cloth', 132, { colour: [0.6, 0.6, 0.9] }),
          toTexture: (px, py, t) => [px - edge(py, t), py],
          shutter: 0.5,
          steps: 4,
          ...upright(
            (_, t) => x(t) - 260,
            edge,
            (t) => x(t) - 90,
            270,
          ),
        },
      };
    },
  ),
  seam(
    {
      name: 'tram',
      what: 'slows down, pale before a pale wall, out of focus',
      hard: false,
      side: 'left',
    },
    async () => {
      const x = (t: number) => 120 + 20 * t - 0.09 * t * t;
      const back = (y: number, t: number) => x(t) + 18 * Math.tanh((y - 380) / 60);
      return {
        frames: 66,
        light: (t) => 1 + 0.03 * Math.sin(t / 5),
        behind: [{ texture: await textureOf('wall', 141, { contrast: 0.6, lift: 50 }) }],
        object: {
          texture: await textureOf('boats', 142, { contrast: 0.6, lift: 30 }),
          toTexture: along(x),
          softness: 4,
          shutter: 0.5,
          steps: 6,
          ...upright(
            back,
            (y, t) => back(y, t) + 700,
            (t) => x(t) + 350,
            400,
          ),
        },
      };
    },
  ),
  ...passesApart,
];
