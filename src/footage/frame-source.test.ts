import type { PicturePlanes } from '@/core/picture/planes';
import { FrameCache } from './frame-cache';
import { FrameSource, Superseded } from './frame-source';

/** Frames by number from a file of 30 with a key frame every ten, of which the decoding is counted. */

const rate = 25;
const keyEvery = 10;
const count = 30;
/** Frames as they were decoded, and where decoding began. */
let decoded: number[] = [];
let begun: number[] = [];
/** Frames that the file lacks though its index has them. */
let lost = new Set<number>();
/** Frames at which the decoder fails, and those whose pictures cannot be read. */
let broken = new Set<number>();
let unreadable = new Set<number>();
/** Frames that the file gives the time of the one before. */
let doubled = new Set<number>();
const timeOf = (frame: number) => (doubled.has(frame) ? frame - 1 : frame) / rate;

jest.mock('./facts', () => ({ containerFormats: [] }));
jest.mock('./planes-of-sample', () => ({
  copyPlanes: async ({ frame }: { frame: number }, _colour: unknown, halvings: number) => {
    if (unreadable.has(frame)) throw new Error('Unknown pixel format.');
    return {
      width: 4 >> halvings,
      height: 4 >> halvings,
      y: new Uint8Array(16).fill(frame),
    } as PicturePlanes;
  },
}));
jest.mock('@/core/picture/planes', () => ({ byteLength: ({ y }: PicturePlanes) => y.length }));
jest.mock('mediabunny', () => ({
  UrlSource: class {},
  Input: class {
    getPrimaryVideoTrack = async () => ({
      canDecode: async () => true,
      getCodedWidth: async () => 4,
      getCodedHeight: async () => 4,
    });
    dispose() {}
  },
  VideoSampleSink: class {
    async *samples(from: number) {
      const first = Math.round(from * rate);
      begun.push(first);
      for (let frame = first; frame < count; frame++) {
        await new Promise((done) => setImmediate(done));
        if (lost.has(frame)) continue;
        if (broken.has(frame)) throw new Error('The decoder has failed.');
        decoded.push(frame);
        yield { timestamp: timeOf(frame), frame, close: () => undefined };
      }
    }
  },
}));

function sourceOf(budget = 1e6) {
  const index = {
    timestamps: Float64Array.from({ length: count }, (_, n) => timeOf(n)),
    keyFrames: Uint32Array.from({ length: count / keyEvery }, (_, k) => k * keyEvery),
  };
  const cache = new FrameCache(budget);
  const told: number[] = [];
  const colour = { matrix: 'bt709', fullRange: false } as const;
  const source = new FrameSource('s', '/file', index, colour, cache, (frame) => told.push(frame));
  return { source, cache, told };
}

const settled = () => new Promise((done) => setTimeout(done, 40));

beforeEach(() => {
  decoded = [];
  begun = [];
  lost = new Set();
  broken = new Set();
  unreadable = new Set();
  doubled = new Set();
});

test('a frame comes with all before it from its key frame on, and those are there at once from then on', async () => {
  const { source, told } = sourceOf();
  expect((await source.frame(14)).y[0]).toBe(14);
  expect(decoded).toEqual([10, 11, 12, 13, 14]);
  expect(told).toEqual(decoded);
  await source.frame(11);
  await source.frame(15);
  // Onwards the decoding goes on where it was; what is held is not decoded again.
  expect(decoded).toEqual([10, 11, 12, 13, 14, 15]);
  expect(begun).toEqual([10]);
  // Past another key frame it begins there, and behind it anew.
  await source.frame(27);
  await source.frame(3);
  expect(begun).toEqual([10, 20, 0]);
  expect(decoded.slice(6)).toEqual([20, 21, 22, 23, 24, 25, 26, 27, 0, 1, 2, 3]);
});

test('the newest that is asked for comes first, and one that is not wanted any more is given up', async () => {
  const { source } = sourceOf();
  const order: number[] = [];
  const far = source.frame(9);
  const refused = expect(far).rejects.toThrow(Superseded);
  const near = source.frame(25).then(() => order.push(25));
  const nearer = source.frame(21).then(() => order.push(21));
  source.keepOnly(new Set([21, 25]));
  await Promise.all([refused, near, nearer]);
  expect(order).toEqual([21, 25]);
  expect(Math.max(...decoded.filter((frame) => frame < 10), 0)).toBeLessThan(3);
});

test('what is read ahead gives way to what is asked for, and each size is one of its own', async () => {
  const { source, cache } = sourceOf();
  source.readAhead([5, 6, 7], 1);
  const asked = await source.frame(12);
  expect(asked.width).toBe(4);
  await settled();
  expect([5, 6, 7].map((frame) => cache.get('s', frame, 1)?.width)).toEqual([2, 2, 2]);
  expect(cache.has('s', 12, 1)).toBe(false);
  // What is held is not read again.
  const before = decoded.length;
  source.readAhead([7, 6, 5], 1);
  await settled();
  expect(decoded).toHaveLength(before);
});

test('at rest the decoder is let go of, and begins again at a key frame when something is asked for', async () => {
  const { source, cache } = sourceOf();
  await source.frame(12);
  await source.rest();
  cache.clear();
  await source.frame(13);
  expect(begun).toEqual([10, 10]);
});

test('a frame that is not in the shot, or not in the file, and a shot that was closed are said', async () => {
  const { source } = sourceOf();
  await expect(source.frame(count)).rejects.toThrow(RangeError);
  await expect(source.frame(1.5)).rejects.toThrow('The shot has frames 0 to 29, not 1.5.');
  lost.add(4);
  await expect(source.frame(4)).rejects.toThrow('Frame 4 is missing from the file.');
  // It is of use for others still.
  expect((await source.frame(5)).y[0]).toBe(5);
  const waiting = source.frame(29);
  const closed = expect(waiting).rejects.toThrow('The shot was closed.');
  await source.close();
  await closed;
});

test('one frame that cannot be decoded, or read, takes no other with it, whether asked for before or after', async () => {
  broken.add(14);
  unreadable.add(22);
  const { source } = sourceOf();
  const asked = [3, 22, 14, 25].map((frame) => source.frame(frame));
  const found = await Promise.allSettled(asked);
  expect(found.map(({ status }) => status)).toEqual(['fulfilled', 'rejected', 'rejected', 'rejected']);
  // Those behind it in its group of pictures are out of reach, those before it are not.
  expect((await source.frame(13)).y[0]).toBe(13);
  await expect(source.frame(15)).rejects.toThrow('The decoder has failed.');
  unreadable.clear();
  expect((await source.frame(25)).y[0]).toBe(25);
  // Ahead it is tried once, and what else is wanted comes.
  begun = [];
  source.readAhead([15, 16, 17, 27, 5]);
  await settled();
  expect(begun.filter((from) => from === 10)).toHaveLength(1);
  expect((await source.frame(5)).y[0]).toBe(5);
});

test('of frames that have one time, all are the picture of that time', async () => {
  doubled.add(12);
  const { source } = sourceOf();
  expect((await source.frame(12)).y[0]).toBe((await source.frame(11)).y[0]);
  expect((await source.frame(13)).y[0]).toBe(13);
});
