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
import { followedBy } from '../compose/following';
import { restOf, shotMapAt } from '../compose/moves';

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
  /**
   * What the layers beneath do meanwhile: move along at a share of its speed, 0 to 1; or lie where they just cover the
   * opening, and go along with it.
   */
  along: number | 'covering';
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
  if (!all && layer.followsId !== null) throw followsAnother(layer, shot.name);
  const beneath = all
    ? []
    : Object.values(before.layers).filter(
        (other: LayerRow) =>
          along !== 0 &&
          other.visible &&
          other.position < layer.position &&
          // What follows it goes along by itself.
          !followedBy(before, other).includes(layer),
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
    // x ↦ (x − left) · zoom: what lies in the opening fills the frame.
    const pushed: Enlarging = { by: zoom, x: -left * zoom, y: -top * zoom };
    const inOrder = (there: Enlarging, away: Enlarging) => (back ? [away, there] : [there, away]) as Way;
    const owner = all ? document.crossing.id : layerId;
    const way = wayBeneath();
    return [
      ...keysOfWay(document, owner, [from, to], inOrder(atRest, pushed)),
      ...beneath.flatMap(({ id }) => keysOfWay(document, id, [from, to], way)),
    ];

    function wayBeneath(): Way {
      if (along === 'covering') {
        const lies = coverOf(
          openingOver(document, shots, layer, [from, to], { scratch, pictures, at: frame }),
          width,
          height,
        );
        return inOrder(lies, after(lies, pushed));
      }
      const share = zoom ** along;
      // What lies beneath starts at rest: pushed in it ends enlarged, pulled back it goes away with the opening.
      return [atRest, about(stillOf(pushed), back ? 1 / share : share)];
    }
  });
}

/** Why a layer that another moves too is not pushed: its keys alone do not say where it goes. */
function followsAnother(layer: LayerRow, name: string): NoPushIn {
  return new NoPushIn(`“${layer.name ?? name}” follows another layer, which moves it too.`, {
    does: 'Follow nothing',
    changes: [changeRow('layer', layer, { ...layer, followsId: null })],
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

/** All of the picture enlarged: a place of the crossing goes to `by` times itself and this. */
interface Enlarging {
  by: number;
  x: number;
  y: number;
}
/** How it is enlarged at the two ends of a move. */
type Way = readonly [Enlarging, Enlarging];

const atRest: Enlarging = { by: 1, x: 0, y: 0 };

function about([x, y]: readonly [number, number], by: number): Enlarging {
  return { by, x: x - x * by, y: y - y * by };
}

/** The point that an enlarging leaves where it is. */
function stillOf({ by, x, y }: Enlarging): [x: number, y: number] {
  return [x / (1 - by), y / (1 - by)];
}

/** One after the other. */
function after(first: Enlarging, then: Enlarging): Enlarging {
  return { by: first.by * then.by, x: first.x * then.by + then.x, y: first.y * then.by + then.y };
}

/** The frame so enlarged that it is the smallest of its shape about a rectangle. */
function coverOf([left, top, right, bottom]: Rectangle, width: number, height: number): Enlarging {
  const by = Math.max((right - left) / width, (bottom - top) / height);
  return { by, x: (left + right - by * width) / 2, y: (top + bottom - by * height) / 2 };
}

/** Two keys each of size and place, of an owner that has none of them. */
function keysOfWay(
  document: CrossingDocument,
  ownerId: string,
  frames: readonly [from: number, to: number],
  way: Way,
): RowChange[] {
  const { width, height } = document.crossing;
  const now = restOf(document, ownerId);
  const eased = { onward: 'eased' as const, ease: [] };
  return way.flatMap(({ by, x, y }, end) => {
    const [middleX, middleY] = [width / 2 + now.x, height / 2 + now.y];
    const place = [middleX * by + x - width / 2, middleY * by + y - height / 2];
    const size = now.size * by;
    if (size > channelNumbers.size[0].high)
      throw new NoPushIn(
        `The opening is so small that the picture would be enlarged to ${Math.round(size)} %; ${channelNumbers.size[0].high} % is the most. Take a frame on which it is larger.`,
      );
    if (place.some((value) => withinBounds('place', value) !== value))
      throw new NoPushIn(
        'The opening is so small and so far out that the picture would be moved too far. Take a frame on which it is larger.',
      );
    return [
      ...setMove(document, ownerId, 'size', frames[end], size, 0, eased),
      ...setMove(document, ownerId, 'place', frames[end], place[0], place[1], eased),
    ];
  });
}

/** Most frames that an opening is looked at on. */
const mostLooks = 24;

/**
 * The upright rectangle about all that is cut of a layer over a stretch, softness too, px of the frame and within it.
 *
 * @param at the frame that the pictures are of: what hangs on pictures is looked at there alone.
 */
function openingOver(
  document: CrossingDocument,
  shots: Shots,
  layer: LayerRow,
  [from, to]: readonly [number, number],
  { scratch, pictures, at }: { scratch: MatteScratch; pictures: CutPictures; at: number },
): Rectangle {
  const { width, height } = document.crossing;
  const shot = shots[layer.shotId];
  const looks = Math.min(mostLooks, to - from + 1);
  const frames = Array.from({ length: looks }, (_, k) =>
    Math.round(from + ((to - from) * k) / Math.max(1, looks - 1)),
  );
  // As coarse as the largest frame within is looked for: in 4K every second pixel, with the margin to match.
  const step = Math.max(1, Math.round(height / mostCells));
  let [left, top, right, bottom] = [width, height, 0, 0];
  for (const frame of new Set([at, ...frames])) {
    const cut = cutAt(document, shots, layer, frame);
    if (cut.extent === 'all') return [0, 0, width, height];
    if (cut.extent === 'none' || (frame !== at && (cut.key || cut.ready))) continue;
    const { alpha } = matteOf(cut, shot, 1, scratch, pictures);
    const source = layerSourceFrame(document, layer, shot, frame);
    const isOpen = isCut(
      alpha,
      shot,
      shotMapAt(document, layer, shot, frame, source),
      lensOf(layer.lens, shot),
      1,
    );
    // A pixel farther on each side: between samples the matte reaches half a pixel farther than its own.
    for (let y = 0; y < height; y += step)
      for (let x = 0; x < width; x += step)
        if (isOpen(x + 0.5, y + 0.5)) {
          [left, top] = [Math.min(left, x - step), Math.min(top, y - step)];
          [right, bottom] = [Math.max(right, x + 1 + step), Math.max(bottom, y + 1 + step)];
        }
  }
  return [Math.max(0, left), Math.max(0, top), Math.min(width, right), Math.min(height, bottom)];
}

/** @param from alpha from which a pixel counts as cut. */
function isCut(
  alpha: Uint8Array,
  shot: { width: number; height: number },
  toShot: Affine,
  lens: Lens | null,
  from = whole,
) {
  return (x: number, y: number) => {
    const at = applyAffine(toShot, x, y);
    const [sx, sy] = lens ? asFilmed(lens, ...at) : at;
    const [px, py] = [Math.floor(sx), Math.floor(sy)];
    // Beyond its borders the shot covers nothing, as where it is cut.
    if (px < 0 || py < 0 || px >= shot.width || py >= shot.height) return true;
    return alpha[py * shot.width + px] >= from;
  };
}
