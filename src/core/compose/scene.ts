import type { Blend } from '../colour/transfer';
import { type CrossingDocument, layersInOrder, outlinesOfLayer } from '../document/document';
import {
  type ChromaSettings,
  numbersPerPoint as N,
  type LayerRow,
  type OutlineRow,
  type Role,
  type Shot,
} from '../document/rows';
import { tracedLayer } from '../document/plans';
import { type Affine, applyAffine, compose } from '../geometry/affine';
import type { Grade } from '../colour/grade';
import type { Homography } from '../geometry/homography';
import { type Lens, lensOf } from '../geometry/lens';
import { spillOf } from '../matte/keyed';
import type { PosedOutline } from '../matte/outline-matte';
import { bendsAt } from './bends';
import { type Blur, blurOf } from './blur';
import { angleAt, type Leaf, leafAt } from './leaves';
import { bentAt, gradeAt, layerAt, opacityAt, shotMapAt } from './moves';
import { edgeAt, shapeAt, shapeAtMoment, shutterAt } from '../outline';
import { sourceAt } from '../time/frame-table';
import { mixedWith } from './mixed';
import { placementOf, toShotAt } from './placement';
import type { Rectangle } from '../geometry/rectangle';

/** What the picture shows: the layer being traced alone (four ways) or the whole crossing. */
export const views = ['plain', 'cut', 'matte', 'result', 'checkerboard'] as const;
/** Both shots at once, whole, for lining them up. */
export const bothViews = ['overlay', 'difference', 'beside', 'split'] as const;
export type BothView = (typeof bothViews)[number];
export type View = (typeof views)[number] | BothView;

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

/** One layer as it is drawn at a crossing frame. */
export interface LayerDraw {
  layerId: string;
  role: Role;
  shotId: string;
  sourceFrame: number;
  /** From crossing pixels to the shot's pixels as shown. */
  toShot: Affine;
  /** From there to the shot's pixels as they are, where corners are pulled or a leaf has swung; `middle` lies in it. */
  bent: { map: Homography; middle: readonly [x: number, y: number] } | null;
  /** What the lens bends, undone last of all; null: nothing. `toShot` leads to the straightened shot. */
  lens: Lens | null;
  /** How it is smeared along its movement, or null. */
  blur: Blur | null;
  /** Its colour settings, or null where they change nothing. */
  grade: Grade | null;
  cut: Cut;
  /** 0 to 1. */
  opacity: number;
  /**
   * Its share of a mix, where two frames of a layer are shown as one: those that follow each other with shares are
   * added up before they are laid over what is below. Null: it is alone.
   */
  mixed: number | null;
  /** The one colour that it has in place of its picture, display values 0 to 1; null: the picture. */
  plain: readonly [red: number, green: number, blue: number] | null;
  /** Whether it is drawn as its own negative. */
  negative: boolean;
  /** The keyed colour that is taken out of what is left of it, or null. */
  spill: Spill | null;
  /** The part of the crossing's frame that it is drawn in, in crossing px; null: all. */
  clip: Rectangle | null;
}

/** Everything that is drawn at a crossing frame, bottom to top. */
export interface Scene {
  /** `clear`: nothing, for a cut-out; only the compositor draws that. */
  background: 'black' | 'grey' | 'checkerboard' | 'clear';
  blend: Blend;
  /** `matte`: in place of the pictures, white where they are cut away. */
  paint: 'picture' | 'matte';
  layers: LayerDraw[];
}

/** What is to be seen of a crossing. */
export interface SceneLook {
  view: View;
  /** The layer that the views of one layer show, and that lies on top in those of both. */
  traced: string | null;
  /** The layer that those of both show under it; null, or the traced one: the one that is visible. */
  other?: string | null;
  /** A layer that the result shows alone. */
  solo?: string | null;
  /** Whether keyed layers are cut by their colour only, without their outlines. */
  keyAlone?: boolean;
  /** Strength of the overlay, or place of the split line across the frame: 0 to 1. */
  share?: number;
}

export type Spill = NonNullable<ReturnType<typeof spillOf>>;

export type Shots = Readonly<Record<string, Shot>>;

/** The source frame a layer's time map gives at a crossing frame; it may lie outside the shot. */
export function layerSourceFrame(
  document: CrossingDocument,
  layer: LayerRow,
  shot: Shot,
  frame: number,
): number {
  return sourceAt(layer, document.crossing, shot, frame);
}

/** First and last source frame that a layer can show. */
export function shownRange(layer: LayerRow, shot: Shot): [first: number, last: number] {
  const end = shot.frameCount - 1;
  return [Math.max(0, layer.trimIn ?? 0), Math.min(end, layer.trimOut ?? end)];
}

