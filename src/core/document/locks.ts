import type { CrossingDocument, OutlineRow } from './tables';
import type { RowChange } from './edit';

/** What of an outline its lock holds; its name, colour, softness and the like may change. */
const held = ['layerId', 'kind', 'sweptSide'] as const;

function changesShape(before: OutlineRow, after: OutlineRow | null): boolean {
  if (!after) return true;
  const samePoints =
    before.points.length === after.points.length &&
    before.points.every((point, k) => point === after.points[k]);
  return !samePoints || held.some((field) => before[field] !== after[field]);
}

/**
 * The first locked outline whose line, poses or being the changes would touch; null where there is none. Taking a
 * whole layer away takes its outlines along, locked or not.
 */
export function lockedAgainst(document: CrossingDocument, changes: readonly RowChange[]): OutlineRow | null {
  const goingLayers = new Set(
    changes.filter(({ table, after }) => table === 'layer' && !after).map(({ id }) => id),
  );
  for (const change of changes) {
    if (change.table !== 'pose' && change.table !== 'outline') continue;
    const id = change.table === 'pose' ? (change.after ?? change.before)!.outlineId : change.id;
    const outline = document.outlines[id];
    if (!outline?.locked || goingLayers.has(outline.layerId)) continue;
    if (change.table === 'pose' || changesShape(outline, change.after)) return outline;
  }
  return null;
}
