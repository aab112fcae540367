import { limits } from '../model/limits';
import type { LayerRow } from '../document/tables';
import type { Shot } from '../model/shot';
import { framesPerSecond } from '../time/rate';
import { frameOfCount } from '../time/source-timecode';
import { parseTimecode } from '../time/timecode';
import { type Rate, plainTime } from '../model/time';
import { type ShotClock, sourceFrameAt } from '../time/time-map';
import { NoTimeline, readTimeline, type Timeline, type TimelineClip, type TimelineCut } from './timeline-in';

/** What is known of footage by which a clip finds its file. */
export interface NamedShot {
  id: string;
  name: string;
  originalName: string;
  /** Where they are known: of files that are called alike, the one whose timecode holds the clip is meant. */
  rate?: Rate;
  frameCount?: number;
  timecode?: Shot['timecode'];
}

const stem = (name: string) => name.toLowerCase().replace(/\.[a-z0-9]{1,5}$/, '');

/** The shot that a clip is of: by the name of its file, else without its ending, else by the shot's own name; null: none. */
export function shotOfClip<S extends NamedShot>(clip: TimelineClip, shots: readonly S[]): S | null {
  const by = [
    ({ originalName }: S, name: string) => originalName === name,
    ({ originalName }: S, name: string) => stem(originalName) === stem(name),
    ({ name: own }: S, name: string) => stem(own) === stem(name),
  ];
  for (const same of by)
    for (const name of clip.names) {
      const found = shots.filter((shot) => same(shot, name));
      if (found.length > 0) return found.find((shot) => holds(shot, clip)) ?? found[0];
    }
  return null;
}

/** Whether a shot's own timecode has the number with which a clip begins. */
function holds({ rate, frameCount, timecode }: NamedShot, clip: TimelineClip): boolean {
  return (
    rate !== undefined &&
    frameCount !== undefined &&
    frameByTimecode(clip, { rate, frameCount, timecode }) !== null
  );
}

/** The source frame with which a clip begins, by its file's timecode; null where that does not name one. */
function frameByTimecode(
  { counted }: TimelineClip,
  { rate, frameCount, timecode }: Pick<Shot, 'rate' | 'frameCount' | 'timecode'>,
): number | null {
  if (!timecode || counted === undefined) return null;
  const frame =
    typeof counted === 'string'
      ? frameOfCode(counted, timecode, rate)
      : Math.round((counted - timecode.start / framesPerSecond(timecode.rate)) * framesPerSecond(rate));
  return frame !== null && frame >= 0 && frame < frameCount ? frame : null;
}

function frameOfCode(code: string, timecode: NonNullable<Shot['timecode']>, rate: Rate): number | null {
  // A list says for all of its files whether it counts in drop-frame; a file's own counting is what its numbers are of.
  const own = code.replace(/[:;](\d\d)$/, `${timecode.dropFrame ? ';' : ':'}$1`);
  try {
    return frameOfCount(timecode, rate, parseTimecode(own, timecode.rate));
  } catch {
    return null;
  }
}

/**
 * A timeline's cuts. A list does not say what rate it counts in: it is that of the footage that it names, else of any that
 * fits.
 *
 * @throws NoTimeline
 */
export function timelineFor(text: string, shots: readonly (NamedShot & { rate: Rate })[]): Timeline {
  const rates: Rate[] = [...new Map(shots.map(({ rate }) => [`${rate.num}/${rate.den}`, rate])).values()];
  if (rates.length === 0) rates.push({ num: 25, den: 1 });
  let failure: NoTimeline | null = null;
  let fits: Timeline | null = null;
  for (const rate of rates)
    try {
      const timeline = readTimeline(text, rate);
      fits ??= timeline;
      const named = timeline.cuts
        .map(({ outgoing }) => shotOfClip(outgoing, shots))
        .find((shot) => shot !== null);
      if (named && framesPerSecond(named.rate) === framesPerSecond(timeline.rate)) return timeline;
    } catch (error) {
      if (!(error instanceof NoTimeline)) throw error;
      failure = error;
    }
  if (fits) return fits;
  throw failure;
}

/** How a layer is lined up as a timeline has it. */
export type LayerTiming = Pick<LayerRow, 'offset' | 'speed' | 'reverse' | 'holdFrom'>;

