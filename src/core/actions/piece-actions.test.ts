import { soundingCrossing, soundPiece } from '../../../fixtures/sounding';
import { applyChanges } from '../document/document';
import type { CrossingDocument, PieceRow } from '../document/tables';
import { type RowChange, inverseChanges } from '../document/edit';
import { removeLayer } from './layer-actions';
import { setMove } from './move-actions';
import {
  addPiece,
  copyPiece,
  freeTrack,
  removePiece,
  shiftPiece,
  splitPiece,
  trimPiece,
} from './piece-actions';
import { mostTracks } from '../model/limits';

const piece = soundPiece({ start: 1000, inSample: 500, length: 4000, fadeIn: 300, fadeOut: 900 });
const crossing = (...pieces: PieceRow[]) => soundingCrossing(pieces);

/** After the changes, having seen that undoing them brings back what was. */
function after(document: CrossingDocument, changes: RowChange[]): CrossingDocument {
  const changed = applyChanges(document, changes);
  expect(applyChanges(changed, inverseChanges(changes))).toEqual(document);
  return changed;
}

test('trimmed, what stays sounds where it did; never before the source’s first sample, nor after its last', () => {
  const document = crossing(piece);
  const trimmed = (end: 'in' | 'out', at: number, length: number | null = null) => {
    const {
      start,
      inSample,
      length: heard,
      fadeIn,
      fadeOut,
    } = after(document, trimPiece(document, 'p', end, at, length)).pieces.p;
    expect(start - inSample).toBe(500);
    expect(Math.max(fadeIn, fadeOut)).toBeLessThanOrEqual(heard);
    return [start, heard];
  };
  expect(trimmed('in', 2000)).toEqual([2000, 3000]);
  expect(trimmed('in', -9000)).toEqual([500, 4500]);
  expect(trimmed('in', 99_000)).toEqual([4999, 1]);
  expect(trimmed('out', 3000)).toEqual([1000, 2000]);
  expect(trimmed('out', 9000)).toEqual([1000, 8000]);
  expect(trimmed('out', 9000, 5000)).toEqual([1000, 4500]);
  expect(trimmed('out', 0)).toEqual([1000, 1]);
});

test('split, both halves together are what was there, with its keys', () => {
  const plain = crossing(piece);
  const document = applyChanges(plain, setMove(plain, 'p', 'level', 3, -6));
  const { pieces, moves } = after(document, splitPiece(document, 'p', 2500, 'q', 'Wind'));
  expect([pieces.p.start, pieces.p.length, pieces.p.inSample]).toEqual([1000, 1500, 500]);
  expect([pieces.q.start, pieces.q.length, pieces.q.inSample]).toEqual([2500, 2500, 2000]);
  expect([pieces.p.fadeIn, pieces.p.fadeOut, pieces.q.fadeIn, pieces.q.fadeOut]).toEqual([300, 0, 0, 900]);
  expect(
    Object.values(moves)
      .map(({ ownerId, value }) => `${ownerId} ${value}`)
      .sort(),
  ).toEqual(['p -6', 'q -6']);
  for (const at of [1000, 5000, 0]) expect(splitPiece(document, 'p', at, 'q', 'Wind')).toEqual([]);
});

test('moved, copied and taken away with its keys; a layer’s sound stays where its pictures are, and goes with it', () => {
  const plain = crossing(piece, { ...piece, id: 'k', source: 'layer', sourceId: 'l' });
  const document = applyChanges(plain, setMove(plain, 'p', 'low-pass', 3, 900));
  const moved = after(document, shiftPiece(document, 'p', -700, 99)).pieces.p;
  expect([moved.start, moved.track]).toEqual([300, mostTracks - 1]);
  expect(after(document, shiftPiece(document, 'k', -700, 2)).pieces.k).toMatchObject({
    start: 1000,
    track: 2,
  });
  const copied = after(document, copyPiece(document, 'p', 'q', { start: 0 }));
  expect(Object.values(copied.moves)).toHaveLength(2);
  const without = after(copied, removePiece(copied, 'p'));
  expect(Object.values(without.moves).map(({ ownerId }) => ownerId)).toEqual(['q']);
  expect(Object.keys(after(document, removeLayer(document, 'l')).pieces)).toEqual(['p']);
});

test('a new piece takes the first track that is free there', () => {
  const document = crossing(piece);
  expect(freeTrack(document, 0, 1000)).toBe(0);
  expect(freeTrack(document, 0, 1001)).toBe(1);
  expect(freeTrack(document, 5000, 10)).toBe(0);
  const full = Array.from({ length: mostTracks }, (_, track) => ({ ...piece, id: `p${track}`, track }));
  expect(freeTrack(crossing(...full), 2000, 10)).toBeNull();
  expect(addPiece(piece)).toHaveLength(1);
});
