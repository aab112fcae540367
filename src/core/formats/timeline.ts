import { layerSourceFrame, shownSourceFrame, type Shots } from '../compose/source-frames';
import { cutsByPicture, layersInOrder, playedRange, markedFrame } from '../document/document';
import type { CrossingDocument, LayerRow } from '../document/tables';
import type { Shot } from '../model/shot';
import { framesPerSecond, rateOf } from '../time/rate';
import { timecodeOfFrame } from '../time/source-timecode';
import type { Rate } from '../model/time';
import { countsInDropFrame, formatTimecode } from '../time/timecode';

/** A layer's stretch of the crossing in a timeline: from a source frame on at a steady speed. */
export interface Stretch {
  layer: LayerRow;
  shot: Shot;
  /** First crossing frame, and how many. */
  from: number;
  frames: number;
  /** Source frame at its start, and the speed in percent of the shot's own; 0: it stands still. */
  source: number;
  percent: number;
}

/** What a timeline says of a crossing, bottom layer first, and what it cannot. */
export interface Told {
  stretches: Stretch[];
  lost: string[];
}

/** Stretches of all visible layers between the crossing's in and out. */
export function toldBy(document: CrossingDocument, shots: Shots): Told {
  const [first, last] = playedRange(document);
  const lost: string[] = [];
  const stretches = layersInOrder(document)
    .filter(({ visible }) => visible)
    .flatMap((layer) => {
      const shot = shots[layer.shotId];
      if (!shot) return [];
      if (layer.ramp.length > 0)
        lost.push(`${shot.name}: the ramp of its speed; its mean speed stands for it.`);
      if (layer.steady > 0) lost.push(`${shot.name}: that it is steadied.`);
      if (layer.betweens === 'mixed') lost.push(`${shot.name}: that frames between two are mixed.`);
      if (layer.lens !== 0) lost.push(`${shot.name}: that its lens is straightened.`);
      if (layer.flip) lost.push(`${shot.name}: that it is mirrored.`);
      return stretchesOf(document, layer, shot, first, last);
    });
  if (Object.keys(document.outlines).length > 0 || cutsByPicture(document))
    lost.push('Outlines, edges and mattes: the timeline cuts, it does not wipe.');
  if (Object.keys(document.moves).length > 0) lost.push('Moves, fades, blur and colour.');
  return { stretches, lost };
}

function stretchesOf(
  document: CrossingDocument,
  layer: LayerRow,
  shot: Shot,
  first: number,
  last: number,
): Stretch[] {
  const stretches: Stretch[] = [];
  const still = (frame: number) =>
    layer.holdFrom !== null && layerSourceFrame(document, layer, shot, frame) === layer.holdFrom;
  for (let frame = first; frame <= last; frame++) {
    const source = shownSourceFrame(document, layer, shot, frame);
    if (source === null) continue;
    const before = stretches.at(-1);
    const goesOn = before && before.from + before.frames === frame && (before.percent === 0) === still(frame);
    if (goesOn) before.frames++;
    else stretches.push({ layer, shot, from: frame, frames: 1, source, percent: still(frame) ? 0 : 100 });
  }
  for (const stretch of stretches) {
    if (stretch.percent === 0) continue;
    const speed = layer.reverse ? -layer.speed : layer.speed;
    stretch.percent = layer.ramp.length === 0 ? speed : meanPercent(document, stretch);
  }
  return stretches;
}

/** The speed that a ramped stretch has in the mean. */
function meanPercent(document: CrossingDocument, { layer, shot, from, frames, source }: Stretch): number {
  if (frames < 2) return layer.speed;
  const end = layerSourceFrame(document, layer, shot, from + frames - 1);
  const { crossing } = document;
  const perFrame = (end - source) / (frames - 1);
  const own = (shot.rate.num * crossing.rateDen) / (shot.rate.den * crossing.rateNum);
  return Math.round((10_000 * perFrame) / own) / 100;
}

/** What a finished export is called, for a timeline that goes on with it. */
export interface Finished {
  fileName: string;
  frames: number;
}

/** `cut`: one track on which the shots follow each other, joined by a transition; `layers`: a track for each, one over the other. */
export type TimelineForm = 'cut' | 'layers';

