import { createCanvas, Path2D } from '@napi-rs/canvas';
import Ajv from 'ajv';
import { readFileSync } from 'node:fs';
import { applyChanges, documentOf } from '../document/document';
import {
  type CrossingDocument,
  type OutlineRow,
  plainCrossing,
  plainEdge,
  plainLayer,
  plainOutline,
  plainPose,
  poseId,
  tables,
} from '../document/tables';
import { setLayer } from '../actions/layer-actions';
import { setMove } from '../actions/move-actions';
import type { Shot } from '../model/shot';
import type { Field } from '../document/table';
import type { Rate } from '../model/time';
import { MatteScratch } from '../matte/matte';
import { matteOf, noPictures } from '../compose/layer-matte';
import { cutAt } from '../compose/cut';
import { csvText } from '@/interface/csv';
import { keyRows, pointRows } from './lists';
import { NoOutline, outlineJson, readOutlineJson } from './outline-json';
import { placeOutlineApart } from './outline-placed';
import { pathData, svgOfFrame, svgOfFrames } from './svg';
import { sourceFrameAt } from '../time/time-map';
import { edlOf, otioOf, toldBy } from './timeline';
import { shotOfClip, timelineFor, timingOf } from './timeline-taken';
import { coordinatesAt, type TracedOutline, tracedOutline } from './traced-outline';

/** What of a JSON schema is walked. */
interface Schema {
  properties: Record<string, { items?: { properties: Record<string, object> } }>;
}

const [width, height] = [160, 90];
const ntsc = { num: 30000, den: 1001 };
const shot = (id: string, rate = { num: 25, den: 1 }): Shot => ({
  ...{ id, name: `${id}.mp4`, width, height, rotation: 0, rate, frameCount: 40_000, motion: null },
  colour: { matrix: 'bt709', fullRange: false },
});
const shots = { out: shot('out'), in: shot('in') };
const outline: OutlineRow = {
  ...{ ...plainOutline, id: 'o', layerId: 'top', cutsLayerId: null, name: 'Gap & "frame"', kind: 'loop' },
  ...{ sweptSide: 'right', position: 0, points: ['a', 'b', 'c'], afterLast: 'hold' },
};
const poseOf = (frame: number, by: number) => ({
  ...{ id: poseId('o', frame), outlineId: 'o', frame, ...plainPose, origin: 'by hand' as const },
  onward: 'linear' as const,
  coordinates: [30 + by, 20, -9, 8, 14, -12, 120 + by, 30.12345, 0, 0, 10, 20, 60 + by, 80, 20, 3, -18, -2],
});
const document: CrossingDocument = documentOf({
  crossing: [
    {
      ...plainCrossing,
      id: 'c',
      name: 'Fée & pond',
      plan: 'opening',
      width,
      height,
      rateNum: 25,
      rateDen: 1,
      length: 50,
    },
  ],
  layer: [
    { ...plainLayer, id: 'bottom', role: 'incoming', shotId: 'in', position: 0, offset: 10, speed: 200 },
    { ...plainLayer, id: 'top', role: 'outgoing', shotId: 'out', position: 1, holdFrom: 20 },
  ],
  outline: [outline],
  pose: [poseOf(4, 0), poseOf(8, 8)],
});
const traced = tracedOutline(document, shots, 'o')!;

