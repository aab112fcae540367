import { expect, type Page } from '@playwright/test';
import { build } from 'esbuild';
import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { JobListing, OpenedCrossing, ShotListing, ShotMedia } from '@/wire/answers';
import type { PoseRow } from '@/core/document/tables';
import { flattenOutline } from '@/core/outline';
import type { Harness } from './harness';

import { demoCrossingId } from '@/wire/demo-crossing';

export { demoCrossingId };

const folder = mkdtempSync(path.join(tmpdir(), 'kiv-clips-'));

/** Runs ffmpeg, or ffprobe, and returns what it wrote to standard output. */
export function run(program: 'ffmpeg' | 'ffprobe', args: string[], input?: Uint8Array): Buffer {
  const { status, stdout, stderr } = spawnSync(program, ['-v', 'error', ...args], {
    input,
    maxBuffer: 2 ** 31 - 1,
  });
  if (status !== 0) throw new Error(`${program} ${args.join(' ')}: ${stderr.toString()}`);
  return stdout;
}

/** A clip whose frame n shows the number n as 16 blocks. */
export function numberedClip(name: string, frames: number, encode: string[], rate = '25'): string {
  const file = path.join(folder, name);
  if (existsSync(file)) return file;
  const [width, height] = [320, 180];
  const raw = new Uint8Array(frames * width * height).fill(90);
  for (let n = 0; n < frames; n++) {
    for (let y = 0; y < height / 2; y++) {
      for (let x = 0; x < width; x++)
        raw[(n * height + y) * width + x] = (n >> (15 - Math.floor((x * 16) / width))) & 1 ? 220 : 30;
    }
  }
  const input = ['-f', 'rawvideo', '-pix_fmt', 'gray', '-s', `${width}x${height}`, '-r', rate, '-i', '-'];
  const format = encode.includes('-pix_fmt') ? [] : ['-pix_fmt', 'yuv420p'];
  run('ffmpeg', ['-y', ...input, ...format, ...encode, file], raw);
  return file;
}

export function clipFile(name: string): string {
  mkdirSync(folder, { recursive: true });
  return path.join(folder, name);
}

/** Sends a file to the server and returns the shot's id. */
export async function uploadFile(page: Page, file: string, name = path.basename(file)) {
  const response = await page.request.post(`/api/shots?name=${encodeURIComponent(name)}`, {
    data: readFileSync(file),
    headers: { 'content-type': 'application/octet-stream' },
  });
  return {
    status: response.status(),
    ...((await response.json()) as { id?: string; jobId?: string; error?: string }),
  };
}

/** Waits until the server has nothing more to convert; fails when something could not be. */
export async function jobsDone(page: Page) {
  await expect
    .poll(
      async () => {
        const jobs = (await (await page.request.get('/api/jobs')).json()) as JobListing[];
        const failed = jobs.find(({ state }) => state === 'failed');
        return failed ? failed.message : jobs.length;
      },
      { timeout: 90_000 },
    )
    .toBe(0);
}

/** Sends a file, waits for its conversion if there is one, and returns the media of the shot it became. */
export async function bringIn(page: Page, file: string): Promise<ShotMedia> {
  const taken = await uploadFile(page, file);
  if (taken.id) return mediaOf(page, taken.id);
  expect(taken.jobId, taken.error).toBeTruthy();
  await jobsDone(page);
  const shots = (await (await page.request.get('/api/shots')).json()) as ShotListing[];
  return mediaOf(page, shots.find(({ originalName }) => originalName === path.basename(file))!.id);
}

export async function mediaOf(page: Page, id: string): Promise<ShotMedia> {
  return (await (await page.request.get(`/api/shots/${id}`)).json()) as ShotMedia;
}

let bundle: string | null = null;

/** Opens an empty page of Kiv's origin with the harness in it. */
export async function openHarness(page: Page) {
  bundle ??= (
    await build({
      entryPoints: ['e2e/harness.ts'],
      bundle: true,
      write: false,
      format: 'iife',
      platform: 'browser',
      alias: { '@': path.resolve('src') },
    })
  ).outputFiles[0].text;
  await page.route('**/harness', (route) =>
    route.fulfill({ contentType: 'text/html', body: '<!doctype html><title>Harness</title>' }),
  );
  await page.goto('/harness');
  await page.addScriptTag({ content: bundle });
}

