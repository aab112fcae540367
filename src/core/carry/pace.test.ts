import { height, pictureOf, straightEdge, texture } from '../../../fixtures/pass-film';
import type { Frames } from './frames';
import { usualSettings } from './follow-settings';
import { SeamModel } from './line-model';
import { paceAt } from './pace';

const behind = texture(1, 90, 200);
const object = texture(2, 70, 180);
const edge = (y: number, t: number, pace: number) => straightEdge(y, 0) + 30 + pace * t;

/** An edge that goes to the right before what goes at `pan` px a frame; what it bounds shows a pattern that goes at `own`. */
function film(pace: number, own: number, pan: number): Frames {
  const pictures = [0, 1, 2].map((t) =>
    pictureOf((x, y) => {
      const share = Math.min(1, Math.max(0, x - edge(y, t, pace) + 0.5));
      return (1 - share) * behind(x - pan * t, y) + share * object(x - own * t, y);
    }),
  );
  return { count: pictures.length, picture: (frame) => Promise.resolve(pictures[frame]) };
}

const lineAt = (pace: number) =>
  SeamModel.along(
    Array.from({ length: height / 10 + 1 }, (_, k): [number, number] => [edge(10 * k, 1, pace), 10 * k]),
    4,
  ).runs[0].line;

test.each([
  [9, 0, 0],
  [9, 2, -1],
  [-6, 0, 1],
])(
  'an edge at %s px a frame is seen to go so over a pattern at %s, before what goes at %s',
  async (pace, own, pan) => {
    for (const direction of [1, -1] as const) {
      const context = { frames: film(pace, own, pan), direction, settings: usualSettings };
      // The object is on its right: away from it is to the left.
      const came = await paceAt(context, 1, lineAt(pace));
      expect(Math.abs(came!.by + direction * pace)).toBeLessThan(1.5);
    }
  },
);

test('where only one neighbour is there, or both sides look alike, nothing is said', async () => {
  const frames = film(9, 0, 0);
  const context = { frames, direction: 1, settings: usualSettings } as const;
  expect(await paceAt(context, 0, lineAt(9))).toBeNull();
  const plain = pictureOf(() => 120);
  const same = { count: 3, picture: () => Promise.resolve(plain) };
  expect(await paceAt({ ...context, frames: same }, 1, lineAt(9))).toBeNull();
});
