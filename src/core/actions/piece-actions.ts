import { type CrossingDocument, moveId, type PieceRow } from '../document/tables';
import { changeRow, type RowChange } from '../document/edit';
import { removeMoves } from './move-actions';
import { mostTracks } from '../model/limits';

/** What one action does to pieces of sound; each returns the row changes of one edit. */

export function addPiece(piece: PieceRow): RowChange[] {
  return [changeRow('piece', null, piece)];
}

export function setPiece(
  { pieces }: CrossingDocument,
  id: string,
  settings: Partial<Omit<PieceRow, 'id'>>,
): RowChange[] {
  const piece = pieces[id];
  return piece ? [changeRow('piece', piece, { ...piece, ...settings })] : [];
}

/** Takes a piece away, with its keys. */
export function removePiece({ pieces, moves }: CrossingDocument, id: string): RowChange[] {
  const piece = pieces[id];
  if (!piece) return [];
  return [
    ...removeMoves(Object.values(moves).filter(({ ownerId }) => ownerId === id)),
    changeRow('piece', piece, null),
  ];
}

/** Whether a piece has a start and an end of its own; a layer's sound lies where its pictures do. */
export function isPlaced({ source }: PieceRow): boolean {
  return source !== 'layer';
}

/** Moves a piece by samples and tracks; its fades and its part of the source stay. */
export function shiftPiece(
  document: CrossingDocument,
  id: string,
  bySamples: number,
  byTracks: number,
): RowChange[] {
  const piece = document.pieces[id];
  if (!piece) return [];
  const track = Math.min(mostTracks - 1, Math.max(0, piece.track + byTracks));
  return setPiece(document, id, {
    track,
    ...(isPlaced(piece) ? { start: piece.start + Math.round(bySamples) } : {}),
  });
}

/**
 * Moves a piece's beginning or end; what stays sounds where it did. At least one sample is left, and nothing before the
 * source's first or, where it is known, after its last.
 *
 * @param at the crossing sample to which the end goes.
 * @param sourceLength samples of the source; null: it has as many as are asked for.
 */
export function trimPiece(
  document: CrossingDocument,
  id: string,
  end: 'in' | 'out',
  at: number,
  sourceLength: number | null,
): RowChange[] {
  const piece = document.pieces[id];
  if (!piece || !isPlaced(piece)) return [];
  const { start, inSample, length } = piece;
  if (end === 'out') {
    const most = sourceLength === null ? Infinity : sourceLength - inSample;
    return setPiece(document, id, withFades(piece, Math.max(1, Math.min(most, Math.round(at) - start))));
  }
  const by = Math.max(-inSample, Math.min(length - 1, Math.round(at) - start));
  return setPiece(document, id, {
    start: start + by,
    inSample: inSample + by,
    ...withFades(piece, length - by),
  });
}

/** A length, with fades that fit in it. */
function withFades({ fadeIn, fadeOut }: PieceRow, length: number) {
  return { length, fadeIn: Math.min(fadeIn, length), fadeOut: Math.min(fadeOut, length) };
}

/** Cuts a piece in two at a crossing sample within it; keys go to both. None where the cut lies outside. */
export function splitPiece(
  document: CrossingDocument,
  id: string,
  at: number,
  newId: string,
  name: string,
): RowChange[] {
  const piece = document.pieces[id];
  const share = Math.round(at) - (piece?.start ?? 0);
  if (!piece || !isPlaced(piece) || share < 1 || share >= piece.length) return [];
  const later: PieceRow = {
    ...piece,
    id: newId,
    name,
    start: piece.start + share,
    inSample: piece.inSample + share,
    fadeIn: 0,
    ...{ length: piece.length - share, fadeOut: Math.min(piece.fadeOut, piece.length - share) },
  };
  const earlier = { ...piece, length: share, fadeIn: Math.min(piece.fadeIn, share), fadeOut: 0 };
  return [changeRow('piece', piece, earlier), ...addPiece(later), ...copiedKeys(document, id, newId)];
}

/** A copy of a piece, its keys along. */
export function copyPiece(
  document: CrossingDocument,
  id: string,
  newId: string,
  changes: Partial<PieceRow>,
): RowChange[] {
  const piece = document.pieces[id];
  if (!piece) return [];
  return [...addPiece({ ...piece, ...changes, id: newId }), ...copiedKeys(document, id, newId)];
}

function copiedKeys({ moves }: CrossingDocument, id: string, newId: string): RowChange[] {
  return Object.values(moves)
    .filter(({ ownerId }) => ownerId === id)
    .map((row) =>
      changeRow('move', null, { ...row, id: moveId(newId, row.channel, row.frame), ownerId: newId }),
    );
}

/**
 * The piece that goes on with what another held, once that is gone: as after a split was undone, the one on its track
 * whose stretch holds its beginning.
 */
export function pieceInPlaceOf(document: CrossingDocument, gone: PieceRow): PieceRow | null {
  return (
    Object.values(document.pieces).find(
      ({ track, start, length }) =>
        track === gone.track && start <= gone.start && gone.start < start + length,
    ) ?? null
  );
}

/** The first track on which a stretch of samples is free; null where none is. */
export function freeTrack({ pieces }: CrossingDocument, start: number, length: number): number | null {
  for (let track = 0; track < mostTracks; track++) {
    const taken = Object.values(pieces).some(
      (piece) =>
        piece.track === track &&
        (!isPlaced(piece) || (piece.start < start + length && start < piece.start + piece.length)),
    );
    if (!taken) return track;
  }
  return null;
}