/** What is asked of a timeline. */
export interface TimelineAsked {
  form: TimelineForm;
  /** Crossing frame with which the incoming shot begins where one follows the other. */
  cutAt: number;
  /** Names of the shots' files, by the shots' ids; where there is none the shot's own name stands for it. */
  fileNames: Readonly<Record<string, string>>;
  finished: Finished | null;
}

/**
 * The crossing as OpenTimelineIO's JSON, with the export beside it on a track of its own if there is one; that is switched off
 * where the shots follow each other. Names of schemas and fields are those of its published file format, from memory.
 */
export function otioOf(document: CrossingDocument, shots: Shots, asked: TimelineAsked): string {
  const { crossing } = document;
  const rate = rateOf(crossing);
  const [first, last] = playedRange(document);
  const { stretches, lost } = toldBy(document, shots);
  const fileOf = ({ id, name }: Shot) => asked.fileNames[id] ?? name;
  const tracks =
    asked.form === 'cut'
      ? [track('Crossing', cutTrack(document, shots, stretches, asked, fileOf))]
      : [...new Set(stretches.map(({ layer }) => layer))].map((layer, k) => {
          const own = stretches.filter((stretch) => stretch.layer === layer);
          return track(`${k + 1} ${layer.role}`, clipsInPlace(own, first, rate, fileOf));
        });
  if (asked.finished) {
    const { fileName, frames } = asked.finished;
    const reference = external(fileName, range(0, frames, rate));
    const made = track('Export', [clip(crossing.name, reference, range(0, frames, rate), [])]);
    tracks.push({ ...made, enabled: asked.form === 'layers' });
  }
  const marks = Object.values(document.marks)
    .filter(({ frame }) => frame >= first && frame <= last)
    .sort((a, b) => a.frame - b.frame)
    .map(({ name, frame, kind }) => ({
      OTIO_SCHEMA: 'Marker.2',
      metadata: {},
      name,
      color: kind === 'mark' ? 'YELLOW' : 'GREEN',
      comment: '',
      marked_range: range(frame - first, 1, rate),
    }));
  const stack = {
    ...{ OTIO_SCHEMA: 'Stack.1', metadata: {}, name: 'tracks', source_range: null },
    ...{ effects: [], markers: marks, enabled: true, children: tracks },
  };
  const edge = edgeIn(document, first, last);
  const timeline = {
    OTIO_SCHEMA: 'Timeline.1',
    metadata: { kiv: { notSaid: lost, ...(edge ? { edge } : {}) } },
    name: crossing.name,
    global_start_time: null,
    tracks: stack,
  };
  return JSON.stringify(timeline, null, 2);
}

/** Frames of the timeline on which the edge opens and closes, where both are marked. */
function edgeIn(document: CrossingDocument, first: number, last: number) {
  const [opens, closes] = [markedFrame(document, 'opens'), markedFrame(document, 'closes')];
  if (opens === undefined || closes === undefined) return null;
  if (opens > last || closes < first || opens > closes) return null;
  return { opens: Math.max(first, opens) - first, closes: Math.min(last, closes) - first };
}

type FileOf = (shot: Shot) => string;

/** Clips with what lies empty between them. */
function clipsInPlace(stretches: readonly Stretch[], first: number, rate: Rate, fileOf: FileOf): object[] {
  const children: object[] = [];
  let at = first;
  for (const stretch of stretches) {
    if (stretch.from > at) children.push(gap(stretch.from - at, rate));
    children.push(clipOf(stretch, rate, fileOf));
    at = stretch.from + stretch.frames;
  }
  return children;
}

/**
 * The outgoing shot up to the cut and the incoming one from there, with a transition over the frames from the opening to the
 * closing, as far as both have pictures.
 */
