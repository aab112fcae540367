import { create } from 'zustand';
import { openCommitStorage, type SetAside } from './commit-storage';

export type KeptAside = SetAside & { key: number };

interface SetAsideState {
  /** The edits of the open crossing that were set aside, oldest first. */
  entries: KeptAside[];
  shown: boolean;
}

export const useSetAside = create<SetAsideState>(() => ({ entries: [], shown: false }));

export const showSetAside = (shown: boolean) => useSetAside.setState({ shown });

/** Reads anew what of a crossing is set aside in this browser. */
export async function readSetAside(crossingId: string) {
  const storage = await openCommitStorage();
  const keys = await storage.getAllKeysFromIndex('aside', 'crossing', crossingId);
  const entries = await Promise.all(
    keys.map(async (key) => ({ ...(await storage.get('aside', key))!, key }) satisfies KeptAside),
  );
  storage.close();
  useSetAside.setState({ entries });
}

/** Takes one out for good. */
export async function letGo({ key, crossingId }: KeptAside) {
  const storage = await openCommitStorage();
  await storage.delete('aside', key);
  storage.close();
  await readSetAside(crossingId);
}
