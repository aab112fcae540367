import { lookEvery, numbersPerLook, numbersPerFrame, type Shot, type ShotMotion } from '../model/shot';
import { mixRate } from '../model/limits';
import { sourceAt } from '../time/frame-table';
import { framesPerSecond } from '../time/rate';
import { outlinesOfLayer } from './document';
import { type CrossingDocument, edgeId, type LayerRow, poseId } from './tables';

/** A crossing whose shots have lost frames that it does not use. */

/** What of a shot is left, frames of the whole. */
export interface Remaining {
  first: number;
  count: number;
}

/**
 * First and last frame of a shot that a crossing uses: shown, cut by, held, or with a pose, an edge key or a stroke; or heard
 * with a piece of its sound.
 *
 * @returns null where all of it has to stay: it is steadied, which hangs on its whole movement, or its frames come unevenly,
 *   by whose mean everything is counted.
 */
export function framesUsed(
  document: CrossingDocument,
  shots: Readonly<Record<string, Shot>>,
  shotId: string,
): [first: number, last: number] | null {
  const shot = shots[shotId];
  const end = shot.frameCount - 1;
  if (shot.frameTimes) return null;
  let [first, last] = [Infinity, -Infinity];
  const include = (frame: number) => {
    const at = Math.min(end, Math.max(0, frame));
    first = Math.min(first, at);
    last = Math.max(last, at);
  };
  for (const layer of Object.values(document.layers)) {
    const own = layer.shotId === shotId;
    if (own && layer.steady > 0) return null;
    if (!own && layer.matteId !== shotId) continue;
    for (let frame = 0; frame < document.crossing.length; frame++) {
      const source = sourceAt(layer, document.crossing, shots[layer.shotId], frame);
      // A mix shows the next one too.
      for (const at of [source, source + 1]) {
        if (own) include(at);
        if (layer.matteId === shotId) include(at - layer.matteFrom);
      }
    }
    if (!own) continue;
    if (layer.holdFrom !== null) include(layer.holdFrom);
    for (const { id } of outlinesOfLayer(document, layer.id)) {
      for (const { frame } of [...(document.poses[id] ?? []), ...(document.edges[id] ?? [])]) include(frame);
      for (const { outlineId, frame } of Object.values(document.strokes))
        if (outlineId === id) include(frame);
    }
  }
  const perFrame = mixRate / framesPerSecond(shot.rate);
  for (const { source, sourceId, inSample, length } of Object.values(document.pieces)) {
    if (source !== 'shot' || sourceId !== shotId) continue;
    include(Math.floor(inSample / perFrame));
    include(Math.ceil((inSample + length) / perFrame));
  }
  return first > last ? [0, 0] : [first, last];
}

/** The crossing as it is with those shots of which only a part remains: all frames of theirs are counted from there. */
export function withRemaining(
  document: CrossingDocument,
  shots: Readonly<Record<string, Shot>>,
  remaining: Readonly<Record<string, Remaining>>,
): CrossingDocument {
  const goneOf = (shotId: string | null) => (shotId === null ? 0 : (remaining[shotId]?.first ?? 0));
  const layers = mapped(document.layers, (layer) => shortenedLayer(layer, remaining, goneOf));
  const goneFrom = (outlineId: string) => {
    const layer = document.layers[document.outlines[outlineId]?.layerId ?? ''];
    return goneOf(layer?.shotId ?? null);
  };
  return {
    ...document,
    layers,
    poses: mapped(document.poses, (poses, outlineId) =>
      poses.map((pose) => {
        const frame = pose.frame - goneFrom(outlineId);
        return { ...pose, frame, id: poseId(outlineId, frame) };
      }),
    ),
    edges: mapped(document.edges, (edges, outlineId) =>
      edges.map((edge) => {
        const frame = edge.frame - goneFrom(outlineId);
        return { ...edge, frame, id: edgeId(outlineId, frame) };
      }),
    ),
    strokes: mapped(document.strokes, (stroke) => ({
      ...stroke,
      frame: stroke.frame - goneFrom(stroke.outlineId),
    })),
    pieces: mapped(document.pieces, (piece) => {
      if (piece.source !== 'shot' || !piece.sourceId || goneOf(piece.sourceId) === 0) return piece;
      const before = (goneOf(piece.sourceId) * mixRate) / framesPerSecond(shots[piece.sourceId].rate);
      return { ...piece, inSample: Math.max(0, piece.inSample - Math.round(before)) };
    }),
  };
}

function shortenedLayer(
  layer: LayerRow,
  remaining: Readonly<Record<string, Remaining>>,
  goneOf: (shotId: string | null) => number,
): LayerRow {
  const gone = goneOf(layer.shotId);
  const own = remaining[layer.shotId];
  const within = (frame: number | null) =>
    frame === null || !own ? frame : Math.min(own.count - 1, Math.max(0, frame - gone));
  return {
    ...layer,
    offset: layer.offset - gone,
    holdFrom: within(layer.holdFrom),
    trimIn: within(layer.trimIn),
    trimOut: within(layer.trimOut),
    matteFrom: layer.matteId === null ? layer.matteFrom : layer.matteFrom - gone + goneOf(layer.matteId),
  };
}

/** A shot's movement, of what remains of it. */
export function remainingMotion(motion: ShotMotion, { first, count }: Remaining): ShotMotion {
  const frames = motion.frames.slice(first * numbersPerFrame, (first + count) * numbersPerFrame);
  // The first frame has none before it.
  frames.splice(0, numbersPerFrame, 0, 0, 1, 0, 0, 0);
  const { crosser, looks } = motion;
  const [opens, closes] = crosser ? [crosser.opens - first, crosser.closes - first] : [0, -1];
  const seen = crosser && closes >= 0 && opens < count;
  const from = first / lookEvery;
  const held = Math.ceil(count / lookEvery) * numbersPerLook;
  return {
    frames,
    crosser: seen ? { ...crosser, opens: Math.max(0, opens), closes: Math.min(count - 1, closes) } : null,
    // They are of every twelfth frame, which others are now unless it begins on one.
    ...(looks && Number.isInteger(from)
      ? { looks: looks.slice(from * numbersPerLook, from * numbersPerLook + held) }
      : {}),
  };
}

function mapped<T>(
  rows: Readonly<Record<string, T>>,
  change: (row: T, id: string) => T,
): Readonly<Record<string, T>> {
  return Object.fromEntries(Object.entries(rows).map(([id, row]) => [id, change(row, id)]));
}
