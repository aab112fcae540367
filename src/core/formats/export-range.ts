import { marksInOrder, outlinesOfLayer, playedRange } from '../document/document';
import { type CrossingDocument, type LayerRow, plainLayer } from '../document/tables';
import { layoutOf, tracedLayer } from '../document/plans';
import type { Shot } from '../model/shot';

/** What of a crossing is exported: a stretch of it, or its traced shot over all its frames. */
export type ExportRange =
  { of: 'played' | 'whole' | 'traced shot' } | { of: 'marks'; fromId: string; toId: string };

/** What is drawn for an export, and from which crossing frame to which. */
export interface ExportStretch {
  document: CrossingDocument;
  from: number;
  to: number;
  /** The shot that is drawn alone; null: the crossing. */
  shotName: string | null;
}

/**
 * @param handles frames more at both ends, which may lie beyond the crossing; a shot alone has none.
 * @throws Error with a sentence where a mark, or the shot, is gone.
 */
export function stretchOf(
  document: CrossingDocument,
  shots: Readonly<Record<string, Shot>>,
  range: ExportRange,
  handles: number,
): ExportStretch {
  if (range.of === 'traced shot') {
    const layer = tracedLayer(document);
    const shot = layer && shots[layer.shotId];
    if (!shot) throw new Error('There is no shot to export alone.');
    const alone = shotAlone(document, layer, shot);
    return { document: alone, from: 0, to: shot.frameCount - 1, shotName: shot.name };
  }
  const [from, to] =
    range.of === 'marks'
      ? [range.fromId, range.toId]
          .map((id) => {
            const mark = document.marks[id];
            if (!mark) throw new Error('A mark of the stretch to export is gone.');
            return mark.frame;
          })
          .sort((a, b) => a - b)
      : range.of === 'whole'
        ? [0, document.crossing.length - 1]
        : playedRange(document);
  return { document, from: from - handles, to: to + handles, shotName: null };
}

/** Stretches between neighbouring marks, in order; those on one frame have none between them. */
export function stretchesBetweenMarks(document: CrossingDocument) {
  const marks = marksInOrder(document);
  return marks.flatMap((from, k) => {
    const to = marks.slice(k + 1).find(({ frame }) => frame > from.frame);
    return to ? [{ from, to }] : [];
  });
}

/** A crossing of one layer's shot alone, from its first frame to its last, pixel for pixel, with its own outlines. */
export function shotAlone(document: CrossingDocument, layer: LayerRow, shot: Shot): CrossingDocument {
  const outlines = outlinesOfLayer(document, layer.id).filter(
    ({ cutsLayerId }) => (cutsLayerId ?? layer.id) === layer.id,
  );
  const { matteId, matteFrom, matteTurned, keeps, id, shotId } = layer;
  const chroma = document.chromas[id];
  const [width, height] = [evenly(shot.width), evenly(shot.height)];
  return {
    ...document,
    crossing: {
      ...document.crossing,
      ...{ width, height, length: shot.frameCount },
      ...{ rateNum: shot.rate.num, rateDen: shot.rate.den, inFrame: 0, outFrame: null, moveShutter: 0 },
    },
    layers: {
      [id]: {
        ...{ ...plainLayer, id, shotId, position: 0, keeps, fit: 'exact' },
        // Its upper left corner on that of the frame, which may be a row larger.
        ...{ x: (shot.width - width) / 2, y: (shot.height - height) / 2 },
        ...{ matteId, matteFrom, matteTurned, role: layoutOf(document.crossing.plan).traced },
      },
    },
    outlines: Object.fromEntries(outlines.map((outline) => [outline.id, { ...outline, hinge: null }])),
    chromas: chroma ? { [id]: chroma } : {},
    ...{ moves: {}, pieces: {}, marks: {} },
  };
}

/** The sizes that an export may have, as a part of the crossing's. */
export const exportParts = [1, 2, 4] as const;
export type ExportPart = (typeof exportParts)[number];

/** A crossing's size, or a part of it: even numbers, as video wants them. */
export function exportSize({ width, height }: { width: number; height: number }, part: ExportPart) {
  return { width: evenly(width / part), height: evenly(height / part) };
}

function evenly(px: number): number {
  return Math.max(2, 2 * Math.round(px / 2));
}
