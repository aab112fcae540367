import { rgbaToI420 } from '@/core/colour/matrix';
import { isUntouched, type Scene } from '@/core/compose/scene';
import type { Size } from '@/core/compose/sampling';
import type { Shots } from '@/core/compose/source-frames';
import { rectanglesOf, tileCut, tileSide } from '@/core/compose/tiles';
import { compose } from '@/core/geometry/affine';
import type { Rectangle } from '@/core/geometry/rectangle';
import { type PicturePlanes, shotToPlanes } from '@/core/picture/planes';
import { spend } from '@/footage/spent';
import { exportColour } from '@/footage/video-writer';
import { type Compositor, placedIn } from './compositor';
import type { Placed, PreparedLayer } from './placed';

/** px by which what is read of a drawn picture reaches beyond its tiles, as chroma is averaged over neighbours. */
const margin = 2;

/** A layer whose samples are the frame's own, so many columns and rows further on. */
interface Straight {
  planes: PicturePlanes;
  right: number;
  down: number;
}

/**
 * Frames of a crossing as planes for a video. Where a shot is seen as it was filmed, uncut and in its place, its own samples
 * are taken; only tiles in which something is mixed, moved or graded are drawn, read back and converted.
 */
export class FramePlanes {
  private readonly luma: number;
  /** The frame that was made last: Y, Cb and Cr one after the other, 4:2:0. */
  readonly planes: Uint8Array;
  private rgba = new Uint8Array(0);
  private converted = new Uint8Array(0);

  /** @param size of the frames, even numbers of px. */
  constructor(
    private readonly compositor: Compositor,
    readonly size: Size,
  ) {
    this.luma = size.width * size.height;
    this.planes = new Uint8Array((this.luma * 3) / 2);
  }

  draw(scene: Scene, layers: readonly PreparedLayer[], shots: Shots, crossing: Size) {
    const { width, height } = this.size;
    const start = performance.now();
    const visible: Rectangle = [0, 0, width, height];
    const target = { width, height, flipped: false, visible };
    const placed = placedIn(target, layers, shots, crossing);
    const straight = placed.map((layer) => straightOf(layer, shots, crossing, this.size));
    const columns = Math.ceil(width / tileSide);
    const drawn = new Uint8Array(columns * Math.ceil(height / tileSide)).fill(1);
    const tiles = { columns, rows: drawn.length / columns, cut: drawn };
    placed.forEach((layer, slot) => {
      const own = straight[slot];
      if (!own) return;
      const above = placed.slice(slot + 1);
      const seen = (tile: number) => layer.hides(tile) && above.every((other) => isClear(other, tile));
      for (const rectangle of rectanglesOf(tiles, visible, seen)) this.take(own, rectangle);
      for (let tile = 0; tile < drawn.length; tile++) if (seen(tile)) drawn[tile] = 0;
    });
    const mixed = rectanglesOf(tiles, visible, (tile) => drawn[tile] === 1);
    spend('copy', start);
    if (mixed.length === 0) return;
    const box = boxAround(mixed, width, height);
    const [bw, bh] = [box[2] - box[0], box[3] - box[1]];
    if (this.rgba.length !== bw * bh * 4) {
      this.rgba = new Uint8Array(bw * bh * 4);
      this.converted = new Uint8Array((bw * bh * 3) / 2);
    }
    this.compositor.readTiles(
      scene,
      placed,
      shots,
      crossing,
      this.size,
      box,
      (tile) => drawn[tile] === 1,
      this.rgba,
    );
    const converting = performance.now();
    rgbaToI420(this.rgba, bw, bh, exportColour, this.converted);
    for (const rectangle of mixed) this.takeConverted(box, rectangle);
    spend('convert', converting);
  }

  /** Copies a part of a layer's own planes. */
  private take({ planes, right, down }: Straight, [x0, y0, x1, y1]: Rectangle) {
    const { width } = this.size;
    copyRows(planes.y, planes.width, x0 + right, y0 + down, this.planes, 0, width, x0, y0, x1, y1);
    const chroma = [x0, y0, x1, y1].map((at) => at / 2) as unknown as Rectangle;
    for (const [from, start] of [
      [planes.u, this.luma],
      [planes.v, this.luma * 1.25],
    ] as const) {
      const [cx0, cy0, cx1, cy1] = chroma;
      const [cx, cy] = [cx0 + right / 2, cy0 + down / 2];
      copyRows(from, planes.chromaWidth, cx, cy, this.planes, start, width / 2, cx0, cy0, cx1, cy1);
    }
  }

  private takeConverted([left, top, right, bottom]: Rectangle, rectangle: Rectangle) {
    const [width, height] = [right - left, bottom - top];
    const luma = width * height;
    const planes: PicturePlanes = {
      ...{ width, height, chromaWidth: width / 2, chromaHeight: height / 2, colour: exportColour },
      y: this.converted.subarray(0, luma),
      u: this.converted.subarray(luma, luma * 1.25),
      v: this.converted.subarray(luma * 1.25),
    };
    this.take({ planes, right: -left, down: -top }, rectangle);
  }
}

/** Whether a layer shows nothing in a tile. */
function isClear({ tiles, planes, draw }: Placed, tile: number): boolean {
  return planes !== null && draw.mixed === null && tiles.cut[tile] === tileCut.all;
}

/** A layer's planes where they are the frame's own; null where anything is done to them. */
function straightOf(
  { draw, planes, sampling }: Placed,
  shots: Shots,
  crossing: Size,
  size: Size,
): Straight | null {
  const untouched =
    planes !== null &&
    sampling.aligned &&
    isUntouched(draw) &&
    planes.chromaWidth * 2 === planes.width &&
    planes.chromaHeight * 2 === planes.height &&
    planes.colour.matrix === exportColour.matrix &&
    planes.colour.fullRange === exportColour.fullRange;
  if (!untouched) return null;
  const toCrossing = [crossing.width / size.width, 0, 0, crossing.height / size.height, 0, 0] as const;
  const toPlanes = compose(shotToPlanes(shots[draw.shotId], planes), compose(draw.toShot, [...toCrossing]));
  const [right, down] = [Math.round(toPlanes[4]), Math.round(toPlanes[5])];
  return right % 2 === 0 && down % 2 === 0 ? { planes, right, down } : null;
}

/** The box around rectangles with a margin, even, within the frame. */
function boxAround(rectangles: readonly Rectangle[], width: number, height: number): Rectangle {
  const [x0, y0, x1, y1] = rectangles.reduce((box, other) => [
    Math.min(box[0], other[0]),
    Math.min(box[1], other[1]),
    Math.max(box[2], other[2]),
    Math.max(box[3], other[3]),
  ]);
  return [Math.max(0, x0 - margin), y0, Math.min(width, x1 + margin), y1 > height ? height : y1];
}

function copyRows(
  from: Uint8Array,
  fromWidth: number,
  fromX: number,
  fromY: number,
  to: Uint8Array,
  start: number,
  toWidth: number,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
) {
  for (let y = y0; y < y1; y++) {
    const at = (fromY + y - y0) * fromWidth + fromX;
    to.set(from.subarray(at, at + x1 - x0), start + y * toWidth + x0);
  }
}
