import { type Fields, fitsField, plainOf } from '../document/table';
import { type EdgeRow, type OutlineRow, type PoseRow, tables } from '../document/tables';
import { numbersPerPoint as N } from '../model/choices';
import { pointsOf, thousandth, type TracedOutline } from './traced-outline';

/** An outline with its poses and its edge's keys as JSON, as docs/formats/outline.schema.json describes it. */

/** What of an outline is its place in a crossing, and not its own. */
const placeFields = [
  'id',
  'layerId',
  'cutsLayerId',
  'position',
  'subjectId',
  'purpose',
  // By strokes, which stay with their crossing.
  'painted',
] as const;
type PlaceField = (typeof placeFields)[number];
/** What of a pose, and of a key of an edge, follows from what it belongs to. */
const keyFields = ['id', 'outlineId'] as const;
type KeyField = (typeof keyFields)[number];

/** An outline apart from any crossing; its points have the names of its row. */
export interface OutlineApart {
  outline: Omit<OutlineRow, PlaceField>;
  poses: Omit<PoseRow, KeyField>[];
  edges: Omit<EdgeRow, KeyField>[];
}

/** A file that holds no outline that can be taken; the message says why. */
export class NoOutline extends Error {}

const version = 2;

export function outlineJson({ shot, outline, poses, edges }: TracedOutline): string {
  return JSON.stringify(
    {
      format: 'kiv outline',
      version,
      shot: {
        ...{ name: shot.name, width: shot.width, height: shot.height, frameCount: shot.frameCount },
        rate: [shot.rate.num, shot.rate.den],
      },
      ...without(outline, placeFields),
      poses: poses.map((pose) => {
        const { coordinates, ...rest } = without(pose, keyFields);
        return { ...rest, points: pointsOf(coordinates) };
      }),
      edges: edges.map((edge) => without(edge, keyFields)),
    },
    null,
    1,
  );
}

function without<R extends object, K extends keyof R>(row: R, fields: readonly K[]): Omit<R, K> {
  return Object.fromEntries(
    Object.entries(row).filter(([name]) => !(fields as readonly string[]).includes(name)),
  ) as Omit<R, K>;
}

/**
 * An outline as a file has it. What earlier versions did not write is as it is before anything is set. Places and widths
 * are brought from the size of the shot that it was traced on to that of another.
 *
 * @param to size in px of the shot that it is taken onto.
 * @throws NoOutline when the text is no JSON, not of an outline, or a field is missing or out of range.
 */
export function readOutlineJson(text: string, to: { width: number; height: number }): OutlineApart {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new NoOutline('This file is not valid JSON.');
  }
  if (!isObject(value) || value.format !== 'kiv outline')
    throw new NoOutline('This JSON does not describe an outline.');
  if (value.version !== 1 && value.version !== version)
    throw new NoOutline(`This outline was written by another version of Kiv (${String(value.version)}).`);
  const { shot, poses, edges = [] } = value;
  const size = isObject(shot) ? [shot.width, shot.height] : [];
  if (!size.every((side) => typeof side === 'number' && Number.isFinite(side) && side > 0) || size.length < 2)
    throw new NoOutline('The outline in this file is incomplete: it does not say how large its shot is.');
  const scale: Scale = [to.width / (size[0] as number), to.height / (size[1] as number)];
  const outline = rowOf('outline', tables.outline.fields, placeFields, value) as OutlineApart['outline'];
  const listed = { poses, edges };
  for (const [name, list] of Object.entries(listed))
    if (!Array.isArray(list)) throw new NoOutline(`The outline in this file has no list of ${name}.`);
  const count = outline.points.length;
  const taken: OutlineApart = {
    outline: scaledWidths(outline, scale),
    poses: (poses as unknown[]).map((pose, k) => {
      const coordinates = coordinatesIn(pose, scale);
      const row = rowOf(`pose ${k + 1}`, tables.pose.fields, keyFields, { ...(pose as object), coordinates });
      const { offBy, ...rest } = row as OutlineApart['poses'][number];
      return { ...rest, offBy: offBy.map((off) => off * mean(scale)) };
    }),
    edges: (edges as unknown[]).map((edge, k) =>
      scaledWidths(
        rowOf(`edge key ${k + 1}`, tables.edge.fields, keyFields, edge) as OutlineApart['edges'][number],
        scale,
      ),
    ),
  };
  requireWhole(taken, count);
  return taken;
}

function requireWhole({ outline, poses, edges }: OutlineApart, count: number) {
  const unique = (rows: readonly { frame: number }[]) =>
    new Set(rows.map(({ frame }) => frame)).size === rows.length;
  const fits = (values: readonly unknown[]) => values.length === 0 || values.length === count;
  const whole =
    poses.length > 0 &&
    unique(poses) &&
    unique(edges) &&
    poses.every(({ coordinates, offBy }) => coordinates.length === count * N && fits(offBy)) &&
    [outline, ...edges].every(({ factors }) => fits(factors)) &&
    (outline.hinge === null || outline.points.includes(outline.hinge));
  if (!whole)
    throw new NoOutline('The outline in this file is incomplete: its poses and points do not match.');
}

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** A row of a table but for some fields, each within its bounds. */
function rowOf(what: string, fields: Fields, left: readonly string[], value: unknown): object {
  if (!isObject(value)) throw new NoOutline(`The ${what} in this file is incomplete.`);
  const plain: Record<string, unknown> = plainOf(fields);
  return Object.fromEntries(
    Object.entries(fields)
      .filter(([name]) => !left.includes(name))
      .map(([name, field]) => {
        const own = Object.hasOwn(value, name) ? value[name] : plain[name];
        if (!fitsField(field, own))
          throw new NoOutline(`The ${what} in this file is incomplete: its ${name} cannot be taken.`);
        return [name, own];
      }),
  );
}

/** How much wider and higher the shot is that an outline is taken onto. */
type Scale = readonly [across: number, down: number];
/** For what has no direction, as widths have none. */
const mean = ([across, down]: Scale) => Math.sqrt(across * down);

function coordinatesIn(pose: unknown, [sx, sy]: Scale): number[] {
  const points = isObject(pose) && Array.isArray(pose.points) ? (pose.points as unknown[]) : [];
  return points.flatMap((point) =>
    (['at', 'in', 'out'] as const).flatMap((part) => {
      const two = isObject(point) ? point[part] : null;
      if (!Array.isArray(two) || two.length !== 2 || !two.every((each) => typeof each === 'number'))
        throw new NoOutline('The outline in this file is incomplete: a point is not two numbers.');
      return [two[0] * sx, two[1] * sy];
    }),
  );
}

/** Widths in px, brought to another size of shot. */
function scaledWidths<R extends Partial<Record<Width, number>>>(row: R, scale: Scale): R {
  const by = mean(scale);
  if (by === 1) return row;
  const changed = widths.flatMap((name) => {
    const width = row[name];
    return width === undefined ? [] : [[name, thousandth(Math.min(500, Math.max(-500, width * by)))]];
  });
  return { ...row, ...Object.fromEntries(changed) };
}
const widths = ['featherInside', 'featherOutside', 'spread', 'roundness', 'thickness'] as const;
type Width = (typeof widths)[number];
