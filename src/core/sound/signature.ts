import { playedRange } from '../document/document';
import type { CrossingDocument, PieceRow } from '../document/tables';

/** Steps in which coverage counts as another: finer ones are not heard. */
const coverageSteps = 2000;

/** Whether a piece follows the moving edge. */
export function followsEdge({ behind, crossfade, crossfadeByTime }: PieceRow): boolean {
  return behind || (crossfade !== 'none' && !crossfadeByTime);
}

/** All that a piece's sound depends on, as text: the same text, the same sound. */
export function pieceSignature(
  { crossing, layers, moves, marks }: CrossingDocument,
  piece: PieceRow,
  coverage: ArrayLike<number>,
): string {
  const keys = Object.values(moves).filter(({ ownerId }) => ownerId === piece.id);
  return JSON.stringify([
    piece,
    keys,
    [crossing.rateNum, crossing.rateDen, crossing.length],
    piece.source === 'layer' ? layers[piece.sourceId ?? ''] : null,
    followsEdge(piece) ? Array.from(coverage, (share) => Math.round(share * coverageSteps)) : null,
    piece.crossfadeByTime
      ? [crossing.inFrame, crossing.outFrame, ...Object.values(marks).filter(({ kind }) => kind !== 'mark')]
      : null,
  ]);
}

/** All that a crossing's sound depends on, as text. */
export function soundSignature(document: CrossingDocument, coverage: ArrayLike<number>): string {
  return [
    playedRange(document).join(),
    ...Object.values(document.pieces).map((piece) => pieceSignature(document, piece, coverage)),
  ].join('\n');
}
