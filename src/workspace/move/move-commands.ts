import { type Channel, channels, soundChannels } from '@/core/model/channels';
import { withinBounds, keysOf } from '@/core/document/keys';
import { type CrossingDocument, moveId, type MoveRow } from '@/core/document/tables';
import type { RowChange } from '@/core/document/edit';
import {
  copiedMoves,
  removeMoves,
  setMove,
  setMovesOnward,
  shiftMoves,
  stretchMoves,
} from '@/core/actions/move-actions';
import { channelAt, type Moved, movedAt } from '@/core/compose/moves';
import { fade, fadeInOrder } from '@/core/move/fades';
import type { PushIn, Remedy } from '@/core/move/push-in';
import type { Onward } from '@/core/model/time';
import { checksBegun } from '../check/checks-store';
import { useDocument } from '../document/document-store';
import { layerName } from '../session/layer-name';
import { goTo } from '../session/go-to';
import { edit } from '../session/edit';
import { framePhrase } from '../session/in-hand';
import { tracedNow } from '../session/traced';
import { type Lane, setView, useView } from '../view/view-store';
import { channelWords } from './channel-words';
import { leafNow, moverNow } from './mover';
import { dragSpeed, dragSpeedKeys, rampedLayer, removeSpeedKeys, speedFrames } from './ramp-commands';

/** What a person does to the keys of a layer or of the whole picture. */

/** What the mover does at a crossing frame. */
export function moverAt(frame: number): Moved | null {
  const { document } = useDocument.getState();
  const id = moverNow();
  if (!document || !id) return null;
  return movedAt(document, id, frame);
}

function moverName(id: string): string {
  const { document } = useDocument.getState();
  const layer = document?.layers[id];
  const named = document?.outlines[id] ?? document?.pieces[id];
  return layer ? `the ${layerName(layer)}` : (named?.name ?? 'the whole picture');
}

/** Changes what moves on this frame, and so makes keys there. @param draft whether the hand has not let go yet. */
export function changeMove(values: Partial<Record<Channel, readonly number[]>>, draft = false) {
  const { document } = useDocument.getState();
  const [id, { frame }] = [moverNow(), useView.getState()];
  if (!document || !id) return;
  const changed = (Object.keys(values) as Channel[]).filter((channel) => {
    const before = channelAt(document, id, channel, frame);
    return numbersIn(channel, values[channel]!).some(
      (value, k) => value !== settled(withinBounds(channel, before[k], k)),
    );
  });
  const changes = changed.flatMap((channel) => keyAt(document, id, channel, frame, values[channel]!));
  if (draft) {
    setView({ draft: changes });
    return;
  }
  if (changes.length > 0)
    edit(`${channelWords[changed[0]].name} of ${moverName(id)}, ${framePhrase()}`, changes);
  setView({ draft: null });
}

/** Makes a key of typed numbers on this frame, also where they are what they were; says so where they hold on every frame then. */
export function typeMove(channel: Channel, numbers: readonly number[]) {
  const { document } = useDocument.getState();
  const [id, { frame }] = [moverNow(), useView.getState()];
  if (!document || !id) return;
  const before = channelAt(document, id, channel, frame);
  const name = channelWords[channel].name;
  const made = edit(
    `${name} of ${moverName(id)}, ${framePhrase()}`,
    keyAt(document, id, channel, frame, numbers),
  );
  setView({ draft: null });
  const after = useDocument.getState().document;
  const alone = made && after && (keysOf(after, id)[channel]?.length ?? 0) === 1;
  const changed = numbersIn(channel, numbers).some(
    (value, k) => value !== settled(withinBounds(channel, before[k], k)),
  );
  if (alone && changed)
    useDocument.setState({
      notice: `${name} is the same on every frame now, as this is its only key. For a change over time, key another frame too.`,
    });
}

function numbersIn(channel: Channel, numbers: readonly number[]): number[] {
  return numbers.map((value, k) => settled(withinBounds(channel, value, k)));
}

/** Without what working it out left behind its last place: a size of 140 comes back as 139.99999999999994. */
const settled = (value: number) => Math.round(value * 1e8) / 1e8;

/** A key with these numbers. */
function keyAt(
  document: CrossingDocument,
  id: string,
  channel: Channel,
  frame: number,
  numbers: readonly number[],
) {
  const [value, second = 0, third = 0] = numbersIn(channel, numbers);
  return setMove(document, id, channel, frame, value, second, { third });
}

