import { between, seeded } from '../../demo/random';
import { going, person, subject, type Subject } from './subjects';

/** How many are put together by chance. */
const count = 30;
/** Frames of each, and what they walk before: photographs. */
const [frames, grounds] = [34, ['alps', 'boats', 'canyon', 'house'] as const];

/** Seed of what their clothes are drawn by: only the dyes differ. */
const cloths = 1000;
/** px of a person of full size from the hip within which their limbs stay. */
const reach = 250;

/** People put together by chance: how large, which way and how fast they walk, how they swing, what they wear and what is behind them. */
export const people: Subject[] = Array.from({ length: count }, (_, k) => {
  const random = seeded(900 + k);
  const size = between(random, 0.62, 1.2);
  const way = random() < 0.5 ? 1 : -1;
  const pace = between(random, 4, 10);
  const dye = (low: number, high: number) => ({
    colour: [between(random, low, high), between(random, low, high), between(random, low, high)] as const,
    contrast: between(random, 0.5, 1),
  });
  const middle = 640 - (way * pace * frames) / 2;
  const at = going(middle, between(random, 380, 430), way * pace, 0);
  const texture = grounds[Math.floor(random() * grounds.length)];
  const parts = person(cloths, between(random, 0.2, 0.42), dye(0.4, 1.6), dye(0.3, 1.2));
  return subject(
    { name: `chance ${k + 1}`, what: 'somebody put together by chance' },
    frames,
    { texture },
    (x, y, t) => {
      const [u, v] = at(x, y, t);
      return [(way * u) / size, v / size];
    },
    parts,
    (t) => [middle + way * pace * t - reach * size, middle + way * pace * t + reach * size],
  );
});
