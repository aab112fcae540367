import { plainLayer, plainOutline, type Table } from '@/core/document/rows';
import { ExportQuery, FinishBody, MotionBody, ShotBody, UploadBody, validatedRow } from './bodies';
import { Problem } from './problem';
import { validated } from './validate';

/** Every row and body that comes over the wire: taken as it must be, and refused in any field that is not. */

const id = '6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e01';
const other = '6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e02';
const edge = { featherInside: 1.5, featherOutside: 0, spread: -3, roundness: 2, factors: [1, 0, 10] };

/** A row of each table, and for each of its fields what lies just beyond what is allowed. */
const rows: Record<Table, [good: object, bad: Record<string, unknown[]>]> = {
  crossing: [
    {
      ...{ id, name: 'Pond', plan: 'pass-by', width: 1280, height: 720, rateNum: 30000, rateDen: 1001 },
      ...{ length: 66, inFrame: 0, outFrame: null, blend: 'linear sRGB' },
    },
    {
      ...{ id: ['x', null], name: ['', 'x'.repeat(121), 7], plan: ['wipe'], width: [1, 8193, 2.5] },
      ...{ height: ['720', 0], rateNum: [0], rateDen: [0, 100_001], length: [0, 100_001] },
      ...{ inFrame: [-1, null], outFrame: [-1, '3'], blend: ['log'] },
    },
  ],
  layer: [
    { ...plainLayer, id, role: 'passing', shotId: other, position: 1, holdFrom: 5, trimOut: 0 },
    {
      ...{ id: [''], role: ['middle'], shotId: [null], position: [-1, 101], offset: [0.5, Infinity] },
      ...{ speed: [24.99, 801, 33.333], reverse: [0, 'no'], holdFrom: [-1], trimIn: [1.5], trimOut: [-2] },
      ...{ visible: [null], keeps: ['yes'], fit: ['stretch'], flip: [1], x: [20_001], y: [Number.NaN] },
      ...{ scale: [0, 2001], turn: [3601], steady: [-1, 101] },
    },
  ],
  outline: [
    {
      ...{ ...plainOutline, ...edge, id, layerId: other, cutsLayerId: null, name: 'Back', kind: 'seam' },
      ...{ sweptSide: 'left', position: 0, points: ['a', 'b-2', 'c_3'] },
    },
    {
      ...{ id: [1], layerId: ['l'], cutsLayerId: ['l'], name: [''], kind: ['line'], sweptSide: ['up'] },
      ...{ position: [-1], points: [[], ['a', 'a'], ['a b'], 'a', [1]], combine: ['xor'] },
      ...{ beforeFirst: ['none'], afterLast: [null], colour: ['#fff'], locked: [0], hidden: ['x'] },
      ...{ shutter: [-1, 721], phase: [-721, '0'], featherInside: [-0.1, 501], featherOutside: [Infinity] },
      ...{ spread: [-501, 501], roundness: [-1], factors: [[-0.1], [10.1], ['1'], null] },
    },
  ],
  pose: [
    {
      id: `${id}@3`,
      outlineId: id,
      frame: 3,
      origin: 'carried',
      onward: 'eased',
      coordinates: [1, 2, 0, 0, 0, 0],
    },
    {
      ...{
        id: ['a/b', ''],
        outlineId: ['o'],
        frame: [-1, 10_000_001],
        origin: ['guessed'],
        onward: ['bounce'],
      },
      coordinates: [[], [1, 2, 3], [1, 2, 0, 0, 0, null], new Array(2001 * 6).fill(0), 'x'],
    },
  ],
  edge: [
    { ...edge, id: `${id}~3`, outlineId: id, frame: 3, onward: 'hold' },
    { id: ['?'], outlineId: [null], frame: [0.5], onward: [''], spread: ['0'], factors: [{}] },
  ],
  key: [
    { id, cb: 144, cr: 191, tolerance: 14, softness: 46, grow: -1, clean: 12, spill: 40 },
    {
      ...{ id: ['k'], cb: [-1, 256], cr: ['191'], tolerance: [201], softness: [-1], grow: [-41, 41] },
      ...{ clean: [201], spill: [-1, 101] },
    },
  ],
  mark: [
    { id, frame: 13, kind: 'opens', name: 'Opens' },
    { id: [null], frame: [-1, 100_001], kind: ['cue'], name: ['', 'x'.repeat(61)] },
  ],
};

test.each(Object.entries(rows))(
  'a %s is taken only whole, with every field within its bounds',
  (table, [good, bad]) => {
    expect(validatedRow(table as Table, good)).toEqual(good);
    const refused = (row: object, why: string) => {
      let status: unknown = `taken: ${why}`;
      try {
        validatedRow(table as Table, row);
      } catch (error) {
        status = error instanceof Problem ? error.status : error;
      }
      expect([why, status]).toEqual([why, 400]);
    };
    refused({ ...good, extra: 1 }, 'a field more');
    for (const field of Object.keys(good)) {
      refused(
        Object.fromEntries(Object.entries(good).filter(([name]) => name !== field)),
        `without ${field}`,
      );
      for (const value of bad[field] ?? [])
        refused({ ...good, [field]: value }, `${field} ${JSON.stringify(value)}`);
    }
    // Each field has been tried; a new one has to be added above.
    const inherited = table === 'edge' ? ['featherInside', 'featherOutside', 'roundness'] : [];
    expect(Object.keys(good).filter((field) => !(field in bad) && !inherited.includes(field))).toEqual([]);
  },
);

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
  const query = { crossingId: id, revision: '4', format: 'webm', frameCount: '66' };
  expect(validated(ExportQuery, query)).toMatchObject({ revision: 4, frameCount: 66 });
  expect(validated(ShotBody, { name: ' Door ' })).toMatchObject({ name: 'Door' });
  validated(FinishBody, { parts: null });
  validated(MotionBody, { frames: [0, 1.5], crosser });
  validated(UploadBody, upload);
  for (const take of [
    () => validated(UploadBody, { ...upload, size: 0 }),
    () => validated(UploadBody, { ...upload, fingerprint: 'short' }),
    () => validated(FinishBody, { parts: [] }),
    () => validated(FinishBody, { parts: [{ name: 'a', size: 0 }] }),
    () => validated(FinishBody, { parts: [{ name: 'a', size: 1, path: '/' }] }),
    () => validated(MotionBody, { frames: [Infinity], crosser: null }),
    () => validated(MotionBody, { frames: [], crosser: { ...crosser, direction: 2 } }),
    () => validated(ExportQuery, { ...query, format: 'mov' }),
    () => validated(ExportQuery, { ...query, frameCount: '0' }),
    () => validated(ShotBody, { rateNum: 0 }),
    () => validated(ShotBody, { notes: 'x'.repeat(2001) }),
  ])
    expect(take).toThrow(Problem);
});
