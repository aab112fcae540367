import { rateOf } from '@/core/time/rate';
import {
  addPiece,
  copyPiece,
  freeTrack,
  isPlaced,
  pieceInPlaceOf,
  removePiece,
  setPiece,
  shiftPiece,
  splitPiece,
  trimPiece,
} from '@/core/actions/piece-actions';
import type { Channel } from '@/core/model/channels';
import { piecesInOrder, playedRange } from '@/core/document/document';
import { type CrossingDocument, type LayerRow, type PieceRow, plainPiece } from '@/core/document/tables';
import type { RowChange } from '@/core/document/edit';
import { movesOf, removeMoves } from '@/core/actions/move-actions';
import { mostMade, mostSamples, mostTracks, mixRate } from '@/core/model/limits';
import { sampleOfFrame } from '@/core/sound/behind';
import { type EdgePassage, fitSweep, passageOf } from '@/core/sound/fit';
import type { MakerName } from '@/core/model/maker-names';
import { makerBeginnings } from '@/core/sound/makers';
import { voiceOf } from '@/core/sound/voice';
import type { SoundListing } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import { layerName } from '../session/layer-name';
import { edit } from '../session/edit';
import { setView, useView } from '../view/view-store';
import { setSound, useSound } from '../session/sound-store';

/** What a person does to pieces of sound. */

/** The piece in hand, or null. */
function pieceNow(): PieceRow | null {
  const { document } = useDocument.getState();
  return document?.pieces[useSound.getState().pieceId ?? ''] ?? null;
}

/** Keeps a piece in hand when undo or redo takes the one that was: the one that goes on with what that held. */
export function keepPieceInHand(): () => void {
  return useDocument.subscribe((now, before) => {
    const { pieceId } = useSound.getState();
    const gone = pieceId === null ? undefined : before.document?.pieces[pieceId];
    if (!gone || !now.document || now.document.pieces[gone.id]) return;
    if (now.document.crossing.id === before.document!.crossing.id)
      takePiece(pieceInPlaceOf(now.document, gone)?.id ?? null);
  });
}

export function takePiece(id: string | null) {
  if (useSound.getState().pieceId === id) return;
  setSound({ pieceId: id });
  setView({ moveKeys: new Set() });
}

/** The sample at which the frame on screen begins. */
function sampleHere(document: CrossingDocument): number {
  return sampleOfFrame(useView.getState().frame, rateOf(document.crossing));
}

/** Says that no track has room, as every piece has to be seen to be taken. */
function refuseForTracks() {
  useDocument.setState({
    notice: `All ${mostTracks} tracks have sound here. Move or remove a piece first; nothing was added.`,
  });
}

function add(label: string, piece: Partial<PieceRow> & Pick<PieceRow, 'name' | 'source' | 'length'>) {
  const { document } = useDocument.getState();
  if (!document) return;
  const start = piece.start ?? sampleHere(document);
  const track = freeTrack(document, start, piece.length);
  if (track === null) return refuseForTracks();
  const row: PieceRow = {
    ...plainPiece,
    id: crypto.randomUUID(),
    sourceId: null,
    inSample: 0,
    start,
    track,
    ...piece,
  };
  if (edit(label, addPiece(row))) takePiece(row.id);
}

/** Puts a sound that was brought in where the frame on screen begins. */
export function addSound({ id, name, length }: Pick<SoundListing, 'id' | 'name' | 'length'>) {
  add(`Add “${name}”`, { name, source: 'file', sourceId: id, length });
}

/** A sound made for a place on the timeline. */
function madeOf(
  maker: MakerName,
  start: number,
  length: number,
  loudestAt = plainPiece.loudestAt,
): Partial<PieceRow> & Pick<PieceRow, 'name' | 'source' | 'length'> {
  const { brightness } = makerBeginnings[maker];
  return {
    ...{ name: nameOf(maker), source: 'made', maker, brightness, start, length },
    ...{ madeLength: length, loudestAt, seed: 1 + Math.floor(Math.random() * 9999) },
  };
}