/** Makes a key of a channel on this frame, as things stand there; or takes the one that is there away. */
export function toggleMoveKey(channel: Channel) {
  const { document } = useDocument.getState();
  const [id, { frame }] = [moverNow(), useView.getState()];
  if (!document || !id) return;
  const row = document.moves[moveId(id, channel, frame)];
  const name = `${channelWords[channel].name.toLowerCase()} of ${moverName(id)}, ${framePhrase()}`;
  if (row) edit(`Remove the key of the ${name}`, removeMoves([row]));
  else edit(`Key the ${name}`, keyAt(document, id, channel, frame, channelAt(document, id, channel, frame)));
}

/** Goes to the next or the former key of the mover. */
export function goToMoveKey(direction: 1 | -1): string | null {
  const { document } = useDocument.getState();
  const [id, { frame }] = [moverNow(), useView.getState()];
  const frames =
    document && id ? Object.values(keysOf(document, id)).flatMap((keys) => keys.map((key) => key.frame)) : [];
  const there = frames.filter((each) => (direction > 0 ? each > frame : each < frame));
  if (there.length === 0)
    return direction > 0
      ? 'There is no key of a move after this frame.'
      : 'There is no key of a move before this frame.';
  goTo(direction > 0 ? Math.min(...there) : Math.max(...there));
  return null;
}

/** The keys that a choice of way is about: the selected ones, else each channel's last at or before this frame. */
export function keysInHand(): MoveRow[] {
  const { document } = useDocument.getState();
  const { moveKeys, frame } = useView.getState();
  const id = moverNow();
  if (!document || !id) return [];
  const selected = [...moveKeys].flatMap((key) => document.moves[key] ?? []);
  if (selected.length > 0) return selected;
  return Object.values(keysOf(document, id)).flatMap(
    (keys) => keys.findLast((key) => key.frame <= frame)?.row ?? [],
  );
}

export function runOn(onward: Onward) {
  const rows = keysInHand();
  if (rows.length > 0) edit(`Moves run on ${onward}`, setMovesOnward(rows, onward));
}

/** The moves' rows among selected keys. */
function rowsOf(keys: ReadonlySet<string>): MoveRow[] {
  const { document } = useDocument.getState();
  return [...keys].flatMap((id) => document?.moves[id] ?? []);
}

const placed: readonly Channel[] = ['place', 'size', 'turn'];

/**
 * The keys that travel with one: those of place, size and turn on its frame, as a push makes them; and where it has both place and
 * size there, those of other layers that have both, which go along.
 */
export function togetherWith(id: string): ReadonlySet<string> {
  const { document } = useDocument.getState();
  const row = document?.moves[id];
  if (!document || !row || !placed.includes(row.channel)) return new Set([id]);
  const at = (ownerId: string) =>
    placed.flatMap((channel) => document.moves[moveId(ownerId, channel, row.frame)] ?? []);
  const pushed = (ownerId: string) =>
    (['place', 'size'] as const).every((channel) => document.moves[moveId(ownerId, channel, row.frame)]);
  const others = pushed(row.ownerId)
    ? [document.crossing.id, ...Object.keys(document.layers)].filter(
        (ownerId) => ownerId !== row.ownerId && pushed(ownerId),
      )
    : [];
  return new Set([row.ownerId, ...others].flatMap((ownerId) => at(ownerId).map((key) => key.id)));
}

/** Keys of a lane dragged along the frames. @param draft whether the hand has not let go yet. */
export function dragKeys(keys: ReadonlySet<string>, by: number, draft: boolean) {
  const { document } = useDocument.getState();
  if (!document) return;
  const frames = speedFrames(keys);
  const layer = rampedLayer();
  if (frames.size > 0 && layer) {
    const replaced = dragSpeedKeys(layer, frames, by, draft);
    if (!draft) sayReplaced(replaced);
    return;
  }
  const rows = rowsOf(keys);
  const changes = shiftMoves(document, rows, by, document.crossing.length - 1);
  if (draft) setView({ draft: changes });
  else {
    retimeSelected(`Shift ${rows.length === 1 ? 'a key' : `${rows.length} keys`} of moves`, changes);
    sayReplaced(replacedBy(document, rows, changes));
    setView({ draft: null });
  }
}

/** Selected keys drawn out or together about the one farthest from the key that is held. */
export function dragApart(keys: ReadonlySet<string>, held: string, by: number, draft: boolean) {
  const { document } = useDocument.getState();
  const rows = rowsOf(keys);
  const own = document?.moves[held];
  if (!document || !own || rows.length < 2) return;
  const away = ({ frame }: MoveRow) => Math.abs(frame - own.frame);
  const { frame: about } = rows.reduce((far, row) => (away(row) > away(far) ? row : far));
  if (about === own.frame) return;
  const share = (own.frame + by - about) / (own.frame - about);
  const changes = stretchMoves(document, rows, about, share, document.crossing.length - 1);
  if (draft) setView({ draft: changes });
  else {
    retimeSelected(`Draw ${rows.length} keys of moves apart`, changes);
    sayReplaced(replacedBy(document, rows, changes));
    setView({ draft: null });
  }
}

