import { patiently } from './patiently';

test('a part that cannot be fetched is asked for again until it comes; a broken one fails at once', async () => {
  const away = Object.assign(new Error('Failed to load chunk'), { name: 'ChunkLoadError' });
  const load = jest.fn(async () => 'part').mockRejectedValueOnce(away);
  await expect(patiently(load)).resolves.toBe('part');
  expect(load).toHaveBeenCalledTimes(2);
  const broken = jest.fn(() => Promise.reject(new TypeError('x is not a function')));
  await expect(patiently(broken)).rejects.toThrow('x is not a function');
  expect(broken).toHaveBeenCalledTimes(1);
});