/** A sweep as long as the moving edge is in the picture, loudest where that is fastest. */
function sweepFitted(document: CrossingDocument, passage: EdgePassage) {
  const { start, length, loudestAt } = fitSweep(passage, rateOf(document.crossing));
  return madeOf('air sweep', start, length, loudestAt);
}

/** Makes a sound: a sweep fitted to the moving edge; what lasts over all that is played; else where one is. */
export function addMade(maker: MakerName) {
  const { document } = useDocument.getState();
  if (!document) return;
  const { seconds } = makerBeginnings[maker];
  const rate = rateOf(document.crossing);
  const passage = passageOf(useView.getState().coverage ?? []);
  const [first, last] = playedRange(document);
  const made = (piece: ReturnType<typeof madeOf>) => add(`Make ${nameOf(maker).toLowerCase()}`, piece);
  if (maker === 'air sweep' && passage) made(sweepFitted(document, passage));
  else if (seconds >= 3) {
    const start = sampleOfFrame(first, rate);
    made(madeOf(maker, start, Math.min(sampleOfFrame(last + 1, rate) - start, mostMade)));
  } else made(madeOf(maker, sampleHere(document), Math.round(seconds * mixRate)));
}

/** A sweep fitted to the moving edge as a piece on a free track; null where none is free. */
export function sweepPiece(document: CrossingDocument, passage: EdgePassage): PieceRow | null {
  const piece = { ...plainPiece, id: crypto.randomUUID(), sourceId: null, inSample: 0, start: 0 };
  const made = { ...piece, ...sweepFitted(document, passage) };
  const track = freeTrack(document, made.start, made.length);
  return track === null ? null : { ...made, track };
}

export const nameOf = (maker: MakerName) => maker[0].toUpperCase() + maker.slice(1);

/** A layer's own sound, which runs as its pictures do. */
function layerPiece(layer: LayerRow, track: number, more: Partial<PieceRow> = {}): PieceRow {
  return {
    ...plainPiece,
    ...{ id: crypto.randomUUID(), name: `Sound of the ${layerName(layer)}`, track },
    // Where it lies follows from the layer; these only have to be something.
    ...{ source: 'layer', sourceId: layer.id, start: 0, inSample: 0, length: 1 },
    ...more,
  };
}

export function addLayerSound(layer: LayerRow) {
  const { document } = useDocument.getState();
  if (!document) return;
  const track = freeTrack(document, -mostSamples, 2 * mostSamples);
  if (track === null) return refuseForTracks();
  const piece = layerPiece(layer, track);
  if (edit(`Hear the ${layerName(layer)}`, addPiece(piece))) takePiece(piece.id);
}

/** The sound of the outgoing shot goes out and that of the incoming comes in; pieces that are there take it on. */
export function crossfadeShots(): string | null {
  const crossfade = shotsCrossfaded();
  if (typeof crossfade === 'string') return crossfade;
  edit('Crossfade the shots’ sound', crossfade.changes);
  return crossfade.parts === 1 ? 'Only one of the shots has sound: the other side stays silent.' : null;
}

/** The same as changes, with how many of the shots have sound; or why it cannot be. */
export function shotsCrossfaded(): { changes: RowChange[]; parts: number } | string {
  const { document, shots } = useDocument.getState();
  if (!document) return 'No crossing is open.';
  const heard = (role: LayerRow['role']) =>
    Object.values(document.layers).find(
      (layer) => layer.role === role && shots.find(({ shot }) => shot.id === layer.shotId)?.hasSound === true,
    );
  const parts = (['outgoing', 'incoming'] as const).flatMap((role) => {
    const layer = heard(role);
    return layer
      ? [{ layer, crossfade: role === 'outgoing' ? ('goes out' as const) : ('comes in' as const) }]
      : [];
  });
  if (parts.length === 0) return 'Neither shot has sound of its own. Bring sounds in, or make some.';
  let after = document;
  const changes: RowChange[] = [];
  for (const { layer, crossfade } of parts) {
    const there = Object.values(document.pieces).find(
      ({ source, sourceId }) => source === 'layer' && sourceId === layer.id,
    );
    const track = freeTrack(after, -mostSamples, 2 * mostSamples);
    if (!there && track === null)
      return `All ${mostTracks} tracks have sound. A crossfade needs an empty one for each shot; nothing was changed.`;
    const piece = layerPiece(layer, track ?? 0, { crossfade });
    if (!there) after = { ...after, pieces: { ...after.pieces, [piece.id]: piece } };
    changes.push(...(there ? setPiece(document, there.id, { crossfade, muted: false }) : addPiece(piece)));
  }
  return { changes, parts: parts.length };
}

