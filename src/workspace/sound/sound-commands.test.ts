import { documentOf, piecesInOrder } from '@/core/document/document';
import { setLayer } from '@/core/actions/layer-actions';
import { plainCrossing, plainLayer } from '@/core/document/tables';
import type { Shot } from '@/core/model/shot';
import type { ShotMedia, SoundListing } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import { resetView, setView } from '../view/view-store';
import {
  addLayerSound,
  addMade,
  addSound,
  bringOut,
  changeMaking,
  changePiece,
  copyPieceInHand,
  crossfadeShots,
  dragged,
  fitToCrossing,
  keepPieceInHand,
  nextPiece,
  nudgePiece,
  pastePiece,
  removePieceInHand,
  splitHere,
  takePiece,
  toggleAlone,
  toggleBehind,
  toggleMuted,
} from './sound-commands';
import { setSound, useSound } from '../session/sound-store';

/** What a person does to pieces of sound, on the stores as the page holds them. */

Object.assign(globalThis, { localStorage: { getItem: () => null, setItem: () => undefined } });

const shotOf = (id: string, hasSound: boolean) => {
  const shot: Shot = {
    ...{ id, name: id, width: 1280, height: 720, rotation: 0, rate: { num: 25, den: 1 }, frameCount: 90 },
    ...{ colour: { matrix: 'bt709', fullRange: false }, motion: null },
  };
  return { shot, hasSound } as ShotMedia;
};
const set = { id: 'c', name: 'T', plan: 'pass-by' as const, width: 1280, height: 720, length: 60 };
/** Samples of a frame of 25 a second. */
const frame = 1920;
const tone = { id: 'tone', name: 'Tone', length: 20 * frame } as SoundListing;

beforeEach(() => {
  const layers = (['incoming', 'outgoing'] as const).map((role, position) => ({
    ...{ ...plainLayer, id: role, role, shotId: role === 'outgoing' ? 'gate' : 'pond', position },
  }));
  useDocument.setState({
    document: documentOf({
      crossing: [{ ...plainCrossing, ...set, rateNum: 25, rateDen: 1 }],
      layer: layers,
    }),
    shots: [shotOf('gate', true), shotOf('pond', true)],
    history: [],
    notice: null,
  });
  resetView(10, null);
  setView({ coverage: Float32Array.from({ length: 60 }, (_, k) => Math.min(1, Math.max(0, (k - 20) / 20))) });
  setSound({ pieceId: null, alone: null, sounds: [tone] });
});

const documentNow = () => useDocument.getState().document!;
const pieces = () => piecesInOrder(documentNow());
const inHand = () => documentNow().pieces[useSound.getState().pieceId!];

test('sounds come in where the frame is, on a track that is free; they are split, copied, nudged and taken away', () => {
  addSound(tone);
  expect(inHand()).toMatchObject({ start: 10 * frame, length: 20 * frame, track: 0, source: 'file' });
  // Another one there has to lie on another track.
  addSound(tone);
  expect(pieces().map(({ track }) => track)).toEqual([0, 1]);
  setView({ frame: 15 });
  expect(splitHere()).toBeNull();
  expect(
    pieces().map(({ start, inSample, length }) => [start / frame, inSample / frame, length / frame]),
  ).toEqual([
    [10, 0, 20],
    [10, 0, 5],
    [15, 5, 15],
  ]);
  expect(inHand().start).toBe(15 * frame);
  setView({ frame: 40 });
  expect(splitHere()).toBe('The frame on screen lies outside the piece.');
  expect([copyPieceInHand(), pastePiece()]).toEqual([true, true]);
  expect(inHand()).toMatchObject({ start: 40 * frame, inSample: 5 * frame, length: 15 * frame });
  nudgePiece(-3);
  expect(inHand().start).toBe(37 * frame);
  expect(nextPiece(1)).toBeNull();
  expect([removePieceInHand(), removePieceInHand()]).toEqual([true, false]);
  expect(pieces()).toHaveLength(3);
});

test('at 29.97 a nudge is as long as its frames are together', () => {
  const document = documentNow();
  const crossing = { ...document.crossing, rateNum: 30_000, rateDen: 1001 };
  useDocument.setState({ document: { ...document, crossing } });
  setView({ frame: 0 });
  addSound(tone);
  nudgePiece(5);
  // Five frames of 1601.6 samples.
  expect(inHand().start).toBe(8008);
});

test('a made sweep is laid to the moving edge and made anew for it; others begin with it, or last all along', () => {
  addMade('air sweep');
  const [first] = [inHand()];
  expect(first.start).toBeLessThan(20 * frame);
  expect(first.start + first.length).toBeGreaterThan(40 * frame);
  expect(first.madeLength).toBe(first.length);
  // The edge comes later now.
  setView({ coverage: Float32Array.from({ length: 60 }, (_, k) => Math.min(1, Math.max(0, (k - 35) / 10))) });
  expect(fitToCrossing()).toBeNull();
  expect(inHand().start).toBeGreaterThan(first.start);
  expect(inHand().length).toBeLessThan(first.length);
  changeMaking('Length', { madeLength: 5 * frame });
  expect(inHand()).toMatchObject({ length: 5 * frame, inSample: 0 });
  addMade('water');
  expect(inHand()).toMatchObject({ start: 0, length: 60 * frame });
  setView({ coverage: null });
  expect(fitToCrossing()).toContain('no moving edge');
});

