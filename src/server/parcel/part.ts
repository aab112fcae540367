import path from 'node:path';
import type { CrossingDocument } from '@/core/document/tables';
import type { Shot } from '@/core/model/shot';
import { framesPerSecond } from '@/core/time/rate';
import type { Rate } from '@/core/model/time';
import { framesUsed, type Remaining } from '@/core/document/shortened';
import { writePartOfVideo } from '@/footage/part-of-video';
import { factsOf } from '../read-facts';
import { recordOf, shotWithIndex } from '../shots';
import { filesOf } from './contents';

/** A part of a shot that travels in place of all of it. */
export interface ShotPart {
  remaining: Remaining;
  /** Its files. */
  files: string[];
}

/**
 * The part of a shot that a crossing uses, with frames more at both ends, written into a folder if it is a video.
 *
 * @returns null where all of it has to travel: it is used throughout, needed as a whole, or cannot be parted without
 *   encoding it anew.
 */
export async function partOf(
  document: CrossingDocument,
  shots: Readonly<Record<string, Shot>>,
  id: string,
  handles: number,
  folder: string,
): Promise<ShotPart | null> {
  const used = framesUsed(document, shots, id);
  if (!used) return null;
  const shot = shots[id];
  const [from, last] = [Math.max(0, used[0] - handles), Math.min(shot.frameCount - 1, used[1] + handles)];
  const own = filesOf(id);
  if (recordOf(id).kind === 'stills') {
    const count = last - from + 1;
    return count === own.length
      ? null
      : { remaining: { first: from, count }, files: own.slice(from, last + 1) };
  }
  const to = path.join(folder, id);
  const { timestamps, keyFrames } = shotWithIndex(id);
  const index = { timestamps: Float64Array.from(timestamps), keyFrames: Uint32Array.from(keyFrames) };
  const written = await writePartOfVideo(own[0], index, [from, last], to);
  return written && (await isLike(shot, id, to, written.count)) ? { remaining: written, files: [to] } : null;
}

/** How far the rate that a short part is measured at may lie from that of the whole, which counts. */
const rateTolerance = 0.003;

/** Whether two rates are one, but for the milliseconds that a container tells times by. */
export function sameRate(a: Rate, b: Rate): boolean {
  return Math.abs(framesPerSecond(a) / framesPerSecond(b) - 1) <= rateTolerance;
}

/** Whether a part will be taken in as the shot that it is of: with its frames, rate, size, colour and sound. */
async function isLike(shot: Shot, id: string, file: string, count: number): Promise<boolean> {
  const facts = await factsOf(file);
  const { has_sound } = recordOf(id);
  return (
    facts.index.timestamps.length === count &&
    facts.constantRate &&
    [facts.width, facts.height, facts.rotation].join() === [shot.width, shot.height, shot.rotation].join() &&
    sameRate(facts.rate, shot.rate) &&
    facts.colour.matrix === shot.colour.matrix &&
    facts.colour.fullRange === shot.colour.fullRange &&
    facts.hasSound === (has_sound === 1)
  );
}