/** The source frame that a layer shows at a crossing frame, or null where it has no picture. */
export function shownSourceFrame(
  document: CrossingDocument,
  layer: LayerRow,
  shot: Shot,
  frame: number,
): number | null {
  const source = layerSourceFrame(document, layer, shot, frame);
  const [first, last] = shownRange(layer, shot);
  return source >= first && source <= last ? source : null;
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

function posedAt(
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

/**
 * The scene at a crossing frame. A layer without a picture there (before its shot begins, after it ends, trimmed
 * away, not visible) and, in the result, one that is cut away in full are left out.
 */
export function sceneAt(document: CrossingDocument, shots: Shots, frame: number, look: SceneLook): Scene {
  const { view, traced, solo = null } = look;
  if ((bothViews as readonly View[]).includes(view)) return bothAt(document, shots, frame, look);
  const layers: LayerDraw[] = [];
  for (const layer of layersInOrder(document)) {
    if (view === 'result' ? (solo ? layer.id !== solo : !layer.visible) : layer.id !== traced) continue;
    const shot = shots[layer.shotId];
    const source = shot ? shownSourceFrame(document, layer, shot, frame) : null;
    if (source === null) continue;
    const drawn = drawOf(document, layer, shot, frame, source);
    let cut: Cut =
      view === 'plain' ? { extent: 'none' } : cutAt(document, shots, layer, frame, look.keyAlone);
    // The matte is white where the wipe has arrived, whether its layer goes or comes.
    if (view === 'matte' && layer.keeps) cut = turned(cut);
    if (view !== 'result') {
      // Tracing goes on in the picture as it is, whatever it is bent, blurred or mixed to.
      const seen = { ...drawn, bent: null, blur: null, cut, opacity: 1 };
      if (cut.extent !== 'all' || view === 'matte')
        layers.push({ ...seen, spill: view === 'plain' ? null : drawn.spill });
      continue;
    }
    if (drawn.opacity === 0) continue;
    const [behind, before] = leavesOf(document, shots, layer, frame, drawn);
    layers.push(...behind);
    const mix = mixedWith(document, layer, shot, frame, source, shownRange(layer, shot));
    if (mix) {
      const next = drawOf(document, layer, shot, frame, mix.next);
      const cutNext = cutAt(document, shots, layer, frame, look.keyAlone, mix.next);
      layers.push(
        { ...drawn, cut, mixed: 1 - mix.share },
        { ...next, cut: cutNext, mixed: mix.share, opacity: drawn.opacity },
      );
    } else if (cut.extent !== 'all') layers.push({ ...drawn, cut });
    layers.push(...before);
  }
  const background =
    view === 'checkerboard' ? 'checkerboard' : view === 'plain' || view === 'cut' ? 'grey' : 'black';
  const paint = view === 'matte' ? 'matte' : 'picture';
  return { background, blend: paint === 'picture' ? document.crossing.blend : 'display', paint, layers };
}

/** The leaves of a layer that have swung open, each the part of it that its loop encloses: those behind the wall, and those before it. */
function leavesOf(
  document: CrossingDocument,
  shots: Shots,
  layer: LayerRow,
  frame: number,
  drawn: LayerDraw,
): [behind: LayerDraw[], before: LayerDraw[]] {
  const leaves: [LayerDraw[], LayerDraw[]] = [[], []];
  if (layer.keeps) return leaves;
  const { sourceFrame, layerId } = drawn;
  const shot = shots[layer.shotId];
  for (const outline of outlinesOfLayer(document, layerId)) {
    const leaf = leafAt(document, outline, shot, sourceFrame, frame);
    if (!leaf || (outline.cutsLayerId ?? layerId) !== layerId) continue;
    const own = posedAt(document, { ...outline, combine: 'add' }, sourceFrame, leaf.coordinates);
    const at = (moment: number) => leafAt(document, outline, shot, sourceFrame, moment)?.map ?? leaf.map;
    if (leaf.sides.length > 0) leaves[outline.inwards ? 0 : 1].push(sidesDrawn(drawn, outline, leaf.sides));
    leaves[outline.inwards ? 0 : 1].push({
      ...drawn,
      bent: { map: leaf.map, middle: leaf.middle },
      blur: blurOf(document, layer, shot, frame, sourceFrame, at),
      cut: { extent: 'outlined', posed: [own], full: false, key: null, ready: null, keeps: true },
    });
  }
  return leaves;
}

/** A leaf's sides in their plain colour, each a loop of what is kept. */
function sidesDrawn(drawn: LayerDraw, outline: OutlineRow, sides: Leaf['sides']): LayerDraw {
  const edge = { featherInside: 0, featherOutside: 0, spread: 0, roundness: 0, factors: [] };
  const posed = sides.map((side): PosedOutline => {
    const coordinates: number[] = [];
    for (let i = 0; i < side.length; i += 2) coordinates.push(side[i], side[i + 1], 0, 0, 0, 0);
    const row = { ...outline, combine: 'add' as const };
    return { outline: row, edge, coordinates, exposures: [] };
  });
  const [red, green, blue] = [16, 8, 0].map((shift) => ((outline.thicknessColour >> shift) & 255) / 255);
  return {
    ...drawn,
    cut: { extent: 'outlined', posed, full: false, key: null, ready: null, keeps: true },
    plain: [red, green, blue],
    spill: null,
  };
}

function drawOf(
  document: CrossingDocument,
  layer: LayerRow,
  shot: Shot,
  frame: number,
  sourceFrame: number,
): LayerDraw {
  const map = bentAt(document, layer, shot, frame);
  return {
    layerId: layer.id,
    role: layer.role,
    shotId: shot.id,
    sourceFrame,
    toShot: shotMapAt(document, layer, shot, frame, sourceFrame),
    bent: map && { map, middle: [shot.width / 2, shot.height / 2] },
    lens: lensOf(layer.lens, shot),
    blur: blurOf(document, layer, shot, frame, sourceFrame, (moment) =>
      bentAt(document, layer, shot, moment),
    ),
    grade: gradeAt(document, layer.id, frame),
    cut: { extent: 'none' },
    opacity: opacityAt(document, layer, frame),
    mixed: null,
    plain: null,
    negative: false,
    spill: document.chromas[layer.id] ? spillOf(document.chromas[layer.id]) : null,
    clip: null,
  };
}

/** The traced shot, and those of its role, alone on nothing: what is laid over the other shot. Mixed as display values. */
export function cutOutAt(document: CrossingDocument, shots: Shots, frame: number): Scene {
  const scene = sceneAt(document, shots, frame, { view: 'result', traced: null });
  const role = tracedLayer(document)?.role;
  const layers = scene.layers.filter((draw) => draw.role === role);
  return { ...scene, background: 'clear', blend: 'display', layers };
}

/** A picture that is wanted of a shot, and how large it is shown. */
export type WantedPicture = Pick<LayerDraw, 'shotId' | 'sourceFrame' | 'toShot'>;

/** The picture that a layer's matte is at this frame, or null. */
export function readyPicture({ cut, shotId, toShot }: LayerDraw, shots: Shots): WantedPicture | null {
  if (cut.extent !== 'outlined' || !cut.ready) return null;
  const { ready } = cut;
  const ratio = shots[ready.shotId].width / shots[shotId].width;
  return {
    shotId: ready.shotId,
    sourceFrame: ready.frame,
    toShot: compose([ratio, 0, 0, ratio, 0, 0], toShot),
  };
}

/** Whether a layer's own picture is needed, be it only for the colour that is keyed in it. */
export function needsPicture({ paint }: Scene, { cut }: LayerDraw): boolean {
  return paint === 'picture' || (cut.extent === 'outlined' && cut.key !== null);
}

/** All pictures that a scene is drawn from. */
export function picturesOf(scene: Scene, shots: Shots): WantedPicture[] {
  return scene.layers.flatMap((draw) => {
    const ready = readyPicture(draw, shots);
    return [...(needsPicture(scene, draw) ? [draw] : []), ...(ready ? [ready] : [])];
  });
}

function turned(cut: Cut): Cut {
  if (cut.extent === 'outlined') return { ...cut, keeps: !cut.keeps };
  return { extent: cut.extent === 'all' ? 'none' : 'all' };
}

/** The traced shot and the one that it gives way to, or comes after. */
export function pairOf(
  document: CrossingDocument,
  traced: string | null,
  chosen: string | null = null,
): [top: LayerRow, other: LayerRow] | null {
  const layers = layersInOrder(document).reverse();
  const top = layers.find(({ id }) => id === traced) ?? layers[0];
  const rest = layers.filter((layer) => layer !== top);
  const other =
    rest.find(({ id }) => id === chosen) ??
    rest.find(({ visible, role }) => visible && role !== top.role) ??
    rest.find(({ visible }) => visible) ??
    rest[0];
  return top && other ? [top, other] : null;
}

/** Both shots whole: over each other, as a relief of their difference, side by side, or parted by a line. */
function bothAt(
  document: CrossingDocument,
  shots: Shots,
  frame: number,
  { view, traced, other: chosen = null, share = 0.5 }: SceneLook,
): Scene {
  const { width, height } = document.crossing;
  const layers: LayerDraw[] = [];
  const [top, other] = pairOf(document, traced, chosen) ?? [null, null];
  const [over, under] = [top, other].map((layer) => {
    const shot = layer && shots[layer.shotId];
    const source = shot ? shownSourceFrame(document, layer, shot, frame) : null;
    if (!layer || !shot || source === null) return null;
    return { ...drawOf(document, layer, shot, frame, source), bent: null, blur: null };
  });
  const half: Affine = [2, 0, 0, 2, 0, -height / 2];
  if (view === 'beside') {
    if (over)
      layers.push({
        ...over,
        toShot: compose(over.toShot, half),
        clip: [0, height / 4, width / 2, (3 * height) / 4],
      });
    if (under)
      layers.push({
        ...under,
        toShot: compose(under.toShot, [2, 0, 0, 2, -width, -height / 2]),
        clip: [width / 2, height / 4, width, (3 * height) / 4],
      });
  } else {
    if (under) layers.push({ ...under, opacity: 1 });
    if (over && view === 'split')
      layers.push({ ...over, opacity: 1, clip: [0, 0, Math.round(width * share), height] });
    else if (over && view === 'difference') layers.push({ ...over, opacity: 0.5, negative: true });
    else if (over) layers.push({ ...over, opacity: share });
  }
  return { background: 'grey', blend: 'display', paint: 'picture', layers };
}
