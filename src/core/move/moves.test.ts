import { drawPicture } from '../compose/picture';
import { sceneAt } from '../compose/scene';
import { applyChanges, documentOf } from '../document/document';
import {
  type CrossingDocument,
  type MoveRow,
  type OutlineRow,
  plainLayer,
  plainOutline,
  plainPose,
  poseId,
} from '../document/tables';
import { removeLayer, setLayer } from '../actions/layer-actions';
import { changeRow } from '../document/edit';
import { mendMove } from '../checks/move-fixes';
import { moveFindings } from '../checks/move-checks';
import { copiedMoves, removeMoves, setMove, shiftMoves, stretchMoves } from '../actions/move-actions';
import { hasChannel, isSoundMove, numbersAt } from '../document/keys';
import type { Channel } from '../model/channels';
import type { Shot } from '../model/shot';
import { applyAffine, invert } from '../geometry/affine';
import { MatteScratch } from '../matte/matte';
import type { PicturePlanes } from '../picture/planes';
import { matteOf, noPictures } from '../compose/layer-matte';
import { cutAt } from '../compose/cut';
import { layerAt, movedAt, opacityAt, shotMapAt, wholeAt } from '../compose/moves';
import { riseAndFall } from './blurs';
import { fadeInOrder } from './fades';
import { largestFrameWithin, NoPushIn, pushIn } from './push-in';

const [width, height] = [160, 90];
const shot = (id: string): Shot => ({
  ...{ id, name: id, width, height, rotation: 0, rate: { num: 25, den: 1 }, frameCount: 60 },
  ...{ colour: { matrix: 'bt709', fullRange: false }, motion: null },
});
const shots = { out: shot('out'), in: shot('in') };
/** A five-cornered opening, convex. */
const corners = [
  [40, 20],
  [100, 12],
  [128, 50],
  [90, 80],
  [36, 66],
];
const opening: OutlineRow = {
  ...{ ...plainOutline, id: 'o', layerId: 'top', cutsLayerId: null, name: 'Gap', kind: 'loop' },
  ...{
    sweptSide: 'right',
    position: 0,
    points: ['a', 'b', 'c', 'd', 'e'],
    featherInside: 3,
    featherOutside: 3,
  },
};
const document: CrossingDocument = documentOf({
  crossing: [
    {
      ...{ id: 'c', name: 'T', plan: 'opening', width, height, rateNum: 25, rateDen: 1, length: 50 },
      ...{ inFrame: 0, outFrame: null, blend: 'display', moveShutter: 0, blurBorder: 'extend' as const },
    },
  ],
  layer: [
    { ...plainLayer, id: 'bottom', role: 'incoming', shotId: 'in', position: 0 },
    { ...plainLayer, id: 'top', role: 'outgoing', shotId: 'out', position: 1 },
  ],
  outline: [opening],
  pose: [
    {
      ...{ id: poseId('o', 0), outlineId: 'o', frame: 0, ...plainPose, origin: 'by hand', onward: 'linear' },
      coordinates: corners.flatMap(([x, y]) => [x, y, 0, 0, 0, 0]),
    },
  ],
});
const held: CrossingDocument = {
  ...document,
  outlines: { o: { ...opening, beforeFirst: 'hold', afterLast: 'hold' } },
};

const linear = { onward: 'linear' as const, ease: [] };

test('one key is the same everywhere; a second makes it move, size evenly to the eye about a point that stays', () => {
  const one = applyChanges(document, setMove(document, 'top', 'size', 10, 200));
  for (const frame of [0, 10, 49]) expect(layerAt(one, one.layers.top, frame).scale).toBeCloseTo(200, 9);
  let two = applyChanges(document, [
    ...setMove(document, 'top', 'size', 10, 100, 0, { onward: 'linear' }),
    ...setMove(document, 'top', 'size', 30, 400, 0, { onward: 'linear' }),
    ...setMove(document, 'top', 'place', 10, 0, 0, { onward: 'linear' }),
  ]);
  // About the point (20, 10): 4 times as large there.
  const [fx, fy] = [20, 10];
  const [mx, my] = [width / 2, height / 2];
  two = applyChanges(
    two,
    setMove(two, 'top', 'place', 30, (mx - fx) * 4 + fx - mx, (my - fy) * 4 + fy - my, { onward: 'linear' }),
  );
  expect(movedAt(two, 'top', 20).size).toBeCloseTo(200, 6);
  for (const frame of [10, 13, 20, 27, 30]) {
    const at = applyAffine(shotMapAt(two, two.layers.top, shots.out, frame, frame), fx, fy);
    expect(at[0]).toBeCloseTo(fx, 6);
    expect(at[1]).toBeCloseTo(fy, 6);
  }
});