test('the shots’ own sound is crossfaded, stays with its pictures, and lies still once brought out', () => {
  expect(crossfadeShots()).toBeNull();
  expect(pieces().map(({ sourceId, crossfade }) => [sourceId, crossfade])).toEqual([
    ['outgoing', 'goes out'],
    ['incoming', 'comes in'],
  ]);
  // Once more changes nothing but what is there.
  crossfadeShots();
  expect(pieces()).toHaveLength(2);
  takePiece(pieces()[0].id);
  expect(nudgePiece(1)).toBe(
    'A layer’s sound lies where its pictures do. Detach it from its shot to move it.',
  );
  const slipped = setLayer(documentNow(), 'outgoing', { offset: 12 });
  useDocument.getState().edit('Slip', slipped);
  expect(bringOut()).toBeNull();
  expect(inHand()).toMatchObject({ source: 'shot', sourceId: 'gate', start: 0, inSample: 12 * frame });
  useDocument.getState().edit('Fast', setLayer(documentNow(), 'incoming', { speed: 150 }));
  takePiece(pieces().find(({ sourceId }) => sourceId === 'incoming')!.id);
  expect(bringOut()).toContain('another speed');
  useDocument.setState({ shots: [shotOf('gate', true), shotOf('pond', false)] });
  expect(crossfadeShots()).toContain('Only one of the shots has sound');
  useDocument.setState({ shots: [shotOf('gate', false), shotOf('pond', false)] });
  expect(crossfadeShots()).toContain('Neither shot has sound');
});

test('pieces are muted, heard alone, put behind the edge; an end is pulled no farther than its sound reaches', () => {
  expect(toggleMuted()).toBe('Choose a piece of sound first.');
  addLayerSound(documentNow().layers.incoming);
  addSound(tone);
  toggleMuted();
  toggleBehind();
  expect(inHand()).toMatchObject({ muted: true, behind: true });
  toggleMuted();
  toggleAlone();
  expect([inHand().muted, useSound.getState().alone]).toEqual([false, inHand().id]);
  toggleAlone();
  expect(useSound.getState().alone).toBeNull();
  const pulled = (grip: 'in' | 'out' | 'move', samples: number) => {
    const [change] = dragged(documentNow(), inHand(), grip, samples, 0);
    const { start, inSample, length } = (change?.after ?? inHand()) as ReturnType<typeof inHand>;
    return [start / frame, inSample / frame, length / frame];
  };
  expect(pulled('out', 5 * frame)).toEqual([10, 0, 20]);
  expect(pulled('out', -5 * frame)).toEqual([10, 0, 15]);
  expect(pulled('in', 4 * frame)).toEqual([14, 4, 16]);
  expect(pulled('in', -4 * frame)).toEqual([10, 0, 20]);
  expect(pulled('move', -3 * frame)).toEqual([7, 0, 20]);
  changePiece('Level', { level: -9 }, true);
  expect(inHand().level).toBe(0);
  changePiece('Level', { level: -9 });
  expect(inHand().level).toBe(-9);
});

test('a ninth sound at one place is refused in a sentence, not laid unseen on the last track', () => {
  for (let k = 0; k < 8; k++) addSound(tone);
  expect(pieces().map(({ track }) => track)).toEqual([0, 1, 2, 3, 4, 5, 6, 7]);
  const held = inHand();
  for (const more of [
    () => addSound(tone),
    () => addMade('thud'),
    () => addLayerSound(documentNow().layers.incoming),
  ]) {
    useDocument.setState({ notice: null });
    more();
    expect(useDocument.getState().notice).toMatch(/All 8 tracks have sound here/);
  }
  expect(crossfadeShots()).toMatch(/All 8 tracks have sound/);
  expect([pieces().length, inHand()]).toEqual([8, held]);
  // Elsewhere there is room.
  setView({ frame: 40 });
  addSound(tone);
  expect(inHand()).toMatchObject({ track: 0, start: 40 * frame });
});

test('undoing a split leaves the piece that is whole again in hand', async () => {
  const stop = keepPieceInHand();
  addSound(tone);
  const { id } = inHand();
  setView({ frame: 15 });
  splitHere();
  expect(inHand().id).not.toBe(id);
  await useDocument.getState().undo();
  expect(inHand()).toMatchObject({ id, length: 20 * frame });
  // What is gone without anything in its place is in hand no more.
  await useDocument.getState().undo();
  expect(useSound.getState().pieceId).toBeNull();
  stop();
});
