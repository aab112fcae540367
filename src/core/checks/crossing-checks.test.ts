import { coverageAt } from '../compose/coverage-curve';
import { applyChanges, documentOf } from '../document/document';
import {
  type CrossingDocument,
  moveId,
  plainPose,
  type OutlineRow,
  plainLayer,
  plainOutline,
  type PoseRow,
  poseId,
} from '../document/tables';
import { numbersPerPoint as N } from '../model/choices';
import type { Shot } from '../model/shot';
import { MatteScratch } from '../matte/matte';
import { usualEnds } from '../document/plans';
import { crossingFindings } from './crossing-checks';
import { setMove } from '../actions/move-actions';
import { verdictOf } from './verdict';
import { drawOut, movedInward, pushOut, removePoses, smoothAt } from './fixes';
import { mendMove } from './move-fixes';
import type { Onward } from '../model/time';
import { endsInFrame, foldsOf, selfCrossing, standstillsOf } from './line-checks';

const [width, height] = [320, 180];
const shot = (id: string, frameCount: number): Shot => ({
  ...{ id, name: id, width, height, rotation: 0, rate: { num: 25, den: 1 }, frameCount },
  ...{ colour: { matrix: 'bt709', fullRange: false }, motion: null },
});
const shots = { out: shot('out', 60), in: shot('in', 30) };
const outline: OutlineRow = {
  ...{
    ...plainOutline,
    id: 'o',
    layerId: 'top',
    cutsLayerId: null,
    name: 'Back',
    kind: 'seam',
    sweptSide: 'right',
  },
  ...{ position: 0, points: ['a', 'b', 'c'], featherInside: 4, featherOutside: 4 },
};
const line = (x: number, top = -5, bottom = height + 5) =>
  [x, top, x + 2, height / 2, x, bottom].flatMap((value, i, all) =>
    i % 2 === 0 ? [value, all[i + 1], 0, 0, 0, 0] : [],
  );
const pose = (frame: number, coordinates: number[]): PoseRow => ({
  ...{ id: poseId('o', frame), outlineId: 'o', frame, ...plainPose, origin: 'by hand', onward: 'linear' },
  coordinates,
});
function crossingOf(poses: PoseRow[], own = outline): CrossingDocument {
  return documentOf({
    crossing: [
      {
        ...{ id: 'c', name: 'T', plan: 'pass-by', width, height, rateNum: 25, rateDen: 1, length: 50 },
        ...{ inFrame: 0, outFrame: null, blend: 'display', moveShutter: 0, blurBorder: 'extend' as const },
      },
    ],
    layer: [
      { ...plainLayer, id: 'bottom', role: 'incoming', shotId: 'in', position: 0 },
      { ...plainLayer, id: 'top', role: 'outgoing', shotId: 'out', position: 1 },
    ],
    outline: [own],
    pose: poses,
  });
}
function looked(document: CrossingDocument) {
  const coverage = Array.from({ length: 50 }, (_, frame) =>
    coverageAt(document, shots, frame, new MatteScratch()),
  );
  const findings = crossingFindings(document, shots, coverage, (_outline, source) => source);
  return { coverage, findings, kinds: findings.map(({ kind }) => kind) };
}
/** One edge that crosses evenly from frame 5 to 25 and covers all on its last pose. */
const good = Array.from({ length: 21 }, (_, k) => pose(5 + k, line(-20 + 18 * k)));

test('a trace that starts clear, runs forward and ends full has only the incoming shot’s end against it', () => {
  const { findings } = looked(crossingOf(good));
  expect(findings).toMatchObject([{ kind: 'runs out', from: 30, to: 49, outlineId: null }]);
});

