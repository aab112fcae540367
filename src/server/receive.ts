import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { open, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as NodeReadableStream } from 'node:stream/web';
import type { Rate } from '@/core/model/time';
import { longestStretch } from '@/core/time/frame-index';
import { timecodeWritten } from '@/footage/facts';
import { FootageRefusal, refusal } from '@/footage/refusal';
import { stillName } from '@/footage/stills';
import { isLarge } from '@/footage/work-copy';
import type { TakenIn } from '@/wire/answers';
import { arrivingFolder } from './data-folder';
import { hasFfmpeg, probe, timecodeIn } from './ffmpeg';
import { queueConversion, queueWorkCopy } from './jobs';
import { isDiskFull } from './full-disk';
import { Problem } from './problem';
import { factsOf } from './read-facts';
import { keepShot } from './shot-keeping';
import { inOwnFolder, splitStills, takeStills, unzipStills } from './stills';

/** Most bytes of a file brought in: `KIV_MAX_UPLOAD`, by default 8 GB. */
export function uploadLimit(): number {
  const set = Number(process.env.KIV_MAX_UPLOAD);
  return Number.isFinite(set) && set > 0 ? set : 8e9;
}

/** A shot that must decode more frames than this to show one gets a work copy. */
const longStretch = 30;

/**
 * Streams a request's body to a new file among those arriving.
 *
 * @returns the file's path; whoever calls moves or removes it.
 * @throws FootageRefusal when it is over `limit` bytes or breaks off; nothing is left then.
 */
export async function receiveBody(request: Request, limit: number): Promise<string> {
  const declared = request.headers.get('content-length');
  if (Number(declared ?? 0) > limit) throw refusal.tooLarge(limit);
  if (!request.body) throw refusal.empty();
  const file = path.join(arrivingFolder(), randomUUID());
  let received = 0;
  const count = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      received += chunk.length;
      done(received > limit ? refusal.tooLarge(limit) : null, chunk);
    },
  });
  try {
    await pipeline(Readable.fromWeb(request.body as NodeReadableStream), count, createWriteStream(file));
    if (declared !== null && received !== Number(declared)) throw refusal.incomplete();
  } catch (error) {
    await rm(file, { force: true });
    throw error instanceof FootageRefusal || isDiskFull(error) ? error : refusal.incomplete();
  }
  return file;
}

/** Takes in a file that is a request's whole body. */
export async function receiveShot(request: Request, name: string): Promise<TakenIn> {
  const file = await asProblem(() => receiveBody(request, uploadLimit()));
  try {
    return await takeIn(file, name, { num: 25, den: 1 }, null);
  } finally {
    await rm(file, { force: true });
  }
}

/** What refuses footage as an answer of the server. */
export async function asProblem<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof FootageRefusal)
      throw new Problem(error.reason === 'too large' ? 413 : 422, error.message, { reason: error.reason });
    throw error;
  }
}

/**
 * Takes in a whole file: a video, pictures one after the other, a single picture or a ZIP of pictures.
 *
 * @param file is moved when it is kept.
 * @param rate of stills.
 * @param parts names and lengths of the pictures that the file holds, or null.
 */
export function takeIn(
  file: string,
  name: string,
  rate: Rate,
  parts: readonly { name: string; size: number }[] | null,
): Promise<TakenIn> {
  return asProblem(async () => {
    if (parts)
      return inOwnFolder(path.basename(file), async (folder) => ({
        id: await takeStills(name, await splitStills(file, parts, folder), rate, folder),
      }));
    if (await isZip(file))
      return inOwnFolder(path.basename(file), async (folder) => ({
        id: await takeStills(name, await unzipStills(file, folder, 4 * uploadLimit()), rate, folder),
      }));
    if (stillName.test(name))
      return inOwnFolder(path.basename(file), async (folder) => {
        const { size } = await stat(file);
        return {
          id: await takeStills(name, await splitStills(file, [{ name, size }], folder), rate, folder),
        };
      });
    try {
      return { id: await checkAndKeep(file, name) };
    } catch (error) {
      return await convertInstead(file, name, error);
    }
  });
}

/** @param file a whole file on disk; it is moved when it is kept. */
export async function checkAndKeep(file: string, name: string): Promise<string> {
  const facts = await factsOf(file);
  const timecode = facts.timecode ?? timecodeWritten(await timecodeIn(file), facts.rate);
  const id = await keepShot(file, name, { ...facts, timecode });
  if (longestStretch(facts.index) > longStretch || isLarge(facts)) await queueWorkCopy(id);
  return id;
}

/** Queues what is a video, but none that the browser decodes; throws the refusal for anything else. */
async function convertInstead(file: string, name: string, error: unknown): Promise<TakenIn> {
  if (!(error instanceof FootageRefusal)) throw error;
  if (error.reason === 'codec') return { jobId: await queueConversion(file, name, error.message) };
  if (error.reason !== 'not a video' || !(await hasFfmpeg())) throw error;
  const found = await probe(file);
  // Text and pictures pass for videos of one frame with ffmpeg.
  if (!found || /^(ansi|text|png|gif|webp|bmp|tiff|svg)/i.test(found.codec)) throw error;
  return { jobId: await queueConversion(file, name, `Its pictures are in ${found.codec}.`) };
}

async function isZip(file: string): Promise<boolean> {
  const handle = await open(file);
  try {
    const { buffer } = await handle.read(new Uint8Array(4), 0, 4, 0);
    return buffer[0] === 0x50 && buffer[1] === 0x4b && buffer[2] === 3 && buffer[3] === 4;
  } finally {
    await handle.close();
  }
}
