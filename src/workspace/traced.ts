import { useMemo } from 'react';
import { layerSourceFrame, placementOf, tracedLayer } from '@/core/compose/scene';
import type { CrossingDocument } from '@/core/document/document';
import { outlinesOfLayer } from '@/core/document/document';
import type { LayerRow, OutlineRow, PoseRow, Shot } from '@/core/document/rows';
import { type Affine, invert } from '@/core/geometry/affine';
import { useDocument } from './document-store';
import { useView } from './view-store';

/** The layer being traced, with what belongs to it. */
export interface Traced {
  document: CrossingDocument;
  layer: LayerRow;
  shot: Shot;
  outlines: OutlineRow[];
  /** From crossing px to shot px, and back. */
  toShot: Affine;
  fromShot: Affine;
}

export function tracedOf(document: CrossingDocument | null, shots: readonly { shot: Shot }[]): Traced | null {
  const layer = document && tracedLayer(document);
  const shot = layer && shots.find(({ shot: { id } }) => id === layer.shotId)?.shot;
  if (!document || !layer || !shot) return null;
  const toShot = placementOf(document, shot);
  return {
    document,
    layer,
    shot,
    outlines: outlinesOfLayer(document, layer.id),
    toShot,
    fromShot: invert(toShot),
  };
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

/** The source frame of the traced shot at a crossing frame. */
export function sourceFrameOf(traced: Traced, frame: number): number {
  return layerSourceFrame(traced.document, traced.layer, traced.shot, frame);
}
