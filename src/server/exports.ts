import { shotIdsOf } from '@/core/document/document';
import { exportNameBy, type NamedExport, wrongPattern } from '@/core/formats/export-name';
import { rateOf } from '@/core/time/rate';
import { randomUUID } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { open, rename, rm, stat, statfs, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import type { ReadableStream as NodeReadableStream } from 'node:stream/web';
import { planeSamples } from '@/core/colour/deep-planes';
import { type ExportFormat, exportFormats, formatOf, soundIsJoined } from '@/core/formats/export-formats';
import { formatBytes } from '@/footage/refusal';
import type { ExportBody } from './bodies';
import { readDocument } from './document-rows';
import { exportsFolder, underWayFolder } from './data-folder';
import { database } from './database';
import { addTimecode, encodeLossless, encodeMaster, hasFfmpeg, joinSound } from './ffmpeg';
import { isDiskFull } from './full-disk';
import { notFound, Problem } from './problem';
import { readSettings } from './settings';
import { requireFootage } from './shots';
import type { ExportListing } from '@/wire/answers';

const exportLimit = 8e9;
/** Of planes that ffmpeg makes a master of: they are many times as large, and gone after it. */
const planesLimit = 1e12;

/** Bytes of the planes that a format is sent as; null for other formats. */
function planesBytes({ format, width, height, frameCount }: ExportBody): number | null {
  const { sent } = formatOf(format);
  return sent === null || sent === 'pictures' ? null : 2 * frameCount * planeSamples(width, height, sent);
}

/** @throws Problem 507 where there is no room for what a master is made of. */
async function requireRoom(body: ExportBody) {
  const needed = planesBytes(body);
  if (needed === null) return;
  const { bavail, bsize } = await statfs(/*turbopackIgnore: true*/ underWayFolder());
  const free = bavail * bsize;
  if (needed > free)
    throw new Problem(
      507,
      `This master needs ${formatBytes(needed)} of room while it is made, and ${formatBytes(free)} are free on the disk with Kiv’s data. Free some, or export a shorter range.`,
    );
}

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
  /** A small picture of it, a WebP as base64; null before it is finished, and where it has none. */
  picture: string | null;
  /** Looks of the sweeper since a sign of life. */
  missed: number;
  /** Ends what ffmpeg does to it. */
  abort: AbortController;
  /** Its end, once that has begun. */
  finishing: Promise<string> | null;
}

// The server's modules are loaded more than once; what is being written is known once.
const shared = globalThis as typeof globalThis & {
  kivWriting?: Map<string, Writing>;
  kivSweeping?: NodeJS.Timeout;
};

/** ms between two looks for exports that nobody goes on with. They are counted, not the hours: a laptop may sleep. */
const lookEvery = 5000;
/** Looks without a sign of life after which a file is thrown away: ten minutes. */
const patience = 120;

const parts = ['', '-sound', '-pictures', '-ready', '-made', '.json'] as const;
const underWay = (id: string, part: (typeof parts)[number] = '') =>
  path.join(/*turbopackIgnore: true*/ underWayFolder(), `${id}${part}`);
const finalFile = (id: string, format: ExportFormat) =>
  path.join(/*turbopackIgnore: true*/ exportsFolder(), `${id}.${exportFormats[format].extension}`);

/** What is being written, also what was before the server was started again. */
function writing(): Map<string, Writing> {
  if (!shared.kivWriting) {
    shared.kivWriting = new Map();
    for (const name of readdirSync(underWayFolder())) if (name.endsWith('.json')) takeUp(name.slice(0, -5));
    shared.kivSweeping = setInterval(() => void forgetAbandoned(), lookEvery).unref();
  }
  return shared.kivWriting;
}

/** Takes up an export that the end of the server has interrupted. */
function takeUp(id: string) {
  try {
    const { body, picture } = JSON.parse(readFileSync(underWay(id, '.json'), 'utf8')) as Writing;
    const writing = { body, picture, missed: 0, abort: new AbortController(), finishing: null };
    if (existsSync(underWay(id)) || existsSync(underWay(id, '-ready'))) {
      shared.kivWriting!.set(id, writing);
      return;
    }
    // It had its place already, and only its line was missing.
    if (existsSync(finalFile(id, body.format)) && !isListed(id)) list(id, body, picture);
    removeParts(id);
  } catch (error) {
    console.error(error);
    removeParts(id);
  }
}

