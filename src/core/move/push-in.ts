import { type CutPictures, matteOf, noPictures } from '../compose/layer-matte';
import { cutAt, outlinesCutting } from '../compose/cut';
import { layerSourceFrame, type Shots } from '../compose/source-frames';
import type { CrossingDocument, LayerRow } from '../document/tables';
import { changeRow, type RowChange } from '../document/edit';
import { channelNumbers } from '../model/channels';
import { withinBounds } from '../document/keys';
import { movesOf, removeMoves, replaceMoves, setMove } from '../actions/move-actions';
import { type Affine, applyAffine } from '../geometry/affine';
import { asFilmed, type Lens, lensOf } from '../geometry/lens';
import type { Rectangle } from '../geometry/rectangle';
import { shapeAt } from '../outline';
import type { MatteScratch } from '../matte/matte';
import { movedAt, shotMapAt } from '../compose/moves';

/** Finest grid that a region is looked at with; a frame-shaped rectangle is a square of its cells. */
const mostCells = 1080;
/** Enlargement from which there is something to push past. */
const least = 1.01;
/** Alpha from which a pixel is cut away in full. */
const whole = 255;

/**
 * The largest upright rectangle of the frame's shape, px of the frame, in which all is inside: the largest square of
 * a grid whose cells have the frame's shape, by dynamic programming. It is within a cell of the true one to each side.
 *
 * @param inside whether a point of the frame (px) lies inside.
 * @returns null where not even one cell is.
 */
export function largestFrameWithin(
  width: number,
  height: number,
  inside: (x: number, y: number) => boolean,
): Rectangle | null {
  const cells = Math.min(height, mostCells);
  const [across, down] = [width / cells, height / cells];
  // A row and a column more than cells: the points are their corners.
  const points = new Uint8Array((cells + 1) ** 2);
  for (let j = 0; j <= cells; j++)
    for (let i = 0; i <= cells; i++) points[j * (cells + 1) + i] = inside(i * across, j * down) ? 1 : 0;
  const sizes = new Uint16Array((cells + 1) ** 2);
  let [best, at] = [0, 0];
  for (let j = 0; j < cells; j++)
    for (let i = 0; i < cells; i++) {
      const p = j * (cells + 1) + i;
      if (!points[p] || !points[p + 1] || !points[p + cells + 1] || !points[p + cells + 2]) continue;
      const size = 1 + (i && j ? Math.min(sizes[p - 1], sizes[p - cells - 1], sizes[p - cells - 2]) : 0);
      sizes[p] = size;
      if (size > best) [best, at] = [size, p];
    }
  if (best === 0) return null;
  const [right, bottom] = [(at % (cells + 1)) + 1, Math.floor(at / (cells + 1)) + 1];
  return [(right - best) * across, (bottom - best) * down, right * across, bottom * down];
}

export interface PushIn {
  /** The layer whose opening it goes through. */
  layerId: string;
  /** Whether all layers move, as one picture, or this one alone. */
  all: boolean;
  /** Crossing frames of its start and end. */
  from: number;
  to: number;
  /** Out of the opening instead of into it. */
  back: boolean;
  /** How fast the layers beneath move along, as a share of its speed: 0 to 1. */
  along: number;
}

/** Why there is no push in, as a sentence. */
export class NoPushIn extends Error {
  override name = 'NoPushIn';

  /** @param remedy an edit after which there is one. */
  constructor(
    says: string,
    readonly remedy: Remedy | null = null,
  ) {
    super(says);
  }
}

/** An edit that takes away what stands in the way. */
export interface Remedy {
  /** What it does, as on a button. */
  does: string;
  changes: RowChange[];
}

/**
 * Two keys that push in through a layer's opening until the frame lies within it, softness and all, or back out of it.
 * The opening is taken as it is at the end of the push (at the start of a pull back). Keys of place and size that what
 * is pushed had before give way.
 *
 * @param pictures that what is cut hangs on there.
 * @throws NoPushIn where the opening is missing, or too small.
 */
