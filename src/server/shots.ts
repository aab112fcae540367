import { rm } from 'node:fs/promises';
import path from 'node:path';
import type { ColourMatrix, Shot, ShotMotion, SourceTimecode } from '@/core/model/shot';
import type { FoundCrossing } from '@/core/find/crossings';
import { fitsShot } from '@/core/motion/measure';
import { type FrameIndex, frameTimesOf, longestStretch } from '@/core/time/frame-index';
import { nominalRateOf, secondsAt } from '@/core/time/rate';
import { sourceTimecodeFrom } from '@/core/time/source-timecode';
import { footageFolder } from './data-folder';
import type { ShotListing, ShotMedia } from '@/wire/answers';
import { database } from './database';
import { notFound, Problem } from './problem';

interface ShotRecord {
  id: string;
  name: string;
  original_name: string;
  file_name: string;
  byte_size: number;
  container: string;
  codec: string;
  width: number;
  height: number;
  rotation: Shot['rotation'];
  rate_num: number;
  rate_den: number;
  constant_rate: number;
  frame_count: number;
  duration: number;
  colour_matrix: ColourMatrix;
  full_range: number;
  has_sound: number;
  timestamps: Buffer;
  key_frames: Buffer;
  created_at: string;
  kind: 'video' | 'stills';
  notes: string;
  keep_sound: number;
  treatment: string;
  square_pixels: number;
  motion: string | null;
  found: string | null;
  work_file_name: string | null;
  work_timestamps: Buffer | null;
  work_key_frames: Buffer | null;
  work_share: number;
  /** When its files were deleted while a history still needed it; null: it is there. */
  deleted_at: string | null;
  timecode_start: number | null;
  timecode_num: number | null;
  timecode_den: number | null;
  timecode_drop: number;
  depth: number;
}

/** A shot without what is long. */
function listedOf(record: ShotRecord): Omit<Shot, 'motion' | 'frameTimes'> {
  return {
    id: record.id,
    name: record.name,
    width: record.width,
    height: record.height,
    rotation: record.rotation,
    rate: { num: record.rate_num, den: record.rate_den },
    frameCount: record.frame_count,
    colour: { matrix: record.colour_matrix, fullRange: record.full_range === 1 },
    timecode: timecodeOf(record),
  };
}

function timecodeOf(record: ShotRecord): SourceTimecode | null {
  const { timecode_start: start, timecode_num: num, timecode_den: den, timecode_drop: drop } = record;
  return start === null || num === null || den === null
    ? null
    : { start, rate: { num, den }, dropFrame: drop === 1 };
}

function shotOf(record: ShotRecord): Shot {
  return {
    ...listedOf(record),
    frameTimes: record.constant_rate === 1 ? null : frameTimesOf(floats(record.timestamps)),
    motion: record.motion ? (JSON.parse(record.motion) as ShotMotion) : null,
  };
}

/** A shot's record, also one whose files are gone. @throws Problem 404 */
function rememberedRecordOf(id: string): ShotRecord {
  const record = database().prepare('SELECT * FROM shot WHERE id = ?').get(id) as ShotRecord | undefined;
  if (!record) throw notFound('shot');
  return record;
}

/** @throws Problem 404, also for a shot that was deleted and is only remembered. */
export function recordOf(id: string): ShotRecord {
  const record = rememberedRecordOf(id);
  if (record.deleted_at !== null) throw notFound('shot');
  return record;
}

/** All shots, newest first. */
export function listShots(): ShotListing[] {
  const records = database()
    .prepare('SELECT * FROM shot WHERE deleted_at IS NULL ORDER BY created_at DESC, name')
    .all() as ShotRecord[];
  return records.map((record) => listingOf(record, shotOf(record)));
}

function listingOf(record: ShotRecord, shot: Shot): ShotListing {
  return {
    ...listedOf(record),
    originalName: record.original_name,
    byteSize: record.byte_size,
    container: record.container,
    codec: record.codec,
    constantRate: record.constant_rate === 1,
    nominalRate: nominalRateOf(shot),
    duration: record.duration,
    hasSound: record.has_sound === 1,
    keepSound: record.keep_sound === 1,
    notes: record.notes,
    treatment: record.treatment,
    stills: record.kind === 'stills',
    squarePixels: record.square_pixels === 1,
    depth: record.depth,
    longestStretch: record.kind === 'stills' ? 1 : longestStretch(indexOf(record)),
    hasWorkCopy: record.work_file_name !== null,
    hasMotion: record.motion !== null,
    cuts: shot.motion?.cuts ?? [],
    found: record.found === null ? null : (JSON.parse(record.found) as FoundCrossing[]),
    createdAt: record.created_at,
    usedIn: crossingsUsing(record.id),
  };
}

function crossingsUsing(shotId: string): { id: string; name: string }[] {
  return database()
    .prepare(
      `SELECT id, name FROM crossing WHERE id IN (
         SELECT crossing_id FROM layer WHERE shot_id = :id OR matte_id = :id
         UNION SELECT crossing_id FROM piece WHERE source = 'shot' AND source_id = :id) ORDER BY name`,
    )
    .all({ id: shotId }) as { id: string; name: string }[];
}

