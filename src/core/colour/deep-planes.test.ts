import { type PlaneLayout, planeSamples, toDeepPlanes } from './deep-planes';
import { rgbaToI420 } from './matrix';

const colour = { matrix: 'bt709', fullRange: false } as const;
const wide: PlaneLayout = { chroma: '4:2:2', alpha: false };

function planesOf(rgba: Float32Array, width: number, height: number, layout: PlaneLayout) {
  const out = new Uint16Array(planeSamples(width, height, layout));
  toDeepPlanes(rgba, width, height, colour, layout, out);
  return out;
}

const plain = (r: number, g: number, b: number, a = 1) =>
  Float32Array.from({ length: 16 }, (_, i) => [r, g, b, a][i % 4]);

test('plain colours have the ten-bit values of BT.709-6, section 5: black 64, white 940, no colour 512', () => {
  for (const [rgb, wanted] of [
    [
      [0, 0, 0],
      [64, 512, 512],
    ],
    [
      [1, 1, 1],
      [940, 512, 512],
    ],
    // Y = 64 + 876 · 0.2126, Cb = 512 − 896 · 0.2126 / 1.8556, Cr = 512 + 448.
    [
      [1, 0, 0],
      [250, 409, 960],
    ],
    [
      [0, 0, 1],
      [127, 960, 471],
    ],
  ] as const) {
    const [r, g, b] = rgb;
    for (const layout of [
      wide,
      { chroma: '4:2:0', alpha: false },
      { chroma: '4:4:4', alpha: false },
    ] as const) {
      const planes = planesOf(plain(r, g, b), 2, 2, layout);
      const chroma = (planes.length - 4) / 2;
      expect([planes[0], planes[4], planes[4 + chroma]]).toEqual(wanted);
    }
  }
  const cut = planesOf(plain(1, 1, 1, 0.5), 2, 2, { chroma: '4:4:4', alpha: true });
  expect([...cut.subarray(12)]).toEqual([512, 512, 512, 512]);
});

test('4:2:0 is the eight-bit planes with two bits more, whatever the picture', () => {
  const [width, height] = [16, 8];
  const bytes = Uint8Array.from(
    { length: width * height * 4 },
    (_, i) => (i * 7919 + (i >> 3) * 104_729) % 256,
  );
  const eight = new Uint8Array(width * height * 1.5);
  rgbaToI420(bytes, width, height, colour, eight);
  const ten = planesOf(
    Float32Array.from(bytes, (value) => value / 255),
    width,
    height,
    { chroma: '4:2:0', alpha: false },
  );
  ten.forEach((value, i) => expect(Math.abs(value / 4 - eight[i])).toBeLessThanOrEqual(0.63));
});
