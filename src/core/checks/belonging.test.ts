import { documentOf } from '../document/document';
import { type LayerRow, plainLayer } from '../document/tables';
import type { Shot, ShotMotion } from '../model/shot';
import { angleBetween, belonging } from './belonging';
import { lookOf } from '../colour/looks';
import { rankPartners } from './partners';
import { proposeEdge } from './proposal';

const crossing = {
  id: 'c',
  name: 'Test',
  plan: 'pass-by' as const,
  width: 1280,
  height: 720,
  rateNum: 25,
  rateDen: 1,
  length: 60,
  inFrame: 0,
  outFrame: null,
  blend: 'display' as const,
  moveShutter: 0,
  blurBorder: 'extend' as const,
};

/** A shot whose picture moves by what `step` says, frame by frame. */
function shot(
  id: string,
  frameCount: number,
  step: (n: number) => [number, number],
  rest: Partial<ShotMotion> = {},
): Shot {
  const frames = Array.from({ length: frameCount }, (_, n) => [
    ...(n === 0 ? [0, 0] : step(n)),
    1,
    0,
    1,
    0,
  ]).flat();
  return {
    id,
    name: id,
    width: 1280,
    height: 720,
    rotation: 0,
    rate: { num: 25, den: 1 },
    frameCount,
    colour: { matrix: 'bt709', fullRange: false },
    motion: { frames, crosser: null, ...rest },
  };
}

const layer = (id: string, role: 'outgoing' | 'incoming', settings: Partial<LayerRow> = {}): LayerRow => ({
  ...plainLayer,
  id,
  role,
  shotId: id,
  position: role === 'outgoing' ? 1 : 0,
  ...settings,
});

function check(outgoing: Shot, incoming: Shot, settings: Partial<LayerRow> = {}) {
  const [a, b] = [layer('out', 'outgoing'), layer('in', 'incoming', settings)];
  const document = documentOf({ crossing: [crossing], layer: [a, b] });
  const { findings } = belonging(
    document,
    { layer: a, shot: outgoing, name: 'Out' },
    { layer: b, shot: incoming, name: 'In' },
  )!;
  return findings;
}

const out = shot('out', 100, () => [-3, 0]);

test('a pair that moves alike is left alone; limits lie where they are said to', () => {
  expect(
    check(
      out,
      shot('in', 100, () => [-3, 0]),
    ),
  ).toEqual([]);
  // Directions within 30°, speeds within 0.67 to 1.5.
  const turned = (degrees: number, speed = 3) => {
    const turn = (degrees * Math.PI) / 180;
    return shot('in', 100, () => [-speed * Math.cos(turn), speed * Math.sin(turn)]);
  };
  expect(check(out, turned(29))).toEqual([]);
  expect(check(out, turned(31)).map(({ kind }) => kind)).toEqual(['direction']);
  expect(check(out, turned(0, 4.4))).toEqual([]);
  expect(check(out, turned(0, 4.6)).map(({ kind }) => kind)).toEqual(['speed']);
  expect(check(out, turned(0, 1.9)).map(({ kind }) => kind)).toEqual(['speed']);
  expect(
    check(
      out,
      shot('in', 100, () => [0, 0]),
    )[0].says,
  ).toContain('hardly at all');
  expect(angleBetween(1, 0, -1, 0.0001)).toBeCloseTo(180, 1);
});

test('every fix that is offered ends what it was offered for', () => {
  const opposite = shot('in', 140, () => [7, 0]);
  let settings: Partial<LayerRow> = {};
  for (let k = 0; k < 6; k++) {
    const [finding] = check(out, opposite, settings).filter(({ fixes }) => fixes.length > 0);
    if (!finding) break;
    settings = { ...settings, ...finding.fixes[0].settings };
    expect(check(out, opposite, settings).map(({ kind }) => kind)).not.toContain(finding.kind);
  }
  expect(check(out, opposite, settings)).toEqual([]);
  expect(settings).toMatchObject({ flip: true, speed: expect.closeTo(42.86, 2) });

  const shaky = shot('in', 100, (n) => [-3 + 12 * Math.sin(2.3 * n), 9 * Math.cos(1.7 * n)]);
  const [unsteady] = check(out, shaky);
  expect(unsteady.kind).toBe('unsteady');
  expect(check(out, shaky, unsteady.fixes[0].settings)).toEqual([]);

  const short = shot('in', 40, () => [-3, 0]);
  const [lacking] = check(out, short);
  expect(lacking.says).toContain('20 of the frames');
  expect(check(out, short, lacking.fixes.at(-1)!.settings)).toEqual([]);
  const late = check(
    out,
    shot('in', 100, () => [-3, 0]),
    { offset: -12 },
  );
  expect(late[0].fixes[0].settings).toEqual({ offset: 0 });
});

