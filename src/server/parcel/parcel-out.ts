import { fileNameOf } from '@/core/formats/file-name';
import { countAt } from '@/core/time/source-timecode';
import { createReadStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import path from 'node:path';
import { PassThrough, Readable, Writable } from 'node:stream';
import { Uint8ArrayReader, ZipWriter } from '@zip.js/zip.js';
import { rowsOf, shotIdsOf } from '@/core/document/document';
import type { RowChange } from '@/core/document/edit';
import type { LayerRow, PieceRow } from '@/core/document/tables';
import { type Remaining, remainingMotion, withRemaining } from '@/core/document/shortened';
import { formatBytes } from '@/footage/refusal';
import { streamOf, zipSettings } from '@/footage/zip-out';
import { arrivingFolder } from '../data-folder';
import { database, prepared } from '../database';
import { readDocument, storedChanges } from '../document-rows';
import { Problem } from '../problem';
import { uploadLimit } from '../receive';
import { listShots, recordOf, requireFootage, shotById } from '../shots';
import { listSounds, soundFile } from '../sounds';
import { partOf } from './part';
import {
  contentsName,
  filesOf,
  fingerprintOf,
  type ParcelContents,
  type ParcelEdit,
  parcelFormat,
  type ParcelShot,
  type ParcelSound,
  parcelVersion,
} from './contents';

/** Most characters of history in a parcel: with the rows it stays under what is taken in. */
const mostHistory = 60e6;

/** Most bytes of footage in a parcel: with what describes it, it stays under what is taken in again. */
const mostFootage = () => Math.max(uploadLimit() / 2, uploadLimit() - 2 * mostHistory);

/** What a parcel takes along. */
export interface Baggage {
  /** All files; of each shot only the part that is used; or only fingerprints to find them by. */
  footage: 'whole' | 'used' | 'none';
  /** Frames more at both ends of what is used. */
  handles: number;
  /** What was done; not with parts of shots, by whose frames it does not count. */
  history: boolean;
}

/**
 * A crossing as one ZIP.
 *
 * @throws Problem 400 for a history with parts of shots, 404 when there is no such crossing, 413 when the footage does not fit.
 */
export async function parcelOf(
  crossingId: string,
  { footage, handles, history }: Baggage,
): Promise<Response> {
  if (footage === 'used' && history)
    throw new Problem(
      400,
      'The undo history needs all frames: pack the whole footage, or leave the history out.',
    );
  const folder = await mkdtemp(path.join(/*turbopackIgnore: true*/ arrivingFolder(), 'parcel-'));
  const tidy = () => rm(folder, { recursive: true, force: true });
  try {
    const { contents, files, name } = await packed(crossingId, { footage, handles, history }, folder);
    const headers = {
      'Content-Type': 'application/zip',
      'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(`${name}.kiv.zip`).replace(/['()*]/g, escape)}`,
      'Cache-Control': 'no-store',
    };
    const pieces = new PassThrough();
    // However it ends: read to its end, given up, or never asked for.
    pieces.once('close', () => void tidy());
    writeZip(Writable.toWeb(pieces) as WritableStream<Uint8Array>, contents, files).catch((error: Error) =>
      pieces.destroy(error),
    );
    return new Response(Readable.toWeb(pieces) as ReadableStream<Uint8Array>, { headers });
  } catch (error) {
    await tidy();
    throw error;
  }
}

/** What is in a parcel. @param folder for files that are made for it. */
async function packed(crossingId: string, { footage, handles, history }: Baggage, folder: string) {
  const document = readDocument(crossingId);
  const withFootage = footage !== 'none';
  const shots: ParcelShot[] = [];
  const files: { name: string; file: string }[] = [];
  let all = 0;
  const pieces = Object.values(document.pieces);
  const heard = pieces.flatMap(({ source, sourceId }) => (source === 'shot' && sourceId ? [sourceId] : []));
  const known = new Set(listShots().map(({ id }) => id));
  const shown = Object.values(document.layers).flatMap(shotIdsOf);
  // A shot that is only heard may be gone.
  const ids = [...new Set([...shown, ...heard.filter((each) => known.has(each))])];
  requireFootage(shown);
  const table = Object.fromEntries(ids.map((id) => [id, shotById(id)]));
  const remaining: Record<string, Remaining> = {};
  for (const id of ids) {
    const { width, height, rate, timecode } = table[id];
    let { name, frameCount, motion } = table[id];
    const part = footage === 'used' ? await partOf(document, table, id, handles, folder) : null;
    if (part) {
      const { first, count } = (remaining[id] = part.remaining);
      name = `${name.slice(0, 90)}, ${first} to ${first + count - 1}`;
      frameCount = count;
      motion = motion && remainingMotion(motion, part.remaining);
    }
    const own = part?.files ?? filesOf(id);
    const { sha256, bytes } = await fingerprintOf(own);
    all += bytes;
    const { kind, original_name: originalName } = recordOf(id);
    const named = own.map((file, n) => ({ name: `footage/${shots.length}/${n}`, file }));
    if (withFootage) files.push(...named);
    shots.push({
      ...{ id, name, originalName, kind, width, height, frameCount, bytes, sha256, motion },
      timecode: timecode && { ...timecode, start: countAt(timecode, rate, part?.remaining.first ?? 0) },
      rate: [rate.num, rate.den],
      files: withFootage ? named.map((each) => each.name) : [],
    });
  }
  const sounds: ParcelSound[] = [];
  for (const { id, name, originalName } of listSounds()) {
    if (!pieces.some(({ source, sourceId }) => source === 'file' && sourceId === id)) continue;
    const { file } = soundFile(id);
    const print = await fingerprintOf([file]);
    all += print.bytes;
    const named = `sounds/${sounds.length}`;
    if (withFootage) files.push({ name: named, file });
    sounds.push({ id, name, originalName, ...print, files: withFootage ? [named] : [] });
  }
  if (withFootage && all > mostFootage())
    throw new Problem(
      413,
      `The footage is over ${formatBytes(mostFootage())}, more than Kiv takes in at once. Save the crossing without footage, and copy the files beside it.`,
    );
  const contents: ParcelContents = {
    format: parcelFormat,
    version: parcelVersion,
    rows: rowsOf(withRemaining(document, table, remaining)) as unknown as Record<string, unknown[]>,
    shots,
    sounds,
    ...(history
      ? { history: historyOf(crossingId, new Set([...shots, ...sounds].map(({ id }) => id))) }
      : {}),
  };
  return { contents, files, name: fileNameOf(document.crossing.name, 'crossing') };
}

/**
 * What was done, oldest first, as far back as all that it names is in the parcel (what is older could not be undone where
 * its footage is not), and as it does not grow beyond what is taken in.
 *
 * @param known ids of the shots and sounds that the parcel tells of.
 */
function historyOf(crossingId: string, known: ReadonlySet<string>): ParcelEdit[] {
  const rows = prepared(
    database(),
    'SELECT label, changes, undone FROM edit WHERE crossing_id = ? ORDER BY sequence DESC',
  ).all(crossingId) as { label: string; changes: string; undone: number }[];
  const history: ParcelEdit[] = [];
  let length = 0;
  for (const { label, changes: stored, undone } of rows) {
    length += stored.length;
    if (length > mostHistory) {
      // What is undone can be done again only with all that was undone after it.
      if (undone === 1) history.length = 0;
      break;
    }
    const changes = storedChanges(stored);
    if (!changes.every((change) => filesNamed(change).every((id) => known.has(id)))) {
      // Nor could be done again what comes after one that is left out.
      if (undone === 0) break;
      history.length = 0;
      continue;
    }
    history.push({ label, changes, undone: undone === 1 });
  }
  return history.reverse();
}

/** The shots and sound files that a change names. */
function filesNamed({ table, before, after }: RowChange): string[] {
  return [before, after].flatMap((row) => {
    if (!row) return [];
    if (table === 'layer') return shotIdsOf(row as LayerRow);
    const { source, sourceId } = row as PieceRow;
    return table === 'piece' && (source === 'file' || source === 'shot') && sourceId ? [sourceId] : [];
  });
}

/** Writes a parcel's ZIP, as whoever reads the other end asks for more. */
async function writeZip(
  sink: WritableStream<Uint8Array>,
  contents: ParcelContents,
  files: readonly { name: string; file: string }[],
) {
  const zip = new ZipWriter(sink, zipSettings);
  const described = new TextEncoder().encode(JSON.stringify(contents));
  await zip.add(contentsName, new Uint8ArrayReader(described), { level: 6 });
  for (const { name, file } of files)
    await zip.add(name, streamOf(createReadStream(file, { highWaterMark: 1 << 20 })));
  await zip.close();
}
