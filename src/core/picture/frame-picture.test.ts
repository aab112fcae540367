import { FramePicture, lumaAt, slopeAt } from './frame-picture';

const [width, height] = [13, 9];
const y = Uint8Array.from({ length: width * height }, (_, i) => (i * i * 37 + i * 11) % 256);
const chroma = new Uint8Array(7 * 5).fill(128);
const colour = { matrix: 'bt709', fullRange: false } as const;
const picture = new FramePicture({
  width,
  height,
  chromaWidth: 7,
  chromaHeight: 5,
  y,
  u: chroma,
  v: chroma,
  colour,
});

test('the slope is the central difference of what lies between samples, at the border too', () => {
  const level = picture.level(0);
  const slope = new Float64Array(2);
  for (let x = 0; x <= width; x += 0.37)
    for (let down = 0; down <= height; down += 0.41) {
      slopeAt(level, x, down, slope);
      expect(slope[0]).toBeCloseTo((lumaAt(level, x + 1, down) - lumaAt(level, x - 1, down)) / 2, 9);
      expect(slope[1]).toBeCloseTo((lumaAt(level, x, down + 1) - lumaAt(level, x, down - 1)) / 2, 9);
    }
});

test.each([13, 16])(
  'the denoised picture is the mean by 1, 2, 1 both ways, the border repeated: %i px wide',
  (wide) => {
    const samples = Uint8Array.from({ length: wide * height }, (_, i) => (i * i * 91 + i * 7) % 256);
    const { denoised } = new FramePicture({ ...picture.planes, width: wide, y: samples });
    const at = (x: number, down: number) =>
      samples[Math.min(height - 1, Math.max(0, down)) * wide + Math.min(wide - 1, Math.max(0, x))];
    for (let down = 0; down < height; down++)
      for (let x = 0; x < wide; x++) {
        let sum = 0;
        for (const [i, a] of [1, 2, 1].entries())
          for (const [j, b] of [1, 2, 1].entries()) sum += a * b * at(x + i - 1, down + j - 1);
        expect(denoised.planes.y[down * wide + x]).toBe(Math.floor(sum / 16 + 0.5));
      }
    expect(denoised.planes.u).toEqual(chroma);
  },
);
