import { shotIdsOf } from '@/core/document/document';
import { fileNameOf } from '@/core/formats/file-name';
import { rateOf } from '@/core/time/rate';
import { randomUUID } from 'node:crypto';
import { open, rename, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import type { ReadableStream as NodeReadableStream } from 'node:stream/web';
import { type ExportFormat, exportFormats, needsFfmpeg } from '@/core/formats/export-formats';
import type { ExportBody } from './bodies';
import { readDocument } from './document-rows';
import { arrivingFolder, exportsFolder } from './data-folder';
import { database } from './database';
import { encodeLossless, joinSound } from './ffmpeg';
import { notFound, Problem } from './problem';
import { requireFootage } from './shots';
import type { ExportListing } from '@/wire/answers';

const exportLimit = 8e9;

const columns = `export.id, crossing_id AS crossingId, crossing_name AS crossingName, export.revision, format,
  byte_size AS byteSize, export.width, export.height, export.rate_num AS rateNum, export.rate_den AS rateDen,
  frame_count AS frameCount, first_frame AS firstFrame, shot_name AS shotName, picture IS NOT NULL AS hasPicture, export.sound, export.created_at AS createdAt, crossing.revision AS newestRevision`;

export function listExports(): ExportListing[] {
  return database()
    .prepare(
      `SELECT ${columns} FROM export LEFT JOIN crossing ON crossing.id = crossing_id ORDER BY export.created_at DESC`,
    )
    .all()
    .map((row) => ({
      ...(row as ExportListing),
      hasPicture: (row as { hasPicture: number }).hasPicture === 1,
    }));
}

/** A file that is written piece by piece; it is listed only once it is whole. */
interface Writing {
  body: ExportBody;
  /** When the last piece came, ms. */
  at: number;
}

// The server's modules are loaded more than once; what is being written is known once.
const shared = globalThis as typeof globalThis & {
  kivWriting?: Map<string, Writing>;
  kivSweeping?: NodeJS.Timeout;
};
const writing = (): Map<string, Writing> => (shared.kivWriting ??= new Map());

/** ms after which a file that nobody goes on with is thrown away. */
const forgottenAfter = 20_000;

const arrivingFile = (id: string) => path.join(/*turbopackIgnore: true*/ arrivingFolder(), `export-${id}`);

/** Sound that is joined to it. */
const soundOf = (id: string) => `${arrivingFile(id)}-sound`;

/** Begins an export; its pieces come next. */
export async function beginExport(body: ExportBody): Promise<string> {
  const { layers } = readDocument(body.crossingId);
  requireFootage(
    Object.values(layers)
      .filter(({ visible }) => visible)
      .flatMap(shotIdsOf),
  );
  const id = randomUUID();
  await writeFile(arrivingFile(id), '');
  if (body.sound === 'aac') await writeFile(soundOf(id), '');
  writing().set(id, { body, at: Date.now() });
  shared.kivSweeping ??= setInterval(() => void forgetAbandoned(), forgottenAfter / 4).unref();
  return id;
}

/** Throws away what nobody goes on with, as when a browser has crashed. */
async function forgetAbandoned() {
  for (const [id, { at }] of writing()) if (Date.now() - at > forgottenAfter) await cancelWriting(id);
}

/** Writes a piece at its place; without bytes it only says that more will come. @throws Problem 404 when there is no such export under way, 413 beyond 8 GB. */
export async function writeExport(
  id: string,
  { position, part }: { position: number; part: 'file' | 'sound' },
  request: Request,
) {
  const session = writing().get(id);
  if (!session) throw notFound('export under way');
  session.at = Date.now();
  if (!request.body) return;
  const file = part === 'sound' ? soundOf(id) : arrivingFile(id);
  if (part === 'sound' && session.body.sound !== 'aac')
    throw new Problem(400, 'This export takes no sound to be joined.');
  const handle = await open(file, 'r+');
  try {
    let at = position;
    for await (const chunk of Readable.fromWeb(request.body as NodeReadableStream)) {
      const bytes = chunk as Buffer;
      if (at + bytes.length > exportLimit) throw new Problem(413, 'The exported file is over 8 GB.');
      await handle.write(bytes, 0, bytes.length, at);
      at += bytes.length;
    }
  } finally {
    await handle.close();
  }
}

/** All pieces have arrived: the file takes its place and is listed. */
export async function finishExport(id: string, picture: string | null): Promise<string> {
  const session = writing().get(id);
  if (!session) throw notFound('export under way');
  const { body } = session;
  const { crossing } = readDocument(body.crossingId);
  if ((await stat(arrivingFile(id))).size === 0) throw new Problem(422, 'The exported file is empty.');
  const file = arrivingFile(id);
  if (needsFfmpeg(body.format)) {
    const rate = rateOf(body);
    const work = (to: string) => encodeLossless(file, rate, to);
    await remake(id, session, work, 'The pictures could not be made into a video: ffmpeg failed at it.');
  }
  if (body.sound === 'aac') {
    const work = (to: string) => joinSound(file, soundOf(id), to);
    await remake(id, session, work, 'The sound could not be joined to the pictures: ffmpeg failed at it.');
  }
  const { size } = await stat(arrivingFile(id));
  const fileName = `${id}.${exportFormats[body.format].extension}`;
  await rename(arrivingFile(id), path.join(/*turbopackIgnore: true*/ exportsFolder(), fileName));
  database()
    .prepare(
      `INSERT INTO export VALUES (:id, :crossingId, :name, :revision, :format, :fileName, :size, :width, :height, :rateNum,
         :rateDen, :frameCount, :now, :sound, :firstFrame, :shotName, :picture)`,
    )
    .run({
      ...{ ...body, name: crossing.name, shotName: body.shotName ?? null, id },
      picture: picture === null ? null : Buffer.from(picture, 'base64'),
      fileName,
      size,
      now: new Date().toISOString(),
    });
  writing().delete(id);
  return id;
}

/** Makes the file anew from what has arrived, by ffmpeg; the sound that was sent apart is not needed any more. */
async function remake(id: string, session: Writing, work: (to: string) => Promise<void>, refusal: string) {
  const made = `${arrivingFile(id)}-made`;
  // However long that takes, nobody has given it up.
  const alive = setInterval(() => (session.at = Date.now()), forgottenAfter / 4);
  try {
    await work(made);
    await rename(made, arrivingFile(id));
  } catch (error) {
    console.error(error);
    throw new Problem(422, refusal);
  } finally {
    clearInterval(alive);
    for (const file of [made, soundOf(id)]) await rm(file, { force: true });
  }
}

/** Throws away a file that is being written; false when there is none of that id. */
async function cancelWriting(id: string): Promise<boolean> {
  if (!writing().delete(id)) return false;
  for (const file of [arrivingFile(id), soundOf(id)]) await rm(file, { force: true });
  return true;
}

export function exportFile(id: string): { file: string; name: string; mimeType: string } {
  const row = database()
    .prepare(
      'SELECT file_name AS fileName, crossing_name AS name, shot_name AS shotName, revision, format FROM export WHERE id = ?',
    )
    .get(id) as
    | { fileName: string; name: string; shotName: string | null; revision: number; format: ExportFormat }
    | undefined;
  if (!row) throw notFound('export');
  const { extension, mimeType, of } = exportFormats[row.format];
  const safe = fileNameOf(row.shotName ? `${row.name}, ${row.shotName} alone` : row.name, 'crossing');
  return {
    file: path.join(exportsFolder(), row.fileName),
    name: `${safe}${of === 'result' ? '' : ` ${of}`} r${row.revision}.${extension}`,
    mimeType,
  };
}

/** An export's small picture, a WebP. @throws Problem 404 where it has none. */
export function exportPicture(id: string): Buffer {
  const row = database().prepare('SELECT picture FROM export WHERE id = ?').get(id) as
    { picture: Buffer | null } | undefined;
  if (!row?.picture) throw notFound('picture');
  return row.picture;
}

/** Deletes an export, or one that is still being written. */
export async function deleteExport(id: string) {
  if (await cancelWriting(id)) return;
  const { file } = exportFile(id);
  database().prepare('DELETE FROM export WHERE id = ?').run(id);
  await rm(file, { force: true });
}
