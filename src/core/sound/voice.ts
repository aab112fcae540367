import { rateOf } from '../time/rate';
import { keyedAt } from '../document/keys';
import { playedRange, markedFrame } from '../document/document';
import type { CrossingDocument, PieceRow } from '../document/tables';
import type { Shot } from '../model/shot';
import { sourcePositionAt } from '../time/time-map';
import { bentBy, type Openness, sampleOfFrame, samplesPerFrame } from './behind';
import { gainOf, quietest } from './stereo';
import { mixRate } from '../model/limits';

/** What a piece's sound is made of. */
export type SoundSource = { kind: 'file' | 'shot'; id: string } | { kind: 'made'; piece: PieceRow };

/** How a piece sounds at a moment: factors of both sides, and Hz of its filters. */
export interface Settings {
  left: number;
  right: number;
  lowPass: number;
  highPass: number;
  /** dB by which the wall rings. */
  ring: number;
}

/** A piece of sound as it is mixed. */
export interface Voice {
  piece: PieceRow;
  source: SoundSource;
  /** First crossing sample at which it sounds, and the one after its last. */
  from: number;
  to: number;
  /** Where a crossing sample lies in the source, in samples. */
  placeOf: (sample: number) => number;
  /** True where source samples follow each other as the crossing's do, on whole places. */
  plain: boolean;
  settingsAt: (sample: number) => Settings;
}

/** Frequencies beyond which a filter does nothing that is heard. */
export const highest = 20_000;
export const lowest = 20;

/** What of a crossing its sound depends on. */
export interface SoundScene {
  document: CrossingDocument;
  shots: Readonly<Record<string, Shot>>;
  openness: Openness;
}

/**
 * The pieces of a crossing that sound, as they are mixed.
 *
 * @param alone the piece that is heard alone; null, or one that is gone: all that are not muted.
 */
export function voicesOf(scene: SoundScene, alone: string | null = null): Voice[] {
  const { pieces } = scene.document;
  return Object.values(pieces)
    .filter(({ id, muted }) => (alone && pieces[alone] ? id === alone : !muted))
    .flatMap((piece) => voiceOf(scene, piece) ?? []);
}

/** A voice without its place from left to right, as loud as with it: for channels that do not stand there. */
export function unpanned(voice: Voice): Voice {
  return {
    ...voice,
    settingsAt(sample) {
      const settings = voice.settingsAt(sample);
      const { left, right } = settings;
      const both = Math.sqrt((left * left + right * right) / 2);
      return { ...settings, left: both, right: both };
    },
  };
}

/** A piece as it is mixed; null where what it comes from is not there. */
export function voiceOf(scene: SoundScene, piece: PieceRow): Voice | null {
  const course = piece.source === 'layer' ? layerCourse(scene, piece) : placedCourse(piece);
  return course && { piece, ...course, settingsAt: settingsOf(scene, piece, course) };
}

type Course = Pick<Voice, 'source' | 'from' | 'to' | 'placeOf' | 'plain'>;

function placedCourse(piece: PieceRow): Course | null {
  const { start, inSample, length, source, sourceId } = piece;
  if (source === 'layer' || (source !== 'made' && !sourceId)) return null;
  return {
    source: source === 'made' ? { kind: 'made', piece } : { kind: source, id: sourceId! },
    from: start,
    to: start + length,
    placeOf: (sample) => sample - start + inSample,
    plain: true,
  };
}

/** A layer's sound runs as its pictures do: slipped, trimmed, sped, ramped, reversed; a held frame is silent. */
function layerCourse({ document, shots }: SoundScene, piece: PieceRow): Course | null {
  const layer = document.layers[piece.sourceId ?? ''];
  const shot = layer && shots[layer.shotId];
  if (!layer || !shot) return null;
  const { crossing } = document;
  const rate = rateOf(crossing);
  const perFrame = samplesPerFrame(rate);
  const perShotFrame = samplesPerFrame(shot.rate);
  // A frame that is shown backwards sounds from its end.
  const end = layer.reverse ? 1 : 0;
  const at = (sample: number) => sourcePositionAt(sample / perFrame, layer, rate, shot) + end;
  const steady = layer.speed === 100 && layer.ramp.length === 0 && !layer.reverse;
  const even = !shot.frameTimes && Math.abs(perFrame - perShotFrame) < 1e-9;
  const placeOf = (frames: number) => frames * perShotFrame;
  // The trims, and the frame that is held, end it.
  const low = layer.trimIn ?? 0;
  const high = (layer.trimOut ?? shot.frameCount - 1) + 1;
  const { holdFrom } = layer;
  const last = sampleOfFrame(crossing.length, rate);
  const heard = (sample: number) => {
    const place = at(sample);
    if (layer.reverse ? place <= low || place > high : place < low || place >= high) return false;
    return holdFrom === null || (layer.reverse ? place > holdFrom + 1 : place < holdFrom);
  };
  const offset = Math.round(placeOf(at(0)));
  const course = {
    source: { kind: 'shot' as const, id: shot.id },
    ...heardRange(heard, last),
  };
  if (steady && even) return { ...course, placeOf: (sample) => sample + offset, plain: true };
  return { ...course, placeOf: (sample) => placeOf(at(sample)), plain: false };
}

