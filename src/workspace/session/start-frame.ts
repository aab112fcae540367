import { layoutOf } from '@/core/document/plans';
import { crossingFrameIn, tracedNow } from './traced';

/**
 * Where work goes on: the last pose of the first outline; where an edge never fills the frame, half-way from its opening
 * to its closing; else the middle of the crossing.
 */
export function startFrame(): number {
  const traced = tracedNow();
  if (!traced) return 0;
  const { length } = traced.document.crossing;
  const { opens, closes } = Object.fromEntries(
    Object.values(traced.document.marks).map(({ kind, frame }) => [kind, frame]),
  );
  if (
    layoutOf(traced.document.crossing.plan).until !== 'fills' &&
    opens !== undefined &&
    closes !== undefined
  )
    return Math.floor((opens + closes) / 2);
  const poses = traced.document.poses[traced.outlines[0]?.id ?? ''] ?? [];
  if (poses.length === 0) return Math.floor(length / 2);
  return Math.min(length - 1, Math.max(0, crossingFrameIn(traced, poses[poses.length - 1].frame)));
}
