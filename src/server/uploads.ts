import { randomUUID } from 'node:crypto';
import { LRUCache } from 'lru-cache';
import { createWriteStream } from 'node:fs';
import { readdir, rm, stat, truncate } from 'node:fs/promises';
import path from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as NodeReadableStream } from 'node:stream/web';
import { refusal } from '@/footage/refusal';
import type { TakenIn, UploadState } from '@/wire/answers';
import type { UploadBody } from './bodies';
import { uploadsFolder } from './data-folder';
import { database } from './database';
import { diskFull, isDiskFull } from './full-disk';
import { notFound, Problem } from './problem';
import { takeIn, uploadLimit } from './receive';

interface UploadRecord {
  id: string;
  name: string;
  byte_size: number;
  rate_num: number;
  rate_den: number;
}

/** Uploads that nobody has gone on with for so long are forgotten. */
const forgottenAfter = 7 * 24 * 3600e3;

const fileOf = (id: string) => path.join(/*turbopackIgnore: true*/ uploadsFolder(), id);

function recordOf(id: string): UploadRecord {
  const record = database().prepare('SELECT * FROM upload WHERE id = ?').get(id) as UploadRecord | undefined;
  if (!record) throw notFound('upload');
  return record;
}

async function receivedBytes(id: string): Promise<number> {
  return stat(fileOf(id)).then(
    ({ size }) => size,
    () => 0,
  );
}

/** Who is adding bytes to an upload now. */
interface Writer {
  /** When bytes came last, ms. */
  at: number;
  abort: AbortController;
  /** Settles when it writes no more. */
  ended: Promise<unknown>;
}

// The server's modules are loaded more than once; who writes, and what was taken in, is known once.
const shared = globalThis as typeof globalThis & {
  kivUploading?: Map<string, Writer>;
  kivTakingIn?: LRUCache<string, Promise<TakenIn>>;
};
const writers = () => (shared.kivUploading ??= new Map<string, Writer>());
const takings = () => (shared.kivTakingIn ??= new LRUCache<string, Promise<TakenIn>>({ max: 200 }));

/** ms without a byte after which another may go on in a writer's place. */
const stalledAfter = 10_000;

/** Begins an upload, or finds the one of the same file that was broken off. */
export async function beginUpload({
  fingerprint,
  name,
  size,
  rateNum,
  rateDen,
}: UploadBody): Promise<UploadState> {
  if (size > uploadLimit())
    throw new Problem(413, refusal.tooLarge(uploadLimit()).message, { reason: 'too large' });
  const db = database();
  const known = db
    .prepare('SELECT id FROM upload WHERE fingerprint = ? AND byte_size = ?')
    .pluck()
    .get(fingerprint, size) as string | undefined;
  const id = known ?? randomUUID();
  if (known)
    db.prepare('UPDATE upload SET rate_num = ?, rate_den = ? WHERE id = ?').run(rateNum, rateDen, id);
  else
    db.prepare(
      `INSERT INTO upload (id, fingerprint, name, byte_size, rate_num, rate_den, created_at, continued_at)
       VALUES (:id, :fingerprint, :name, :size, :rateNum, :rateDen, :now, :now)`,
    ).run({ id, fingerprint, name, size, rateNum, rateDen, now: new Date().toISOString() });
  return { id, received: await soundBytes(id, size) };
}

/** Bytes that have arrived; none where they are more than the file has, which can only be a mix-up: it begins again. */
async function soundBytes(id: string, size: number): Promise<number> {
  const received = await receivedBytes(id);
  if (received <= size) return received;
  await truncate(fileOf(id), 0);
  return 0;
}

/**
 * Adds bytes to an upload. What has arrived stays when the connection drops. Only one request at a time adds to an
 * upload, so that two windows that bring in the same file do not write into each other.
 *
 * @param offset where they belong: as many as have arrived.
 * @throws Problem 409, with how many have arrived, when they belong elsewhere; with `reason` “busy” while another
 *   window is sending.
 */
