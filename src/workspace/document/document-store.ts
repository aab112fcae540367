import { create } from 'zustand';
import { applyChanges, EditConflict, shotIdsOf } from '@/core/document/document';
import type { CrossingDocument } from '@/core/document/tables';
import { type Edit, inverseChanges, type RowChange } from '@/core/document/edit';
import type { Shot } from '@/core/model/shot';
import { call, ServerRefusal, ServerUnreachable } from '@/interface/api';
import type {
  CrossingChanges,
  History,
  HistoryEntry as WireEntry,
  OpenedCrossing,
  ShotMedia,
} from '@/wire/answers';
import { Inconsistent, inconsistencyOf } from '@/core/document/invariants';
import { withinLimits } from '@/core/document/within-limits';
import { lockedAgainst } from '@/core/document/locks';
import { editIdOf, lostShot, type Rejoined, rejoinNotice } from './rejoined';
import { type SaveState, SaveQueue, sendLeftovers, type SetBack } from './save-queue';
import { holdSetAside, readSetAside, useSetAside } from './set-aside-store';
import type { Commit } from './commit-storage';

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
  /** A message about what could not be done or saved, to be shown once. */
  notice: string | null;
  open(crossingId: string): Promise<void>;
  close(): void;
  /**
   * Does and saves one edit; an empty one is nothing.
   *
   * @returns false when it was not done: it would touch a locked outline or is too large, which a notice says.
   */
  edit(label: string, changes: RowChange[]): boolean;
  /** Does an edit again that was set aside; returns a sentence when what it changed is no longer there. */
  doAgain(edit: Edit): string | null;
  undo(): Promise<void>;
  redo(): Promise<void>;
  nudgeSaving(): void;
  /** The edits that have not reached the server, oldest first. */
  unsentEdits(): readonly Commit[];
  /** The server's revision of the document as it is now; null while changes are on their way. */
  savedRevision(): number | null;
  /** Looks whether another window has changed the crossing. */
  checkOtherWindows(): Promise<void>;
  /** Takes in other shots when a layer was given one that was not open. */
  addShot(media: ShotMedia): void;
  /** Takes over what has become known of a shot. */
  setShot(shot: Shot): void;
  /** Takes over the work copies that have been made meanwhile. */
  lookForWorkCopies(): Promise<void>;
  clearNotice(): void;
}

let queue: SaveQueue | null = null;
let channel: BroadcastChannel | null = null;
/** The revision on the server once all that is waiting has arrived. */
let expectedRevision = 0;
let acknowledgedRevision = 0;
let hasOlder = false;
/** The crossing that is to be open; another may be asked for while one is on its way. */
let wanted: string | null = null;
/** Undo and redo happen one after the other, as each may have to ask the server first. */
let stepping: Promise<unknown> = Promise.resolve();
let stepsUnderWay = 0;
const listeners = new Set<DocumentListener>();

