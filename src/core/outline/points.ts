import { numbersPerPoint as N } from '../model/choices';

/** A corner has no handles, a smooth point's lie in one line, a free point's as they like. */
export type PointKind = 'corner' | 'smooth' | 'free';

export function pointKindAt(coordinates: readonly number[], point: number): PointKind {
  const [ix, iy, ox, oy] = coordinates.slice(point * N + 2, point * N + 6);
  const [into, out] = [Math.hypot(ix, iy), Math.hypot(ox, oy)];
  if (into + out < 1e-9) return 'corner';
  if (into < 1e-9 || out < 1e-9) return 'free';
  const across = Math.abs(ix * oy - iy * ox) / (into * out);
  return across < 0.02 && ix * ox + iy * oy < 0 ? 'smooth' : 'free';
}

/**
 * The pose with some points made corners, or smooth: those without handles get some a third of the way to their
 * neighbours, along the line between these (Catmull and Rom 1974); handles that are there are turned into one line.
 */
export function withPointKind(
  coordinates: readonly number[],
  points: ReadonlySet<number>,
  kind: 'corner' | 'smooth',
  closed: boolean,
): number[] {
  const next = coordinates.slice();
  const count = coordinates.length / N;
  for (const p of points) {
    const i = p * N;
    if (kind === 'corner') {
      next.fill(0, i + 2, i + 6);
      continue;
    }
    const neighbour = (by: number) => {
      const at = closed ? (p + by + count) % count : Math.min(count - 1, Math.max(0, p + by));
      return [coordinates[at * N] - coordinates[i], coordinates[at * N + 1] - coordinates[i + 1]];
    };
    const [before, after] = [neighbour(-1), neighbour(1)];
    const handles = coordinates.slice(i + 2, i + 6);
    const bare = handles.every((value) => value === 0);
    let [tx, ty] = bare
      ? [after[0] - before[0], after[1] - before[1]]
      : [
          unit(handles[2], handles[3])[0] - unit(handles[0], handles[1])[0],
          unit(handles[2], handles[3])[1] - unit(handles[0], handles[1])[1],
        ];
    [tx, ty] = unit(tx, ty);
    const length = (handle: number[], way: number[]) =>
      Math.hypot(handle[0], handle[1]) || Math.hypot(way[0], way[1]) / 3;
    const into = length(handles.slice(0, 2), before);
    const out = length(handles.slice(2), after);
    next.splice(i + 2, 4, -tx * into, -ty * into, tx * out, ty * out);
  }
  return next;
}

function unit(x: number, y: number): [number, number] {
  const length = Math.hypot(x, y) || 1;
  return [x / length, y / length];
}

/** The pose walked the other way. */
export function reversedPose(coordinates: readonly number[]): number[] {
  const next: number[] = [];
  for (let i = coordinates.length - N; i >= 0; i -= N) {
    const [x, y, ix, iy, ox, oy] = coordinates.slice(i, i + N);
    next.push(x, y, ox, oy, ix, iy);
  }
  return next;
}

/** The pose mirrored left to right in a picture of `width` px. */
export function mirroredPose(coordinates: readonly number[], width: number): number[] {
  return coordinates.map((value, i) => (i % 2 === 1 ? value : i % N === 0 ? width - value : -value));
}
