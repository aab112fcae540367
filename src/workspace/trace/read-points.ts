import Papa from 'papaparse';
import { NoPaths } from './no-paths';

/** A line as a list of points has it, on one frame. */
export interface ListedLine {
  frame: number;
  closed: boolean;
  /** Six numbers a point. */
  coordinates: number[];
}

/** The columns that have to be there; handles may be left out, as they are in lists of corners. */
const needed = ['frame', 'x', 'y'] as const;
const handles = ['in x', 'in y', 'out x', 'out y'] as const;
/** Share of the frame's sides within which a line that ends there is taken to run on beyond it. */
const atBorder = 0.02;

/** Whether a file is a list of points: its first row names the columns that are needed. */
export function isPointList(text: string): boolean {
  const [head] = text.slice(0, 2000).split(/\r?\n/, 1);
  const names = head.split(/[,;\t]/).map(nameOf);
  return needed.every((each) => names.includes(each));
}

const nameOf = (field: string) =>
  field
    .trim()
    .replace(/^\uFEFF/, '')
    .replace(/^"|"$/g, '')
    .toLowerCase();

/**
 * The lines of a list of points, CSV (RFC 4180; semicolons and tabs as well), a row a point with its frame, x, y and, where
 * they are, its handles (px of the shot). Rows of in-betweens are left out. Where a `line` column does not say whether it is
 * a seam or a loop, it is a seam if it begins and ends at the frame's border.
 *
 * @throws NoPaths that names the row at fault.
 */
export function linesOfPoints(
  text: string,
  { width, height }: { width: number; height: number },
): ListedLine[] {
  const { data, errors } = Papa.parse<Record<string, string>>(text, {
    ...{ header: true, skipEmptyLines: true, transformHeader: nameOf },
  });
  const [wrong] = errors.filter(({ type }) => type !== 'Delimiter');
  if (wrong) throw new NoPaths(`Row ${(wrong.row ?? 0) + 2} of this list is not as long as its first.`);
  const numbered = data.map((row, k) => {
    const number = (name: string, least: number, most: number, missing?: number) => {
      const field = row[name]?.trim().replace(/^'/, '') ?? '';
      const value = field === '' ? (missing ?? NaN) : Number(field);
      if (value >= least && value <= most) return value;
      throw new NoPaths(`Row ${k + 2} of this list has no ${name} that can be: “${field}”.`);
    };
    const frame = number('frame', 0, 1e7);
    if (!Number.isInteger(frame)) throw new NoPaths(`Row ${k + 2} of this list is of frame ${frame}.`);
    const place = [number('x', -1e6, 1e6), number('y', -1e6, 1e6)];
    return { frame, point: [...place, ...handles.map((name) => number(name, -1e6, 1e6, 0))], row };
  });
  const frames = new Map<number, typeof numbered>();
  for (const each of numbered) {
    if (each.row.pose?.trim() === 'in-between') continue;
    const list = frames.get(each.frame);
    if (list) list.push(each);
    else frames.set(each.frame, [each]);
  }
  return [...frames].map(([frame, points]) => {
    const said = points[0].row.line?.trim();
    const ends = [points[0].point, points.at(-1)!.point];
    const beyond = ([x, y]: number[]) =>
      Math.min(x / width, y / height, 1 - x / width, 1 - y / height) < atBorder;
    const closed = said ? said !== 'seam' : !ends.every(beyond);
    return { frame, closed, coordinates: points.flatMap(({ point }) => point) };
  });
}