test('an object that does not reach the borders, or not across, is remarked on', () => {
  const crosser = {
    kind: 'across' as const,
    opens: 20,
    closes: 44,
    direction: 1 as const,
    speed: 30,
    top: 0.3,
    bottom: 1,
    reach: 0.6,
  };
  const partly = shot('out', 100, () => [-3, 0], { crosser });
  const same = shot('in', 100, () => [-3, 0]);
  expect(check(partly, same).map(({ kind }) => kind)).toEqual(['reach', 'travel']);
  const document = documentOf({
    crossing: [crossing],
    layer: [layer('out', 'outgoing', { offset: 6, speed: 200 })],
  });
  // Twice as fast from frame 6: source frame 20 comes at crossing frame 7, 44 at 19.
  expect(proposeEdge(document, document.layers.out, partly)).toMatchObject({ opens: 7, closes: 19 });
});

test('of partners that move alike the one near in light and colour comes first; what is off is said in stops', () => {
  // Grey cards by formula: 40 and 10 of 100 in light are two stops apart; one is yellowish.
  const card = (y: number, u = 128, v = 128) =>
    lookOf({
      ...{ width: 4, height: 4, chromaWidth: 2, chromaHeight: 2 },
      ...{ y: new Uint8Array(16).fill(y), u: new Uint8Array(4).fill(u), v: new Uint8Array(4).fill(v) },
      colour: { matrix: 'bt709', fullRange: true },
    });
  // sRGB's curve (IEC 61966-2-1): 0.4 is 168.9, 0.1 is 89.0 of 255.
  const looking = (id: string, look: readonly number[]) => {
    const plain = shot(id, 100, () => [6, 0]);
    return { ...plain, motion: { ...plain.motion!, looks: Array.from({ length: 9 }, () => look).flat() } };
  };
  const document = documentOf({
    crossing: [crossing],
    layer: [layer('p', 'outgoing'), layer('x', 'incoming')],
  });
  const [dark, warm, near] = [
    looking('dark', card(89)),
    looking('warm', card(165, 100, 132)),
    looking('near', card(160)),
  ];
  const side = { layer: document.layers.p, shot: looking('p', card(169)) };
  const ranked = rankPartners(document, side, document.layers.x, [dark, warm, near]);
  const said = Object.fromEntries(ranked.map((partner) => [partner.shot.id, partner.says]));
  expect(ranked[0].shot.id).toBe('near');
  expect(said.near).toMatch(/light and colour near/);
  expect(said.dark).toMatch(/2\.0 stops darker/);
  expect(said.warm).toMatch(/, warmer,/);
});

test('partners are ranked by direction, pace, steadiness and length, each at the slip at which it fits', () => {
  const passing = shot('p', 80, () => [6, 0]);
  const like = shot('like', 100, () => [5.6, 0.3]);
  const other = shot('other way', 100, () => [-6, 0]);
  const fast = shot('fast', 100, () => [18, 0]);
  const shaky = shot('shaky', 100, (n) => [6 + 14 * Math.sin(2.1 * n), 9 * Math.sin(1.7 * n)]);
  const short = shot('short', 30, () => [6, 0]);
  const still = shot('still', 100, () => [0, 0]);
  // Gathers pace, and moves alike from its frame 40 on.
  const later = shot('later', 120, (n) => [Math.min(6, 0.15 * n), 0]);
  const unmeasured = { ...shot('unmeasured', 100, () => [6, 0]), motion: null };
  const document = documentOf({
    crossing: [crossing],
    layer: [layer('p', 'outgoing'), layer('x', 'incoming')],
  });
  const place = document.layers.x;
  const ranked = rankPartners(document, { layer: document.layers.p, shot: passing }, place, [
    ...[still, other, fast, shaky, short, like, later, unmeasured, passing],
  ]);
  const order = ranked.map((partner) => partner.shot.id);
  expect(order.slice(0, 2).sort()).toEqual(['later', 'like']);
  // One that only has to be mirrored comes before one that no press brings to move along.
  expect(order.indexOf('other way')).toBeLessThan(order.indexOf('still'));
  expect([...order].sort()).toEqual(['fast', 'later', 'like', 'other way', 'shaky', 'short', 'still'].sort());
  const said = Object.fromEntries(ranked.map((partner) => [partner.shot.id, partner.says]));
  expect(said.like).toMatch(/same way, about as fast/);
  expect(said['other way']).toMatch(/the opposite way/);
  expect(said.fast).toMatch(/3\.0 times as fast/);
  expect(said.shaky).toMatch(/unsteady/);
  expect(said.short).toMatch(/30 frames too short/);
  expect(said.still).toMatch(/stands still/);
  // It is slipped past its beginning, and then belongs.
  const best = ranked.find((partner) => partner.shot.id === 'later')!;
  expect(best.settings).toMatchObject({ shotId: 'later', speed: 100 });
  expect(best.settings.offset).toBeGreaterThanOrEqual(36);
  const side = { layer: { ...place, ...best.settings }, shot: later, name: 'later' };
  const pair = belonging(document, { layer: document.layers.p, shot: passing, name: 'p' }, side);
  expect(pair!.findings.map(({ kind }) => kind)).toEqual([]);
  expect(rankPartners(document, { layer: document.layers.p, shot: unmeasured }, place, [like])).toEqual([]);
});