test('a loop’s SVG filled by Skia is the matte without feather, within three code values', () => {
  // Sixteen times as large and averaged, so that what Skia rounds averages out. Its cubics as many short lines: Skia draws curves in pieces of a quarter of a px.
  const by = 16;
  const canvas = createCanvas(width * by, height * by);
  const context = canvas.getContext('2d');
  const [, commands] = / d="([^"]+)"/.exec(svgOfFrame(traced, 6)!)!;
  const numbers = commands.match(/-?[\d.]+/g)!.map(Number);
  const path = new Path2D();
  path.moveTo(numbers[0], numbers[1]);
  for (let i = 2; i < numbers.length; i += 6)
    for (let k = 1; k <= 400; k++) {
      const t = k / 400;
      const weights = [(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t ** 3];
      const at = (j: number) =>
        weights.reduce((sum, weight, n) => sum + weight * numbers[i - 2 + 2 * n + j], 0);
      path.lineTo(at(0), at(1));
    }
  context.scale(by, by);
  context.fill(path);
  const { data } = context.getImageData(0, 0, width * by, height * by);
  const filled = new Float64Array(width * height);
  for (let y = 0, i = 3; y < height * by; y++)
    for (let x = 0; x < width * by; x++, i += 4)
      filled[Math.floor(y / by) * width + Math.floor(x / by)] += data[i] / by ** 2;
  const cut = cutAt(document, shots, document.layers.top, 6);
  if (cut.extent !== 'outlined') throw new Error('It is outlined there.');
  const { alpha } = matteOf(cut, shots.out, 1, new MatteScratch(), noPictures);
  const off = [...alpha].map((value, i) => Math.abs(value - filled[i]));
  expect(Math.max(...off)).toBeLessThanOrEqual(3);
  expect(alpha.reduce((sum, value) => sum + value, 0)).toBeGreaterThan(255 * 3000);
});

test('SVG keeps every place within 0.005 px, names frames by group, and is well-formed with any name', () => {
  const coordinates = coordinatesAt(traced, 4)!;
  const numbers = pathData(coordinates, true)
    .match(/-?[\d.]+/g)!
    .map(Number);
  expect(numbers).toHaveLength(2 + 3 * 6);
  expect(numbers.slice(0, 8)).toEqual([30, 20, 44, 8, 120, 30.123, 120, 30.123]);
  const all = svgOfFrames(traced);
  expect([...all.matchAll(/data-frame="(\d+)"/g)].map(([, n]) => Number(n))).toEqual([4, 5, 6, 7, 8]);
  expect(all).toContain('viewBox="0 0 160 90"');
  expect(all).toContain('<title>Gap &amp; "frame"</title>');
  expect(svgOfFrame(traced, 2)).toBeNull();
});

test('JSON is as its published schema has it; CSV as RFC 4180', () => {
  const schema = JSON.parse(readFileSync('docs/formats/outline.schema.json', 'utf8')) as object;
  const validate = new Ajv().compile(schema);
  const json = JSON.parse(outlineJson(traced)) as { poses: { points: { at: number[] }[] }[] };
  expect(validate(json)).toBe(true);
  expect(json.poses[1].points[1].at).toEqual([128, 30.123]);
  expect(validate({ ...json, version: 3 })).toBe(false);
  expect(csvText([['a,b', 'c"d', 'e\nf', 1.5, null]])).toBe('"a,b","c""d","e\nf",1.5,\r\n');
  // A spreadsheet does not run what was only a name.
  expect(csvText([['=1+1']])).toBe(`"'=1+1"\r\n`);
  const lines = csvText(pointRows(traced)).split('\r\n');
  expect(lines).toHaveLength(1 + 5 * 3 + 1);
  expect(lines[4]).toBe('5,in-between,a,32,20,-9,8,14,-12,loop');
  const keyed = applyChanges(document, [
    ...setMove(document, 'top', 'place', 3, 4, -5),
    ...setLayer(document, 'top', { ramp: [2, 100, 9, 250] }),
  ]);
  expect(
    csvText(keyRows(keyed, (id) => id))
      .split('\r\n')
      .slice(1, 4),
  ).toEqual(['top,place,3,eased,4,-5,', 'top,speed,2,linear,100,,', 'top,speed,9,linear,250,,']);
});

