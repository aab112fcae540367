import { expect, test } from '@playwright/test';
import { views } from '@/core/compose/scene';
import {
  type HarnessWindow,
  numberedClip,
  openHarness,
  mediaOf,
  storedCrossing,
  uploadFile,
} from './support';

test('the compositor’s pixels are the CPU reference’s within one code value for 99.9 %', async ({ page }) => {
  const { document, shots } = await storedCrossing(page);
  const traced = Object.values(document.layers).find((layer) => layer.role === 'outgoing')!.id;
  await openHarness(page);
  const compare = (doc: typeof document, media: typeof shots, frame: number, view: (typeof views)[number]) =>
    page.evaluate(
      ([doc, media, frame, view, traced]) =>
        (globalThis as HarnessWindow).harness.compare(doc, media, frame, view, traced),
      [doc, media, frame, view, traced] as const,
    );
  for (const [frame, view] of [
    [3, 'result'],
    [33, 'result'],
    [60, 'result'],
    [33, 'plain'],
    [33, 'cut'],
    [33, 'matte'],
    [33, 'checkerboard'],
  ] as const) {
    const { off, largest, mean } = await compare(document, shots, frame, view);
    expect(off, `${view} at ${frame}: differing`).toBeLessThan(0.001);
    expect(largest, `${view} at ${frame}: largest`).toBeLessThanOrEqual(3);
    // Both drew something: not two black pictures.
    expect(mean).toBeGreaterThan(70);
  }

  // An incoming shot of another size and colour matrix, enlarged to fill the frame.
  const { id } = await uploadFile(page, numberedClip('small.mp4', 60, ['-c:v', 'libx264']));
  const small = await mediaOf(page, id!);
  const layers = Object.fromEntries(
    Object.values(document.layers).map((layer) => [
      layer.id,
      layer.role === 'incoming' ? { ...layer, shotId: id! } : layer,
    ]),
  );
  const scaled = await compare({ ...document, layers }, [...shots, small], 33, 'result');
  expect(scaled.off).toBeLessThan(0.001);
});
