import { documentOf } from '@/core/document/document';
import { plainCrossing, plainLayer, plainOutline, plainPose, poseId } from '@/core/document/tables';
import type { Shot } from '@/core/model/shot';
import type { PicturePlanes } from '@/core/picture/planes';
import type { ShotMedia } from '@/wire/answers';
import { Checks, type ChecksEvent } from './checks';

/** How the checks look at a crossing, with drawn pictures in place of decoded ones: a dark pole over stripes. */

const [width, height, count] = [320, 180, 24];
const step = 6;
const poleLeft = (frame: number) => 60 + step * frame;

function drawn(frame: number): PicturePlanes {
  const y = new Uint8Array(width * height);
  for (let row = 0; row < height; row++)
    for (let x = 0; x < width; x++) {
      const behind = 140 + 40 * Math.sin(x / 9 + row / 14);
      y[row * width + x] = x >= poleLeft(frame) && x < poleLeft(frame) + 50 ? 40 : behind;
    }
  const chroma = new Uint8Array((width * height) / 4).fill(128);
  const size = { width, height, chromaWidth: width / 2, chromaHeight: height / 2 };
  return { ...size, y, u: chroma, v: chroma, colour: { matrix: 'bt709', fullRange: false } };
}

const given: number[] = [];
const rested: number[] = [];
/** What happens as soon as so many pictures were asked for. */
let happens: [after: number, what: () => void] | null = null;

// One that does not keep the tests from ending.
jest.mock('./let-messages-in', () => ({ letMessagesIn: () => new Promise((done) => setImmediate(done)) }));
jest.mock('./engine', () => ({
  PictureEngine: class {
    shots: Record<string, Shot> = {};
    constructor(media: ShotMedia[]) {
      for (const { shot } of media) this.shots[shot.id] = shot;
    }
    async picture({ sourceFrame }: { sourceFrame: number }) {
      given.push(sourceFrame);
      if (given.length === happens?.[0]) happens[1]();
      return drawn(sourceFrame);
    }
    halvedPicture(asked: { sourceFrame: number }) {
      return this.picture(asked);
    }
    cutPictures = async () => ({ own: null, ready: null });
    rest = async () => void rested.push(given.length);
    close = async () => undefined;
  },
}));

const shotOf = (id: string) =>
  ({
    ...{ id, name: id, width, height, rotation: 0, rate: { num: 25, den: 1 }, frameCount: count },
    ...{ colour: { matrix: 'bt709', fullRange: false }, motion: null },
  }) as Shot;
const media = ['o', 'i'].map((id) => ({ shot: shotOf(id) }) as ShotMedia);

/** Traced down the pole's left side on every frame, but for one that lies beside it. */
function traced(off: number | null = null) {
  const layers = (['incoming', 'outgoing'] as const).map((role, position) => ({
    ...{ ...plainLayer, id: role, role, position, shotId: role[0] },
  }));
  const outline = {
    ...{ ...plainOutline, id: 's', layerId: 'outgoing', cutsLayerId: null, name: 'Seam', position: 0 },
    ...{ kind: 'seam' as const, sweptSide: 'left' as const, points: ['a', 'b'] },
  };
  const poses = Array.from({ length: count }, (_, frame) => ({
    ...plainPose,
    ...{ id: poseId('s', frame), outlineId: 's', frame },
    ...{ origin: 'by hand' as const, onward: 'linear' as const },
    coordinates: [-5, height + 5].flatMap((y) => [poleLeft(frame) + (frame === off ? 6 : 0), y, 0, 0, 0, 0]),
  }));
  const crossing = {
    ...{ ...plainCrossing, id: 'c', name: 'T', plan: 'pass-by' as const, width, height },
    ...{ length: count, rateNum: 25, rateDen: 1 },
  };
  return documentOf({ crossing: [crossing], layer: layers, outline: [outline], pose: poses });
}

function lookingAt(document = traced()) {
  const told: ChecksEvent[] = [];
  const checks = new Checks(document, media, (event) => told.push(event));
  return { checks, told };
}

const later = (ms: number) => new Promise((done) => setTimeout(done, ms));

beforeEach(() => {
  given.length = 0;
  rested.length = 0;
  happens = null;
});

test('a trace on the edge has nothing against it, one frame beside it is found, and memory is given back', async () => {
  const { checks, told } = lookingAt();
  await checks.inspect();
  expect(told.at(-1)).toMatchObject({ share: 1, unjudged: [] });
  const against = (event: ChecksEvent) =>
    event.findings.filter(({ kind }) => kind === 'background peeks' || kind === 'object is cut');
  expect(against(told.at(-1)!)).toEqual([]);
  expect(rested).toEqual([given.length]);
  checks.replaceDocument(traced(11));
  await checks.inspect();
  expect(against(told.at(-1)!)).toEqual([expect.objectContaining({ from: 11, to: 11, outlineId: 's' })]);
});

test('while it stands aside no picture is asked for, after a while memory is given back, then it goes on', async () => {
  const { checks, told } = lookingAt();
  happens = [5, () => checks.pause(true)];
  const looked = checks.inspect();
  while (rested.length === 0) await later(50);
  expect(given.length).toBe(5);
  expect(rested).toEqual([5]);
  checks.pause(false);
  await looked;
  expect(told.at(-1)).toMatchObject({ share: 1 });
});

test('a change ends the look within a frame, and what was asked of it comes to an end without a failure', async () => {
  const { checks, told } = lookingAt();
  happens = [5, () => checks.replaceDocument(traced(3))];
  await checks.inspect();
  expect(given.length).toBe(5);
  expect(told.every(({ share }) => share < 1)).toBe(true);
});
