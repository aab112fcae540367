import type { Grade } from '@/core/colour/grade';
import { pairOf } from '@/core/compose/scene';
import { gradeChannels } from '@/core/model/channels';
import { playedRange, markedFrame } from '@/core/document/document';
import type { CrossingDocument, LayerRow } from '@/core/document/tables';
import { movesOf, removeMoves, replaceMoves, setMove } from '@/core/actions/move-actions';
import { checksBegun } from '../check/checks-store';
import { useDocument } from '../document/document-store';
import { layerName } from '../session/layer-name';
import { edit } from '../session/edit';
import { setView, useView } from '../view/view-store';

/** What a person does to a layer's colours. */

/** Frames that are compared. */
const compared = 8;

/** The grade that fits a layer to the shot it gives way to or comes after; a sentence where there is none. */
export async function matchColours(layer: LayerRow): Promise<Grade | string> {
  const { document } = useDocument.getState();
  const pair = document && pairOf(document, layer.id);
  if (!document || !pair) return 'There is no other shot to match it to. Add one in step Shots.';
  const checks = await checksBegun();
  if (!checks) return 'The pictures cannot be looked at now. Load the page again; everything is saved.';
  const [first, last] = playedRange(document);
  const from = markedFrame(document, 'opens') ?? first;
  const to = Math.max(from, markedFrame(document, 'closes') ?? last);
  const frames = Array.from({ length: compared }, (_, k) =>
    Math.round(from + ((to - from) * k) / (compared - 1)),
  );
  const grade = await checks.matchColours(layer.id, pair[1].id, [...new Set(frames)]);
  return grade ?? 'The two shots have no pictures on the same frames.';
}

/** A grade as the layer's only one, from this frame on all along. */
function changesOf(document: CrossingDocument, { id }: LayerRow, grade: Grade) {
  const { frame } = useView.getState();
  return replaceMoves(document, [id], gradeChannels, (without) =>
    gradeChannels.flatMap((channel) => setMove(without, id, channel, frame, grade[channel])),
  );
}

/** Shows a grade in the picture without taking it. */
export function showColours(layer: LayerRow, grade: Grade) {
  const { document } = useDocument.getState();
  if (document) setView({ draft: changesOf(document, layer, grade) });
}

export function takeColours(layer: LayerRow, grade: Grade) {
  const { document } = useDocument.getState();
  if (!document) return;
  edit(`Match the colours of the ${layerName(layer)} to the other shot`, changesOf(document, layer, grade));
  setView({ draft: null });
}

export function noColours(layer: LayerRow) {
  const { document } = useDocument.getState();
  if (document)
    edit(
      `The ${layerName(layer)} in its own colours`,
      removeMoves(movesOf(document, [layer.id], gradeChannels)),
    );
}
