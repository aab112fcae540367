import { randomUUID } from 'node:crypto';
import { rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import type { ColourMatrix } from '@/core/colour/matrix';
import type { Shot, ShotMotion } from '@/core/document/rows';
import { fitsShot } from '@/core/motion/measure';
import type { FootageFacts } from '@/footage/facts';
import { type FrameIndex, longestStretch } from '@/core/time/frame-index';
import { secondsAt } from '@/core/time/rate';
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
  work_file_name: string | null;
  work_timestamps: Buffer | null;
  work_key_frames: Buffer | null;
}

function shotOf(record: ShotRecord): Shot {
  return {
    id: record.id,
    name: record.name,
    width: record.width,
    height: record.height,
    rotation: record.rotation,
    rate: { num: record.rate_num, den: record.rate_den },
    frameCount: record.frame_count,
    colour: { matrix: record.colour_matrix, fullRange: record.full_range === 1 },
    motion: record.motion ? (JSON.parse(record.motion) as ShotMotion) : null,
  };
}

/** @throws Problem 404 */
export function recordOf(id: string): ShotRecord {
  const record = database().prepare('SELECT * FROM shot WHERE id = ?').get(id) as ShotRecord | undefined;
  if (!record) throw notFound('shot');
  return record;
}

/** All shots, newest first. */
export function listShots(): ShotListing[] {
  const records = database()
    .prepare('SELECT * FROM shot ORDER BY created_at DESC, name')
    .all() as ShotRecord[];
  return records.map((record) => ({
    ...shotOf(record),
    originalName: record.original_name,
    byteSize: record.byte_size,
    container: record.container,
    codec: record.codec,
    constantRate: record.constant_rate === 1,
    duration: record.duration,
    hasSound: record.has_sound === 1,
    keepSound: record.keep_sound === 1,
    notes: record.notes,
    treatment: record.treatment,
    stills: record.kind === 'stills',
    squarePixels: record.square_pixels === 1,
    longestStretch: record.kind === 'stills' ? 1 : longestStretch(indexOf(record)),
    hasWorkCopy: record.work_file_name !== null,
    createdAt: record.created_at,
    usedIn: crossingsUsing(record.id),
  }));
}

function crossingsUsing(shotId: string): { id: string; name: string }[] {
  return database()
    .prepare(
      `SELECT DISTINCT crossing.id, crossing.name FROM layer JOIN crossing ON crossing.id = crossing_id
       WHERE shot_id = ? ORDER BY crossing.name`,
    )
    .all(shotId) as { id: string; name: string }[];
}

export function shotById(id: string): Shot {
  return shotOf(recordOf(id));
}

// Copied, as SQLite's buffers need not be aligned for numbers.
const floats = (blob: Buffer) => new Float64Array(new Uint8Array(blob).buffer);
const integers = (blob: Buffer) => new Uint32Array(new Uint8Array(blob).buffer);
const bytesOf = (array: Float64Array | Uint32Array) =>
  Buffer.from(array.buffer, array.byteOffset, array.byteLength);

function indexOf({ timestamps, key_frames }: ShotRecord): FrameIndex {
  return { timestamps: floats(timestamps), keyFrames: integers(key_frames) };
}

