import { XMLParser } from 'fast-xml-parser';
import svgpath from 'svgpath';
import { limits } from '@/core/document/limits';
import { numbersPerPoint as N } from '@/core/document/rows';
import { fittedPose } from '@/core/formats/fitted-pose';
import type { Affine } from '@/core/geometry/affine';
import { NoPaths } from './no-paths';
import { isPointList, linesOfPoints } from './read-points';

/** A line that was brought in: as one outline, on one frame or on several with the same points. */
export interface PathIn {
  name: string;
  kind: 'seam' | 'loop';
  /** Source frames with six numbers a point, in px of the shot; frame null: the one that is looked at. */
  poses: { frame: number | null; coordinates: number[] }[];
}

interface Frame {
  width: number;
  height: number;
}

/** Most characters of a file, and most outlines taken from it. */
const mostText = 40e6;
const mostOutlines = 40;

/**
 * The lines of an SVG (path, line, polyline, polygon, rect, circle, ellipse; with transforms, and its viewBox laid onto the
 * shot's frame as `xMidYMid meet` has it), of Kiv's own JSON, or of a list of points as CSV. Groups that name a frame (`data-frame`, or an id that
 * ends in its number after `frame-`) become poses.
 *
 * @throws NoPaths where there are none, or the file cannot be read.
 */
export function pathsIn(text: string, shot: Frame): PathIn[] {
  checkLength([text]);
  if (text.trimStart().startsWith('{')) return checked(fromJson(text, shot));
  const lines = isPointList(text)
    ? linesOfPoints(text, shot).map((line) => ({ ...line, name: 'Outline' }))
    : linesIn(text, shot);
  return checked(joined(lines));
}

/**
 * The lines of SVGs that are numbered by frame, as {@link pathsIn} reads one: the first of every file is one outline, the
 * second another, and so on.
 *
 * @throws NoPaths also where a name ends in no number.
 */
export function pathsOfFrames(files: readonly { name: string; text: string }[], shot: Frame): PathIn[] {
  checkLength(files.map(({ text }) => text));
  const lines = files.flatMap(({ name, text }) => {
    const number = /(\d+)\D*$/.exec(name.replace(/\.[^.]*$/, ''))?.[1];
    if (number === undefined)
      throw new NoPaths(`Several files are taken frame by frame, but “${name}” ends in no number.`);
    return linesIn(text, shot).map((line) => ({ ...line, frame: line.frame ?? Number(number) }));
  });
  return checked(joined(lines));
}

function checkLength(texts: readonly string[]) {
  if (texts.reduce((sum, { length }) => sum + length, 0) > mostText)
    throw new NoPaths('This is more than Kiv takes in as paths at once.');
}

function checked(found: PathIn[]): PathIn[] {
  if (found.length === 0) throw new NoPaths('There are no lines in this file.');
  if (found.length > mostOutlines)
    throw new NoPaths(
      `There are ${found.length} lines in this file; Kiv takes up to ${mostOutlines} at once.`,
    );
  const long = found.find(({ poses }) => poses[0].coordinates.length / N > limits.points);
  if (long) throw new NoPaths(`“${long.name}” has more than ${limits.points} points. Simplify it first.`);
  return found;
}

function fromJson(text: string, shot: Frame): PathIn[] {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new NoPaths('This file is no JSON that can be read.');
  }
  const { format, version, name, kind, poses, shot: from } = value as Record<string, never>;
  if (format !== 'kiv outline') throw new NoPaths('This JSON is not of an outline.');
  if (version !== 1)
    throw new NoPaths(`This outline was written by another version of Kiv (${String(version)}).`);
  const size = from as Frame | undefined;
  const own = Array.isArray(poses)
    ? (poses as { frame: number; points: { at: number[]; in: number[]; out: number[] }[] }[])
    : [];
  const count = own[0]?.points?.length ?? 0;
  const sound =
    size !== undefined &&
    [size.width, size.height].every((side) => Number.isFinite(side) && side > 0) &&
    (kind === 'seam' || kind === 'loop') &&
    count > 0 &&
    own.every(
      ({ frame, points }) =>
        Number.isInteger(frame) &&
        frame >= 0 &&
        Array.isArray(points) &&
        points.length === count &&
        points.every((point) =>
          [point?.at, point?.in, point?.out].every(
            (two) => Array.isArray(two) && two.length === 2 && two.every(isCoordinate),
          ),
        ),
    );
  if (!sound) throw new NoPaths('The outline in this file is not whole.');
  const [sx, sy] = [shot.width / size.width, shot.height / size.height];
  const scaled = ([x, y]: number[]) => [x * sx, y * sy];
  const taken = own.map(({ frame, points }) => ({
    frame,
    coordinates: points.flatMap((point) => [...scaled(point.at), ...scaled(point.in), ...scaled(point.out)]),
  }));
  return [{ name: String(name || 'Outline').slice(0, limits.name), kind, poses: taken }];
}

