import { type EdgeSettings, type OutlineRow } from '../document/tables';
import { numbersPerPoint as N } from '../model/choices';
import { flattenOutline, inwardDirections } from '../outline';

type Place = readonly [x: number, y: number];

/** Where the softness of an edge ends at one of its points: pulled, it changes what the feather is there. */
export interface SoftnessKnob {
  point: number;
  place: Place;
  /** The point itself, and the unit vector from it to the knob. */
  from: Place;
  along: Place;
  /** px that a factor of one is wide on this side. */
  width: number;
}

/** The two lines between which the edge is soft: polylines outside and inside of the outline, px of the shot. */
export function softLines(
  outline: Pick<OutlineRow, 'kind' | 'sweptSide'>,
  coordinates: readonly number[],
  edge: EdgeSettings,
): [outer: number[], inner: number[]] {
  const points = coordinates.length / N;
  const factors: number[] = [];
  const line = flattenOutline(coordinates, outline.kind === 'loop', 1, 0.5, (segment, t) => {
    const [a, b] = [edge.factors[segment] ?? 1, edge.factors[(segment + 1) % points] ?? 1];
    factors.push(a + (b - a) * t);
  });
  const ways = inwardDirections(outline, line);
  const offset = (by: (factor: number) => number) =>
    ways.flatMap(([x, y], k) => [line[2 * k] - x * by(factors[k]), line[2 * k + 1] - y * by(factors[k])]);
  return [
    offset((factor) => edge.spread + edge.featherOutside * factor),
    offset((factor) => edge.spread - edge.featherInside * factor),
  ];
}

export function softnessKnobs(
  outline: Pick<OutlineRow, 'kind' | 'sweptSide'>,
  coordinates: readonly number[],
  edge: EdgeSettings,
): SoftnessKnob[] {
  const outside = edge.featherOutside > 0;
  const width = outside ? edge.featherOutside : edge.featherInside;
  if (width <= 0) return [];
  const places: number[] = [];
  for (let i = 0; i < coordinates.length; i += N) places.push(coordinates[i], coordinates[i + 1]);
  return inwardDirections(outline, places).map(([x, y], point) => {
    const along: Place = outside ? [-x, -y] : [x, y];
    const base = edge.spread * (outside ? 1 : -1);
    const far = base + width * (edge.factors[point] ?? 1);
    const from: Place = [places[2 * point] + along[0] * base, places[2 * point + 1] + along[1] * base];
    const place: Place = [places[2 * point] + along[0] * far, places[2 * point + 1] + along[1] * far];
    return { point, place, from, along, width };
  });
}

/** The factor that a knob pulled to a place stands for. */
export function factorAt({ from, along, width }: SoftnessKnob, [x, y]: Place): number {
  const far = (x - from[0]) * along[0] + (y - from[1]) * along[1];
  return Math.round(Math.min(10, Math.max(0, far / width)) * 100) / 100;
}
