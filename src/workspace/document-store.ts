import { create } from 'zustand';
import { applyChanges, type CrossingDocument, EditConflict } from '@/core/document/document';
import { type Edit, inverseChanges, type RowChange } from '@/core/document/edit';
import type { Shot } from '@/core/document/rows';
import { call } from '@/interface/api';
import type { History, HistoryEntry as WireEntry, OpenedCrossing, ShotMedia } from '@/wire/answers';
import { type SaveState, SaveQueue, sendLeftovers, type Step } from './save-queue';

/** An edit in the history; one made in this visit has no number yet. */
type HistoryEntry = Omit<WireEntry, 'sequence'> & { sequence?: number };

/** Told of every change to the document, by whom it was made. */
export type DocumentListener = (
  change: { changes: readonly RowChange[] } | { document: CrossingDocument },
) => void;

interface DocumentState {
  document: CrossingDocument | null;
  shots: ShotMedia[];
  history: HistoryEntry[];
  save: SaveState;
  /** A message about another window, to be shown once. */
  notice: string | null;
  open(crossingId: string): Promise<void>;
  close(): void;
  /** Does and saves one edit; an empty one is nothing. */
  edit(label: string, changes: RowChange[]): void;
  undo(): Promise<void>;
  redo(): Promise<void>;
  nudgeSaving(): void;
  /** Looks whether another window has changed the crossing. */
  checkOtherWindows(): Promise<void>;
  /** Takes in other shots when a layer was given one that was not open. */
  addShot(media: ShotMedia): void;
  /** Takes over what has become known of a shot. */
  setShot(shot: Shot): void;
  clearNotice(): void;
}

let queue: SaveQueue | null = null;
let channel: BroadcastChannel | null = null;
/** The revision on the server once all that is waiting has arrived. */
let expectedRevision = 0;
let acknowledgedRevision = 0;
let hasOlder = false;
const listeners = new Set<DocumentListener>();

/** Hears of document changes outside of rendering, as the preview worker does. */
export function onDocumentChange(listener: DocumentListener): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export const useDocument = create<DocumentState>((set, get) => {
  const take = (changes: RowChange[]) => {
    const document = applyChanges(get().document!, changes);
    listeners.forEach((listener) => listener({ changes }));
    return document;
  };

  const enqueue = (step: { kind: 'do'; edit: Edit } | { kind: 'undo' | 'redo'; editId: string }) => {
    queue?.add({ requestId: crypto.randomUUID(), baseRevision: expectedRevision++, ...step } as Step);
  };

  const refresh = async () => {
    const { crossing } = get().document!;
    const opened = await call<OpenedCrossing>(`/api/crossings/${crossing.id}`);
    expectedRevision = acknowledgedRevision = opened.revision;
    hasOlder = opened.hasOlder;
    set({ document: opened.document, history: opened.history, shots: opened.shots });
    listeners.forEach((listener) => listener({ document: opened.document }));
  };

  /** Joins edits that came too late to what the other window made; those that touch the same rows are kept apart. */
  const joinLate = async (late: Step[]) => {
    try {
      await refresh();
    } catch {
      await queue?.setAside(late);
      set({
        notice:
          'Another window changed this crossing and the server does not answer. Reload this page; your changes are kept in this browser.',
      });
      return;
    }
    const aside: Step[] = [];
    let joined = 0;
    for (const step of late) {
      try {
        if (step.kind !== 'do') throw new RangeError();
        get().edit(step.edit.label, step.edit.changes);
        joined++;
      } catch (error) {
        if (!(error instanceof EditConflict || error instanceof RangeError)) throw error;
        aside.push(step);
      }
    }
    await queue?.setAside(aside);
    set({
      notice:
        'Another window changed this crossing. This window now shows it' +
        (joined > 0 ? `, with your ${joined} unsaved ${joined === 1 ? 'change' : 'changes'} added` : '') +
        (aside.length > 0
          ? `; ${aside.length} of yours met the same points and ${aside.length === 1 ? 'was' : 'were'} set aside`
          : '') +
        '.',
    });
  };

  return {
    document: null,
    shots: [],
    history: [],
    save: { kind: 'saved' },
    notice: null,

    async open(crossingId) {
      const aside = await sendLeftovers(crossingId);
      const opened = await call<OpenedCrossing>(`/api/crossings/${crossingId}`);
      queue?.close();
      channel?.close();
      expectedRevision = acknowledgedRevision = opened.revision;
      hasOlder = opened.hasOlder;
      channel = new BroadcastChannel(`kiv-crossing-${crossingId}`);
      channel.onmessage = () => void get().checkOtherWindows();
      queue = new SaveQueue(
        crossingId,
        (save) => set({ save }),
        (revision) => {
          acknowledgedRevision = revision;
          channel?.postMessage(revision);
        },
        (late) => void joinLate(late),
      );
      set({
        document: opened.document,
        shots: opened.shots,
        history: opened.history,
        save: { kind: 'saved' },
        notice:
          aside > 0
            ? `${aside} unsaved ${aside === 1 ? 'change' : 'changes'} of an earlier visit met newer ones and ${aside === 1 ? 'was' : 'were'} set aside.`
            : null,
      });
    },

    close() {
      queue?.close();
      channel?.close();
      queue = null;
      channel = null;
      set({ document: null, shots: [], history: [] });
    },

    edit(label, changes) {
      if (changes.length === 0) return;
      const edit: Edit = { id: crypto.randomUUID(), label, changes };
      set({
        document: take(changes),
        history: [...get().history.filter((entry) => !entry.undone), { ...edit, undone: false }],
      });
      enqueue({ kind: 'do', edit });
    },

    async undo() {
      if (hasOlder && get().history.filter((entry) => !entry.undone).length < 2) await loadOlder();
      const { history } = get();
      const last = history.findLast((entry) => !entry.undone);
      if (!last) return;
      set({
        document: take(inverseChanges(last.changes)),
        history: history.map((entry) => (entry === last ? { ...entry, undone: true } : entry)),
      });
      enqueue({ kind: 'undo', editId: last.id });
    },

    async redo() {
      const { history } = get();
      const next = history.find((entry) => entry.undone);
      if (!next) return;
      set({
        document: take(next.changes),
        history: history.map((entry) => (entry === next ? { ...entry, undone: false } : entry)),
      });
      enqueue({ kind: 'redo', editId: next.id });
    },

    nudgeSaving: () => queue?.nudge(),

    async checkOtherWindows() {
      const { document } = get();
      if (!document || !queue || queue.waiting > 0) return;
      try {
        const { revision } = await call<{ revision: number }>(
          `/api/crossings/${document.crossing.id}/revision`,
        );
        if (revision === acknowledgedRevision || queue.waiting > 0) return;
        await refresh();
        set({ notice: 'Another window changed this crossing. This window now shows it.' });
      } catch {
        // Out of reach: the next edit will say so.
      }
    },

    addShot(media) {
      if (!get().shots.some(({ shot }) => shot.id === media.shot.id)) set({ shots: [...get().shots, media] });
    },

    setShot(shot) {
      set({ shots: get().shots.map((media) => (media.shot.id === shot.id ? { ...media, shot } : media)) });
    },

    clearNotice: () => set({ notice: null }),
  };

  async function loadOlder() {
    const { document, history } = get();
    const first = history.find((entry) => entry.sequence !== undefined);
    if (!document || !first) return;
    const older = await call<History>(
      `/api/crossings/${document.crossing.id}/history?before=${first.sequence}`,
    );
    hasOlder = older.hasOlder;
    set({ history: [...older.history, ...get().history] });
  }
});
