import { framesPerSecond, rateFromMeasured, secondsAt } from '../time/rate';
import type { Rate } from '../model/time';
import { parseTimecode } from '../time/timecode';

/** A clip of a timeline, next to another. */
export interface TimelineClip {
  /** What it goes by: the name of its file, and that of the clip. */
  names: string[];
  /** Seconds into its file at which it begins: into what is available of it, where that is said. */
  start: number;
  /** How long it is in the timeline, frames. */
  frames: number;
  /** Speed in percent of its own; negative backwards, 0 where it stands still. */
  percent: number;
  /** The same by its file's timecode, where that may be what is said: as it is written, or in seconds. */
  counted?: string | number;
  /** Seconds into its file at which it stands still from some frame on; left out where it does not. */
  heldAt?: number;
}

/** A place where one clip follows another without a gap. */
export interface TimelineCut {
  outgoing: TimelineClip;
  incoming: TimelineClip;
  /** Frame of the timeline with which the incoming one begins, or goes on alone where the two lie one over the other. */
  at: number;
  /** Frames by which the incoming one begins before that; left out where it does not. */
  overlap?: number;
  /** First and last frame of the timeline on which one goes over into the other; left out where they only follow each other. */
  edge?: { opens: number; closes: number };
}

export interface Timeline {
  rate: Rate;
  cuts: TimelineCut[];
}

/** Why a timeline cannot be read, as a sentence. */
export class NoTimeline extends Error {}

/** Bytes of a timeline that are read. */
export const mostBytes = 20e6;
const mostDepth = 20;
/** Last frame of a timeline that an edge of one's own may close on. */
const mostEdge = 10_000_000;

/**
 * The cuts of a timeline: of OpenTimelineIO's JSON, or of a CMX 3600 list.
 *
 * @param assumed the rate that a list counts in, which it does not say itself.
 * @throws NoTimeline
 */
export function readTimeline(text: string, assumed: Rate): Timeline {
  if (text.length > mostBytes) throw new NoTimeline('A timeline of more than 20 MB is not read.');
  const timeline = text.trimStart().startsWith('{') ? readOtio(text) : readList(text, assumed);
  if (timeline.cuts.length === 0)
    throw new NoTimeline('In this timeline no clip follows another without a gap.');
  return timeline;
}

type Json = Record<string, unknown>;

const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const schemaOf = (value: unknown) =>
  isObject(value) && typeof value.OTIO_SCHEMA === 'string' ? value.OTIO_SCHEMA.split('.')[0] : null;
const childrenOf = (value: Json): unknown[] => (Array.isArray(value.children) ? value.children : []);

/** Names of schemas and fields are those of OpenTimelineIO's published file format, from memory. */
function readOtio(text: string): Timeline {
  let whole: unknown;
  try {
    whole = JSON.parse(text);
  } catch {
    throw new NoTimeline('This timeline is incomplete: its JSON cannot be read.');
  }
  if (!schemaOf(whole)) throw new NoTimeline('This JSON is not an OpenTimelineIO timeline.');
  const tracks: Json[] = [];
  gatherTracks(whole, tracks, 0);
  let rate: Rate | null = null;
  const cuts: TimelineCut[] = [];
  const placed = tracks.map((track) => {
    const own = clipsOf(track, rate);
    rate ??= own.rate;
    cuts.push(...cutsOf(own.items));
    return { name: typeof track.name === 'string' ? track.name : '', items: own.items };
  });
  const edge = ownEdge(whole);
  if (cuts.length === 0) cuts.push(...cutsBetween(placed, edge));
  return { rate: rate ?? { num: 25, den: 1 }, cuts };
}

/** A clip where it lies in a timeline, or what joins two. */
interface Item {
  clip: TimelineClip | null;
  from: number;
  to: number;
  /** Frames that a transition after it reaches into it, and into the next one. */
  joins: [before: number, after: number] | null;
}

