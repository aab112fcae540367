import { expect, type Page } from '@playwright/test';
import { test } from './kiv';
import type { View } from '@/core/compose/scene';
import type { BlurBorder } from '@/core/model/choices';
import type { Channel } from '@/core/model/channels';
import { type CrossingDocument, moveId, type MoveRow, plainOutline } from '@/core/document/tables';
import type { ShotMedia } from '@/wire/answers';
import {
  type HarnessWindow,
  numberedClip,
  openHarness,
  mediaOf,
  storedCrossing,
  uploadFile,
} from './support';

const caseNames = [
  'bent',
  'graded',
  'graded in light',
  'smeared',
  'smeared, its borders mirrored',
  'smeared, its borders let go',
  'a leaf',
  'straightened',
  'mixed, faded and straightened',
  'aslant',
  'steadied',
  'kept',
  'cut by another',
  'overlay',
  'difference',
  'beside',
  'split',
  'keyed',
  'key’s matte',
  'cut by a picture',
  'blurred',
  'moved, faded, and moved as a whole',
] as const;
type CaseName = (typeof caseNames)[number];

/** The demo's first crossing in the page, opened once for all cases. */
let page: Page;
let document: CrossingDocument;
let shots: ShotMedia[];
/** The layer that is traced. */
let traced: string;
let cases: Record<CaseName, Case>;

test.beforeAll(async ({ browser, kiv }) => {
  page = await browser.newPage({ baseURL: kiv.origin });
  ({ document, shots } = await storedCrossing(page));
  traced = Object.values(document.layers).find((layer) => layer.role === 'outgoing')!.id;
  cases = casesOf(document, shots, traced);
  await openHarness(page);
});
test.afterAll(() => page.close());

const compare = (doc: CrossingDocument, media: ShotMedia[], frame: number, view: View) =>
  page.evaluate(
    ([doc, media, frame, view, traced]) =>
      (globalThis as HarnessWindow).harness.compare(doc, media, frame, view, traced),
    [doc, media, frame, view, traced] as const,
  );

/** As a video takes it, where its tiles come from the shots themselves and where they are drawn. */
const planesOf = (doc: CrossingDocument, frame: number) =>
  page.evaluate(
    ([doc, media, frame]) => (globalThis as HarnessWindow).harness.comparePlanes(doc, media, frame),
    [doc, shots, frame] as const,
  );

for (const [frame, view] of [
  [3, 'result'],
  [33, 'result'],
  [60, 'result'],
  [33, 'plain'],
  [33, 'cut'],
  [33, 'matte'],
  [33, 'checkerboard'],
] as const)
  test(`the compositor’s pixels are the CPU reference’s within one code value for 99.9 %: ${view} at ${frame}`, async () => {
    const { off, largest, mean } = await compare(document, shots, frame, view);
    expect(off, 'differing').toBeLessThan(0.001);
    expect(largest).toBeLessThanOrEqual(3);
    // Both drew something: not two black pictures.
    expect(mean).toBeGreaterThan(70);
  });

test('planes for videos: tiles that are untouched are the shot’s own, the others are drawn', async () => {
  for (const frame of [3, 33, 60]) {
    const { off, chroma, same } = await planesOf(document, frame);
    expect(same).toBeLessThan(1);
    expect(off, `luma at ${frame}`).toBeLessThan(0.001);
    // Drawn chroma is that of the shot, spread over pixels and averaged again: a little softer.
    expect(chroma, `chroma at ${frame}`).toBeLessThan(1);
  }
  // Aslant, all of it is drawn.
  const turned = Object.fromEntries(
    Object.values(document.layers).map((layer) => [layer.id, { ...layer, turn: 3 }]),
  );
  expect((await planesOf({ ...document, layers: turned }, 33)).same).toBe(1);
});

for (const blend of ['linear sRGB', 'linear BT.709'] as const)
  test(`mixed in light, sums are kept finer than a code value: ${blend}`, async () => {
    const lit = { ...document, crossing: { ...document.crossing, blend } };
    for (const view of ['result', 'checkerboard'] as const) {
      const { off, largest } = await compare(lit, shots, 33, view);
      expect(off, view).toBeLessThan(0.001);
      expect(largest, view).toBeLessThanOrEqual(3);
    }
  });

