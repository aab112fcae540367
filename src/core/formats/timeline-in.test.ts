import { sourceFrameAt } from '../time/time-map';
import { NoTimeline, readTimeline } from './timeline-in';
import { shotOfClip, timelineFor, timingOf } from './timeline-taken';

const pal = { num: 25, den: 1 };
const ntsc = { num: 30000, den: 1001 };

const time = (value: number, rate: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate });
const range = (start: number, frames: number, rate: number) => ({
  ...{ OTIO_SCHEMA: 'TimeRange.1', start_time: time(start, rate), duration: time(frames, rate) },
});
const clip = (file: string, source: object | null, available: object, effects: object[] = []) => ({
  ...{ OTIO_SCHEMA: 'Clip.2', name: 'a clip', source_range: source, effects },
  media_references: {
    DEFAULT_MEDIA: { OTIO_SCHEMA: 'ExternalReference.1', target_url: file, available_range: available },
  },
  active_media_reference_key: 'DEFAULT_MEDIA',
});
const timelineOf = (...children: object[]) =>
  JSON.stringify({
    OTIO_SCHEMA: 'Timeline.1',
    tracks: {
      OTIO_SCHEMA: 'Stack.1',
      children: [
        { OTIO_SCHEMA: 'Track.1', kind: 'Audio', children: children.toReversed() },
        { OTIO_SCHEMA: 'Track.1', kind: 'Video', children },
      ],
    },
  });

test('clips side by side are cuts: worked by hand from rational times, with warps, freezes, gaps and what lies over', () => {
  const text = timelineOf(
    // The file's own count begins at 900: 100 frames, 4 s, into it.
    clip('file:///film/Door%20to%20pond.mp4', range(1000, 50, 25), range(900, 400, 25)),
    { OTIO_SCHEMA: 'Transition.1', in_offset: time(5, 25), out_offset: time(5, 25) },
    clip('pond.mov', null, range(0, 48, 24), [{ OTIO_SCHEMA: 'LinearTimeWarp.1', time_scalar: -2 }]),
    { OTIO_SCHEMA: 'Gap.1', source_range: range(0, 10, 25) },
    clip('board.mp4', range(0, 30, 25), range(0, 30, 25)),
    {
      OTIO_SCHEMA: 'Clip.1',
      ...{ name: 'held.png', source_range: range(3, 20, 25) },
      media_reference: { OTIO_SCHEMA: 'MissingReference.1' },
      effects: [{ OTIO_SCHEMA: 'FreezeFrame.1', time_scalar: 0 }],
    },
  );
  expect(readTimeline(text, ntsc)).toEqual({
    rate: pal,
    cuts: [
      {
        outgoing: { names: ['Door to pond.mp4', 'a clip'], start: 4, frames: 50, percent: 100 },
        // 48 frames at 24 are two seconds: 50 of the timeline's.
        incoming: { names: ['pond.mov', 'a clip'], start: 0, frames: 50, percent: -200 },
        at: 50,
        edge: { opens: 45, closes: 54 },
      },
      {
        outgoing: { names: ['board.mp4', 'a clip'], start: 0, frames: 30, percent: 100 },
        incoming: { names: ['held.png'], start: 0.12, counted: 0.12, frames: 20, percent: 0 },
        at: 140,
      },
    ],
  });
});

test('where two tracks lie one over the other, the clip that ends first goes', () => {
  const track = (...children: object[]) => ({ OTIO_SCHEMA: 'Track.1', kind: 'Video', children });
  const empty = { OTIO_SCHEMA: 'Gap.1', source_range: range(0, 30, 25) };
  const children = [
    track(empty, clip('pond.mov', range(5, 60, 25), range(0, 90, 25))),
    track(clip('door.mov', range(10, 50, 25), range(0, 90, 25))),
  ];
  const text = JSON.stringify({ OTIO_SCHEMA: 'Timeline.1', tracks: { OTIO_SCHEMA: 'Stack.1', children } });
  const { cuts } = readTimeline(text, pal);
  expect(cuts).toEqual([
    {
      // Both are seen from frame 30 to 49.
      ...{ at: 40, overlap: 10 },
      outgoing: { names: ['door.mov', 'a clip'], start: 0.4, frames: 40, percent: 100 },
      incoming: { names: ['pond.mov', 'a clip'], start: 0.2, frames: 50, percent: 100 },
    },
  ]);
  const clock = { rate: pal, frameCount: 90 };
  const { timing } = timingOf(cuts[0], pal, pal, { outgoing: clock, incoming: clock });
  expect(sourceFrameAt(0, timing.outgoing, pal, { rate: pal })).toBe(10);
  expect(sourceFrameAt(30, timing.incoming, pal, { rate: pal })).toBe(5);
});