/** The stretch of the crossing in which something is heard: it begins and ends once. */
function heardRange(heard: (sample: number) => boolean, last: number): { from: number; to: number } {
  // Looked for in steps of 10 ms, then halved to the sample.
  const step = mixRate / 100;
  const marks = Array.from({ length: Math.ceil(last / step) + 1 }, (_, k) => Math.min(last, k * step));
  const first = marks.findIndex(heard);
  if (first < 0) return { from: 0, to: 0 };
  const end = marks.findLastIndex(heard);
  const between = (inside: number, outside: number) => {
    let [a, b] = [inside, outside];
    while (Math.abs(b - a) > 1) {
      const middle = Math.round((a + b) / 2);
      if (heard(middle)) a = middle;
      else b = middle;
    }
    return a;
  };
  return {
    from: first === 0 ? 0 : between(marks[first], marks[first - 1]),
    to: end === marks.length - 1 ? last : between(marks[end], marks[end + 1]) + 1,
  };
}

/**
 * What shapes a piece over the crossing: its level, fades, place from left to right, what lies behind the edge, its part
 * in a crossfade; keys by hand take over where a channel has them.
 */
function settingsOf(
  { document, openness }: SoundScene,
  piece: PieceRow,
  { from, to }: Course,
): (sample: number) => Settings {
  const { crossing } = document;
  const perFrame = samplesPerFrame(rateOf(crossing));
  const keyed = (channel: 'level' | 'low-pass' | 'high-pass', frame: number) =>
    keyedAt(document, piece.id, channel, frame)?.[0];
  const bend = bentBy(piece.bend);
  const closedPitch = Math.log(piece.closedLowPass);
  const openPitch = Math.log(highest);
  const crossed = crossOf(document, piece, openness);
  const [panLeft, panRight] = pannedBy(piece.pan);
  return (sample) => {
    const frame = sample / perFrame;
    const open = piece.behind ? bend(openness(sample)) : 1;
    const level = keyed('level', frame);
    // What is set to silence is not made audible by the way's opening.
    const set = piece.level <= quietest ? quietest : piece.level + piece.closedLevel * (1 - open);
    const gain = gainOf(level ?? set) * fadeOf(piece, sample, from, to) * crossed(sample);
    return {
      left: gain * panLeft,
      right: gain * panRight,
      lowPass: keyed('low-pass', frame) ?? Math.exp(closedPitch + (openPitch - closedPitch) * open),
      highPass: keyed('high-pass', frame) ?? lowest,
      ring: piece.behind ? mostRing * (piece.ring / 100) * (1 - open) : 0,
    };
  };
}

/** dB by which a wall rings at the most. */
const mostRing = 12;

/** A straight fade in and out, in the factor. */
function fadeOf({ fadeIn, fadeOut }: PieceRow, sample: number, from: number, to: number): number {
  const coming = fadeIn > 0 ? Math.min(1, (sample - from + 0.5) / fadeIn) : 1;
  const going = fadeOut > 0 ? Math.min(1, (to - sample - 0.5) / fadeOut) : 1;
  return Math.max(0, Math.min(coming, going));
}

/**
 * Both sides' factors of a balance with equal power: nothing is changed in the middle, +3 dB on one side alone at
 * the ends (common practice, no source).
 */
function pannedBy(pan: number): [left: number, right: number] {
  const angle = ((pan / 100 + 1) * Math.PI) / 4;
  return [Math.SQRT2 * Math.cos(angle), Math.SQRT2 * Math.sin(angle)];
}

/** The factor of a piece's part in a crossfade with equal power. */
function crossOf(
  document: CrossingDocument,
  { crossfade, crossfadeByTime }: PieceRow,
  openness: Openness,
): (sample: number) => number {
  if (crossfade === 'none') return () => 1;
  const along = crossfadeByTime ? timeAlong(document) : openness;
  return crossfade === 'comes in'
    ? (sample) => Math.sin((along(sample) * Math.PI) / 2)
    : (sample) => Math.cos((along(sample) * Math.PI) / 2);
}

/** From 0 at the opening to 1 at the closing, evenly; over all that is played where they are not marked. */
function timeAlong(document: CrossingDocument): (sample: number) => number {
  const { crossing } = document;
  const rate = rateOf(crossing);
  const [first, last] = playedRange(document);
  const from = sampleOfFrame(markedFrame(document, 'opens') ?? first, rate);
  const to = Math.max(from + 1, sampleOfFrame((markedFrame(document, 'closes') ?? last) + 1, rate));
  return (sample) => Math.min(1, Math.max(0, (sample - from) / (to - from)));
}