/** Changes the piece in hand. @param draft whether the hand has not let go yet. */
export function changePiece(label: string, settings: Partial<Omit<PieceRow, 'id'>>, draft = false) {
  const { document } = useDocument.getState();
  const piece = pieceNow();
  if (!document || !piece) return;
  const changes = setPiece(document, piece.id, settings);
  if (draft) return setView({ draft: changes });
  setView({ draft: null });
  edit(`${label} of ${piece.name}`, changes);
}

/** Changes what a made piece is made from; a length goes along where it was not trimmed. */
export function changeMaking(label: string, settings: Partial<PieceRow>) {
  const piece = pieceNow();
  if (!piece) return;
  const { madeLength } = settings;
  const length =
    madeLength === undefined
      ? {}
      : {
          inSample: 0,
          length: madeLength,
          ...{ fadeIn: Math.min(piece.fadeIn, madeLength), fadeOut: Math.min(piece.fadeOut, madeLength) },
        };
  changePiece(label, { ...settings, ...length });
}

/** Lays the piece in hand to the moving edge: a sweep is made anew for it, anything else begins with it. */
export function fitToCrossing(): string | null {
  const { document } = useDocument.getState();
  const piece = pieceNow();
  const passage = passageOf(useView.getState().coverage ?? []);
  if (!document || !piece) return null;
  if (!passage) return 'There is no moving edge to fit it to yet: trace one first.';
  const rate = rateOf(document.crossing);
  if (piece.source === 'made' && piece.maker === 'air sweep') {
    const { start, length, loudestAt } = fitSweep(passage, rate);
    changeMaking('Fit', { start, loudestAt, madeLength: length });
  } else changePiece('Fit', { start: sampleOfFrame(passage.first, rate) });
  return null;
}

/** A layer's sound as a piece of its own, which lies still from now on. */
export function bringOut(): string | null {
  const { document, shots } = useDocument.getState();
  const piece = pieceNow();
  const layer = document?.layers[piece?.sourceId ?? ''];
  if (!document || !piece || !layer) return null;
  const table = Object.fromEntries(shots.map(({ shot }) => [shot.id, shot]));
  const voice = voiceOf({ document, shots: table, openness: () => 1 }, piece);
  if (!voice || voice.to <= voice.from)
    return 'This piece is not heard anywhere in the crossing. Move it, or make the crossing longer.';
  if (!voice.plain)
    return 'Its shot runs at another speed or rate here; detached, it would lose that. It stays with its layer.';
  const at = voice.placeOf(voice.from);
  const out = {
    ...{ source: 'shot' as const, sourceId: layer.shotId, start: voice.from },
    ...{ inSample: Math.max(0, at), length: voice.to - voice.from },
  };
  changePiece('Detach the sound', { ...out, name: table[layer.shotId]?.name ?? piece.name });
  return null;
}

export function removePieceInHand(): boolean {
  const { document } = useDocument.getState();
  const piece = pieceNow();
  if (!document || !piece) return false;
  edit(`Remove ${piece.name}`, removePiece(document, piece.id));
  takePiece(null);
  return true;
}

export function splitHere(): string | null {
  const { document } = useDocument.getState();
  const piece = pieceNow();
  if (!document || !piece) return 'Choose a piece of sound first.';
  const id = crypto.randomUUID();
  const changes = splitPiece(document, piece.id, sampleHere(document), id, piece.name);
  if (changes.length === 0)
    return isPlaced(piece)
      ? 'The frame on screen lies outside the piece.'
      : 'A layer’s sound belongs to its pictures; detach it first.';
  if (edit(`Split ${piece.name}`, changes)) takePiece(id);
  return null;
}

