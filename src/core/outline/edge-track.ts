import type { EdgeRow, EdgeSettings, OutlineRow } from '../document/tables';
import { numberBetween, placeAmong } from '../time/track';

/** The edge settings of a row, without what else it holds. */
export function edgeSettingsOf(row: EdgeSettings): EdgeSettings {
  const { featherInside, featherOutside, spread, roundness, factors } = row;
  return { featherInside, featherOutside, spread, roundness, factors };
}

/**
 * How an outline's edge is drawn at a source frame: as its keys and their in-betweens say, as the first or last of
 * them beyond; without keys as the outline itself says.
 *
 * @param keys of the outline's edge, ascending by frame.
 */
export function edgeAt(outline: OutlineRow, keys: readonly EdgeRow[], frame: number): EdgeSettings {
  if (keys.length === 0) return edgeSettingsOf(outline);
  const place = placeAmong(keys, frame);
  if (place.where !== 'between') return edgeSettingsOf(place.key);
  const { from, to } = place;
  if (from.onward === 'hold') return edgeSettingsOf(from);
  const value = (of: (key: EdgeRow) => number) => numberBetween(keys, place, of);
  const points = Math.max(from.factors.length, to.factors.length);
  return {
    featherInside: value((key) => key.featherInside),
    featherOutside: value((key) => key.featherOutside),
    spread: value((key) => key.spread),
    roundness: value((key) => key.roundness),
    factors: Array.from({ length: points }, (_, i) => value((key) => key.factors[i] ?? 1)),
  };
}
