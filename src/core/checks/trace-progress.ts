import { outlinesOfLayer } from '../document/document';
import { layoutOf, tracedLayer } from '../document/plans';
import type { CrossingDocument, PoseRow } from '../document/tables';
import type { Shot } from '../model/shot';
import { firstShowing } from '../time/frame-table';

/** Whether a step's checks hold, and what is still to do in a few words. */
export interface StepProgress {
  holds: boolean;
  note: string;
  /** Crossing frame to go to, where there is one. */
  frame?: number;
}

/** From this share on a pose counts as covering the frame: what is left is less than a pixel's row of it. */
const coversFrame = 0.995;

/**
 * How far the trace of an outline has come. It holds when nothing is cut on the crossing's first frame, all is cut
 * on its last, and coverage does not leap after the outline's last pose: that pose itself must cover the frame.
 *
 * @param poses of the outline, ascending by frame.
 * @param coverage share of the frame that is cut at each crossing frame, or null while it is being measured.
 * @param lastPosed crossing frame of the last pose, or null.
 * @param until what the edge does in the end: it fills the frame; it stays an opening, traced to the end; or it is where
 *   something else happens, as leaves and windows are, and may be traced on one frame alone.
 */
export function traceProgress(
  poses: readonly PoseRow[],
  coverage: Float32Array | null,
  lastPosed: number | null,
  until: 'fills' | 'opens' | 'stays' = 'fills',
): StepProgress {
  if (poses.length === 0) return { holds: false, note: 'Draw the first outline' };
  if (!coverage || coverage.length === 0 || lastPosed === null) return { holds: false, note: 'Measuring…' };
  const count = `${poses.length} ${poses.length === 1 ? 'pose' : 'poses'}`;
  if (until === 'stays') return { holds: true, note: `${count}, held to both sides` };
  const end = coverage.length - 1;
  if (coverage[0] > 0)
    return { holds: false, note: `Frame 0 is already ${percent(coverage[0])} cut`, frame: 0 };
  if (until === 'opens') {
    const holds = poses.length > 1 && lastPosed >= end;
    const note = holds
      ? `${count}, starts clear, traced to the end`
      : `Traced to frame ${lastPosed}: put a pose on the last one`;
    return { holds, note, ...(holds ? {} : { frame: end }) };
  }
  const atLastPose = coverage[Math.min(end, Math.max(0, lastPosed))];
  if (atLastPose < coversFrame) {
    const spacing = poses.length > 1 ? poses[poses.length - 1].frame - poses[poses.length - 2].frame : 4;
    const note = `Last pose, frame ${lastPosed}: ${percent(atLastPose)} covered`;
    return { holds: false, note, frame: Math.min(end, lastPosed + spacing) };
  }
  if (coverage[end] < 1)
    return { holds: false, note: `The last frame is only ${percent(coverage[end])} covered`, frame: end };
  return { holds: true, note: `${count}, starts clear, ends full` };
}

/**
 * How far a crossing's trace has come: that of the outline which cuts the traced shot itself, whatever else is drawn.
 *
 * @param shotOf the shot with an id, where it is known.
 * @param coverage as {@link traceProgress} takes it.
 */
export function crossingProgress(
  document: CrossingDocument,
  shotOf: (id: string) => Shot | undefined,
  coverage: Float32Array | null,
): StepProgress {
  const layer = tracedLayer(document);
  const layout = layoutOf(document.crossing.plan);
  if (layout.cutsBy === 'colour') {
    const holds = layer !== null && document.chromas[layer.id] !== undefined;
    return { holds, note: holds ? 'The board’s colour is keyed' : 'Pick the colour of the board' };
  }
  const shot = layer && shotOf(layer.shotId);
  if (!layer || !shot) return traceProgress([], coverage, null);
  // In a bridge another outline cuts the outgoing shot.
  const cutting = outlinesOfLayer(document, layer.id).find(
    ({ cutsLayerId }) => (cutsLayerId ?? layer.id) === layer.id,
  );
  const poses = cutting ? (document.poses[cutting.id] ?? []) : [];
  if (layer.matteId && poses.length === 0) return { holds: true, note: 'Cut by a matte' };
  const last = poses.at(-1);
  const lastPosed = last ? firstShowing(layer, document.crossing, shot, last.frame) : null;
  return traceProgress(poses, coverage, lastPosed, layout.until);
}

function percent(share: number): string {
  return `${(share * 100).toFixed(share > 0.99 || share < 0.01 ? 1 : 0)} %`;
}