test('an incoming shot of another size and colour matrix fills the frame alike', async () => {
  const { id } = await uploadFile(page, numberedClip('small.mp4', 60, ['-c:v', 'libx264']));
  const small = await mediaOf(page, id!);
  const layers = Object.fromEntries(
    Object.values(document.layers).map((layer) => [
      layer.id,
      layer.role === 'incoming' ? { ...layer, shotId: id! } : layer,
    ]),
  );
  expect((await compare({ ...document, layers }, [...shots, small], 33, 'result')).off).toBeLessThan(0.001);
});

for (const what of caseNames)
  test(`the compositor draws as the CPU reference does: ${what}`, async () => {
    const { doc, media = shots, view = 'result' } = cases[what];
    const { off, mean } = await compare(doc, media, 33, view);
    expect(off).toBeLessThan(0.001);
    expect(mean).toBeGreaterThan(40);
  });

interface Case {
  doc: CrossingDocument;
  media?: ShotMedia[];
  view?: View;
}

/** Crossings in which one thing each is done to what is drawn. */
function casesOf(document: CrossingDocument, shots: ShotMedia[], traced: string): Record<CaseName, Case> {
  const set = (settings: object, role = 'outgoing') => ({
    ...document,
    layers: Object.fromEntries(
      Object.values(document.layers).map((layer) => [
        layer.id,
        layer.role === role && layer.visible ? { ...layer, ...settings } : layer,
      ]),
    ),
  });
  const frames = Array.from({ length: 96 }, (_, k) => [
    3 * Math.sin(k),
    2 * Math.cos(2 * k),
    1,
    0.004 * Math.sin(k),
    1,
    0,
  ]);
  const moved = shots.map((media) => ({
    ...media,
    shot: { ...media.shot, motion: { frames: frames.flat(), crosser: null } },
  }));
  const incoming = Object.values(document.layers).find(
    (layer) => layer.role === 'incoming' && layer.visible,
  )!;
  const foreign = {
    ...set({ turn: -7, scale: 80 }, 'incoming'),
    outlines: Object.fromEntries(
      Object.values(document.outlines).map((row) => [row.id, { ...row, cutsLayerId: incoming.id }]),
    ),
  };
  // The greens of the house keyed, what is left of them taken out, and the edge blurred with its movement.
  const chroma = { id: traced, cb: 118, cr: 122, tolerance: 4, softness: 9, grow: -1, clean: 6, spill: 70 };
  const keyed = { ...document, chromas: { [traced]: chroma } };
  const blurred = {
    ...document,
    outlines: Object.fromEntries(
      Object.values(document.outlines).map((row) => [row.id, { ...row, shutter: 180, roundness: 12 }]),
    ),
  };
  const key = (ownerId: string, channel: Channel, frame: number, value: number, second = 0, third = 0) => {
    const id = moveId(ownerId, channel, frame);
    const row: MoveRow = { id, ownerId, channel, frame, onward: 'eased', ease: [], value, second, third };
    return { [id]: row };
  };
  const moving = {
    ...document,
    moves: {
      ...key(traced, 'size', 20, 100),
      ...key(traced, 'size', 46, 260),
      ...key(traced, 'place', 20, 0),
      ...key(traced, 'place', 46, -180, 90),
      ...key(traced, 'opacity', 30, 100),
      ...key(traced, 'opacity', 40, 20),
      ...key(document.crossing.id, 'turn', 0, 6),
      ...key(document.crossing.id, 'size', 0, 130),
    },
  };
  const bent = {
    ...document,
    moves: {
      ...key(traced, 'upper-left', 0, 60, 30),
      ...key(traced, 'lower-right', 0, -90, -20),
      ...key(incoming.id, 'upper-right', 0, -140, 50),
      ...key(incoming.id, 'size', 0, 160),
    },
  };
  const graded = {
    ...document,
    moves: {
      ...key(traced, 'exposure', 0, 0.7),
      ...key(traced, 'contrast', 0, 130),
      ...key(incoming.id, 'saturation', 0, 40),
      ...key(incoming.id, 'warmth', 0, 9),
      ...key(incoming.id, 'tint', 0, -4),
    },
  };
  const smeared = {
    ...moving,
    crossing: { ...document.crossing, moveShutter: 270, blurBorder: 'transparent' as BlurBorder },
    moves: {
      ...moving.moves,
      ...key(incoming.id, 'blur-along', 0, 40, 30),
      ...key(incoming.id, 'blur-about', 0, 5, 100, -40),
      ...key(traced, 'blur-towards', 0, 9, -200, 60),
    },
  };
  // A loop over the house's middle that swings as a leaf.
  const leafId = '6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1eff';
  const box = [420, 180, 700, 170, 690, 610, 430, 600];
  const leaf = {
    ...document,
    outlines: {
      [leafId]: {
        ...{ ...plainOutline, id: leafId, layerId: traced, cutsLayerId: null, name: 'Leaf', position: 9 },
        ...{ kind: 'loop' as const, sweptSide: 'right' as const, points: ['a', 'b', 'c', 'd'] },
        ...{ hinge: 'd', beforeFirst: 'hold' as const, afterLast: 'hold' as const, featherOutside: 2 },
        ...{ inwards: false, thickness: 40 },
      },
    },
    poses: {
      [leafId]: [
        {
          ...{ id: `${leafId}@0`, outlineId: leafId, frame: 0, origin: 'by hand' as const },
          ...{ onward: 'linear' as const, unsure: null, doubt: 0, offBy: [] },
          coordinates: [0, 2, 4, 6].flatMap((k) => [box[k], box[k + 1], 0, 0, 0, 0]),
        },
      ],
    },
    crossing: { ...document.crossing, moveShutter: 180 },
    moves: { ...key(leafId, 'swing', 20, 0), ...key(leafId, 'swing', 46, 80) },
  };
  // The middle of it at full size, for what takes the reference long.
  const middleOf = (doc: typeof document) => ({
    ...doc,
    crossing: { ...doc.crossing, width: 640, height: 360 },
    layers: Object.fromEntries(
      Object.values(doc.layers).map((layer) => [layer.id, { ...layer, fit: 'exact' as const }]),
    ),
  });
  // Whole, so that its borders lie on the picture's.
  const smearedWhole = (blurBorder: BlurBorder) => ({
    ...smeared,
    crossing: { ...smeared.crossing, width: 640, height: 360, blurBorder },
  });
  return {
    bent: { doc: middleOf(bent) },
    graded: { doc: middleOf(graded) },
    'graded in light': {
      doc: middleOf({ ...graded, crossing: { ...graded.crossing, blend: 'linear sRGB' as const } }),
    },
    smeared: { doc: smearedWhole('extend') },
    'smeared, its borders mirrored': { doc: smearedWhole('mirror') },
    'smeared, its borders let go': { doc: middleOf(smeared) },
    'a leaf': { doc: middleOf(leaf) },
    straightened: { doc: middleOf(set({ lens: -0.25, turn: 2, scale: 120 })) },
    'mixed, faded and straightened': {
      doc: {
        ...middleOf(set({ betweens: 'mixed', speed: 60, offset: 14, lens: -0.1 })),
        moves: moving.moves,
      },
    },
    aslant: { doc: set({ turn: 11, scale: 60, flip: true, x: 40, y: -25 }) },
    steadied: { doc: middleOf(set({ steady: 60 })), media: moved },
    kept: { doc: middleOf(set({ keeps: true })) },
    'cut by another': { doc: foreign },
    overlay: { doc: set({ turn: 3 }), view: 'overlay' as const },
    difference: { doc: document, view: 'difference' as const },
    beside: { doc: document, view: 'beside' as const },
    split: { doc: set({ flip: true }), view: 'split' as const },
    keyed: { doc: middleOf(keyed) },
    'key’s matte': { doc: middleOf(keyed), view: 'matte' as const },
    'cut by a picture': { doc: middleOf(set({ matteId: incoming.shotId, matteFrom: 9 })) },
    blurred: { doc: middleOf(blurred) },
    'moved, faded, and moved as a whole': { doc: moving },
  };
}
