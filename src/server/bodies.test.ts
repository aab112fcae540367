import { tableNames } from '@/core/document/document';
import { tables } from '@/core/document/tables';
import type { Field } from '@/core/document/table';
import { beyondOf, sampleOf } from '@/core/document/table-samples';
import {
  ExportBody,
  ExportFinishedBody,
  FinishBody,
  ParcelQuery,
  MotionBody,
  NewCrossingBody,
  ShotBody,
  UploadBody,
} from './bodies';
import { Problem } from './problem';
import { validatedRow } from './row-bodies';
import { validated } from './validate';

/** Every row and body that comes over the wire: taken as it must be, and refused in any field that is not. */

const id = '6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e01';

test.each(tableNames)('a %s is taken only whole, with every field within its bounds', (table) => {
  const fields = Object.entries(tables[table].fields) as [string, Field<unknown>][];
  const good = Object.fromEntries(fields.map(([name, field]) => [name, sampleOf(field)]));
  expect(validatedRow(table, good)).toEqual(good);
  const refused = (row: object, why: string) => {
    let status: unknown = `taken: ${why}`;
    try {
      validatedRow(table, row);
    } catch (error) {
      status = error instanceof Problem ? error.status : error;
    }
    expect([why, status]).toEqual([why, 400]);
  };
  refused({ ...good, extra: 1 }, 'a field more');
  for (const [name, field] of fields) {
    refused(Object.fromEntries(Object.entries(good).filter(([own]) => own !== name)), `without ${name}`);
    if (field.nullable)
      expect(validatedRow(table, { ...good, [name]: null })).toMatchObject({ [name]: null });
    const beyond = beyondOf(field);
    expect(beyond.length).toBeGreaterThan(1);
    for (const value of beyond)
      refused({ ...good, [name]: value }, `${name} ${JSON.stringify(value)?.slice(0, 60)}`);
  }
});

test('what comes with files is bounded: names, sizes, rates, parts, movement, exports', () => {
  const crosser = {
    kind: 'across',
    opens: 1,
    closes: 9,
    direction: -1,
    speed: 3,
    top: 0,
    bottom: 1,
    reach: 0.4,
  };
  const upload = { fingerprint: 'x'.repeat(8), name: 'a.mp4', size: 1, rateNum: 25, rateDen: 1 };
  const query = {
    ...{ crossingId: id, revision: 4, format: 'webm', frameCount: 66, sound: 'opus', firstFrame: -3 },
    ...{ width: 1280, height: 720, rateNum: 25, rateDen: 1, shotName: null },
  };
  expect(validated(ExportBody, query)).toMatchObject({ revision: 4, frameCount: 66 });
  expect(validated(ShotBody, { name: ' Door ' })).toMatchObject({ name: 'Door' });
  validated(FinishBody, { parts: null });
  validated(MotionBody, { frames: [0, 1.5], crosser });
  validated(UploadBody, upload);
  const layer = { offset: -40, speed: 62.5, reverse: false, holdFrom: null };
  const timing = {
    outgoing: layer,
    incoming: { ...layer, holdFrom: 3 },
    length: 90,
    cut: 40,
    edge: { opens: 30, closes: 50 },
  };
  const made = { name: 'A', plan: 'pass-by', outgoingShotId: id, incomingShotId: id, timing };
  expect(validated(NewCrossingBody, made)).toMatchObject({ timing });
  for (const take of [
    () => validated(UploadBody, { ...upload, size: 0 }),
    () => validated(UploadBody, { ...upload, fingerprint: 'short' }),
    () => validated(FinishBody, { parts: [] }),
    () => validated(FinishBody, { parts: [{ name: 'a', size: 0 }] }),
    () => validated(FinishBody, { parts: [{ name: 'a', size: 1, path: '/' }] }),
    () => validated(MotionBody, { frames: [Infinity], crosser: null }),
    () => validated(MotionBody, { frames: [], crosser: { ...crosser, direction: 2 } }),
    () => validated(NewCrossingBody, { ...made, timing: { ...timing, length: 0 } }),
    () => validated(NewCrossingBody, { ...made, timing: { ...timing, edge: { opens: -1, closes: 3 } } }),
    () => validated(NewCrossingBody, { ...made, timing: { ...timing, outgoing: undefined } }),
    () => validated(NewCrossingBody, { ...made, timing: { ...timing, incoming: { ...layer, speed: 9 } } }),
    () =>
      validated(NewCrossingBody, { ...made, timing: { ...timing, incoming: { ...layer, holdFrom: -1 } } }),
    () => validated(ExportBody, { ...query, format: 'mov' }),
    () => validated(ExportBody, { ...query, frameCount: 0 }),
    () => validated(ExportBody, { ...query, width: undefined }),
    () => validated(ExportBody, { ...query, height: 0 }),
    () => validated(ExportBody, { ...query, firstFrame: 0.5 }),
    () => validated(ExportBody, { ...query, shotName: 'x'.repeat(500) }),
    () => validated(ExportFinishedBody, { picture: 'no base64!' }),
    () => validated(ExportFinishedBody, { picture: 'A'.repeat(200_000) }),
    () => validated(ParcelQuery, { footage: 'half' }),
    () => validated(ParcelQuery, { footage: 'used', handles: '-1' }),

    () => validated(ExportBody, { ...query, sound: 'mp3' }),
    () => validated(ShotBody, { rateNum: 0 }),
    () => validated(ShotBody, { notes: 'x'.repeat(2001) }),
  ])
    expect(take).toThrow(Problem);
});