// SMPTE ST 12-1: at 29.97 drop-frame 00:10:00;00 is frame 17982, 00:01:00;02 is 1800.
test('a list is read in drop-frame, with speeds, names, and a dissolve told in two lines', () => {
  const list = [
    'TITLE: GLASSHOUSE',
    'FCM: DROP FRAME',
    '001  AX       V     C        00:00:59:28 00:01:00:06 00:09:59:20 00:10:00:00',
    '* FROM CLIP NAME: gardener.mp4',
    '002  AX       A     C        00:00:00:00 00:00:10:00 00:09:59:20 00:10:10:00',
    '003  AX       V     C        00:01:00:06 00:01:00:06 00:10:00:00 00:10:00:00',
    '003  AX       V     D    012 00:10:00:00 00:10:02:00 00:10:00:00 00:10:04:00',
    'M2   AX       -014.9                00:10:00:00',
    '* FROM CLIP NAME: gardener.mp4',
    '* TO CLIP NAME: Lily pond.mov',
  ].join('\r\n');
  const { cuts } = readTimeline(list, ntsc);
  expect(cuts).toHaveLength(1);
  const [{ outgoing, incoming, at }] = cuts;
  expect([outgoing.names[0], incoming.names[0], outgoing.frames, at]).toEqual([
    'gardener.mp4',
    'Lily pond.mov',
    10,
    10,
  ]);
  expect(outgoing.start).toBeCloseTo((1798 * 1001) / 30000, 9);
  expect(incoming.start).toBeCloseTo((17982 * 1001) / 30000, 9);
  expect(incoming.percent).toBeCloseTo((-100 * 14.9 * 1001) / 30000, 9);
});

test('a clip finds its file by name, and both shots lie in the crossing as the cut has them', () => {
  const shots = [
    { id: 'a', name: 'Pond at night', originalName: 'pond.mp4', rate: pal },
    { id: 'b', name: 'Gardener', originalName: 'take 3.mov', rate: ntsc },
    { id: 'c', name: 'pond', originalName: 'other.mp4', rate: pal },
  ];
  const named = (...names: string[]) =>
    shotOfClip({ names, start: 0, frames: 1, percent: 100 }, shots)?.id ?? null;
  expect([
    named('pond.mp4'),
    named('POND.MOV'),
    named('gardener'),
    named('x', 'take 3.mov'),
    named('x'),
  ]).toEqual(['a', 'a', 'b', 'b', null]);
  for (const percent of [100, 250, -80]) {
    const cut = {
      outgoing: { names: [], start: 2, frames: 60, percent: 100 },
      incoming: { names: [], start: 10, frames: 500, percent },
      at: 60,
    };
    const clocks = { outgoing: { rate: ntsc, frameCount: 200 }, incoming: { rate: pal, frameCount: 600 } };
    const { timing, unplaced } = timingOf(cut, ntsc, pal, clocks);
    expect(unplaced).toEqual([]);
    expect([timing.cut, timing.length]).toEqual([50, 100]);
    expect(sourceFrameAt(0, timing.outgoing, pal, { rate: ntsc })).toBe(60);
    expect(sourceFrameAt(50, timing.incoming, pal, { rate: pal })).toBe(250);
    expect([timing.incoming.speed, timing.incoming.reverse]).toEqual([Math.abs(percent), percent < 0]);
  }
  // Files whose own timecode begins on a full hour, or who knows where.
  const at = (start: number) => ({ names: [], start, frames: 50, percent: 100 });
  const cut = { outgoing: at(3600 + 2), incoming: at(5 * 3600 + 1000), at: 50 };
  const clock = { rate: pal, frameCount: 600 };
  const { timing, unplaced } = timingOf(cut, pal, pal, { outgoing: clock, incoming: clock });
  expect([timing.outgoing.offset, timing.incoming.offset, unplaced]).toEqual([50, -50, [cut.incoming]]);
  // The list counts at the rate of what it names, whichever rate comes first.
  const list = '1 AX V C 00:00:00:29 00:00:02:00 00:00:00:00 00:00:01:01\n* FROM CLIP NAME: take 3.mov\n';
  const next = '2 AX V C 00:00:00:00 00:00:02:00 00:00:01:01 00:00:03:01\n* FROM CLIP NAME: pond.mp4\n';
  expect(timelineFor(list + next, shots).rate).toEqual(ntsc);
});

test('what is no timeline is refused in a sentence', () => {
  const deep = '{"OTIO_SCHEMA":"Stack.1","children":['.repeat(400) + ']}'.repeat(400);
  for (const [text, says] of [
    ['{"OTIO_SCHEMA": "Timeline.1"', /incomplete/],
    ['{"a": 1}', /not an OpenTimelineIO/],
    [timelineOf(clip('a', range(0, 5, 25), range(0, 5, 25))), /no clip follows another/],
    ['Dear editor, please find attached', /neither/],
    ['1 AX V C 00:00:00:27 00:00:02:00 00:00:00:00 00:00:01:01', /does not fit the rate/],
    [deep, /no clip follows another/],
    [timelineOf(clip('a', { start_time: { value: 1e400, rate: 0 } }, {}), clip('b', null, {})), /no clip/],
  ] as const) {
    expect(() => readTimeline(text, pal)).toThrow(NoTimeline);
    expect(() => readTimeline(text, pal)).toThrow(says);
  }
});
