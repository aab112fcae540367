import { spawnSync } from 'node:child_process';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { exportQualities } from '@/core/formats/export-formats';
import { type Spent, spendings } from '@/footage/spent';
import { origin, withApp } from './app';
import { type Figure, median } from './figure';
import { clip, crossing } from './large-footage';

/**
 * Exporting the demo, and footage of 1080p and 4K, against ffmpeg merging the same two clips by a ready matte and encoding them
 * at the same rate.
 */

const formats = [
  { label: 'MP4 (H.264)', codec: ['-c:v', 'libx264'], file: 'bench.mp4' },
  {
    label: 'WebM (VP9)',
    codec: ['-c:v', 'libvpx-vp9', '-deadline', 'good', '-cpu-used', '5'],
    file: 'bench.webm',
  },
];

/** What is exported: the demo, and footage of the sizes that people bring. */
interface Job {
  name: string;
  frames: number;
  address: string;
  /** Arguments of ffmpeg that read both shots and the matte between them. */
  inputs: string[];
  bitrate: string;
  rounds: number;
  atMost: number;
}

const demo = (name: string) => path.join('demo', 'footage', name);

function demoJob(): Job {
  return {
    ...{ name: '720p', frames: 66, rounds: 3, atMost: 1.3, bitrate: '16128k' },
    address: `${origin}/crossings/6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e01`,
    inputs: [
      ...['-i', demo('lily-pond.mp4'), '-ss', '1.2', '-i', demo('gardener.mp4')],
      ...['-ss', '1.2', '-i', demo('gardener-alpha.mkv')],
    ],
  };
}

async function largeJob(name: string, width: number, height: number, frames: number): Promise<Job> {
  const file = (shot: string) => clip(shot, width, height, frames, 25);
  const bitrate = `${Math.round((width * height * 25 * exportQualities.fine.bitsPerPixel) / 1000)}k`;
  return {
    ...{ name, frames, rounds: 1, atMost: 1, bitrate },
    address: await crossing(`Exported, ${name}`, width, height, frames),
    inputs: ['lily-pond', 'gardener', 'gardener-alpha.mkv'].flatMap((shot) => ['-i', file(shot)]),
  };
}

export function benchExport(): Promise<Figure[]> {
  return withApp(async (browser) => {
    const jobs = [demoJob(), await largeJob('1080p', 1920, 1080, 75), await largeJob('4K', 3840, 2160, 40)];
    const figures: Figure[] = [];
    for (const job of jobs) {
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      await page.goto(job.address);
      await page.waitForSelector('[data-shown-frame]', { timeout: 60_000 });
      // Until everything that goes on by itself has come to rest.
      await page.waitForTimeout(20_000);
      await page.getByRole('button', { name: /8 Export/ }).click();
      // What it is held against has no sound either.
      const sound = page.getByLabel(/^With sound/);
      if ((await sound.count()) > 0) await sound.click();
      for (const format of formats) figures.push(await exportsOf(page, job, format));
      await page.close();
    }
    return figures;
  });
}

async function exportsOf(
  page: Page,
  job: Job,
  { label, codec, file }: (typeof formats)[number],
): Promise<Figure> {
  const [own, theirs]: [number[], number[]] = [[], []];
  const spent: Spent[] = [];
  for (let round = 0; round < job.rounds; round++) {
    await page.getByLabel('Format').click();
    await page.getByRole('option', { name: label, exact: true }).click();
    await page.waitForTimeout(600);
    const start = performance.now();
    await page.getByRole('button', { name: 'Export', exact: true }).click();
    await page.getByText('Exported.').waitFor({ timeout: 600_000 });
    own.push((performance.now() - start) / 1000);
    theirs.push(merged(job, codec, file));
    spent.push(
      JSON.parse((await page.locator('[role=alert][data-spent]').getAttribute('data-spent'))!) as Spent,
    );
  }
  console.log(
    `${job.name}, ${label}: ${(median(own) / median(theirs)).toFixed(2)} of ffmpeg’s ${median(theirs).toFixed(1)} s; ms a frame in its thread: ${splitOf(spent, job.frames)}`,
  );
  return {
    name: `export of ${job.frames} frames of ${job.name} as ${label}`,
    value: median(own),
    unit: 's',
    reference: { name: 'ffmpeg', value: median(theirs) },
    atMost: job.atMost,
  };
}

/** What a frame takes, by what it is spent on: medians; decoders and encoders are waited for. */
function splitOf(all: readonly Spent[], frames: number): string {
  return spendings
    .map((on) => [on, median(all.map((spent) => spent[on])) / frames] as const)
    .filter(([, ms]) => ms >= 0.05)
    .map(([on, ms]) => `${on} ${ms.toFixed(1)}`)
    .join(', ');
}

/** Seconds that ffmpeg takes. */
function merged({ inputs, frames, bitrate }: Job, codec: readonly string[], file: string): number {
  const start = performance.now();
  const { status, stderr } = spawnSync('ffmpeg', [
    ...['-v', 'error', '-y', ...inputs],
    ...['-filter_complex', '[2]format=yuv420p[m];[0][1][m]maskedmerge', '-frames:v', String(frames)],
    ...[...codec, '-b:v', bitrate, path.join(tmpdir(), file)],
  ]);
  if (status !== 0) throw new Error(`ffmpeg: ${stderr.toString()}`);
  return (performance.now() - start) / 1000;
}
