import { randomUUID } from 'node:crypto';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { drawOutline, movedPoints, removePose, setPose } from '@/core/actions/actions';
import { applyChanges, rowsOf, tableNames } from '@/core/document/document';
import {
  type CrossingDocument,
  edgeId,
  moveId,
  plainPiece,
  poseId,
  type Table,
  tables,
} from '@/core/document/tables';
import { changeRow, inverseChanges, type RowChange } from '@/core/document/edit';
import { setLayer } from '@/core/actions/layer-actions';
import { addPiece, removePiece } from '@/core/actions/piece-actions';
import type { Field } from '@/core/document/table';
import { sampleOf } from '@/core/document/table-samples';
import type { CommitBody, ExportBody, NewCrossingBody } from './bodies';
import { Problem } from './problem';

process.env.KIV_DATA = mkdtempSync(path.join(tmpdir(), 'kiv-crossings-'));

/* The modules read KIV_DATA when they are first used. */
import { changesSince, takeCommit } from './commits';
import {
  createCrossing,
  deleteCrossing,
  listCrossings,
  openCrossing,
  readHistory,
  revisionOf,
} from './crossings';
import { database } from './database';
import { readDocument } from './document-rows';
import { beginExport } from './exports';
import { deleteShot, listShots } from './shots';

function insertShot(name: string): string {
  const id = randomUUID();
  database()
    .prepare(
      `INSERT INTO shot (id, name, original_name, file_name, byte_size, container, codec, width, height, rotation,
         rate_num, rate_den, constant_rate, frame_count, duration, colour_matrix, full_range, has_sound, timestamps,
         key_frames, created_at)
       VALUES (?, ?, 'x.mp4', ?, 1, 'MP4', 'H.264', 1280, 720, 0, 25, 1, 1, 96, 3.84, 'bt709', 0, 0,
         zeroblob(768), zeroblob(4), '')`,
    )
    .run(id, name, `${id}.mp4`);
  return id;
}

function newCrossing(): string {
  return createCrossing({
    name: 'Test',
    plan: 'pass-by',
    outgoingShotId: insertShot('Out'),
    incomingShotId: insertShot('In'),
  });
}

test('a crossing takes a stretch of its shots: trimmed, begun where that begins, as long as it lasts', () => {
  const [out, into] = [insertShot('Long take'), insertShot('Other')];
  const made = { name: 'Part', plan: 'pass-by' as const, outgoingShotId: out, incomingShotId: into };
  const { frameCount } = openCrossing(createCrossing(made)).shots[0].shot;
  const last = frameCount - 3;
  const layersOf = (body: NewCrossingBody) => {
    const { document } = openCrossing(createCrossing(body));
    const of = (role: string) => Object.values(document.layers).find((layer) => layer.role === role)!;
    return { length: document.crossing.length, outgoing: of('outgoing'), incoming: of('incoming') };
  };
  const some = layersOf({ ...made, stretches: { outgoing: { first: 4, last } } });
  expect(some.length).toBe(last - 4 + 1);
  expect(some.outgoing).toMatchObject({ offset: 4, trimIn: 4, trimOut: last });
  expect(some.incoming).toMatchObject({ offset: 0, trimIn: null, trimOut: null });
  // Lined up with all of it, the incoming shot goes along; a stretch that reaches the end is not trimmed there.
  const plain = { speed: 100, reverse: false, holdFrom: null };
  const timing = { outgoing: { ...plain, offset: 0 }, incoming: { ...plain, offset: 7 } };
  const lined = layersOf({
    ...made,
    timing: { ...timing, length: null, cut: null, edge: null },
    stretches: { outgoing: { first: 4, last: frameCount - 1 } },
  });
  expect(lined.outgoing).toMatchObject({ offset: 4, trimIn: 4, trimOut: null });
  expect(lined.incoming.offset).toBe(11);
  const beyond = { first: 2, last: frameCount };
  expect(() => createCrossing({ ...made, stretches: { incoming: beyond } })).toThrow(/has no frames 2 to/);
  expect(() => createCrossing({ ...made, stretches: { incoming: { first: 5, last: 4 } } })).toThrow(Problem);
});

const doing = (changes: RowChange[], baseRevision: number, label = 'Edit') =>
  ({
    requestId: randomUUID(),
    baseRevision,
    kind: 'do',
    edit: { id: randomUUID(), label, changes },
  }) as CommitBody;
