import { rowsOf } from '../src/core/document/document';
import type { CrossingDocument } from '../src/core/document/tables';

/** A document's rows as they compare: by table and id, as they travel, where −0 is 0. */
export const rowsById = (document: CrossingDocument): unknown =>
  JSON.parse(
    JSON.stringify(
      Object.fromEntries(
        Object.entries(rowsOf(document)).map(([table, rows]) => [
          table,
          Object.fromEntries((rows as readonly { id: string }[]).map((row) => [row.id, row])),
        ]),
      ),
    ),
  );
