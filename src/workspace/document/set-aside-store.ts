import { create } from 'zustand';
import { type Commit, openCommitStorage, type SetAside } from './commit-storage';

export type KeptAside = SetAside & { key: number };

interface SetAsideState {
  /** The edits of the open crossing that were set aside, oldest first. */
  entries: KeptAside[];
  shown: boolean;
}

export const useSetAside = create<SetAsideState>(() => ({ entries: [], shown: false }));

export const showSetAside = (shown: boolean) => useSetAside.setState({ shown });

/** What the browser's storage could not take: it is here until the window is closed. */
let onlyHere: KeptAside[] = [];

/** Keeps steps that were set aside in this window, as the browser's storage cannot. */
export function holdSetAside(crossingId: string, steps: readonly { step: Commit; reason: string }[]) {
  const at = new Date().toISOString();
  const first = onlyHere.reduce((least, { key }) => Math.min(least, key), 0) - 1;
  onlyHere = [...onlyHere, ...steps.map((each, k) => ({ ...each, crossingId, at, key: first - k }))];
}

/** Reads anew what of a crossing is set aside in this browser. */
export async function readSetAside(crossingId: string) {
  const stored = await readStored(crossingId).catch(() => []);
  const held = onlyHere.filter((entry) => entry.crossingId === crossingId);
  useSetAside.setState({ entries: [...stored, ...held] });
}

async function readStored(crossingId: string): Promise<KeptAside[]> {
  const storage = await openCommitStorage();
  try {
    const keys = await storage.getAllKeysFromIndex('aside', 'crossing', crossingId);
    return await Promise.all(
      keys.map(async (key) => ({ ...(await storage.get('aside', key))!, key }) satisfies KeptAside),
    );
  } finally {
    storage.close();
  }
}

/** Takes one out for good. */
export async function letGo({ key, crossingId }: KeptAside) {
  if (key < 0) onlyHere = onlyHere.filter((entry) => entry.key !== key);
  else {
    const storage = await openCommitStorage();
    await storage.delete('aside', key);
    storage.close();
  }
  await readSetAside(crossingId);
}
