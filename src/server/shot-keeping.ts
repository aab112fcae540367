import { randomUUID } from 'node:crypto';
import { rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import type { Shot } from '@/core/model/shot';
import type { FrameIndex } from '@/core/time/frame-index';
import { secondsAt } from '@/core/time/rate';
import type { FootageFacts } from '@/footage/facts';
import { footageFolder } from './data-folder';
import { database } from './database';
import { bytesOf, recordOf } from './shots';

/**
 * Takes a file that has arrived into the footage.
 *
 * @param arrived path of the whole, checked file; it is moved.
 * @param more.id the shot's; a new one where it is left out.
 */
export async function keepShot(
  arrived: string,
  originalName: string,
  facts: FootageFacts,
  { id = randomUUID(), treatment = '' }: { id?: string; treatment?: string } = {},
): Promise<string> {
  const extension = treatment
    ? '.mp4'
    : (/\.(mp4|m4v|mov|webm|mkv)$/i.exec(originalName)?.[0].toLowerCase() ?? '.video');
  const fileName = `${id}${extension}`;
  const kept = path.join(/*turbopackIgnore: true*/ footageFolder(), fileName);
  const { size } = await stat(arrived);
  await rename(arrived, kept);
  await orRemove(kept, () =>
    insertShot({ id, originalName, fileName, byteSize: size }, facts, facts.index, {
      treatment,
      kind: 'video',
    }),
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
    depth: 8 as const,
    timecode: null,
  };
  await orRemove(kept, () =>
    insertShot({ id, originalName, fileName: id, byteSize: bytes }, facts, index, {
      treatment: '',
      kind: 'stills',
    }),
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
  {
    id,
    originalName,
    fileName,
    byteSize,
  }: { id: string; originalName: string; fileName: string; byteSize: number },
  facts: Omit<FootageFacts, 'index'>,
  index: FrameIndex,
  { treatment, kind }: { treatment: string; kind: 'video' | 'stills' },
) {
  database()
    .prepare(
      `INSERT INTO shot (id, name, original_name, file_name, byte_size, container, codec, width, height, rotation,
         rate_num, rate_den, constant_rate, frame_count, duration, colour_matrix, full_range, has_sound, timestamps,
         key_frames, created_at, treatment, kind, square_pixels, timecode_start, timecode_num,
         timecode_den, timecode_drop, depth)
       VALUES (:id, :name, :originalName, :fileName, :byteSize, :container, :codec, :width, :height,
         :rotation, :rateNum, :rateDen, :constantRate, :frameCount, :duration, :matrix, :fullRange, :hasSound,
         :timestamps, :keyFrames, :createdAt, :treatment, :kind, :squarePixels, :timecodeStart, :timecodeNum, :timecodeDen,
         :timecodeDrop, :depth)`,
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
      timecodeStart: facts.timecode?.start ?? null,
      timecodeNum: facts.timecode?.rate.num ?? null,
      timecodeDen: facts.timecode?.rate.den ?? null,
      timecodeDrop: facts.timecode?.dropFrame ? 1 : 0,
      depth: facts.depth,
    });
}

/**
 * Keeps a copy with the same frames that steps quickly; the file is moved.
 *
 * @param share its width as a share of the shot's.
 */
export async function keepWorkCopy(id: string, arrived: string, index: FrameIndex, share: number) {
  const { frame_count } = recordOf(id);
  if (index.timestamps.length !== frame_count)
    throw new Error('The work copy has other frames than the shot.');
  const fileName = `${id}-work.mp4`;
  await rename(arrived, path.join(/*turbopackIgnore: true*/ footageFolder(), fileName));
  database()
    .prepare(
      'UPDATE shot SET work_file_name = ?, work_timestamps = ?, work_key_frames = ?, work_share = ? WHERE id = ?',
    )
    .run(fileName, bytesOf(index.timestamps), bytesOf(index.keyFrames), share, id);
}