const moving = (kind: 'undo' | 'redo', editId: string, baseRevision: number) =>
  ({ requestId: randomUUID(), baseRevision, kind, editId }) as CommitBody;

function seam(document: CrossingDocument, frame: number): { id: string; changes: RowChange[] } {
  const layerId = Object.values(document.layers).find((layer) => layer.role === 'outgoing')!.id;
  const id = randomUUID();
  const outline = {
    id,
    layerId,
    cutsLayerId: null,
    name: 'Back',
    points: ['a', 'b'],
    kind: 'seam' as const,
    sweptSide: 'left' as const,
  };
  return { id, changes: drawOutline(document, outline, frame, [400, 0, 0, 0, 0, 9, 380, 720, 0, -9, 0, 0]) };
}

test('what is stored after any run of edits, undos and redos is what the document would be', () => {
  const id = newCrossing();
  let document = readDocument(id);
  const { id: outlineId, changes } = seam(document, 10);
  const edits: { id: string; changes: RowChange[]; undone: boolean }[] = [];
  let revision = 0;
  const apply = (these: RowChange[]) => {
    document = applyChanges(document, these);
  };
  const edit = (these: RowChange[]) => {
    const step = doing(these, revision);
    revision = takeCommit(id, step);
    apply(these);
    edits.splice(edits.findLastIndex((entry) => !entry.undone) + 1);
    edits.push({ id: step.edit!.id, changes: these, undone: false });
  };
  edit(changes);
  let random = 7;
  const next = (below: number) => (random = (random * 16807) % 2147483647) % below;
  for (let k = 0; k < 120; k++) {
    const choice = next(10);
    const last = edits.findLast((entry) => !entry.undone);
    const undone = edits.find((entry) => entry.undone);
    if (choice < 2 && last) {
      revision = takeCommit(id, moving('undo', last.id, revision));
      apply(inverseChanges(last.changes));
      last.undone = true;
    } else if (choice < 4 && undone) {
      revision = takeCommit(id, moving('redo', undone.id, revision));
      apply(undone.changes);
      undone.undone = false;
    } else if (document.outlines[outlineId]) {
      const poses = document.poses[outlineId];
      const pose = poses[next(poses.length)];
      const removal = choice === 4 ? removePose(document, outlineId, pose.frame) : [];
      const moved = movedPoints(pose.coordinates, new Set([next(2)]), next(40) / 3, next(40) / 7);
      edit(removal.length > 0 ? removal : setPose(document, outlineId, next(60), moved));
    }
    expect(revisionOf(id)).toBe(revision);
  }
  expect(readDocument(id)).toEqual({
    ...document,
    poses: document.poses[outlineId]?.length ? document.poses : {},
  });
  const opened = openCrossing(id);
  expect(opened.history.map((entry) => [entry.id, entry.undone])).toEqual(
    edits.map((entry) => [entry.id, entry.undone]),
  );
});

test('late, foreign and inconsistent steps are refused and leave everything as it was', () => {
  const id = newCrossing();
  const document = readDocument(id);
  const { id: outlineId, changes } = seam(document, 10);
  takeCommit(id, doing(changes, 0));
  const before = openCrossing(id);
  const layer = Object.values(document.layers)[0];
  const pose = before.document.poses[outlineId][0];
  const outline = before.document.outlines[outlineId];
  const other = { ...outline, id: randomUUID(), position: outline.position + 1 };
  const refused: [CommitBody, number, RegExp][] = [
    [doing([changeRow('layer', layer, { ...layer, offset: 4 })], 0), 409, /another window/],
    [doing([changeRow('layer', { ...layer, offset: 8 }, layer)], 1), 409, /another window/],
    [doing([changeRow('outline', outline, { ...outline, points: ['a', 'b', 'c'] })], 1), 400, /same points/],
    [doing([changeRow('outline', outline, null)], 1), 400, /needs its outline/],
    [
      doing([changeRow('outline', outline, { ...outline, subjectId: outlineId })], 1),
      400,
      /a part of itself/,
    ],
    [
      doing(
        [
          changeRow('outline', outline, { ...outline, subjectId: other.id }),
          changeRow('outline', null, { ...other, subjectId: outlineId }),
        ],
        1,
      ),
      400,
      /a part of itself/,
    ],
    [doing([changeRow('pose', null, { ...pose, frame: 44 })], 1), 400, /not made from what it is of/],
    [doing([changeRow('layer', layer, { ...layer, shotId: randomUUID() })], 1), 404, /no such shot/],
    [
      doing([changeRow('crossing', { ...document.crossing, id: randomUUID() }, null)], 1),
      409,
      /another window/,
    ],
    [moving('redo', randomUUID(), 1), 409, /another window/],
  ];
  for (const [step, status, message] of refused) {
    try {
      takeCommit(id, step);
      throw new Error(`Taken: ${JSON.stringify(step)}`);
    } catch (error) {
      expect(error).toBeInstanceOf(Problem);
      expect((error as Problem).status).toBe(status);
      expect((error as Problem).message).toMatch(message);
    }
  }
  expect(openCrossing(id)).toEqual(before);
});

