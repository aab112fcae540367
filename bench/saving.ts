import Database from 'better-sqlite3';
import { randomUUID } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import path from 'node:path';
import type { OpenedCrossing } from '../src/wire/answers';
import { origin, withApp } from './app';
import { type Figure, median } from './figure';
import { tracedCrossing } from './many';

/** Saving one edit of a crossing with 2,000 poses of 60 points, against a bare transaction of the same rows. */

const [poses, edits] = [2000, 240];

const percentile95 = (times: number[]) =>
  [...times].sort((a, b) => a - b)[Math.ceil(0.95 * times.length) - 1];

/** The server's saving in this process, on a copy of its data. */
async function ownServer(data: string): Promise<(crossingId: string, body: unknown) => number> {
  const folder = path.join(data, 'own');
  mkdirSync(folder);
  const source = new Database(path.join(data, 'kiv.sqlite'), { readonly: true });
  await source.backup(path.join(folder, 'kiv.sqlite'));
  source.close();
  process.env.KIV_DATA = folder;
  const { takeCommit } = await import('../src/server/commits');
  const { validatedCommit } = await import('../src/server/bodies');
  return (crossingId, body) => takeCommit(crossingId, validatedCommit(body));
}

export function benchSaving(): Promise<Figure[]> {
  return withApp(async (browser, data) => {
    const page = await browser.newPage();
    const id = await tracedCrossing(page, origin, poses, 1, poses);
    await page.close();
    const opened = (await (await fetch(`${origin}/api/crossings/${id}`)).json()) as OpenedCrossing;
    const list = [...Object.values(opened.document.poses)[0]];
    // The same database on the same disk, without Kiv.
    const copy = path.join(data, 'bare.sqlite');
    const source = new Database(path.join(data, 'kiv.sqlite'), { readonly: true });
    await source.backup(copy);
    source.close();
    const bare = new Database(copy);
    bare.pragma('journal_mode = WAL');
    bare.pragma('synchronous = FULL');
    bare.pragma('foreign_keys = ON');
    const pose = bare.prepare(
      `INSERT INTO pose (crossing_id, outline_id, frame, origin, onward, coordinates) VALUES (?, ?, ?, ?, ?, ?)
       ON CONFLICT (outline_id, frame) DO UPDATE SET coordinates = excluded.coordinates`,
    );
    const edit = bare.prepare(
      'INSERT INTO edit (crossing_id, id, label, changes, inverse, created_at) VALUES (?, ?, ?, ?, ?, ?)',
    );
    const revise = bare.prepare('UPDATE crossing SET revision = revision + 1, updated_at = ? WHERE id = ?');
    const request = bare.prepare(
      "INSERT INTO request (id, crossing_id, revision, kind, edit_id) VALUES (?, ?, ?, 'do', ?)",
    );
    // And the server's own function, without what carries it: as routes call it, body checks included.
    const inside = await ownServer(data);
    const [ours, within, theirs]: number[][] = [[], [], []];
    let { revision } = opened;
    for (let k = 0; k < edits; k++) {
      const before = list[(k * 37) % list.length];
      const after = { ...before, coordinates: before.coordinates.map((value) => value + 0.5) };
      list[(k * 37) % list.length] = after;
      const changes = [{ table: 'pose', id: after.id, before, after }];
      const editId = randomUUID();
      const body = JSON.stringify({
        ...{ requestId: randomUUID(), baseRevision: revision, kind: 'do' },
        edit: { id: editId, label: 'Move outline', changes },
      });
      const started = performance.now();
      const answer = await fetch(`${origin}/api/crossings/${id}/commits`, {
        method: 'POST',
        body,
        headers: { 'content-type': 'application/json' },
      });
      ({ revision } = (await answer.json()) as { revision: number });
      ours.push(performance.now() - started);
      const own = { ...(JSON.parse(body) as { requestId: string }), requestId: randomUUID() };
      const entered = performance.now();
      inside(id, own);
      within.push(performance.now() - entered);
      const now = new Date().toISOString();
      const [forth, back] = [JSON.stringify(changes), JSON.stringify(changes)];
      const coordinates = JSON.stringify(after.coordinates);
      const begun = performance.now();
      bare.transaction(() => {
        pose.run(id, after.outlineId, after.frame, after.origin, after.onward, coordinates);
        edit.run(id, editId, 'Move outline', forth, back, now);
        revise.run(now, id);
        request.run(randomUUID(), id, revision, editId);
      })();
      theirs.push(performance.now() - begun);
    }
    bare.close();
    const reference = (value: number) => ({ name: 'bare transaction', value });
    return [
      {
        name: `saving one edit among ${poses} poses of 60 points, in the server, p95`,
        value: percentile95(within),
        unit: 'ms',
        reference: reference(percentile95(theirs)),
        atMost: 3,
      },
      {
        name: '  median of the same',
        value: median(within),
        unit: 'ms',
        reference: reference(median(theirs)),
      },
      {
        name: '  over HTTP, p95',
        value: percentile95(ours),
        unit: 'ms',
        reference: reference(percentile95(theirs)),
      },
      {
        name: '  over HTTP, median',
        value: median(ours),
        unit: 'ms',
        reference: reference(median(theirs)),
      },
    ];
  });
}
