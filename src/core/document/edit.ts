import type { RowTypes, Table } from './tables';

/** One row before and after an edit; `null` where it does not exist. */
export type RowChange = {
  [T in Table]: { table: T; id: string; before: RowTypes[T] | null; after: RowTypes[T] | null };
}[Table];

/** A labelled set of row changes: what one action of a person does to a crossing. */
export interface Edit {
  /** Unique; sending the same edit twice writes it once. */
  id: string;
  /** What a person did, as undo names it: “Move 3 points, frame 41”. */
  label: string;
  changes: RowChange[];
}

/** The changes that undo `changes`. */
export function inverseChanges(changes: readonly RowChange[]): RowChange[] {
  return changes
    .map((change) => ({ ...change, before: change.after, after: change.before }) as RowChange)
    .reverse();
}

/** A change to one row; the id is taken from whichever side exists. */
export function changeRow<T extends Table>(
  table: T,
  before: RowTypes[T] | null,
  after: RowTypes[T] | null,
): RowChange {
  const row = after ?? before;
  if (!row) throw new RangeError('A change needs a row before or after it.');
  return { table, id: row.id, before, after } as RowChange;
}

/** True when two rows hold the same values; rows are flat but for arrays of numbers or strings. */
export function sameRow(a: object | null, b: object | null): boolean {
  if (a === b) return true;
  if (!a || !b) return false;
  const keys = Object.keys(a) as (keyof typeof a)[];
  if (keys.length !== Object.keys(b).length) return false;
  return keys.every((key) => {
    const [p, q]: [unknown, unknown] = [a[key], b[key]];
    if (!Array.isArray(p) || !Array.isArray(q)) return p === q;
    return p.length === q.length && p.every((value, i) => value === q[i]);
  });
}