test('a long history is given page by page, oldest within reach', () => {
  const id = newCrossing();
  const layer = Object.values(readDocument(id).layers)[0];
  for (let k = 0; k < 230; k++) {
    const change = changeRow('layer', { ...layer, offset: k }, { ...layer, offset: k + 1 });
    takeCommit(id, doing([change], k, `Slip ${k}`));
  }
  const newest = openCrossing(id);
  expect([newest.history.length, newest.hasOlder]).toEqual([200, true]);
  const older = readHistory(id, newest.history[0].sequence);
  expect(older.history.map((entry) => entry.label)).toEqual(
    Array.from({ length: 30 }, (_, k) => `Slip ${k}`),
  );
  expect(older.hasOlder).toBe(false);
});

test('an edit written down by an older Kiv, without the fields that rows have gained, is undone and redone', () => {
  const id = newCrossing();
  const { id: outlineId, changes } = seam(readDocument(id), 4);
  takeCommit(id, doing(changes, 0, 'Draw'));
  const drawn = readDocument(id);
  // As the first version wrote it: one feather with a side, and none of what came later.
  const older = (row: object | null) => {
    if (!row) return null;
    const { featherInside, featherOutside, ...rest } = { featherInside: 0, featherOutside: 0, ...row };
    for (const later of ['cutsLayerId', 'combine', 'beforeFirst', 'afterLast', 'colour', 'locked', 'hidden'])
      delete (rest as Record<string, unknown>)[later];
    for (const later of ['shutter', 'phase', 'roundness', 'factors', 'onward'])
      delete (rest as Record<string, unknown>)[later];
    return 'points' in rest
      ? { ...rest, feather: featherInside + featherOutside, featherSide: 'inside' }
      : rest;
  };
  const written = (rows: RowChange[]) =>
    JSON.stringify(rows.map((each) => ({ ...each, before: older(each.before), after: older(each.after) })));
  database()
    .prepare('UPDATE edit SET changes = ?, inverse = ? WHERE crossing_id = ?')
    .run(written(changes), written(inverseChanges(changes)), id);
  const [entry] = openCrossing(id).history;
  expect(entry.changes).toEqual(changes);
  takeCommit(id, moving('undo', entry.id, 1));
  expect(readDocument(id).outlines[outlineId]).toBeUndefined();
  takeCommit(id, moving('redo', entry.id, 2));
  expect(readDocument(id)).toEqual(drawn);
});

