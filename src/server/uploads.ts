import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { readdir, rm, stat, truncate } from 'node:fs/promises';
import path from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as NodeReadableStream } from 'node:stream/web';
import { refusal } from '@/footage/refusal';
import type { UploadState } from '@/wire/answers';
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
  const known = db.prepare('SELECT id FROM upload WHERE fingerprint = ?').pluck().get(fingerprint) as
    string | undefined;
  const id = known ?? randomUUID();
  if (known)
    db.prepare('UPDATE upload SET rate_num = ?, rate_den = ? WHERE id = ?').run(rateNum, rateDen, id);
  else
    db.prepare('INSERT INTO upload VALUES (?, ?, ?, ?, ?, ?, ?)').run(
      ...[id, fingerprint, name, size, rateNum, rateDen, new Date().toISOString()],
    );
  return { id, received: await receivedBytes(id) };
}

/**
 * Adds bytes to an upload. What has arrived stays when the connection drops.
 *
 * @param offset where they belong: as many as have arrived.
 * @throws Problem 409, with how many have arrived, when they belong elsewhere.
 */
export async function continueUpload(id: string, offset: number, request: Request): Promise<UploadState> {
  const { byte_size } = recordOf(id);
  const received = await receivedBytes(id);
  if (offset > received) throw new Problem(409, 'Earlier bytes are missing.', { received });
  if (!request.body) throw new Problem(400, 'There are no bytes to add.');
  // Bytes that came twice, after an answer was lost, are written once.
  if (offset < received) await truncate(fileOf(id), offset);
  let total = offset;
  const bound = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      total += chunk.length;
      done(total > byte_size ? new Problem(413, 'These are more bytes than the file has.') : null, chunk);
    },
  });
  try {
    await pipeline(
      Readable.fromWeb(request.body as NodeReadableStream),
      bound,
      createWriteStream(fileOf(id), { flags: 'a' }),
    );
  } catch (error) {
    if (error instanceof Problem) throw error;
    if (isDiskFull(error)) throw diskFull({ received: await receivedBytes(id) });
    throw new Problem(400, 'The connection dropped; what arrived is kept.', {
      received: await receivedBytes(id),
    });
  }
  return { id, received: await receivedBytes(id) };
}

/** Takes in what has arrived whole. */
export async function finishUpload(id: string, parts: readonly { name: string; size: number }[] | null) {
  const { name, byte_size, rate_num, rate_den } = recordOf(id);
  const received = await receivedBytes(id);
  if (received !== byte_size) throw new Problem(409, 'The file has not arrived whole yet.', { received });
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

export async function cancelUpload(id: string) {
  database().prepare('DELETE FROM upload WHERE id = ?').run(id);
  await rm(fileOf(id), { force: true });
}

/** Clears away what was never gone on with, and files that belong to nothing. */
export async function forgetOldUploads() {
  const before = new Date(Date.now() - forgottenAfter).toISOString();
  database().prepare('DELETE FROM upload WHERE created_at < ?').run(before);
  const known = new Set(database().prepare('SELECT id FROM upload').pluck().all() as string[]);
  for (const name of await readdir(uploadsFolder()))
    if (!known.has(name)) await rm(fileOf(name), { force: true });
}
