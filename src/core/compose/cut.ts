import { outlinesOfLayer } from '../document/document';
import type { CrossingDocument, ChromaSettings, LayerRow, OutlineRow } from '../document/tables';
import { numbersPerPoint as N } from '../model/choices';
import { applyAffine, compose } from '../geometry/affine';
import type { PosedOutline } from '../matte/outline-matte';
import { edgeAt, shapeAt, shapeAtMoment, shutterAt } from '../outline';
import { bendsAt } from './bends';
import { angleAt } from './leaves';
import { layerAt } from './moves';
import { placementOf, toShotAt } from './placement';
import { layerSourceFrame, type Shots } from './source-frames';

/**
 * What is cut away from a layer at a frame; with `keeps`, all but what its outlines enclose. With `full`, all is
 * enclosed before the first of the outlines is joined.
 */
export type Cut = { extent: 'none' } | { extent: 'all' } | OutlinedCut;

export interface OutlinedCut {
  extent: 'outlined';
  posed: PosedOutline[];
  full: boolean;
  /** The colour that is cut before the first of the outlines is joined, or null. */
  key: ChromaSettings | null;
  /** The picture that is its matte, joined to the colour, or null. */
  ready: ReadyMatte | null;
  keeps: boolean;
}

/** A frame of the shot that is a layer's matte. */
export interface ReadyMatte {
  shotId: string;
  frame: number;
  /** Whether its black counts in place of its white. */
  turned: boolean;
}

/** The outlines that cut a layer, in the order in which they combine; they may be traced on another one. */
export function outlinesCutting(document: CrossingDocument, layerId: string): OutlineRow[] {
  const own = outlinesOfLayer(document, layerId).filter((row) => (row.cutsLayerId ?? layerId) === layerId);
  const others = Object.values(document.outlines).filter(
    (row) => row.cutsLayerId === layerId && row.layerId !== layerId,
  );
  return others.length === 0 ? own : [...own, ...others].sort((a, b) => a.position - b.position);
}

/**
 * What is cut away from a layer at a crossing frame.
 *
 * @param keyAlone whether a keyed layer is cut by its colour only.
 * @param own the layer's source frame, where it is not the one that its time map gives.
 */
export function cutAt(
  document: CrossingDocument,
  shots: Shots,
  layer: LayerRow,
  frame: number,
  keyAlone = false,
  own: number | null = null,
): Cut {
  let posed: PosedOutline[] = [];
  let full = false;
  let key: ChromaSettings | null = document.chromas[layer.id] ?? null;
  if (keyAlone && key) return { extent: 'outlined', posed, full, key, ready: null, keeps: layer.keeps };
  let ready = readyMatteAt(document, shots, layer, frame, own);
  const outlines = outlinesCutting(document, layer.id);
  for (const outline of outlines) {
    const tracedOn = document.layers[outline.layerId];
    const shot = tracedOn && shots[tracedOn.shotId];
    if (!shot) continue;
    const poses = document.poses[outline.id] ?? [];
    const source =
      tracedOn.id === layer.id && own !== null ? own : layerSourceFrame(document, tracedOn, shot, frame);
    const shape = shapeAt(poses, source, outline);
    // A leaf that is shut is the wall's own.
    if (outline.hinge !== null && tracedOn.id === layer.id && angleAt(document, outline, frame) === null)
      continue;
    if (shape.state === 'full' || shape.state === 'empty') {
      const all = shape.state === 'full';
      // Adding or taking away nothing, or keeping only all there is, leaves things as they are.
      if (poses.length === 0 || all === (outline.combine === 'keep only')) continue;
      [posed, full, key, ready] = [[], all && outline.combine === 'add', null, null];
      continue;
    }
    const there = posedAt(document, outline, source, shape.coordinates);
    posed.push(tracedOn.id === layer.id ? there : carriedOver(document, shots, there, layer, frame));
  }
  if (posed.length > 0 || key || ready)
    return { extent: 'outlined', posed, full, key, ready, keeps: layer.keeps };
  const cut = layer.keeps && outlines.length > 0 ? !full : full;
  return { extent: cut ? 'all' : 'none' };
}

/** The frame of a layer's matte at a crossing frame; before its first and after its last, those. */
function readyMatteAt(
  document: CrossingDocument,
  shots: Shots,
  layer: LayerRow,
  frame: number,
  own: number | null,
): ReadyMatte | null {
  const shot = layer.matteId === null ? undefined : shots[layer.matteId];
  if (!shot) return null;
  const source = own ?? layerSourceFrame(document, layer, shots[layer.shotId], frame);
  const at = Math.min(shot.frameCount - 1, Math.max(0, source - layer.matteFrom));
  return { shotId: shot.id, frame: at, turned: layer.matteTurned };
}

export function posedAt(
  { poses: all, edges }: CrossingDocument,
  outline: OutlineRow,
  source: number,
  coordinates: readonly number[],
): PosedOutline {
  const poses = all[outline.id] ?? [];
  const edge = edgeAt(outline, edges[outline.id] ?? [], source);
  const shutter = shutterAt(outline, edge, poses, source);
  const exposures = shutter ? shutter.moments.map((moment) => shapeAtMoment(poses, moment)) : [];
  return { outline, edge, coordinates, exposures };
}

/**
 * An outline traced on one layer's shot, in the pixels of another's: Béziers go along with affine maps unchanged, and nearly
 * so with lenses and pulled corners, point by point and handle by handle.
 */
function carriedOver(
  document: CrossingDocument,
  shots: Shots,
  { outline, edge, coordinates, exposures }: PosedOutline,
  onto: LayerRow,
  frame: number,
): PosedOutline {
  const from = document.layers[outline.layerId];
  const { crossing } = document;
  const at = (layer: LayerRow) => layerSourceFrame(document, layer, shots[layer.shotId], frame);
  const map = compose(
    toShotAt(crossing, layerAt(document, onto, frame), shots[onto.shotId], at(onto)),
    placementOf(crossing, layerAt(document, from, frame), shots[from.shotId], at(from)),
  );
  const [a, b, c, d] = map;
  const determinant = a * d - b * c;
  const scale = Math.sqrt(Math.abs(determinant));
  const [own, theirs] = [from, onto].map((layer) => bendsAt(document, layer, shots[layer.shotId], frame));
  const place = (x: number, y: number) => {
    const at = applyAffine(map, ...(own ? own.there(x, y) : ([x, y] as const)));
    return theirs ? theirs.back(...at) : at;
  };
  const moved = (from: readonly number[]) => {
    const to: number[] = [];
    for (let i = 0; i < from.length; i += N) {
      const at = place(from[i], from[i + 1]);
      to.push(...at);
      for (const k of [i + 2, i + 4]) {
        const end = place(from[i] + from[k], from[i + 1] + from[k + 1]);
        to.push(end[0] - at[0], end[1] - at[1]);
      }
    }
    return to;
  };
  const sweptSide =
    determinant > 0
      ? outline.sweptSide
      : outline.sweptSide === 'left'
        ? ('right' as const)
        : ('left' as const);
  return {
    outline: { ...outline, sweptSide },
    edge: {
      ...edge,
      featherInside: edge.featherInside * scale,
      featherOutside: edge.featherOutside * scale,
      spread: edge.spread * scale,
      roundness: edge.roundness * scale,
    },
    coordinates: moved(coordinates),
    exposures: exposures.map(moved),
  };
}
