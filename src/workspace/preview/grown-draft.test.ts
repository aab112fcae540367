import { changeRow } from '@/core/document/edit';
import { plainCrossing } from '@/core/document/tables';
import { grownBy } from './preview-client';

jest.mock('comlink', () => ({}));
Object.assign(globalThis, { localStorage: { getItem: () => null, setItem: () => undefined } });

const sizes = { width: 64, height: 36, rateNum: 25, rateDen: 1, length: 9 };
const crossing = { ...plainCrossing, ...sizes, id: 'c', plan: 'pass-by' as const };
const named = (name: string) => changeRow('crossing', null, { ...crossing, name });

test('of a draft that has only grown, what is new is sent; of any other, all of it', () => {
  const [a, b, c] = ['A', 'B', 'C'].map(named);
  expect(grownBy([a], [a, b, c])).toEqual([b, c]);
  expect(grownBy([a, b], [a, b])).toEqual([]);
  expect(grownBy([a, b], [a])).toBeNull();
  expect(grownBy([a], [named('A'), b])).toBeNull();
  expect(grownBy(null, [a])).toBeNull();
  expect(grownBy([a], null)).toBeNull();
});