function removeParts(id: string) {
  for (const part of parts) rmSync(underWay(id, part), { force: true });
}

/** Takes up what was being written when the server ended. */
export function resumeExports() {
  writing();
}

/** Begins an export; its pieces come next. @throws Problem 409 when a shot's files were deleted. */
export async function beginExport(body: ExportBody): Promise<string> {
  const { layers } = readDocument(body.crossingId);
  requireFootage(
    Object.values(layers)
      .filter(({ visible }) => visible)
      .flatMap(shotIdsOf),
  );
  await requireRoom(body);
  const id = randomUUID();
  const begun: Writing = { body, picture: null, missed: 0, abort: new AbortController(), finishing: null };
  const all = writing();
  try {
    await writeFile(underWay(id), '');
    if (soundIsJoined(body.format, body.sound)) await writeFile(underWay(id, '-sound'), '');
    remember(id, begun);
  } catch (error) {
    removeParts(id);
    throw error;
  }
  all.set(id, begun);
  return id;
}

/** Writes down what is being written, for the case that the server ends. */
function remember(id: string, { body, picture }: Writing) {
  writeFileSync(underWay(id, '.json'), JSON.stringify({ body, picture }));
}

/** Throws away what nobody goes on with, as when a browser has crashed. */
async function forgetAbandoned() {
  for (const [id, session] of writing())
    if (!session.finishing && ++session.missed > patience) await cancelWriting(id);
}

/**
 * Writes a piece at its place; without bytes it only says that more will come.
 *
 * @throws Problem 404 when there is no such export under way, 413 beyond 8 GB.
 */
export async function writeExport(
  id: string,
  { position, part }: { position: number; part: 'file' | 'sound' },
  request: Request,
) {
  const session = writing().get(id);
  if (!session) throw notFound('export under way');
  session.missed = 0;
  if (!request.body) return;
  const { body } = session;
  if (part === 'sound' && !soundIsJoined(body.format, body.sound))
    throw new Problem(400, 'This export takes no sound to be joined.');
  if (session.finishing) throw new Problem(409, 'This export has all its pieces already.');
  const limit = planesBytes(body) === null ? exportLimit : planesLimit;
  const handle = await open(underWay(id, part === 'sound' ? '-sound' : ''), 'r+');
  try {
    let at = position;
    for await (const chunk of Readable.fromWeb(request.body as NodeReadableStream)) {
      const bytes = chunk as Buffer;
      if (at + bytes.length > limit)
        throw new Problem(413, `The exported file is over ${formatBytes(limit)}.`);
      await handle.write(bytes, 0, bytes.length, at);
      at += bytes.length;
      session.missed = 0;
    }
  } finally {
    await handle.close();
  }
}

const isListed = (id: string) =>
  database().prepare('SELECT 1 FROM export WHERE id = ?').get(id) !== undefined;

/**
 * All pieces have arrived: the file takes its place and is listed. Asked again, as after an answer was lost, it answers
 * the same.
 *
 * @throws Problem 409 when its crossing was deleted meanwhile, 422 when ffmpeg fails at it: nothing is kept then; 507 on
 *   a full disk: it can be asked again.
 */
export async function finishExport(id: string, picture: string | null): Promise<string> {
  const session = writing().get(id);
  if (!session) {
    if (isListed(id)) return id;
    throw notFound('export under way');
  }
  session.missed = 0;
  session.finishing ??= finish(id, session, picture).finally(() => {
    session.finishing = null;
  });
  return session.finishing;
}

async function finish(id: string, session: Writing, picture: string | null): Promise<string> {
  const { body } = session;
  try {
    const ready = await makeReady(id, session);
    session.picture = picture;
    remember(id, session);
    // From here on nothing comes between: the file has its place and its line, or neither.
    const kept = finalFile(id, body.format);
    renameSync(ready, kept);
    try {
      list(id, body, picture);
    } catch (error) {
      renameSync(kept, ready);
      throw error;
    }
  } catch (error) {
    // What cannot be tried again is not kept.
    if (!isDiskFull(error)) await cancelWriting(id);
    throw error;
  }
  writing().delete(id);
  removeParts(id);
  return id;
}

