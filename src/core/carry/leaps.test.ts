import { sideColours } from '../edge/side-colours';
import type { StraightPicture } from '../edge/straight';
import { usualSettings } from './follow-settings';
import { leapsOf, mayLeap, misfitWithin, ObjectColours, type Staying } from './leaps';
import type { RunSight } from './run-state';

const { leaping } = usualSettings;
const [count, reach, step] = [90, 200, leaping.step];
const across = (2 * reach) / step + 1;

type Colour = [y: number, u: number, v: number];
const cloth: Colour = [90, 140, 110];

/** A ground with a pattern of its own at each place and distance. */
function ground(i: number, far: number): Colour {
  return [150 + 40 * Math.sin(0.5 * i + 0.11 * far) * Math.cos(0.07 * far - i), 122, 132];
}

function strip(colourAt: (i: number, far: number) => Colour): StraightPicture {
  const [y, u, v] = [0, 1, 2].map(() => new Float32Array(count * across));
  for (let i = 0, s = 0; i < count; i++)
    for (let m = 0; m < across; m++, s++) [y[s], u[s], v[s]] = colourAt(i, m * step - reach);
  return { count, across, from: -reach, step, y, u, v };
}

/** Where a line leaps whose object lies inside 0, and has in front of the ground what `before` says. */
function leapsWhere(
  before: (i: number, far: number) => Colour | null,
  more: Partial<Staying> = {},
  behind = strip(ground),
  side?: Colour,
): Float64Array {
  const picture = strip((i, far) => before(i, far) ?? (far < 0 ? cloth : ground(i, far)));
  const seen = (values: number) => new Float32Array(count).fill(values);
  const remembered = { count, depths: 1, step: 1, y: seen(90), u: seen(140), v: seen(110), weight: seen(1) };
  return leapsOf(picture, [behind], ObjectColours.remembered(remembered), {
    ...leaping,
    ...{ staying: new Float64Array(count), height: new Float64Array(count) },
    ...{ misfit: new Float32Array(count).fill(4), reach: 20, soft: 2, blurred: 2, wholly: false },
    outer: sideColours(side ? strip(() => side) : strip(ground), 6, 40, 3),
    ...more,
  });
}

describe('leaps of a line', () => {
  it('go round a limb that came out of the object, before a gap through which what lies behind is seen', () => {
    // An arm that hangs from place 20 down to 59: it starts at the line and ends 100 px out.
    const outer = (i: number) => 2.5 * (i - 20);
    const leaps = leapsWhere((i, far) =>
      i >= 20 && i < 60 && far < outer(i) && far > outer(i) - 36 ? cloth : null,
    );
    for (let i = 30; i < 59; i++) expect(Math.abs(leaps[i] - outer(i))).toBeLessThan(5);
    for (const i of [0, 10, 65, 80]) expect(leaps[i]).toBe(0);
  });

  it('go back in where a limb has gone', () => {
    const leaps = leapsWhere((i, far) => (i >= 20 && i < 60 && far > -60 ? ground(i, far) : null), {
      // The limb stuck out so far there: gone back in, the line goes on to the places that stay.
      height: Float64Array.from({ length: count }, (_, i) => (i >= 20 && i < 60 ? 60 : 0)),
    });
    for (let i = 25; i < 55; i++) expect(Math.abs(leaps[i] + 60)).toBeLessThan(5);
    expect(leaps[5]).toBe(0);
  });

  it('do not go to somebody who is seen farther out and touches nothing', () => {
    const leaps = leapsWhere((i, far) => (i >= 30 && i < 60 && far > 90 && far < 150 ? cloth : null));
    expect(leaps.every((by) => by === 0)).toBe(true);
  });

  it('do not go to the border of a shadow', () => {
    const leaps = leapsWhere((i, far) => {
      if (i < 20 || i >= 60 || far < 0 || far > 40) return null;
      const [y, u, v] = ground(i, far);
      return [16 + 0.6 * (y - 16), 128 + 0.6 * (u - 128), 128 + 0.6 * (v - 128)];
    });
    expect(leaps.every((by) => by === 0)).toBe(true);
  });

  it('do not happen where something hides most of the line', () => {
    const leaps = leapsWhere((i, far) => (far > -70 && far < 70 ? ground(i, far) : null));
    expect(leaps.every((by) => by === 0)).toBe(true);
  });

  it('do not go to where a frame that should show what lies behind shows something else', () => {
    // As of a leg that stands where it was before a plain wall: the other frame has it right outside.
    const wall: Colour = [157, 128, 128];
    const there = strip((_, far) => (far > 4 && far < 34 ? cloth : wall));
    const leaps = leapsWhere((_, far) => (far < 0 ? cloth : wall), {}, there, wall);
    expect(leaps.every((by) => by === 0)).toBe(true);
  });

  it('do not happen where what is seen at the line is explained', () => {
    const outer = (i: number) => 2.5 * (i - 20);
    const leaps = leapsWhere((i, far) => (i >= 20 && i < 60 && far < outer(i) ? cloth : null), {
      misfit: new Float32Array(count).fill(0.5),
    });
    expect(leaps.every((by) => by === 0)).toBe(true);
  });

  it('may happen where the edge was found at the end of what was looked at, however well that is explained', () => {
    const sight = (at: number): RunSight => ({
      belief: {
        mean: Float64Array.from({ length: count }, (_, i) => (i > 40 && i < 60 ? at : 0)),
        variance: new Float64Array(count),
        doubt: new Float64Array(count),
      },
      ...{ misfit: new Float32Array(count).fill(0.5), reach: 20, speed: 5 },
      ...{ behindError: new Float32Array(count), objectError: new Float32Array(count) },
      ...{ seen: new Uint8Array(count).fill(1), softness: { sigma: 1, shutter: 0 } },
    });
    const may = (at: number, inPicture: boolean) =>
      mayLeap(
        sight(at),
        misfitWithin(sight(at), leaping, () => inPicture),
        leaping,
      );
    expect(may(19, true)).toBe(true);
    expect(may(12, true)).toBe(false);
    // Out of the picture it may be anywhere.
    expect(may(19, false)).toBe(false);
  });
});
