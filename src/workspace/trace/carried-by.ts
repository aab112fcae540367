import type * as Comlink from 'comlink';
import type { CarriedPose, CarryEnd, CarryJob } from '@/core/carry/carry-poses';
import { strokesOf } from '@/core/document/document';
import type { CrossingDocument, OutlineRow, PoseRow } from '@/core/document/tables';
import type { RowChange } from '@/core/document/edit';
import { numbersPerPoint as N } from '@/core/model/choices';
import { shapeAt } from '@/core/outline';
import { partsAt } from '@/core/actions/subject-actions';
import { putCarriedSubject } from '@/core/actions/subject-course';
import type { SubjectPose } from '@/core/subject/carry-subject';
import type { Carrier } from '@/render/carry';
import type { Traced } from '../session/traced';

/** Carries an outline as its row has it: by cutting out again what it is about, or along the moving edge. */
export function carriedBy(
  carrier: Comlink.Remote<Carrier>,
  { document, shot }: Traced,
  outline: OutlineRow,
  way: Omit<CarryJob, 'outline'>,
  hear: (pose: CarriedPose | SubjectPose | null, share: number) => void,
): Promise<{ poses: (CarriedPose | SubjectPose)[]; end: CarryEnd; blind?: string | null }> {
  if (outline.carriedBy !== 'cutting') {
    const { kind, sweptSide } = outline;
    return carrier.carry(shot.id, { ...way, outline: { kind, sweptSide } }, hear);
  }
  const strokes = strokesOf(document, outline.id);
  const withParts = ({ frame, coordinates }: CarryJob['from']) => ({
    frame,
    coordinates,
    parts: partsAt(document, outline.id, frame),
  });
  const { direction, most, stops, from, to } = way;
  // What strokes only mend is not made of them alone anywhere.
  const origin = (outline.painted ? strokes[0]?.frame : null) ?? -1;
  const job = {
    kind: outline.kind,
    direction,
    most,
    stops,
    origin,
    from: withParts(from),
    to: to && withParts(to),
  };
  return carrier.carrySubject(shot.id, job, strokes, hear);
}

/** The line on a frame, as far as poses say it: before the first of them and after the last there is none. */
export function lineOn(poses: readonly PoseRow[], source: number): readonly number[] | null {
  const shape = shapeAt(poses, source, { beforeFirst: 'empty', afterLast: 'empty' });
  return 'coordinates' in shape ? shape.coordinates : null;
}

/** Puts carried poses of an outline, and those of its further parts and holes: see `putCarriedSubject`. */
export function putCarriedAll(
  document: CrossingDocument,
  outlineId: string,
  poses: readonly (CarriedPose | SubjectPose)[],
): RowChange[] {
  return putCarriedSubject(document, outlineId, poses, () => crypto.randomUUID());
}

/** Those poses that still have the outline's points. */
export function fitting<P extends CarriedPose>(
  document: CrossingDocument,
  outlineId: string,
  poses: readonly P[],
): P[] {
  const count = document.outlines[outlineId].points.length * N;
  return poses.filter(({ coordinates }) => coordinates.length === count);
}