function cutTrack(
  document: CrossingDocument,
  shots: Shots,
  stretches: readonly Stretch[],
  { cutAt }: TimelineAsked,
  fileOf: FileOf,
): object[] {
  const rate = rateOf(document.crossing);
  const [first, last] = playedRange(document);
  const [outgoing, incoming] = cutBetween(document, stretches, cutAt);
  const children = clipsInPlace([...outgoing, ...incoming], first, rate, fileOf);
  const edge = edgeIn(document, first, last);
  const [before, after] = [outgoing.at(-1), incoming[0]];
  if (!edge || !before || !after || after.from !== before.from + before.frames) return children;
  const has = (layer: LayerRow, frame: number) =>
    shownSourceFrame(document, layer, shots[layer.shotId], frame) !== null;
  let [into, out] = [0, 0];
  while (cutAt - into > first + edge.opens && into < before.frames && has(after.layer, cutAt - into - 1))
    into++;
  while (cutAt + out <= first + edge.closes && out < after.frames && has(before.layer, cutAt + out)) out++;
  if (into + out === 0) return children;
  const joined = {
    ...{ OTIO_SCHEMA: 'Transition.1', metadata: {}, name: 'Crossing' },
    ...{ transition_type: 'SMPTE_Dissolve', in_offset: time(into, rate), out_offset: time(out, rate) },
  };
  const at = children.length - incoming.length;
  return [...children.slice(0, at), joined, ...children.slice(at)];
}

/** What is seen of the topmost outgoing layer up to a cut, and of the topmost incoming one from there. */
function cutBetween(
  document: CrossingDocument,
  stretches: readonly Stretch[],
  cutAt: number,
): [outgoing: Stretch[], incoming: Stretch[]] {
  const [first, last] = playedRange(document);
  const topOf = (role: LayerRow['role']) =>
    stretches.filter(({ layer }) => layer.role === role && layer === lastLayer(stretches, role));
  return [
    clipped(topOf('outgoing'), first, cutAt, document),
    clipped(topOf('incoming'), cutAt, last + 1, document),
  ];
}

function time(value: number, { num, den }: Rate) {
  return { OTIO_SCHEMA: 'RationalTime.1', rate: num / den, value };
}

function range(start: number, frames: number, rate: Rate) {
  return { OTIO_SCHEMA: 'TimeRange.1', duration: time(frames, rate), start_time: time(start, rate) };
}

function track(name: string, children: object[]) {
  return {
    ...{ OTIO_SCHEMA: 'Track.1', metadata: {}, name, source_range: null },
    ...{ effects: [], markers: [], enabled: true, children, kind: 'Video' },
  };
}

function gap(frames: number, rate: Rate) {
  return {
    ...{ OTIO_SCHEMA: 'Gap.1', metadata: {}, name: '', source_range: range(0, frames, rate) },
    ...{ effects: [], markers: [], enabled: true },
  };
}

function external(url: string, available: object) {
  return {
    ...{ OTIO_SCHEMA: 'ExternalReference.1', metadata: {}, name: '' },
    ...{ available_range: available, available_image_bounds: null, target_url: url },
  };
}

function clip(name: string, reference: object, source: object, effects: object[]) {
  return {
    ...{ OTIO_SCHEMA: 'Clip.2', metadata: {}, name, source_range: source },
    ...{ effects, markers: [], enabled: true },
    media_references: { DEFAULT_MEDIA: reference },
    active_media_reference_key: 'DEFAULT_MEDIA',
  };
}

/** A clip's range is so long as it lies in the timeline; a time warp says how fast it goes through its source. */
function clipOf({ shot, source, frames, percent }: Stretch, rate: Rate, fileOf: FileOf) {
  const effect = (schema: string, name: string, scalar: number) => ({
    ...{ OTIO_SCHEMA: schema, metadata: {}, name: '', effect_name: name, time_scalar: scalar },
  });
  const effects =
    percent === 0
      ? [effect('FreezeFrame.1', 'FreezeFrame', 0)]
      : percent !== 100
        ? [effect('LinearTimeWarp.1', 'LinearTimeWarp', percent / 100)]
        : [];
  const length = range(0, frames, rate).duration;
  const first = firstCount(shot);
  const start = time(first + source, shot.rate);
  return clip(
    shot.name,
    external(fileOf(shot), range(first, shot.frameCount, shot.rate)),
    { OTIO_SCHEMA: 'TimeRange.1', duration: length, start_time: start },
    effects,
  );
}

/** The number of a shot's first frame in its own timecode, counted in the shot's frames; 0 where it has none. */
function firstCount({ timecode, rate }: Shot): number {
  return timecode ? Math.round((timecode.start / framesPerSecond(timecode.rate)) * framesPerSecond(rate)) : 0;
}

