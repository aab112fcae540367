import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type OutlineRow, plainOutline, plainPose, type PoseRow } from '../src/core/document/tables';
import { origin } from './app';

/** Footage of the sizes that people bring, drawn from the demo's, and crossings of it. */

const folder = mkdtempSync(path.join(tmpdir(), 'kiv-large-'));

/** A file of the demo's at another size, looped, with noise. @param shot its file's name, with its ending where that is not MP4. */
export function clip(shot: string, width: number, height: number, frames: number, keyEvery: number): string {
  const file = path.join(folder, `${path.parse(shot).name}-${height}-${frames}-${keyEvery}.mp4`);
  const { status, stderr } = spawnSync('ffmpeg', [
    ...[
      '-v',
      'error',
      '-y',
      '-stream_loop',
      String(Math.ceil(frames / 66)),
      '-i',
      `demo/footage/${path.extname(shot) ? shot : `${shot}.mp4`}`,
      '-frames:v',
      String(frames),
    ],
    ...[
      '-vf',
      `scale=${width}:${height}:flags=bicubic,noise=alls=4:allf=t`,
      '-c:v',
      'libx264',
      '-preset',
      'veryfast',
    ],
    ...['-crf', '20', '-g', String(keyEvery), '-bf', '2', '-pix_fmt', 'yuv420p', file],
  ]);
  if (status !== 0) throw new Error(stderr.toString());
  return file;
}

const json = { 'content-type': 'application/json' };
const pieceSize = 8 * 1024 * 1024;

/** Asks the server; once more where it closed a connection that had been idle. */
const ask = (where: string, options: RequestInit = {}) =>
  fetch(`${origin}${where}`, options).catch(() => fetch(`${origin}${where}`, options));

async function post<T>(where: string, body: object): Promise<T> {
  const answer = await ask(where, {
    method: 'POST',
    body: JSON.stringify(body),
    headers: json,
  });
  if (!answer.ok) throw new Error(`${where}: ${await answer.text()}`);
  return (await answer.json()) as T;
}

/** Brings a file in as the page does, in pieces, and waits for its work copy. */
async function bringIn(file: string): Promise<string> {
  const bytes = readFileSync(file);
  const name = path.basename(file);
  const about = { fingerprint: `bench ${name}`, name, size: bytes.length, rateNum: 25, rateDen: 1 };
  const upload = await post<{ id: string }>('/api/uploads', about);
  for (let offset = 0; offset < bytes.length; offset += pieceSize)
    await ask(`/api/uploads/${upload.id}?offset=${offset}`, {
      method: 'PATCH',
      body: bytes.subarray(offset, offset + pieceSize),
      headers: { 'content-type': 'application/octet-stream' },
    }).then((answer) => answer.text());
  const { id } = await post<{ id: string }>(`/api/uploads/${upload.id}`, { parts: null });
  for (let tries = 0; tries < 1200; tries++) {
    const jobs = (await (await ask('/api/jobs')).json()) as unknown[];
    if (jobs.length === 0) return id;
    await new Promise((done) => setTimeout(done, 500));
  }
  throw new Error('The work copy was not made in ten minutes.');
}

/** The address of a pass-by of two shots, with a soft seam across it. @param keyEvery frames from key to key in the files. */
export async function crossing(name: string, width: number, height: number, frames: number, keyEvery = 25) {
  const [outgoingShotId, incomingShotId] = [
    await bringIn(clip('gardener', width, height, frames, keyEvery)),
    await bringIn(clip('lily-pond', width, height, frames, keyEvery)),
  ];
  const { id } = await post<{ id: string }>('/api/crossings', {
    ...{ name, plan: 'pass-by', outgoingShotId, incomingShotId },
  });
  const { document } = (await (await ask(`/api/crossings/${id}`)).json()) as {
    document: { layers: Record<string, { id: string; role: string }> };
  };
  const layerId = Object.values(document.layers).find(({ role }) => role === 'outgoing')!.id;
  const outlineId = crypto.randomUUID();
  const pose = (frame: number, x: number): PoseRow => ({
    ...plainPose,
    ...{ id: `${outlineId}@${frame}`, outlineId, frame, origin: 'by hand', onward: 'linear' },
    coordinates: [-10, height / 2, height + 10].flatMap((y, k) => [x + 40 * (k % 2), y, 0, 0, 0, 0]),
  });
  const outline: OutlineRow = {
    ...{ ...plainOutline, id: outlineId, layerId, cutsLayerId: null, name: 'Seam', kind: 'seam' },
    ...{ sweptSide: 'right', position: 0, points: ['a', 'b', 'c'] },
    ...{ featherInside: width / 100, featherOutside: width / 100 },
  };
  const rows = [
    { table: 'outline', id: outlineId, before: null, after: outline },
    ...[0, frames - 1].map((frame) => {
      const after = pose(frame, frame === 0 ? -60 : width + 60);
      return { table: 'pose', id: after.id, before: null, after };
    }),
  ];
  await post(`/api/crossings/${id}/commits`, {
    ...{ requestId: crypto.randomUUID(), baseRevision: 0, kind: 'do' },
    edit: { id: crypto.randomUUID(), label: 'Draw', changes: rows },
  });
  return `${origin}/crossings/${id}`;
}

/** Resident memory of the largest process whose command has this in it, MB. */
function megabytesOf(command: string): number {
  const { stdout } = spawnSync('ps', ['-eo', 'rss,args'], { encoding: 'utf8' });
  const those = stdout.split('\n').filter((line) => line.includes(command));
  return Math.max(...those.map((line) => Number.parseInt(line.trim(), 10))) / 1024;
}

/** Of the process that has the page with its workers: the largest that renders. */
export const tabMegabytes = () => megabytesOf('--type=renderer');
export const serverMegabytes = () => megabytesOf('scripts/serve.mjs');