test('every frame without a picture is named, at both ends and for every shot', () => {
  const document = crossingOf(good);
  const trimmed = { ...document.layers.top, trimIn: 3 };
  const early = looked({ ...document, layers: { ...document.layers, top: trimmed } }).findings;
  expect(
    early
      .filter(({ kind }) => kind === 'runs out')
      .map(({ from, to, says }) => [from, to, says.slice(0, 40)]),
  ).toEqual(
    [
      [0, 2, 'Frames 0 to 2: the outgoing shot has no p'],
      [30, 49, 'Frames 30 to 49: the incoming shot has no'],
    ].map(([from, to, says]) => [from, to, String(says).slice(0, 40)]),
  );
  // A shot that has faded out is not missed.
  const gone = setMove(document, 'bottom', 'opacity', 0, 0);
  const faded = looked(
    applyChanges(document, [...gone, ...setMove(document, 'top', 'opacity', 0, 0)]),
  ).findings;
  expect(faded.some(({ says }) => says.includes('black'))).toBe(false);
  // Where both have ended it is black.
  const ended = { ...document.layers.top, trimOut: 39 };
  const black = looked({ ...document, layers: { ...document.layers, top: ended } }).findings;
  expect(black.find(({ says }) => says.includes('black'))).toMatchObject({
    kind: 'runs out',
    from: 40,
    to: 49,
  });
});

test('what is cut on the first frame, runs back, and is left open on the last frame is found there', () => {
  const early = looked(crossingOf(good.map((each) => pose(each.frame - 11, each.coordinates)).slice(6)));
  expect(early.findings[0]).toMatchObject({ kind: 'starts cut', worst: 0 });
  const back = looked(crossingOf(good.map((each) => (each.frame === 15 ? pose(15, line(100)) : each))));
  expect(back.findings.filter(({ kind }) => kind === 'runs back')).toMatchObject([{ from: 15, to: 15 }]);
  const held = { ...outline, afterLast: 'hold' as const };
  const open = looked(crossingOf(good.slice(0, 15), held));
  expect(open.kinds).toContain('ends open');
});

test('what is covered jumps by more than an edge takes only where a cut explains it', () => {
  // A gap that is traced on one frame alone: with the ends of a wipe all is cut after it.
  const gap = { ...outline, kind: 'loop' as const, points: ['a', 'b', 'c', 'd'] };
  const square = (size: number) =>
    [100, 60, 100 + size, 60, 100 + size, 60 + size, 100, 60 + size].flatMap((value, i, all) =>
      i % 2 === 0 ? [value, all[i + 1], 0, 0, 0, 0] : [],
    );
  const alone = (own: OutlineRow): CrossingDocument => {
    const document = crossingOf([pose(20, square(60))], own);
    return { ...document, crossing: { ...document.crossing, plan: 'opening' } };
  };
  const found = looked(alone(gap)).findings.filter(({ kind }) => kind === 'covered at once');
  expect(found).toMatchObject([{ from: 21, to: 21, outlineId: 'o', fix: 'keep as posed' }]);
  expect(found[0].says).toBe(
    'Frame 21: 94 % of the picture is covered in one frame: Back cuts everything after its last pose.',
  );
  expect(looked(alone({ ...gap, ...usualEnds('opening', 'add') })).kinds).not.toContain('covered at once');
  // A pass-by whose trace begins when half is covered; the one whose shot ends there is cut, and meant.
  const late = looked(crossingOf(good.slice(12)));
  expect(late.findings.filter(({ kind }) => kind === 'covered at once')).toMatchObject([
    { worst: 17, fix: null },
  ]);
  const cut = crossingOf(good.slice(12));
  const trimmed = { ...cut, layers: { ...cut.layers, top: { ...cut.layers.top, trimIn: 17 } } };
  expect(looked(trimmed).kinds).not.toContain('covered at once');
});

test('a wipe that runs back all along has the wrong side: one finding, mended by flipping it', () => {
  const wrong = { ...outline, sweptSide: 'left' as const };
  const { findings } = looked(crossingOf(good, wrong));
  expect(findings.filter(({ kind }) => kind === 'runs back')).toMatchObject([
    { fix: 'flip side', outlineId: 'o' },
  ]);
  expect(looked(crossingOf(good)).kinds).not.toContain('runs back');
});

