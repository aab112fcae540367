import imageSize from 'image-size';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, open, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import yauzl from 'yauzl';
import type { Rate } from '@/core/model/time';
import { FootageRefusal } from '@/footage/refusal';
import { lastNumberOf, mostStills, stillName } from '@/footage/stills';
import { arrivingFolder } from './data-folder';
import { isDiskFull } from './full-disk';
import { keepStills } from './shot-keeping';

/** A picture among those that make up a shot: its name, and its file on disk. */
interface Still {
  name: string;
  file: string;
}

/** Most characters of a picture's name. */
const longestName = 200;

const refuse = (message: string) => new FootageRefusal('stills', message);

/**
 * Splits a file that holds pictures one after the other into files of their own.
 *
 * @param parts names and lengths in bytes, in order; together the length of the file.
 */
export async function splitStills(
  file: string,
  parts: readonly { name: string; size: number }[],
  folder: string,
): Promise<Still[]> {
  const stills: Still[] = [];
  let at = 0;
  for (const { name, size } of parts) {
    const still = path.join(folder, `part-${stills.length}`);
    await pipeline(createReadStream(file, { start: at, end: at + size - 1 }), createWriteStream(still));
    stills.push({ name, file: still });
    at += size;
  }
  return stills;
}

/**
 * Takes the pictures out of a ZIP; folders and other files in it are passed over.
 *
 * @param limit most bytes that they may take unpacked.
 */
export async function unzipStills(zip: string, folder: string, limit: number): Promise<Still[]> {
  const archive = await yauzl.openPromise(zip, { lazyEntries: true, strictFileNames: true }).catch(() => {
    throw refuse('This ZIP cannot be read. Pack it again, or choose the pictures themselves.');
  });
  const stills: Still[] = [];
  let bytes = 0;
  try {
    for await (const entry of archive.eachEntry()) {
      const name = path.posix.basename(entry.fileName);
      if (entry.fileName.endsWith('/') || name.startsWith('.') || !stillName.test(name)) continue;
      if (name.length > longestName)
        throw refuse(
          `A picture’s name in this ZIP is over ${longestName} characters long. Give it a shorter one.`,
        );
      bytes += entry.uncompressedSize;
      if (stills.length >= mostStills || bytes > limit)
        throw refuse(
          `This ZIP holds more than ${mostStills} pictures, or is too large unpacked. Take a shorter part.`,
        );
      const file = path.join(folder, `part-${stills.length}`);
      await pipeline(await archive.openReadStreamPromise(entry), createWriteStream(file));
      stills.push({ name, file });
    }
  } catch (error) {
    if (error instanceof FootageRefusal || isDiskFull(error)) throw error;
    throw refuse('This ZIP is damaged. Pack it again, or choose the pictures themselves.');
  } finally {
    archive.close();
  }
  if (stills.length === 0) throw refuse('There is no PNG, JPEG or WebP picture in this ZIP.');
  return stills;
}

/**
 * Puts pictures in the order of their numbers and takes them in as one shot.
 *
 * @throws FootageRefusal when a number is missing, sizes differ, or one is not a whole picture.
 */
export async function takeStills(name: string, stills: Still[], rate: Rate, folder: string): Promise<string> {
  const ordered = inOrder(stills);
  let [size, bytes] = [null as null | { width: number; height: number }, 0];
  for (const { name: stillFile, file } of ordered) {
    const own = await sizeOf(file, stillFile);
    size ??= own;
    if (own.width !== size.width || own.height !== size.height)
      throw refuse(
        `“${stillFile}” is ${own.width} × ${own.height}, the first picture ${size.width} × ${size.height}. All pictures of a sequence must have one size.`,
      );
    bytes += (await stat(file)).size;
  }
  const ready = path.join(folder, 'ready');
  await mkdir(ready);
  for (const [n, { file }] of ordered.entries()) await rename(file, path.join(ready, String(n)));
  return keepStills(ready, name, { ...size!, rate, frameCount: ordered.length, bytes });
}

/** @throws FootageRefusal when the pictures are not numbered without a gap. */
function inOrder(stills: Still[]): Still[] {
  if (stills.length < 2) return stills;
  const numbered = stills.map((still) => {
    const found = lastNumberOf(still.name);
    if (!found)
      throw refuse(
        `“${still.name}” has no number in its name, or too long a one, so its place in the sequence is not known.`,
      );
    return { still, number: Number(found.digits) };
  });
  numbered.sort((a, b) => a.number - b.number);
  for (let k = 1; k < numbered.length; k++) {
    const [before, after] = [numbered[k - 1], numbered[k]];
    if (after.number === before.number)
      throw refuse(`“${before.still.name}” and “${after.still.name}” have the same number.`);
    if (after.number !== before.number + 1)
      throw refuse(
        `Number ${before.number + 1} is missing: “${before.still.name}” is followed by “${after.still.name}”. Add it, or number the pictures anew.`,
      );
  }
  return numbered.map(({ still }) => still);
}

async function sizeOf(file: string, name: string): Promise<{ width: number; height: number }> {
  const handle = await open(file);
  try {
    const head = new Uint8Array(512 * 1024);
    const { bytesRead } = await handle.read(head, 0, head.length, 0);
    const { width, height, orientation, type } = imageSize(head.subarray(0, bytesRead));
    if (!['png', 'jpg', 'webp'].includes(type ?? '')) throw new Error();
    // From 5 on the picture lies on its side (Exif 2.3, tag 274).
    return (orientation ?? 1) >= 5 ? { width: height, height: width } : { width, height };
  } catch {
    throw refuse(`“${name}” is not a whole PNG, JPEG or WebP picture. Save it again.`);
  } finally {
    await handle.close();
  }
}

/** A folder among what arrives, removed when the work is done. */
export async function inOwnFolder<T>(name: string, work: (folder: string) => Promise<T>): Promise<T> {
  const folder = path.join(/*turbopackIgnore: true*/ arrivingFolder(), `${name}-pictures`);
  await rm(folder, { recursive: true, force: true });
  await mkdir(folder);
  try {
    return await work(folder);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