/**
 * The crossing as a CMX 3600 list: the outgoing shot up to the frame at which half is covered, the incoming one from
 * there, with M2 lines for speeds other than the shot's own (common practice, no source; the columns from memory). Timecodes
 * of sources are the shots' own, counted from 00:00:00:00 of each file where it has none, at its own rate.
 *
 * @param cutAt crossing frame of the cut.
 * @param dropFrame whether what runs at 29.97 or 59.94 counts in drop-frame.
 * @param fileNames of the shots, by their ids: reels and clip names are the files'.
 */
export function edlOf(
  document: CrossingDocument,
  shots: Shots,
  { cutAt, dropFrame, fileNames }: { cutAt: number; dropFrame: boolean } & Pick<TimelineAsked, 'fileNames'>,
): string {
  const { crossing } = document;
  const rate = rateOf(crossing);
  const [first] = playedRange(document);
  const events = cutBetween(document, toldBy(document, shots).stretches, cutAt).flat();
  const code = (frame: number, of: Rate, drop: boolean) => formatTimecode(Math.max(0, frame), of, drop);
  const recordDrops = dropFrame && countsInDropFrame(rate);
  const mode = recordDrops ? 'DROP FRAME' : 'NON-DROP FRAME';
  const lines = [`TITLE: ${ascii(crossing.name)}`, `FCM: ${mode}`, ''];
  events.forEach(({ shot, source, from, frames, percent }, k) => {
    const drop = dropFrame && countsInDropFrame(shot.rate);
    const sourceCode = (frame: number) =>
      shot.timecode ? timecodeOfFrame(shot.timecode, shot.rate, frame) : code(frame, shot.rate, drop);
    // Frames of the shot, whose rate may be another than the crossing's.
    const perFrame = ((Math.abs(percent) / 100) * framesPerSecond(shot.rate)) / framesPerSecond(rate);
    const used = percent === 0 ? 1 : Math.max(1, Math.round(frames * perFrame));
    const begin = percent < 0 ? Math.max(0, source - used + 1) : source;
    const times = [
      sourceCode(begin),
      sourceCode(begin + used),
      code(from - first, rate, recordDrops),
      code(from - first + frames, rate, recordDrops),
    ];
    const file = fileNames[shot.id] ?? shot.name;
    const reel = reelOf(file);
    lines.push(
      `${String(k + 1).padStart(3, '0')}  ${reel.padEnd(8)} ${'V'.padEnd(5)} ${'C'.padEnd(8)} ${times.join(' ')}`,
    );
    if (percent !== 100) {
      const speed = ((percent / 100) * shot.rate.num) / shot.rate.den;
      const shown = `${speed < 0 ? '-' : ''}${Math.abs(speed).toFixed(1).padStart(5, '0')}`;
      lines.push(`M2   ${reel.padEnd(8)} ${shown}                ${sourceCode(begin)}`);
    }
    lines.push(`* FROM CLIP NAME: ${ascii(file)}`);
    if (shot.name !== file) lines.push(`* COMMENT: ${ascii(shot.name)}`);
  });
  return lines.join('\r\n') + '\r\n';
}

function lastLayer(stretches: readonly Stretch[], role: LayerRow['role']): LayerRow | undefined {
  return stretches.findLast(({ layer }) => layer.role === role)?.layer;
}

/** Stretches between two crossing frames, cut to them. */
function clipped(
  stretches: readonly Stretch[],
  from: number,
  to: number,
  document: CrossingDocument,
): Stretch[] {
  return stretches.flatMap((stretch) => {
    const start = Math.max(from, stretch.from);
    const end = Math.min(to, stretch.from + stretch.frames);
    if (start >= end) return [];
    const { layer, shot, percent } = stretch;
    const source = percent === 0 ? stretch.source : layerSourceFrame(document, layer, shot, start);
    return [{ ...stretch, from: start, frames: end - start, source }];
  });
}

/** A reel's name has eight letters and digits at the most (CMX 3600; common practice, no source); AX where none are left. */
function reelOf(file: string): string {
  const stem = file.replace(/\.[A-Za-z0-9]{1,5}$/, '');
  return (
    stem
      .normalize('NFKD')
      .replace(/[^A-Za-z0-9]/g, '')
      .slice(0, 8)
      .toUpperCase() || 'AX'
  );
}

/** Names in a list are plain ASCII. */
function ascii(text: string): string {
  return (
    text
      .normalize('NFKD')
      .replace(/[^\x20-\x7e]/g, '')
      .trim() || 'CROSSING'
  );
}