test('a tick means that everything was judged: what was not is named', () => {
  const looking = { found: 0, looked: true, tooBroken: [] };
  expect(verdictOf(crossingOf([]), looking)).toMatchObject({ holds: false, note: 'Nothing to check yet' });
  expect(verdictOf(crossingOf(good), looking)).toMatchObject({ holds: true, unjudged: [] });
  expect(verdictOf(crossingOf(good), { ...looking, looked: false }).holds).toBe(false);
  expect(verdictOf(crossingOf(good), { ...looking, found: 2 }).note).toBe('2 findings');
  const broken = verdictOf(crossingOf(good), { ...looking, tooBroken: ['o'] });
  expect([broken.holds, broken.unjudged[0]]).toEqual([false, expect.stringContaining('Back: its edge')]);
  const chroma = { id: 'top', cb: 90, cr: 180, tolerance: 9, softness: 9, grow: 0, clean: 0, spill: 0 };
  const keyed = { ...crossingOf(good), chromas: { top: chroma } };
  expect(verdictOf(keyed, looking)).toMatchObject({ holds: false, note: 'Nothing found, not all judged' });
});

test('a last pose that leaves a rest is pushed out until the frame is full; a far stop is only said', () => {
  const document = crossingOf(
    good.slice(0, 19).map((each, k, all) => (k < all.length - 1 ? each : pose(each.frame, line(295)))),
  );
  const { findings } = looked(document);
  const open = findings.find(({ kind }) => kind === 'ends open')!;
  expect(open).toMatchObject({ worst: 23, fix: 'push out' });
  const mended = applyChanges(document, pushOut(document, shots, outline, 23));
  expect(coverageAt(mended, shots, 23, new MatteScratch())).toBeGreaterThan(0.9999);
  expect(looked(mended).kinds).not.toContain('ends open');
  const far = looked(crossingOf(good.slice(0, 10))).findings.find(({ kind }) => kind === 'ends open');
  expect(far).toMatchObject({ worst: 14, fix: null });
});

test('an end inside the picture is found and drawn out; folds and missed frames are found', () => {
  const document = crossingOf([pose(8, line(60, 30)), pose(12, line(90))]);
  expect(endsInFrame(outline, document.poses.o, shot('s', 1))).toMatchObject([{ frame: 8, measure: 30 }]);
  const mended = applyChanges(
    document,
    drawOut(document, outline, { width, height }, () => true),
  );
  expect(endsInFrame(outline, mended.poses.o, shot('s', 1))).toEqual([]);
  expect(mended.poses.o[0].coordinates[1]).toBeCloseTo(-12, 6);
  const folded = [60, -5, 0, 0, 0, 0, 60, 170, 0, 0, 0, 0, 90, 60, 0, 0, 0, 0, 30, 60, 0, 0, 0, 0];
  expect(foldsOf(outline, [pose(3, folded), pose(4, line(50))], shot('s', 1))).toMatchObject([
    { frame: 3, place: [60, 60] },
  ]);
  expect(selfCrossing([0, 0, 10, 0, 10, 10, 0, 10], true)).toBeNull();
  const missed = good.map((each) => (each.frame === 14 ? pose(14, good[8].coordinates) : each));
  expect(standstillsOf(missed).map(({ frame }) => frame)).toEqual([14]);
  const withMissed = crossingOf(missed);
  const without = applyChanges(
    withMissed,
    removePoses(withMissed, 'o', (frame) => frame === 14),
  );
  expect(without.poses.o.some(({ frame }) => frame === 14)).toBe(false);
  // Coming to rest is no missed frame.
  expect(standstillsOf([...good, pose(26, good[20].coordinates)])).toEqual([]);
});

