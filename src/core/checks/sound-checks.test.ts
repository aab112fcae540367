import { soundingCrossing, soundingFrame as perFrame, soundPiece } from '../../../fixtures/sounding';
import type { PieceRow } from '../document/tables';
import { type Heard, mendSound, soundFindings } from './sound-checks';
import { applyChanges } from '../document/document';

/** A wind of 40 frames. */
const piece = (changes: Partial<PieceRow>) => soundPiece({ name: 'Wind', length: 40 * perFrame, ...changes });

function looked(
  pieces: readonly PieceRow[],
  more: Partial<Heard> = {},
  levels: readonly number[] = [-20, -20],
) {
  const document = soundingCrossing(pieces, { role: 'incoming' });
  const heard: Heard = {
    pieces: pieces.map(({ id, start, length }) => ({
      ...{ id, from: start, to: start + length },
      ...{ startLevel: levels[0], endLevel: levels[1] },
    })),
    missing: [],
    highest: -3,
    highestAt: 0,
    ...more,
  };
  const coverage = Array.from({ length: 50 }, (_, n) => Math.min(1, Math.max(0, (n - 20) / 10)));
  const findings = soundFindings(document, heard, coverage, []);
  return { document, heard, findings, kinds: findings.map(({ kind }) => kind) };
}

test('an end in the middle of sound is found and faded; a quiet one, a faded one and one that goes on are not', () => {
  const { document, heard, findings, kinds } = looked([piece({})]);
  expect(kinds).toEqual(['sound breaks off']);
  expect(findings[0].worst).toBe(39);
  const mended = applyChanges(document, mendSound(document, findings[0], heard));
  expect(mended.pieces.p.fadeOut).toBeGreaterThan(0);
  expect(looked([piece({ fadeOut: 100 })]).kinds).toEqual([]);
  expect(looked([piece({})], {}, [-20, -70]).kinds).toEqual([]);
  const halves = [
    piece({ length: 10 * perFrame }),
    piece({ id: 'q', start: 10 * perFrame, inSample: 10 * perFrame, length: 30 * perFrame, fadeOut: 9 }),
  ];
  expect(looked(halves).kinds).toEqual([]);
  // Moved apart, both ends are heard.
  const apart = [halves[0], { ...halves[1], start: 11 * perFrame }];
  expect(looked(apart).kinds.sort()).toEqual(['sound breaks off', 'sound jumps']);
});

test('a piece whose file was deleted is named where it lies, and nothing else of it is found', () => {
  const { findings } = looked([piece({ start: 21 * perFrame, length: perFrame, fadeOut: 9 })], {
    missing: ['p'],
  });
  expect(findings.map(({ kind, worst, pieceId }) => [kind, worst, pieceId])).toEqual([
    ['sound is missing', 21, 'p'],
  ]);
  expect(findings[0].says).toContain('Wind is silent');
});

test('a sum over full scale is turned down by what it is over', () => {
  const { document, heard, findings } = looked([piece({ fadeOut: 9 })], { highest: 4.2, highestAt: 12 });
  expect(findings.map(({ kind, worst }) => [kind, worst])).toEqual([['sound clips', 12]]);
  expect(applyChanges(document, mendSound(document, findings[0], heard)).pieces.p.level).toBeCloseTo(-4.7);
});

test('sound that begins after the picture opens is late', () => {
  expect(looked([piece({ start: 30 * perFrame, length: 5 * perFrame, fadeOut: 9 })]).kinds).toEqual([
    'sound is late',
  ]);
  expect(looked([piece({ start: 21 * perFrame, length: 5 * perFrame, fadeOut: 9 })]).kinds).toEqual([]);
});
