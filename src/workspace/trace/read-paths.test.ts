import { numbersPerPoint as N, plainOutline, plainPose, poseId, type Shot } from '@/core/document/rows';
import { pointsCsv } from '@/core/formats/lists';
import { NoPaths } from './no-paths';
import { pathsIn, pathsOfFrames } from './read-paths';
import { pathData } from '@/core/formats/svg';

const shot = { width: 1280, height: 720 };
const svg = (content: string, head = 'viewBox="0 0 1280 720"') =>
  `<?xml version="1.0"?><!-- drawn --><svg xmlns="http://www.w3.org/2000/svg" ${head}>${content}</svg>`;
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

test('every shape, with transforms, units and viewBox, lies where SVG puts it', () => {
  const drawn = pathsIn(
    svg(
      `<g transform="translate(10 20)"><rect id="Box" x="1" y="2" width="30" height="40" transform="scale(2)"/></g>
       <polyline points="0,0 10,0 10,5"/><polygon points="0 0 10 0 5 8"/><line x1="1mm" y1="0" x2="1in" y2="5"/>
       <circle cx="50" cy="60" r="10"/><path d="M0 0q10 0 10 10t10 10"/><defs><path d="M0 0L9 9"/></defs>`,
    ),
    shot,
  );
  expect(drawn.map(({ kind }) => kind)).toEqual(['loop', 'seam', 'loop', 'seam', 'loop', 'seam']);
  expect(drawn[0].name).toBe('Box');
  expect(places(drawn[0].poses[0].coordinates)).toEqual([
    [12, 24],
    [72, 24],
    [72, 104],
    [12, 104],
  ]);
  expect(places(drawn[3].poses[0].coordinates)[1]).toEqual([96, 5]);
  // A circle by four cubics: handles of 0.5523 radii, at right angles.
  const circle = drawn[4].poses[0].coordinates;
  expect(circle.length / N).toBe(4);
  for (let i = 0; i < circle.length; i += N) {
    expect(Math.hypot(circle[i] - 50, circle[i + 1] - 60)).toBeCloseTo(10, 6);
    expect(Math.hypot(circle[i + 4], circle[i + 5])).toBeCloseTo(5.523, 2);
  }
  // A reflected quadratic goes on as it came.
  const wave = drawn[5].poses[0].coordinates;
  expect(wave[N + 4]).toBeCloseTo(-wave[N + 2], 6);
  expect(wave[N + 5]).toBeCloseTo(-wave[N + 3], 6);
  // A square viewBox lies in the middle of the frame.
  const [middle] = pathsIn(svg('<line x1="0" y1="0" x2="100" y2="100"/>', 'viewBox="0 0 100 100"'), shot);
  expect(places(middle.poses[0].coordinates)).toEqual([
    [280, 0],
    [1000, 720],
  ]);
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
  const [back, ...none] = pathsIn(pointsCsv({ shot: shot as Shot, outline, poses }), shot);
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
    ['hello', /neither SVG nor/],
    [svg(''), /no lines/],
    [svg(`${frames}<g data-frame="7"><path d="M0 0L9 9L3 3L4 5"/></g>`), /On frame 7 the line is open/],
    [svg('<path d="M0 0L1e9 3"/>'), /farther away/],
    [svg(`<path d="M0 0${'L1 1L2 2'.repeat(1200)}"/>`), /more than 2000 points/],
    ['{"format": "kiv outline", "version": 4}', /another version/],
    ['{"format"', /no JSON/],
    ['{"format": "kiv outline", "version": 1, "kind": "loop", "poses": []}', /not whole/],
  ] as const)
    expect(() => pathsIn(text, shot)).toThrow(says);
  expect(() => pathsIn(svg(''), shot)).toThrow(NoPaths);
  // Entities do not grow.
  const bomb = `<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]>${svg('<path d="&b;"/>')}`;
  expect(() => pathsIn(bomb, shot)).toThrow(NoPaths);
});
