import { createCanvas, loadImage } from '@napi-rs/canvas';
import { readFileSync } from 'node:fs';
import { between, seeded } from '../../demo/random';

/** A picture that repeats in both directions: RGB, 0 to 255, interleaved. */
export interface Texture {
  width: number;
  height: number;
  values: Float32Array;
}

export type TextureName = 'alps' | 'boats' | 'canyon' | 'house' | 'leaves' | 'planks' | 'cloth' | 'wall';

const photographs = new Set<TextureName>(['alps', 'boats', 'canyon', 'house']);

/** A colour multiplied into a texture, and how much of its contrast about its mean is kept. */
export interface Dye {
  colour?: readonly [r: number, g: number, b: number];
  contrast?: number;
  /** Added after that. */
  lift?: number;
}

/** A texture by name: four old photographs (fixtures/README.md), mirrored so that they repeat, and four drawn ones. */
export async function textureOf(name: TextureName, seed: number, dye: Dye = {}): Promise<Texture> {
  return dyed(await plainOf(name, seed), dye);
}

/** px of a photograph's width as a texture. */
const photographWidth = 1280;

/** A texture from a photograph's file, mirrored so that it repeats. */
export async function photographOf(file: string, dye: Dye): Promise<Texture> {
  return dyed(await mirrored(file, photographWidth), dye);
}

function dyed(plain: Texture, dye: Dye): Texture {
  const { colour = [1, 1, 1], contrast = 1, lift = 0 } = dye;
  const means = [0, 1, 2].map((c) => {
    let sum = 0;
    for (let i = c; i < plain.values.length; i += 3) sum += plain.values[i];
    return sum / (plain.values.length / 3);
  });
  for (let i = 0; i < plain.values.length; i++) {
    const c = i % 3;
    plain.values[i] = clamp((means[c] + (plain.values[i] - means[c]) * contrast) * colour[c] + lift);
  }
  return plain;
}

/** Textures that were drawn last, without dye. */
const last = new Map<string, Texture>();
const mostKept = 12;

/** A texture without dye, which may be changed. */
async function plainOf(name: TextureName, seed: number): Promise<Texture> {
  const key = `${name} ${photographs.has(name) ? 0 : seed}`;
  const kept = last.get(key) ?? (photographs.has(name) ? await photograph(name) : drawn(name, seed));
  last.set(key, kept);
  if (last.size > mostKept) last.delete(last.keys().next().value!);
  return { ...kept, values: kept.values.slice() };
}

function photograph(name: string): Promise<Texture> {
  return mirrored(new URL(`../../fixtures/textures/${name}.jpg`, import.meta.url));
}

/** @param wide px to which it is brought; else it keeps its size. */
async function mirrored(file: string | URL, wide?: number): Promise<Texture> {
  const image = await loadImage(readFileSync(file));
  const w = wide ?? image.width;
  const h = Math.round((image.height * w) / image.width);
  const canvas = createCanvas(w, h);
  const context = canvas.getContext('2d');
  context.drawImage(image, 0, 0, w, h);
  const { data } = context.getImageData(0, 0, w, h);
  const [width, height] = [2 * w, 2 * h];
  const values = new Float32Array(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const from = 4 * ((y < h ? y : height - 1 - y) * w + (x < w ? x : width - 1 - x));
      for (let c = 0; c < 3; c++) values[3 * (y * width + x) + c] = data[from + c];
    }
  return { width, height, values };
}

