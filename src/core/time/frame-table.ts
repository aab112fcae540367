import { rateOf } from './rate';
import type { Rate, TimeMap } from '../model/time';
import { crossingFrameOf, type ShotClock, sourceFrameAt } from './time-map';

/**
 * A layer's frames, both ways: the source frame of each crossing frame, and the crossing frames that show a source
 * frame. It is filled from the layer's time map; whatever else may come to bend time fills the same table.
 */
export interface FrameTable {
  /** The source frame at each crossing frame; it may lie outside the shot. */
  sources: Int32Array;
  /** The first crossing frame that shows each source frame. */
  firsts: ReadonlyMap<number, number>;
}

/** @param length of the crossing, frames. */
export function frameTable(map: TimeMap, crossing: Rate, shot: ShotClock, length: number): FrameTable {
  const sources = Int32Array.from({ length }, (_, frame) => sourceFrameAt(frame, map, crossing, shot));
  const firsts = new Map<number, number>();
  for (let frame = length - 1; frame >= 0; frame--) firsts.set(sources[frame], frame);
  return { sources, firsts };
}

/** What a table was filled from, to know whether it still holds. */
interface Filled {
  table: FrameTable;
  rateNum: number;
  rateDen: number;
  length: number;
  shot: ShotClock;
}

/** Tables by the layer's row, which is never changed in place. */
const tables = new WeakMap<TimeMap, Filled>();

/** The table of a layer, filled once for as long as the layer, its shot and the crossing's time stay as they are. */
export function tableOf(
  map: TimeMap,
  { rateNum, rateDen, length }: { rateNum: number; rateDen: number; length: number },
  shot: ShotClock,
): FrameTable {
  const held = tables.get(map);
  if (
    held &&
    held.rateNum === rateNum &&
    held.rateDen === rateDen &&
    held.length === length &&
    held.shot === shot
  )
    return held.table;
  const table = frameTable(map, { num: rateNum, den: rateDen }, shot, length);
  tables.set(map, { table, rateNum, rateDen, length, shot });
  return table;
}

/** The source frame at a crossing frame, from the table where it reaches so far. */
export function sourceAt(
  map: TimeMap,
  crossing: { rateNum: number; rateDen: number; length: number },
  shot: ShotClock,
  frame: number,
): number {
  if (Number.isInteger(frame) && frame >= 0 && frame < crossing.length)
    return tableOf(map, crossing, shot).sources[frame];
  return sourceFrameAt(frame, map, rateOf(crossing), shot);
}

/** The first crossing frame that shows a source frame, or at which the layer has run past it. */
export function firstShowing(
  map: TimeMap,
  crossing: { rateNum: number; rateDen: number; length: number },
  shot: ShotClock,
  source: number,
): number {
  return (
    tableOf(map, crossing, shot).firsts.get(source) ?? crossingFrameOf(source, map, rateOf(crossing), shot)
  );
}
