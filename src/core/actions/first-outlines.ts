import { drawOutline, pointIds } from './actions';
import { applyChanges, type CrossingDocument } from '../document/document';
import type { RowChange } from '../document/edit';
import { missingOfBridge, type Purpose } from '../document/plans';
import { numbersPerPoint as N, type Plan } from '../model/choices';

/**
 * What a first outline lies on: the edge behind which ground is laid bare, the one before which it is covered, or what
 * opens.
 */
export type FirstOn = 'trailing' | 'leading' | 'gap';

/** A first outline that a plan begins with. */
export interface First {
  on: FirstOn;
  /** Null: as many as there are, counted. */
  purpose: Purpose | null;
}

/** What each plan begins with where movement alone can tell; null: it begins with something else. */
const begins: Record<Plan, FirstOn | 'both' | null> = {
  'pass-by': 'trailing',
  arrival: 'leading',
  bridge: 'both',
  opening: 'gap',
  'pull-back': null,
  'hinged leaves': null,
  'keyed board': null,
  'lingering subject': null,
};

/** Whether movement alone can tell what a plan begins with. */
export function beginsByItself(plan: Plan): boolean {
  return begins[plan] !== null;
}

/** The outlines that can be begun on a layer from its movement; none where the plan begins otherwise, or has them. */
export function firstsOf(document: CrossingDocument, layerId: string): First[] {
  const on = begins[document.crossing.plan];
  if (on !== 'both') return on ? [{ on, purpose: null }] : [];
  return missingOfBridge(document, layerId).map((purpose) => ({
    on: purpose.cutsLayerId ? 'leading' : 'trailing',
    purpose,
  }));
}

/** A first outline as it was found. */
export interface FoundFirst extends First {
  id: string;
  /** Source frame. */
  frame: number;
  /** Six numbers a point, shot px; the ground lies on a seam's right. */
  coordinates: readonly number[];
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
  for (const { id, on, purpose, frame, coordinates } of firsts) {
    const kind = on === 'gap' ? 'loop' : 'seam';
    const alike = Object.values(after.outlines).filter((row) => row.layerId === layerId && row.kind === kind);
    const drawn = drawOutline(
      after,
      {
        id,
        layerId,
        cutsLayerId: purpose?.cutsLayerId ?? null,
        name: purpose?.name ?? `${kind === 'seam' ? 'Seam' : 'Loop'} ${alike.length + 1}`,
        kind,
        // What opens changes its shape as no edge that goes along does.
        carriedBy: kind === 'loop' ? 'cutting' : 'edge',
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