test('easing runs as the W3C’s curve; hold waits; opacity stays within its bounds', () => {
  const eased = applyChanges(document, [
    ...setMove(document, 'top', 'turn', 0, 0, 0, { onward: 'eased', ease: [0.25, 0.1, 0.25, 1] }),
    ...setMove(document, 'top', 'turn', 20, 100),
    ...setMove(document, 'top', 'opacity', 0, 0, 0, { onward: 'eased', ease: [0, -5, 1, 6] }),
    ...setMove(document, 'top', 'opacity', 20, 100),
  ]);
  // `ease` of CSS Easing Functions Level 1 at half the time: 0.8024 (a value from memory).
  expect(movedAt(eased, 'top', 10).turn).toBeCloseTo(80.24, 1);
  for (let frame = 0; frame <= 20; frame++) {
    const opacity = opacityAt(eased, eased.layers.top, frame);
    expect(opacity).toBeGreaterThanOrEqual(0);
    expect(opacity).toBeLessThanOrEqual(1);
  }
  const waits = applyChanges(document, [
    ...setMove(document, 'top', 'size', 0, 100),
    ...setMove(document, 'top', 'size', 20, 300),
    ...setMove(document, 'top', 'place', 0, 5, 6, { onward: 'hold' }),
    ...setMove(document, 'top', 'place', 20, 100, 100),
  ]);
  expect(layerAt(waits, waits.layers.top, 19)).toMatchObject({ x: 5, y: 6 });
  const hold = applyChanges(document, [
    ...setMove(document, 'top', 'turn', 0, 5, 0, { onward: 'hold' }),
    ...setMove(document, 'top', 'turn', 20, 100),
  ]);
  expect(layerAt(hold, hold.layers.top, 19).turn).toBe(5);
});

test('a layer set for all frames takes its keys along; keys shift, and give way where they meet', () => {
  let moved = applyChanges(document, [
    ...setMove(document, 'top', 'place', 5, 10, 20),
    ...setMove(document, 'top', 'size', 5, 150),
    ...setMove(document, 'top', 'size', 9, 300),
  ]);
  moved = applyChanges(moved, setLayer(moved, 'top', { x: 7, scale: 200 }));
  expect(layerAt(moved, moved.layers.top, 5)).toMatchObject({ x: 17, y: 20 });
  expect(layerAt(moved, moved.layers.top, 5).scale).toBeCloseTo(300, 9);
  const rows = Object.values(moved.moves).filter(({ channel }) => channel === 'size');
  const back = applyChanges(moved, shiftMoves(moved, rows, -60, 49));
  const frames = (of: CrossingDocument) =>
    Object.values(of.moves)
      .filter(({ channel }) => channel === 'size')
      .map(({ frame }) => frame)
      .sort((a, b) => a - b);
  expect(frames(back)).toEqual([0, 4]);
  const onto = applyChanges(
    moved,
    shiftMoves(
      moved,
      rows.filter(({ frame }) => frame === 5),
      4,
      49,
    ),
  );
  expect(frames(onto)).toEqual([9]);
  expect(Object.values(onto.moves).every(isSoundMove)).toBe(true);
  const none = applyChanges(onto, removeMoves(Object.values(onto.moves)));
  expect(layerAt(none, none.layers.top, 5)).toBe(none.layers.top);
});

/** The largest rectangle of the frame's shape in a convex region by trying every middle on a fine grid. */
function bruteForce(inside: (x: number, y: number) => boolean): number {
  let best = 0;
  const fits = (x: number, y: number, w: number) => {
    const h = (w * height) / width;
    for (let k = 0; k <= 8; k++) {
      const t = k / 8 - 0.5;
      if (
        ![
          [x + t * w, y - h / 2],
          [x + t * w, y + h / 2],
          [x - w / 2, y + t * h],
          [x + w / 2, y + t * h],
        ].every(([a, b]) => inside(a, b))
      )
        return false;
    }
    return true;
  };
  for (let x = 30; x < 130; x += 0.5)
    for (let y = 10; y < 82; y += 0.5) while (fits(x, y, best + 0.1)) best += 0.1;
  return best;
}

