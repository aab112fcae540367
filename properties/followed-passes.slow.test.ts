import { readFileSync } from 'node:fs';
import path from 'node:path';
import { type PassTruth } from '../bench/clip-frames';
import { readFilm } from '../demo/film-frames';
import { LineFollower } from '../src/core/carry/line-follower';
import { type LineModel, SeamModel } from '../src/core/carry/line-model';
import { quantile } from '../src/core/numbers/quantile';

/**
 * The follower on short pieces of three of the bench's drawn passes, halved (fixtures/passes): distances from the truth
 * stay below ceilings of two to three times what they are, so that accuracy cannot slip unseen. `npm run bench -- carry` has all
 * passes, whole and at full size.
 */

type Line = PassTruth['truth'][number];

/** px from a place to a line of points that ascend by y. */
function across(x: number, y: number, line: Line): number {
  const k = Math.max(
    1,
    line.findIndex((point) => point[1] >= y),
  );
  const [[ax, ay], [bx, by]] = [line[k - 1], line[k]];
  const [dx, dy] = [bx - ax, by - ay];
  return Math.abs((x - ax) * dy - (y - ay) * dx) / Math.hypot(dx, dy);
}

function offBy(model: LineModel, truth: Line): number[] {
  const [top, bottom] = [truth[0][1], truth[truth.length - 1][1]];
  return model.runs.flatMap(({ line }) =>
    [...line.x].flatMap((x, i) =>
      line.y[i] > top && line.y[i] < bottom ? [across(x, line.y[i], truth)] : [],
    ),
  );
}

const followed = 10;

test.each([
  ['pole', 0.2, 0.7],
  ['trunk', 0.3, 2],
  ['van', 0.2, 0.6],
])(
  '%s is followed over ten frames from one pose, half of it within %d px, 95 %% within %d px',
  async (name, half, most) => {
    const folder = path.join('fixtures', 'passes');
    const pass = JSON.parse(readFileSync(path.join(folder, `${name}.json`), 'utf8')) as PassTruth;
    const frames = readFilm(path.join(folder, `${name}.mp4`), pass);
    const first = pass.side === 'right' ? pass.truth[0].slice().reverse() : pass.truth[0];
    const follower = new LineFollower(frames, 1);
    await follower.begin(0, SeamModel.along(first, 4));
    const off: number[] = [];
    for (let k = 1; k <= followed; k++) {
      const step = await follower.step();
      off.push(...offBy(step!.model, pass.truth[k]));
    }
    expect(off.length).toBeGreaterThan(500);
    expect(quantile(off, 0.5)).toBeLessThan(half);
    expect(quantile(off, 0.95)).toBeLessThan(most);
  },
);