test('jitter is smoothed at its frame only, to where its neighbours say; lines move at right angles', () => {
  const shaken = good.map((each) => (each.frame === 15 ? pose(15, line(160 + 1.5)) : each));
  const document = crossingOf(shaken);
  const smooth = applyChanges(
    document,
    smoothAt(document, 'o', (frame) => frame === 15),
  );
  expect(smooth.poses.o[10].coordinates[0]).toBeCloseTo(160, 3);
  smooth.poses.o.forEach((each, k) => k !== 10 && expect(each).toBe(document.poses.o[k]));
  // The region lies to the left of this line on the screen, as its right is walked downward.
  const moved = movedInward(outline, line(100), 4);
  expect(moved[0]).toBeCloseTo(96, 1);
  const ring = [0, 0, 100, 0, 100, 100, 0, 100].flatMap((value, i, all) =>
    i % 2 === 0 ? [value, all[i + 1], 0, 0, 0, 0] : [],
  );
  const inner = movedInward({ kind: 'loop', sweptSide: 'left' }, ring, Math.SQRT2 * 10);
  expect(inner.filter((_, i) => i % N < 2).map(Math.round)).toEqual([10, 10, 90, 10, 90, 90, 10, 90]);
});

test('a lowest shot that is moved off the frame, and a ramp that stutters, are told', () => {
  const document = crossingOf([]);
  const moved = applyChanges(document, [
    ...setMove(document, 'bottom', 'place', 0, 0, 0, { onward: 'linear' }),
    ...setMove(document, 'bottom', 'place', 20, 40, 0, { onward: 'linear' }),
  ]);
  const border = looked(moved).findings.filter(({ kind }) => kind === 'border shows');
  expect(border).toMatchObject([{ from: 1, worst: 20 }]);
  expect(border[0].says).toContain('40 px');
  const enlarged = applyChanges(moved, setMove(moved, 'bottom', 'size', 0, 150));
  expect(looked(enlarged).findings.filter(({ kind }) => kind === 'border shows')).toEqual([]);
  expect(looked(enlarged).findings.filter(({ kind }) => kind === 'not at rest')).toMatchObject([
    { from: 49, to: 49, worst: 49 },
  ]);
  const slow = { ...document.layers.top, ramp: [10, 100, 20, 20, 30, 100] };
  const ramped = { ...document, layers: { ...document.layers, top: slow } };
  const [stutter] = looked(ramped).findings.filter(({ kind }) => kind === 'frames repeat');
  expect(stutter.from).toBeGreaterThan(14);
  expect(stutter.to).toBeLessThan(26);
  const mixed = applyChanges(ramped, mendMove(ramped, shots, stutter));
  expect(mixed.layers.top.betweens).toBe('mixed');
  expect(looked(mixed).findings.filter(({ kind }) => kind === 'frames repeat')).toEqual([]);
  const still = { ...slow, ramp: [10, 100, 11, 0, 30, 0, 31, 100] };
  const standing = { ...document, layers: { ...document.layers, top: still } };
  expect(looked(standing).findings.filter(({ kind }) => kind === 'frames repeat')).toEqual([]);
});

test('a move that was meant to be smooth and changes its speed at once is told, and smoothed', () => {
  const document = crossingOf([]);
  const course = (onward: readonly Onward[]) =>
    [0, 100, 180].reduce(
      (at, value, k) =>
        applyChanges(at, setMove(at, 'top', 'place', 10 + 10 * k, value, 0, { onward: onward[k] })),
      document,
    );
  const told = (of: CrossingDocument) => looked(of).findings.filter(({ kind }) => kind === 'jolts');
  // Eased out to rest, then at 8 px a frame: from 0 to 8.
  const eased = course(['eased', 'linear', 'linear']);
  expect(told(eased)).toMatchObject([{ worst: 20, fix: 'smooth jolt' }]);
  expect(told(eased)[0].says).toMatch(/the place of .* goes from 0(\.\d)? px to 8 px a frame/);
  const mended = applyChanges(eased, mendMove(eased, shots, told(eased)[0]));
  expect(told(mended)).toEqual([]);
  expect(mended.moves[moveId('top', 'place', 30)]).toEqual(eased.moves[moveId('top', 'place', 30)]);
  // Straight on both sides, smooth on both, or held: as it was meant.
  for (const onward of [
    ['linear', 'linear', 'linear'],
    ['smooth', 'smooth', 'linear'],
    ['eased', 'hold', 'linear'],
  ] as const)
    expect(told(course(onward))).toEqual([]);
  // Smooth into a straight way of nearly the same speed: nothing is seen.
  expect(told(course(['linear', 'smooth', 'linear']))).toEqual([]);
});
