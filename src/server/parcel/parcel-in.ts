import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import yauzl from 'yauzl';
import { applyChanges, documentOf, EditConflict, tableNames } from '@/core/document/document';
import {
  type CrossingDocument,
  type CrossingRow,
  type RowTypes,
  type Table,
  tables,
} from '@/core/document/tables';
import { hasOwnIds, withIdsRenamed } from '@/core/document/references';
import { changeRow, inverseChanges, type RowChange } from '@/core/document/edit';
import { plainOf } from '@/core/document/table';
import type { SourceTimecode } from '@/core/model/shot';
import type { Rate } from '@/core/model/time';
import { framesPerSecond } from '@/core/time/rate';
import { countsInDropFrame } from '@/core/time/timecode';
import { FootageRefusal } from '@/footage/refusal';
import { MotionBody, validatedCommit } from '../bodies';
import { checkedChanges, requireConsistent } from '../commits';
import { insertDocument } from '../crossings';
import { arrivingFolder } from '../data-folder';
import { database } from '../database';
import { isDiskFull } from '../full-disk';
import { Problem } from '../problem';
import { checkAndKeep, receiveBody, uploadLimit } from '../receive';
import { validatedRow } from '../row-bodies';
import { deleteShot, keepMotion, keepTimecode, recordOf, renameShot } from '../shots';
import { deleteSound, listSounds, renameSound, soundFile, takeSound } from '../sounds';
import { takeStills } from '../stills';
import { sameRate } from './part';
import { withPurposes } from './earlier';
import { requirePlain, validated } from '../validate';
import {
  contentsName,
  filesOf,
  fingerprintOf,
  type ParcelContents,
  type ParcelEdit,
  parcelFormat,
  type ParcelShot,
  type ParcelSound,
  parcelVersion,
} from './contents';

/** Most bytes of a parcel's description, and most files in it. */
const mostContents = 128e6;
const mostFiles = 100_000;

/**
 * Takes in a crossing that has travelled: its shots are found among the footage by their fingerprint, whatever they are
 * called, or taken from the parcel; it gets a new id if the old one exists.
 *
 * @returns the crossing's id.
 * @throws Problem 422 when it is no parcel, damaged, of another version, or footage is missing; nothing is left then.
 */
export async function receiveParcel(request: Request): Promise<string> {
  const file = await asProblem(() => receiveBody(request, uploadLimit()));
  const folder = await mkdtemp(path.join(/*turbopackIgnore: true*/ arrivingFolder(), 'parcel-'));
  const fresh: string[] = [];
  const freshSounds: string[] = [];
  try {
    const { contents, unpacked } = await unpack(file, folder);
    const rows = rowsOfContents(contents);
    const shotIds = new Map<string, string>();
    for (const shot of contents.shots) {
      const known = await amongFootage(shot);
      const id = known ?? (await takenFrom(shot, unpacked, folder));
      if (!known) fresh.push(id);
      shotIds.set(shot.id, id);
    }
    for (const sound of contents.sounds ?? []) {
      const known = await amongSounds(sound);
      const id = known ?? (await soundFrom(sound, unpacked));
      if (!known) freshSounds.push(id);
      shotIds.set(sound.id, id);
    }
    return putIn(rows, historyOfContents(contents), shotIds);
  } catch (error) {
    for (const id of freshSounds) await deleteSound(id).catch(() => {});
    for (const id of fresh) await deleteShot(id, 'let go').catch(() => {});
    throw error;
  } finally {
    await rm(folder, { recursive: true, force: true });
    await rm(file, { force: true });
  }
}

async function asProblem<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof FootageRefusal) throw new Problem(422, error.message);
    throw error;
  }
}

type AllRows = { [T in Table]: RowTypes[T][] };

const refuse = (message: string) => new Problem(422, message);

