import type { Shot } from '../model/shot';
import { type Alpha, fullOf } from '../matte/alpha';
import { drawKeyed } from '../matte/keyed';
import { MatteScratch } from '../matte/matte';
import { drawOutlines } from '../matte/outline-matte';
import { joinReady } from '../matte/ready';
import type { PicturePlanes } from '../picture/planes';
import type { OutlinedCut } from './cut';
import { type LayerDraw, readyPicture, type WantedPicture } from './scene';
import type { Shots } from './source-frames';

/** A matte as it is sampled: `width` × `height` alpha values that stand for the whole of a shot's frame. */
export interface Matte<A extends Alpha = Uint8Array> {
  width: number;
  height: number;
  alpha: A;
}

/**
 * How finely a layer's matte is drawn, as a share of the shot's size: as fine as the picture shows it, never
 * finer than the shot.
 *
 * @param quality share of the crossing's size that is drawn.
 */
export function matteScale(draw: LayerDraw, quality: number): number {
  return Math.min(1, quality / Math.hypot(draw.toShot[0], draw.toShot[1]));
}

/** The pictures that a cut hangs on; without them it cuts nothing by them yet. */
export interface CutPictures {
  /** The shot's own, which a keyed colour is looked for in. */
  own: PicturePlanes | null;
  /** Its matte's, with that shot. */
  ready: { planes: PicturePlanes; shot: Shot } | null;
}

export const noPictures: CutPictures = { own: null, ready: null };

/** What is cut from a shot, as a matte at a share of its size. */
export function matteOf(
  cut: Omit<OutlinedCut, 'extent'>,
  shot: Shot,
  scale: number,
  scratch: MatteScratch,
  pictures: CutPictures,
): Matte {
  return drawnMatte(cut, shot, { scale, scratch, pictures, room: (count) => new Uint8Array(count) });
}

/** The same with 16 bits; colours and pictures, which have 8, cut by 257 times their alpha. */
export function deepMatteOf(
  cut: Omit<OutlinedCut, 'extent'>,
  shot: Shot,
  scale: number,
  scratch: MatteScratch,
  pictures: CutPictures,
): Matte<Uint16Array> {
  return drawnMatte(cut, shot, { scale, scratch, pictures, room: (count) => new Uint16Array(count) });
}

function drawnMatte<A extends Alpha>(
  { posed, full, key, ready, keeps }: Omit<OutlinedCut, 'extent'>,
  shot: Shot,
  {
    scale,
    scratch,
    pictures,
    room,
  }: { scale: number; scratch: MatteScratch; pictures: CutPictures; room: (count: number) => A },
): Matte<A> {
  const width = Math.max(1, Math.round(shot.width * scale));
  const height = Math.max(1, Math.round(shot.height * scale));
  const alpha = room(width * height);
  const keyed = key !== null && pictures.own !== null;
  const matted = ready !== null && pictures.ready !== null;
  const bytes = alpha instanceof Uint8Array ? alpha : new Uint8Array(keyed || matted ? alpha.length : 0);
  if (keyed) drawKeyed(key, pictures.own!, shot, { width, height }, bytes);
  if (matted) {
    const { planes, shot: its } = pictures.ready!;
    joinReady(planes, its, ready.turned, { width, height }, bytes);
  }
  if (alpha !== bytes) for (let i = 0; i < bytes.length; i++) alpha[i] = 257 * bytes[i];
  const before = keyed || matted ? 'as it is' : full ? 'full' : 'empty';
  drawOutlines(posed, before, { scale, width, height, scratch }, alpha);
  const most = fullOf(alpha);
  if (keeps) for (let i = 0; i < alpha.length; i++) alpha[i] = most - alpha[i];
  return { width, height, alpha };
}

/** The picture that is a layer's matte, or null where it has none or it is missing. */
export function readyOf(
  draw: LayerDraw,
  shots: Shots,
  planesOf: (of: WantedPicture) => PicturePlanes | null,
): CutPictures['ready'] {
  const wanted = readyPicture(draw, shots);
  const planes = wanted && planesOf(wanted);
  return planes && { planes, shot: shots[wanted.shotId] };
}
