import { firstKeyFrom } from '../document/document';
import type { EdgeRow, EdgeSettings, OutlineRow } from '../document/rows';
import { easeInOut } from '../time/easing';
import { hermite, monotoneSlope } from '../time/monotone';

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
  const at = firstKeyFrom(keys, frame);
  if (at === keys.length) return edgeSettingsOf(keys[at - 1]);
  if (at === 0 || keys[at].frame === frame || keys[at - 1].onward === 'hold')
    return edgeSettingsOf(keys[at].frame === frame || at === 0 ? keys[at] : keys[at - 1]);
  const [from, to] = [keys[at - 1], keys[at]];
  const length = to.frame - from.frame;
  const slope = (a: EdgeRow | undefined, b: EdgeRow | undefined, of: (key: EdgeRow) => number) =>
    a && b ? (of(b) - of(a)) / (b.frame - a.frame) : null;
  const value = (of: (key: EdgeRow) => number) => {
    const [a, b] = [of(from), of(to)];
    const own = (b - a) / length;
    if (from.onward === 'eased') return a + (b - a) * easeInOut((frame - from.frame) / length);
    const smooth = from.onward === 'smooth';
    return hermite(
      (frame - from.frame) / length,
      length,
      a,
      b,
      smooth ? monotoneSlope(slope(keys[at - 2], from, of), own) : own,
      smooth ? monotoneSlope(own, slope(to, keys[at + 1], of)) : own,
    );
  };
  const points = Math.max(from.factors.length, to.factors.length);
  return {
    featherInside: value((key) => key.featherInside),
    featherOutside: value((key) => key.featherOutside),
    spread: value((key) => key.spread),
    roundness: value((key) => key.roundness),
    factors: Array.from({ length: points }, (_, i) => value((key) => key.factors[i] ?? 1)),
  };
}
