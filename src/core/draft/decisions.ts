import { applyChanges, rowsOf } from '../document/document';
import { changeRow, type Edit, inverseChanges, type RowChange, sameRow } from '../document/edit';
import { inconsistencyOf } from '../document/invariants';
import type { CrossingDocument, RowTypes } from '../document/tables';
import { cutText } from '../document/within-limits';
import { limits } from '../model/limits';

export type DecisionRow = RowTypes['decision'];
export type Decision = Omit<DecisionRow, 'id' | 'position'>;

/** A crossing's decisions in the order in which they were made. */
export function decisionsInOrder({ decisions }: CrossingDocument): DecisionRow[] {
  return Object.values(decisions).sort((a, b) => a.position - b.position);
}

/** Writes a decision down, as the last of the list, or so many after that. */
export function noteDecision(
  document: CrossingDocument,
  { what, basis, ...rest }: Decision,
  id: string,
  after = 0,
): RowChange {
  const last = decisionsInOrder(document).at(-1)?.position ?? -1;
  return changeRow('decision', null, {
    ...rest,
    ...{ id, what: cutText(what, limits.decision), basis: cutText(basis, limits.decision) },
    position: last + 1 + after,
  });
}

/** Takes decisions off the list; what they changed stays. */
export function forgetDecisions(decisions: readonly DecisionRow[]): RowChange[] {
  return decisions.map((row) => changeRow('decision', row, null));
}

/** What undoing one decision comes to. */
export interface UndoneDecision {
  changes: RowChange[];
  /** Decisions that rest on it and go with it. */
  along: DecisionRow[];
}

/**
 * Undoes one decision, whatever was done after it: each row that the edit changed and that is still as it was left, with the decisions
 * that rest on it. What was changed by hand since stays.
 *
 * @param edits that were done and not undone, oldest first.
 * @returns null where its edit is no longer known, or what was done by hand since rests on it.
 */
export function undoneDecision(
  document: CrossingDocument,
  edits: readonly Pick<Edit, 'changes'>[],
  decisionId: string,
): UndoneDecision | null {
  const at = edits.findIndex((edit) => decisionMadeBy(edit) === decisionId);
  if (at < 0) return null;
  const together = restingOn(
    edits.slice(at).filter((edit) => document.decisions[decisionMadeBy(edit) ?? ''] !== undefined),
  );
  const changes = backFrom(document, together.toReversed());
  if (inconsistencyOf(applyChanges(document, changes), changes) !== null) return null;
  const along = together.slice(1).map((edit) => document.decisions[decisionMadeBy(edit)!]);
  return { changes, along };
}

type Changed = Pick<Edit, 'changes'>;

/** The first of some edits, with the later ones that change rows of its, or make rows that name rows that it made. */
function restingOn<E extends Changed>([first, ...later]: readonly E[]): E[] {
  const rows = new Set<string>();
  const made = new Set<string>();
  const keysOf = ({ changes }: E) => changes.filter(({ table }) => table !== 'decision');
  const take = (edit: E) => {
    for (const { table, id, before } of keysOf(edit)) {
      rows.add(`${table} ${id}`);
      if (before === null) made.add(id);
    }
  };
  take(first);
  const resting = later.filter((edit) => {
    const rests = keysOf(edit).some(
      ({ table, id, after }) =>
        rows.has(`${table} ${id}`) ||
        Object.entries(after ?? {}).some(([field, value]) => field !== 'id' && made.has(value as string)),
    );
    if (rests) take(edit);
    return rests;
  });
  return [first, ...resting];
}

/** The decision that an edit made; null where it made none. */
export function decisionMadeBy({ changes }: Pick<Edit, 'changes'>): string | null {
  return changes.findLast(({ table, before }) => table === 'decision' && before === null)?.id ?? null;
}

/** What takes edits back, the latest first, as far as rows are still as these left them; one change a row. */
function backFrom(document: CrossingDocument, edits: readonly Pick<Edit, 'changes'>[]): RowChange[] {
  const now = new Map<string, object>();
  for (const [table, rows] of Object.entries(rowsOf(document)))
    for (const row of rows as readonly { id: string }[]) now.set(`${table} ${row.id}`, row);
  const back = new Map<string, RowChange>();
  for (const { changes } of edits)
    for (const change of inverseChanges(changes)) {
      const key = `${change.table} ${change.id}`;
      const held = back.get(key);
      const row = held ? held.after : (now.get(key) ?? null);
      // What could not be decided is still so.
      const isNote = change.table === 'decision' && change.before?.sure === 'open';
      if (isNote || !sameRow(row, change.before)) continue;
      back.set(key, { ...change, before: held ? held.before : change.before } as RowChange);
    }
  return [...back.values()];
}