test('an outline’s JSON comes back as it was, field by field of its schema, onto a shot of any size', () => {
  const schema = JSON.parse(readFileSync('docs/formats/outline.schema.json', 'utf8')) as Schema;
  const validate = new Ajv().compile(schema);
  const [pose] = traced.poses;
  const key = { ...plainEdge, id: 'o~4', outlineId: 'o', frame: 4, onward: 'smooth' as const };
  const whole = { ...traced, edges: [key] };
  const read = (json: string, size = { width, height }) => readOutlineJson(json, size);
  // A value that each field may hold, other than the one it has.
  const another = (field: Field<unknown>, now: unknown) => {
    const { rule } = field;
    if (rule.kind === 'choice') return rule.of.find((each) => each !== now);
    if (rule.kind === 'flag') return !now;
    if (rule.kind === 'text') return 'Another';
    if (rule.kind === 'ident') return 'b';
    if (rule.kind === 'idents') return ['x', 'y', 'z'];
    if (rule.kind === 'numbers')
      return rule.per === 1 ? [0.5, 1, 2] : [...pose.coordinates].reverse().map(Math.round);
    return rule.kind === 'whole' || rule.kind === 'number'
      ? Math.min(rule.high, Math.max(rule.low, 3))
      : null;
  };
  const walk = (
    table: 'outline' | 'pose' | 'edge',
    listed: object,
    change: (more: object) => TracedOutline,
  ) => {
    for (const name of Object.keys(listed)) {
      if (['format', 'version', 'shot', 'poses', 'edges'].includes(name)) continue;
      const field = name === 'points' && table === 'pose' ? 'coordinates' : name;
      const described = (tables[table].fields as Record<string, Field<unknown>>)[field];
      expect([table, name, described === undefined]).toEqual([table, name, false]);
      const now = ({ outline: traced.outline, pose, edge: key }[table] as unknown as Record<string, unknown>)[
        field
      ];
      const value = another(described, now);
      const json = outlineJson(change({ [field]: value }));
      expect([name, validate(JSON.parse(json)), validate.errors]).toEqual([name, true, null]);
      const back = read(json);
      const row = { outline: back.outline, pose: back.poses[0], edge: back.edges[0] }[table];
      expect([table, name, (row as unknown as Record<string, unknown>)[field]]).toEqual([table, name, value]);
    }
  };
  const { properties } = schema;
  walk('outline', properties, (more) => ({ ...whole, outline: { ...traced.outline, ...more } }));
  walk('pose', properties.poses.items!.properties, (more) => ({ ...whole, poses: [{ ...pose, ...more }] }));
  walk('edge', properties.edges.items!.properties, (more) => ({ ...whole, edges: [{ ...key, ...more }] }));
  // And nothing that a table has is missing from the schema, but for what is its place in a crossing.
  const place = ['id', 'layerId', 'cutsLayerId', 'position', 'subjectId', 'purpose', 'painted'];
  const named = Object.keys(tables.outline.fields).filter((name) => !place.includes(name));
  expect(named.filter((name) => !(name in properties))).toEqual([]);
  expect(Object.keys(plainEdge).filter((name) => !(name in properties.edges.items!.properties))).toEqual([]);

  // Twice as large a shot has places and widths twice as large; of what an earlier version did not write, none is made up.
  const wide = { ...whole, edges: [{ ...key, featherInside: 4, factors: [1, 2, 0.5] }] };
  const large = read(outlineJson(wide), { width: 2 * width, height: 2 * height });
  expect(large.poses[0].coordinates[0]).toBe(60);
  expect(large.edges[0]).toMatchObject({ featherInside: 8, factors: [1, 2, 0.5] });
  const rest = JSON.parse(outlineJson(whole)) as Record<string, unknown>;
  for (const name of ['edges', 'colour']) delete rest[name];
  const first = read(JSON.stringify({ ...rest, version: 1 }));
  expect([first.edges, first.outline.colour, first.outline.afterLast]).toEqual([[], 'chalk', 'hold']);
  for (const spoilt of [
    { version: 3 },
    { kind: 'spiral' },
    { poses: [] },
    { points: ['a', 'b'] },
    { sweptSide: undefined },
    { factors: [1, 2] },
    { shot: { ...(rest.shot as object), width: 0 } },
    { hinge: 'q' },
  ])
    expect(() => read(JSON.stringify({ ...JSON.parse(outlineJson(whole)), ...spoilt }))).toThrow(NoOutline);
  const placed = applyChanges(
    document,
    placeOutlineApart(document, 'bottom', read(outlineJson(wide)), 'new'),
  );
  expect(placed.outlines.new).toEqual({
    ...traced.outline,
    ...{ id: 'new', layerId: 'bottom', position: 1 },
  });
  expect(placed.edges.new).toEqual([{ ...wide.edges[0], id: 'new~4', outlineId: 'new' }]);
});