/** The description, and the parcel's other files by their names there, each under a name of Kiv's own. */
async function unpack(file: string, folder: string) {
  const archive = await yauzl.openPromise(file, { lazyEntries: true, strictFileNames: true }).catch(() => {
    throw refuse('This is not a readable ZIP, so there is no crossing to bring in.');
  });
  const unpacked = new Map<string, string>();
  let contents: unknown = null;
  let bytes = 0;
  try {
    for await (const entry of archive.eachEntry()) {
      const { fileName, uncompressedSize } = entry;
      bytes += uncompressedSize;
      if (bytes > 4 * uploadLimit() || unpacked.size > mostFiles)
        throw refuse('Unpacked, this file would be larger than Kiv takes in.');
      if (fileName === contentsName) {
        if (uncompressedSize > mostContents)
          throw refuse('The crossing in this file is larger than Kiv takes in.');
        const chunks: Buffer[] = [];
        for await (const chunk of await archive.openReadStreamPromise(entry)) chunks.push(chunk as Buffer);
        contents = parsed(Buffer.concat(chunks).toString('utf8'));
      } else if (/^(footage\/\d+|sounds)\/\d+$/.test(fileName)) {
        const to = path.join(folder, `file-${unpacked.size}`);
        await pipeline(await archive.openReadStreamPromise(entry), createWriteStream(to));
        unpacked.set(fileName, to);
      }
    }
  } catch (error) {
    if (error instanceof Problem || isDiskFull(error)) throw error;
    throw refuse('This ZIP is damaged. Copy or download it again.');
  } finally {
    archive.close();
  }
  return { contents: checkedContents(contents), unpacked };
}

function parsed(text: string): unknown {
  try {
    return requirePlain(JSON.parse(text));
  } catch {
    throw refuse('The description of the crossing in this file is not valid JSON.');
  }
}

function checkedContents(value: unknown): ParcelContents {
  const contents = value as ParcelContents | null;
  if (!contents || typeof contents !== 'object' || contents.format !== parcelFormat)
    throw refuse('There is no crossing in this ZIP.');
  if (contents.version !== parcelVersion)
    throw refuse(
      `This crossing was written by another version of Kiv (${String(contents.version)}; this one reads ${parcelVersion}).`,
    );
  const shots = Array.isArray(contents.shots) ? contents.shots : [];
  const sounds = Array.isArray(contents.sounds) ? contents.sounds : [];
  const named = sounds.every(
    (sound) =>
      [sound?.id, sound?.name, sound?.originalName, sound?.sha256].every(
        (text) => typeof text === 'string',
      ) &&
      Number.isFinite(sound.bytes) &&
      Array.isArray(sound.files),
  );
  const whole = shots.every(
    (shot) =>
      [shot?.id, shot?.name, shot?.originalName, shot?.sha256].every((text) => typeof text === 'string') &&
      [shot.bytes, shot.frameCount].every((number) => Number.isFinite(number)) &&
      Array.isArray(shot.files) &&
      Array.isArray(shot.rate) &&
      shot.rate.every((number) => Number.isInteger(number) && number > 0),
  );
  const files = [...shots, ...sounds].flatMap((each) => each?.files ?? []);
  if (new Set(files).size < files.length)
    throw refuse('The description of the crossing in this file names a file twice.');
  if (!whole || !named || typeof contents.rows !== 'object' || contents.rows === null)
    throw refuse('The description of the crossing in this file is incomplete.');
  return withPurposes({ ...contents, shots, sounds });
}

/** The rows, each as its table has them. @throws Problem 422 naming the first that is not. */
function rowsOfContents({ rows }: ParcelContents): AllRows {
  return Object.fromEntries(
    tableNames.map((table) => {
      const list = rows[table] ?? [];
      if (!Array.isArray(list)) throw refuse(`The crossing’s ${table} rows are not a list.`);
      // Fields added by later versions take their defaults.
      const plain = plainOf(tables[table].fields);
      return [
        table,
        asRefusal(
          () => list.map((row) => validatedRow(table, { ...plain, ...(row as object) })),
          (message) => `A ${table} in this file was not accepted: ${message}`,
        ),
      ];
    }),
  ) as unknown as AllRows;
}

/** What was done, each row of it as its table has it. @throws Problem 422 naming the edit at fault. */
function historyOfContents({ history }: ParcelContents): ParcelEdit[] {
  if (history === undefined) return [];
  if (!Array.isArray(history)) throw refuse('The crossing’s history is not a list.');
  return history.map((edit: ParcelEdit | null, k) => {
    const whole = asRefusal(
      () => {
        if (typeof edit?.undone !== 'boolean')
          throw new Problem(400, 'It does not say whether it is undone.');
        const own = { id: randomUUID(), label: edit.label, changes: edit.changes };
        return validatedCommit({ requestId: randomUUID(), baseRevision: 0, kind: 'do', edit: own }).edit!;
      },
      (message) => `Edit ${k + 1} of the history in this file is incomplete: ${message}`,
    );
    const changes = whole.changes.map(({ table, id, before, after }) => {
      // Fields added by later versions take their defaults.
      const plain = plainOf(tables[table].fields);
      const full = (row: object | null) => row && { ...plain, ...row };
      return { table, id, before: full(before), after: full(after) };
    });
    return {
      label: whole.label,
      changes: asRefusal(
        () => checkedChanges(changes),
        (message) => `“${whole.label}” in the history of this file was not accepted: ${message}`,
      ),
      undone: edit!.undone,
    };
  });
}

