import type { Purpose } from '@/core/model/choices';
import type { ParcelContents } from './contents';

/** What earlier versions of Kiv wrote, brought up to this one beyond what fields are before anything is set. */

type Row = Record<string, unknown>;

const isRow = (value: unknown): value is Row =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const rowsIn = (value: unknown): Row[] => (Array.isArray(value) ? value.filter(isRow) : []);

/**
 * The contents with a purpose on a bridge's edges, which earlier versions told by what they cut and by their name; in the
 * history too, whose rows have to be those of the tables. Does what migration 0018 does in the database.
 */
export function withPurposes(contents: ParcelContents): ParcelContents {
  const [crossing] = rowsIn(contents.rows.crossing);
  const outlines = rowsIn(contents.rows.outline);
  if (crossing?.plan !== 'bridge' || outlines.some((row) => 'purpose' in row)) return contents;
  const outgoing = new Set(
    rowsIn(contents.rows.layer).flatMap(({ id, role }) => (role === 'outgoing' ? [id] : [])),
  );
  const purposes = new Map(
    outlines.flatMap(({ id, name, cutsLayerId }): [unknown, Purpose][] =>
      outgoing.has(cutsLayerId) ? [[id, 'front edge']] : name === 'Back edge' ? [[id, 'back edge']] : [],
    ),
  );
  const meant = <R>(row: R): R => {
    const purpose = isRow(row) && purposes.get(row.id);
    return purpose ? { ...row, purpose } : row;
  };
  const history = Array.isArray(contents.history)
    ? contents.history.map((edit) =>
        Array.isArray(edit?.changes)
          ? {
              ...edit,
              changes: edit.changes.map((change) =>
                change?.table === 'outline'
                  ? { ...change, before: meant(change.before), after: meant(change.after) }
                  : change,
              ),
            }
          : edit,
      )
    : contents.history;
  return { ...contents, rows: { ...contents.rows, outline: outlines.map(meant) }, history };
}