const asked = { form: 'cut' as const, cutAt: 30, fileNames: {}, finished: null };

test('a timeline has the shots with their source ranges, speed and freeze; what it cannot say is listed', () => {
  const told = toldBy(document, shots);
  expect(told.stretches.map(({ source, frames, percent }) => [source, frames, percent])).toEqual([
    [10, 50, 200],
    [0, 20, 100],
    [20, 30, 0],
  ]);
  expect(told.lost).toEqual([expect.stringContaining('it does not wipe')]);
  const timeline = JSON.parse(
    otioOf(document, shots, { ...asked, form: 'layers', finished: { fileName: 'Pond r3.webm', frames: 50 } }),
  ) as {
    tracks: { children: { children: { effects: { OTIO_SCHEMA: string }[] }[] }[] };
  };
  const [incoming, outgoing, exported] = timeline.tracks.children.map(({ children }) => children);
  expect(incoming[0]).toMatchObject({
    OTIO_SCHEMA: 'Clip.2',
    source_range: {
      OTIO_SCHEMA: 'TimeRange.1',
      start_time: { OTIO_SCHEMA: 'RationalTime.1', rate: 25, value: 10 },
      duration: { rate: 25, value: 50 },
    },
    effects: [{ OTIO_SCHEMA: 'LinearTimeWarp.1', time_scalar: 2 }],
  });
  expect(
    outgoing.map(({ effects }: { effects: { OTIO_SCHEMA: string }[] }) => effects[0]?.OTIO_SCHEMA),
  ).toEqual([undefined, 'FreezeFrame.1']);
  expect(exported[0]).toMatchObject({
    media_references: { DEFAULT_MEDIA: { OTIO_SCHEMA: 'ExternalReference.1', target_url: 'Pond r3.webm' } },
  });
});

describe.each([
  ['follow each other', 'cut'],
  ['lie one over the other', 'layers'],
] as const)('a timeline in which the shots %s', (_, form) => {
  const wiped: CrossingDocument = {
    ...document,
    crossing: { ...document.crossing, plan: 'pass-by', length: 60 },
    layers: {
      bottom: { ...document.layers.bottom, offset: 7, speed: 80 },
      top: { ...document.layers.top, offset: 300, holdFrom: null, speed: 50 },
    },
    marks: {
      o: { id: 'o', kind: 'opens', frame: 20, name: 'Opens' },
      q: { id: 'q', kind: 'closes', frame: 39, name: 'Closes' },
    },
  };
  const fileNames = { out: 'A003 take 2.mov', in: 'B001.mov' };
  const footage = [
    { id: 'out', name: 'Gardener', originalName: fileNames.out, rate: { num: 25, den: 1 } },
    { id: 'in', name: 'Pond', originalName: fileNames.in, rate: { num: 25, den: 1 } },
  ];
  const back = (of: CrossingDocument) => {
    const { rate, cuts } = timelineFor(
      otioOf(of, shots, { form, cutAt: 30, fileNames, finished: null }),
      footage,
    );
    expect(cuts).toHaveLength(1);
    expect([shotOfClip(cuts[0].outgoing, footage)?.id, shotOfClip(cuts[0].incoming, footage)?.id]).toEqual([
      'out',
      'in',
    ]);
    return timingOf(cuts[0], rate, { num: 25, den: 1 }, { outgoing: shots.out, incoming: shots.in }).timing;
  };
  const sameFrames = (of: CrossingDocument, timing: ReturnType<typeof back>, slack = 0) => {
    const rate = { num: 25, den: 1 };
    for (const [layer, own] of [
      [of.layers.top, timing.outgoing],
      [of.layers.bottom, timing.incoming],
    ] as const)
      for (let frame = 0; frame < 60; frame++) {
        const shown = sourceFrameAt(frame, { ...layer, ...own }, rate, { rate });
        expect(Math.abs(shown - sourceFrameAt(frame, layer, rate, { rate }))).toBeLessThanOrEqual(slack);
      }
  };

  test('comes back as the crossing that it was: slip, speed, opening, closing and length', () => {
    const timing = back(wiped);
    expect(timing).toMatchObject({ cut: 30, length: 60, edge: { opens: 20, closes: 39 } });
    // A source frame lasts longer than one of the crossing here: where in it the clip begins is not said.
    sameFrames(wiped, timing, 1);
  });

  test('and so do direction and freeze', () => {
    const { bottom, top } = wiped.layers;
    const turned = {
      ...wiped,
      layers: {
        bottom: { ...bottom, offset: 200, speed: 100, reverse: true, holdFrom: 150 },
        top: { ...top, speed: 100, holdFrom: form === 'cut' ? 320 : 350 },
      },
    };
    const timing = back(turned);
    expect(timing.incoming).toMatchObject({ reverse: true, speed: 100, holdFrom: 150 });
    sameFrames(turned, timing);
  });
});

