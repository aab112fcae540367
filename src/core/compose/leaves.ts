import type { CrossingDocument, OutlineRow } from '../document/tables';
import { numbersPerPoint as N } from '../model/choices';
import type { Shot } from '../model/shot';
import type { Homography } from '../geometry/homography';
import { determinant3, inverse3 } from '../geometry/matrix3';
import { flattenOutline, shapeAt } from '../outline';
import { numbersAt } from '../document/keys';

/** px by which the sides' line may be off the leaf's curve. */
const sideStep = 0.5;
/** Degrees below which a leaf is shut. */
const shut = 0.01;

/** The side that a leaf hangs by, and the camera it is seen with. */
export interface Hinge {
  /** Ends of the side, px of the shot. */
  from: readonly [x: number, y: number];
  to: readonly [x: number, y: number];
  /** A place on the leaf. */
  leaf: readonly [x: number, y: number];
  /** Where the camera looks, and how far it is from the picture, px. */
  centre: readonly [x: number, y: number];
  distance: number;
  inwards: boolean;
}

/** The direction from the hinge across the leaf, of length 1; null where the hinge has no length, or the leaf lies on it. */
function acrossFrom({ from, to, leaf }: Pick<Hinge, 'from' | 'to' | 'leaf'>): [x: number, y: number] | null {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  if (length === 0) return null;
  const [x, y] = [(from[1] - to[1]) / length, (to[0] - from[0]) / length];
  const side = (leaf[0] - from[0]) * x + (leaf[1] - from[1]) * y;
  if (side === 0) return null;
  return side < 0 ? [-x, -y] : [x, y];
}

/**
 * Where the places of a leaf that lay in the picture's plane are seen once it has swung open: turned about its hinge and
 * projected from the camera's place (a plane-induced homography; Hartley and Zisserman 2003, §13.1).
 *
 * @param degrees from shut.
 * @returns null where its face has turned away, or it comes too near the camera.
 */
export function swung(
  { from, to, leaf, centre, distance, inwards }: Hinge,
  degrees: number,
): Homography | null {
  const across = acrossFrom({ from, to, leaf });
  if (!across) return null;
  const [nx, ny] = across;
  const offset = nx * from[0] + ny * from[1];
  const angle = (degrees * Math.PI) / 180;
  // A place at d from the hinge comes to lie at d · cos, and goes d · sin away from the camera.
  const short = 1 - Math.cos(angle);
  const away = ((inwards ? 1 : -1) * Math.sin(angle)) / distance;
  const w = [away * nx, away * ny, 1 - away * offset];
  // (X − c) / w + c, with X affine in the place.
  const row = (n: number, c: number, own: readonly [number, number]) => [
    own[0] - short * n * nx + c * w[0],
    own[1] - short * n * ny + c * w[1],
    short * n * offset + c * (w[2] - 1),
  ];
  const h = [...row(nx, centre[0], [1, 0]), ...row(ny, centre[1], [0, 1]), ...w];
  const depth = h[6] * leaf[0] + h[7] * leaf[1] + h[8];
  return depth > 0.05 && determinant3(h) > 1e-6 ? h : null;
}

/**
 * The sides of a leaf that has swung open, as far as they are seen: for each run of its line beyond which its thickness
 * shows the polygon between that and the same on its far face, x and y by turns.
 *
 * @param line x and y of places around it, at rest.
 * @param thickness px by which its far face lies behind the near one.
 */