/** Frames of the keys that others were put in the place of. */
function replacedBy({ moves }: CrossingDocument, rows: readonly MoveRow[], changes: readonly RowChange[]) {
  const own = new Set(rows.map(({ id }) => id));
  return changes.flatMap(({ table, id, after }) =>
    table === 'move' && after && !own.has(id) && moves[id] ? [moves[id].frame] : [],
  );
}

/** Says that keys gave way to those that were dragged onto them. */
export function sayReplaced(frames: readonly number[]) {
  if (frames.length === 0) return;
  const which =
    frames.length === 1 ? `The key that was on frame ${frames[0]}` : `${frames.length} keys that were there`;
  const verb = frames.length === 1 ? 'was' : 'were';
  useDocument.setState({
    notice: `${which} ${verb} replaced. Ctrl Z brings ${frames.length === 1 ? 'it' : 'them'} back.`,
  });
}

function retimeSelected(label: string, changes: readonly RowChange[]) {
  if (changes.length === 0) return;
  edit(label, [...changes]);
  const moved = changes.flatMap(({ table, after }) => (table === 'move' && after ? [after.id] : []));
  setView({ moveKeys: new Set(moved) });
}

let copied: readonly MoveRow[] = [];

/** Copies the selected keys; false without any. */
export function copySelectedKeys(): boolean {
  const rows = rowsOf(useView.getState().moveKeys);
  if (rows.length > 0) copied = rows;
  return rows.length > 0;
}

/** Puts copied keys in from this frame on, for what moves now. Returns why it could not; false where it is not meant. */
export function pasteKeys(): string | null | false {
  const { document } = useDocument.getState();
  const [id, { frame, step }] = [moverNow(), useView.getState()];
  if (!document || !id || step !== 'Move' || copied.length === 0) return false;
  // Keys of one owner are put in for what moves now; those of several each for its own.
  const owners = new Set(copied.map(({ ownerId }) => ownerId));
  const first = Math.min(...copied.map((row) => row.frame));
  const changes = [...owners].flatMap((ownerId) => {
    const rows = copied.filter((row) => row.ownerId === ownerId);
    const from = frame + Math.min(...rows.map((row) => row.frame)) - first;
    return copiedMoves(document, rows, owners.size > 1 ? ownerId : id, from, document.crossing.length - 1);
  });
  if (changes.length === 0) return `${moverName(id)} has none of the copied keys’ values.`;
  retimeSelected(`Paste ${changes.length === 1 ? 'a key' : `${changes.length} keys`} of moves`, changes);
  return null;
}

/** A key's value dragged in its lane. */
export function dragValue(id: string, value: number, draft: boolean) {
  const { document } = useDocument.getState();
  const [frame] = speedFrames(new Set([id]));
  const layer = rampedLayer();
  if (frame !== undefined && layer) {
    dragSpeed(layer, frame, value, draft);
    return;
  }
  const row = document?.moves[id];
  if (!document || !row) return;
  const changes = setMove(document, row.ownerId, row.channel, row.frame, value, row.second, {
    third: row.third,
  });
  if (draft) setView({ draft: changes });
  else {
    if (value !== row.value)
      edit(`${channelWords[row.channel].name} of ${moverName(row.ownerId)}, frame ${row.frame}`, changes);
    setView({ draft: null });
  }
}

/** The handles of a key's eased way dragged. */
export function dragEase(id: string, ease: readonly number[], draft: boolean) {
  const row = useDocument.getState().document?.moves[id];
  if (!row) return;
  const changes = setMovesOnward([row], 'eased', ease);
  if (draft) setView({ draft: changes });
  else {
    edit(
      `In-betweens after the ${channelWords[row.channel].name.toLowerCase()} of ${moverName(row.ownerId)}, frame ${row.frame}`,
      changes,
    );
    setView({ draft: null });
  }
}

/** Takes the selected keys away; nothing without any. */
export function removeSelectedKeys(): boolean {
  const { moveKeys } = useView.getState();
  const [rows, frames] = [rowsOf(moveKeys), speedFrames(moveKeys)];
  if (rows.length + frames.size === 0) return false;
  if (frames.size > 0) removeSpeedKeys(frames);
  if (rows.length > 0)
    edit(`Remove ${rows.length === 1 ? 'a key' : `${rows.length} keys`} of moves`, removeMoves(rows));
  setView({ moveKeys: new Set() });
  return true;
}

