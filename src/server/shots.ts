import { randomUUID } from 'node:crypto';
import { rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import type { ColourMatrix } from '@/core/colour/matrix';
import type { Shot, ShotMotion } from '@/core/document/rows';
import { fitsShot } from '@/core/motion/measure';
import type { FootageFacts } from '@/footage/facts';
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
  motion: string | null;
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

function recordOf(id: string): ShotRecord {
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
    createdAt: record.created_at,
    usedIn: crossingsUsing(record.id),
  }));
}

function crossingsUsing(shotId: string): string[] {
  return database()
    .prepare(
      'SELECT DISTINCT crossing.name FROM layer JOIN crossing ON crossing.id = crossing_id WHERE shot_id = ? ORDER BY 1',
    )
    .pluck()
    .all(shotId) as string[];
}

export function shotById(id: string): Shot {
  return shotOf(recordOf(id));
}

export function shotWithIndex(id: string): ShotMedia {
  const record = recordOf(id);
  const { timestamps, key_frames } = record;
  // Copied, as SQLite's buffers need not be aligned for numbers.
  return {
    shot: shotOf(record),
    url: `/api/shots/${id}/file`,
    timestamps: [...new Float64Array(new Uint8Array(timestamps).buffer)],
    keyFrames: [...new Uint32Array(new Uint8Array(key_frames).buffer)],
  };
}

export function shotFile(id: string): { file: string; name: string } {
  const record = recordOf(id);
  return { file: path.join(footageFolder(), record.file_name), name: record.original_name };
}

/**
 * Takes a file that has arrived into the footage.
 *
 * @param arrived path of the whole, checked file; it is moved.
 */
export async function keepShot(arrived: string, originalName: string, facts: FootageFacts): Promise<string> {
  const id = randomUUID();
  const extension = /\.(mp4|m4v|mov|webm|mkv)$/i.exec(originalName)?.[0].toLowerCase() ?? '.video';
  const fileName = `${id}${extension}`;
  const kept = path.join(/*turbopackIgnore: true*/ footageFolder(), fileName);
  const { size } = await stat(arrived);
  await rename(arrived, kept);
  try {
    const bytes = (array: Float64Array | Uint32Array) =>
      Buffer.from(array.buffer, array.byteOffset, array.byteLength);
    database()
      .prepare(
        `INSERT INTO shot (id, name, original_name, file_name, byte_size, container, codec, width, height, rotation,
           rate_num, rate_den, constant_rate, frame_count, duration, colour_matrix, full_range, has_sound, timestamps,
           key_frames, created_at)
         VALUES (:id, :name, :originalName, :fileName, :byteSize, :container, :codec, :width, :height,
           :rotation, :rateNum, :rateDen, :constantRate, :frameCount, :duration, :matrix, :fullRange, :hasSound,
           :timestamps, :keyFrames, :createdAt)`,
      )
      .run({
        id,
        name: originalName.replace(/\.[^.]{1,5}$/, '').slice(0, 120) || originalName,
        originalName,
        fileName,
        byteSize: size,
        container: facts.container,
        codec: facts.codec,
        width: facts.width,
        height: facts.height,
        rotation: facts.rotation,
        rateNum: facts.rate.num,
        rateDen: facts.rate.den,
        constantRate: facts.constantRate ? 1 : 0,
        frameCount: facts.index.timestamps.length,
        duration: facts.duration,
        matrix: facts.colour.matrix,
        fullRange: facts.colour.fullRange ? 1 : 0,
        hasSound: facts.hasSound ? 1 : 0,
        timestamps: bytes(facts.index.timestamps),
        keyFrames: bytes(facts.index.keyFrames),
        createdAt: new Date().toISOString(),
      });
  } catch (error) {
    await rm(kept, { force: true });
    throw error;
  }
  return id;
}

export function renameShot(id: string, name: string) {
  recordOf(id);
  database().prepare('UPDATE shot SET name = ? WHERE id = ?').run(name, id);
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
      `“${record.name}” is used in ${users.map((name) => `“${name}”`).join(', ')}. Delete that crossing first.`,
    );
  }
  database().prepare('DELETE FROM shot WHERE id = ?').run(id);
  await rm(path.join(footageFolder(), record.file_name), { force: true });
}
