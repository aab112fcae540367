import type { Blend, Role } from '../model/choices';
import { layersInOrder, outlinesOfLayer } from '../document/document';
import type { CrossingDocument, LayerRow, OutlineRow } from '../document/tables';
import type { Shot } from '../model/shot';
import { tracedLayer } from '../document/plans';
import { type Affine, applyAffine, compose } from '../geometry/affine';
import type { Grade } from '../colour/grade';
import type { Homography } from '../geometry/homography';
import { type Lens, lensOf } from '../geometry/lens';
import { spillOf } from '../matte/keyed';
import type { PosedOutline } from '../matte/outline-matte';
import { type Blur, blurOf } from './blur';
import { type Cut, cutAt, posedAt } from './cut';
import { type Leaf, leafAt } from './leaves';
import { bentAt, gradeAt, opacityAt, shotMapAt } from './moves';
import { mixedWith } from './mixed';
import { shownRange, shownSourceFrame, type Shots } from './source-frames';
import type { Rectangle } from '../geometry/rectangle';

/** What the picture shows: the layer being traced alone (four ways) or the whole crossing. */
export const views = ['plain', 'cut', 'matte', 'result', 'checkerboard'] as const;
/** Both shots at once, whole, for lining them up. */
export const bothViews = ['overlay', 'difference', 'beside', 'split'] as const;
export type BothView = (typeof bothViews)[number];
export type View = (typeof views)[number] | BothView;

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

/** What is done to a layer's picture beside choosing, placing and cutting it. */
type Treatment = Exclude<keyof LayerDraw, 'layerId' | 'role' | 'shotId' | 'sourceFrame' | 'toShot' | 'cut'>;

const isNull = (value: unknown) => value === null;

/**
 * Every treatment: whether a value of it changes nothing, and whether one that does leaves a shot that covers the frame
 * covering it. A field added to {@link LayerDraw} does not compile until it is judged here.
 */
const treatments: {
  [T in Treatment]: { isPlain(value: LayerDraw[T]): boolean; covers: boolean };
} = {
  bent: { isPlain: isNull, covers: false },
  lens: { isPlain: isNull, covers: false },
  blur: { isPlain: isNull, covers: false },
  grade: { isPlain: isNull, covers: true },
  opacity: { isPlain: (value) => value === 1, covers: false },
  mixed: { isPlain: isNull, covers: false },
  // The sides of a leaf are parts of a shot, drawn in place of it.
  plain: { isPlain: isNull, covers: false },
  negative: { isPlain: (value) => !value, covers: true },
  spill: { isPlain: isNull, covers: true },
  clip: { isPlain: isNull, covers: false },
};
const allTreatments = Object.keys(treatments) as Treatment[];
const treatedBy = (draw: LayerDraw, treatment: Treatment) =>
  !treatments[treatment].isPlain(draw[treatment] as never);

/** Whether a layer shows its shot's own pixels, wherever they are placed and cut. */
export function isUntouched(draw: LayerDraw): boolean {
  return !allTreatments.some((treatment) => treatedBy(draw, treatment));
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

/**
 * The scene at a crossing frame. A layer without a picture there (before its shot begins, after it ends, trimmed
 * away, not visible) and, in the result, one that is cut away in full or lies under one that covers all are left out.
 */
export function sceneAt(document: CrossingDocument, shots: Shots, frame: number, look: SceneLook): Scene {
  const scene = wholeSceneAt(document, shots, frame, look);
  const { layers } = scene;
  if (look.view !== 'result') return scene;
  const lowest = layers.findLastIndex((draw) => coversAll(draw, shots[draw.shotId], document.crossing));
  return lowest > 0 ? { ...scene, layers: layers.slice(lowest) } : scene;
}

/** px that rounding may take from a shot that just covers the frame. */
const slack = 1e-6;

/** Whether nothing below a layer can be seen. */
function coversAll(draw: LayerDraw, shot: Shot, crossing: { width: number; height: number }): boolean {
  const { cut, toShot } = draw;
  if (cut.extent !== 'none') return false;
  if (allTreatments.some((treatment) => !treatments[treatment].covers && treatedBy(draw, treatment)))
    return false;
  return [0, crossing.width].every((x) =>
    [0, crossing.height].every((y) => {
      const [sx, sy] = applyAffine(toShot, x, y);
      return sx >= -slack && sy >= -slack && sx <= shot.width + slack && sy <= shot.height + slack;
    }),
  );
}

/** The scene with what is hidden too. */
function wholeSceneAt(document: CrossingDocument, shots: Shots, frame: number, look: SceneLook): Scene {
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
      blur: blurOf(document, layer, shot, { frame, sourceFrame, bentAt: at }),
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
    blur: blurOf(document, layer, shot, {
      frame,
      sourceFrame,
      bentAt: (moment) => bentAt(document, layer, shot, moment),
    }),
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
  const scene = wholeSceneAt(document, shots, frame, { view: 'result', traced: null });
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
export function needsPicture({ paint }: Pick<Scene, 'paint'>, { cut }: LayerDraw): boolean {
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
