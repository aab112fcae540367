import { useMemo } from 'react';
import { applyChanges, layersInOrder } from '@/core/document/document';
import type { CrossingDocument, OutlineRow } from '@/core/document/tables';
import { useDocument } from '../document/document-store';
import { useSound } from '../session/sound-store';
import { tracedNow, useTraced } from '../session/traced';
import { useView } from '../view/view-store';

/**
 * What is moved: in step Sound the piece in hand; else the chosen one (a layer, a leaf's outline), else the layer that is
 * traced, else the top one; the crossing's id is the whole picture's.
 */
function moverIn(
  document: CrossingDocument,
  chosen: string | null,
  traced: string | undefined,
  pieceId: string | null,
): string {
  const { id: whole } = document.crossing;
  if (pieceId && document.pieces[pieceId]) return pieceId;
  if (chosen && (chosen === whole || document.layers[chosen] || document.outlines[chosen]?.hinge))
    return chosen;
  return traced ?? layersInOrder(document).at(-1)?.id ?? whole;
}

export function moverNow(): string | null {
  const { document } = useDocument.getState();
  const { moverId, step } = useView.getState();
  const pieceId = step === 'Sound' ? useSound.getState().pieceId : null;
  return document && moverIn(document, moverId, tracedNow()?.layer.id, pieceId);
}

/** The leaf that is moved, or null where it is something else. */
export function leafNow(): OutlineRow | null {
  return useDocument.getState().document?.outlines[moverNow() ?? ''] ?? null;
}

export function useMover(): string {
  const document = useDocument((state) => state.document)!;
  const chosen = useView((state) => state.moverId);
  const sounding = useView((state) => state.step === 'Sound');
  const pieceId = useSound((state) => state.pieceId);
  return moverIn(document, chosen, useTraced()?.layer.id, sounding ? pieceId : null);
}

/** The crossing as it would be if a hand that holds a move let go. */
export function useMovedDocument(): CrossingDocument {
  const document = useDocument((state) => state.document)!;
  const draft = useView((state) => state.draft);
  return useMemo(
    () =>
      draft?.some(({ table }) => table === 'move' || table === 'layer')
        ? applyChanges(document, draft)
        : document,
    [document, draft],
  );
}
