import { intakesOf, lastNumberOf } from './stills';

const files = (...names: string[]) => names.map((name) => ({ name }));
const shape = (...names: string[]) =>
  intakesOf(files(...names)).map(({ name, kind, files: { length } }) => `${name} ${kind} ${length}`);

test('pictures whose names differ in their last number are one sequence; all else comes alone', () => {
  expect(shape('walk_001.png', 'clip.mp4', 'walk_003.png', 'walk_002.png')).toEqual([
    'walk.png stills 3',
    'clip.mp4 file 1',
  ]);
  // Another beginning or another ending is another sequence; a number within the name is no frame's.
  expect(shape('a1.png', 'b1.png', 'a2.png', 'a1.jpg')).toEqual([
    'a.png stills 2',
    'b1.png stills 1',
    'a1.jpg stills 1',
  ]);
  expect(shape('take 2 shot 07.webp', 'take 2 shot 08.webp')).toEqual(['take 2 shot.webp stills 2']);
  expect(shape('0001.png', '0002.png')).toEqual(['Sequence.png stills 2']);
  expect(shape('poster.jpeg', 'pictures.zip')).toEqual(['poster.jpeg stills 1', 'pictures.zip file 1']);
});

test('a name’s number is found in one pass, however long the name is', () => {
  expect(lastNumberOf('w_007b.png')).toEqual({ before: 'w_', digits: '007', after: 'b.png' });
  expect(lastNumberOf('leaf.png')).toBeNull();
  expect(lastNumberOf(`${'9'.repeat(16)}.png`)).toBeNull();
  const started = performance.now();
  // Such a name took minutes, as every digit was tried as the beginning.
  expect(lastNumberOf(`${'1a'.repeat(200_000)}${'1'.repeat(200_000)}.png`)).toBeNull();
  intakesOf([{ name: `${'1'.repeat(200_000)}.png` }, { name: `${'1a'.repeat(100_000)}.png` }]);
  expect(performance.now() - started).toBeLessThan(2000);
});
