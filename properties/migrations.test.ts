import Database from 'better-sqlite3';
import { copyFileSync, mkdtempSync, readdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

process.env.KIV_DATA = mkdtempSync(path.join(tmpdir(), 'kiv-migrated-'));

/* The modules read KIV_DATA when they are first used. */
import { rowsOf, tableNames } from '../src/core/document/document';
import { inconsistencyOfWhole } from '../src/core/document/invariants';
import { drawOutline } from '../src/core/actions/actions';
import { validatedRow } from '../src/server/row-bodies';
import { takeCommit } from '../src/server/commits';
import type { CommitBody } from '../src/server/bodies';
import { openCrossing } from '../src/server/crossings';
import { inverseChanges } from '../src/core/document/edit';
import { forgetDocument } from '../src/server/open-documents';
import { database, migrate } from '../src/server/database';
import { randomUUID } from 'node:crypto';

/** A database of each earlier version, with a row in every table that it had, opened by this one. */

const folder = path.join(process.cwd(), 'src/server/migrations');
const all = readdirSync(folder)
  .filter((name) => name.endsWith('.sql'))
  .sort();
const id = (n: number) => `6f1c0b52-6f0e-4c57-9a8b-${String(n).padStart(12, '0')}`;

/** What a column holds, by its name; else what its type asks for. */
const plausible: Record<string, string | number | Buffer | null> = {
  plan: 'pass-by',
  width: 64,
  height: 48,
  rate_num: 25,
  rate_den: 1,
  length: 40,
  role: 'outgoing',
  kind: 'seam',
  swept_side: 'left',
  origin: 'by hand',
  onward: 'linear',
  coordinates: '[1,2,0,0,0,0,30,40,0,0,0,0]',
  points: '["a","b"]',
  factors: '[]',
  feather_side: 'both',
  colour_matrix: 'bt709',
  rotation: 0,
  frame_count: 40,
  timestamps: Buffer.alloc(8 * 40),
  key_frames: Buffer.alloc(4),
  name: 'Name',
  path: '[1,2,3,4]',
  mark: 'this',
  radius: 4,
  channel: 'size',
  value: 100,
  source: 'made',
  maker: 'wind',
  crossfade: 'none',
  bend: '[]',
  ease: '[]',
  closed_level: -14,
  closed_low_pass: 350,
  made_length: 100,
  speed: 100,
  fit: 'fill',
  scale: 100,
};

interface Column {
  name: string;
  type: string;
  notnull: number;
  dflt_value: string | null;
  pk: number;
}

/** Puts a row into a table as an earlier version had it. */
function put(db: Database.Database, table: string, fixed: Record<string, string | number | null>) {
  const columns = db.pragma(`table_info(${table})`) as Column[];
  if (columns.length === 0) return;
  const given = columns.flatMap(({ name, type, notnull, dflt_value, pk }) => {
    if (name in fixed) return [[name, fixed[name]] as const];
    if (notnull === 0 && pk === 0) return [];
    if (dflt_value !== null) return [];
    if (name in plausible) return [[name, plausible[name]] as const];
    return [
      [
        name,
        type === 'TEXT' ? '' : type === 'BLOB' ? Buffer.alloc(0) : name === 'byte_size' ? 1 : 0,
      ] as const,
    ];
  });
  db.prepare(
    `INSERT INTO ${table} (${given.map(([name]) => name).join(', ')}) VALUES (${given.map(() => '?').join(', ')})`,
  ).run(...given.map(([, value]) => value));
}

const tableOf = (table: string) => (table === 'chroma' ? ['chroma', 'key'] : [table]);

test.each(all.slice(0, -1).map((name, k) => [name.slice(0, 4), all.slice(0, k + 1)]))(
  'what version %s wrote is read, holds together, and can be worked on',
  (number, names) => {
    const older = mkdtempSync(path.join(tmpdir(), 'kiv-older-'));
    for (const name of names) copyFileSync(path.join(folder, name), path.join(older, name));
    const db = new Database(':memory:');
    db.pragma('foreign_keys = ON');
    migrate(db, older);
    const n = 100 * Number(number);
    const [shot, crossing, layer, outline] = [1, 2, 3, 4].map((k) => id(n + k));
    put(db, 'shot', { id: shot, file_name: `${number}.mp4` });
    put(db, 'crossing', { id: crossing });
    const own = { crossing_id: crossing };
    put(db, 'layer', { ...own, id: layer, shot_id: shot });
    put(db, 'outline', { ...own, id: outline, layer_id: layer });
    put(db, 'pose', { ...own, outline_id: outline, frame: 3 });
    put(db, 'edge', { ...own, id: `${outline}~3`, outline_id: outline, frame: 3 });
    put(db, 'mark', { ...own, id: id(n + 5), kind: 'mark' });
    put(db, 'stroke', { ...own, id: id(n + 6), outline_id: outline });
    put(db, 'move', { ...own, id: `${layer}~size~7`, owner_id: layer, frame: 7 });
    put(db, 'piece', { ...own, id: id(n + 7), length: 100, height: 0 });
    for (const name of tableOf('chroma')) put(db, name, { ...own, id: layer });
    const rowsBefore = ['layer', 'outline', 'pose'].map((table) =>
      db.prepare(`SELECT count(*) FROM ${table}`).pluck().get(),
    );
    expect(rowsBefore).toEqual([1, 1, 1]);
    migrate(db, folder);
    expect(db.pragma('foreign_key_check')).toEqual([]);
    // From here on by the server's own functions, on this database.
    (globalThis as { kivDatabase?: unknown }).kivDatabase = db;
    expect(database()).toBe(db);
    const { document, revision } = openCrossing(crossing);
    const rows = rowsOf(document);
    for (const table of tableNames)
      for (const row of rows[table]) expect(validatedRow(table, row)).toEqual(row);
    expect([rows.layer, rows.outline, rows.pose].map(({ length }) => length)).toEqual([1, 1, 1]);
    expect(inconsistencyOfWhole(document)).toBeNull();
    const more = { id: randomUUID(), layerId: layer, cutsLayerId: null, name: 'More', kind: 'seam' as const };
    const points = { points: ['p', 'q'], sweptSide: 'left' as const };
    const coordinates = [1, 2, 0, 0, 0, 0, 3, 4, 0, 0, 0, 0];
    const changes = drawOutline(document, { ...more, ...points }, 2, coordinates);
    const edit = { id: randomUUID(), label: 'Draw', changes };
    const step = { requestId: randomUUID(), baseRevision: revision, kind: 'do', edit };
    expect(takeCommit(crossing, step as CommitBody)).toBe(revision + 1);
    db.close();
  },
);

test('migration 0018 tells a bridge’s edges by their purpose, in the history too: what was done is undone and done again', () => {
  const [shot, crossing, incoming, passing, outgoing, back, front] = [9, 8, 7, 6, 5, 4, 3].map((k) =>
    id(9000 + k),
  );
  const built = (edits: readonly { id: string; changes: object[] }[]) => {
    const older = mkdtempSync(path.join(tmpdir(), 'kiv-older-'));
    for (const name of all.filter((each) => each < '0018'))
      copyFileSync(path.join(folder, name), path.join(older, name));
    const db = new Database(':memory:');
    migrate(db, older);
    put(db, 'shot', { id: shot, file_name: 'a.mp4' });
    put(db, 'crossing', { id: crossing, plan: 'bridge' });
    const own = { crossing_id: crossing };
    for (const [layer, role] of [
      [incoming, 'incoming'],
      [passing, 'passing'],
      [outgoing, 'outgoing'],
    ])
      put(db, 'layer', { ...own, id: layer, shot_id: shot, role });
    put(db, 'outline', { ...own, id: back, layer_id: passing, name: 'Back edge' });
    put(db, 'outline', {
      ...own,
      id: front,
      layer_id: passing,
      name: 'Crate',
      cuts_layer_id: outgoing,
      position: 1,
    });
    for (const [k, edit] of edits.entries())
      put(db, 'edit', {
        ...{ ...own, id: edit.id, sequence: k + 1, label: 'Draw', undone: 0, created_at: '' },
        changes: JSON.stringify(edit.changes),
        inverse: JSON.stringify(inverseChanges(edit.changes as never)),
      });
    migrate(db, folder);
    (globalThis as { kivDatabase?: unknown }).kivDatabase = db;
    forgetDocument(crossing);
    return openCrossing(crossing);
  };
  const { outlines } = built([]).document;
  expect([outlines[back].purpose, outlines[front].purpose]).toEqual(['back edge', 'front edge']);
  const edits = [back, front].map((outline) => {
    const after = { ...outlines[outline], purpose: undefined };
    return { id: randomUUID(), changes: [{ table: 'outline', id: outline, before: null, after }] };
  });
  const { document, revision } = built(edits);
  const move = (kind: 'undo' | 'redo', editId: string, at: number) =>
    takeCommit(crossing, {
      requestId: randomUUID(),
      baseRevision: revision + at,
      kind,
      editId,
    } as CommitBody);
  move('undo', edits[1].id, 0);
  move('undo', edits[0].id, 1);
  expect(Object.keys(openCrossing(crossing).document.outlines)).toEqual([]);
  move('redo', edits[0].id, 2);
  move('redo', edits[1].id, 3);
  expect(openCrossing(crossing).document.outlines).toEqual(document.outlines);
});
