import { useMemo } from 'react';
import { invert, type Affine } from '@/core/geometry/affine';
import { shotMapAt } from '@/core/compose/moves';
import { layerSourceFrame } from '@/core/compose/source-frames';
import { outlinesOfLayer } from '@/core/document/document';
import type { CrossingDocument, LayerRow, OutlineRow, PoseRow } from '@/core/document/tables';
import { tracedLayer } from '@/core/document/plans';
import type { Shot } from '@/core/model/shot';
import { firstShowing } from '@/core/time/frame-table';
import { useDocument } from '../document/document-store';
import { useView } from '../view/view-store';

/** A layer with its shot. */
export interface LayerShot {
  document: CrossingDocument;
  layer: LayerRow;
  shot: Shot;
}

/** The layer being traced, with what belongs to it. */
export interface Traced extends LayerShot {
  outlines: OutlineRow[];
}

function tracedOf(document: CrossingDocument | null, shots: readonly { shot: Shot }[]): Traced | null {
  const layer = document && tracedLayer(document);
  const shot = layer && shots.find(({ shot: { id } }) => id === layer.shotId)?.shot;
  if (!document || !layer || !shot) return null;
  return { document, layer, shot, outlines: outlinesOfLayer(document, layer.id) };
}

/** The layer being traced as the stores hold it now. */
export function tracedNow(): Traced | null {
  const { document, shots } = useDocument.getState();
  return tracedOf(document, shots);
}

export function useTraced(): Traced | null {
  const document = useDocument((state) => state.document);
  const shots = useDocument((state) => state.shots);
  return useMemo(() => tracedOf(document, shots), [document, shots]);
}

/** The outline in hand: the selected one, else the first. */
export function useOutline(): { outline: OutlineRow; poses: readonly PoseRow[] } | null {
  const traced = useTraced();
  const outlineId = useView((state) => state.outlineId);
  const outline = traced && (traced.outlines.find(({ id }) => id === outlineId) ?? traced.outlines[0]);
  return outline ? { outline, poses: traced.document.poses[outline.id] ?? [] } : null;
}

/** The source frame of a layer's shot at a crossing frame. */
export function sourceFrameOf({ document, layer, shot }: LayerShot, frame: number): number {
  return layerSourceFrame(document, layer, shot, frame);
}

/** The crossing frame at which the traced shot first shows a source frame. */
export function crossingFrameIn({ document, layer, shot }: Traced, source: number): number {
  return firstShowing(layer, document.crossing, shot, source);
}

/** From a shot's pixels to the crossing's at a crossing frame. */
export function fromShotAt(of: LayerShot, frame: number): Affine {
  const { document, layer, shot } = of;
  return invert(shotMapAt(document, layer, shot, frame, sourceFrameOf(of, frame)));
}
