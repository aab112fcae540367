import type { CrossingDocument, LayerRow } from '@/core/document/tables';
import { type Channel, channelNumbers, cornerChannels } from '@/core/model/channels';
import { channelAt } from '@/core/compose/moves';
import { keysOf } from '@/core/document/keys';
import { rampSpeedAt } from '@/core/time/ramp';
import { rampBounds, type EaseHandles } from '@/core/model/time';
import type { Lane } from '../view/view-store';
import { channelWords } from './channel-words';
import { rampKeys, speedKeyId } from './ramp-commands';

/** What the lanes under the picture show: values over the crossing's frames, and their keys. */

export type CourseName = Exclude<Lane, 'covered' | 'sound' | 'moves'>;

/** What a lane's values are counted in. */
export function unitOf(name: CourseName): string {
  if (name === 'speed') return '%';
  return inPairs.includes(name) || name === 'blur-along' ? 'px' : (channelWords[name].numbers[0][1] ?? '');
}

/** Channels of which two numbers, both px, are drawn: across and down. */
const inPairs: readonly Channel[] = ['place', ...cornerChannels];

export interface CourseKey {
  id: string;
  frame: number;
  value: number;
  /** What it says, in words. */
  name: string;
  /** Where its way to the next key is eased: the handles, x1, y1, x2, y2. */
  ease: EaseHandles | null;
}

export interface Course {
  /** For each line its values at the frames. */
  lines: { frame: number; value: number }[][];
  keys: readonly CourseKey[];
  low: number;
  high: number;
}

/** Slow away and slow to a stop: `ease-in-out` of CSS Easing Functions Level 1. */
const usualEase: EaseHandles = [0.42, 0, 0.58, 1];

/** Most points that a course is drawn with. */
const mostPoints = 600;

/** What a course's values may be. */
export function courseBounds(name: CourseName): readonly [low: number, high: number] {
  if (name === 'speed') return rampBounds;
  const [{ low, high }] = channelNumbers[name];
  return [low, high];
}

/** @param moverId what moves: a layer, or by the crossing's id the whole picture. @param ramped whose speed is shown. */
export function courseOf(
  document: CrossingDocument,
  name: CourseName,
  moverId: string,
  ramped: LayerRow | null,
): Course {
  return name === 'speed' ? speedCourse(document, ramped) : moveCourse(document, moverId, name);
}

/** All keys of what moves, each on its value's row. @param rows values that have keys. */
export function movesCourse(document: CrossingDocument, moverId: string, rows: readonly Channel[]): Course {
  const keyed = keysOf(document, moverId);
  const keys = rows.flatMap((channel, row) =>
    (keyed[channel] ?? []).map(({ row: { id, frame, value } }) => ({
      ...{ id, frame, value: row, ease: null },
      name: `${channelWords[channel].name} ${tenth(value)}`,
    })),
  );
  return { lines: [], keys, low: 0, high: rows.length };
}

function framesOf(length: number): number[] {
  const every = Math.max(1, Math.ceil(length / mostPoints));
  const frames = Array.from({ length: Math.ceil(length / every) }, (_, k) => k * every);
  return frames.at(-1) === length - 1 ? frames : [...frames, length - 1];
}

function moveCourse(document: CrossingDocument, moverId: string, channel: Channel): Course {
  const keys = (keysOf(document, moverId)[channel] ?? []).map(
    ({ ease, row: { id, frame, value, second, onward } }) => ({
      ...{ id, frame, value },
      ease: onward === 'eased' ? (ease ?? usualEase) : null,
      name: `${channelWords[channel].name} ${tenth(value)}${inPairs.includes(channel) ? `, ${tenth(second)}` : ''}`,
    }),
  );
  const numbers = framesOf(document.crossing.length).map((frame) => ({
    frame,
    values: channelAt(document, moverId, channel, frame),
  }));
  const line = (k: number) => numbers.map(({ frame, values }) => ({ frame, value: values[k] }));
  const lines = inPairs.includes(channel) ? [line(0), line(1)] : [line(0)];
  return bounded(lines, keys, channel === 'opacity' ? [0, 100] : null);
}

/** A layer's speed in percent of its own, with its corners rounded. */
function speedCourse({ crossing, layers }: CrossingDocument, ramped: LayerRow | null): Course {
  const layer = ramped && (layers[ramped.id] ?? ramped);
  if (!layer) return bounded([], [], [0, 100]);
  const line = framesOf(crossing.length).map((frame) => ({ frame, value: rampSpeedAt(layer, frame) }));
  const keys = rampKeys(layer).map(({ frame, percent }) => ({
    ...{ id: speedKeyId(frame), frame, value: percent, ease: null },
    name: `Speed ${tenth(percent)}`,
  }));
  return bounded([line], keys, null);
}

function tenth(value: number): number {
  return Math.round(value * 10) / 10;
}

function bounded(lines: Course['lines'], keys: readonly CourseKey[], fixed: [number, number] | null): Course {
  const values = [
    ...lines.flatMap((line) => line.map(({ value }) => value)),
    ...keys.map(({ value }) => value),
  ];
  let [low, high] = fixed ?? [Math.min(...values), Math.max(...values)];
  if (!Number.isFinite(low) || !Number.isFinite(high)) [low, high] = [0, 1];
  const room = high - low < 1e-6 ? Math.max(1, Math.abs(high) * 0.1) : 0.08 * (high - low);
  return { lines, keys, ...(fixed ? { low, high } : { low: low - room, high: high + room }) };
}
