import { edgeAt, edgeSettingsOf } from '../outline';
import { edgeAtFrame } from '../document/document';
import { type CrossingDocument, edgeId, type EdgeRow, type EdgeSettings } from '../document/tables';
import { changeRow, type RowChange } from '../document/edit';
import type { Onward } from '../model/time';

/** What one action changes of an outline's edge; each returns the row changes of one edit. */

/**
 * Some of an edge's settings, changed: at a source frame where the edge has keys, making one there; else for the
 * whole outline.
 */
export function setEdge(
  document: CrossingDocument,
  outlineId: string,
  frame: number,
  settings: Partial<EdgeSettings>,
): RowChange[] {
  const outline = document.outlines[outlineId];
  if (!outline) return [];
  if ((document.edges[outlineId] ?? []).length === 0)
    return [changeRow('outline', outline, { ...outline, ...settings })];
  return keyEdge(document, outlineId, frame, settings);
}

/** Makes or changes the key of an edge at a source frame. */
export function keyEdge(
  document: CrossingDocument,
  outlineId: string,
  frame: number,
  settings: Partial<EdgeSettings> = {},
): RowChange[] {
  const outline = document.outlines[outlineId];
  if (!outline) return [];
  const keys = document.edges[outlineId] ?? [];
  const before = edgeAtFrame(document, outlineId, frame);
  const earlier = keys.findLast((key) => key.frame < frame);
  const after: EdgeRow = {
    ...edgeAt(outline, keys, frame),
    ...settings,
    id: edgeId(outlineId, frame),
    outlineId,
    frame,
    onward: before?.onward ?? earlier?.onward ?? 'linear',
  };
  return [changeRow('edge', before, after)];
}

/** Takes the key at a source frame away; what the last one said becomes the whole outline's. */
export function removeEdgeKey(document: CrossingDocument, outlineId: string, frame: number): RowChange[] {
  const key = edgeAtFrame(document, outlineId, frame);
  const outline = document.outlines[outlineId];
  if (!key || !outline) return [];
  const last = document.edges[outlineId].length === 1;
  return [
    changeRow('edge', key, null),
    ...(last ? [changeRow('outline', outline, { ...outline, ...edgeSettingsOf(key) })] : []),
  ];
}

/** How the edge runs on from the key at a source frame. */
export function setEdgeOnward(
  document: CrossingDocument,
  outlineId: string,
  frame: number,
  onward: Onward,
): RowChange[] {
  const key = edgeAtFrame(document, outlineId, frame);
  return key && key.onward !== onward ? [changeRow('edge', key, { ...key, onward })] : [];
}