test('where the shots follow each other a transition lies over the cut, as far as both have pictures', () => {
  const marked = {
    ...document,
    layers: {
      ...document.layers,
      bottom: { ...document.layers.bottom, offset: -50, speed: 100, trimIn: -25 },
    },
    marks: {
      o: { id: 'o', kind: 'opens' as const, frame: 10, name: 'Opens' },
      q: { id: 'q', kind: 'closes' as const, frame: 44, name: 'Closes' },
    },
  };
  // The incoming shot has its first picture on frame 50 in one, on frame 22 in the other.
  const at = (offset: number) => {
    const of = { ...marked, layers: { ...marked.layers, bottom: { ...marked.layers.bottom, offset } } };
    const { tracks } = JSON.parse(otioOf(of, shots, asked)) as {
      tracks: { children: { children: Record<string, unknown>[] }[] };
    };
    expect(tracks.children).toHaveLength(1);
    return tracks.children[0].children;
  };
  expect(at(-22).find(({ OTIO_SCHEMA }) => OTIO_SCHEMA === 'Transition.1')).toMatchObject({
    transition_type: 'SMPTE_Dissolve',
    in_offset: { value: 8, rate: 25 },
    out_offset: { value: 15, rate: 25 },
  });
  expect(at(-49).some(({ OTIO_SCHEMA }) => OTIO_SCHEMA === 'Transition.1')).toBe(false);
});

test('a list counts in drop-frame across minutes and the tenth, with M2 for speed', () => {
  const list = edlOf(document, shots, { cutAt: 30, dropFrame: false, fileNames: {} }).split('\r\n');
  const named = edlOf(document, shots, {
    cutAt: 30,
    dropFrame: false,
    fileNames: { out: 'Gärten 03_take.mov' },
  });
  expect(named).toContain('001  GARTEN03 V ');
  expect(named).toContain('* FROM CLIP NAME: Garten 03_take.mov\r\n* COMMENT: out.mp4');
  expect(list.slice(0, 2)).toEqual(['TITLE: Fee & pond', 'FCM: NON-DROP FRAME']);
  expect(list.filter((line) => /^\d{3} /.test(line))).toEqual([
    '001  OUT      V     C        00:00:00:00 00:00:00:20 00:00:00:00 00:00:00:20',
    '002  OUT      V     C        00:00:00:20 00:00:00:21 00:00:00:20 00:00:01:05',
    '003  IN       V     C        00:00:02:20 00:00:04:10 00:00:01:05 00:00:02:00',
  ]);
  expect(list.filter((line) => line.startsWith('M2'))).toEqual([
    'M2   OUT      000.0                00:00:00:20',
    'M2   IN       050.0                00:00:02:20',
  ]);
  // SMPTE ST 12-1: after 00:00:59;29 comes 00:01:00;02, after 00:09:59;29 comes 00:10:00;00.
  const long = { out: shot('out', ntsc), in: shot('in', ntsc) };
  const drop: CrossingDocument = {
    ...document,
    crossing: { ...document.crossing, rateNum: 30000, rateDen: 1001, length: 19_000 },
    layers: {
      bottom: { ...document.layers.bottom, speed: 100, offset: 0 },
      top: { ...document.layers.top, holdFrom: null },
    },
  };
  const events = edlOf(drop, long, { cutAt: 1800, dropFrame: true, fileNames: {} })
    .split('\r\n')
    .filter((line) => /^\d{3} /.test(line));
  expect(events[0]).toContain('00:00:00;00 00:01:00;02');
  expect(edlOf(drop, long, { cutAt: 17_982, dropFrame: true, fileNames: {} })).toContain(
    '00:00:00;00 00:10:00;00',
  );
});