export type HarnessWindow = typeof globalThis & { harness: Harness };

/** Opens a crossing and waits for its first picture. */
export async function openCrossing(page: Page, id = demoCrossingId) {
  await page.goto(`/crossings/${id}`);
  await page.locator('.konvajs-content').waitFor();
  await expect(page.getByTestId('picture')).toHaveAttribute('data-shown-frame', /\d+/, { timeout: 30_000 });
}

export async function shownFrame(page: Page, frame: number) {
  await expect(page.getByTestId('picture')).toHaveAttribute('data-shown-frame', String(frame));
}

export async function saved(page: Page) {
  await expect(page.getByTestId('save-state')).toHaveText('Saved');
}

/** A crossing as the server holds it. */
export async function storedCrossing(page: Page, id = demoCrossingId) {
  return (await (await page.request.get(`/api/crossings/${id}`)).json()) as OpenedCrossing;
}

/** A new crossing of the demo's two shots; tests that edit do not share one. */
export async function newCrossing(page: Page, name: string): Promise<string> {
  const shots = (await (await page.request.get('/api/shots')).json()) as { id: string; name: string }[];
  const id = (wanted: string) => shots.find((shot) => shot.name === wanted)!.id;
  const response = await page.request.post('/api/crossings', {
    data: {
      name,
      plan: 'pass-by',
      outgoingShotId: id('Gardener with barrow'),
      incomingShotId: id('Lily pond, night'),
    },
  });
  return ((await response.json()) as { id: string }).id;
}

/** Places a point of the shot on the screen, at the fitted zoom. */
export async function screenOf(page: Page, x: number, y: number): Promise<[number, number]> {
  const frame = await page.getByRole('img', { name: 'The picture at the current frame' }).boundingBox();
  return [frame!.x + (x / 1280) * frame!.width, frame!.y + (y / 720) * frame!.height];
}

/** A server of its own, for tests that end it. */
export async function startServer(
  port: number,
  data: string,
  environment: Record<string, string> = {},
): Promise<ChildProcess> {
  const server = spawn('node', ['scripts/serve.mjs'], {
    env: { ...process.env, ...environment, PORT: String(port), KIV_DATA: data },
    stdio: 'ignore',
  });
  await expect
    .poll(
      () =>
        fetch(`http://127.0.0.1:${port}/api/shots`).then(
          (response) => response.status,
          () => 0,
        ),
      { timeout: 30_000 },
    )
    .toBe(200);
  return server;
}

/** The demo's own truth: where the gardener's back is in each frame, by rows. */
export const gardenersBack = JSON.parse(readFileSync('demo/footage/gardener-edge.json', 'utf8')) as {
  rows: number[];
  edges: (number | null)[][];
};

export async function jump(page: Page, frame: number) {
  await page.keyboard.type(String(frame));
  await page.keyboard.press('Enter');
  await shownFrame(page, frame);
}

/** Median and 95th percentile of a pose's distances from the truth, px, across. */
export function offTruth({ frame, coordinates }: PoseRow): [median: number, p95: number] {
  const line = flattenOutline(coordinates, false, 1, 0.1);
  const { rows, edges } = gardenersBack;
  const off: number[] = [];
  for (const [k, y] of rows.entries()) {
    const x = edges[frame][k];
    if (x === null || y < 20 || y > 700) continue;
    for (let i = 2; i < line.length; i += 2) {
      const [low, high] = [Math.min(line[i - 1], line[i + 1]), Math.max(line[i - 1], line[i + 1])];
      if (y < low || y > high || high === low) continue;
      const share = (y - line[i - 1]) / (line[i + 1] - line[i - 1]);
      off.push(Math.abs(line[i - 2] + (line[i] - line[i - 2]) * share - x));
      break;
    }
  }
  off.sort((a, b) => a - b);
  return [off[off.length >> 1], off[Math.floor(0.95 * off.length)]];
}