test('the largest frame within an opening is within a hundredth of a brute-force search', () => {
  const inside = (x: number, y: number) =>
    corners.every(([ax, ay], k) => {
      const [bx, by] = corners[(k + 1) % corners.length];
      return (bx - ax) * (y - ay) - (by - ay) * (x - ax) >= 0;
    });
  // At ten times the size, as real pictures are.
  const found = largestFrameWithin(width * 10, height * 10, (x, y) => inside(x / 10, y / 10))!;
  const wide = (found[2] - found[0]) / 10;
  expect((found[2] - found[0]) / (found[3] - found[1])).toBeCloseTo(width / height, 6);
  expect(Math.abs(wide / bruteForce(inside) - 1)).toBeLessThan(0.01);
  expect(largestFrameWithin(100, 100, () => false)).toBeNull();
});

const flat = (y: number): PicturePlanes => ({
  ...{ width, height, chromaWidth: width / 2, chromaHeight: height / 2 },
  y: new Uint8Array(width * height).fill(y),
  u: new Uint8Array((width * height) / 4).fill(128),
  v: new Uint8Array((width * height) / 4).fill(128),
  colour: shots.out.colour,
});

test.each([
  ['the traced shot', false],
  ['the whole picture', true],
])('a push in of %s leaves not one pixel of the outgoing shot; a pull back is its reverse', (_, all) => {
  const ask = { layerId: 'top', all, from: 10, to: 30, along: 0 };
  const [into, out] = [false, true].map((back) =>
    applyChanges(held, pushIn(held, shots, { ...ask, back }, new MatteScratch())),
  );
  const picture = (of: CrossingDocument, frame: number) => {
    const pixels = new Uint8Array(width * height * 4);
    const scene = sceneAt(of, shots, frame, { view: 'result', traced: null });
    drawPicture(
      scene,
      {
        shots,
        crossing: of.crossing,
        planesOf: ({ shotId }) => flat(shotId === 'out' ? 235 : 16),
        width,
        height,
      },
      pixels,
    );
    return pixels;
  };
  const brightest = (pixels: ArrayLike<number>) =>
    Array.from(pixels).reduce((most, value, i) => (i % 4 === 3 ? most : Math.max(most, value)), 0);
  expect(brightest(picture(into, 30))).toBe(0);
  expect(brightest(picture(into, 10))).toBeGreaterThan(200);
  expect(brightest(picture(out, 10))).toBe(0);
  expect(picture(out, 30)).toEqual(picture(held, 30));
  expect(picture(into, 10)).toEqual(picture(held, 10));
  const owner = all ? 'c' : 'top';
  for (const frame of [12, 20, 28]) expect(movedAt(into, owner, frame).size).toBeGreaterThan(100);
});

test('shots beneath go along at a share of the speed; where nothing is open that is said', () => {
  const ask = { layerId: 'top', all: false, from: 0, to: 20, back: false, along: 0.5 };
  const changes = pushIn(held, shots, ask, new MatteScratch());
  const pushed = applyChanges(held, changes);
  // Once more gives the same; what lies beneath a pull back goes away with the opening.
  const again = pushIn(pushed, shots, ask, new MatteScratch());
  expect(applyChanges(pushed, again)).toEqual(pushed);
  const back = applyChanges(
    pushed,
    pushIn(pushed, shots, { ...ask, back: true, along: 1 }, new MatteScratch()),
  );
  expect(movedAt(back, 'bottom', 0).size).toBeCloseTo(100, 9);
  expect(movedAt(back, 'bottom', 20).size).toBeLessThan(50);
  const [top, bottom] = ['top', 'bottom'].map((id) => movedAt(pushed, id, 20).size / 100);
  expect(bottom).toBeCloseTo(Math.sqrt(top), 6);
  const bare = { ...document, outlines: {}, poses: {} };
  expect(() =>
    pushIn(
      bare,
      shots,
      { layerId: 'top', all: false, from: 0, to: 20, back: false, along: 0 },
      new MatteScratch(),
    ),
  ).toThrow(NoPushIn);
});