test('a list counts the frames of each shot at its own rate, whatever that is', () => {
  const plain: CrossingDocument = {
    ...document,
    layers: {
      bottom: { ...document.layers.bottom, speed: 100, offset: 0 },
      top: { ...document.layers.top, holdFrom: null },
    },
  };
  const events = (rateOut: Rate, rateIn: Rate) =>
    edlOf(
      plain,
      { out: shot('out', rateOut), in: shot('in', rateIn) },
      { cutAt: 20, dropFrame: true, fileNames: {} },
    )
      .split('\r\n')
      .filter((line) => /^\d{3} /.test(line))
      .map((line) => line.slice(29));
  // 20 frames of 25 a second are 40 of 50, and 30 more are 60.
  expect(events({ num: 50, den: 1 }, { num: 50, den: 1 })).toEqual([
    '00:00:00:00 00:00:00:40 00:00:00:00 00:00:00:20',
    '00:00:00:40 00:00:02:00 00:00:00:20 00:00:02:00',
  ]);
  // Rates that have no drop-frame counting are counted without.
  expect(events({ num: 120_000, den: 1001 }, { num: 48_000, den: 1001 })).toEqual([
    '00:00:00:00 00:00:00:96 00:00:00:00 00:00:00:20',
    '00:00:00:38 00:00:02:00 00:00:00:20 00:00:02:00',
  ]);
});

const paced = { num: 25, den: 1 };

test('both timelines count sources by their own timecode, and are read back by it, in drop-frame too', () => {
  const timed = {
    out: { ...shot('out', ntsc), timecode: { start: 107_892, rate: ntsc, dropFrame: true } },
    in: { ...shot('in', paced), timecode: { start: 90_000, rate: paced, dropFrame: false } },
  };
  const plain: CrossingDocument = {
    ...document,
    crossing: { ...document.crossing, rateNum: 30000, rateDen: 1001 },
    layers: {
      bottom: { ...document.layers.bottom, speed: 100, offset: 0 },
      top: { ...document.layers.top, holdFrom: null },
    },
  };
  const list = edlOf(plain, timed, { cutAt: 20, dropFrame: true, fileNames: {} });
  // SMPTE ST 12-1: 107 892 frames are an hour of drop-frame.
  expect(list).toMatch(/V {5}C {8}01:00:00;00 01:00:00;20 00:00:00;00 00:00:00;20/);
  const known = Object.values(timed).map((each) => ({ ...each, originalName: `${each.name}` }));
  for (const text of [list, otioOf(plain, timed, { ...asked, cutAt: 20 })]) {
    const timeline = timelineFor(text, known);
    const [cut] = timeline.cuts;
    const [outgoing, incoming] = [cut.outgoing, cut.incoming].map((clip) => shotOfClip(clip, known)!);
    const { timing, unplaced } = timingOf(cut, timeline.rate, ntsc, { outgoing, incoming });
    expect([unplaced, timing.outgoing.offset]).toEqual([[], plain.layers.top.offset]);
    expect(Math.abs(sourceFrameAt(20, timing.incoming, ntsc, { rate: paced }) - 17)).toBeLessThanOrEqual(1);
  }
  // Of two files that are called alike, the one that has the numbers is meant.
  const [first] = timelineFor(list, known).cuts;
  const other = { ...known[0], id: 'other', timecode: { ...known[0].timecode, start: 0 } };
  expect(shotOfClip(first.outgoing, [other, known[0]])?.id).toBe(known[0].id);
});
