import { firstPicture } from './first-picture';
import { resetView, setView } from './view-store';

Object.assign(globalThis, { localStorage: { getItem: () => null, setItem: () => undefined } });

const settled = async (waiting: Promise<void>) => {
  let done = false;
  void waiting.then(() => (done = true));
  await Promise.resolve();
  await Promise.resolve();
  return done;
};
const shown = { frame: 3, milliseconds: 20, spent: {} as never, original: true };

beforeEach(() => resetView(0, null));

test('what waits for the first picture begins with it, or with word that there is none', async () => {
  const waiting = firstPicture();
  setView({ frame: 2 });
  expect(await settled(waiting)).toBe(false);
  setView({ shown });
  expect(await settled(waiting)).toBe(true);
  // Whoever comes later waits for nothing.
  expect(await settled(firstPicture())).toBe(true);
  resetView(0, null);
  const another = firstPicture();
  setView({ failure: 'This browser cannot decode the shot’s pictures.' });
  expect(await settled(another)).toBe(true);
});

test('a picture that does not come is not waited for without end', async () => {
  jest.useFakeTimers();
  const waiting = firstPicture(800);
  jest.advanceTimersByTime(799);
  expect(await settled(waiting)).toBe(false);
  jest.advanceTimersByTime(1);
  expect(await settled(waiting)).toBe(true);
  jest.useRealTimers();
});