function isCoordinate(value: unknown): boolean {
  return typeof value === 'number' && Math.abs(value) <= 1e6;
}

type Node = Record<string, unknown>;

/** One line as it is walked to. */
interface Line {
  name: string;
  frame: number | null;
  closed: boolean;
  coordinates: number[];
}

function linesIn(text: string, shot: Frame): Line[] {
  let tree: Node[];
  try {
    // Entities that a file declares itself could grow without end.
    const parser = new XMLParser({
      ...{ preserveOrder: true, ignoreAttributes: false, attributeNamePrefix: '', processEntities: false },
      ...{ parseAttributeValue: false },
    });
    tree = parser.parse(text) as Node[];
  } catch {
    throw new NoPaths('This file is no SVG that can be read.');
  }
  const root = tree.find((node) => 'svg' in node);
  if (!root)
    throw new NoPaths(
      'This file is neither SVG nor an outline’s JSON, nor a list of points with frame, x and y.',
    );
  const lines: Line[] = [];
  try {
    walk(root.svg as Node[], [ontoShot(attributesOf(root), shot)], null, lines);
  } catch (error) {
    if (error instanceof NoPaths) throw error;
    throw new NoPaths('A line in this SVG cannot be read.');
  }
  return lines;
}

function attributesOf(node: Node): Record<string, string> {
  return (node[':@'] ?? {}) as Record<string, string>;
}

/** From the SVG's user units to px of the shot. */
function ontoShot({ viewBox, width, height }: Record<string, string>, shot: Frame): string {
  const box = viewBox
    ?.trim()
    .split(/[\s,]+/)
    .map(Number) ?? [0, 0, units(width), units(height)];
  const [x, y, w, h] = box;
  if (!(box.length === 4 && box.every(Number.isFinite) && w > 0 && h > 0)) return '';
  const scale = Math.min(shot.width / w, shot.height / h);
  return matrix([
    scale,
    0,
    0,
    scale,
    (shot.width - w * scale) / 2 - x * scale,
    (shot.height - h * scale) / 2 - y * scale,
  ]);
}

const perInch = 96;
const unitSizes: Record<string, number> = {
  '': 1,
  px: 1,
  in: perInch,
  cm: perInch / 2.54,
  mm: perInch / 25.4,
  pt: perInch / 72,
  pc: perInch / 6,
};

/** A length in px (CSS Values and Units, §6.2); NaN for what is none. */
function units(length: string | undefined): number {
  const match = /^\s*([-+\d.eE]+?)(px|in|cm|mm|pt|pc|)\s*$/.exec(length ?? '');
  return match ? Number(match[1]) * unitSizes[match[2]] : NaN;
}

function matrix(map: Affine): string {
  return `matrix(${map.join(' ')})`;
}

function walk(nodes: readonly Node[], transforms: readonly string[], frame: number | null, lines: Line[]) {
  for (const node of nodes) {
    const tag = Object.keys(node).find((key) => key !== ':@');
    if (!tag || tag.startsWith('#') || tag.startsWith('?')) continue;
    const attributes = attributesOf(node);
    const own = attributes.transform ? [...transforms, attributes.transform] : transforms;
    const named = attributes['data-frame'] ?? /frame-(\d+)$/.exec(attributes.id ?? '')?.[1];
    const at = named !== undefined && /^\d+$/.test(named) ? Number(named) : frame;
    // What is only referred to is not drawn.
    if (['defs', 'clipPath', 'mask', 'symbol', 'pattern', 'marker'].includes(tag)) continue;
    if (tag === 'g' || tag === 'svg' || tag === 'a' || tag === 'switch') {
      walk(node[tag] as Node[], own, at, lines);
      continue;
    }
    const d = dataOf(tag, attributes);
    if (d) lines.push(...linesOf(d, own, attributes.id ?? '', at));
  }
}

/** An element's line as path data (SVG 2, §10), or null where it has none. */
function dataOf(tag: string, attributes: Record<string, string>): string | null {
  const number = (name: string) => (attributes[name] === undefined ? 0 : units(attributes[name]));
  switch (tag) {
    case 'path':
      return attributes.d ?? null;
    case 'line':
      return `M${number('x1')} ${number('y1')}L${number('x2')} ${number('y2')}`;
    case 'polyline':
    case 'polygon':
      return attributes.points?.trim() ? `M${attributes.points}${tag === 'polygon' ? 'Z' : ''}` : null;
    case 'rect': {
      const [x, y, w, h] = ['x', 'y', 'width', 'height'].map(number);
      return w > 0 && h > 0 ? `M${x} ${y}h${w}v${h}h${-w}Z` : null;
    }
    case 'circle':
    case 'ellipse': {
      const [x, y] = [number('cx'), number('cy')];
      const [rx, ry] = tag === 'circle' ? [number('r'), number('r')] : [number('rx'), number('ry')];
      if (!(rx > 0 && ry > 0)) return null;
      const arc = (dx: number, dy: number) => `A${rx} ${ry} 0 0 1 ${x + dx} ${y + dy}`;
      return `M${x + rx} ${y}${arc(0, ry)}${arc(-rx, 0)}${arc(0, -ry)}${arc(rx, 0)}Z`;
    }
    default:
      return null;
  }
}

