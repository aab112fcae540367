import { hingeAt, type HingeSide, hingeSides } from '@/core/compose/leaves';
import { setOutline } from '@/core/actions/actions';
import type { CrossingDocument, OutlineRow } from '@/core/document/tables';
import { swingKeys } from '@/core/move/swing';
import { useDocument } from '../document/document-store';
import { edit } from '../session/edit';

/** What a person does to leaves. */

/** The side that a leaf hangs by, on its first pose. */
export function hingeOf({ poses }: CrossingDocument, { id, hinge, points }: OutlineRow): HingeSide | null {
  const [pose] = poses[id] ?? [];
  if (hinge === null || !pose) return null;
  return hingeSides.find((side) => hingeAt(pose.coordinates, points, side) === hinge) ?? 'left';
}

/** Hangs a loop by a side, so that it is a leaf; or, without one, lets it be cut as any other. Returns why it could not. */
export function hang(loop: OutlineRow, side: HingeSide | null): string | null {
  const { document } = useDocument.getState();
  if (!document) return null;
  const [pose] = document.poses[loop.id] ?? [];
  if (side && !pose) return 'Trace the leaf on a frame first.';
  if (loop.locked) return `${loop.name} is locked.`;
  const hinge = side && hingeAt(pose.coordinates, loop.points, side);
  // A leaf is there for as long as its shot is.
  const ends = side ? { afterLast: 'hold' as const } : {};
  edit(
    side ? `Hang ${loop.name} by its ${side} side` : `${loop.name} is no leaf`,
    setOutline(document, loop.id, { hinge, ...ends }),
  );
  return null;
}

export function setLeaf(label: string, leaf: OutlineRow, settings: Partial<OutlineRow>) {
  const { document } = useDocument.getState();
  if (document) edit(`${label} ${leaf.name}`, setOutline(document, leaf.id, settings));
}

/** Lets leaves swing open from a frame. Returns why it could not. */
export function swingOpen(leaves: readonly OutlineRow[], from: number): string | null {
  const { document } = useDocument.getState();
  if (!document || leaves.length === 0) return null;
  const changes = swingKeys(document, leaves, from);
  if (!changes)
    return 'There are not twelve frames left after this one: start earlier, or make the crossing longer.';
  edit('Swing the leaves open', changes);
  return null;
}
