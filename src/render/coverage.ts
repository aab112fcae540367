import { coverageAt } from '@/core/compose/coverage-curve';
import type { CrossingDocument } from '@/core/document/tables';
import { MatteScratch } from '@/core/matte/matte';
import type { PictureEngine } from './engine';

/**
 * What is covered on every frame of a crossing, 0 to 1.
 *
 * @param goOn asked after every frame; false gives up, and null is returned.
 * @throws Superseded when something else is wanted of the engine.
 */
export async function measureCoverage(
  document: CrossingDocument,
  engine: PictureEngine,
  goOn: (frame: number) => boolean | Promise<boolean>,
  scratch = new MatteScratch(),
): Promise<Float32Array<ArrayBuffer> | null> {
  const coverage = new Float32Array(document.crossing.length);
  for (let frame = 0; frame < coverage.length; frame++) {
    const pictures = await engine.cutPictures(document, frame);
    coverage[frame] = coverageAt(document, engine.shots, frame, scratch, pictures);
    if (!(await goOn(frame))) return null;
  }
  return coverage;
}
