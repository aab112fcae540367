import { documentOf, type RowsByTable, tableNames } from '@/core/document/document';
import { type CrossingDocument, type CrossingRow, type Table, tables } from '@/core/document/tables';
import type { RowChange } from '@/core/document/edit';
import { columnOf, type Field } from '@/core/document/table';
import { type Connection, database, prepared } from './database';
import { notFound, Problem } from './problem';

/** How a table's rows are read and written, as its description has it. */
interface Statements {
  select: string;
  insert: string;
  remove: string;
  /** Fields that a column holds. */
  stored: [name: string, field: Field<unknown>][];
}

function statementsOf(table: Table): Statements {
  const { fields, storesId, shape } = tables[table];
  const stored = (Object.entries(fields) as [string, Field<unknown>][]).filter(
    ([name]) => name !== 'id' || storesId,
  );
  const columns = stored.map(([name, field]) => [name, columnOf(name, field)]);
  const owner = shape === 'one' ? 'id' : 'crossing_id';
  const identity = storesId ? ['id'] : ['outlineId', 'frame'];
  const identified = columns.filter(([name]) => identity.includes(name));
  const others = columns.filter(([name]) => !identity.includes(name));
  const same = identified.map(([name, column]) => `${column} = :${name}`).join(' AND ');
  const changed = others.map(([, column]) => `${column} = excluded.${column}`).join(', ');
  return {
    stored,
    select: `SELECT ${columns.map(([name, column]) => `${column} AS "${name}"`).join(', ')} FROM ${table} WHERE ${owner} = ?`,
    insert:
      shape === 'one'
        ? `UPDATE ${table} SET ${others.map(([name, column]) => `${column} = :${name}`).join(', ')} WHERE id = :crossingId`
        : `INSERT INTO ${table} (crossing_id, ${columns.map(([, column]) => column).join(', ')})
           VALUES (:crossingId, ${columns.map(([name]) => `:${name}`).join(', ')})
           ON CONFLICT (${identified.map(([, column]) => column).join(', ')}) DO UPDATE SET ${changed}
           WHERE crossing_id = :crossingId`,
    remove: `DELETE FROM ${table} WHERE ${same} AND crossing_id = :crossingId`,
  };
}

const statements = Object.fromEntries(tableNames.map((table) => [table, statementsOf(table)])) as Record<
  Table,
  Statements
>;

function fromStored(table: Table, row: Record<string, unknown>): object {
  const { derivedId, storesId } = tables[table];
  const read = Object.fromEntries(
    statements[table].stored.map(([name, { rule }]) => {
      const value = row[name];
      if (rule.kind === 'flag') return [name, value === 1];
      return [name, rule.kind === 'idents' || rule.kind === 'numbers' ? JSON.parse(value as string) : value];
    }),
  );
  return derivedId && !storesId ? { id: derivedId(read as never), ...read } : read;
}

function toStored(table: Table, row: object): Record<string, unknown> {
  const values = row as Record<string, unknown>;
  return Object.fromEntries(
    statements[table].stored.map(([name]) => {
      const value = values[name];
      return [
        name,
        typeof value === 'boolean' ? Number(value) : Array.isArray(value) ? JSON.stringify(value) : value,
      ];
    }),
  );
}

/** @throws Problem 404 when there is no such crossing. */
export function readDocument(id: string): CrossingDocument {
  const db = database();
  const rows = Object.fromEntries(
    tableNames.map((table) => [
      table,
      (prepared(db, statements[table].select).all(id) as Record<string, unknown>[]).map((row) =>
        fromStored(table, row),
      ),
    ]),
  ) as RowsByTable;
  if (rows.crossing!.length === 0) throw notFound('crossing');
  return documentOf(rows as Parameters<typeof documentOf>[0]);
}

export function insertCrossing(db: Connection, row: CrossingRow) {
  const now = new Date().toISOString();
  const { stored } = statements.crossing;
  prepared(
    db,
    `INSERT INTO crossing (${stored.map(([name, field]) => columnOf(name, field)).join(', ')}, revision, created_at, updated_at)
     VALUES (${stored.map(([name]) => `:${name}`).join(', ')}, 0, :now, :now)`,
  ).run({ ...toStored('crossing', row), now });
}

/** Writes one row as a change leaves it; rows of other crossings are never touched. */
export function writeRow(db: Connection, crossingId: string, { table, before, after }: RowChange) {
  if (after) {
    prepared(db, statements[table].insert).run({ ...toStored(table, after), crossingId });
    return;
  }
  if (tables[table].shape === 'one') throw new Problem(400, 'A crossing is not deleted by an edit.');
  const { outlineId, frame, id } = before as unknown as Record<string, unknown>;
  prepared(db, statements[table].remove).run({
    ...(tables[table].storesId ? { id } : { outlineId, frame }),
    crossingId,
  });
}

/** Deletes all rows of a crossing, those that refer to others first. */
export function deleteRows(db: Connection, crossingId: string) {
  for (const table of [...tableNames].reverse()) {
    const owner = tables[table].shape === 'one' ? 'id' : 'crossing_id';
    prepared(db, `DELETE FROM ${table} WHERE ${owner} = ?`).run(crossingId);
  }
}

/** A row as it was written down, complete for this version. */
function upToDate(table: Table, row: object | null): object | null {
  if (!row) return null;
  const { featherSide, feather, ...rest } = row as { featherSide?: string; feather?: number };
  const gained = Object.fromEntries(
    (Object.entries(tables[table].fields) as [string, Field<unknown>][]).flatMap(([name, { plain }]) =>
      plain === undefined || name in rest ? [] : [[name, plain]],
    ),
  );
  if (feather === undefined) return { ...gained, ...rest };
  // Before the two sides had widths of their own.
  const inside = featherSide === 'inside' ? feather : featherSide === 'both' ? feather / 2 : 0;
  return { ...gained, ...rest, featherInside: inside, featherOutside: feather - inside };
}

/** Tables that had another name when an edit was written down. */
const renamed: Record<string, Table> = { key: 'chroma' };

/** Changes as they were written down, complete for this version. */
export function storedChanges(json: string): RowChange[] {
  return (JSON.parse(json) as RowChange[]).map((change) => {
    const table = renamed[change.table] ?? change.table;
    return {
      ...change,
      table,
      before: upToDate(table, change.before),
      after: upToDate(table, change.after),
    } as RowChange;
  });
}
