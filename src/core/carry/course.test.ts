import { seeded } from '../../../demo/random';
import { evenCourse, type Witness } from './course';

const [frames, count] = [30, 60];

/** What is truly so: a line that sways as a whole and a bulge that comes and goes; 0 at the known frames. */
const truth = (t: number, i: number) => {
  const s = (t + 1) / (frames + 1);
  return Math.sin(Math.PI * s) * (6 + 0.1 * i + 8 * Math.exp(-(((i - 40) / 8) ** 2)));
};

function witness(
  seed: number,
  error: (t: number, i: number) => number,
  wrong: (t: number, i: number) => number = () => 0,
): Witness {
  const random = seeded(seed);
  const rows = (make: (t: number, i: number) => number) =>
    Array.from({ length: frames }, (_, t) => Float64Array.from({ length: count }, (__, i) => make(t, i)));
  return {
    offsets: rows((t, i) => truth(t, i) + wrong(t, i) + (random() - 0.5) * error(t, i)),
    errors: rows(error),
  };
}

function farthest(course: readonly Float64Array[]): number {
  return Math.max(...course.flatMap((row, t) => [...row].map((value, i) => Math.abs(value - truth(t, i)))));
}

test('two witnesses that agree are followed, evenly', () => {
  const course = evenCourse([witness(1, () => 0.3), witness(2, () => 0.3)]);
  expect(farthest(course)).toBeLessThan(0.2);
});

test('where one is lost and says so, the other is followed', () => {
  const lost = (t: number, i: number) => (t > 12 && i > 20 ? 25 : 0);
  const course = evenCourse([
    witness(
      3,
      (t, i) => 0.3 + lost(t, i),
      (t, i) => 2 * lost(t, i),
    ),
    witness(4, () => 0.3),
  ]);
  expect(farthest(course)).toBeLessThan(0.4);
});

test('where both are lost, one without knowing it, the course runs on between what is known around', () => {
  // Something in front covers half of the line for five frames: one sticks to it, the other is anywhere.
  const covered = (t: number, i: number) => t >= 12 && t < 17 && i < 30;
  const course = evenCourse([
    witness(
      5,
      () => 0.3,
      (t, i) => (covered(t, i) ? 12 * (t - 11) : 0),
    ),
    witness(
      6,
      (t, i) => (covered(t, i) ? 20 : 0.3),
      (t, i) => (covered(t, i) ? -30 : 0),
    ),
  ]);
  expect(farthest(course)).toBeLessThan(1);
});

test('a shake that the whole line has in common is not smoothed away', () => {
  const shake = (t: number) => 6 * Math.sin(2.3 * t);
  const shaken = evenCourse([witness(7, () => 0.3, shake), witness(8, () => 0.3, shake)]);
  expect(farthest(shaken.map((row, t) => row.map((value) => value - shake(t))))).toBeLessThan(0.4);
});

test('a run without places has a course without places', () => {
  const none = { offsets: [new Float64Array(0)], errors: [new Float64Array(0)] };
  expect(evenCourse([none, none])).toEqual([new Float64Array(0)]);
});
