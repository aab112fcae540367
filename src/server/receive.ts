import { FilePathSource } from 'mediabunny';
import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { type FileHandle, open, rm } from 'node:fs/promises';
import path from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as NodeReadableStream } from 'node:stream/web';
import { readFacts } from '@/footage/facts';
import { FootageRefusal, refusal } from '@/footage/refusal';
import { arrivingFolder } from './data-folder';
import { Problem } from './problem';
import { keepShot } from './shots';

/** Most bytes of a file brought in: `KIV_MAX_UPLOAD`, by default 8 GB. */
export function uploadLimit(): number {
  const set = Number(process.env.KIV_MAX_UPLOAD);
  return Number.isFinite(set) && set > 0 ? set : 8e9;
}

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
    throw error instanceof FootageRefusal ? error : refusal.incomplete();
  }
  return file;
}

/** Takes in a video file: streams, checks, indexes and keeps it. Returns the new shot's id. */
export async function receiveShot(request: Request, name: string): Promise<string> {
  try {
    const file = await receiveBody(request, uploadLimit());
    try {
      return await checkAndKeep(file, name);
    } finally {
      await rm(file, { force: true });
    }
  } catch (error) {
    if (error instanceof FootageRefusal)
      throw new Problem(error.reason === 'too large' ? 413 : 422, error.message, { reason: error.reason });
    throw error;
  }
}

/** @param file a whole file on disk; it is moved when it is kept. */
export async function checkAndKeep(file: string, name: string): Promise<string> {
  const handle = await open(file);
  let facts;
  try {
    const { size } = await handle.stat();
    facts = await readFacts(
      new FilePathSource(file),
      (offset, length) => readRange(handle, offset, length),
      size,
    );
  } finally {
    await handle.close();
  }
  return keepShot(file, name, facts);
}

async function readRange(handle: FileHandle, offset: number, length: number): Promise<Uint8Array> {
  const bytes = new Uint8Array(length);
  const { bytesRead } = await handle.read(bytes, 0, length, offset);
  return bytes.subarray(0, bytesRead);
}