export async function continueUpload(id: string, offset: number, request: Request): Promise<UploadState> {
  const { byte_size } = recordOf(id);
  if (!request.body) throw new Problem(400, 'There are no bytes to add.');
  const other = writers().get(id);
  if (other) {
    if (Date.now() - other.at < stalledAfter)
      throw new Problem(409, 'Another window is bringing in this file; waiting for it.', { reason: 'busy' });
    other.abort.abort();
    await other.ended;
    if (writers().has(id))
      throw new Problem(409, 'Another window is bringing in this file; waiting for it.', { reason: 'busy' });
  }
  const writer: Writer = { at: Date.now(), abort: new AbortController(), ended: Promise.resolve() };
  const work = addBytes(id, byte_size, offset, request.body as NodeReadableStream, writer);
  writer.ended = work.catch(() => {});
  writers().set(id, writer);
  try {
    return await work;
  } finally {
    writers().delete(id);
  }
}

async function addBytes(
  id: string,
  size: number,
  offset: number,
  body: NodeReadableStream,
  writer: Writer,
): Promise<UploadState> {
  const received = await soundBytes(id, size);
  if (offset > received) throw new Problem(409, 'Earlier bytes are missing.', { received });
  // Bytes that came twice, after an answer was lost, are written once.
  if (offset < received) await truncate(fileOf(id), offset);
  let total = offset;
  const bound = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      total += chunk.length;
      writer.at = Date.now();
      done(total > size ? new Problem(413, 'These are more bytes than the file has.') : null, chunk);
    },
  });
  try {
    await pipeline(Readable.fromWeb(body), bound, createWriteStream(fileOf(id), { flags: 'a' }), {
      signal: writer.abort.signal,
    });
  } catch (error) {
    if (error instanceof Problem) throw error;
    if (isDiskFull(error)) throw diskFull({ received: await receivedBytes(id) });
    throw new Problem(400, 'The connection dropped; what arrived is kept.', {
      received: await receivedBytes(id),
    });
  } finally {
    database().prepare('UPDATE upload SET continued_at = ? WHERE id = ?').run(new Date().toISOString(), id);
  }
  return { id, received: await receivedBytes(id) };
}

/** Takes in what has arrived whole. Asked again, as after an answer was lost, it answers the same. */
export function finishUpload(
  id: string,
  parts: readonly { name: string; size: number }[] | null,
): Promise<TakenIn> {
  const known = takings().get(id);
  if (known) return known;
  const taking = takeWhole(id, parts);
  takings().set(id, taking);
  // What failed can be tried again.
  taking.catch(() => takings().delete(id));
  return taking;
}

async function takeWhole(id: string, parts: readonly { name: string; size: number }[] | null) {
  const { name, byte_size, rate_num, rate_den } = recordOf(id);
  const received = await receivedBytes(id);
  if (received !== byte_size || writers().has(id))
    throw new Problem(409, 'The file has not arrived whole yet.', { received });
  if (parts && parts.reduce((sum, { size }) => sum + size, 0) !== byte_size)
    throw new Problem(400, 'The parts do not add up to the file.');
  try {
    const taken = await takeIn(fileOf(id), name, { num: rate_num, den: rate_den }, parts);
    await cancelUpload(id);
    return taken;
  } catch (error) {
    // What is refused is not kept; what fails for another reason can be tried again.
    if (error instanceof Problem && error.status !== 507) await cancelUpload(id);
    throw error;
  }
}

/** Throws an upload away; one that is not known is gone already. */
export async function cancelUpload(id: string) {
  const known = database().prepare('SELECT 1 FROM upload WHERE id = ?').get(id);
  // An id is a file's name only where Kiv has given it.
  if (!known) return;
  writers().get(id)?.abort.abort();
  database().prepare('DELETE FROM upload WHERE id = ?').run(id);
  await rm(fileOf(id), { force: true });
}

/** Clears away what was never gone on with, and files that belong to nothing. */
export async function forgetOldUploads() {
  const before = new Date(Date.now() - forgottenAfter).toISOString();
  database().prepare('DELETE FROM upload WHERE continued_at < ?').run(before);
  const known = new Set(database().prepare('SELECT id FROM upload').pluck().all() as string[]);
  for (const name of await readdir(uploadsFolder()))
    if (!known.has(name)) await rm(fileOf(name), { force: true });
}
