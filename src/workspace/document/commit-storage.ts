import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import type { Edit } from '@/core/document/edit';

/** A step as it waits in the browser and as it is sent. */
export type Commit = { requestId: string; baseRevision: number } & (
  { kind: 'do'; edit: Edit } | { kind: 'undo' | 'redo'; editId: string }
);

/** A step that could not be carried out, kept until its person decides. */
export interface SetAside {
  crossingId: string;
  step: Commit;
  /** Why, as a sentence; entries of earlier versions have none. */
  reason?: string;
  /** When it was set aside, ISO 8601. */
  at?: string;
}

interface CommitSchema extends DBSchema {
  steps: { key: number; value: { crossingId: string; step: Commit }; indexes: { crossing: string } };
  aside: { key: number; value: SetAside; indexes: { crossing: string } };
}

export type CommitStorage = IDBPDatabase<CommitSchema>;

/** Opens the browser's own storage of steps that wait or were set aside. */
export function openCommitStorage(): Promise<CommitStorage> {
  return openDB<CommitSchema>('kiv', 2, {
    upgrade(database, before, _after, transaction) {
      if (before < 1) {
        database.createObjectStore('steps', { autoIncrement: true }).createIndex('crossing', 'crossingId');
        database.createObjectStore('aside', { autoIncrement: true });
      }
      if (before < 2) transaction.objectStore('aside').createIndex('crossing', 'crossingId');
    },
    blocking(_current, _blocked, event) {
      (event.target as IDBDatabase).close();
    },
  });
}

/** Keeps steps apart. */
export async function setCommitsAside(
  storage: CommitStorage,
  crossingId: string,
  steps: readonly { step: Commit; reason: string }[],
) {
  const at = new Date().toISOString();
  for (const { step, reason } of steps) await storage.add('aside', { crossingId, step, reason, at });
}