/** What is worked out; what is wrong with it said as a refusal of the file. */
function asRefusal<T>(work: () => T, says: (message: string) => string): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof Problem) throw refuse(says(error.message));
    throw error;
  }
}

/**
 * Whether all that was done can be undone from a document on, one after the other, and what is undone be done again.
 */
function holdsTogether(document: CrossingDocument, history: readonly ParcelEdit[]): boolean {
  const firstUndone = history.findIndex(({ undone }) => undone);
  const done = firstUndone < 0 ? history : history.slice(0, firstUndone);
  const again = firstUndone < 0 ? [] : history.slice(firstUndone);
  if (!again.every(({ undone }) => undone)) return false;
  try {
    done.reduceRight((at, { changes }) => applyChanges(at, inverseChanges(changes)), document);
    again.reduce((at, { changes }) => applyChanges(at, changes), document);
    return true;
  } catch (error) {
    if (error instanceof EditConflict) return false;
    throw error;
  }
}

/** The sound that has this fingerprint, or null. */
async function amongSounds({ bytes, sha256 }: ParcelSound): Promise<string | null> {
  const alike = listSounds().filter(({ byteSize }) => byteSize === bytes);
  for (const { id } of alike) if ((await fingerprintOf([soundFile(id).file])).sha256 === sha256) return id;
  return null;
}

/** Takes a sound from the parcel's own file. @throws Problem 422 when it is not there or is another. */
async function soundFrom(sound: ParcelSound, unpacked: ReadonlyMap<string, string>): Promise<string> {
  const file = unpacked.get(sound.files[0] ?? '');
  if (!file)
    throw refuse(
      `The sound “${sound.name}” (${sound.originalName}) is neither in this file nor among those brought in. Bring it in first, then this file again.`,
    );
  if ((await fingerprintOf([file])).sha256 !== sound.sha256)
    throw refuse(
      `The sound “${sound.name}” in this file has changed since it was packed. Copy or download the file again.`,
    );
  const { id } = await asProblem(() => takeSound(file, sound.originalName));
  try {
    renameSound(id, sound.name.slice(0, 120) || sound.originalName);
    return id;
  } catch (error) {
    await deleteSound(id);
    throw error;
  }
}

/** The shot of the footage that has this fingerprint, or null. */
async function amongFootage({ bytes, frameCount, kind, sha256 }: ParcelShot): Promise<string | null> {
  const alike = database()
    .prepare(
      'SELECT id FROM shot WHERE byte_size = ? AND frame_count = ? AND kind = ? AND deleted_at IS NULL',
    )
    .pluck()
    .all(bytes, frameCount, kind) as string[];
  for (const id of alike) if ((await fingerprintOf(filesOf(id))).sha256 === sha256) return id;
  return null;
}

/** Takes a shot from the parcel's own files. @throws Problem 422 when they are not there or are others. */
async function takenFrom(
  shot: ParcelShot,
  unpacked: ReadonlyMap<string, string>,
  folder: string,
): Promise<string> {
  const files = shot.files.map((name) => unpacked.get(name));
  const { width, height, frameCount, originalName } = shot;
  if (files.length === 0 || files.some((file) => file === undefined))
    throw refuse(
      `“${shot.name}” (${originalName}, ${width} × ${height}, ${frameCount} ${frameCount === 1 ? 'frame' : 'frames'}) is neither in this file nor among the footage. Bring it in first, under any name, then this file again.`,
    );
  const own = files as string[];
  if ((await fingerprintOf(own)).sha256 !== shot.sha256)
    throw refuse(
      `“${shot.name}” in this file has changed since it was packed. Copy or download the file again.`,
    );
  const [num, den] = shot.rate;
  const id = await asProblem(() =>
    shot.kind === 'stills'
      ? takeStills(
          originalName,
          own.map((file, n) => ({ name: `${n}.png`, file })),
          { num, den },
          folder,
        )
      : checkAndKeep(own[0], originalName),
  );
  try {
    if (recordOf(id).frame_count !== frameCount)
      throw refuse(`“${shot.name}” in this file has other frames than the crossing was made with.`);
    if (shot.kind === 'video') keepRate(id, { num, den });
    renameShot(id, shot.name.slice(0, 120) || originalName);
    // What its own file says may be of another first frame, or a person has said otherwise.
    if (shot.timecode !== undefined) keepTimecode(id, shot.timecode && timecodeIn(shot));
    const { motion } = shot;
    if (motion)
      asRefusal(
        () => keepMotion(id, validated(MotionBody, motion)),
        (message) => `The movement of “${shot.name}” in this file was not accepted: ${message}`,
      );
    return id;
  } catch (error) {
    await deleteShot(id, 'let go');
    throw error;
  }
}