test('a layer that follows another by a share moves as one that a push takes along by it; halves add up', () => {
  const push = { layerId: 'top', all: false, from: 5, to: 25, back: false, along: 0.4 };
  const pushed = applyChanges(held, pushIn(held, shots, push, new MatteScratch()));
  const alone = applyChanges(
    pushed,
    removeMoves(Object.values(pushed.moves).filter((m) => m.ownerId === 'bottom')),
  );
  const following = (followShare: number, turned = alone) =>
    applyChanges(turned, setLayer(turned, 'bottom', { followsId: 'top', followShare }));
  const follows = following(40);
  for (const frame of [0, 5, 11, 18, 25, 40]) {
    const [by, as] = [follows, pushed].map((doc) => layerAt(doc, doc.layers.bottom, frame));
    for (const field of ['x', 'y', 'scale', 'turn'] as const) expect(by[field]).toBeCloseTo(as[field], 6);
  }
  // All of it: every point of the picture goes where the leader's picture takes it, turned and shifted too.
  const turned = applyChanges(alone, [
    ...setMove(alone, 'top', 'turn', 5, 0, 0, linear),
    ...setMove(alone, 'top', 'turn', 25, 50, 0, linear),
  ]);
  const whole = following(100, turned);
  for (const frame of [5, 14, 25]) {
    const [leads, goes] = ['top', 'bottom'].map((id) =>
      shotMapAt(whole, whole.layers[id], id === 'top' ? shots.out : shots.in, frame, 0),
    );
    for (const [x, y] of [
      [0, 0],
      [100, 40],
    ])
      applyAffine(goes, x, y).forEach((at, k) => expect(at).toBeCloseTo(applyAffine(leads, x, y)[k], 6));
  }
  // Two that follow each other by half make a quarter of the way, in the logarithm of the size.
  const third = { ...whole.layers.bottom, id: 'third', followsId: 'bottom', followShare: 50 };
  const chain = applyChanges(following(50, turned), [changeRow('layer', null, third)]);
  expect(layerAt(chain, third, 25).scale).toBeCloseTo(
    100 * (layerAt(chain, chain.layers.top, 25).scale / 100) ** 0.25,
    6,
  );
  expect(layerAt(chain, third, 25).turn).toBeCloseTo(12.5, 9);
  // What it followed is gone: it stays where it is set.
  const free = applyChanges(chain, removeLayer(chain, 'bottom'));
  expect(free.layers.third.followsId).toBeNull();
});

test.each([true, false])(
  'shots beneath cover the opening all along a push (back: %s), and no more than that',
  (back) => {
    const ask = { layerId: 'top', all: false, from: 10, to: 30, back, along: 'covering' as const };
    const moved = applyChanges(held, pushIn(held, shots, ask, new MatteScratch()));
    const within = (frame: number, grown: number) => {
      const bottom = shotMapAt(moved, moved.layers.bottom, shots.in, frame, 0);
      const cut = cutAt(moved, shots, moved.layers.top, frame);
      if (cut.extent !== 'outlined') throw new Error('nothing is cut');
      const { alpha } = matteOf(cut, shots.out, 1, new MatteScratch(), noPictures);
      const top = shotMapAt(moved, moved.layers.top, shots.out, frame, 0);
      // Every pixel of the frame in which the opening shows what lies beneath, and whether that has a picture there.
      let bare = 0;
      for (let y = 0.5; y < height; y++)
        for (let x = 0.5; x < width; x++) {
          const [u, v] = applyAffine(top, x, y).map(Math.floor);
          if (u < 0 || v < 0 || u >= width || v >= height || alpha[v * width + u] === 0) continue;
          const [p, q] = applyAffine(bottom, x, y);
          if (p < grown || q < grown || p > width - grown || q > height - grown) bare++;
        }
      return bare;
    };
    const frames = [0, 10, 14, 20, 27, 30, 45];
    expect(frames.map((frame) => within(frame, 0))).toEqual(frames.map(() => 0));
    // A twentieth smaller it would not.
    expect(within(back ? 30 : 10, width / 40)).toBeGreaterThan(0);
    // It lies in the opening as if it were there: all along it goes as what is pushed goes.
    const ratios = frames.map((frame) => {
      const [top, bottom] = ['top', 'bottom'].map((id) => layerAt(moved, moved.layers[id], frame).scale);
      return bottom / top;
    });
    for (const ratio of ratios) expect(ratio).toBeCloseTo(ratios[0], 9);
  },
);