function drawn(name: TextureName, seed: number): Texture {
  const [width, height] = [1024, 1024];
  const values = new Float32Array(width * height * 3);
  const random = seeded(seed);
  const fine = waves(random, 6, 20, 14);
  const broad = waves(random, 1, 5, 8);
  const grain = Float32Array.from({ length: 4096 }, () => between(random, -1, 1));
  const leaf =
    name === 'leaves'
      ? leaves(random, width, height)
      : new Float32Array(name === 'wall' ? 0 : width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const [u, v] = [x / width, y / height];
      const rough = grain[(x * 31 + y * 57 + ((x * y) % 97)) & 4095];
      let [r, g, b] = [0, 0, 0];
      if (name === 'leaves') {
        const value = leaf[i];
        [r, g, b] = [40 + 90 * value, 60 + 130 * value, 25 + 60 * value];
      } else if (name === 'planks') {
        // Upright boards with dark gaps: strong lines that run like an edge.
        const board = x % 64;
        const tone = 120 + 30 * grain[(x >> 6) * 7] + 14 * fine(u * 3, v * 0.3) + 5 * rough;
        const gap = board < 4 ? 0.35 : 1;
        [r, g, b] = [tone * gap, tone * 0.8 * gap, tone * 0.6 * gap];
      } else if (name === 'cloth') {
        const weave = 6 * Math.sin((2 * Math.PI * x) / 8) * Math.sin((2 * Math.PI * y) / 8);
        const tone = 110 + 34 * broad(u, v) + 16 * fine(u, v) + weave + 6 * rough;
        [r, g, b] = [tone * 1.1, tone * 0.75, tone * 0.6];
      } else {
        // Bricks with mortar, each of its own tone.
        const row = Math.floor(y / 32);
        const shifted = (x + (row % 2) * 32) % width;
        const brick = Math.floor(shifted / 64);
        const mortar = y % 32 < 3 || shifted % 64 < 3;
        const tone = mortar ? 165 : 105 + 26 * grain[(row * 37 + brick * 11) & 4095] + 8 * rough;
        [r, g, b] = mortar ? [tone, tone, tone * 0.95] : [tone * 1.15, tone * 0.7, tone * 0.55];
      }
      values[3 * i] = r;
      values[3 * i + 1] = g;
      values[3 * i + 2] = b;
    }
  return { width, height, values };
}

/** Sines of whole periods, so that the sum repeats; about −1 to 1. */
function waves(random: () => number, low: number, high: number, count: number) {
  const terms = Array.from({ length: count }, () => [
    Math.round(between(random, -high, high)),
    Math.round(between(random, low, high)),
    between(random, 0, 6.28),
  ]);
  return (u: number, v: number) => {
    let sum = 0;
    for (const [a, b, phase] of terms) sum += Math.sin(6.2832 * (a * u + b * v) + phase);
    return sum / Math.sqrt(2 * terms.length);
  };
}

/** Overlapping discs of different tone. */
function leaves(random: () => number, width: number, height: number): Float32Array {
  const tone = new Float32Array(width * height).fill(0.3);
  for (let k = 0; k < 2600; k++) {
    const [cx, cy, r, value] = [random() * width, random() * height, between(random, 8, 26), random()];
    for (let y = -r; y <= r; y++)
      for (let x = -r; x <= r; x++) {
        const d = (x * x + 2 * y * y) / (r * r);
        if (d > 1) continue;
        const at = ((Math.round(cy + y) + height) % height) * width + ((Math.round(cx + x) + width) % width);
        tone[at] = value * (1 - 0.4 * d);
      }
  }
  return tone;
}

export function clamp(value: number): number {
  return value < 0 ? 0 : value > 255 ? 255 : value;
}

/** Adds `weight` × the texture's colour at (x, y), between texels, to `into`. */
export function addSample(
  texture: Texture,
  x: number,
  y: number,
  weight: number,
  into: Float32Array,
  at: number,
) {
  const { width, height, values } = texture;
  const [fx, fy] = [Math.floor(x), Math.floor(y)];
  const [tx, ty] = [x - fx, y - fy];
  const x0 = ((fx % width) + width) % width;
  const y0 = ((fy % height) + height) % height;
  const x1 = x0 + 1 === width ? 0 : x0 + 1;
  const y1 = y0 + 1 === height ? 0 : y0 + 1;
  const a = 3 * (y0 * width + x0);
  const b = 3 * (y0 * width + x1);
  const c = 3 * (y1 * width + x0);
  const d = 3 * (y1 * width + x1);
  const [wa, wb, wc, wd] = [
    (1 - tx) * (1 - ty) * weight,
    tx * (1 - ty) * weight,
    (1 - tx) * ty * weight,
    tx * ty * weight,
  ];
  for (let k = 0; k < 3; k++)
    into[at + k] += wa * values[a + k] + wb * values[b + k] + wc * values[c + k] + wd * values[d + k];
}
