import { type Finding, findingKinds } from '../checks/findings';
import type { CrossingDocument } from '../document/tables';
import { numbersOf } from '../document/keys';
import { coordinatesAt, framesOf, pointsOf, type TracedOutline } from './traced-outline';

/** A row of a list as RFC 4180 has them; the first of a list names its fields. */
export type CsvRow = (string | number | null)[];

/** An outline's points on all frames from its first pose to its last; of a frame without a pose, its in-between. */
export function pointRows(traced: TracedOutline): CsvRow[] {
  const posed = new Map(traced.poses.map((pose) => [pose.frame, pose.origin]));
  const rows = framesOf(traced).flatMap((frame) =>
    pointsOf(coordinatesAt(traced, frame) ?? []).map(({ at, in: into, out }, k) => [
      frame,
      posed.get(frame) ?? 'in-between',
      traced.outline.points[k],
      ...at,
      ...into,
      ...out,
      traced.outline.kind,
    ]),
  );
  return [['frame', 'pose', 'point', 'x', 'y', 'in x', 'in y', 'out x', 'out y', 'line'], ...rows];
}

/** All keys of moves and of speed, by crossing frame, and of edges, by the shot's frame. */
export function keyRows(document: CrossingDocument, nameOf: (ownerId: string) => string): CsvRow[] {
  const moves = Object.values(document.moves)
    .sort((a, b) => a.ownerId.localeCompare(b.ownerId) || a.frame - b.frame)
    .map((row) => {
      const numbers = numbersOf(row);
      return [
        nameOf(row.ownerId),
        row.channel,
        row.frame,
        row.onward,
        ...[0, 1, 2].map((k) => numbers[k] ?? null),
      ];
    });
  const speeds = Object.values(document.layers).flatMap(({ id, ramp }) =>
    Array.from({ length: ramp.length / 2 }, (_, k) => [
      ...[nameOf(id), 'speed', ramp[2 * k], 'linear', ramp[2 * k + 1], null, null],
    ]),
  );
  const edges = Object.values(document.edges).flatMap((list) =>
    list.map(({ outlineId, frame, onward, featherInside, featherOutside, spread }) => [
      ...[nameOf(outlineId), 'edge', frame, onward, featherInside, featherOutside, spread],
    ]),
  );
  return [['of', 'what', 'frame', 'way on', 'first', 'second', 'third'], ...moves, ...speeds, ...edges];
}

export function findingRows(findings: readonly Finding[]): CsvRow[] {
  return [
    ['from', 'to', 'worst', 'kind', 'about', 'severity', 'says'],
    ...findings.map(({ from, to, worst, kind, says }) => {
      const { domain, severity } = findingKinds[kind];
      return [from, to, worst, kind, domain, severity, says];
    }),
  ];
}

/** How much of the frame the wipe has taken, percent, at each crossing frame. */
export function coverageRows(coverage: ArrayLike<number>): CsvRow[] {
  return [
    ['frame', 'covered'],
    ...Array.from(coverage, (share, frame) => [frame, Math.round(share * 1e5) / 1000]),
  ];
}
