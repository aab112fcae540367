import { type Affine, applyAffine } from '../geometry/affine';
import { bilinear } from '../picture/planes';
import type { FramePicture } from '../picture/frame-picture';

/** Places along a line and at each the unit direction across it, away from the object; px of the picture. */
export interface EdgeLine {
  count: number;
  x: Float64Array;
  y: Float64Array;
  nx: Float64Array;
  ny: Float64Array;
  /** px on the object's side, and on the other, beyond which something else lies: the far side of a narrow loop. */
  room: readonly [inside: number, outside: number];
}

/**
 * The picture around a line, straightened: `count` places × `across` samples, sample m of a place `from` + m · `step`
 * px along its direction; negative is inside the object. Y, U, V as code values; Y is NaN where it is not in the picture.
 */
export interface StraightPicture {
  count: number;
  across: number;
  from: number;
  step: number;
  y: Float32Array;
  u: Float32Array;
  v: Float32Array;
}

/** Where a line's surroundings lie in another frame: a map, and at each place a shift besides, px. */
export interface Passage {
  map: Affine;
  dx: Float64Array;
  dy: Float64Array;
}

/** @param passage from the line's picture to `picture`, where that is another frame. */
export function straightPicture(
  picture: FramePicture,
  line: EdgeLine,
  { from, step, across, passage }: { from: number; step: number; across: number; passage: Passage | null },
): StraightPicture {
  const { count } = line;
  const [y, u, v] = [0, 1, 2].map(() => new Float32Array(count * across));
  const { planes, width, height } = picture;
  const { chromaWidth, chromaHeight, u: us, v: vs } = planes;
  const [lastX, lastY] = [chromaWidth - 1, chromaHeight - 1];
  const [cx, cy] = [chromaWidth / width, chromaHeight / height];
  const [inside, outside] = line.room;
  for (let i = 0, o = 0; i < count; i++) {
    let [px, py, dx, dy] = [line.x[i], line.y[i], line.nx[i], line.ny[i]];
    if (passage) {
      const [a, b, c, d] = passage.map;
      [dx, dy] = [a * dx + c * dy, b * dx + d * dy];
      [px, py] = applyAffine(passage.map, px, py);
      px += passage.dx[i];
      py += passage.dy[i];
    }
    for (let m = 0; m < across; m++, o++) {
      const far = from + m * step;
      const sx = px + far * dx;
      const sy = py + far * dy;
      if (far < -inside || far > outside || sx < 0 || sy < 0 || sx > width || sy > height) {
        y[o] = NaN;
        continue;
      }
      y[o] = bilinear(planes.y, width, height, sx - 0.5, sy - 0.5);
      const ux = sx * cx - 0.5;
      const uy = sy * cy - 0.5;
      if (ux < 0 || uy < 0 || ux >= lastX || uy >= lastY) {
        u[o] = bilinear(planes.u, chromaWidth, chromaHeight, ux, uy);
        v[o] = bilinear(planes.v, chromaWidth, chromaHeight, ux, uy);
        continue;
      }
      // Both chromas between the same samples.
      const at = (uy | 0) * chromaWidth + (ux | 0);
      const right = ux - (ux | 0);
      const down = uy - (uy | 0);
      const a = (1 - right) * (1 - down);
      const b = right * (1 - down);
      const c = (1 - right) * down;
      const d = right * down;
      const below = at + chromaWidth;
      u[o] = a * us[at] + b * us[at + 1] + c * us[below] + d * us[below + 1];
      v[o] = a * vs[at] + b * vs[at + 1] + c * vs[below] + d * vs[below + 1];
    }
  }
  return { count, across, from, step, y, u, v };
}
