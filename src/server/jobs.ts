import { randomUUID } from 'node:crypto';
import { rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { timecodeWritten } from '@/footage/facts';
import { isLarge, largestShown, workShare } from '@/footage/work-copy';
import type { JobListing } from '@/wire/answers';
import { arrivingFolder, footageFolder, waitingFolder } from './data-folder';
import { database } from './database';
import {
  encode,
  frameTimes,
  hasFfmpeg,
  installFfmpeg,
  pictureDelay,
  probe,
  timecodeIn,
  treatmentOf,
} from './ffmpeg';
import { diskFull, isDiskFull } from './full-disk';
import { notFound } from './problem';
import { factsOf } from './read-facts';
import { keepShot, keepWorkCopy } from './shot-keeping';
import { recordOf } from './shots';

interface JobRecord {
  id: string;
  kind: 'convert' | 'work copy';
  shot_id: string | null;
  name: string;
  file_name: string;
  state: 'waiting' | 'running' | 'failed';
  reason: string;
  done_frames: number;
  all_frames: number;
  message: string;
}

/** Frames from key to key: in what is converted, and in a work copy, which is for stepping. */
const keyEvery = { convert: 12, 'work copy': 6 };
/** Seconds by which a converted frame's time may differ: a tick of the coarsest clock that containers use. */
const timeTolerance = 0.0015;

interface Queue {
  running: string | null;
  cancelled: AbortController | null;
}

// The server's modules are loaded more than once; the queue is one.
const shared = globalThis as typeof globalThis & { kivJobs?: Queue };
const queue = () => (shared.kivJobs ??= { running: null, cancelled: null });

/** What waits, runs or has failed, oldest first. */
export function listJobs(): JobListing[] {
  const records = database().prepare('SELECT * FROM job ORDER BY created_at').all() as JobRecord[];
  return records.map(({ id, kind, name, state, reason, done_frames, all_frames, message }) => ({
    id,
    kind,
    name,
    state,
    reason,
    done: done_frames,
    of: all_frames,
    message,
  }));
}

function addJob(
  kind: JobRecord['kind'],
  shotId: string | null,
  name: string,
  fileName: string,
  reason: string,
) {
  const id = randomUUID();
  database()
    .prepare(
      `INSERT INTO job (id, kind, shot_id, name, file_name, state, reason, created_at)
       VALUES (?, ?, ?, ?, ?, 'waiting', ?, ?)`,
    )
    .run(id, kind, shotId, name, fileName, reason, new Date().toISOString());
  void runJobs();
  return id;
}

/**
 * Takes a file that the browser cannot decode into the queue; it is moved.
 *
 * @param reason why it has to be converted, for the person.
 * @returns the id of the conversion, and of the shot that it makes.
 */
export async function queueConversion(file: string, name: string, reason: string): Promise<string> {
  const fileName = randomUUID();
  await rename(file, path.join(waitingFolder(), fileName));
  return addJob('convert', null, name, fileName, reason);
}

/** Has a copy with short stretches from key to key made of a shot that steps slowly; only where ffmpeg is there. */
export async function queueWorkCopy(shotId: string) {
  if (!(await hasFfmpeg())) return;
  const shot = recordOf(shotId);
  const reason = isLarge(shot) ? 'Large: a smaller copy for the preview' : 'Steps slowly: few key frames';
  addJob('work copy', shotId, shot.name, shot.file_name, reason);
}

function workFilters(share: number): string[] {
  const size = share === 1 ? [] : [`scale=trunc(iw*${share}/2)*2:trunc(ih*${share}/2)*2:flags=area`];
  return [...size, 'pad=ceil(iw/2)*2:ceil(ih/2)*2', 'format=yuv420p'];
}

/** Takes up what was under way when the server ended, and makes the work copies that large shots still lack. */
export function resumeJobs() {
  // One whose shot is there has only not been struck off.
  database().prepare("DELETE FROM job WHERE kind = 'convert' AND id IN (SELECT id FROM shot)").run();
  database().prepare("UPDATE job SET state = 'waiting', done_frames = 0 WHERE state = 'running'").run();
  const lacking = database()
    .prepare(
      `SELECT id FROM shot WHERE kind = 'video' AND deleted_at IS NULL AND work_file_name IS NULL AND max(width, height) > ?
         AND NOT EXISTS (SELECT 1 FROM job WHERE shot_id = shot.id)`,
    )
    .pluck()
    .all(largestShown) as string[];
  for (const id of lacking) void queueWorkCopy(id);
  void runJobs();
}

export function retryJob(id: string) {
  const { changes } = database()
    .prepare(
      "UPDATE job SET state = 'waiting', message = '', done_frames = 0 WHERE id = ? AND state = 'failed'",
    )
    .run(id);
  if (changes === 0) throw notFound('conversion');
  void runJobs();
}

/** Ends a job and throws away what it was to work on, unless that is a shot's own file. */
export async function cancelJob(id: string) {
  const job = database().prepare('SELECT * FROM job WHERE id = ?').get(id) as JobRecord | undefined;
  if (!job) throw notFound('conversion');
  database().prepare('DELETE FROM job WHERE id = ?').run(id);
  const { running, cancelled } = queue();
  if (running === id) cancelled?.abort();
  if (job.kind === 'convert') await rm(path.join(waitingFolder(), job.file_name), { force: true });
}

/** ms after which a queue that the database has stopped, as on a full disk, is looked at again. */
const lookAgainAfter = 30_000;

async function runJobs() {
  const state = queue();
  if (state.running !== null) return;
  try {
    for (;;) {
      // What someone waits for comes before what only quickens.
      const job = database()
        .prepare("SELECT * FROM job WHERE state = 'waiting' ORDER BY kind, created_at LIMIT 1")
        .get() as JobRecord | undefined;
      if (!job) return;
      state.running = job.id;
      state.cancelled = new AbortController();
      await runToItsEnd(job, state.cancelled.signal);
      state.running = null;
    }
  } catch (error) {
    // The database cannot be written now: what waits, waits, and what was under way is taken up again.
    console.error(error);
    setTimeout(() => void takeUpAgain(), lookAgainAfter).unref();
  } finally {
    state.running = null;
  }
}

async function takeUpAgain() {
  if (queue().running !== null) return;
  try {
    database().prepare("UPDATE job SET state = 'waiting', done_frames = 0 WHERE state = 'running'").run();
  } catch {
    setTimeout(() => void takeUpAgain(), lookAgainAfter).unref();
    return;
  }
  await runJobs();
}

/** @throws Error only when the database cannot be written. */
async function runToItsEnd(job: JobRecord, cancelled: AbortSignal) {
  database().prepare("UPDATE job SET state = 'running' WHERE id = ?").run(job.id);
  try {
    await runJob(job, cancelled);
  } catch (error) {
    if (cancelled.aborted) return;
    const message = isDiskFull(error)
      ? diskFull().message
      : error instanceof Error
        ? error.message
        : String(error);
    database().prepare("UPDATE job SET state = 'failed', message = ? WHERE id = ?").run(message, job.id);
    return;
  }
  database().prepare('DELETE FROM job WHERE id = ?').run(job.id);
}

async function runJob(job: JobRecord, cancelled: AbortSignal) {
  if (!(await hasFfmpeg())) throw new Error(installFfmpeg);
  const converting = job.kind === 'convert';
  const from = path.join(converting ? waitingFolder() : footageFolder(), job.file_name);
  const found = await probe(from);
  if (!found)
    throw new Error(
      'ffmpeg finds no pictures in this file. Choose a video file, or copy it again from the card.',
    );
  const times = await frameTimes(from, cancelled);
  if (times.length === 0)
    throw new Error('ffmpeg decodes no picture of this file. Copy it again from the card.');
  const progress = database().prepare('UPDATE job SET done_frames = ?, all_frames = ? WHERE id = ?');
  progress.run(0, times.length, job.id);
  const treatment = treatmentOf(found);
  // What is made by filters has BT.709's numbers.
  const retag = converting && treatment.filters.length > 2;
  const delay = converting ? await pictureDelay(from) : 0;
  if (delay > 0) treatment.filters.unshift(`setpts=PTS-${delay.toFixed(6)}/TB`);
  const share = job.shot_id ? workShare(recordOf(job.shot_id)) : 1;
  const to = path.join(/*turbopackIgnore: true*/ arrivingFolder(), `${job.id}.mp4`);
  try {
    cancelled.throwIfAborted();
    await encode(
      from,
      to,
      {
        filters: converting ? treatment.filters : workFilters(share),
        keyEvery: keyEvery[job.kind],
        sound: converting,
        // A work copy stands for the shot's coded picture, which Kiv turns itself.
        turn: converting,
        retag,
      },
      (frames) => progress.run(Math.min(frames, times.length), times.length, job.id),
      cancelled,
    );
    const facts = await factsOf(to);
    requireSameFrames(times, facts.index.timestamps);
    cancelled.throwIfAborted();
    if (converting) {
      const timecode = timecodeWritten(await timecodeIn(from), facts.rate);
      await keepShot(to, job.name, { ...facts, timecode }, { id: job.id, treatment: treatment.says });
      await rm(from, { force: true });
    } else await keepWorkCopy(job.shot_id!, to, facts.index, share);
  } finally {
    await rm(to, { force: true });
  }
}

/** @throws Error when a frame is lost, added or out of time. */
export function requireSameFrames(wanted: ArrayLike<number>, found: ArrayLike<number>) {
  if (found.length !== wanted.length)
    throw new Error(
      `The converted file has ${found.length} frames instead of ${wanted.length}, so it is not taken. Convert it with another program and bring it in again.`,
    );
  for (let n = 0; n < wanted.length; n++) {
    const off = Math.abs(found[n] - found[0] - (wanted[n] - wanted[0]));
    if (off > timeTolerance)
      throw new Error(
        `Frame ${n} of the converted file is ${(off * 1000).toFixed(1)} ms out of time, so it is not taken. Convert it with another program and bring it in again.`,
      );
  }
}
