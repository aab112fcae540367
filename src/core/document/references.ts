import type { Field } from './table';
import { type RowTypes, type Table, tables } from './tables';

/** An id that a row names: of rows of some tables, or of files. */
export interface NamedId {
  field: string;
  id: string;
  targets: readonly string[];
  mayDangle: boolean;
}

const described = Object.fromEntries(
  Object.entries(tables).map(([table, { fields }]) => [
    table,
    (Object.entries(fields) as [string, Field<unknown>][]).flatMap(([field, { refersTo }]) =>
      refersTo ? [{ field, ...refersTo }] : [],
    ),
  ]),
) as Record<Table, (Omit<NamedId, 'id'> & { field: string })[]>;

/** The ids of other rows and of files that a row names. */
export function namedBy<T extends Table>(table: T, row: RowTypes[T]): NamedId[] {
  return described[table].flatMap((reference) => {
    const id = (row as Record<string, unknown>)[reference.field] as string | null;
    return id === null ? [] : [{ ...reference, id }];
  });
}

/** The shots that a row cannot be without. */
export function shotsNamedBy<T extends Table>(table: T, row: RowTypes[T]): string[] {
  return namedBy(table, row).flatMap(({ id, targets, mayDangle }) =>
    targets.includes('shot') && !mayDangle ? [id] : [],
  );
}

/** Tables whose rows name rows of this one. */
export function tablesNaming(target: Table): Table[] {
  return (Object.keys(tables) as Table[]).filter((table) =>
    described[table].some(({ targets }) => targets.includes(target)),
  );
}

/** Whether a table's rows have ids of their own, known once in all crossings. */
export function hasOwnIds(table: Table): boolean {
  const id: Field<unknown> = tables[table].fields.id;
  return tables[table].derivedId === null && id.refersTo === null;
}

/** The row under another id, with what it names under theirs. @param rename is given every such id. */
export function withIdsRenamed<T extends Table>(
  table: T,
  row: RowTypes[T],
  rename: (id: string) => string,
): RowTypes[T] {
  const { derivedId } = tables[table];
  const named = namedBy(table, row).map(({ field, id }) => [field, rename(id)]);
  const renamed = { ...row, ...Object.fromEntries(named) } as RowTypes[T];
  if (derivedId) return { ...renamed, id: derivedId(renamed as never) };
  return hasOwnIds(table) ? { ...renamed, id: rename((row as { id: string }).id) } : renamed;
}
