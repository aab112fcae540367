import type * as Comlink from 'comlink';
import { LRUCache } from 'lru-cache';
import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import type { FramePicture, Posters, PosterService } from '@/render/posters.worker';
import type { OpenedCrossing, ShotMedia } from '@/wire/answers';
import { call } from './api';
import { playedRange } from '@/core/document/document';
import { type Running, startWorker, told } from './start-worker';

let running: Running<PosterService> | null = null;
let waiting: { run: () => Promise<void>; giveUp: () => void; visit: number }[] = [];
let busy = false;

/** ms within which what is asked for has come into view together. */
const together = 80;
let visit = 0;
let visitAt = -Infinity;

/** Which of the looks at the page something is asked for by. */
function visitNow(): number {
  if (performance.now() - visitAt > together) visit++;
  visitAt = performance.now();
  return visit;
}

/** What was asked for is not wanted any more: the page that showed it is left. */
export class NotWanted extends Error {}

/** Ends the drawing of small pictures, so that it takes nothing from the page that is opened now. */
export function stopPosters() {
  for (const { giveUp } of waiting) giveUp();
  waiting = [];
  running?.end();
  running = null;
  busy = false;
}

async function workThrough() {
  if (busy) return;
  busy = true;
  // What has come into view last is what is looked at now; of that the first comes first.
  while (waiting.length > 0) {
    const newest = Math.max(...waiting.map((each) => each.visit));
    const [next] = waiting.splice(
      waiting.findIndex((each) => each.visit === newest),
      1,
    );
    await next.run();
  }
  busy = false;
}

/**
 * Calls the worker that draws small pictures, one call at a time, so that a full shelf does not decode all at once, and
 * what has just come into view first, so that it does not wait for what was looked at before.
 */
export function withPosters<T>(work: (service: Comlink.Remote<PosterService>) => Promise<T>): Promise<T> {
  running ??= startWorker<PosterService>(
    new Worker(new URL('../render/posters.worker.ts', import.meta.url), { type: 'module' }),
  );
  const drawing = running.service;
  return new Promise<T>((resolve, reject) => {
    waiting.push({
      run: () => work(drawing).then(resolve, reject),
      giveUp: () => reject(new NotWanted()),
      visit: visitNow(),
    });
    void workThrough();
  });
}

/** Most small pictures of shots that are kept; at 150 kB each. */
const mostPictures = 160;
const pictures = new LRUCache<string, FramePicture>({ max: mostPictures });
const media = new Map<string, Promise<ShotMedia>>();
const nameOf = (shotId: string, frame: number, height: number) => `${shotId} ${frame} ${height}`;

/** A shot's frame, small, where it has been drawn already. */
export function knownPicture(shotId: string, frame: number, height: number): FramePicture | null {
  return pictures.get(nameOf(shotId, frame, height)) ?? null;
}

/**
 * Draws a shot's frame small and keeps it.
 *
 * @param height px.
 * @param wanted asked when its turn comes; false gives it up, and null is returned.
 */
export async function pictureOf(
  shotId: string,
  frame: number,
  height: number,
  wanted: () => boolean,
): Promise<FramePicture | null> {
  let opened = media.get(shotId);
  if (!opened) {
    opened = call<ShotMedia>(`/api/shots/${shotId}`);
    media.set(shotId, opened);
    opened.catch(() => media.delete(shotId));
  }
  const shot = await opened;
  return withPosters(async (drawing) => {
    const known = knownPicture(shotId, frame, height);
    if (known || !wanted()) return known;
    const picture = await drawing.frame(shot, frame, height);
    pictures.set(nameOf(shotId, frame, height), picture);
    return picture;
  });
}

interface PosterSchema extends DBSchema {
  posters: { key: string; value: Posters & { revision: number } };
}

/** Pictures of crossings as they were drawn last, kept in the browser from visit to visit. */
let kept: Promise<IDBPDatabase<PosterSchema>> | null = null;
const openKept = () =>
  (kept ??= openDB<PosterSchema>('kiv-pictures', 2, {
    // What an older Kiv kept says less, and is drawn again.
    upgrade(database) {
      if (database.objectStoreNames.contains('posters')) database.deleteObjectStore('posters');
      database.createObjectStore('posters');
    },
  }));
/** Most crossings whose pictures are kept; at some 0.4 MB each. */
const mostKept = 100;

/**
 * The small pictures and the coverage of a crossing at a revision, drawn when they were not kept.
 *
 * @throws as {@link call} when the crossing cannot be read.
 */
export async function postersOf(crossingId: string, revision: number, height: number): Promise<Posters> {
  const name = `${crossingId} ${height}`;
  const database = await openKept().catch(() => null);
  const held = await database?.get('posters', name);
  if (held?.revision === revision) return held;
  const drawn = await withPosters(async (service) => {
    const { document, shots } = await call<OpenedCrossing>(`/api/crossings/${crossingId}`);
    return service.draw(document, shots, height);
  });
  if (database) {
    await database.put('posters', { ...drawn, revision }, name);
    const names = await database.getAllKeys('posters');
    // By name, not by age: what is deleted too soon is drawn again.
    for (const other of names.filter((each) => each !== name).slice(mostKept))
      await database.delete('posters', other);
  }
  return drawn;
}

/** Most pictures of a film; a longer crossing leaves frames out. */
const mostOfFilm = 60;

/**
 * Has a crossing's result drawn small, frame by frame, over what is played of it.
 *
 * @param onPicture told each, with ms from one to the next as they are to be shown; its answer false ends it.
 * @throws as {@link call}; NotWanted when the page is left.
 */
export async function filmOf(
  crossingId: string,
  height: number,
  onPicture: (picture: FramePicture, every: number) => boolean,
) {
  const { document, shots } = await call<OpenedCrossing>(`/api/crossings/${crossingId}`);
  const [first, last] = playedRange(document);
  const { rateNum, rateDen } = document.crossing;
  const step = Math.ceil((last - first + 1) / mostOfFilm);
  const frames = Array.from({ length: Math.ceil((last - first + 1) / step) }, (_, k) => first + k * step);
  const every = (1000 * step * rateDen) / rateNum;
  const tell = told(async (picture: FramePicture) => onPicture(picture, every));
  await withPosters((service) => service.film(document, shots, height, frames, tell));
}