let copied: { document: CrossingDocument; id: string } | null = null;

export function copyPieceInHand(): boolean {
  const { document } = useDocument.getState();
  const piece = pieceNow();
  if (!document || !piece) return false;
  copied = { document, id: piece.id };
  return true;
}

/** Puts the copied piece where the frame on screen begins. */
export function pastePiece(): boolean {
  const { document } = useDocument.getState();
  if (!document || copied?.document.crossing.id !== document.crossing.id) return false;
  const id = crypto.randomUUID();
  const { name, length } = copied.document.pieces[copied.id];
  const start = sampleHere(document);
  const track = freeTrack(document, start, length);
  if (track === null) {
    refuseForTracks();
    return true;
  }
  const changes = copyPiece(copied.document, copied.id, id, { start, track });
  if (edit(`Paste a copy of ${name}`, changes)) takePiece(id);
  return true;
}

export function toggleMuted(): string | null {
  const piece = pieceNow();
  if (!piece) return 'Choose a piece of sound first.';
  changePiece(piece.muted ? 'Sound again' : 'Mute', { muted: !piece.muted });
  return null;
}

export function toggleAlone(id = useSound.getState().pieceId): string | null {
  if (!id) return 'Choose a piece of sound first.';
  setSound({ alone: useSound.getState().alone === id ? null : id });
  return null;
}

export function toggleBehind(): string | null {
  const piece = pieceNow();
  if (!piece) return 'Choose a piece of sound first.';
  changePiece(piece.behind ? 'Bring before the edge' : 'Put behind the edge', { behind: !piece.behind });
  return null;
}

export function toggleStepsHeard() {
  setSound({ stepsHeard: !useSound.getState().stepsHeard });
}

export function nextPiece(by: 1 | -1): string | null {
  const { document } = useDocument.getState();
  const pieces = document ? piecesInOrder(document) : [];
  if (pieces.length === 0) return 'There is no piece of sound yet: step Sound adds some.';
  const at = pieces.findIndex(({ id }) => id === useSound.getState().pieceId);
  takePiece(pieces[(at + by + pieces.length) % pieces.length].id);
  return null;
}

/** Moves the piece in hand by frames. */
export function nudgePiece(frames: number): string | null {
  const { document } = useDocument.getState();
  const piece = pieceNow();
  if (!document || !piece) return 'Choose a piece of sound first.';
  if (!isPlaced(piece))
    return 'A layer’s sound lies where its pictures do. Detach it from its shot to move it.';
  edit(
    `Move ${piece.name}`,
    shiftPiece(document, piece.id, sampleOfFrame(frames, rateOf(document.crossing)), 0),
  );
  return null;
}

/** What a hand does to a piece: moves it, or pulls one of its ends. */
export type PieceGrip = 'move' | 'in' | 'out';

/** The changes of a hand that has moved a piece by samples and tracks. */
export function dragged(
  document: CrossingDocument,
  piece: PieceRow,
  grip: PieceGrip,
  samples: number,
  tracks: number,
): RowChange[] {
  if (grip === 'move') return shiftPiece(document, piece.id, samples, tracks);
  const end = grip === 'in' ? piece.start : piece.start + piece.length;
  return trimPiece(document, piece.id, grip, end + samples, sourceLength(piece));
}

/** Samples of what a piece comes from; null where that is not known. */
function sourceLength(piece: PieceRow): number | null {
  if (piece.source === 'made') return piece.madeLength;
  if (piece.source === 'file')
    return useSound.getState().sounds?.find(({ id }) => id === piece.sourceId)?.length ?? null;
  return null;
}

/** Takes the keys of one of a piece's channels away: what is set for all of it counts again. */
export function removeKeysOf(channel: Channel) {
  const { document } = useDocument.getState();
  const piece = pieceNow();
  if (!document || !piece) return;
  edit(`Remove the ${channel} keys of ${piece.name}`, removeMoves(movesOf(document, [piece.id], [channel])));
}
