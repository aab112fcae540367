import { drawOutline, pointIds } from './actions';
import { applyChanges } from '../document/document';
import type { CrossingDocument } from '../document/tables';
import type { RowChange } from '../document/edit';
import { type FirstOn, layoutOf, type Meant, missingEdges } from '../document/plans';
import { numbersPerPoint as N, type Plan } from '../model/choices';

/** A first outline that a plan begins with. */
export interface First {
  on: FirstOn;
  /** Null: as many as there are, counted. */
  meant: Meant | null;
}

/** Whether movement alone can tell what a plan begins with. */
export function beginsByItself(plan: Plan): boolean {
  return layoutOf(plan).edges.length > 0;
}

/** The outlines that can be begun on a layer from its movement; none where the plan begins otherwise, or has them. */
export function firstsOf(document: CrossingDocument, layerId: string): First[] {
  const { edges } = layoutOf(document.crossing.plan);
  return edges.every(({ purpose }) => purpose === 'any')
    ? edges.map(({ on }) => ({ on, meant: null }))
    : missingEdges(document, layerId).map((meant) => ({ on: meant.on, meant }));
}

/** A first outline as it was found. */
export interface FoundFirst extends First {
  id: string;
  /** Source frame. */
  frame: number;
  /** Six numbers a point, shot px; the ground lies on a seam's right. */
  coordinates: readonly number[];
  /** Whether it lies on somebody, and whether they are in the picture down to their feet. */
  person?: boolean;
  whole?: boolean;
}

/** Draws first outlines, as one edit; names are those that were meant, or counted. */
export function drawFirsts(
  document: CrossingDocument,
  layerId: string,
  firsts: readonly FoundFirst[],
  newId: () => string,
): RowChange[] {
  const changes: RowChange[] = [];
  let after = document;
  for (const { id, on, meant, frame, coordinates, whole } of firsts) {
    const kind = on === 'gap' ? 'loop' : 'seam';
    const alike = Object.values(after.outlines).filter((row) => row.layerId === layerId && row.kind === kind);
    const drawn = drawOutline(
      after,
      {
        id,
        layerId,
        purpose: meant?.purpose ?? 'any',
        cutsLayerId: meant?.cutsLayerId ?? null,
        name: meant?.name ?? `${kind === 'seam' ? 'Seam' : 'Loop'} ${alike.length + 1}`,
        kind,
        // What opens changes its shape as no edge that goes along does, and so does somebody who walks.
        carriedBy: kind === 'loop' || whole ? 'cutting' : 'edge',
        // Swept is ground that is laid bare, not ground that something comes over.
        sweptSide: on === 'leading' ? 'left' : 'right',
        points: pointIds(coordinates.length / N, newId),
      },
      frame,
      coordinates,
    );
    after = applyChanges(after, drawn);
    changes.push(...drawn);
  }
  return changes;
}