/** Hears of document changes outside of rendering, as the preview worker does. */
export function onDocumentChange(listener: DocumentListener): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export const useDocument = create<DocumentState>(() => ({
  document: null,
  shots: [],
  history: [],
  save: { kind: 'saved' },
  notice: null,

  open: openCrossing,

  close() {
    wanted = null;
    queue?.close();
    channel?.close();
    queue = null;
    channel = null;
    set({ document: null, shots: [], history: [] });
    useSetAside.setState({ entries: [], shown: false });
  },

  edit(label, changes) {
    if (changes.length === 0) return true;
    const locked = lockedAgainst(get().document!, changes);
    if (locked) {
      set({ notice: `${locked.name} is locked. Unlock it in Trace.` });
      return false;
    }
    try {
      doEdit({ id: crypto.randomUUID(), ...withinLimits(label, changes) });
      return true;
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      set({ notice: error.message });
      return false;
    }
  },

  doAgain({ label, changes }) {
    try {
      if (get().edit(label, changes)) return null;
      const why = get().notice;
      set({ notice: null });
      return why;
    } catch (error) {
      if (!(error instanceof EditConflict)) throw error;
      return 'What it changed has been changed since; it cannot be done again as it was. It stays set aside.';
    }
  },

  undo: () =>
    inTurn(async () => {
      const done = () => get().history.filter((entry) => !entry.undone);
      if (hasOlder && done().length < 2)
        await loadOlder().catch((error: unknown) => {
          // The one that is here can be undone all the same.
          if (done().length === 0) throw error;
        });
      const last = done().at(-1);
      if (last) await moveInHistory(last, 'undo');
    }),

  redo: () =>
    inTurn(async () => {
      const next = get().history.find((entry) => entry.undone);
      if (next) await moveInHistory(next, 'redo');
    }),

  nudgeSaving: () => queue?.nudge(),

  unsentEdits: () => queue?.unsent ?? [],

  savedRevision: () =>
    get().save.kind === 'saved' && queue?.waiting === 0 && acknowledgedRevision === expectedRevision
      ? acknowledgedRevision
      : null,

  checkOtherWindows,

  addShot(media) {
    if (!get().shots.some(({ shot }) => shot.id === media.shot.id)) set({ shots: [...get().shots, media] });
  },

  setShot(shot) {
    set({ shots: get().shots.map((media) => (media.shot.id === shot.id ? { ...media, shot } : media)) });
  },

  lookForWorkCopies,

  clearNotice: () => set({ notice: null }),
}));

const set = (part: Partial<DocumentState>): void => useDocument.setState(part);
const get = (): DocumentState => useDocument.getState();

async function openCrossing(crossingId: string) {
  wanted = crossingId;
  const aside = await sendLeftovers(crossingId);
  const opened = await call<OpenedCrossing>(`/api/crossings/${crossingId}`);
  if (wanted !== crossingId) return;
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
    rejoin,
    (steps) => holdSetAside(crossingId, steps),
  );
  void readSetAside(crossingId);
  set({
    document: opened.document,
    shots: opened.shots,
    history: opened.history,
    save: { kind: 'saved' },
    notice:
      aside > 0
        ? `${aside} unsaved ${aside === 1 ? 'change' : 'changes'} of an earlier visit could not be saved and ${aside === 1 ? 'was' : 'were'} set aside.`
        : null,
  });
}

async function checkOtherWindows() {
  const { document } = get();
  if (!document || !queue || queue.waiting > 0) return;
  try {
    const since = acknowledgedRevision;
    const { revision, commits } = await call<CrossingChanges>(
      `/api/crossings/${document.crossing.id}/changes?since=${since}`,
    );
    if (revision === acknowledgedRevision || queue.waiting > 0 || acknowledgedRevision !== since) return;
    if (!commits || !follow(commits)) await refresh();
    else expectedRevision = acknowledgedRevision = revision;
    set({ notice: 'Another window changed this crossing. This window now shows it.' });
  } catch {
    // Out of reach: the next edit will say so.
  }
}

async function lookForWorkCopies() {
  for (const media of get().shots) {
    if (media.work || media.stills) continue;
    const now = await call<ShotMedia>(`/api/shots/${media.shot.id}`).catch(() => null);
    if (now?.work)
      set({ shots: get().shots.map((each) => (each === media ? { ...each, work: now.work } : each)) });
  }
}

/**
 * Sets the document after some changes, with what else changes with it; who listens hears of it then.
 *
 * @throws EditConflict when the changes are of other rows, Inconsistent when the document would not hold together.
 */
function applyAndTell(changes: RowChange[], besides: Partial<DocumentState>) {
  const document = applyChanges(get().document!, changes);
  const why = inconsistencyOf(document, changes);
  if (why !== null) throw new Inconsistent(`${why} Nothing was changed.`);
  set({ ...besides, document });
  listeners.forEach((listener) => listener({ changes }));
}

