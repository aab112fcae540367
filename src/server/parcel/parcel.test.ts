import { unzipSync, zipSync } from 'fflate';
import { createCanvas } from '@napi-rs/canvas';
import { createHash, randomUUID } from 'node:crypto';
import { copyFileSync, mkdtempSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { drawOutline } from '@/core/actions/actions';
import type { RowChange } from '@/core/document/edit';
import { setCrossing, setLayer } from '@/core/actions/layer-actions';
import { rowsOf } from '@/core/document/document';
import { type CrossingDocument, type LayerRow, plainPiece } from '@/core/document/tables';
import { setMove } from '@/core/actions/move-actions';
import { addPiece } from '@/core/actions/piece-actions';
import type { CommitBody } from '../bodies';

process.env.KIV_DATA = mkdtempSync(path.join(tmpdir(), 'kiv-parcel-'));

/* The modules read KIV_DATA when they are first used. */
import { takeCommit } from '../commits';
import { createCrossing, deleteCrossing, listCrossings, openCrossing } from '../crossings';
import { arrivingFolder, prepareDataFolder } from '../data-folder';
import { readDocument } from '../document-rows';
import { checkAndKeep } from '../receive';
import { deleteShot, listShots, renameShot } from '../shots';
import { withPurposes } from './earlier';
import { deleteSound, listSounds, takeSound } from '../sounds';
import { receiveParcel } from './parcel-in';
import { type Baggage, parcelOf } from './parcel-out';

async function keep(fileName: string, as: string): Promise<string> {
  const copy = path.join(arrivingFolder(), fileName);
  copyFileSync(path.join('demo', 'footage', fileName), copy);
  const id = await checkAndKeep(copy, fileName);
  renameShot(id, as);
  return id;
}

const packed = async (id: string, footage: Baggage['footage'], history = false) =>
  new Uint8Array(await (await parcelOf(id, { footage, handles: 3, history })).arrayBuffer());
const bringIn = (bytes: Uint8Array) =>
  receiveParcel(new Request('http://kiv/', { method: 'POST', body: Buffer.from(bytes) }));

/** A document without what is another in every copy: ids, in the order in which they come. */
function withoutIds(document: CrossingDocument): string {
  const seen = new Map<string, string>();
  return JSON.stringify(rowsOf(document)).replace(/[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}/g, (id) => {
    if (!seen.has(id)) seen.set(id, `#${seen.size}`);
    return seen.get(id)!;
  });
}

/** 0.1 s of a tone as WAV: 16 bits, one channel, 48 kHz (Microsoft, *Multimedia Programming Interface*, 1991). */
function toneWav(): Buffer {
  const count = 4800;
  const wav = Buffer.alloc(44 + 2 * count);
  wav.write('RIFF', 0);
  wav.writeUInt32LE(36 + 2 * count, 4);
  wav.write('WAVEfmt ', 8);
  [16, 0x10001, 48_000, 96_000, 0x100002].forEach((value, k) => wav.writeUInt32LE(value, 16 + 4 * k));
  wav.write('data', 36);
  wav.writeUInt32LE(2 * count, 40);
  for (let i = 0; i < count; i++) wav.writeInt16LE(Math.round(9000 * Math.sin(i / 9)), 44 + 2 * i);
  return wav;
}

test('a crossing travels: with its footage or to where that is, and junk leaves nothing', async () => {
  prepareDataFolder();
  const shots = [await keep('window.mp4', 'Window'), await keep('scarecrow.mp4', 'Scarecrow')];
  const id = createCrossing({
    ...{ name: 'Travels', plan: 'pull-back' },
    ...{ outgoingShotId: shots[1], incomingShotId: shots[0] },
  });
  const start = readDocument(id);
  const layerId = Object.values(start.layers).find(({ role }) => role === 'incoming')!.id;
  const own = { id: randomUUID(), layerId, cutsLayerId: null, name: 'Pane', kind: 'loop' as const };
  const points = ['a', 'b', 'c'];
  const coordinates = [10, 10, 0, 0, 0, 0, 90, 10, 0, 0, 0, 0, 50, 80, 0, 0, 0, 0];
  const drawn = drawOutline(start, { ...own, points, sweptSide: 'right' }, 3, coordinates);
  writeFileSync(path.join(arrivingFolder(), 'tone'), toneWav());
  const { id: sound } = await takeSound(path.join(arrivingFolder(), 'tone'), 'Tone.wav');
  const piece = { ...plainPiece, id: randomUUID(), name: 'Tone', track: 0, source: 'file' as const };
  const placed = { ...piece, sourceId: sound, start: 960, inSample: 0, length: 4000, behind: true };
  const changes = [
    ...drawn,
    ...setMove(start, id, 'blur-about', 5, 12, 30, { third: -4 }),
    ...addPiece(placed),
  ];
  const edit = { id: randomUUID(), label: 'Draw', changes };
  takeCommit(id, { requestId: randomUUID(), baseRevision: 0, kind: 'do', edit } as CommitBody);
  const before = readDocument(id);
  const [whole, light] = [await packed(id, 'whole'), await packed(id, 'none')];
  expect(light.length).toBeLessThan(20_000);

  // Where it comes from it is a second crossing, of the same shots.
  const second = await bringIn(whole);
  expect(second).not.toBe(id);
  expect(listShots()).toHaveLength(2);
  const again = readDocument(second);
  expect(again.crossing.name).toBe('Travels (brought in)');
  const named = { ...again, crossing: { ...again.crossing, name: 'Travels' } };
  expect(withoutIds(named)).toBe(withoutIds(before));
  expect(Object.values(again.moves)[0].ownerId).toBe(second);
  expect(Object.values(again.pieces)[0].sourceId).toBe(sound);
  expect(listSounds()).toHaveLength(1);

  // Elsewhere it keeps its id, and takes its footage along.
  for (const each of [id, second]) deleteCrossing(each);
  for (const each of shots) await deleteShot(each);
  await deleteSound(sound);
  await expect(bringIn(light)).rejects.toThrow(/“(Window|Scarecrow)” .* is neither in this file nor among/);
  expect(await bringIn(whole)).toBe(id);
  expect(listSounds().map(({ name, length }) => [name, length])).toEqual([['Tone', 4800]]);
  expect(
    listShots()
      .map(({ name }) => name)
      .sort(),
  ).toEqual(['Scarecrow', 'Window']);
  expect(withoutIds(readDocument(id))).toBe(withoutIds(before));

  // Footage is known by what it is, not by its name.
  deleteCrossing(id);
  for (const { id: each } of listShots()) renameShot(each, 'Something else');
  expect(await bringIn(light)).toBe(id);
  deleteCrossing(id);

  const files = unzipSync(light);
  const described = JSON.parse(new TextDecoder().decode(files['crossing.json'])) as {
    version: number;
    rows: { layer: { scale: number }[] };
  };
  const packedAs = (text: string, more: Record<string, Uint8Array> = {}) =>
    zipSync({ 'crossing.json': new TextEncoder().encode(text), ...more });
  for (const [, bytes, says] of [
    ['no ZIP', new TextEncoder().encode('hello'), /not a readable ZIP/],
    ['a ZIP of something else', zipSync({ 'a.txt': new Uint8Array(3) }), /no crossing in this ZIP/],
    ['no JSON', packedAs('{"format"'), /not valid JSON/],
    [
      'another version',
      packedAs(JSON.stringify({ ...described, version: 9 })),
      /another version of Kiv \(9;/,
    ],
    ['half of it', whole.subarray(0, whole.length / 2), /not a readable ZIP/],
    [
      'a way out of the folder',
      packedAs(JSON.stringify(described), { '../../x': new Uint8Array(3) }),
      /damaged/,
    ],
    [
      'a row out of range',
      packedAs(
        JSON.stringify({
          ...described,
          rows: { ...described.rows, layer: [{ ...described.rows.layer[0], scale: -1 }] },
        }),
      ),
      /A layer in this file was not accepted/,
    ],
    [
      'rows that do not belong together',
      packedAs(JSON.stringify({ ...described, rows: { ...described.rows, layer: [] } })),
      /does not hold together/,
    ],
  ] as const)
    await expect(bringIn(bytes)).rejects.toThrow(says);
  expect(listCrossings()).toHaveLength(0);
  expect(listShots()).toHaveLength(2);
  expect(readdirSync(arrivingFolder())).toEqual([]);
}, 60_000);

test('a file that is refused late leaves no shot behind, and one that is named twice is refused', async () => {
  const still = createCanvas(16, 12).toBuffer('image/png');
  const sha256 = createHash('sha256').update(still).update(still).digest('hex');
  const files = ['footage/0/0', 'footage/0/1'];
  const shot = {
    ...{ id: randomUUID(), name: 'Leaf', originalName: 'leaf.png', kind: 'stills', width: 16, height: 12 },
    ...{ rate: [25, 1], frameCount: 2, bytes: 2 * still.length, sha256, files },
  };
  const parcel = (changes: object) => {
    const contents = { format: 'kiv crossing', version: 1, rows: {}, shots: [{ ...shot, ...changes }] };
    return zipSync({
      'crossing.json': new TextEncoder().encode(JSON.stringify(contents)),
      [files[0]]: new Uint8Array(still),
      [files[1]]: new Uint8Array(still),
    });
  };
  const before = listShots().length;
  for (const [changes, says] of [
    [{ motion: { frames: ['x'], crosser: null } }, /movement of “Leaf” in this file was not accepted/],
    [{ motion: { frames: [1, 2, 3], crosser: null } }, /movement of “Leaf” in this file was not accepted/],
    [{ frameCount: 3 }, /other frames/],
    [{ files: [files[0], files[0]] }, /names a file twice/],
    [{}, /exactly one crossing/],
  ] as const) {
    await expect(bringIn(parcel(changes))).rejects.toThrow(says);
    expect(listShots()).toHaveLength(before);
  }
  expect(readdirSync(arrivingFolder())).toEqual([]);
});

test('what was done travels along on request: it is undone and done again there, link by link', async () => {
  const shots = listShots().map(({ id }) => id);
  const [outgoingShotId, incomingShotId] = shots;
  const id = createCrossing({ name: 'Has a past', plan: 'opening', outgoingShotId, incomingShotId });
  const revision = () => openCrossing(id).revision;
  const commit = (changes: RowChange[], label: string) => {
    const edit = { id: randomUUID(), label, changes };
    takeCommit(id, { requestId: randomUUID(), baseRevision: revision(), kind: 'do', edit } as CommitBody);
    return edit.id;
  };
  const [layer] = Object.values(readDocument(id).layers);
  const set = (settings: Partial<LayerRow>) => setLayer(readDocument(id), layer.id, settings);
  const start = withoutIds(readDocument(id));
  commit(set({ x: 11 }), 'Move');
  commit(setCrossing(readDocument(id), { blend: 'linear sRGB' }), 'Mix in light');
  const last = commit(set({ turn: 4 }), 'Turn');
  const turned = withoutIds(readDocument(id));
  takeCommit(id, { requestId: randomUUID(), baseRevision: revision(), kind: 'undo', editId: last });
  const parcel = await packed(id, 'none', true);
  expect(openCrossing(await bringIn(await packed(id, 'none'))).history).toEqual([]);

  const move = (of: string, kind: 'undo' | 'redo') => {
    const { history, revision: base } = openCrossing(of);
    const edit =
      kind === 'undo' ? history.findLast(({ undone }) => !undone) : history.find(({ undone }) => undone);
    takeCommit(of, { requestId: randomUUID(), baseRevision: base, kind, editId: edit!.id });
  };
  // Beside the first it is another, whose new name is undone first; what was undone stays behind.
  const second = await bringIn(parcel);
  const labels = (of: string) => openCrossing(of).history.map(({ label, undone }) => [label, undone]);
  expect(labels(second)).toEqual([
    ['Move', false],
    ['Mix in light', false],
    ['Bring it in', false],
  ]);
  for (let k = 0; k < 3; k++) move(second, 'undo');
  expect(withoutIds(readDocument(second))).toBe(start);
  // Where the first has gone it is the same, and what was undone can be done again.
  deleteCrossing(id);
  expect(await bringIn(parcel)).toBe(id);
  expect(labels(id)).toEqual([
    ['Move', false],
    ['Mix in light', false],
    ['Turn', true],
  ]);
  move(id, 'redo');
  expect(withoutIds(readDocument(id))).toBe(turned);
  for (let k = 0; k < 3; k++) move(id, 'undo');
  expect(withoutIds(readDocument(id))).toBe(start);

  // A past that is not its own, or not whole, is refused, and nothing is left.
  const count = listCrossings().length;
  const described = JSON.parse(new TextDecoder().decode(unzipSync(parcel)['crossing.json'])) as {
    history: { label: string; changes: RowChange[] }[];
  };
  for (const [history, says] of [
    [described.history.slice(1), /^$/],
    [
      JSON.parse(JSON.stringify(described.history).replaceAll('"x":11', '"x":12')),
      /not that of its crossing/,
    ],
    [[{ ...described.history[0], label: '' }], /Edit 1 of the history in this file is incomplete/],
    [
      [
        {
          ...described.history[0],
          changes: [{ table: 'layer', id: layer.id, before: null, after: { x: 'y' } }],
        },
      ],
      /“Move” in the history/,
    ],
    ['none', /not a list/],
  ] as const) {
    const bytes = zipSync({
      'crossing.json': new TextEncoder().encode(JSON.stringify({ ...described, history })),
    });
    // Less of its own past is still its own.
    if (says.source === '^$') deleteCrossing(await bringIn(bytes));
    else await expect(bringIn(bytes)).rejects.toThrow(says);
  }
  expect(listCrossings()).toHaveLength(count);
  for (const { id: each } of listCrossings()) deleteCrossing(each);
}, 60_000);

test('with what is used of its shots it travels lighter, and shows the same frames', async () => {
  const shots = Object.fromEntries(listShots().map(({ id, originalName }) => [originalName, id]));
  const [outgoingShotId, incomingShotId] = [shots['scarecrow.mp4'], shots['window.mp4']];
  const id = createCrossing({ name: 'Light', plan: 'pass-by', outgoingShotId, incomingShotId });
  const commit = (changes: RowChange[]) => {
    const edit = { id: randomUUID(), label: 'Set', changes };
    const { revision } = openCrossing(id);
    takeCommit(id, { requestId: randomUUID(), baseRevision: revision, kind: 'do', edit } as CommitBody);
  };
  const start = readDocument(id);
  const layer = Object.values(start.layers).find(({ role }) => role === 'outgoing')!;
  commit([
    ...setCrossing(start, { length: 8 }),
    ...setLayer(start, layer.id, { offset: 34, trimIn: 30, trimOut: 55, betweens: 'mixed' }),
  ]);
  const own = { id: randomUUID(), layerId: layer.id, cutsLayerId: null, name: 'Coat', kind: 'loop' as const };
  const coordinates = [10, 10, 0, 0, 0, 0, 90, 10, 0, 0, 0, 0, 50, 80, 0, 0, 0, 0];
  commit(
    drawOutline(readDocument(id), { ...own, points: ['a', 'b', 'c'], sweptSide: 'right' }, 38, coordinates),
  );
  const [whole, used] = [await packed(id, 'whole'), await packed(id, 'used')];
  expect(used.length).toBeLessThan(0.75 * whole.length);
  await expect(packed(id, 'used', true)).rejects.toThrow(/needs all frames/);
  // Given up before it is read, it leaves no parts behind either.
  await (await parcelOf(id, { footage: 'used', handles: 0, history: false })).body!.cancel();
  await new Promise((done) => setTimeout(done, 50));
  expect(readdirSync(arrivingFolder())).toEqual([]);

  const second = await bringIn(used);
  const there = openCrossing(second);
  const [shot] = there.shots
    .map((media) => media.shot)
    .filter(({ name }) => name.startsWith('Something else, 25 to '));
  // From the key frame before, as ffprobe has it, to what is shown, three more, and the frames between.
  expect(shot.frameCount).toBeGreaterThanOrEqual(34 + 8 + 3 - 25);
  expect(shot.frameCount).toBeLessThan(30);
  const cut = Object.values(there.document.layers).find(({ role }) => role === 'outgoing')!;
  expect([cut.shotId, cut.offset, cut.trimIn, cut.trimOut]).toEqual([shot.id, 9, 5, shot.frameCount - 1]);
  expect(Object.values(there.document.poses)[0][0]).toMatchObject({ frame: 13, coordinates });
  expect(shot.rate).toEqual({ num: 25, den: 1 });
  for (const each of [id, second]) deleteCrossing(each);
}, 60_000);

test('a bridge that an earlier version packed gets the purposes of its edges, in its history too', () => {
  const outline = (id: string, more: object) => ({ id, name: id, cutsLayerId: null, ...more });
  const rows = {
    crossing: [{ id: 'c', plan: 'bridge' }],
    layer: [
      { id: 'out', role: 'outgoing' },
      { id: 'by', role: 'passing' },
    ],
    outline: [outline('a', { cutsLayerId: 'out' }), outline('b', { name: 'Back edge' }), outline('d', {})],
  };
  const changes = [{ table: 'outline', id: 'b', before: null, after: rows.outline[1] }];
  const contents = {
    format: 'kiv crossing',
    version: 1,
    rows,
    shots: [],
    history: [{ label: '', changes, undone: false }],
  };
  const { rows: meant, history } = withPurposes(contents as never);
  const purposes = (meant.outline as { purpose?: string }[]).map(({ purpose }) => purpose);
  expect(purposes).toEqual(['front edge', 'back edge', undefined]);
  expect(history![0].changes[0]).toMatchObject({ before: null, after: { purpose: 'back edge' } });
  const pass = { ...contents, rows: { ...rows, crossing: [{ id: 'c', plan: 'pass-by' }] } };
  expect(withPurposes(pass as never)).toBe(pass);
});
