import type { OutlineRow, PoseRow } from '@/core/document/rows';

/** How far a step has come: whether its checks hold, and what is still to do in a few words. */
export interface StepProgress {
  holds: boolean;
  note: string;
  /** Crossing frame to look at, where there is one. */
  frame?: number;
}

/**
 * How far the trace has come. It holds when nothing is cut on the crossing's first frame, all is cut on its last,
 * and coverage does not leap at the outline's last pose: there the matte must already cover the frame.
 *
 * @param lastPosed crossing frame of the last pose, or null.
 */
export function traceProgress(
  outlines: readonly OutlineRow[],
  poses: readonly PoseRow[],
  coverage: Float32Array | null,
  lastPosed: number | null,
): StepProgress {
  if (outlines.length === 0) return { holds: false, note: 'Draw the first outline' };
  if (!coverage || poses.length === 0 || lastPosed === null) return { holds: false, note: 'Measuring…' };
  const first = coverage[0];
  const last = coverage[coverage.length - 1];
  if (first > 0) return { holds: false, note: `Frame 0 is already ${percent(first)} cut`, frame: 0 };
  const atLastPose = coverage[Math.min(coverage.length - 1, Math.max(0, lastPosed))];
  if (atLastPose < 0.995)
    return {
      holds: false,
      note: `Trace on from frame ${lastPosed}: ${percent(atLastPose)} covered`,
      frame: lastPosed,
    };
  if (last < 1)
    return {
      holds: false,
      note: `The last frame is only ${percent(last)} covered`,
      frame: coverage.length - 1,
    };
  return { holds: true, note: `${poses.length} poses, starts clear, ends full` };
}

function percent(share: number): string {
  return `${(share * 100).toFixed(share > 0.99 || share < 0.01 ? 1 : 0)} %`;
}
