import { type CrossingDocument, edgeId, poseId } from '../document/tables';
import type { RowChange } from '../document/edit';
import { placeOutline } from '../actions/outline-actions';
import type { OutlineApart } from './outline-json';

/** Puts an outline from a file on a layer, as it was, last in order. */
export function placeOutlineApart(
  document: CrossingDocument,
  layerId: string,
  { outline, poses, edges }: OutlineApart,
  id: string,
): RowChange[] {
  const place = {
    ...{ id, layerId, cutsLayerId: null, position: 0, subjectId: null, painted: false },
    purpose: 'any' as const,
  };
  return placeOutline(
    document,
    layerId,
    {
      outline: { ...outline, ...place },
      poses: poses.map((pose) => ({ ...pose, id: poseId(id, pose.frame), outlineId: id })),
      edges: edges.map((edge) => ({ ...edge, id: edgeId(id, edge.frame), outlineId: id })),
    },
    id,
  );
}
