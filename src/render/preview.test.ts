import type { ShotMedia } from '@/wire/answers';
import { documentOf } from '@/core/document/document';
import { plainCrossing } from '@/core/document/tables';
import { Preview, type PreviewEvent } from './preview';

/** The preview before pictures that fail: what else is wanted is drawn all the same. */

/** Frames that cannot be decoded, and what waits until the test lets it go on. */
const mockBroken = new Set<number>();
let mockWaits: Promise<void> = Promise.resolve();
jest.mock('./compositor', () => ({
  Compositor: class {
    show() {}
    finish() {}
  },
}));
jest.mock('./thumbnails', () => ({
  Thumbnails: class {
    width = 4;
    height = 2;
    keep() {}
    missing(_: unknown, frame: number) {
      return [{ shotId: 's', sourceFrame: frame }];
    }
    draw() {
      return new Uint8ClampedArray(32);
    }
  },
}));
jest.mock('./coverage', () => ({
  measureCoverage: () =>
    mockBroken.has(-1) ? Promise.reject(new Error('No coverage.')) : Promise.resolve(new Float32Array(9)),
}));
jest.mock('@/core/compose/scene', () => ({
  sceneAt: (_: unknown, __: unknown, frame: number) => ({ frame, layers: [] }),
}));
jest.mock('./engine', () => ({
  PictureEngine: class {
    shots = {};
    prepareNow = () => null;
    keepOnly() {}
    readAhead() {}
    isOriginal = () => true;
    async prepare({ frame }: { frame: number }) {
      await mockWaits;
      if (mockBroken.has(frame)) throw new Error(`Frame ${frame} cannot be decoded.`);
      return [];
    }
    async picture({ sourceFrame }: { sourceFrame: number }) {
      if (mockBroken.has(sourceFrame)) throw new Error(`Frame ${sourceFrame} cannot be decoded.`);
    }
  },
}));

const crossing = { ...plainCrossing, id: 'c', name: 'A', plan: 'pass-by' as const, width: 64, height: 48 };
const document = documentOf({ crossing: [{ ...crossing, rateNum: 25, rateDen: 1, length: 9 }] });
const look = { view: 'result' as const, traced: null, quality: 1, visible: [0, 0, 64, 48] as const };
const settled = () => new Promise((done) => setTimeout(done, 30));

test('a frame that fails while another is wanted stops nothing; one that is wanted and fails is said', async () => {
  const told: PreviewEvent[] = [];
  mockBroken.add(5).add(-1);
  let goOn = () => {};
  mockWaits = new Promise((done) => (goOn = done));
  const preview = new Preview({} as OffscreenCanvas, document, [] as ShotMedia[], 54, (event) =>
    told.push(event),
  );
  const show = (frame: number) => preview.show(frame, look as never);
  show(5);
  show(6);
  goOn();
  await settled();
  const shown = () => told.flatMap((event) => (event.kind === 'shown' ? [event.frame] : []));
  const failed = () => told.flatMap((event) => (event.kind === 'failed' ? [event.message] : []));
  expect(shown()).toEqual([6]);
  // Coverage has failed, and thumbnails come all the same, but for the one that cannot be had.
  preview.requestThumbnails([4, 5, 7]);
  await settled();
  expect(told.flatMap((event) => (event.kind === 'thumbnail' ? [event.frame] : []))).toEqual([4, 7]);
  expect(failed()).toEqual(['No coverage.', 'Frame 5 cannot be decoded.']);
  show(5);
  await settled();
  show(7);
  await settled();
  expect([failed().length, shown()]).toEqual([3, [6, 7]]);
});
