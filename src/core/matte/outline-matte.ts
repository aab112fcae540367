import { type EdgeSettings, type OutlineRow } from '../document/tables';
import { numbersPerPoint as N } from '../model/choices';
import { flattenOutline, regionOf, roundedCorners } from '../outline';
import { type Alpha, fullOf } from './alpha';
import { combineMatte, drawMatte, type MatteScratch, softTolerance } from './matte';
import { MatteSums } from './mean';

/** An outline together with where its points are at one frame, and how its edge is drawn there. */
export interface PosedOutline {
  outline: OutlineRow;
  edge: EdgeSettings;
  coordinates: readonly number[];
  /** Where the points are while the shutter is open, evenly spaced in time; empty without motion blur. */
  exposures: readonly (readonly number[])[];
}

/**
 * The matte of a layer's outlines: what they cut away, at `scale` of the shot's size.
 *
 * @param width, height of the matte in its own pixels: the shot's size times `scale`, rounded.
 * @param before what is cut before the first of them is joined: nothing, all, or what `out` holds.
 * @param out width·height values, written whole.
 */
export function drawOutlines(
  posed: readonly PosedOutline[],
  before: 'empty' | 'full' | 'as it is',
  { scale, width, height, scratch }: { scale: number; width: number; height: number; scratch: MatteScratch },
  out: Alpha,
) {
  if (before !== 'as it is') out.fill(before === 'full' ? fullOf(out) : 0);
  let own: Alpha | null = null;
  posed.forEach((each, i) => {
    // The first one that adds to nothing needs no matte of its own.
    const target =
      i === 0 && before === 'empty' && each.outline.combine === 'add' ? out : (own ??= alikeTo(out));
    drawExposed(each, { scale, width, height, scratch }, target);
    // Leaves that touch leave nothing between them: where two meet each covers its part of a pixel.
    const { combine, hinge } = each.outline;
    if (target !== out) combineMatte(out, target, combine === 'add' && hinge !== null ? 'join' : combine);
  });
}

function alikeTo(alpha: Alpha): Alpha {
  return alpha instanceof Uint16Array ? new Uint16Array(alpha.length) : new Uint8Array(alpha.length);
}

/** One outline's matte: the mean over its exposures where it has some. */
function drawExposed(
  { outline, edge, coordinates, exposures }: PosedOutline,
  { scale, width, height, scratch }: { scale: number; width: number; height: number; scratch: MatteScratch },
  out: Alpha,
) {
  // A smaller picture moves by fewer of its own px: every second or third exposure will do.
  const stride = Math.max(1, Math.floor(1 / scale));
  const shown = exposures.filter((_, k) => k % stride === 0);
  if (shown.length < 2) return drawOne(outline, edge, coordinates, { scale, width, height, scratch }, out);
  if (out instanceof Uint16Array) {
    const each = new Uint16Array(out.length);
    const sum = new Uint32Array(out.length);
    for (const exposure of shown) {
      drawOne(outline, edge, exposure, { scale, width, height, scratch }, each);
      for (let i = 0; i < sum.length; i++) sum[i] += each[i];
    }
    for (let i = 0; i < sum.length; i++) out[i] = Math.round(sum[i] / shown.length);
    return;
  }
  const { sums } = scratch;
  sums.begin(width, height);
  for (const exposure of shown) drawOne(outline, edge, exposure, { scale, width, height, scratch }, sums);
  sums.mean(shown.length, out);
}

function drawOne(
  outline: OutlineRow,
  edge: EdgeSettings,
  coordinates: readonly number[],
  { scale, width, height, scratch }: { scale: number; width: number; height: number; scratch: MatteScratch },
  target: Alpha | MatteSums,
) {
  const closed = outline.kind === 'loop';
  const inMatte = {
    featherInside: edge.featherInside * scale,
    featherOutside: edge.featherOutside * scale,
    spread: edge.spread * scale,
  };
  const round = roundedCorners(coordinates, edge.factors, closed, edge.roundness);
  const { factors } = round;
  const varying = factors.length > 0 ? ([] as number[]) : null;
  const points = round.coordinates.length / N;
  const line = flattenOutline(
    round.coordinates,
    closed,
    scale,
    softTolerance(inMatte.featherInside + inMatte.featherOutside, target instanceof Uint16Array),
    varying
      ? (segment, t) => {
          const [a, b] = [factors[segment] ?? 1, factors[(segment + 1) % points] ?? 1];
          varying.push(a + (b - a) * t);
        }
      : undefined,
  );
  if (line.length < (closed ? 6 : 4)) {
    if (!(target instanceof MatteSums)) target.fill(0);
    return;
  }
  const region = regionOf(line, outline.kind, outline.sweptSide, width, height, varying);
  drawMatte(region, inMatte, width, height, target, scratch);
}