test('what stands in the way of a push is named, and goes at one press', () => {
  const ask = { layerId: 'top', all: false, from: 10, to: 30, back: false, along: 0 };
  const refusal = (of: CrossingDocument): NoPushIn => {
    try {
      pushIn(of, shots, ask, new MatteScratch());
    } catch (error) {
      if (error instanceof NoPushIn) return error;
    }
    throw new Error('It pushed.');
  };
  const pushes = (of: CrossingDocument) => pushIn(of, shots, ask, new MatteScratch()).length > 0;
  // One that another moves too would be moved twice.
  const follows = applyChanges(held, setLayer(held, 'top', { followsId: 'bottom' }));
  const twice = refusal(follows);
  expect(twice.message).toBe('“out” follows another layer, which moves it too.');
  expect(pushes(applyChanges(follows, twice.remedy!.changes))).toBe(true);
  const gone = { ...held, outlines: { o: { ...opening, afterLast: 'full' as const } } };
  const full = refusal(gone);
  expect(full.message).toContain('cuts everything after its last pose');
  expect(pushes(applyChanges(gone, full.remedy!.changes))).toBe(true);
  const whole = applyChanges(held, pushIn(held, shots, { ...ask, all: true }, new MatteScratch()));
  const within = refusal(whole);
  expect(within.message).toContain('The whole picture has keys');
  expect(pushes(applyChanges(whole, within.remedy!.changes))).toBe(true);
});

test('the whole picture moves as one, and a move undone by its inverse is at rest', () => {
  const whole = applyChanges(document, [
    ...setMove(document, 'c', 'size', 0, 160, 0, linear),
    ...setMove(document, 'c', 'turn', 0, 12, 0, linear),
    ...setMove(document, 'c', 'place', 0, 9, -4, linear),
  ]);
  const map = wholeAt(whole, 5)!;
  const there = applyAffine(map, 33, 44);
  const back = applyAffine(invert(map), ...there);
  expect(back[0]).toBeCloseTo(33, 9);
  expect(back[1]).toBeCloseTo(44, 9);
  const plain = applyAffine(shotMapAt(document, document.layers.top, shots.out, 5, 5), 33, 44);
  const moved = applyAffine(shotMapAt(whole, whole.layers.top, shots.out, 5, 5), ...there);
  expect(moved[0]).toBeCloseTo(plain[0], 9);
  expect(moved[1]).toBeCloseTo(plain[1], 9);
});

test('a subject lingers: its background fades first, and as that has gone the subject does', () => {
  const two = {
    ...document,
    layers: {
      ...document.layers,
      subject: { ...document.layers.top, id: 'subject', position: 2, keeps: true },
    },
  };
  const faded = applyChanges(two, fadeInOrder(two, 'subject', 5, [20, 10])!);
  const at = (id: 'top' | 'subject', frame: number) => opacityAt(faded, faded.layers[id], frame);
  expect([5, 15, 25, 35].map((frame) => at('top', frame))).toEqual([1, 0.5, 0, 0]);
  expect([5, 25, 30, 35].map((frame) => at('subject', frame))).toEqual([1, 1, 0.5, 0]);
  expect(fadeInOrder(document, 'top', 5, [20, 20])).toBeNull();
  // Once more, elsewhere: what the first fades left does not stay between.
  const later = applyChanges(faded, fadeInOrder(faded, 'subject', 20, [4, 4])!);
  expect(
    Object.values(later.moves)
      .map(({ frame }) => frame)
      .sort((a, b) => a - b),
  ).toEqual([20, 24, 24, 28]);
  expect(opacityAt(later, later.layers.top, 12)).toBe(1);
});

