import { randomUUID } from 'node:crypto';
import { open, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { FilePathSource } from 'mediabunny';
import { FootageRefusal, refusal } from '@/footage/refusal';
import { readSoundFacts, type SoundFacts } from '@/footage/sound-facts';
import type { SoundListing } from '@/wire/answers';
import { arrivingFolder, soundsFolder } from './data-folder';
import { database } from './database';
import { convertSound, hasFfmpeg } from './ffmpeg';
import { isDiskFull } from './full-disk';
import { notFound, Problem } from './problem';
import { asProblem, receiveBody, uploadLimit } from './receive';

interface SoundRecord {
  id: string;
  name: string;
  original_name: string;
  file_name: string;
  byte_size: number;
  container: string;
  codec: string;
  sample_rate: number;
  channels: number;
  length: number;
  lead: number;
  time_reference: number | null;
  created_at: string;
}

/** All sounds, newest first. */
export function listSounds(): SoundListing[] {
  const records = database()
    .prepare('SELECT * FROM sound ORDER BY created_at DESC, name')
    .all() as SoundRecord[];
  return records.map(listedOf);
}

function listedOf(record: SoundRecord): SoundListing {
  return {
    id: record.id,
    name: record.name,
    originalName: record.original_name,
    byteSize: record.byte_size,
    container: record.container,
    codec: record.codec,
    sampleRate: record.sample_rate,
    channels: record.channels,
    length: record.length,
    lead: record.lead,
    startsAt: record.time_reference === null ? null : record.time_reference / record.sample_rate,
    url: `/api/sounds/${record.id}/file`,
    createdAt: record.created_at,
    usedIn: database()
      .prepare(
        `SELECT DISTINCT crossing.id, crossing.name FROM piece JOIN crossing ON crossing.id = crossing_id
         WHERE source = 'file' AND source_id = ? ORDER BY crossing.name`,
      )
      .all(record.id) as { id: string; name: string }[],
  };
}

/** @throws Problem 404 */
function recordOf(id: string): SoundRecord {
  const record = database().prepare('SELECT * FROM sound WHERE id = ?').get(id) as SoundRecord | undefined;
  if (!record) throw notFound('sound');
  return record;
}

export function soundById(id: string): SoundListing {
  return listedOf(recordOf(id));
}

export function soundFile(id: string): { file: string; name: string } {
  const { file_name, original_name } = recordOf(id);
  return { file: path.join(/*turbopackIgnore: true*/ soundsFolder(), file_name), name: original_name };
}

/** Takes in a sound that is a request's whole body. */
export async function receiveSound(request: Request, name: string): Promise<SoundListing> {
  const file = await asProblem(() => receiveBody(request, uploadLimit()));
  try {
    return await asProblem(() => takeSound(file, name));
  } finally {
    await rm(file, { force: true });
  }
}

/**
 * Takes in a sound file, as it is or converted.
 *
 * @param file is moved when it is kept.
 * @throws FootageRefusal when there is no sound that can be read.
 */
export async function takeSound(file: string, name: string): Promise<SoundListing> {
  try {
    return await keepSound(file, name, await factsOf(file));
  } catch (error) {
    const convertible =
      error instanceof FootageRefusal && (error.reason === 'not a sound' || error.reason === 'codec');
    if (!convertible) throw error;
    if (!(await hasFfmpeg()))
      throw new Problem(
        422,
        'This sound has to be converted, and ffmpeg is not installed. Install it (on Debian: sudo apt-get install ffmpeg) and bring the sound in again.',
      );
    const converted = path.join(/*turbopackIgnore: true*/ arrivingFolder(), randomUUID());
    try {
      await convertSound(file, converted).catch((error: unknown) => {
        throw isDiskFull(error) ? error : refusal.notSound();
      });
      return await keepSound(converted, name, await factsOf(converted));
    } finally {
      await rm(converted, { force: true });
    }
  }
}

/** Bytes of a file's beginning that are looked at by hand: enough for a picture of the cover before an MP3. */
const headLength = 1 << 20;

async function factsOf(file: string): Promise<SoundFacts> {
  const handle = await open(file);
  try {
    const { buffer, bytesRead } = await handle.read(new Uint8Array(headLength), 0, headLength, 0);
    return await readSoundFacts(
      new FilePathSource(file),
      buffer.subarray(0, bytesRead),
      (await handle.stat()).size,
    );
  } finally {
    await handle.close();
  }
}

async function keepSound(file: string, originalName: string, facts: SoundFacts): Promise<SoundListing> {
  const id = randomUUID();
  const kept = path.join(/*turbopackIgnore: true*/ soundsFolder(), id);
  const { size } = await stat(file);
  await rename(file, kept);
  try {
    database()
      .prepare(
        `INSERT INTO sound (id, name, original_name, file_name, byte_size, container, codec, sample_rate, channels,
           length, lead, time_reference, created_at)
         VALUES (:id, :name, :originalName, :id, :size, :container, :codec, :sampleRate, :channels, :length,
           :lead, :timeReference, :createdAt)`,
      )
      .run({
        id,
        name: originalName.replace(/\.[^.]{1,5}$/, '').slice(0, 120) || originalName.slice(0, 120),
        originalName,
        size,
        ...facts,
        createdAt: new Date().toISOString(),
      });
  } catch (error) {
    await rm(kept, { force: true });
    throw error;
  }
  return listedOf(recordOf(id));
}

export function renameSound(id: string, name: string) {
  recordOf(id);
  database().prepare('UPDATE sound SET name = ? WHERE id = ?').run(name, id);
}

/** @throws Problem 409 while a crossing uses the sound, naming it. */
export async function deleteSound(id: string) {
  const { usedIn, name } = listedOf(recordOf(id));
  if (usedIn.length > 0)
    throw new Problem(
      409,
      `“${name}” is heard in ${usedIn.map((user) => `“${user.name}”`).join(', ')}. Remove it there first.`,
    );
  database().prepare('DELETE FROM sound WHERE id = ?').run(id);
  await rm(path.join(/*turbopackIgnore: true*/ soundsFolder(), id), { force: true });
}