export function pushIn(
  before: CrossingDocument,
  shots: Shots,
  { layerId, all, from, to, back, along }: PushIn,
  scratch: MatteScratch,
  pictures: CutPictures = noPictures,
): RowChange[] {
  const layer = before.layers[layerId];
  const shot = layer && shots[layer.shotId];
  if (!shot) throw new NoPushIn('There is no such shot.');
  const beneath = all
    ? []
    : Object.values(before.layers).filter(
        (other: LayerRow) => along > 0 && other.visible && other.position < layer.position,
      );
  const pushed = [all ? before.crossing.id : layerId, ...beneath.map(({ id }) => id)];
  return replaceMoves(before, pushed, ['place', 'size'], (document) => {
    const { width, height } = document.crossing;
    const frame = back ? from : to;
    const cut = cutAt(document, shots, layer, frame);
    if (cut.extent === 'all') throw allIsCut(document, shots, layer, frame);
    if (cut.extent === 'none')
      throw new NoPushIn(`On frame ${frame} nothing of this shot is cut away yet: trace its opening first.`);
    const { alpha } = matteOf(cut, shot, 1, scratch, pictures);
    const toShot = shotMapAt(document, layer, shot, frame, layerSourceFrame(document, layer, shot, frame));
    const found = largestFrameWithin(width, height, isCut(alpha, shot, toShot, lensOf(layer.lens, shot)));
    if (!found)
      throw new NoPushIn(`On frame ${frame} the opening is cut away in full nowhere: its edge is too soft.`);
    if (width / (found[2] - found[0]) < least)
      throw all
        ? liesWithin(document, layerId, shot.name)
        : liesWithin(document, document.crossing.id, 'The whole picture');
    // Between samples the matte reaches half a pixel farther than its own.
    const inset = 1;
    const [left, top] = [found[0] + inset, found[1] + inset];
    const zoom = width / (found[2] - found[0] - 2 * inset);
    const turned = { width, height, left, top };
    const share = zoom ** along;
    const own = keysOfPush(
      document,
      all ? document.crossing.id : layerId,
      [from, to],
      { back, by: zoom, zoom },
      turned,
    );
    // What lies beneath starts at rest: pushed in it ends enlarged, pulled back it goes away with the opening.
    const others = beneath.flatMap(({ id }) =>
      keysOfPush(document, id, [from, to], { back: false, by: back ? 1 / share : share, zoom }, turned),
    );
    return [...own, ...others];
  });
}

/** Why there is nothing to push past on a frame on which all of a layer is cut. */
function allIsCut(document: CrossingDocument, shots: Shots, layer: LayerRow, frame: number): NoPushIn {
  for (const outline of outlinesCutting(document, layer.id)) {
    const tracedOn = document.layers[outline.layerId];
    const shot = tracedOn && shots[tracedOn.shotId];
    const poses = document.poses[outline.id] ?? [];
    const source = shot ? layerSourceFrame(document, tracedOn, shot, frame) : 0;
    if (!shot || poses.length === 0 || shapeAt(poses, source, outline).state !== 'full') continue;
    const after = source > poses[0].frame;
    const ends = after ? { afterLast: 'hold' as const } : { beforeFirst: 'hold' as const };
    return new NoPushIn(
      `On frame ${frame} all is cut: ${outline.name} cuts everything ${after ? 'after its last' : 'before its first'} pose.`,
      {
        does: `Keep ${outline.name} as posed`,
        changes: [changeRow('outline', outline, { ...outline, ...ends })],
      },
    );
  }
  return new NoPushIn(fillsAlready);
}

const fillsAlready = 'The opening fills the frame already: nothing is left to push past.';

