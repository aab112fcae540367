import { mkdirSync, readdirSync, rmSync } from 'node:fs';
import path from 'node:path';

/** Where everything that Kiv keeps lies: `KIV_DATA`, by default `data` in the folder it was started in. */
export function dataFolder(): string {
  return path.resolve(/*turbopackIgnore: true*/ process.env.KIV_DATA || 'data');
}

export const databaseFile = () => path.join(dataFolder(), 'kiv.sqlite');
export const footageFolder = () => path.join(dataFolder(), 'footage');
export const soundsFolder = () => path.join(/*turbopackIgnore: true*/ dataFolder(), 'sounds');
export const exportsFolder = () => path.join(dataFolder(), 'exports');
/** Exports that are being written; they outlive a restart. */
export const underWayFolder = () => path.join(/*turbopackIgnore: true*/ dataFolder(), 'exports-under-way');
/** Files on their way in; whatever is left here at a start was cut off. */
export const arrivingFolder = () => path.join(dataFolder(), 'arriving');
/** One copy of the database a day. */
export const copiesFolder = () => path.join(/*turbopackIgnore: true*/ dataFolder(), 'copies');

/** Files that come in pieces; they outlive a restart. */
export const uploadsFolder = () => path.join(dataFolder(), 'uploads');
/** Files that wait to be converted. */
export const waitingFolder = () => path.join(dataFolder(), 'waiting');

/** Makes the folders and clears away what was cut off. */
export function prepareDataFolder() {
  for (const folder of [
    footageFolder(),
    soundsFolder(),
    exportsFolder(),
    underWayFolder(),
    arrivingFolder(),
    uploadsFolder(),
    waitingFolder(),
  ])
    mkdirSync(folder, { recursive: true });
  for (const name of readdirSync(arrivingFolder()))
    rmSync(path.join(arrivingFolder(), name), { recursive: true, force: true });
}