export function sidesOfLeaf(
  { from, to, leaf, centre, distance, inwards }: Hinge,
  degrees: number,
  line: readonly number[],
  thickness: number,
): number[][] {
  const direction = acrossFrom({ from, to, leaf });
  if (!direction) return [];
  const [nx, ny] = direction;
  const angle = ((inwards ? 1 : -1) * degrees * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const seen = (i: number, behind: number): [number, number] => {
    const [x, y] = [line[i % line.length], line[(i + 1) % line.length]];
    const across = (x - from[0]) * nx + (y - from[1]) * ny;
    // Turned about the hinge: how far it moves along the plane, and its depth.
    const by = across * cos - behind * sin - across;
    const near = 1 / Math.max(0.05, 1 + (across * sin + behind * cos) / distance);
    return [centre[0] + (x + by * nx - centre[0]) * near, centre[1] + (y + by * ny - centre[1]) * near];
  };
  const count = line.length / 2;
  const near = Array.from({ length: count }, (_, k) => seen(2 * k, 0));
  const far = Array.from({ length: count }, (_, k) => seen(2 * k, thickness));
  const turn = Math.sign(areaOf(near));
  // A side that is seen lies beyond its stretch of the face's line, and so turns the other way.
  const isSeen = near.map((_, k) => {
    const next = (k + 1) % count;
    return areaOf([near[k], near[next], far[next], far[k]]) * turn < 0;
  });
  const begin = isSeen.findIndex((is, k) => is && !isSeen[(k + count - 1) % count]);
  const sides: number[][] = [];
  for (let k = begin; begin >= 0 && k < begin + count; k++) {
    if (!isSeen[k % count]) continue;
    const run = [k];
    while (isSeen[(k + 1) % count] && run.length < count) run.push(++k);
    const places = [...run, k + 1].map((at) => at % count);
    sides.push([...places.map((at) => near[at]), ...places.reverse().map((at) => far[at])].flat());
  }
  return sides;
}

/** Twice the signed area of a polygon. */
function areaOf(places: readonly (readonly [number, number])[]): number {
  return places.reduce((sum, [x, y], k) => {
    const [u, v] = places[(k + 1) % places.length];
    return sum + x * v - u * y;
  }, 0);
}

/** A leaf's angle at a crossing frame, degrees; null where the outline is none, or it is shut. */
export function angleAt(
  document: CrossingDocument,
  { id, hinge, kind }: OutlineRow,
  frame: number,
): number | null {
  if (hinge === null || kind !== 'loop') return null;
  const [degrees] = numbersAt(document, id, 'swing', frame);
  return degrees > shut ? degrees : null;
}

/** A leaf as it is seen. */
export interface Leaf {
  /** From the shot's px as it is seen to those at rest. */
  map: Homography;
  /** A place on it, and its loop, at rest. */
  middle: readonly [x: number, y: number];
  coordinates: readonly number[];
  /** Its sides as they are seen; none where it has no thickness. */
  sides: readonly (readonly number[])[];
}

/** How a leaf is seen at a crossing frame, or a moment of it; null where it is shut, or gone. */
export function leafAt(
  document: CrossingDocument,
  outline: OutlineRow,
  shot: Shot,
  sourceFrame: number,
  frame: number,
): Leaf | null {
  const degrees = angleAt(document, outline, frame);
  const shape = shapeAt(document.poses[outline.id] ?? [], sourceFrame, outline);
  if (degrees === null || shape.state === 'empty' || shape.state === 'full') return null;
  const { coordinates } = shape;
  const k = outline.points.indexOf(outline.hinge!);
  const at = (point: number): [number, number] => {
    const i = (point % outline.points.length) * N;
    return [coordinates[i], coordinates[i + 1]];
  };
  const count = outline.points.length;
  const middle = outline.points
    .map((_, point) => at(point))
    .reduce<[number, number]>((sum, [x, y]) => [sum[0] + x / count, sum[1] + y / count], [0, 0]);
  const hinge: Hinge = {
    ...{ from: at(k), to: at(k + 1), leaf: middle, inwards: outline.inwards },
    ...{ centre: [shot.width / 2, shot.height / 2], distance: outline.camera * shot.width },
  };
  const seen = swung(hinge, degrees);
  if (!seen) return null;
  const sides =
    outline.thickness > 0
      ? sidesOfLeaf(hinge, degrees, flattenOutline(coordinates, true, 1, sideStep), outline.thickness)
      : [];
  return { map: inverse3(seen), middle, coordinates, sides };
}

export const hingeSides = ['left', 'right', 'upper', 'lower'] as const;
export type HingeSide = (typeof hingeSides)[number];

/** The point at which a loop's outermost side to the left, right, top or bottom begins. */
export function hingeAt(coordinates: readonly number[], points: readonly string[], side: HingeSide): string {
  const across = side === 'left' || side === 'right' ? 0 : 1;
  const sign = side === 'left' || side === 'upper' ? -1 : 1;
  let [best, farthest] = [0, -Infinity];
  points.forEach((_, k) => {
    const next = (k + 1) % points.length;
    const [a, b] = [coordinates[k * N + across], coordinates[next * N + across]];
    const along = Math.abs(coordinates[k * N + 1 - across] - coordinates[next * N + 1 - across]);
    // The outer of the sides; a long one before a short one.
    const score = (sign * (a + b)) / 2 - Math.abs(a - b) + along / 1000;
    if (score > farthest) [best, farthest] = [k, score];
  });
  return points[best];
}
