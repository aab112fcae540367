import { rateOf } from '../time/rate';
import { playedRange } from '../document/document';
import type { CrossingDocument, LayerRow, PieceRow } from '../document/tables';
import type { RowChange } from '../document/edit';
import { isPlaced, setPiece } from '../actions/piece-actions';
import { sampleOfFrame, samplesPerFrame } from '../sound/behind';
import { passageOf } from '../sound/fit';
import { assertNever } from '../model/assert-never';
import { type Finding, type Fix, isSoundFix } from './findings';

/** What is heard of a crossing, as far as its findings need it. */
export interface Heard {
  /** Of each piece that sounds: its stretch in crossing samples, and how loud its ends are, dBFS. */
  pieces: readonly { id: string; from: number; to: number; startLevel: number; endLevel: number }[];
  /** The pieces that are silent because the file they come from was deleted. */
  missing: readonly string[];
  /** Highest sample of the sum before it is limited, dBFS, and the crossing frame it lies in. */
  highest: number;
  highestAt: number;
}

/** dBFS over 5 ms from which a beginning or an end without a fade is heard as a click (taste). */
const clicks = -45;
/** dB beyond full scale from which the limiter is heard to work (taste). */
const overBy = 1;
/** Frames by which the first sound may come after the opening. */
const mayWait = 3;
/** Samples of the fade that mends a click: 15 ms. */
const mendingFade = 720;

/**
 * What is wrong with a crossing's sound.
 *
 * @param coverage for each crossing frame; empty where it is not known yet.
 * @param silent layers whose shot's sound was kept and is not heard.
 */
export function soundFindings(
  document: CrossingDocument,
  heard: Heard,
  coverage: ArrayLike<number>,
  silent: readonly LayerRow[],
): Finding[] {
  const [first, last] = playedRange(document);
  const found = [
    ...clipping(heard),
    ...hardEnds(document, heard),
    ...missingFiles(document, heard),
    ...startsLate(document, heard, coverage),
    ...silent.map((layer): Finding => ({
      ...at(first),
      kind: 'silent shot',
      says: `The ${layer.role} shot’s sound was kept, but is not heard: step Sound lets it be.`,
    })),
  ];
  return found.filter(({ from, to }) => to >= first && from <= last);
}

const at = (frame: number) => ({
  ...{ outlineId: null, from: frame, to: frame, worst: frame, place: null },
  fix: null as Fix | null,
});

function clipping({ highest, highestAt }: Heard): Finding[] {
  if (highest < overBy) return [];
  return [
    {
      ...at(highestAt),
      kind: 'sound clips',
      says: `Frame ${highestAt}: the sum of all sound is ${highest.toFixed(1)} dB over full scale and is held down; it sounds squeezed.`,
      fix: 'turn down',
    },
  ];
}

function missingFiles(document: CrossingDocument, { missing }: Heard): Finding[] {
  const perFrame = samplesPerFrame(rateOf(document.crossing));
  const end = document.crossing.length - 1;
  return missing.flatMap((id) => {
    const piece = document.pieces[id];
    if (!piece) return [];
    const from = isPlaced(piece) ? Math.min(end, Math.max(0, Math.floor(piece.start / perFrame))) : 0;
    return [
      {
        ...at(from),
        kind: 'sound is missing' as const,
        pieceId: id,
        says: `${piece.name} is silent: the file it comes from was deleted. Bring the file in again and place it anew, or remove this piece.`,
      },
    ];
  });
}

/** Pieces that begin or end in the middle of sound, without a fade, and not where another goes on with the same. */
function hardEnds(document: CrossingDocument, { pieces }: Heard): Finding[] {
  const rate = rateOf(document.crossing);
  const frameOf = (sample: number) => Math.floor(sample / samplesPerFrame(rate));
  return pieces.flatMap(({ id, from, to, startLevel, endLevel }) => {
    const piece = document.pieces[id];
    if (!piece || !isPlaced(piece)) return [];
    const found: Finding[] = [];
    if (piece.inSample > 0 && piece.fadeIn === 0 && startLevel > clicks && !follows(document, piece, 'in'))
      found.push({
        ...at(Math.max(0, frameOf(from))),
        kind: 'sound jumps',
        pieceId: id,
        says: `${piece.name} begins in the middle of sound: that clicks.`,
        fix: 'fade in',
      });
    if (piece.fadeOut === 0 && endLevel > clicks && !follows(document, piece, 'out'))
      found.push({
        ...at(Math.min(document.crossing.length - 1, frameOf(to - 1))),
        kind: 'sound breaks off',
        pieceId: id,
        says: `${piece.name} ends in the middle of sound, without a fade.`,
        fix: 'fade out',
      });
    return found;
  });
}

/** Whether another piece goes on where this one ends, or ends where it begins, with the same sound. */
function follows({ pieces }: CrossingDocument, piece: PieceRow, end: 'in' | 'out'): boolean {
  const [place, sample] =
    end === 'in'
      ? [piece.start, piece.inSample]
      : [piece.start + piece.length, piece.inSample + piece.length];
  return Object.values(pieces).some(
    (other) =>
      other.id !== piece.id &&
      other.source === piece.source &&
      other.sourceId === piece.sourceId &&
      other.seed === piece.seed &&
      (end === 'in'
        ? other.start + other.length === place && other.inSample + other.length === sample
        : other.start === place && other.inSample === sample),
  );
}

function startsLate(document: CrossingDocument, { pieces }: Heard, coverage: ArrayLike<number>): Finding[] {
  const passage = passageOf(coverage);
  if (!passage || pieces.length === 0) return [];
  const rate = rateOf(document.crossing);
  const from = Math.min(...pieces.map((piece) => piece.from));
  if (from <= sampleOfFrame(passage.first + mayWait, rate)) return [];
  const frame = Math.min(document.crossing.length - 1, Math.floor(from / samplesPerFrame(rate)));
  return [
    {
      ...at(frame),
      kind: 'sound is late',
      says: `The first sound comes on frame ${frame}, after the picture has begun to open on frame ${passage.first}.`,
    },
  ];
}

/** Row changes that mend a finding about sound; none where it cannot be mended here. */
export function mendSound(document: CrossingDocument, { pieceId, fix }: Finding, heard: Heard): RowChange[] {
  if (!fix || !isSoundFix(fix)) return [];
  const piece = document.pieces[pieceId ?? ''];
  const fade = Math.min(mendingFade, piece?.length ?? 0);
  switch (fix) {
    case 'fade in':
      return piece ? setPiece(document, piece.id, { fadeIn: fade }) : [];
    case 'fade out':
      return piece ? setPiece(document, piece.id, { fadeOut: fade }) : [];
    case 'turn down':
      // Keys of levels are a person's own; what is set for all of a piece goes down.
      return heard.pieces.flatMap(({ id }) =>
        setPiece(document, id, {
          level: Math.max(-59, Math.round((document.pieces[id].level - heard.highest - 0.5) * 10) / 10),
        }),
      );
    default:
      return assertNever(fix);
  }
}