/** Lists a file that has its place. @throws Problem 409 when its crossing was deleted. */
function list(id: string, body: ExportBody, picture: string | null) {
  const name = database().prepare('SELECT name FROM crossing WHERE id = ?').pluck().get(body.crossingId);
  if (name === undefined)
    throw new Problem(409, 'The crossing was deleted while it was exported; the file was not kept.');
  const file = finalFile(id, body.format);
  database()
    .prepare(
      `INSERT INTO export (id, crossing_id, crossing_name, revision, format, file_name, byte_size, width, height,
         rate_num, rate_den, frame_count, created_at, sound, first_frame, shot_name, picture)
       VALUES (:id, :crossingId, :name, :revision, :format, :fileName, :size, :width, :height, :rateNum,
         :rateDen, :frameCount, :now, :sound, :firstFrame, :shotName, :picture)`,
    )
    .run({
      ...{ ...body, name, shotName: body.shotName ?? null, id },
      picture: picture === null ? null : Buffer.from(picture, 'base64'),
      fileName: path.basename(file),
      size: statSync(file).size,
      now: new Date().toISOString(),
    });
}

/** Whether ffmpeg puts a timecode track to what the browser has encoded. */
const takesTimecode = (format: ExportFormat) =>
  formatOf(format).extension === 'mp4' && formatOf(format).encoding === null;

/** Has ffmpeg make of what has arrived what the format wants. */
async function encodePictures(id: string, body: ExportBody, to: string, cancelled: AbortSignal) {
  const { encoding, sent } = formatOf(body.format);
  const { width, height, quality = 'fine', sound, timecode = null } = body;
  const file = underWay(id);
  if (encoding === null || sent === null || encoding === 'ffv1' || sent === 'pictures')
    return encodeLossless(file, rateOf(body), to, cancelled);
  const facts = { encoding, layout: sent, width, height, rate: rateOf(body), quality, timecode };
  await encodeMaster(file, sound === 'pcm' ? underWay(id, '-sound') : null, facts, to, cancelled);
}

/** What has arrived as it is to be kept: made anew by ffmpeg where the format wants that. @returns the file. */
async function makeReady(id: string, { body, abort }: Writing): Promise<string> {
  const ready = underWay(id, '-ready');
  if (existsSync(ready)) return ready;
  const file = underWay(id);
  if ((await stat(file)).size === 0) throw new Problem(422, 'The exported file is empty.');
  const made = underWay(id, '-made');
  try {
    let pictures = file;
    if (formatOf(body.format).encoding !== null) {
      const why = 'ffmpeg could not make the pictures into a video.';
      await orRefuse(why, () => encodePictures(id, body, made, abort.signal));
      pictures = underWay(id, '-pictures');
      await rename(made, pictures);
    }
    const timecode = body.timecode ?? null;
    if (body.sound === 'aac') {
      const why = 'ffmpeg could not add the sound to the pictures.';
      await orRefuse(why, () => joinSound(pictures, underWay(id, '-sound'), timecode, made, abort.signal));
    } else if (timecode && takesTimecode(body.format) && (await hasFfmpeg())) {
      const why = 'ffmpeg could not add the timecode.';
      await orRefuse(why, () => addTimecode(pictures, timecode, made, abort.signal));
    } else if (pictures === file) return file;
    else await rename(pictures, made);
    await rename(made, ready);
    return ready;
  } finally {
    await rm(made, { force: true });
  }
}

async function orRefuse(why: string, work: () => Promise<void>) {
  try {
    await work();
  } catch (error) {
    if (isDiskFull(error)) throw error;
    console.error(error);
    throw new Problem(422, why);
  }
}

/** Throws away a file that is being written; false when there is none of that id. */
export async function cancelWriting(id: string): Promise<boolean> {
  const session = writing().get(id);
  if (!session) return false;
  writing().delete(id);
  session.abort.abort();
  removeParts(id);
  return true;
}

/** @param pattern of its name; left out: the one that is set. @throws Problem 400 where that names nothing. */
export function exportFile(id: string, pattern?: string): { file: string; name: string; mimeType: string } {
  const why = pattern === undefined ? null : wrongPattern(pattern);
  if (why) throw new Problem(400, why);
  const row = database()
    .prepare(
      `SELECT file_name AS fileName, crossing_name AS crossing, shot_name AS shotName, revision, format,
         first_frame AS firstFrame, frame_count AS frameCount, created_at AS createdAt FROM export WHERE id = ?`,
    )
    .get(id) as ({ fileName: string } & NamedExport) | undefined;
  if (!row) throw notFound('export');
  return {
    file: path.join(exportsFolder(), row.fileName),
    name: exportNameBy(pattern ?? readSettings().exportName, row),
    mimeType: exportFormats[row.format].mimeType,
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