/** The crossings in which something that can be undone or done again names the shot. */
function crossingsRemembering(shotId: string): { id: string; name: string }[] {
  return database()
    .prepare(
      `SELECT id, name FROM crossing WHERE EXISTS (
         SELECT 1 FROM edit WHERE crossing_id = crossing.id AND instr(changes, :id) > 0) ORDER BY name`,
    )
    .all({ id: shotId }) as { id: string; name: string }[];
}

/** A shot, also one whose files are gone. @throws Problem 404 */
export function shotById(id: string): Shot {
  return shotOf(rememberedRecordOf(id));
}

/** @throws Problem 409, naming it, when one of the shots was deleted and is only remembered. */
export function requireFootage(ids: Iterable<string>) {
  for (const id of new Set(ids)) {
    const { name, deleted_at } = rememberedRecordOf(id);
    if (deleted_at !== null)
      throw new Problem(
        409,
        `“${name}” was deleted from the footage, so there is only a grey picture in its place. Choose another shot for its layer in step Shots, or undo to before it.`,
      );
  }
}

// Copied, as SQLite's buffers need not be aligned for numbers.
const floats = (blob: Buffer) => new Float64Array(new Uint8Array(blob).buffer);
const integers = (blob: Buffer) => new Uint32Array(new Uint8Array(blob).buffer);
export const bytesOf = (array: Float64Array | Uint32Array) =>
  Buffer.from(array.buffer, array.byteOffset, array.byteLength);

function indexOf({ timestamps, key_frames }: ShotRecord): FrameIndex {
  return { timestamps: floats(timestamps), keyFrames: integers(key_frames) };
}

/** A shot with what its pictures are read by, also one whose files are gone. @throws Problem 404 */
export function shotWithIndex(id: string): ShotMedia {
  const record = rememberedRecordOf(id);
  const { timestamps, keyFrames } = indexOf(record);
  const stills = record.kind === 'stills';
  return {
    shot: shotOf(record),
    originalName: record.original_name,
    url: stills ? `/api/shots/${id}/stills` : `/api/shots/${id}/file`,
    timestamps: [...timestamps],
    keyFrames: [...keyFrames],
    stills,
    deleted: record.deleted_at !== null,
    hasSound: record.has_sound === 1 && record.deleted_at === null,
    keepsSound: record.has_sound === 1 && record.keep_sound === 1 && record.deleted_at === null,
    work: record.work_file_name
      ? {
          url: `/api/shots/${id}/work`,
          timestamps: [...floats(record.work_timestamps!)],
          keyFrames: [...integers(record.work_key_frames!)],
          share: record.work_share,
        }
      : null,
  };
}

/** @throws Problem 404 for stills, which have no one file. */
export function shotFile(id: string): { file: string; name: string } {
  const record = recordOf(id);
  if (record.kind === 'stills') throw notFound('file');
  return { file: path.join(footageFolder(), record.file_name), name: record.original_name };
}

export function workFile(id: string): string {
  const { work_file_name } = recordOf(id);
  if (!work_file_name) throw notFound('work copy');
  return path.join(footageFolder(), work_file_name);
}

export function stillFile(id: string, frame: number): string {
  const { kind, file_name, frame_count } = recordOf(id);
  if (kind !== 'stills' || !Number.isInteger(frame) || frame < 0 || frame >= frame_count)
    throw notFound('picture');
  return path.join(footageFolder(), file_name, String(frame));
}

export function renameShot(id: string, name: string) {
  changeShot(id, { name });
}

/**
 * Changes what is given.
 *
 * @throws Problem 400 for the rate of a video, or what is no timecode at the shot's rate; 409 for the rate of stills that a
 *   crossing uses.
 */
export function changeShot(
  id: string,
  {
    name,
    notes,
    keepSound,
    timecode,
    rateNum,
    rateDen,
  }: {
    name?: string;
    notes?: string;
    keepSound?: boolean;
    timecode?: string;
    rateNum?: number;
    rateDen?: number;
  },
) {
  const record = recordOf(id);
  database()
    .prepare('UPDATE shot SET name = ?, notes = ?, keep_sound = ? WHERE id = ?')
    .run(name ?? record.name, notes ?? record.notes, Number(keepSound ?? record.keep_sound === 1), id);
  if (timecode !== undefined) setTimecode(id, timecode);
  if (rateNum === undefined || rateDen === undefined) return;
  if (record.kind !== 'stills') throw new Problem(400, 'Only stills have a rate to choose.');
  const [user] = crossingsUsing(id);
  if (user)
    throw new Problem(
      409,
      `“${record.name}” is used in “${user.name}”; its rate stays, so that nothing moves there.`,
    );
  const rate = { num: rateNum, den: rateDen };
  const timestamps = Float64Array.from({ length: record.frame_count }, (_, n) => secondsAt(n, rate));
  database()
    .prepare('UPDATE shot SET rate_num = ?, rate_den = ?, duration = ?, timestamps = ? WHERE id = ?')
    .run(rateNum, rateDen, secondsAt(record.frame_count, rate), bytesOf(timestamps), id);
}

