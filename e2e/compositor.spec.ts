import { expect, test } from '@playwright/test';
import type { View } from '@/core/compose/scene';
import type { Channel } from '@/core/model/channels';
import { moveId, type MoveRow, plainOutline } from '@/core/document/tables';
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
  const compare = (doc: typeof document, media: typeof shots, frame: number, view: View) =>
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

  // As a video takes it, where its tiles come from the shots themselves and where they are drawn.
  const planesOf = (doc: typeof document, frame: number) =>
    page.evaluate(
      ([doc, media, frame]) => (globalThis as HarnessWindow).harness.comparePlanes(doc, media, frame),
      [doc, shots, frame] as const,
    );
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

  // Mixed in light, with either curve: sums of light are kept finer than a code value.
  for (const blend of ['linear sRGB', 'linear BT.709'] as const) {
    const lit = { ...document, crossing: { ...document.crossing, blend } };
    for (const view of ['result', 'checkerboard'] as const) {
      const { off, largest } = await compare(lit, shots, 33, view);
      expect(off, `${view} in ${blend}`).toBeLessThan(0.001);
      expect(largest, `${view} in ${blend}`).toBeLessThanOrEqual(3);
    }
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

  // Aslant, mirrored, shrunk and steadied; kept instead of cut; cut by an outline of another shot; both at once.
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
    crossing: { ...document.crossing, moveShutter: 270 },
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
  for (const [what, doc, media, view] of [
    ['bent', middleOf(bent), shots, 'result'],
    ['graded', middleOf(graded), shots, 'result'],
    [
      'graded in light',
      middleOf({ ...graded, crossing: { ...graded.crossing, blend: 'linear sRGB' as const } }),
      shots,
      'result',
    ],
    ['smeared', middleOf(smeared), shots, 'result'],
    ['a leaf', middleOf(leaf), shots, 'result'],
    ['straightened', middleOf(set({ lens: -0.25, turn: 2, scale: 120 })), shots, 'result'],
    [
      'mixed, faded and straightened',
      { ...middleOf(set({ betweens: 'mixed', speed: 60, offset: 14, lens: -0.1 })), moves: moving.moves },
      shots,
      'result',
    ],
    ['aslant', set({ turn: 11, scale: 60, flip: true, x: 40, y: -25 }), shots, 'result'],
    ['steadied', middleOf(set({ steady: 60 })), moved, 'result'],
    ['kept', middleOf(set({ keeps: true })), shots, 'result'],
    ['cut by another', foreign, shots, 'result'],
    ['overlay', set({ turn: 3 }), shots, 'overlay'],
    ['difference', document, shots, 'difference'],
    ['beside', document, shots, 'beside'],
    ['split', set({ flip: true }), shots, 'split'],
    ['keyed', middleOf(keyed), shots, 'result'],
    ['key’s matte', middleOf(keyed), shots, 'matte'],
    ['cut by a picture', middleOf(set({ matteId: incoming.shotId, matteFrom: 9 })), shots, 'result'],
    ['blurred', middleOf(blurred), shots, 'result'],
    ['moved, faded, and moved as a whole', moving, shots, 'result'],
  ] as const) {
    const { off, mean } = await compare(doc, [...media], 33, view);
    expect(off, what).toBeLessThan(0.001);
    expect(mean, what).toBeGreaterThan(40);
  }
});
