import { limits } from '@/core/model/limits';
import { numbersPerPoint as N } from '@/core/model/choices';
import { NoOutline, type OutlineApart, readOutlineJson } from '@/core/formats/outline-json';
import { fittedPose } from '@/core/outline/fitted-pose';
import { formatBytes } from '@/footage/refusal';
import { lastNumberOf } from '@/footage/stills';
import { NoPaths } from './no-paths';
import { isPointList, linesOfPoints } from './read-points';
import { linesInSvg } from './read-svg';
import type { FoundLines, Line } from './svg-lines';

/** A line that was brought in: as one outline, on one frame or on several with the same points. */
export interface PathIn {
  name: string;
  kind: 'seam' | 'loop';
  /** Source frames with six numbers a point, in px of the shot; frame null: the one that is looked at. */
  poses: { frame: number | null; coordinates: number[] }[];
  /** All that is known of it, where it is an outline of Kiv's. */
  apart?: OutlineApart;
}

interface Frame {
  width: number;
  height: number;
}

/** Most bytes of what is read at once: of SVG, which is laid out, and of lists and JSON. */
const mostBytes = { svg: 8e6, other: 30e6 };
const mostOutlines = 40;

/** How the lines of an SVG are found: by the browser, or by what stands for it in a test. */
export type SvgReader = (text: string, shot: Frame) => FoundLines;

/** What was read, and what of it was left out: a sentence each. */
export interface PathsIn {
  paths: PathIn[];
  leftOut: string[];
}

/**
 * The lines of an SVG as the browser lays it out, with its viewport on the shot's frame; of Kiv's own JSON; or of a list of
 * points as CSV. Groups that name a frame (`data-frame`, or an id that ends in its number after `frame-`) become poses.
 *
 * @throws NoPaths where there are none, or the file cannot be read.
 */
export function pathsIn(text: string, shot: Frame, svg: SvgReader = linesInSvg): PathsIn {
  if (text.trimStart().startsWith('{')) return { paths: checked(fromJson(text, shot)), leftOut: [] };
  if (isPointList(text)) {
    const lines = linesOfPoints(text, shot).map((line) => ({ ...line, name: 'Outline' }));
    return { paths: checked(joined(lines)), leftOut: [] };
  }
  const { lines, leftOut } = svg(text, shot);
  return { paths: checked(joined(lines), leftOut), leftOut };
}

/**
 * The lines of SVGs that are numbered by frame, as {@link pathsIn} reads one: the first of every file is one outline, the
 * second another, and so on.
 *
 * @throws NoPaths also where a name ends in no number.
 */
export function pathsOfFrames(
  files: readonly { name: string; text: string }[],
  shot: Frame,
  svg: SvgReader = linesInSvg,
): PathsIn {
  const leftOut: string[] = [];
  const lines = files.flatMap(({ name, text }) => {
    const number = lastNumberOf(name.replace(/\.[^.]*$/, ''))?.digits;
    if (number === undefined)
      throw new NoPaths(`Several files are taken frame by frame, but “${name}” ends in no number.`);
    const found = svg(text, shot);
    leftOut.push(...found.leftOut.map((each) => `${name}: ${each}`));
    return found.lines.map((line) => ({ ...line, frame: line.frame ?? Number(number) }));
  });
  return { paths: checked(joined(lines), leftOut), leftOut };
}

/** @throws NoPaths where files are larger than Kiv reads at once, before any of them is read. */
export function checkSizes(files: readonly { name: string; size: number }[]) {
  const svg = files.filter(({ name }) => /\.svg$/i.test(name)).reduce((sum, { size }) => sum + size, 0);
  const all = files.reduce((sum, { size }) => sum + size, 0);
  const most = svg > mostBytes.svg ? mostBytes.svg : all > mostBytes.other ? mostBytes.other : null;
  if (most !== null)
    throw new NoPaths(
      `This is ${formatBytes(all)}; Kiv reads up to ${formatBytes(most)} of paths at once. Leave out what is not needed, or take fewer frames.`,
    );
}

function checked(found: PathIn[], leftOut: readonly string[] = []): PathIn[] {
  if (found.length === 0)
    throw new NoPaths(['There are no lines in this file.', ...leftOutOf(leftOut)].join(' '));
  if (found.length > mostOutlines)
    throw new NoPaths(
      `There are ${found.length} lines in this file; Kiv takes up to ${mostOutlines} at once.`,
    );
  const long = found.find(({ poses }) => poses[0].coordinates.length / N > limits.points);
  if (long) throw new NoPaths(`“${long.name}” has more than ${limits.points} points. Simplify it first.`);
  return found;
}

/** Most of what was left out that is said one by one. */
const mostSaid = 6;

/** What was left out, as sentences, the first of them said one by one. */
export function leftOutOf(leftOut: readonly string[]): string[] {
  if (leftOut.length === 0) return [];
  const more = leftOut.length - mostSaid;
  return [`Left out: ${leftOut.slice(0, mostSaid).join(' ')}`, ...(more > 0 ? [`And ${more} more.`] : [])];
}

function fromJson(text: string, shot: Frame): PathIn[] {
  try {
    const apart = readOutlineJson(text, shot);
    const { name, kind } = apart.outline;
    return [{ name, kind, poses: apart.poses, apart }];
  } catch (error) {
    throw error instanceof NoOutline ? new NoPaths(error.message) : error;
  }
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