test('every field of every table is written, read back, changed and taken away', () => {
  const id = newCrossing();
  const start = readDocument(id);
  const layerId = Object.keys(start.layers)[0];
  const outlineId = randomUUID();
  // What refers to other rows refers to these; all else is what the field's description gives.
  const refers: Record<string, unknown> = {
    layerId,
    outlineId,
    ownerId: layerId,
    channel: 'blur-about',
    cutsLayerId: layerId,
    shotId: Object.values(start.layers)[0].shotId,
  };
  const own: Record<Table, string> = {
    crossing: id,
    layer: randomUUID(),
    outline: outlineId,
    chroma: layerId,
    mark: randomUUID(),
    pose: poseId(outlineId, 7),
    edge: edgeId(outlineId, 7),
    stroke: randomUUID(),
    move: moveId(layerId, 'blur-about', 7),
    piece: randomUUID(),
    decision: randomUUID(),
  };
  const rowOf = (table: Table, other: boolean) =>
    Object.fromEntries(
      (Object.entries(tables[table].fields) as [string, Field<unknown>][]).map(([name, field]) => {
        if (name === 'id') return [name, own[table]];
        if (name === 'frame') return [name, 7];
        if (name in refers) return [name, refers[name]];
        if (name === 'points') return [name, ['p0', 'p1']];
        if (name === 'matteId') return [name, other ? null : refers.shotId];
        if (name === 'followsId') return [name, other ? null : layerId];
        if (name === 'subjectId') return [name, other ? null : wholeId];
        if (name === 'hinge') return [name, other ? null : 'p1'];
        if (table === 'move' && (name === 'second' || name === 'third')) return [name, other ? -12.5 : 0];
        if (name === 'coordinates')
          return [name, Array.from({ length: 12 }, (_, k) => k + (other ? 0.25 : 0))];
        if (name === 'factors') return [name, other ? [0.5, 2] : []];
        if (table === 'move' && name === 'value') return [name, other ? 15 : 10];
        if (name === 'sourceId') return [name, other ? layerId : null];
        if (name === 'closedLevel') return [name, other ? -20 : 0];
        if (name === 'inSample') return [name, other ? 1 : 0];
        if (name === 'ramp') return [name, other ? [3, 100, 9, -50.5] : []];
        if (name === 'ease') return [name, other ? [0.2, 0, 0.8, 1.5] : []];
        const { rule, nullable } = field;
        if (other && nullable) return [name, null];
        if (rule.kind === 'choice') return [name, rule.of[other ? 0 : rule.of.length - 1]];
        if (rule.kind === 'flag') return [name, other];
        if (rule.kind === 'text') return [name, other ? 'Another' : 'Name'];
        if (rule.kind === 'whole' || rule.kind === 'number')
          return [name, other ? Math.min(rule.high, Math.max(rule.low, 1)) : rule.high];
        return [name, sampleOf(field)];
      }),
    );
  const wholeId = randomUUID();
  let revision = 0;
  const held = () => rowsOf(readDocument(id));
  const change = (table: Table, before: object | null, after: object | null) =>
    takeCommit(id, doing([changeRow(table, before as never, after as never)], revision++));
  const whole = { ...rowOf('outline', true), id: wholeId };
  change('outline', null, whole);
  for (const table of tableNames) {
    const [first, second] = [rowOf(table, false), rowOf(table, true)];
    const before = (held()[table] as readonly { id: string }[]).find((row) => row.id === own[table]) ?? null;
    change(table, before, first);
    expect(held()[table]).toContainEqual(first);
    change(table, first, second);
    expect(held()[table]).toContainEqual(second);
  }
  for (const table of [...tableNames].reverse().filter((each) => each !== 'crossing'))
    change(table, rowOf(table, true), null);
  change('outline', whole, null);
  const { crossing, ...rest } = held();
  expect(crossing).toHaveLength(1);
  expect(Object.values(rest).flat()).toEqual(Object.values(start.layers));
});

test('a second window is told what was done since its revision, and asks for the whole where that is gone', () => {
  const id = newCrossing();
  const start = readDocument(id);
  const { changes } = seam(start, 4);
  takeCommit(id, doing(changes, 0, 'Draw'));
  const [drawn] = openCrossing(id).history;
  takeCommit(id, moving('undo', drawn.id, 1));
  takeCommit(id, moving('redo', drawn.id, 2));
  const layer = Object.values(readDocument(id).layers)[0];
  takeCommit(id, doing([changeRow('layer', layer, { ...layer, offset: 7 })], 3, 'Slip'));
  for (let since = 0; since <= 4; since++) {
    const { revision, commits } = changesSince(id, since);
    expect([revision, commits!.length]).toEqual([4, 4 - since]);
    let document = start;
    for (const { kind, edit } of changesSince(id, 0).commits!.slice(0, since))
      document = applyChanges(document, kind === 'undo' ? inverseChanges(edit.changes) : edit.changes);
    for (const { kind, edit } of commits!)
      document = applyChanges(document, kind === 'undo' ? inverseChanges(edit.changes) : edit.changes);
    expect(document).toEqual(readDocument(id));
  }
  // Undone and replaced by something new, the slip is gone from the history: what it did cannot be told any more.
  const slipped = openCrossing(id).history.at(-1)!;
  takeCommit(id, moving('undo', slipped.id, 4));
  takeCommit(id, doing([changeRow('layer', layer, { ...layer, offset: 9 })], 5, 'Slip again'));
  expect(changesSince(id, 3)).toEqual({ revision: 6, commits: null });
  expect(changesSince(id, 5).commits).toHaveLength(1);
});