function enqueue(step: { kind: 'do'; edit: Edit } | { kind: 'undo' | 'redo'; editId: string }) {
  queue?.add({ requestId: crypto.randomUUID(), baseRevision: expectedRevision++, ...step } as Commit);
}

function takeOver(opened: OpenedCrossing) {
  expectedRevision = acknowledgedRevision = opened.revision;
  hasOlder = opened.hasOlder;
  set({ document: opened.document, history: opened.history, shots: opened.shots });
  listeners.forEach((listener) => listener({ document: opened.document }));
}

async function refresh() {
  takeOver(await call<OpenedCrossing>(`/api/crossings/${get().document!.crossing.id}`));
}

function doEdit(edit: Edit) {
  applyAndTell(edit.changes, {
    history: [...get().history.filter((entry) => !entry.undone), { ...edit, undone: false }],
  });
  enqueue({ kind: 'do', edit });
}

/** Does here what another window has done; false where the whole has to be asked for. */
function follow(steps: NonNullable<CrossingChanges['commits']>): boolean {
  const known = new Set(get().shots.map(({ shot }) => shot.id));
  const asksForShots = steps.some(({ edit }) =>
    edit.changes.some(
      ({ table, after }) => table === 'layer' && after && !shotIdsOf(after).every((id) => known.has(id)),
    ),
  );
  if (asksForShots) return false;
  try {
    for (const { kind, edit } of steps) {
      const before = get().history;
      const history =
        kind === 'do'
          ? [...before.filter((entry) => !entry.undone), { ...edit, undone: false }]
          : before.map((entry) => (entry.id === edit.id ? { ...entry, undone: kind === 'undo' } : entry));
      applyAndTell(kind === 'undo' ? inverseChanges(edit.changes) : edit.changes, { history });
    }
    return true;
  } catch (error) {
    if (error instanceof EditConflict || error instanceof Inconsistent) return false;
    throw error;
  }
}

/** Joins one step to what the server holds; false where it cannot be. */
async function join(step: Commit): Promise<boolean> {
  const { history } = get();
  if (step.kind === 'do') {
    try {
      doEdit(step.edit);
    } catch (error) {
      if (error instanceof EditConflict || error instanceof Inconsistent) return false;
      throw error;
    }
    return true;
  }
  const undo = step.kind === 'undo';
  const next = undo ? history.findLast((entry) => !entry.undone) : history.find((entry) => entry.undone);
  if (next?.id !== step.editId) return false;
  await (undo ? get().undo() : get().redo());
  return true;
}

/**
 * Shows what the server holds, with the steps that came back joined to it. One that was refused, and those that
 * meet other rows, are kept apart.
 */
async function rejoin(why: SetBack): Promise<boolean> {
  const { crossing } = get().document!;
  const from = queue!;
  let opened: OpenedCrossing | null = null;
  try {
    opened = await call<OpenedCrossing>(`/api/crossings/${crossing.id}`);
  } catch (error) {
    if (error instanceof ServerUnreachable || !(error instanceof ServerRefusal && error.status === 404))
      return false;
  }
  if (queue !== from) return false;
  const { steps, settled } = from.drain();
  if (!opened) {
    const gone = 'The crossing was deleted in another window.';
    await from.setAside(steps.map((step) => ({ step, reason: gone })));
    await settled();
    await readSetAside(crossing.id);
    set({ notice: `${gone} What had not been saved is set aside in this browser.` });
    return true;
  }
  takeOver(opened);
  const outcome = await joinAgain(steps, why);
  await from.setAside(outcome.aside);
  await settled();
  if (outcome.aside.length > 0) await readSetAside(crossing.id);
  set({ notice: rejoinNotice(why, outcome) });
  return true;
}

