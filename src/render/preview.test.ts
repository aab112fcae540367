import type { ShotMedia } from '@/wire/answers';
import { documentOf } from '@/core/document/document';
import { changeRow } from '@/core/document/edit';
import { plainCrossing } from '@/core/document/tables';
import { Preview, type PreviewEvent } from './preview';

/** The preview before pictures that fail: what else is wanted is drawn all the same. */

/** Frames that cannot be decoded, and what waits until the test lets it go on. */
const mockBroken = new Set<number>();
let mockWaits: Promise<void> = Promise.resolve();
/** What has been drawn. */
const mockDrawn: unknown[] = [];
jest.mock('./compositor', () => ({
  Compositor: class {
    show(scene: unknown) {
      mockDrawn.push(scene);
    }
    finish() {}
  },
}));
jest.mock('./let-messages-in', () => ({ letMessagesIn: () => new Promise((done) => setImmediate(done)) }));
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
  sceneAt: ({ crossing }: { crossing: { name: string } }, _: unknown, frame: number) => ({
    ...{ frame, layers: [], name: crossing.name },
  }),
}));
jest.mock('./engine', () => ({
  PictureEngine: class {
    shots = {};
    take() {}
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

test('of many moves of a hand the last is drawn, letting go draws nothing more, and a better picture does', async () => {
  mockBroken.clear();
  mockWaits = Promise.resolve();
  mockDrawn.length = 0;
  let shown = 0;
  const preview = new Preview({} as OffscreenCanvas, document, [] as ShotMedia[], 54, (event) => {
    if (event.kind === 'shown') shown++;
  });
  preview.show(2, look as never);
  await settled();
  const named = (name: string) => [changeRow('crossing', document.crossing, { ...document.crossing, name })];
  const names = () => mockDrawn.splice(0).map((scene) => (scene as { name: string }).name);
  expect(names()).toEqual(['A']);
  for (const name of ['B', 'C', 'D']) preview.setDraft(named(name));
  await settled();
  expect(names()).toEqual(['D']);
  preview.change(named('D'));
  await settled();
  expect([names(), shown]).toEqual([[], 3]);
  preview.takeShot({} as ShotMedia);
  await settled();
  expect(names()).toEqual(['D']);
});
