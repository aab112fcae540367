import { csvText } from '@/interface/csv';
import { plainOutline, plainPose, poseId } from '@/core/document/tables';
import { numbersPerPoint as N } from '@/core/model/choices';
import type { Shot } from '@/core/model/shot';
import { pointRows } from '@/core/formats/lists';
import { NoPaths } from './no-paths';
import { checkSizes, leftOutOf, pathsIn as readPaths, pathsOfFrames as readFrames } from './read-paths';
import { linesOfPath } from './svg-lines';
import { pathData } from '@/core/formats/svg';

const shot = { width: 1280, height: 720 };
const svg = (content: string, head = 'viewBox="0 0 1280 720"') =>
  `<?xml version="1.0"?><!-- drawn --><svg xmlns="http://www.w3.org/2000/svg" ${head}>${content}</svg>`;
/** Stands for the browser, which is asked in e2e/paths.spec.ts: paths in px, in groups that name a frame. */
const plainSvg = (text: string) => {
  const lines = [...text.matchAll(/(?:frame-|data-frame=")(\d+)|<path d="([^"]+)"/g)].reduce(
    ({ frame, found }, [, named, d]) =>
      named !== undefined
        ? { frame: Number(named), found }
        : { frame, found: [...found, ...linesOfPath(d, [1, 0, 0, 1, 0, 0], '', frame).lines] },
    { frame: null as number | null, found: [] as ReturnType<typeof linesOfPath>['lines'] },
  ).found;
  return { lines, leftOut: lines.length > 3 ? ['1 text.'] : [] };
};
const pathsIn = (text: string, size: { width: number; height: number }) =>
  readPaths(text, size, plainSvg).paths;
const pathsOfFrames = (files: { name: string; text: string }[], size: { width: number; height: number }) =>
  readFrames(files, size, plainSvg).paths;
const places = (coordinates: readonly number[]) =>
  Array.from({ length: coordinates.length / N }, (_, k) => coordinates.slice(k * N, k * N + 2));

test('what Kiv writes comes in again without moving a point by 0.005 px', () => {
  const coordinates = [
    100.1234, 20.5, -9.25, 8, 14, -12.3456, 900, 300.12345, 0, 0, 10, 20, 60, 680, 20, 3, -18, -2,
  ];
  const [path] = pathsIn(svg(`<g id="frame-12"><path d="${pathData(coordinates, true)}"/></g>`), shot);
  expect(path).toMatchObject({ kind: 'loop', poses: [{ frame: 12 }] });
  path.poses[0].coordinates.forEach((value, k) =>
    expect(Math.abs(value - coordinates[k])).toBeLessThan(0.002),
  );
  const [seam] = pathsIn(svg(`<path d="${pathData(coordinates, false)}"/>`), shot);
  expect(seam.kind).toBe('seam');
  expect(seam.poses[0].frame).toBeNull();
});

test('files numbered by frame become poses, with the first one’s points where a line has others', () => {
  const file = (name: string, path: string) => ({ name, text: svg(`<path d="${path}"/>`) });
  const [outline] = pathsOfFrames(
    [
      file('edge 0012.svg', 'M300 0L300 360L300 720'),
      file('edge 0010.svg', 'M100 0L100 200L100 720'),
      file('edge 0011.svg', 'M200 0L200 720'),
    ],
    shot,
  );
  expect(outline.poses.map(({ frame }) => frame)).toEqual([10, 11, 12]);
  expect(outline.poses.map(({ coordinates }) => places(coordinates))).toEqual([
    [
      [100, 0],
      [100, 200],
      [100, 720],
    ],
    [
      [200, 0],
      [200, 200],
      [200, 720],
    ],
    [
      [300, 0],
      [300, 360],
      [300, 720],
    ],
  ]);
  expect(() => pathsOfFrames([file('a.svg', 'M0 0L9 9'), file('b.svg', 'M0 0L9 9')], shot)).toThrow(
    /no number/,
  );
});

test('a list of points comes in as it went out, and lists from elsewhere with their own columns', () => {
  const outline = {
    ...{ ...plainOutline, id: 'o', layerId: 'l', cutsLayerId: null, name: 'Pane', kind: 'loop' as const },
    ...{ sweptSide: 'right' as const, position: 0, points: ['a', 'b', 'c'] },
  };
  const pose = (frame: number, x: number) => ({
    ...{ ...plainPose, id: poseId('o', frame), outlineId: 'o', frame },
    ...{ origin: 'by hand' as const, onward: 'linear' as const },
    coordinates: [x, 20.5, -9.25, 8, 14, -12, 900, 300, 0, 0, 10, 20, 60, 680, 20, 3, -18, -2],
  });
  const poses = [pose(4, 100), pose(9, 130.126)];
  const [back, ...none] = pathsIn(
    csvText(pointRows({ shot: shot as Shot, outline, poses, edges: [] })),
    shot,
  );
  expect(none).toEqual([]);
  expect(back.kind).toBe('loop');
  expect(back.poses.map(({ frame, coordinates }) => [frame, coordinates])).toEqual(
    poses.map(({ frame, coordinates }) => [frame, coordinates]),
  );
  // Corners only, other separators and order of columns, with a byte order mark; down the frame, so it is a seam.
  const [seam] = pathsIn('\uFEFFx;Y;Frame\r\n610;-4;12\r\n"620";400;12\r\n600;726;12\r\n', shot);
  expect(seam).toMatchObject({ kind: 'seam', poses: [{ frame: 12 }] });
  expect(places(seam.poses[0].coordinates)).toEqual([
    [610, -4],
    [620, 400],
    [600, 726],
  ]);
  for (const [rows, says] of [
    ['3,10,20\n3,ten,20', /Row 3 of this list has no x that can be: “ten”/],
    ['3,10,20\n3.5,10,20', /Row 3 of this list is of frame 3.5/],
    ['3,10,20\n-3,10,20', /Row 3 of this list has no frame/],
    ['3,10,20\n3,10', /Row 3 of this list is not as long/],
    ['3,10,1e9', /Row 2 of this list has no y/],
    ['', /no lines/],
  ] as const)
    expect(() => pathsIn(`frame,x,y\n${rows}`, shot)).toThrow(says);
});

test('groups a frame become poses; what cannot be taken is said', () => {
  const frames = [3, 5].map((n) => `<g data-frame="${n}"><path d="M${n} 0L9 ${n}L20 20Z"/></g>`).join('');
  const [outline] = pathsIn(svg(frames), shot);
  expect(outline.poses.map(({ frame, coordinates }) => [frame, coordinates[0]])).toEqual([
    [3, 3],
    [5, 5],
  ]);
  for (const [text, says] of [
    [svg(''), /no lines/],
    [svg(`${frames}<g data-frame="7"><path d="M0 0L9 9L3 3L4 5"/></g>`), /On frame 7 the line is open/],
    [svg('<path d="M0 0L1e9 3"/>'), /farther away/],
    [svg(`<path d="M0 0${'L1 1L2 2'.repeat(1200)}"/>`), /more than 2000 points/],
    ['{"format": "kiv outline", "version": 4}', /another version/],
    ['{"format"', /not valid JSON/],
    ['{"format": "kiv outline", "version": 1, "kind": "loop", "poses": []}', /incomplete/],
  ] as const)
    expect(() => pathsIn(text, shot)).toThrow(says);
  expect(() => pathsIn(svg(''), shot)).toThrow(NoPaths);
});

test('path data is taken as far as it can be read, and where it breaks off is said', () => {
  const read = (d: string) => linesOfPath(d, [2, 0, 0, 2, 10, 0], 'a', null);
  const wave = read('M0 0q10 0 10 10t10 10').lines[0].coordinates;
  // A reflected quadratic goes on as it came.
  expect(wave[N + 4]).toBeCloseTo(-wave[N + 2], 6);
  expect(wave[N + 5]).toBeCloseTo(-wave[N + 3], 6);
  for (const [d, at] of [
    ['M0 0L10 0L10 10X5 5L9 9', 15],
    ['M0 0L10 0L10 10R5 5 9 9', 15],
    ['M0 0L10 0L10 10L7', 17],
  ] as const) {
    const { lines, brokenAt } = read(d);
    expect(places(lines[0].coordinates)).toEqual([
      [10, 0],
      [30, 0],
      [30, 20],
    ]);
    expect([d, brokenAt]).toEqual([d, at]);
  }
  // A newline is a space; what follows a closed part begins where that did.
  const { lines, brokenAt } = read('M0 0\n10 0 10 10zL-5 5');
  expect([lines.length, brokenAt, places(lines[1].coordinates)]).toEqual([
    2,
    null,
    [
      [10, 0],
      [0, 10],
    ],
  ]);
});

test('what is too large is refused before it is read; what is left out is said, the first of it one by one', () => {
  expect(() => checkSizes([{ name: 'a.svg', size: 30e6 }])).toThrow('30 MB; Kiv reads up to 8 MB');
  expect(() => checkSizes([{ name: 'a.csv', size: 31e6 }])).toThrow('up to 30 MB');
  checkSizes([
    { name: 'a.csv', size: 20e6 },
    { name: 'b.svg', size: 7e6 },
  ]);
  expect(leftOutOf([])).toEqual([]);
  expect(leftOutOf(Array.from({ length: 8 }, (_, k) => `${k}.`)).join(' ')).toBe(
    'Left out: 0. 1. 2. 3. 4. 5. And 2 more.',
  );
});
