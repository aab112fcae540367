import { type CrossingDocument, layersInOrder, outlinesOfLayer } from '../document/document';
import type { LayerRow, Role, Shot } from '../document/rows';
import type { Affine } from '../geometry/affine';
import type { PosedOutline } from '../matte/outline-matte';
import { shapeAt } from '../outline';
import { sourceFrameAt } from '../time/time-map';

/** What the picture shows: the layer being traced alone (four ways) or the whole crossing. */
export const views = ['plain', 'cut', 'matte', 'result', 'checkerboard'] as const;
export type View = (typeof views)[number];

/** What is cut away from a layer at a frame. */
export type Cut = { extent: 'none' } | { extent: 'all' } | { extent: 'outlined'; posed: PosedOutline[] };

/** One layer as it is drawn at a crossing frame. */
export interface LayerDraw {
  layerId: string;
  role: Role;
  shotId: string;
  sourceFrame: number;
  /** From crossing pixels to the shot's pixels as shown. */
  toShot: Affine;
  cut: Cut;
}

/** Everything that is drawn at a crossing frame, bottom to top. */
export interface Scene {
  background: 'black' | 'grey' | 'checkerboard';
  /** `matte`: in place of the pictures, white where they are cut away. */
  paint: 'picture' | 'matte';
  layers: LayerDraw[];
}

export type Shots = Readonly<Record<string, Shot>>;

/** The source frame a layer shows at a crossing frame; it may lie outside the shot. */
export function layerSourceFrame(
  document: CrossingDocument,
  layer: LayerRow,
  shot: Shot,
  frame: number,
): number {
  const { rateNum, rateDen } = document.crossing;
  return sourceFrameAt(frame, layer.offset, { num: rateNum, den: rateDen }, shot.rate);
}

/** What a layer's outlines cut away at one of its shot's frames. */
export function cutAt(document: CrossingDocument, layerId: string, sourceFrame: number): Cut {
  const posed: PosedOutline[] = [];
  for (const outline of outlinesOfLayer(document, layerId)) {
    const shape = shapeAt(document.poses[outline.id] ?? [], sourceFrame);
    if (shape.state === 'full') return { extent: 'all' };
    if (shape.state !== 'empty') posed.push({ outline, coordinates: shape.coordinates });
  }
  return posed.length > 0 ? { extent: 'outlined', posed } : { extent: 'none' };
}

/**
 * The scene at a crossing frame. A layer without a picture there (before its shot begins or after it ends) and,
 * in the result, one that is cut away in full are left out.
 *
 * @param traced the layer that the views other than `result` show.
 */
export function sceneAt(
  document: CrossingDocument,
  shots: Shots,
  frame: number,
  view: View,
  traced: string | null,
): Scene {
  const layers: LayerDraw[] = [];
  for (const layer of layersInOrder(document)) {
    const shot = shots[layer.shotId];
    if (!shot || (view !== 'result' && layer.id !== traced)) continue;
    const sourceFrame = layerSourceFrame(document, layer, shot, frame);
    if (sourceFrame < 0 || sourceFrame >= shot.frameCount) continue;
    const cut: Cut = view === 'plain' ? { extent: 'none' } : cutAt(document, layer.id, sourceFrame);
    if (cut.extent === 'all' && view !== 'matte') continue;
    const toShot = placementOf(document, shot);
    layers.push({ layerId: layer.id, role: layer.role, shotId: shot.id, sourceFrame, toShot, cut });
  }
  const background =
    view === 'checkerboard' ? 'checkerboard' : view === 'plain' || view === 'cut' ? 'grey' : 'black';
  return { background, paint: view === 'matte' ? 'matte' : 'picture', layers };
}

/** From crossing pixels to shot pixels: the shot is scaled about the centre so that it fills the crossing's frame. */
export function placementOf(document: CrossingDocument, shot: Pick<Shot, 'width' | 'height'>): Affine {
  const { width, height } = document.crossing;
  const scale = Math.min(shot.width / width, shot.height / height);
  return [scale, 0, 0, scale, (shot.width - width * scale) / 2, (shot.height - height * scale) / 2];
}

/** The layer that is traced: the topmost of the outgoing shot, else the topmost of all. */
export function tracedLayer(document: CrossingDocument): LayerRow | null {
  const layers = layersInOrder(document).reverse();
  return layers.find((layer) => layer.role === 'outgoing') ?? layers[0] ?? null;
}