/** A timecode as a parcel tells of it. @throws Problem 422 */
function timecodeIn({ name, timecode }: ParcelShot): SourceTimecode {
  const { start, rate, dropFrame } = (timecode ?? {}) as Partial<SourceTimecode>;
  const whole = [start, rate?.num, rate?.den].every((number) => Number.isSafeInteger(number));
  const counts = whole && rate!.num > 0 && rate!.den > 0 && framesPerSecond(rate!) <= 1000;
  const drops = dropFrame === true;
  if (!counts || start! < 0 || (drops && !countsInDropFrame(rate!)))
    throw refuse(`The timecode of “${name}” in this file is not valid.`);
  return { start: start!, rate: { num: rate!.num, den: rate!.den }, dropFrame: drops };
}

/** A part of a shot is measured less surely than the whole was: it goes on at the rate of that, where they are near. */
function keepRate(id: string, rate: Rate) {
  const { rate_num: num, rate_den: den } = recordOf(id);
  if (num === rate.num && den === rate.den) return;
  if (sameRate({ num, den }, rate))
    database().prepare('UPDATE shot SET rate_num = ?, rate_den = ? WHERE id = ?').run(rate.num, rate.den, id);
}

/** Puts the crossing in, with new ids throughout where its own exists. @returns its id. */
function putIn(rows: AllRows, history: readonly ParcelEdit[], shotIds: ReadonlyMap<string, string>): string {
  const [crossing] = rows.crossing;
  if (!crossing || rows.crossing.length !== 1) throw refuse('This file must hold exactly one crossing.');
  const renamed = new Map(shotIds);
  const own = tableNames.filter(hasOwnIds).flatMap((table) => rows[table].map(({ id }) => ({ table, id })));
  // Ids are known once in all crossings.
  const taken = own.some(
    ({ table, id }) => database().prepare(`SELECT 1 FROM ${table} WHERE id = ?`).get(id) !== undefined,
  );
  if (taken) for (const { id } of own) renamed.set(id, randomUUID());
  const known = (id: string) => renamed.get(id) ?? id;
  const anew = Object.fromEntries(
    tableNames.map((table) => [
      table,
      (rows[table] as RowTypes[Table][]).map((row) => withIdsRenamed(table, row as never, known)),
    ]),
  ) as AllRows & { crossing: [CrossingRow] };
  // What is only in the history has ids too, that some other crossing may have.
  const knownOrNew = (id: string) => {
    if (!renamed.has(id)) renamed.set(id, taken ? randomUUID() : id);
    return renamed.get(id)!;
  };
  const historyAnew = history.map(({ changes, ...edit }) => ({
    ...edit,
    changes: changes.map(({ table, before, after }) =>
      changeRow(
        table,
        before && withIdsRenamed(table, before as never, knownOrNew),
        after && withIdsRenamed(table, after as never, knownOrNew),
      ),
    ),
  }));
  let done: readonly ParcelEdit[] = historyAnew;
  if (taken) {
    const [before] = anew.crossing;
    anew.crossing[0] = { ...before, name: `${crossing.name.slice(0, room)} (brought in)` };
    // Its new name is one edit more, after which nothing that was undone can be done again.
    if (done.length > 0)
      done = [
        ...done.filter(({ undone }) => !undone),
        { label: 'Bring it in', changes: [changeRow('crossing', before, anew.crossing[0])], undone: false },
      ];
  }
  const document = documentOf(anew);
  const changes = tableNames.flatMap((table) =>
    (anew[table] as readonly RowTypes[typeof table][]).map((row) => changeRow(table, null, row as never)),
  ) as RowChange[];
  try {
    requireConsistent(document, changes);
    if (!holdsTogether(document, done)) throw refuse('The history in this file is not that of its crossing.');
    insertDocument(document, done);
  } catch (error) {
    if (error instanceof Problem)
      throw refuse(`The crossing in this file does not hold together: ${error.message}`);
    throw error;
  }
  return document.crossing.id;
}

/** Room for what is added to a name. */
const room = 100;