export function shotWithIndex(id: string): ShotMedia {
  const record = recordOf(id);
  const { timestamps, keyFrames } = indexOf(record);
  const stills = record.kind === 'stills';
  return {
    shot: shotOf(record),
    url: stills ? `/api/shots/${id}/stills` : `/api/shots/${id}/file`,
    timestamps: [...timestamps],
    keyFrames: [...keyFrames],
    stills,
    work: record.work_file_name
      ? {
          url: `/api/shots/${id}/work`,
          timestamps: [...floats(record.work_timestamps!)],
          keyFrames: [...integers(record.work_key_frames!)],
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

/**
 * Takes a file that has arrived into the footage.
 *
 * @param arrived path of the whole, checked file; it is moved.
 */
export async function keepShot(
  arrived: string,
  originalName: string,
  facts: FootageFacts,
  { treatment = '' }: { treatment?: string } = {},
): Promise<string> {
  const id = randomUUID();
  const extension = treatment
    ? '.mp4'
    : (/\.(mp4|m4v|mov|webm|mkv)$/i.exec(originalName)?.[0].toLowerCase() ?? '.video');
  const fileName = `${id}${extension}`;
  const kept = path.join(/*turbopackIgnore: true*/ footageFolder(), fileName);
  const { size } = await stat(arrived);
  await rename(arrived, kept);
  await orRemove(kept, () =>
    insertShot(id, originalName, fileName, size, facts, facts.index, { treatment, kind: 'video' }),
  );
  return id;
}

/** Takes a folder of pictures, named 0, 1, 2 …, into the footage; it is moved. */
export async function keepStills(
  folder: string,
  originalName: string,
  {
    width,
    height,
    rate,
    frameCount,
    bytes,
  }: Pick<Shot, 'width' | 'height' | 'rate' | 'frameCount'> & { bytes: number },
): Promise<string> {
  const id = randomUUID();
  const kept = path.join(/*turbopackIgnore: true*/ footageFolder(), id);
  await rename(folder, kept);
  const index = {
    timestamps: Float64Array.from({ length: frameCount }, (_, n) => secondsAt(n, rate)),
    keyFrames: Uint32Array.from({ length: frameCount }, (_, n) => n),
  };
  const extension = path.extname(originalName).slice(1).toUpperCase().replace('JPG', 'JPEG');
  const facts = {
    container: frameCount > 1 ? 'numbered pictures' : 'one picture',
    codec: extension === 'ZIP' || extension === '' ? 'Pictures' : extension,
    width,
    height,
    rotation: 0 as const,
    rate,
    constantRate: true,
    duration: secondsAt(frameCount, rate),
    colour: { matrix: 'bt709' as const, fullRange: false },
    hasSound: false,
    squarePixels: true,
  };
  await orRemove(kept, () =>
    insertShot(id, originalName, id, bytes, facts, index, { treatment: '', kind: 'stills' }),
  );
  return id;
}

async function orRemove(kept: string, work: () => void) {
  try {
    work();
  } catch (error) {
    await rm(kept, { recursive: true, force: true });
    throw error;
  }
}

function insertShot(
  id: string,
  originalName: string,
  fileName: string,
  byteSize: number,
  facts: Omit<FootageFacts, 'index'>,
  index: FrameIndex,
  { treatment, kind }: { treatment: string; kind: ShotRecord['kind'] },
) {
  database()
    .prepare(
      `INSERT INTO shot (id, name, original_name, file_name, byte_size, container, codec, width, height, rotation,
         rate_num, rate_den, constant_rate, frame_count, duration, colour_matrix, full_range, has_sound, timestamps,
         key_frames, created_at, treatment, kind, square_pixels)
       VALUES (:id, :name, :originalName, :fileName, :byteSize, :container, :codec, :width, :height,
         :rotation, :rateNum, :rateDen, :constantRate, :frameCount, :duration, :matrix, :fullRange, :hasSound,
         :timestamps, :keyFrames, :createdAt, :treatment, :kind, :squarePixels)`,
    )
    .run({
      id,
      name: originalName.replace(/\.[^.]{1,5}$/, '').slice(0, 120) || originalName,
      originalName,
      fileName,
      byteSize,
      container: facts.container,
      codec: facts.codec,
      width: facts.width,
      height: facts.height,
      rotation: facts.rotation,
      rateNum: facts.rate.num,
      rateDen: facts.rate.den,
      constantRate: facts.constantRate ? 1 : 0,
      frameCount: index.timestamps.length,
      duration: facts.duration,
      matrix: facts.colour.matrix,
      fullRange: facts.colour.fullRange ? 1 : 0,
      hasSound: facts.hasSound ? 1 : 0,
      timestamps: bytesOf(index.timestamps),
      keyFrames: bytesOf(index.keyFrames),
      createdAt: new Date().toISOString(),
      treatment,
      kind,
      squarePixels: facts.squarePixels ? 1 : 0,
    });
}

/** Keeps a copy with the same frames that steps quickly; the file is moved. */
export async function keepWorkCopy(id: string, arrived: string, index: FrameIndex) {
  const { frame_count } = recordOf(id);
  if (index.timestamps.length !== frame_count)
    throw new Error('The work copy has other frames than the shot.');
  const fileName = `${id}-work.mp4`;
  await rename(arrived, path.join(/*turbopackIgnore: true*/ footageFolder(), fileName));
  database()
    .prepare('UPDATE shot SET work_file_name = ?, work_timestamps = ?, work_key_frames = ? WHERE id = ?')
    .run(fileName, bytesOf(index.timestamps), bytesOf(index.keyFrames), id);
}

export function renameShot(id: string, name: string) {
  changeShot(id, { name });
}

/**
 * Changes what is given.
 *
 * @throws Problem 400 for the rate of a video, 409 for the rate of stills that a crossing uses.
 */
export function changeShot(
  id: string,
  {
    name,
    notes,
    keepSound,
    rateNum,
    rateDen,
  }: { name?: string; notes?: string; keepSound?: boolean; rateNum?: number; rateDen?: number },
) {
  const record = recordOf(id);
  database()
    .prepare('UPDATE shot SET name = ?, notes = ?, keep_sound = ? WHERE id = ?')
    .run(name ?? record.name, notes ?? record.notes, Number(keepSound ?? record.keep_sound === 1), id);
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

/** @throws Problem 400 when the numbers are not those of this shot's frames. */
export function keepMotion(id: string, motion: ShotMotion) {
  if (!fitsShot(motion, recordOf(id).frame_count))
    throw new Problem(400, 'The movement has to be given for every frame of the shot.');
  database().prepare('UPDATE shot SET motion = ? WHERE id = ?').run(JSON.stringify(motion), id);
}

/** @throws Problem 409 while a crossing uses the shot, naming it. */
export async function deleteShot(id: string) {
  const record = recordOf(id);
  const users = crossingsUsing(id);
  if (users.length > 0) {
    throw new Problem(
      409,
      `“${record.name}” is used in ${users.map((user) => `“${user.name}”`).join(', ')}. Delete that crossing first.`,
    );
  }
  database().prepare('DELETE FROM shot WHERE id = ?').run(id);
  for (const name of [record.file_name, record.work_file_name])
    if (name) await rm(path.join(footageFolder(), name), { recursive: true, force: true });
}
