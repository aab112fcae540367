import { randomUUID } from 'node:crypto';
import { rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { type ExportFormat, exportFormats } from '@/footage/video-writer';
import type { ExportQuery } from './bodies';
import { readDocument } from './document-rows';
import { exportsFolder } from './data-folder';
import { database } from './database';
import { notFound, Problem } from './problem';
import { FootageRefusal } from '@/footage/refusal';
import type { ExportListing } from '@/wire/answers';
import { receiveBody } from './receive';

const exportLimit = 8e9;

const columns = `id, crossing_id AS crossingId, crossing_name AS crossingName, revision, format, byte_size AS byteSize,
  width, height, rate_num AS rateNum, rate_den AS rateDen, frame_count AS frameCount, created_at AS createdAt`;

export function listExports(): ExportListing[] {
  return database()
    .prepare(`SELECT ${columns} FROM export ORDER BY created_at DESC`)
    .all() as ExportListing[];
}

/** Stores a finished file; it is listed only once it is whole and in its place. */
export async function keepExport(request: Request, query: ExportQuery): Promise<string> {
  const { crossing } = readDocument(query.crossingId);
  let arrived: string;
  try {
    arrived = await receiveBody(request, exportLimit);
  } catch (error) {
    if (error instanceof FootageRefusal) throw new Problem(422, error.message);
    throw error;
  }
  try {
    const { size } = await stat(arrived);
    if (size === 0) throw new Problem(422, 'The exported file is empty.');
    const id = randomUUID();
    const fileName = `${id}.${exportFormats[query.format].extension}`;
    await rename(arrived, path.join(/*turbopackIgnore: true*/ exportsFolder(), fileName));
    database()
      .prepare(
        `INSERT INTO export VALUES (:id, :crossingId, :name, :revision, :format, :fileName, :size, :width, :height, :rateNum,
           :rateDen, :frameCount, :now)`,
      )
      .run({ ...crossing, ...query, id, fileName, size, now: new Date().toISOString() });
    return id;
  } finally {
    await rm(arrived, { force: true });
  }
}

export function exportFile(id: string): { file: string; name: string } {
  const row = database()
    .prepare('SELECT file_name AS fileName, crossing_name AS name, revision, format FROM export WHERE id = ?')
    .get(id) as { fileName: string; name: string; revision: number; format: ExportFormat } | undefined;
  if (!row) throw notFound('export');
  const safe = row.name.replace(/[^\p{L}\p{N} ._-]+/gu, '_').trim() || 'crossing';
  return {
    file: path.join(exportsFolder(), row.fileName),
    name: `${safe} r${row.revision}.${exportFormats[row.format].extension}`,
  };
}

export async function deleteExport(id: string) {
  const { file } = exportFile(id);
  database().prepare('DELETE FROM export WHERE id = ?').run(id);
  await rm(file, { force: true });
}
