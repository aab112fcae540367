import { createCanvas } from '@napi-rs/canvas';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { arrivingFolder } from '../src/server/data-folder';
import { database } from '../src/server/database';
import { takeIn } from '../src/server/receive';

/** Brings a small picture in as a shot. @returns its id. */
export async function bringInStill(name = 'leaf.png'): Promise<string> {
  database();
  const file = path.join(arrivingFolder(), `still-${Math.random()}`);
  writeFileSync(file, createCanvas(64, 48).toBuffer('image/png'));
  const { id } = (await takeIn(file, name, { num: 25, den: 1 }, null)) as { id: string };
  return id;
}