/** Why the frame lies within the opening already: another owner's keys may push past it. */
function liesWithin(document: CrossingDocument, otherId: string, other: string): NoPushIn {
  const keys = movesOf(document, [otherId], ['place', 'size']);
  if (keys.length === 0) return new NoPushIn(fillsAlready);
  return new NoPushIn(`${other} has keys of place and size already, and they push past the opening.`, {
    does: 'Remove those keys',
    changes: removeMoves(keys),
  });
}

/** Two keys each of size and place, between which an owner is enlarged about the push's still point. */
function keysOfPush(
  document: CrossingDocument,
  ownerId: string,
  [from, to]: readonly [number, number],
  { back, by, zoom }: { back: boolean; by: number; zoom: number },
  { width, height, left, top }: { width: number; height: number; left: number; top: number },
): RowChange[] {
  const now = movedAt(document, ownerId, back ? from : to);
  // The point that stays: x ↦ (x − left) · zoom leaves it where it is.
  const still = [(left * zoom) / (zoom - 1), (top * zoom) / (zoom - 1)];
  const middle = [width / 2 + now.x, height / 2 + now.y];
  const [x, y] = [
    still[0] + (middle[0] - still[0]) * by - width / 2,
    still[1] + (middle[1] - still[1]) * by - height / 2,
  ];
  const size = now.size * by;
  if (size > channelNumbers.size[0].high)
    throw new NoPushIn(
      `The opening is so small that the picture would be enlarged to ${Math.round(size)} %; ${channelNumbers.size[0].high} % is the most. Take a frame on which it is larger.`,
    );
  if (withinBounds('place', x) !== x || withinBounds('place', y) !== y)
    throw new NoPushIn(
      'The opening is so small and so far out that the picture would be moved too far. Take a frame on which it is larger.',
    );
  const eased = { onward: 'eased' as const, ease: [] };
  const at = (key: number, pushed: boolean) => [
    ...setMove(document, ownerId, 'size', key, pushed ? size : now.size, 0, eased),
    ...setMove(document, ownerId, 'place', key, pushed ? x : now.x, pushed ? y : now.y, eased),
  ];
  return [...at(from, back), ...at(to, !back)];
}

function isCut(
  alpha: Uint8Array,
  shot: { width: number; height: number },
  toShot: Affine,
  lens: Lens | null,
) {
  return (x: number, y: number) => {
    const at = applyAffine(toShot, x, y);
    const [sx, sy] = lens ? asFilmed(lens, ...at) : at;
    const [px, py] = [Math.floor(sx), Math.floor(sy)];
    // Beyond its borders the shot covers nothing, as where it is cut.
    if (px < 0 || py < 0 || px >= shot.width || py >= shot.height) return true;
    return alpha[py * shot.width + px] >= whole;
  };
}

/** Keys that let a layer's opacity go from one value to another, in place of those it had. */
export function fade(
  before: CrossingDocument,
  layerId: string,
  [from, to]: readonly [number, number],
  [start, end]: readonly [number, number],
): RowChange[] {
  const way = { onward: 'linear' as const, ease: [] };
  return replaceMoves(before, [layerId], ['opacity'], (document) => [
    ...setMove(document, layerId, 'opacity', from, start, 0, way),
    ...setMove(document, layerId, 'opacity', to, end, 0, way),
  ]);
}

/**
 * A subject that lingers: the layer beneath, of the same shot, fades first, and as it has gone the subject does.
 *
 * @param frames crossing frames over which each fades.
 * @returns null where there is no other layer of the subject's shot beneath it.
 */
export function fadeInOrder(
  document: CrossingDocument,
  subjectId: string,
  start: number,
  frames: readonly [background: number, subject: number],
): RowChange[] | null {
  const subject = document.layers[subjectId];
  const background = Object.values(document.layers).find(
    ({ id, shotId, position }) =>
      subject && id !== subjectId && shotId === subject.shotId && position < subject.position,
  );
  if (!background) return null;
  const gone = start + frames[0];
  return [
    ...fade(document, background.id, [start, gone], [100, 0]),
    ...fade(document, subjectId, [gone, gone + frames[1]], [100, 0]),
  ];
}
