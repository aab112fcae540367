import { copyFile, readFile } from 'node:fs/promises';
import path from 'node:path';
import { documentFromRows } from '@/core/document/document';
import {
  type CrossingRow,
  type KeyRow,
  type LayerRow,
  type MarkRow,
  type OutlineRow,
  type PoseRow,
} from '@/core/document/rows';
import { insertDocument } from './crossings';
import { arrivingFolder } from './data-folder';
import { database } from './database';
import { checkAndKeep } from './receive';
import { renameShot } from './shots';

interface Demo {
  /** Shots by the name of their file in demo/footage. */
  shots: Record<string, string>;
  crossings: {
    crossing: CrossingRow;
    layers: (Omit<LayerRow, 'shotId'> & { shotFile: string })[];
    outlines: OutlineRow[];
    poses: PoseRow[];
    marks: MarkRow[];
    keys?: KeyRow[];
  }[];
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
  for (const { crossing, layers, outlines, poses, marks, keys } of [...demo.crossings].reverse()) {
    const placed = layers.map(({ shotFile, ...layer }) => ({ ...layer, shotId: ids[shotFile] }));
    insertDocument(documentFromRows(crossing, placed, outlines, poses, marks, [], keys));
  }
}