/** Sets the timecode of a shot's first frame as somebody has typed it; nothing removes it. */
function setTimecode(id: string, text: string) {
  const record = recordOf(id);
  const own = timecodeOf(record);
  try {
    keepTimecode(
      id,
      text.trim() === ''
        ? null
        : sourceTimecodeFrom(text, own?.rate ?? { num: record.rate_num, den: record.rate_den }),
    );
  } catch (error) {
    if (error instanceof RangeError) throw new Problem(400, error.message);
    throw error;
  }
}

export function keepTimecode(id: string, timecode: SourceTimecode | null) {
  database()
    .prepare(
      'UPDATE shot SET timecode_start = ?, timecode_num = ?, timecode_den = ?, timecode_drop = ? WHERE id = ?',
    )
    .run(
      timecode?.start ?? null,
      timecode?.rate.num ?? null,
      timecode?.rate.den ?? null,
      timecode?.dropFrame ? 1 : 0,
      id,
    );
}

/** @throws Problem 400 when the numbers are not those of this shot's frames. */
export function keepMotion(id: string, motion: ShotMotion) {
  if (!fitsShot(motion, recordOf(id).frame_count))
    throw new Problem(400, 'The movement has to be given for every frame of the shot.');
  database().prepare('UPDATE shot SET motion = ? WHERE id = ?').run(JSON.stringify(motion), id);
}

/** @throws Problem 400 when a crossing lies outside the shot. */
export function keepFound(id: string, found: readonly FoundCrossing[]) {
  const { frame_count } = recordOf(id);
  if (found.some(({ opens, closes }) => opens > closes || closes >= frame_count))
    throw new Problem(400, 'A crossing that was found has to lie within the shot, and end after it begins.');
  database().prepare('UPDATE shot SET found = ? WHERE id = ?').run(JSON.stringify(found), id);
}

const named = (crossings: readonly { name: string }[]) => crossings.map(({ name }) => `“${name}”`).join(', ');

/**
 * Deletes a shot's files, and its record unless a history still needs that.
 *
 * @param history what happens when only undoing needs it: `keep` refuses, `let go` deletes it all the same.
 * @throws Problem 409 while a crossing uses the shot, naming it; with `reason` “history” where undoing needs it.
 */
export async function deleteShot(id: string, history: 'keep' | 'let go' = 'keep') {
  const record = recordOf(id);
  const users = crossingsUsing(id);
  if (users.length > 0) {
    throw new Problem(
      409,
      `“${record.name}” is used in ${named(users)}. Remove it there, or delete that crossing first.`,
    );
  }
  const remembering = crossingsRemembering(id);
  if (remembering.length > 0 && history === 'keep')
    throw new Problem(
      409,
      `“${record.name}” is no longer used, but the undo history of ${named(remembering)} needs it. If you delete it, undoing past that point shows a grey picture in its place.`,
      { reason: 'history' },
    );
  const db = database();
  if (remembering.length > 0)
    db.prepare(
      `UPDATE shot SET deleted_at = ?, work_file_name = NULL, work_timestamps = NULL, work_key_frames = NULL
       WHERE id = ?`,
    ).run(new Date().toISOString(), id);
  else db.prepare('DELETE FROM shot WHERE id = ?').run(id);
  for (const name of [record.file_name, record.work_file_name])
    if (name) await rm(path.join(footageFolder(), name), { recursive: true, force: true });
}

/** Forgets deleted shots that nothing names any more, as after a crossing was deleted. */
export function forgetDeletedShots() {
  const db = database();
  const ids = db.prepare('SELECT id FROM shot WHERE deleted_at IS NOT NULL').pluck().all() as string[];
  for (const id of ids)
    if (crossingsUsing(id).length + crossingsRemembering(id).length === 0)
      db.prepare('DELETE FROM shot WHERE id = ?').run(id);
}

/**
 * Remembers a shot that earlier versions deleted without a trace, so that what names it can be undone.
 *
 * @param size of the picture that stands in its place.
 */
export function rememberLostShot(id: string, { width, height }: { width: number; height: number }) {
  const db = database();
  if (db.prepare('SELECT 1 FROM shot WHERE id = ?').get(id)) return;
  const [rate, count] = [25, 1];
  db.prepare(
    `INSERT INTO shot (id, name, original_name, file_name, byte_size, container, codec, width, height, rotation,
       rate_num, rate_den, constant_rate, frame_count, duration, colour_matrix, full_range, has_sound, timestamps,
       key_frames, created_at, treatment, kind, square_pixels, deleted_at)
     VALUES (:id, 'Deleted shot', 'Deleted shot', :id, 1, '', '', :width, :height, 0, :rate, 1, 1, :count, :duration,
       'bt709', 0, 0, :timestamps, :keyFrames, :now, '', 'stills', 1, :now)`,
  ).run({
    ...{ id, width, height, rate, count, duration: count / rate, now: new Date().toISOString() },
    timestamps: bytesOf(new Float64Array(count)),
    keyFrames: bytesOf(new Uint32Array(count)),
  });
}
