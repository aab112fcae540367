import { soundingCrossing, soundPiece } from '../../../fixtures/sounding';
import { applyChanges } from '../document/document';
import { setLayer } from '../actions/layer-actions';
import { setMove } from '../actions/move-actions';
import { setPiece } from '../actions/piece-actions';
import { pieceSignature, soundSignature } from './signature';

const closed = new Array<number>(50).fill(0);
const open = closed.map((_, n) => n / 49);

const document = soundingCrossing([
  soundPiece(),
  soundPiece({ id: 'b', behind: true }),
  soundPiece({ id: 'own', source: 'layer', sourceId: 'l', length: 1 }),
  soundPiece({ id: 't', crossfade: 'comes in', crossfadeByTime: true }),
]);
const of = (id: string, in_ = document, coverage = closed) => pieceSignature(in_, in_.pieces[id], coverage);

test('coverage is heard only of what follows the edge; a layer’s slip only of its own sound', () => {
  for (const id of ['p', 'own', 't']) expect(of(id, document, open)).toBe(of(id));
  expect(of('b', document, open)).not.toBe(of('b'));
  const slipped = applyChanges(document, setLayer(document, 'l', { offset: 3 }));
  for (const id of ['p', 'b', 't']) expect(of(id, slipped)).toBe(of(id));
  expect(of('own', slipped)).not.toBe(of('own'));
});

test('keys and settings are heard of their own piece; what moves the picture is not heard', () => {
  const keyed = applyChanges(document, setMove(document, 'p', 'level', 4, -6));
  expect(of('p', keyed)).not.toBe(of('p'));
  expect(of('b', keyed)).toBe(of('b'));
  const moved = applyChanges(document, setMove(document, 'l', 'size', 4, 150));
  expect(soundSignature(moved, closed)).toBe(soundSignature(document, closed));
  const louder = applyChanges(document, setPiece(document, 'b', { level: -3 }));
  expect(soundSignature(louder, closed)).not.toBe(soundSignature(document, closed));
});