/** A track's clips in their places; a freeze goes with the clip of the same file before it. */
function clipsOf(track: Json, counts: Rate | null): { items: Item[]; rate: Rate | null } {
  let rate = counts;
  const items: Item[] = [];
  let at = 0;
  for (const child of childrenOf(track)) {
    const kind = schemaOf(child);
    if (!isObject(child)) continue;
    const before = items.at(-1);
    // It lies over the two it joins and takes no time of its own.
    if (kind === 'Transition') {
      const perSecond = rate ? framesPerSecond(rate) : 0;
      const frames = (value: unknown) => {
        const time = timeOf(value);
        return time ? Math.max(0, Math.round((time.value / time.rate) * perSecond)) : 0;
      };
      if (before) before.joins = [frames(child.in_offset), frames(child.out_offset)];
      continue;
    }
    const range = rangeOf(child.source_range) ?? rangeOf(referenceOf(child)?.available_range);
    if (!range) {
      items.push({ clip: null, from: at, to: at, joins: null });
      continue;
    }
    rate ??= range.rate;
    const frames = Math.round(range.seconds * framesPerSecond(rate));
    const clip = kind === 'Clip' ? clipOf(child, range.start, frames) : null;
    const held =
      clip?.percent === 0 && before?.clip && !before.joins && clip.names[0] === before.clip.names[0];
    if (held && before.clip!.percent !== 0 && before.clip!.heldAt === undefined) {
      before.clip = { ...before.clip!, frames: before.clip!.frames + frames, heldAt: clip.start };
      before.to += frames;
    } else items.push({ clip, from: at, to: at + frames, joins: null });
    at += frames;
  }
  return { items, rate };
}

/** The places of a track where one clip follows another. */
function cutsOf(items: readonly Item[]): TimelineCut[] {
  return items.flatMap((item, k) => {
    const next = items[k + 1];
    if (!item.clip || !next?.clip) return [];
    const at = item.to;
    const edge = item.joins && { opens: at - item.joins[0], closes: Math.max(at, at + item.joins[1] - 1) };
    return [{ outgoing: item.clip, incoming: next.clip, at, ...(edge ? { edge } : {}) }];
  });
}

/**
 * Where two tracks lie one over the other, the one that ends first, or that its track calls so, goes, and the other one comes: they
 * change places in the middle of what both show.
 */
function cutsBetween(
  tracks: readonly { name: string; items: Item[] }[],
  edge: TimelineCut['edge'] | null,
): TimelineCut[] {
  const clips = tracks.flatMap(({ name, items }, track) =>
    items.flatMap((item) => (item.clip ? [{ ...item, clip: item.clip, name, track }] : [])),
  );
  for (const [k, a] of clips.entries())
    for (const b of clips.slice(k + 1)) {
      if (a.track === b.track || Math.min(a.to, b.to) <= Math.max(a.from, b.from)) continue;
      const goes = /outgoing/i.test(a.name)
        ? a
        : /outgoing/i.test(b.name)
          ? b
          : a.to < b.to || a.from < b.from
            ? a
            : b;
      const comes = goes === a ? b : a;
      if (/^export$/i.test(comes.name) || /^export$/i.test(goes.name)) continue;
      const at = Math.round((Math.max(goes.from, comes.from) + Math.min(goes.to, comes.to)) / 2);
      return [
        {
          outgoing: { ...goes.clip, frames: at - goes.from },
          incoming: { ...comes.clip, frames: comes.to - at },
          ...{ at, overlap: at - comes.from, ...(edge ? { edge } : {}) },
        },
      ];
    }
  return [];
}

/** When the edge opens and closes in a timeline that Kiv has written itself. */
function ownEdge(whole: unknown): TimelineCut['edge'] | null {
  const own = isObject(whole) && isObject(whole.metadata) ? whole.metadata.kiv : null;
  const edge = isObject(own) ? own.edge : null;
  if (!isObject(edge) || !Number.isInteger(edge.opens) || !Number.isInteger(edge.closes)) return null;
  const [opens, closes] = [edge.opens as number, edge.closes as number];
  return opens >= 0 && closes >= opens && closes < mostEdge ? { opens, closes } : null;
}

/** The video tracks of a timeline, in their order. */
function gatherTracks(value: unknown, into: Json[], depth: number) {
  if (!isObject(value) || depth > mostDepth) return;
  const kind = schemaOf(value);
  if (kind === 'Timeline') gatherTracks(value.tracks, into, depth + 1);
  else if (kind === 'Track') {
    if (value.kind === undefined || value.kind === 'Video') into.push(value);
  } else if (kind === 'Stack' || kind === 'SerializableCollection')
    for (const child of childrenOf(value)) gatherTracks(child, into, depth + 1);
}

function referenceOf(clip: Json): Json | null {
  const several = isObject(clip.media_references) ? clip.media_references : null;
  const key = typeof clip.active_media_reference_key === 'string' ? clip.active_media_reference_key : '';
  const reference = several ? (several[key] ?? Object.values(several)[0]) : clip.media_reference;
  return isObject(reference) ? reference : null;
}

/** Seconds from a range's start and of its length, and the rate that its length counts in. */
function rangeOf(value: unknown): { start: number; seconds: number; rate: Rate } | null {
  if (!isObject(value)) return null;
  const [start, length] = [timeOf(value.start_time), timeOf(value.duration)];
  if (!start || !length) return null;
  return {
    start: start.value / start.rate,
    seconds: length.value / length.rate,
    rate: rateFromMeasured(length.rate),
  };
}

