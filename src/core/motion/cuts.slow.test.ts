import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { seeded } from '../random';
import { CutFinder, takeAt } from './cuts';

/** Cuts in sequences that are put together from the demo's footage: what is one is known. */

const [width, height] = [160, 90];
const size = width * height;

function frames(name: string): Uint8Array[] {
  const file = path.join(process.cwd(), 'demo', 'footage', `${name}.mp4`);
  const args = ['-v', 'error', '-i', file, '-vf', `scale=${width}:${height}:flags=area`];
  const { stdout } = spawnSync('ffmpeg', [...args, '-pix_fmt', 'gray', '-f', 'rawvideo', '-'], {
    maxBuffer: 2 ** 30,
  });
  return Array.from({ length: Math.floor(stdout.length / size) }, (_, k) =>
    stdout.subarray(k * size, (k + 1) * size),
  );
}
const takes = ['gardener', 'lily-pond', 'nursery', 'trolley', 'door', 'window', 'board'].map(frames);

const mixed = (a: ArrayLike<number>, b: ArrayLike<number>, share: number) =>
  Uint8Array.from(a, (value, i) => value + (b[i] - value) * share);
const lit = (a: ArrayLike<number>, gain: number) =>
  Uint8Array.from(a, (value) => Math.min(255, 16 + (value - 16) * gain));
/** A frame seen `by` px further to the right of a picture that goes on round. */
const panned = (a: ArrayLike<number>, by: number) =>
  Uint8Array.from({ length: size }, (_, i) => a[i - (i % width) + (((i % width) + by) % width)]);

/** A film by chance: its frames, and those that begin another take. */
function film(seed: number) {
  const random = seeded(seed);
  const from = (count: number) => Math.floor(random() * count);
  const all: Uint8Array[] = [];
  const cuts: number[] = [];
  let last = -1;
  for (let part = 0; part < 16; part++) {
    let which = from(takes.length);
    if (which === last) which = (which + 1) % takes.length;
    const take = takes[which];
    const length = 14 + from(24);
    const at = from(Math.max(1, take.length - length));
    const own = take.slice(at, at + length);
    const kind = ['plain', 'plain', 'flash', 'pan', 'fade', 'dissolve'][from(6)];
    const dissolves = kind === 'dissolve' && all.length > 8;
    if (all.length > 0 && !dissolves && kind !== 'fade') cuts.push(all.length);
    if (dissolves) {
      const before = all.splice(all.length - 8, 8);
      own.slice(0, 8).forEach((frame, k) => all.push(mixed(before[k], frame, (k + 1) / 9)));
      all.push(...own.slice(8));
    } else if (kind === 'flash') {
      const when = 6 + from(5);
      const flash = 1 + from(3);
      own.forEach((frame, k) => all.push(k >= when && k < when + flash ? lit(frame, 3.5) : frame));
    } else if (kind === 'pan') own.forEach((frame, k) => all.push(panned(frame, Math.max(0, k - 4) * 11)));
    else if (kind === 'fade' && all.length > 8) {
      const before = all.splice(all.length - 8, 8);
      before.forEach((frame, k) => all.push(lit(frame, 1 - (k + 1) / 8)));
      own.forEach((frame, k) => all.push(k < 8 ? lit(frame, k / 8) : frame));
    } else all.push(...own);
    last = which;
  }
  return { all, cuts };
}

function found(all: readonly Uint8Array[]): number[] {
  const finder = new CutFinder();
  for (const frame of all) finder.add(frame, width, height, 0);
  return finder.result();
}

test('hard cuts are found to the frame; flashes, whip pans, fades and dissolves are none', () => {
  let [real, hit, wrong, count] = [0, 0, 0, 0];
  for (let seed = 1; seed <= 6; seed++) {
    const { all, cuts } = film(seed);
    const said = found(all);
    real += cuts.length;
    hit += cuts.filter((frame) => said.includes(frame)).length;
    wrong += said.filter((frame) => !cuts.includes(frame)).length;
    count += all.length;
  }
  expect(real).toBeGreaterThan(40);
  expect(hit / real).toBeGreaterThanOrEqual(0.95);
  expect(wrong / count).toBeLessThanOrEqual(1 / 1000);
});

test('a take is what lies between two cuts', () => {
  const motion = { frames: [], crosser: null, cuts: [40, 90] };
  const at = (frame: number) => takeAt({ frameCount: 120, motion }, frame);
  expect([at(0), at(39), at(40), at(89), at(119)]).toEqual([
    [0, 39],
    [0, 39],
    [40, 89],
    [40, 89],
    [90, 119],
  ]);
  expect(takeAt({ frameCount: 120, motion: null }, 7)).toEqual([0, 119]);
});