/** Joins the steps that came back to what the server holds, in their order. */
async function joinAgain(steps: Commit[], why: SetBack): Promise<Rejoined> {
  const refused = why.kind === 'refused' ? steps.shift() : undefined;
  const aside: Rejoined['aside'] = [];
  if (refused && why.kind === 'refused') aside.push({ step: refused, reason: why.reason });
  const away = new Set<string>(refused ? [editIdOf(refused)] : []);
  const reason =
    why.kind === 'overtaken'
      ? 'Another window changed the same points first.'
      : 'It rests on an edit that could not be saved.';
  let joined = 0;
  for (const step of steps) {
    // Undoing what was not done, or doing that again, is nothing.
    if (step.kind !== 'do' && away.has(step.editId)) continue;
    if (await join(step)) joined++;
    else {
      aside.push({ step, reason });
      away.add(editIdOf(step));
    }
  }
  return { refused, aside, joined };
}

async function loadOlder() {
  const { document, history } = get();
  const first = history.find((entry) => entry.sequence !== undefined);
  if (!document || !first) return;
  const { id } = document.crossing;
  const older = await call<History>(`/api/crossings/${id}/history?before=${first.sequence}`);
  // Meanwhile the crossing may have been left, or read anew with another history.
  if (get().document?.crossing.id !== id || !get().history.includes(first)) return;
  hasOlder = older.hasOlder;
  set({ history: [...older.history, ...get().history] });
}

/**
 * The edits that stand, oldest first, as far back as one that is looked for; older ones are asked of the server.
 *
 * @throws ServerUnreachable, ServerRefusal.
 */
export async function editsBackTo(isIt: (edit: Edit) => boolean): Promise<Edit[]> {
  while (hasOlder && !get().history.some(isIt)) {
    const before = get().history;
    await loadOlder();
    if (get().history === before) break;
  }
  return get().history.filter((entry) => !entry.undone);
}

/**
 * Does a step of the history: at once where none is under way, else after those that were asked for before. What fails is
 * said, and changes nothing.
 */
function inTurn(step: () => Promise<void>): Promise<void> {
  const begun = stepsUnderWay > 0 ? stepping.then(step) : step();
  stepsUnderWay++;
  const done = begun
    .catch((error: unknown) => {
      if (!(error instanceof ServerUnreachable || error instanceof ServerRefusal)) throw error;
      set({ notice: `Nothing was undone or redone: ${error.message}` });
    })
    .finally(() => stepsUnderWay--);
  stepping = done.catch(() => {});
  return done;
}

async function moveInHistory(entry: HistoryEntry, kind: 'undo' | 'redo') {
  const changes = kind === 'undo' ? inverseChanges(entry.changes) : entry.changes;
  const named = new Set(
    changes.flatMap(({ table, after }) => (table === 'layer' && after ? shotIdsOf(after) : [])),
  );
  const open = new Set(get().shots.map(({ shot }) => shot.id));
  for (const id of named) if (!open.has(id)) await takeShot(id);
  // While shots were asked for, the history may have become another.
  const { history, document, shots } = get();
  if (!document || !history.includes(entry)) return;
  const shown = new Set(Object.values(document.layers).flatMap(shotIdsOf));
  const gone = shots.find(({ deleted, shot }) => deleted && named.has(shot.id) && !shown.has(shot.id));
  applyAndTell(changes, {
    history: history.map((each) => (each === entry ? { ...each, undone: kind === 'undo' } : each)),
    ...(gone
      ? {
          notice: `“${gone.shot.name}” was deleted from the footage: a grey picture stands in its place. Undo or redo goes on past it.`,
        }
      : {}),
  });
  enqueue({ kind, editId: entry.id });
}

/** Takes in a shot that is not open, whatever became of it. */
async function takeShot(id: string) {
  const { crossing } = get().document!;
  const media = await call<ShotMedia>(`/api/shots/${id}`).catch((error: unknown) => {
    if (error instanceof ServerRefusal && error.status === 404) return lostShot(id, crossing);
    throw error;
  });
  if (get().document?.crossing.id === crossing.id) get().addShot(media);
}