function timeOf(value: unknown): { value: number; rate: number } | null {
  if (!isObject(value)) return null;
  const { value: amount, rate } = value;
  const good = typeof amount === 'number' && typeof rate === 'number' && Number.isFinite(amount) && rate > 0;
  return good && rate < 1e4 ? { value: amount, rate } : null;
}

function clipOf(clip: Json, start: number, frames: number): TimelineClip {
  const reference = referenceOf(clip);
  const available = rangeOf(reference?.available_range);
  const url = typeof reference?.target_url === 'string' ? reference.target_url : '';
  const names = [fileNameIn(url), typeof clip.name === 'string' ? clip.name : ''].filter(Boolean);
  let percent = 100;
  for (const effect of Array.isArray(clip.effects) ? clip.effects : []) {
    const kind = schemaOf(effect);
    if (kind === 'FreezeFrame') percent = 0;
    else if (kind === 'LinearTimeWarp' && isObject(effect) && typeof effect.time_scalar === 'number')
      percent *= effect.time_scalar;
  }
  const within = Math.max(0, start - (available?.start ?? 0));
  return { names, start: within, ...(available ? {} : { counted: start }), frames, percent };
}

function fileNameIn(url: string): string {
  const last = url.split(/[?#]/)[0].split(/[\\/]/).pop() ?? '';
  try {
    return decodeURIComponent(last);
  } catch {
    return last;
  }
}

/** A number, a reel, a track, a kind of cut with its length, and four timecodes (CMX 3600; common practice, no source). */
const eventLine =
  /^(\d{1,6})\s+(\S+)\s+(\S+)\s+(C|D|W\d+|K\S*)\s+(?:\d+\s+)?(\d\d:\d\d:\d\d[:;]\d\d)\s+(\d\d:\d\d:\d\d[:;]\d\d)\s+(\d\d:\d\d:\d\d[:;]\d\d)\s+(\d\d:\d\d:\d\d[:;]\d\d)/;
const speedLine = /^M2\s+(\S+)\s+(-?\d+(?:\.\d+)?)\s/;
const nameLine = /^\*\s*(FROM|TO) CLIP NAME:\s*(.+)$/;

function readList(text: string, rate: Rate): Timeline {
  const events: (TimelineClip & { from: number; to: number })[] = [];
  let drop = false;
  let any = false;
  const dropCode = (code: string) => (drop ? code.replace(/:(\d\d)$/, ';$1') : code);
  const frameAt = (code: string) => {
    try {
      return parseTimecode(dropCode(code), rate);
    } catch (error) {
      throw new NoTimeline(`This list does not fit the rate of the footage: ${(error as Error).message}`);
    }
  };
  for (const raw of text.split(/\r?\n/)) {
    const line = raw.trim();
    if (/^FCM:/.test(line)) drop = /(?<!NON[- ])DROP/.test(line) && rate.den === 1001;
    const event = eventLine.exec(line);
    const last = events.at(-1);
    if (event) {
      any = true;
      const [, , reel, track, , ...codes] = event;
      if (!/^(V|B|AA\/V|A\d*\/V)/.test(track)) continue;
      const [begin, , from, to] = codes.map(frameAt);
      // A dissolve is told in two lines, the first without length.
      if (to <= from) continue;
      events.push({
        names: [reel],
        start: secondsAt(begin, rate),
        counted: dropCode(codes[0]),
        frames: to - from,
        percent: 100,
        from,
        to,
      });
    }
    const speed = speedLine.exec(line);
    if (speed && last) last.percent = (100 * Number(speed[2])) / framesPerSecond(rate);
    const name = nameLine.exec(line);
    // With a dissolve the name that it comes from is that of the event before.
    if (name && last && !(name[1] === 'FROM' && last.names.length > 1)) last.names.unshift(name[2].trim());
  }
  if (!any) throw new NoTimeline('This is neither an OpenTimelineIO timeline nor a CMX 3600 list.');
  const cuts: TimelineCut[] = [];
  events.sort((a, b) => a.from - b.from);
  const start = events[0]?.from ?? 0;
  for (const [k, incoming] of events.entries()) {
    const outgoing = events[k - 1];
    if (outgoing && outgoing.to === incoming.from)
      cuts.push({ outgoing: plain(outgoing), incoming: plain(incoming), at: incoming.from - start });
  }
  return { rate, cuts };
}

const plain = ({ names, start, counted, frames, percent }: TimelineClip): TimelineClip => ({
  ...{ names, start, counted, frames, percent },
});
