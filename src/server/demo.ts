import { copyFile, readFile } from 'node:fs/promises';
import path from 'node:path';
import { type CrossingDocument, documentFromRows } from '@/core/document/document';
import {
  type CrossingRow,
  type LayerRow,
  type OutlineRow,
  plainLayer,
  type PoseRow,
} from '@/core/document/rows';
import { insertDocument } from './crossings';
import { arrivingFolder } from './data-folder';
import { database } from './database';
import { checkAndKeep } from './receive';
import { renameShot } from './shots';

interface DemoCrossing {
  /** Shots by the name of their file in demo/footage. */
  shots: Record<string, string>;
  crossing: CrossingRow;
  layers: (Pick<LayerRow, 'id' | 'role' | 'position'> & Partial<LayerRow> & { shotFile: string })[];
  outlines: OutlineRow[];
  poses: PoseRow[];
}

/** Puts the demo's shots and its crossing into an empty data folder; does nothing in one that has shots. */
export async function fillDemo() {
  if (database().prepare('SELECT count(*) FROM shot').pluck().get() !== 0) return;
  const folder = path.join(process.cwd(), 'demo', 'footage');
  const demo = JSON.parse(await readFile(path.join(folder, 'crossing.json'), 'utf8')) as DemoCrossing;
  const ids: Record<string, string> = {};
  for (const [fileName, name] of Object.entries(demo.shots)) {
    const copy = path.join(arrivingFolder(), fileName);
    await copyFile(path.join(folder, fileName), copy);
    ids[fileName] = await checkAndKeep(copy, fileName);
    renameShot(ids[fileName], name);
  }
  const layers = demo.layers.map(({ shotFile, ...layer }) => ({
    ...plainLayer,
    ...layer,
    shotId: ids[shotFile],
  }));
  const document: CrossingDocument = documentFromRows(demo.crossing, layers, demo.outlines, demo.poses);
  insertDocument(document);
}
