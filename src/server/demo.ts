import { copyFile, readFile } from 'node:fs/promises';
import path from 'node:path';
import { documentOf, tableNames } from '@/core/document/document';
import { tables } from '@/core/document/tables';
import { plainOf } from '@/core/document/table';
import { insertDocument } from './crossings';
import { arrivingFolder } from './data-folder';
import { database } from './database';
import { checkAndKeep } from './receive';
import { renameShot } from './shots';

interface Demo {
  /** Shots by the name of their file in demo/footage. */
  shots: Record<string, string>;
  /** Documents, each collection a list of rows; layers name their shot by its file, and what is plain is left out. */
  crossings: Record<string, object | object[]>[];
}

/** Puts the demo's shots and its crossings into an empty data folder; does nothing in one that has shots. */
export async function fillDemo() {
  if (database().prepare('SELECT count(*) FROM shot').pluck().get() !== 0) return;
  const folder = path.join(process.cwd(), 'demo', 'footage');
  const demo = JSON.parse(await readFile(path.join(folder, 'crossings.json'), 'utf8')) as Demo;
  const ids: Record<string, string> = {};
  for (const [fileName, name] of Object.entries(demo.shots)) {
    const copy = path.join(arrivingFolder(), fileName);
    await copyFile(path.join(folder, fileName), copy);
    ids[fileName] = await checkAndKeep(copy, fileName);
    renameShot(ids[fileName], name);
  }
  // The first one last: the newest comes first on the shelf.
  for (const crossing of [...demo.crossings].reverse()) {
    const rows = Object.fromEntries(
      tableNames.map((table) => {
        const { collection, fields } = tables[table];
        return [
          table,
          [crossing[collection] ?? []].flat().map((row) => {
            const { shotFile, ...own } = row as { shotFile?: string };
            return { ...plainOf(fields), ...own, ...(shotFile ? { shotId: ids[shotFile] } : {}) };
          }),
        ];
      }),
    );
    insertDocument(documentOf(rows as never));
  }
}
