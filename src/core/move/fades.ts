import { replaceMoves, setMove } from '../actions/move-actions';
import type { RowChange } from '../document/edit';
import type { CrossingDocument } from '../document/tables';

/** Keys that let a layer's opacity go from one value to another, in place of those it had. */
export function fade(
  before: CrossingDocument,
  layerId: string,
  [from, to]: readonly [number, number],
  [start, end]: readonly [number, number],
): RowChange[] {
  const way = { onward: 'linear' as const, ease: [] };
  return replaceMoves(before, [layerId], ['opacity'], (document) => [
    ...setMove(document, layerId, 'opacity', from, start, 0, way),
    ...setMove(document, layerId, 'opacity', to, end, 0, way),
  ]);
}

/**
 * A subject that lingers: the layer beneath, of the same shot, fades first, and as it has gone the subject does.
 *
 * @param frames crossing frames over which each fades.
 * @returns null where there is no other layer of the subject's shot beneath it.
 */
export function fadeInOrder(
  document: CrossingDocument,
  subjectId: string,
  start: number,
  frames: readonly [background: number, subject: number],
): RowChange[] | null {
  const subject = document.layers[subjectId];
  const background = Object.values(document.layers).find(
    ({ id, shotId, position }) =>
      subject && id !== subjectId && shotId === subject.shotId && position < subject.position,
  );
  if (!background) return null;
  const gone = start + frames[0];
  return [
    ...fade(document, background.id, [start, gone], [100, 0]),
    ...fade(document, subjectId, [gone, gone + frames[1]], [100, 0]),
  ];
}
