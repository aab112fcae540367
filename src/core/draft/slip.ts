import { edgeRange, type Side } from '../checks/belonging';
import { ownTime, rankPartners } from '../checks/partners';
import { shownSourceFrame } from '../compose/source-frames';
import { playedRange } from '../document/document';
import type { CrossingDocument, LayerRow } from '../document/tables';
import { plainTime } from '../model/time';
import type { Shot } from '../model/shot';
import { rateOf } from '../time/rate';
import { crossingFrameOf, offsetAt } from '../time/time-map';
import type { Decision } from './decisions';

/** How a shot lies in time in a layer's place. */
export interface Slip extends Pick<Decision, 'basis' | 'sure'> {
  /** The layer's settings that make it so, its shot among them. */
  settings: Partial<LayerRow>;
  /** What it does, after its name: “starts at frame 35”. */
  says: string;
}

/** Crossing frames by which what comes in has pictures before the opening. */
const lead = 5;
/** Lowest speed, in percent, at which a shot that is too short is slowed down rather than frozen (common practice, no source). */
const slowest = 50;

/**
 * A shot laid in a layer's place so that it has pictures wherever it is seen: where it and the one beside it are measured, at the
 * place at which it moves most like that one; else it begins a little before the opening. One that is too short runs slower, or
 * is frozen. Without marks the opening is the first frame that is played, and the closing the last.
 *
 * @param beside the layer that stays, with its shot.
 */
export function slipOf(
  document: CrossingDocument,
  beside: Pick<Side, 'layer' | 'shot'>,
  place: LayerRow,
  shot: Shot,
): Slip {
  const [opens, closes] = edgeRange(document);
  const [first, last] = playedRange(document);
  const comesIn = place.role === 'incoming';
  const [from, to] = comesIn ? [Math.max(first, opens - lead), last] : [first, Math.min(last, closes + lead)];
  const plain = { ...ownTime, offset: plainTime.offset, shotId: shot.id };
  if (shot.frameCount < 2)
    return {
      ...{ settings: { ...plain, holdFrom: 0 }, says: 'stands still', sure: 'sure' },
      basis: 'It is a still.',
    };
  const lacking = (settings: Partial<LayerRow>) => {
    let count = 0;
    for (let frame = from; frame <= to; frame++)
      if (shownSourceFrame(document, { ...place, ...settings }, shot, frame) === null) count++;
    return count;
  };
  const [best] = rankPartners(document, beside, place, [shot]);
  if (best && lacking(best.settings) === 0)
    return {
      settings: best.settings,
      says: 'slipped to where it fits best',
      basis: `${best.says[0].toUpperCase()}${best.says.slice(1)}.`,
      sure: best.cost < 2 ? 'sure' : 'likely',
    };
  const rate = rateOf(document.crossing);
  const begun = (speed: number) => {
    const time = { ...plain, speed };
    return { ...time, offset: offsetAt(0, from, time, rate, shot) };
  };
  if (lacking(begun(100)) === 0)
    return {
      settings: begun(100),
      says: `starts at frame ${from}`,
      basis: comesIn
        ? 'A little before the opening, with pictures to the end.'
        : 'It has pictures up to the closing.',
      sure: best ? 'likely' : 'sure',
    };
  const needed = to - from + 1;
  const there = crossingFrameOf(shot.frameCount, plainTime, rate, shot);
  const speed = Math.floor((100 * (there - 1)) / needed);
  if (speed >= slowest && lacking(begun(speed)) === 0)
    return {
      ...{ settings: begun(speed), says: `runs at ${speed} %`, sure: 'likely' },
      basis: `It has ${there} frames; ${needed} are seen.`,
    };
  return {
    settings: { ...begun(100), holdFrom: shot.frameCount - 1 },
    ...{ says: 'is frozen at its end', sure: 'likely' },
    basis: `It has ${there} frames; ${needed} are seen: too few to run slower.`,
  };
}
