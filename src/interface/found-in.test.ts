import { foundIn } from './found-in';

test('what is found has every word, whatever its order or case; nothing asked for is all', () => {
  const all = ['Glasshouse to lily pond', 'Door to the pond', 'Trolley, bridge'];
  const of = (text: string) => foundIn(all, text, (each) => each);
  expect(of('')).toEqual(all);
  expect(of('  POND  door ')).toEqual(['Door to the pond']);
  expect(of('pond')).toEqual(all.slice(0, 2));
  expect(of('pond bridge')).toEqual([]);
});