/** A crossing's timing, as a timeline has it or as its shots fit together best. */
export interface Timing {
  outgoing: LayerTiming;
  incoming: LayerTiming;
  /** Frames; null: as long as what is traced. */
  length: number | null;
  /** The frame with which the incoming clip begins in the timeline; null: there is none. */
  cut: number | null;
  /** The frames on which the one goes over into the other; null: only the cut is known. */
  edge: { opens: number; closes: number } | null;
}

/** How a shot counts its frames, and how many it has. */
export type TakenShot = ShotClock & Pick<Shot, 'frameCount' | 'timecode'>;

/** s of the incoming clip that are taken along. */
const alongAfter = 2;
/** Slowest and fastest that a layer can be, percent. */
const [slowest, fastest] = [25, 800];

/**
 * A crossing's timing from a cut: its frame 0 is the outgoing clip's first, and both shots lie as the cut has them; the
 * crossing goes on into the incoming clip for two seconds, or to its end where a transition joins them.
 *
 * @param rate of the crossing.
 * @returns with it the clips whose place in their file could not be told, as it lies beyond the file's end.
 */
export function timingOf(
  { outgoing, incoming, at, overlap = 0, edge = undefined }: TimelineCut,
  timeline: Rate,
  rate: Rate,
  shots: { outgoing: TakenShot; incoming: TakenShot },
): { timing: Timing; unplaced: TimelineClip[] } {
  const frames = (count: number) => Math.round((count * framesPerSecond(rate)) / framesPerSecond(timeline));
  const after = Math.max(
    1,
    edge
      ? frames(incoming.frames)
      : Math.min(frames(incoming.frames), Math.round(alongAfter * framesPerSecond(rate))),
  );
  const cut = Math.min(limits.frames - after, frames(outgoing.frames));
  // The crossing's frame 0 is the outgoing clip's first.
  const within = (frame: number) => Math.min(cut + after - 1, Math.max(0, cut + frames(frame - at)));
  const firsts = {
    outgoing: firstFrame(outgoing, shots.outgoing),
    incoming: firstFrame(incoming, shots.incoming),
  };
  return {
    timing: {
      outgoing: layerTiming(outgoing, firsts.outgoing ?? 0, 0, rate, shots.outgoing),
      incoming: layerTiming(incoming, firsts.incoming ?? 0, cut - frames(overlap), rate, shots.incoming),
      length: cut + after,
      cut,
      edge: edge
        ? { opens: within(edge.opens), closes: Math.max(within(edge.opens), within(edge.closes)) }
        : null,
    },
    unplaced: [
      ...(firsts.outgoing === null ? [outgoing] : []),
      ...(firsts.incoming === null ? [incoming] : []),
    ],
  };
}

/** s after which a count of hours begins again. */
const hour = 3600;

/**
 * The source frame that a clip begins with; null where its file does not reach so far. A file's own timecode, which a list
 * counts by, often begins on a full hour (common practice, no source): then whole hours are taken off.
 */
function firstFrame(clip: TimelineClip, shot: TakenShot): number | null {
  const { rate, frameCount } = shot;
  const { start } = clip;
  const counted = frameByTimecode(clip, shot);
  if (counted !== null) return counted;
  for (const seconds of [start, start % hour]) {
    const frame = Math.round(seconds * framesPerSecond(rate));
    if (frame < frameCount) return frame;
  }
  return null;
}

/** A layer that shows a source frame at a crossing frame, at its clip's speed. */
function layerTiming(
  { percent, heldAt }: TimelineClip,
  first: number,
  at: number,
  rate: Rate,
  shot: TakenShot,
): LayerTiming {
  if (percent === 0) return { offset: first, speed: 100, reverse: false, holdFrom: first };
  const reverse = percent < 0;
  const speed = Math.min(fastest, Math.max(slowest, Math.round(100 * Math.abs(percent)) / 100));
  const map = { ...plainTime, speed, reverse };
  const offset = first - sourceFrameAt(at, map, rate, { rate: shot.rate });
  const holdFrom = heldAt === undefined ? null : Math.round(heldAt * framesPerSecond(shot.rate));
  return {
    offset,
    speed,
    reverse,
    holdFrom: holdFrom !== null && holdFrom < shot.frameCount ? holdFrom : null,
  };
}
