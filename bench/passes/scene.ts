import { gaussianTable, seeded } from '../../demo/random';
import { addSample, clamp, type Texture } from './textures';

export const width = 1280;
export const height = 720;
export const fps = 25;

/** What lies at one depth of a scene, in the world's pixels; `t` in frames. */
export interface Layer {
  /** Coloured by this … */
  texture?: Texture;
  /** … at these coordinates; unless told otherwise the world's own. */
  toTexture?(x: number, y: number, t: number): readonly [u: number, v: number];
  /** … or it darkens what lies under it: what share of the light it takes. */
  shade?: number;
  /** px from its outline, negative inside; where it is missing the layer is everywhere. */
  distance?(x: number, y: number, t: number): number;
  /** From this x to that it is at t; needed where there is a distance. */
  extent?(t: number): readonly [from: number, to: number];
  /** Standard deviation of its outline's softness, px. */
  softness?: number;
  /** How much of a frame's time the shutter is open for it, and in how many steps that is drawn. */
  shutter?: number;
  steps?: number;
  /** px that its outline goes at most while the shutter is open: farther from it than this one moment tells for all. */
  goes?: number;
  /** Share of the camera's movement that it takes part in: less than 1 lies farther away. */
  nearness?: number;
}

export interface Camera {
  x: number;
  y: number;
  turn: number;
  zoom: number;
}

export const still: Camera = { x: 0, y: 0, turn: 0, zoom: 1 };

export interface Scene {
  frames: number;
  layers: readonly Layer[];
  camera?(t: number): Camera;
  /** Factor on the light of frame t. */
  light?(t: number): number;
  /** Standard deviation of the noise, code values. */
  noise?: number;
}

/** From the picture's pixels to the world's. */
export function toWorld(camera: Camera, nearness: number) {
  const [x, y, turn] = [camera.x * nearness, camera.y * nearness, camera.turn * nearness];
  const zoom = 1 + (camera.zoom - 1) * nearness;
  const [c, s] = [Math.cos(turn) / zoom, Math.sin(turn) / zoom];
  const [mx, my] = [width / 2, height / 2];
  return (px: number, py: number): [number, number] => [
    mx + x + c * (px - mx) - s * (py - my),
    my + y + s * (px - mx) + c * (py - my),
  ];
}

/** Draws the frames of a scene, as RGB with 8 bits, one after another. */
export function* drawScene(scene: Scene, seed: number): Generator<Uint8Array> {
  const noise = gaussianTable(seeded(seed), 1 << 16);
  const random = seeded(seed + 1);
  const colour = new Float32Array(width * height * 3);
  const one = new Float32Array(3);
  for (let t = 0; t < scene.frames; t++) {
    for (const layer of scene.layers) drawLayer(layer, scene.camera?.(t) ?? still, t, colour, one);
    const light = scene.light?.(t) ?? 1;
    const strength = scene.noise ?? 2;
    const bytes = new Uint8Array(colour.length);
    let at = Math.floor(random() * 65536);
    for (let i = 0; i < colour.length; i++) {
      bytes[i] = clamp(colour[i] * light + strength * noise[at & 65535] + 0.5);
      at += 1 + (i & 3 ? 0 : 7);
    }
    yield bytes;
  }
}

function drawLayer(layer: Layer, camera: Camera, t: number, colour: Float32Array, one: Float32Array) {
  const world = toWorld(camera, layer.nearness ?? 1);
  const { texture, toTexture = (x, y) => [x, y], distance, shade } = layer;
  const steps = layer.steps ?? 1;
  const soft = 1.702 / (layer.softness ?? 0.55);
  const moments = Array.from(
    { length: steps },
    (_, k) => t + ((k + 0.5) / steps - 0.5) * (layer.shutter ?? 0),
  );
  const reach = 6 + 6 * (layer.softness ?? 0.55);
  const goes = layer.goes ?? Infinity;
  // Within the object a smear of its texture needs fewer moments than its edge.
  const few = moments.filter((_, k) => k % 2 === 0);
  const extents = moments.map((moment) => layer.extent?.(moment) ?? [-1e9, 1e9]);
  const from = Math.min(...extents.map((extent) => extent[0])) - reach;
  const to = Math.max(...extents.map((extent) => extent[1])) + reach;
  for (let py = 0, i = 0; py < height; py++)
    for (let px = 0; px < width; px++, i += 3) {
      const [x, y] = world(px + 0.5, py + 0.5);
      if (!distance) {
        colour[i] = colour[i + 1] = colour[i + 2] = 0;
        const [u, v] = toTexture(x, y, t);
        addSample(texture!, u, v, 1, colour, i);
        continue;
      }
      if (x < from || x > to) continue;
      let covered = 0;
      one.fill(0);
      const first = distance(x, y, moments[0]);
      const plain = Math.abs(first) > goes + 12 / soft;
      if (plain && first > 0) continue;
      const those = plain ? few : moments;
      for (const moment of those) {
        const d = plain ? -13 : distance(x, y, moment) * soft;
        if (d > 12) continue;
        const alpha = (d < -12 ? 1 : 1 / (1 + Math.exp(d))) / those.length;
        covered += alpha;
        if (!texture) continue;
        const [u, v] = toTexture(x, y, moment);
        addSample(texture, u, v, alpha, one, 0);
      }
      if (covered === 0) continue;
      if (shade !== undefined) for (let c = 0; c < 3; c++) colour[i + c] *= 1 - shade * covered;
      else for (let c = 0; c < 3; c++) colour[i + c] = colour[i + c] * (1 - covered) + one[c];
    }
}

/** A seam's edge of a layer, every 4 px of y: the first of it that is met from the side that it leaves behind. */
export function edgeOf(layer: Layer, camera: Camera, t: number, side: 'left' | 'right'): [number, number][] {
  const world = toWorld(camera, layer.nearness ?? 1);
  const at = (px: number, py: number) => {
    const [x, y] = world(px, py);
    return layer.distance!(x, y, t);
  };
  const line: [number, number][] = [];
  const way = side === 'left' ? 1 : -1;
  const start = side === 'left' ? -400 : width + 400;
  for (let y = 0; y <= height; y += 4) {
    let x = start;
    while (Math.abs(x - start) < width + 800 && at(x, y) > 0) x += 2 * way;
    let [low, high] = [x - 2 * way, x];
    for (let k = 0; k < 12; k++) {
      const middle = (low + high) / 2;
      if (at(middle, y) > 0) low = middle;
      else high = middle;
    }
    line.push([Math.round(high * 100) / 100, y]);
  }
  return line;
}
