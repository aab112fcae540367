import type { RowChange } from './edit';
import { limits } from '../model/limits';
import type { Field } from './table';
import { tables } from './tables';

/** An edit of fewer rows than this cannot reach the length limit: 60 × 2 rows of 2000 points, 20 characters a number, stay below it. */
const rowsWithoutMeasuring = 60;
/** Room for what a step holds beside its changes. */
const envelope = 1000;

/** The text, at most `length` UTF-16 code units long and not ending within a pair. */
export function cutText(text: string, length: number): string {
  if (text.length <= length) return text;
  return text.slice(0, length).replace(/[\uD800-\uDBFF]$/, '');
}

const withinName = (change: RowChange): RowChange => {
  const { after } = change;
  if (!after || !('name' in after) || after.name === null) return change;
  const name = cutText(after.name, change.table === 'mark' ? limits.markName : limits.name);
  return name === after.name ? change : ({ ...change, after: { ...after, name } } as RowChange);
};

/** Rows that lie on a shot's own frames. */
const onShotFrames: readonly RowChange['table'][] = ['pose', 'edge', 'stroke'];

/** What a row says that no row of its table can: the field's name, or null. */
function beyondRange({ table, after }: RowChange): string | null {
  if (!after) return null;
  const row = after as unknown as Record<string, unknown>;
  for (const [name, { rule }] of Object.entries(tables[table].fields) as [string, Field<unknown>][]) {
    const value = row[name];
    if (
      value === null ||
      value === undefined ||
      (rule.kind !== 'whole' && rule.kind !== 'number' && rule.kind !== 'numbers')
    )
      continue;
    const numbers = rule.kind === 'numbers' ? (value as readonly number[]) : [value as number];
    for (const number of numbers) if (!(number >= rule.low && number <= rule.high)) return name;
  }
  return null;
}

/** Why an edit cannot be kept that holds such a row. */
function refusalOf({ table }: RowChange, field: string): string {
  if (field === 'frame' && onShotFrames.includes(table))
    return 'The shot has no picture on this frame. Go to a frame that shows it, or slip it. Nothing was changed.';
  if (field === 'coordinates')
    return 'That would move points too far out of the picture. Nothing was changed.';
  return 'That is farther than Kiv can take it. Nothing was changed.';
}

/**
 * The edit as the server takes it: names and label cut to their limits.
 *
 * @throws RangeError with a sentence for the person when it is too large for one step, or holds what no row can.
 */
export function withinLimits(
  label: string,
  changes: readonly RowChange[],
): { label: string; changes: RowChange[] } {
  if (changes.length > limits.changes)
    throw new RangeError(
      `That would change ${changes.length} rows at once; one step holds ${limits.changes}. Select fewer frames. Nothing was changed.`,
    );
  for (const { table, after } of changes) {
    if (table === 'outline' && after && after.points.length > limits.points)
      throw new RangeError(
        `An outline holds ${limits.points} points at most; this one would have ${after.points.length}. Nothing was changed.`,
      );
  }
  for (const change of changes) {
    const field = beyondRange(change);
    if (field) throw new RangeError(refusalOf(change, field));
  }
  const fitting = { label: cutText(label, limits.label), changes: changes.map(withinName) };
  const measured = changes.length > rowsWithoutMeasuring;
  if (measured && JSON.stringify(fitting.changes).length + envelope > limits.stepLength)
    throw new RangeError(
      'That is too much for one step: poses of so many points are changed in parts. Select fewer frames. Nothing was changed.',
    );
  return fitting;
}
