import { spawnSync } from 'node:child_process';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type Spent, spendings } from '@/footage/spent';
import { origin, withApp } from './app';
import { type Figure, median } from './figure';

/** Exporting the demo, against ffmpeg merging the same two clips by a ready matte and encoding them at the same rate. */

const rounds = 3;
const formats = [
  { label: 'MP4 (H.264)', codec: ['-c:v', 'libx264'], file: 'bench.mp4' },
  {
    label: 'WebM (VP9)',
    codec: ['-c:v', 'libvpx-vp9', '-deadline', 'good', '-cpu-used', '5'],
    file: 'bench.webm',
  },
];

export function benchExport(): Promise<Figure[]> {
  return withApp(async (browser) => {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`${origin}/crossings/6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e01`);
    await page.waitForSelector('[data-shown-frame="42"]', { timeout: 60_000 });
    // Until everything that goes on by itself has come to rest.
    await page.waitForTimeout(20_000);
    await page.getByRole('button', { name: /8 Export/ }).click();
    // What it is held against has no sound either.
    await page.getByLabel(/^With sound/).click();
    const figures: Figure[] = [];
    for (const { label, codec, file } of formats) {
      const [own, theirs]: [number[], number[]] = [[], []];
      const spent: Spent[] = [];
      for (let round = 0; round < rounds; round++) {
        await page.getByLabel('Format').click();
        await page.getByRole('option', { name: label, exact: true }).click();
        await page.waitForTimeout(600);
        const start = performance.now();
        await page.getByRole('button', { name: 'Export', exact: true }).click();
        await page.getByText('Exported.').waitFor({ timeout: 120_000 });
        own.push((performance.now() - start) / 1000);
        theirs.push(merged(codec, file));
        spent.push(
          JSON.parse((await page.locator('[role=alert][data-spent]').getAttribute('data-spent'))!) as Spent,
        );
      }
      console.log(`${label}, ms a frame in its thread: ${splitOf(spent)}`);
      figures.push({
        name: `export of 66 frames of 720p as ${label}`,
        value: median(own),
        unit: 's',
        reference: { name: 'ffmpeg', value: median(theirs) },
        atMost: 1.3,
      });
    }
    return figures;
  });
}

/** What a frame takes, by what it is spent on: medians; decoders and encoders are waited for. */
function splitOf(all: readonly Spent[]): string {
  return spendings
    .map((on) => [on, median(all.map((spent) => spent[on])) / 66] as const)
    .filter(([, ms]) => ms >= 0.05)
    .map(([on, ms]) => `${on} ${ms.toFixed(1)}`)
    .join(', ');
}

/** Seconds that ffmpeg takes. */
function merged(codec: readonly string[], file: string): number {
  const footage = (name: string) => path.join('demo', 'footage', name);
  const start = performance.now();
  const { status, stderr } = spawnSync('ffmpeg', [
    ...['-v', 'error', '-y', '-i', footage('lily-pond.mp4')],
    ...['-ss', '1.2', '-i', footage('gardener.mp4'), '-ss', '1.2', '-i', footage('gardener-alpha.mkv')],
    ...['-filter_complex', '[2]format=yuv420p[m];[0][1][m]maskedmerge', '-frames:v', '66'],
    ...[...codec, '-b:v', '16128k', path.join(tmpdir(), file)],
  ]);
  if (status !== 0) throw new Error(`ffmpeg: ${stderr.toString()}`);
  return (performance.now() - start) / 1000;
}