test('what another process has written is seen: the revision in the database decides, not what is held', () => {
  const id = newCrossing();
  const { changes } = seam(readDocument(id), 4);
  takeCommit(id, doing(changes, 0));
  expect(Object.keys(openCrossing(id).document.outlines)).toHaveLength(1);
  database().prepare("UPDATE outline SET name = 'From elsewhere' WHERE crossing_id = ?").run(id);
  database().prepare('UPDATE crossing SET revision = revision + 1 WHERE id = ?').run(id);
  const [row] = Object.values(openCrossing(id).document.outlines);
  expect(row.name).toBe('From elsewhere');
  takeCommit(id, doing([changeRow('outline', row, { ...row, name: 'Here' })], 2));
  expect(listCrossings().find((each) => each.id === id)).toMatchObject({
    ...{ revision: 3, length: 96, layers: [{ role: 'outgoing' }, { role: 'incoming' }] },
  });
});

test('a shot that sound uses stays; one that only undoing needs is deleted with consent, and undoing goes on past it', async () => {
  const shots = ['Door', 'Pond', 'Later'].map(insertShot);
  const pair = { outgoingShotId: shots[0], incomingShotId: shots[1] };
  const id = createCrossing({ name: 'Heard', plan: 'pass-by', ...pair });
  let revision = 0;
  const take = (changes: RowChange[]) => {
    const step = doing(changes, revision);
    revision = takeCommit(id, step);
    return step.edit!.id;
  };
  const own = () => Object.values(readDocument(id).layers).find(({ role }) => role === 'incoming')!;
  const moved = take(setLayer(readDocument(id), own().id, { offset: 3 }));
  const piece = { ...plainPiece, id: randomUUID(), name: 'Hum', track: 0, source: 'shot' as const };
  take(addPiece({ ...piece, sourceId: shots[1], start: 0, inSample: 0, length: 480 }));
  const exchanged = take(setLayer(readDocument(id), own().id, { shotId: shots[2] }));
  await expect(deleteShot(shots[1], 'let go')).rejects.toThrow('is used in “Heard”');
  const removed = take(removePiece(readDocument(id), piece.id));

  await expect(deleteShot(shots[1])).rejects.toMatchObject({ status: 409, details: { reason: 'history' } });
  await deleteShot(shots[1], 'let go');
  expect(listShots().map(({ id: each }) => each)).not.toContain(shots[1]);
  expect(() => createCrossing({ name: 'New', plan: 'pass-by', ...pair })).toThrow('was deleted');
  revision = takeCommit(id, moving('undo', removed, revision));
  revision = takeCommit(id, moving('undo', exchanged, revision));
  const opened = openCrossing(id);
  expect(opened.shots.map(({ shot, deleted }) => [shot.name, deleted]).sort()).toEqual([
    ['Door', false],
    ['Pond', true],
  ]);
  const asked = { crossingId: id, revision, format: 'mp4', frameCount: 1, sound: 'none', firstFrame: 0 };
  const size = { width: 1280, height: 720, rateNum: 25, rateDen: 1, shotName: null };
  await expect(beginExport({ ...asked, ...size } as ExportBody)).rejects.toThrow('only a grey picture');
  for (const each of [opened.history[1].id, moved]) revision = takeCommit(id, moving('undo', each, revision));
  expect(own()).toMatchObject({ shotId: shots[1], offset: 0 });

  // What an earlier version deleted without a trace is undone past all the same, and forgotten with its crossing.
  for (const each of [moved, opened.history[1].id, exchanged])
    revision = takeCommit(id, moving('redo', each, revision));
  database().prepare('DELETE FROM shot WHERE id = ?').run(shots[1]);
  revision = takeCommit(id, moving('undo', exchanged, revision));
  expect(openCrossing(id).shots.find(({ shot }) => shot.id === shots[1])).toMatchObject({ deleted: true });
  deleteCrossing(id);
  expect(database().prepare('SELECT 1 FROM shot WHERE id = ?').get(shots[1])).toBeUndefined();
});