test('keys are drawn apart about the farthest, and copied onto what has their channels', () => {
  const keyed = applyChanges(document, [
    ...setMove(document, 'top', 'size', 10, 100),
    ...setMove(document, 'top', 'size', 14, 150),
    ...setMove(document, 'top', 'opacity', 20, 40),
  ]);
  const rows = Object.values(keyed.moves);
  const apart = applyChanges(keyed, stretchMoves(keyed, rows, 10, 2, 49));
  expect(
    Object.values(apart.moves)
      .map(({ frame, value }) => [frame, value])
      .sort((a, b) => a[0] - b[0]),
  ).toEqual([
    [10, 100],
    [18, 150],
    [30, 40],
  ]);
  // Together they would meet; farther apart they would leave the crossing.
  expect(stretchMoves(keyed, rows, 10, 0.1, 49)).toEqual([]);
  expect(stretchMoves(keyed, rows, 10, 9, 49)).toEqual([]);
  // The whole picture has a size, but no opacity.
  const copied = applyChanges(keyed, copiedMoves(keyed, rows, 'c', 30, 49));
  const own = Object.values(copied.moves).filter(({ ownerId }) => ownerId === 'c');
  expect(own.map(({ channel, frame }) => [channel, frame])).toEqual([
    ['size', 30],
    ['size', 34],
  ]);
  expect(own.every(isSoundMove)).toBe(true);
});

test('findings about moves are mended: a border is filled by as little as it takes, an end comes to rest', () => {
  let moved = applyChanges(document, [
    ...setMove(document, 'bottom', 'place', 5, 0, 0, linear),
    ...setMove(document, 'bottom', 'place', 20, 16, 0, linear),
    ...setMove(document, 'bottom', 'place', 40, 0, 4, linear),
  ]);
  const found = (of: CrossingDocument) => moveFindings(of, shots, new Float32Array(50), 0, 49);
  const [border] = found(moved).filter(({ kind }) => kind === 'border shows');
  moved = applyChanges(moved, mendMove(moved, shots, border));
  // 16 px of 160 to one side.
  expect(moved.layers.bottom.scale).toBeGreaterThan(118);
  expect(moved.layers.bottom.scale).toBeLessThan(122);
  expect(found(moved).filter(({ kind }) => kind === 'border shows')).toEqual([]);
  const [jump] = found(moved).filter(({ kind }) => kind === 'not at rest');
  expect(jump.worst).toBe(49);
  moved = applyChanges(moved, mendMove(moved, shots, jump));
  expect(found(moved).filter(({ kind }) => kind === 'not at rest')).toEqual([]);
  // Standing still at 200 % it looks soft; while it is being enlarged nobody sees that.
  const large = applyChanges(document, [
    ...setMove(document, 'bottom', 'size', 10, 100, 0, linear),
    ...setMove(document, 'bottom', 'size', 30, 200, 0, linear),
  ]);
  expect(found(large).find(({ kind }) => kind === 'enlarged')).toMatchObject({ from: 31, to: 49 });
});

test('a blur rises to a frame and falls after it, in place of the one before; what has no such channel is refused', () => {
  const first = applyChanges(document, riseAndFall(document, 'top', 'blur-towards', 20));
  const again = applyChanges(first, riseAndFall(first, 'top', 'blur-towards', 48));
  const keys = Object.values(again.moves).map(({ frame, value }) => [frame, value]);
  expect(keys).toEqual([
    [42, 0],
    [48, 14],
    [49, 0],
  ]);
  expect(numbersAt(again, 'top', 'blur-towards', 45)[0]).toBeGreaterThan(5);
  expect(numbersAt(again, 'top', 'blur-towards', 10)[0]).toBe(0);
  const row = (ownerId: string, channel: Channel, value: number, third = 0) =>
    setMove(document, ownerId, channel, 3, value, 0, { third })[0].after as MoveRow;
  const judged = (of: MoveRow) => [hasChannel(document, of), isSoundMove(of)];
  expect(judged(row('top', 'exposure', 2))).toEqual([true, true]);
  expect(judged(row('c', 'exposure', 2))).toEqual([false, true]);
  expect(judged(row('o', 'swing', 90))).toEqual([true, true]);
  expect(judged(row('top', 'swing', 90))).toEqual([false, true]);
  expect(judged(row('o', 'size', 90))).toEqual([false, true]);
  expect(judged(row('top', 'contrast', 5))).toEqual([true, false]);
  // A number that the channel has not.
  expect(judged(row('top', 'size', 90, 4))).toEqual([true, false]);
  expect(judged(row('top', 'blur-about', 9, 4))).toEqual([true, true]);
});