/** The subpaths of path data as points with handles. */
function linesOf(d: string, transforms: readonly string[], name: string, frame: number | null): Line[] {
  let path = svgpath(d);
  // The innermost first.
  for (const transform of [...transforms].reverse()) if (transform) path = path.transform(transform);
  const lines: Line[] = [];
  let points: number[][] = [];
  const finish = (closes: boolean) => {
    let closed = closes;
    const [first, last] = [points[0], points.at(-1)];
    if (points.length > 2 && first && last && Math.hypot(first[0] - last[0], first[1] - last[1]) < 1e-3) {
      // It came back by itself: the last point is the first, with the way into it.
      [first[2], first[3]] = [last[2], last[3]];
      points.pop();
      closed = true;
    }
    if (points.length >= (closed ? 3 : 2)) lines.push({ name, frame, closed, coordinates: points.flat() });
    points = [];
  };
  const goTo = (x: number, y: number, into: readonly number[], out: readonly number[]) => {
    const from = points.at(-1);
    if (from) [from[4], from[5]] = [out[0] - from[0], out[1] - from[1]];
    points.push([x, y, into[0] - x, into[1] - y, 0, 0]);
  };
  path
    .abs()
    .unarc()
    .unshort()
    .iterate((segment, _index, x, y) => {
      const [command, ...v] = segment as [string, ...number[]];
      const straight = (tx: number, ty: number) => goTo(tx, ty, [tx, ty], [x, y]);
      if (command === 'M') {
        finish(false);
        points = [[v[0], v[1], 0, 0, 0, 0]];
      } else if (command === 'L') straight(v[0], v[1]);
      else if (command === 'H') straight(v[0], y);
      else if (command === 'V') straight(x, v[0]);
      else if (command === 'C') goTo(v[4], v[5], [v[2], v[3]], [v[0], v[1]]);
      else if (command === 'Q') {
        const third = (from: number, to: number) => from + ((to - from) * 2) / 3;
        goTo(v[2], v[3], [third(v[2], v[0]), third(v[3], v[1])], [third(x, v[0]), third(y, v[1])]);
      } else if (command === 'Z') finish(true);
    });
  finish(false);
  if (lines.some(({ coordinates }) => !coordinates.every(isCoordinate)))
    throw new NoPaths('A line in this SVG lies farther away than Kiv can take.');
  return lines;
}

/**
 * Lines that follow each other over frames as one outline each: the first of every frame, the second, and so on. Where one
 * has other points than the first, the first one's are brought onto it.
 */
function joined(lines: readonly Line[]): PathIn[] {
  const single = lines.filter(({ frame }) => frame === null);
  const found = single.map((line, k) => pathOf([line], line.name || `Path ${k + 1}`));
  const byFrame = new Map<number, Line[]>();
  for (const line of lines)
    if (line.frame !== null) byFrame.set(line.frame, [...(byFrame.get(line.frame) ?? []), line]);
  const most = Math.max(0, ...[...byFrame.values()].map(({ length }) => length));
  for (let k = 0; k < most; k++) {
    const own = [...byFrame.values()].flatMap((all) => all[k] ?? []).sort((a, b) => a.frame! - b.frame!);
    const [first] = own;
    const other = own.find(({ closed }) => closed !== first.closed);
    if (other)
      throw new NoPaths(
        `On frame ${other.frame} the line is ${other.closed ? 'closed' : 'open'}, on frame ${first.frame} it is not: an outline is one or the other.`,
      );
    let last = first.coordinates;
    const posed = own.map((line) => {
      const { length } = first.coordinates;
      const alike = line.coordinates.length === length;
      last = alike ? line.coordinates : fittedPose(last, line.closed, line.coordinates);
      return { ...line, coordinates: last };
    });
    found.push(pathOf(posed, first.name || `Path ${single.length + k + 1}`));
  }
  return found;
}

function pathOf(lines: readonly Line[], name: string): PathIn {
  return {
    name: name.slice(0, limits.name),
    kind: lines[0].closed ? 'loop' : 'seam',
    poses: lines.map(({ frame, coordinates }) => ({ frame, coordinates })),
  };
}
