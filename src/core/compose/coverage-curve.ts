import { MatteScratch, meanAlpha } from '../matte/matte';
import { bilinear } from '../picture/planes';
import { layersInOrder } from '../document/document';
import type { CrossingDocument, LayerRow } from '../document/tables';
import type { Shot } from '../model/shot';
import { type Affine, applyAffine } from '../geometry/affine';
import { asFilmed, type Lens, lensOf } from '../geometry/lens';
import { moves, opacityAt, shotMapAt } from './moves';
import { type CutPictures, type Matte, matteOf, noPictures } from './layer-matte';
import { tracedLayer } from '../document/plans';
import { cutAt, outlinesCutting } from './cut';
import { angleAt } from './leaves';
import { drawDeepAlpha } from './picture';
import { sceneAt } from './scene';
import { layerSourceFrame, type Shots } from './source-frames';

/** Height in px of the mattes from which coverage is measured: enough for 0.1 %. */
const measuringHeight = 90;

/**
 * Share of the frame that the wipe has taken at a crossing frame, 0 to 1: what is cut away of the traced shot, or what
 * of it is brought in where it is the incoming one, or keeps what its outlines enclose. Where the shot moves it is the
 * crossing's frame, else the shot's own.
 *
 * @param pictures that what is cut of the traced shot hangs on there.
 * @throws RangeError when the crossing has no layer with a shot.
 */
export function coverageAt(
  document: CrossingDocument,
  shots: Shots,
  frame: number,
  scratch: MatteScratch,
  pictures: CutPictures = noPictures,
): number {
  const layer = tracedLayer(document);
  const shot = layer && shots[layer.shotId];
  if (!layer || !shot) throw new RangeError('Coverage needs a layer with a shot.');
  const cut = cutAt(document, shots, layer, frame);
  if (cut.extent !== 'outlined') {
    // A layer that keeps and has no outline yet is whole, and nothing has come in.
    const traced = outlinesCutting(document, layer.id).length > 0 || layer.matteId !== null;
    return (cut.extent === 'all') !== (layer.keeps && traced) ? 1 : 0;
  }
  const taken = { posed: cut.posed, full: cut.full, key: cut.key, ready: cut.ready, keeps: false };
  const source = layerSourceFrame(document, layer, shot, frame);
  if (!cut.key && !cut.ready && !layer.keeps && hasOpenLeaf(document, layer, frame))
    return 1 - coveredWithLeaves(document, shots, layer, frame, scratch);
  const toShot =
    moves(document, layer) || layer.lens !== 0 ? shotMapAt(document, layer, shot, frame, source) : null;
  // The more it is enlarged the finer: so many rows over what is seen.
  const rowsSeen = toShot ? document.crossing.height * Math.hypot(toShot[0], toShot[1]) : shot.height;
  const matte = matteOf(taken, shot, Math.min(1, measuringHeight / rowsSeen), scratch, pictures);
  const share = toShot
    ? shareSeen(matte, shot, toShot, lensOf(layer.lens, shot), document)
    : meanAlpha(matte.alpha);
  if (layer.role === 'incoming') return layer.keeps ? share : 1 - share;
  if (!layer.keeps) return share;
  // Of a subject that is kept before its own shot, what is seen of either has not been taken.
  const beneath = layersInOrder(document).find(
    ({ shotId, position, visible }) => visible && shotId === layer.shotId && position < layer.position,
  );
  const [own, ground] = [
    opacityAt(document, layer, frame),
    beneath ? opacityAt(document, beneath, frame) : 0,
  ];
  return 1 - share * Math.max(own, ground) - (1 - share) * ground;
}

/** Whether a leaf of the layer has swung open: then it covers some of what its opening cuts. */
function hasOpenLeaf(document: CrossingDocument, { id }: LayerRow, frame: number): boolean {
  return outlinesCutting(document, id).some(
    (outline) =>
      outline.hinge !== null && outline.layerId === id && angleAt(document, outline, frame) !== null,
  );
}

/** Share of the crossing's frame that a layer covers with its leaves, whatever its opacity. */
function coveredWithLeaves(
  document: CrossingDocument,
  shots: Shots,
  { id }: LayerRow,
  frame: number,
  scratch: MatteScratch,
): number {
  const { crossing } = document;
  const height = measuringHeight;
  const width = Math.max(1, Math.round((height * crossing.width) / crossing.height));
  const scene = sceneAt(document, shots, frame, { view: 'result', traced: null, solo: id });
  const layers = scene.layers.map((draw) => ({ ...draw, opacity: 1, blur: null }));
  const covered = new Uint16Array(width * height);
  drawDeepAlpha(
    { ...scene, layers },
    { shots, crossing, planesOf: () => null, width, height, scratch },
    covered,
  );
  return covered.reduce((sum, value) => sum + value, 0) / (65_535 * covered.length);
}

/** Mean of a matte over the crossing's frame; beyond the shot's borders all is cut. */
function shareSeen(
  { alpha, width, height }: Matte,
  shot: Shot,
  toShot: Affine,
  lens: Lens | null,
  { crossing }: CrossingDocument,
): number {
  const rows = measuringHeight;
  const columns = Math.max(1, Math.round((rows * crossing.width) / crossing.height));
  let sum = 0;
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      const straight = applyAffine(
        toShot,
        ((i + 0.5) * crossing.width) / columns,
        ((j + 0.5) * crossing.height) / rows,
      );
      const at = lens ? asFilmed(lens, ...straight) : straight;
      const beyond = at[0] < 0 || at[1] < 0 || at[0] > shot.width || at[1] > shot.height;
      const [x, y] = [(at[0] * width) / shot.width - 0.5, (at[1] * height) / shot.height - 0.5];
      sum += beyond ? 255 : bilinear(alpha, width, height, x, y);
    }
  return sum / (255 * rows * columns);
}
