import { type EdgeSettings, numbersPerPoint as N, type OutlineRow } from '../document/rows';
import { flattenOutline, regionOf, roundedCorners } from '../outline';
import { combineMatte, drawMatte, type MatteScratch } from './matte';

/** An outline together with where its points are at one frame, and how its edge is drawn there. */
export interface PosedOutline {
  outline: OutlineRow;
  edge: EdgeSettings;
  coordinates: readonly number[];
  /** Where the points are while the shutter is open, evenly spaced in time; empty without motion blur. */
  exposures: readonly (readonly number[])[];
}

/**
 * The matte of a layer's outlines: what they cut away, alpha 0 to 255, at `scale` of the shot's size.
 *
 * @param width, height of the matte in its own pixels: the shot's size times `scale`, rounded.
 * @param full whether all is cut before the first of them is joined.
 * @param out width·height bytes, written whole.
 */
export function drawOutlines(
  posed: readonly PosedOutline[],
  full: boolean,
  scale: number,
  width: number,
  height: number,
  out: Uint8Array,
  scratch: MatteScratch,
) {
  out.fill(full ? 255 : 0);
  let own: Uint8Array | null = null;
  posed.forEach((each, i) => {
    // The first one that adds to nothing needs no matte of its own.
    const target =
      i === 0 && !full && each.outline.combine === 'add' ? out : (own ??= new Uint8Array(out.length));
    drawExposed(each, scale, width, height, target, scratch);
    if (target !== out) combineMatte(out, target, each.outline.combine);
  });
}

/** One outline's matte: the mean over its exposures where it has some. */
function drawExposed(
  { outline, edge, coordinates, exposures }: PosedOutline,
  scale: number,
  width: number,
  height: number,
  out: Uint8Array,
  scratch: MatteScratch,
) {
  // A smaller picture moves by fewer of its own px: every second or third exposure will do.
  const stride = Math.max(1, Math.floor(1 / scale));
  const shown = exposures.filter((_, k) => k % stride === 0);
  if (shown.length < 2) return drawOne(outline, edge, coordinates, scale, width, height, out, scratch);
  const sums = new Uint16Array(out.length);
  for (const exposure of shown) {
    drawOne(outline, edge, exposure, scale, width, height, out, scratch);
    for (let i = 0; i < sums.length; i++) sums[i] += out[i];
  }
  const half = shown.length >> 1;
  for (let i = 0; i < sums.length; i++) out[i] = (sums[i] + half) / shown.length;
}

function drawOne(
  outline: OutlineRow,
  edge: EdgeSettings,
  coordinates: readonly number[],
  scale: number,
  width: number,
  height: number,
  out: Uint8Array,
  scratch: MatteScratch,
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
    flatteningTolerance(inMatte.featherInside + inMatte.featherOutside),
    varying
      ? (segment, t) => {
          const [a, b] = [factors[segment] ?? 1, factors[(segment + 1) % points] ?? 1];
          varying.push(a + (b - a) * t);
        }
      : undefined,
  );
  if (line.length < (closed ? 6 : 4)) {
    out.fill(0);
    return;
  }
  const region = regionOf(line, outline.kind, outline.sweptSide, width, height, varying);
  drawMatte(region, inMatte, width, height, out, scratch);
}

/** A soft edge rises by at most 1.5·255/feather code values a px: its polyline may be off by what is under one. */
function flatteningTolerance(feather: number): number {
  return Math.min(0.1, Math.max(0.02, feather / 400));
}
