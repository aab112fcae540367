import { isSoundRamp } from '../time/ramp';
import { type Channel, channelNumbers } from '../model/channels';
import type { CrossingDocument } from './document';
import type { RowChange } from './edit';
import { hasChannel, isSoundMove } from './keys';
import { edgeId, type EdgeSettings, type OutlineRow, poseId, type RowTypes } from './tables';
import { mostSamples } from '../model/limits';
import { numbersPerPoint } from '../model/choices';

/** What a document must hold whatever the edit, each a sentence for whoever sent an edit that breaks it. */

/**
 * Why a document does not hold together after some changes; null where it does. Whether its shots and sounds are there
 * only the server knows.
 *
 * @param document after the changes.
 * @param changes what was changed: poses and edge keys that were not are not looked at again.
 */
export function inconsistencyOf(document: CrossingDocument, changes: readonly RowChange[]): string | null {
  return (
    wrongCrossing(document, changes) ??
    misshapen(document, changes) ??
    misplaced(document) ??
    inCircles(document) ??
    wrongSound(document) ??
    wrongMoves(document)
  );
}

function wrongCrossing({ crossing }: CrossingDocument, changes: readonly RowChange[]): string | null {
  const another = changes.some(({ table, id }) => table === 'crossing' && id !== crossing.id);
  return another ? 'The change is of another crossing.' : null;
}

/** Poses and edge keys of the outlines that were touched. */
function misshapen(document: CrossingDocument, changes: readonly RowChange[]): string | null {
  const touched = new Set<string>();
  const reshaped = new Set<string>();
  for (const change of changes) {
    if (change.table === 'outline') reshaped.add(change.id);
    if (change.table === 'outline') touched.add(change.id);
    if (change.table === 'pose' || change.table === 'edge')
      touched.add((change.after ?? change.before)!.outlineId);
  }
  for (const id of touched) {
    const outline = document.outlines[id];
    // Where the outline stays as it is, only what changes has to fit it.
    const keysOf = <T extends 'pose' | 'edge'>(table: T, all: readonly RowTypes[T][]) =>
      reshaped.has(id)
        ? all
        : changes.flatMap((change) =>
            change.table === table && change.after && (change.after as { outlineId: string }).outlineId === id
              ? [change.after as RowTypes[T]]
              : [],
          );
    const poses = keysOf('pose', document.poses[id] ?? []);
    const edges = keysOf('edge', document.edges[id] ?? []);
    if (!outline && poses.length + edges.length > 0) return 'Poses and edge keys need their outline.';
    if (!outline) continue;
    if (!poses.every((pose) => fitsOutline(outline, pose)))
      return 'Every pose of an outline has the same points.';
    const rows: (EdgeSettings & { id: string; frame?: number })[] = [outline, ...edges];
    const keyed = rows.every(
      ({ id: own, frame, factors }) =>
        (frame === undefined || own === edgeId(id, frame)) &&
        (factors.length === 0 || factors.length === outline.points.length),
    );
    if (!keyed) return 'An edge has a factor for each point of its outline, or none.';
  }
  return null;
}

function fitsOutline({ id, points }: OutlineRow, pose: RowTypes['pose']): boolean {
  return pose.coordinates.length === points.length * numbersPerPoint && pose.id === poseId(id, pose.frame);
}

/** Rows that refer to others that are not there. */
function misplaced({ layers, outlines, strokes, chromas }: CrossingDocument): string | null {
  for (const { layerId, cutsLayerId, hinge, points } of Object.values(outlines)) {
    if (hinge !== null && !points.includes(hinge))
      return 'A leaf hangs by a side that begins at one of its points.';
    if (!layers[layerId] || (cutsLayerId && !layers[cutsLayerId])) return 'An outline needs its layer.';
  }
  if (!Object.values(strokes).every(({ outlineId }) => outlines[outlineId]))
    return 'A stroke needs its outline.';
  if (Object.keys(chromas).some((id) => !layers[id])) return 'A keyed colour needs its layer.';
  if (!Object.values(layers).every(({ ramp }) => isSoundRamp(ramp)))
    return 'A ramp’s keys are whole frames that ascend, with percents from −1000 to 1000.';
  return null;
}

/** Outlines that are parts of themselves, at once or by way of others. */
function inCircles({ outlines }: CrossingDocument): string | null {
  const ends = new Set<string>();
  for (const start of Object.values(outlines)) {
    const way = new Set<string>();
    for (let at: OutlineRow | undefined = start; at && !ends.has(at.id); at = outlines[at.subjectId ?? '']) {
      if (way.has(at.id)) return 'An outline cannot be a part of itself.';
      way.add(at.id);
    }
    way.forEach((id) => ends.add(id));
  }
  return null;
}

function wrongSound({ pieces, layers }: CrossingDocument): string | null {
  for (const { source, sourceId, inSample, length, fadeIn, fadeOut } of Object.values(pieces)) {
    if ((source === 'made') !== (sourceId === null))
      return 'A piece of sound names what it comes from, or is made.';
    if (source === 'layer' && !layers[sourceId!]) return 'A layer’s sound needs its layer.';
    if (Math.max(fadeIn, fadeOut) > length || inSample + length > mostSamples)
      return 'A piece’s fades lie within it.';
  }
  return null;
}

function wrongMoves(document: CrossingDocument): string | null {
  for (const move of Object.values(document.moves)) {
    if (!hasChannel(document, move))
      return `There is nothing here that can have a key of its ${move.channel}.`;
    if (!isSoundMove(move)) return rangeOf(move.channel);
  }
  return null;
}

function rangeOf(channel: Channel): string {
  const ranges = channelNumbers[channel].map(({ low, high }) => `${low} to ${high}`);
  return `A key of the ${channel} is out of range: ${ranges.join(', ')}.`;
}
