import { pictureOf, texture } from '../../../fixtures/pass-film';
import type { Frames } from './frames';
import { lightChange, SteadyFrames } from './steady-light';

const ground = texture(3, 60, 190);
const cloth = texture(4, 40, 120);
/** Something dark goes over a third of the picture, in light that flickers by gains that are known. */
const gains = [1, 0.82, 1.1, 0.7, 0.95, 1.07, 1, 1];
const lit = (value: number, gain: number) => Math.min(235, 16 + (value - 16) * gain);
const luma = (x: number, y: number, t: number) =>
  Math.abs(x - 60 - 20 * t) < 50 ? cloth(x - 20 * t, y) : ground(x, y);
const pictures = gains.map((gain, t) => pictureOf((x, y) => lit(luma(x, y, t), gain)));
const film = (): Frames => ({ count: gains.length, picture: (frame) => Promise.resolve(pictures[frame]) });

test('the change of the light from frame to frame is found within one in a hundred, whatever moves', () => {
  for (let t = 1; t < gains.length; t++) {
    const found = Math.exp(lightChange(pictures[t - 1], pictures[t]));
    expect(Math.abs(found / (gains[t] / gains[t - 1]) - 1)).toBeLessThan(0.01);
  }
  // A picture that is all but black says nothing.
  const dark = pictureOf(() => 20);
  expect(lightChange(dark, pictures[0])).toBe(0);
});

test('frames are as bright as the first that was asked for, in whatever order; where nothing flickers they stay themselves', async () => {
  const steady = new SteadyFrames(film());
  expect(await steady.picture(0)).toBe(pictures[0]);
  for (const t of [3, 1, 2, 5, 7]) {
    const { planes } = await steady.picture(t);
    expect((await steady.picture(t)).planes).toBe(planes);
    const off = planes.y.map((value, i) => {
      const [x, y] = [(i % planes.width) + 0.5, Math.floor(i / planes.width) + 0.5];
      return Math.abs(value - luma(x, y, t));
    });
    expect(off.slice().sort()[Math.floor(0.9 * off.length)]).toBeLessThan(4);
  }
  const calm = new SteadyFrames({ count: 2, picture: () => Promise.resolve(pictures[0]) });
  await calm.picture(0);
  expect(await calm.picture(1)).toBe(pictures[0]);
});