/** Takes all keys of the mover away. */
export function rest() {
  const { document } = useDocument.getState();
  const id = moverNow();
  if (!document || !id) return;
  const rows = Object.values(keysOf(document, id)).flatMap((keys) => keys.map(({ row }) => row));
  if (rows.length > 0) edit(`Remove all keys of ${moverName(id)}`, removeMoves(rows));
  setView({ moveKeys: new Set() });
}

/** Why there was no push, and what would help. */
export interface NoPush {
  refusal: string;
  remedy: Remedy | null;
}

/**
 * Pushes in through the traced layer's opening, or back out of it. Returns why it could not.
 *
 * @param further changes that go into the same edit.
 */
export async function push(
  asked: Omit<PushIn, 'layerId'>,
  further: () => readonly RowChange[] = () => [],
): Promise<NoPush | null> {
  const traced = tracedNow();
  const no = (refusal: string) => ({ refusal, remedy: null });
  if (!traced) return no('Choose a shot with an opening first.');
  if (asked.from >= asked.to) return no('The start must lie before the end.');
  const checks = await checksBegun();
  if (!checks) return no('The opening cannot be looked at now; reload the page.');
  const { document } = useDocument.getState();
  const changes = await checks.pushIn({ ...asked, layerId: traced.layer.id });
  if ('refusal' in changes) return changes;
  // Made from the crossing as it was asked about.
  if (useDocument.getState().document !== document)
    return no('The crossing was changed meanwhile; press again.');
  const label = asked.back ? 'Pull back out of the opening' : 'Push in through the opening';
  edit(label, [...changes, ...further()]);
  setView({ lane: 'size', moverId: asked.all ? traced.document.crossing.id : traced.layer.id });
  return null;
}

/** Frames over which each fades that fade one after the other (common practice, no source). */
const usualFade = 20;

/** Fades what lies beneath the traced subject, then the subject. Returns why it could not. */
export function fadeOneByOne(from: number): string | null {
  const traced = tracedNow();
  if (!traced) return 'Choose the traced subject first.';
  const { document, layer } = traced;
  const changes = fadeInOrder(document, layer.id, from, [usualFade, usualFade]);
  if (!changes)
    return 'It needs the same footage twice: whole beneath, and the traced subject above, as in the plan lingering subject.';
  if (from + 2 * usualFade > document.crossing.length - 1)
    return `Both fades take ${2 * usualFade} frames: start earlier, or make the crossing longer.`;
  edit('Fade the background, then the subject', changes);
  setView({ lane: 'opacity' });
  return null;
}

/** Fades the mover in or out between two frames. Returns why it could not. */
export function fadeBetween(from: number, to: number, way: 'in' | 'out'): string | null {
  const { document } = useDocument.getState();
  const id = moverNow();
  if (!document || !id) return null;
  if (!document.layers[id]) return 'A single shot fades; choose one above.';
  if (from >= to) return 'The start must lie before the end.';
  edit(`Fade ${moverName(id)} ${way}`, fade(document, id, [from, to], way === 'in' ? [0, 100] : [100, 0]));
  setView({ lane: 'opacity' });
  return null;
}

/** Keys place and size together on this frame; where both have keys there, takes them away. */
export function keyPlaceAndSize() {
  const { document } = useDocument.getState();
  const [id, { frame }] = [moverNow(), useView.getState()];
  if (!document || !id || leafNow()) return;
  const both = (['place', 'size'] as const).map((channel) => document.moves[moveId(id, channel, frame)]);
  const name = `place and size of ${moverName(id)}, ${framePhrase()}`;
  if (both[0] && both[1]) edit(`Remove the keys of ${name}`, removeMoves([both[0], both[1]]));
  else
    edit(
      `Key the ${name}`,
      (['place', 'size'] as const).flatMap((channel) =>
        keyAt(document, id, channel, frame, channelAt(document, id, channel, frame)),
      ),
    );
}

const usualLanes: readonly Lane[] = [
  'covered',
  'sound',
  'moves',
  'speed',
  'place',
  'size',
  'turn',
  'opacity',
];
const soundLanes: readonly Lane[] = ['covered', 'sound', ...soundChannels];

/** The lanes there are to choose from: those of corners, blur, colour and swing where what moves has keys of them. */
export function lanesFor(document: CrossingDocument, moverId: string): Lane[] {
  if (document.pieces[moverId]) return [...soundLanes];
  const keyed = keysOf(document, moverId);
  return [...usualLanes, ...channels.filter((channel) => !usualLanes.includes(channel) && keyed[channel])];
}

export function nextLane() {
  const { lane } = useView.getState();
  const { document } = useDocument.getState();
  const lanes = document ? lanesFor(document, moverNow() ?? '') : usualLanes;
  setView({ lane: lanes[(lanes.indexOf(lane) + 1) % lanes.length] });
}
