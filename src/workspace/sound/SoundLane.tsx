'use client';

import { rateOf } from '@/core/time/rate';
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import { memo, useEffect, useMemo, useRef } from 'react';
import { applyChanges, piecesInOrder } from '@/core/document/document';
import type { CrossingDocument, PieceRow } from '@/core/document/tables';
import { isPlaced } from '@/core/actions/piece-actions';
import { samplesPerFrame } from '@/core/sound/behind';
import type { PieceWave } from '@/core/sound/peaks';
import { useDocument } from '../document/document-store';
import { LaneTicks } from '../lanes/LaneTicks';
import { goTo } from '../session/go-to';
import { setView, useView } from '../view/view-store';
import { wakeSound } from './sound-client';
import { takePiece } from './sound-commands';
import { useSound } from '../session/sound-store';
import { usePieceDrag } from './usePieceDrag';

/** px of a track. */
export const trackHeight = 27;

/** Tracks that are shown: those in use, and one more to drag to. */
export function tracksShown(document: CrossingDocument): number {
  const used = Object.values(document.pieces).reduce((most, { track }) => Math.max(most, track + 1), 0);
  return Math.min(8, Math.max(2, used + (used > 0 ? 1 : 0)));
}

/** Pieces of sound over the crossing, track by track, each with its wave as it will sound. */
export const SoundLane = memo(function SoundLane() {
  const saved = useDocument((state) => state.document)!;
  const draft = useView((state) => state.draft);
  const document = useMemo(
    () => (draft?.some(({ table }) => table === 'piece') ? applyChanges(saved, draft) : saved),
    [saved, draft],
  );
  const waves = useSound((state) => state.waves);
  const missing = useSound((state) => state.missing);
  const inHand = useSound((state) => state.pieceId);
  const alone = useSound((state) => state.alone);
  const lane = useRef<HTMLDivElement>(null);
  const perFrame = samplesPerFrame(rateOf(document.crossing));
  const last = Math.max(1, document.crossing.length - 1);
  const end = document.crossing.length * perFrame;
  const beyondOf = (piece: PieceRow) =>
    isPlaced(piece) ? Math.ceil((piece.start + piece.length - end) / perFrame - 1e-6) : 0;
  const { take, onHand } = usePieceDrag(lane, last * perFrame, trackHeight);
  useEffect(() => void wakeSound(), []);
  const across = (sample: number) => (100 * sample) / perFrame / last;
  const tracks = tracksShown(saved);
  const pieces = piecesInOrder(document);
  return (
    <>
      <Box
        ref={lane}
        role="group"
        aria-label="Sound over the crossing"
        {...onHand}
        onPointerDown={(event) => {
          const { left, width } = event.currentTarget.getBoundingClientRect();
          setView({ playing: false });
          takePiece(null);
          goTo(((event.clientX - left) / width) * last);
        }}
        sx={{
          position: 'absolute',
          inset: 0,
          borderLeft: 1,
          borderBottom: 1,
          borderColor: 'divider',
          overflowX: 'clip',
          cursor: 'pointer',
        }}
      >
        {Array.from({ length: tracks }, (_, track) => (
          <Box
            key={track}
            sx={{
              position: 'absolute',
              left: 0,
              right: 0,
              height: trackHeight,
              borderTop: track > 0 ? 1 : 0,
              borderColor: 'divider',
            }}
            style={{ top: track * trackHeight }}
          />
        ))}
        {pieces.map((piece) => {
          const wave = waves[piece.id];
          const [from, to] = isPlaced(piece)
            ? [piece.start, piece.start + piece.length]
            : [wave?.from ?? 0, wave?.to ?? document.crossing.length * perFrame];
          const shift = wave ? piece.start - piece.inSample - wave.zero : 0;
          return (
            <Piece
              key={piece.id}
              piece={piece}
              wave={wave ?? null}
              inHand={piece.id === inHand}
              missing={missing.includes(piece.id)}
              quiet={piece.muted || (alone !== null && alone !== piece.id)}
              waveLeft={wave ? (100 * (wave.from + shift - from)) / Math.max(1, to - from) : 0}
              waveWidth={wave ? (100 * (wave.to - wave.from)) / Math.max(1, to - from) : 0}
              left={across(from)}
              width={across(to - from)}
              frames={`frame ${Math.round(from / perFrame)} to ${Math.round(to / perFrame)}`}
              beyond={beyondOf(piece)}
              onTake={take}
            />
          );
        })}
        {pieces.map((piece) => (
          <PastTheEnd key={piece.id} piece={piece} frames={beyondOf(piece)} />
        ))}
        {pieces.length === 0 && (
          <Box
            sx={{
              ...{ position: 'absolute', inset: 0, display: 'grid', placeItems: 'center', fontSize: 12 },
              ...{ color: 'text.secondary', pointerEvents: 'none' },
            }}
          >
            No sound yet: step Sound brings it in, makes it, or takes a shot’s own.
          </Box>
        )}
      </Box>
      <LaneTicks length={document.crossing.length} />
    </>
  );
});

/** Says at the lane's end that a piece goes on past the crossing's, where nothing of it is heard. */
function PastTheEnd({ piece: { name, track }, frames }: { piece: PieceRow; frames: number }) {
  if (frames <= 0) return null;
  return (
    <Box
      title={`${name}: the last ${frames} ${frames === 1 ? 'frame is' : 'frames are'} past the end of the crossing and not heard`}
      sx={{
        ...{ position: 'absolute', right: 0, px: '3px', fontSize: 11, lineHeight: '14px', zIndex: 2 },
        ...{
          bgcolor: 'background.default',
          borderLeft: 2,
          borderColor: 'warning.main',
          color: 'text.primary',
        },
      }}
      style={{ top: track * trackHeight + trackHeight - 18 }}
    >
      +{frames} fr
    </Box>
  );
}

/** px of an end that is pulled. */
const grip = 7;

const Piece = memo(function Piece({
  piece,
  wave,
  inHand,
  missing,
  quiet,
  waveLeft,
  waveWidth,
  left,
  width,
  frames,
  beyond,
  onTake,
}: {
  piece: PieceRow;
  wave: PieceWave | null;
  inHand: boolean;
  /** Silent, as the file it comes from was deleted. */
  missing: boolean;
  quiet: boolean;
  /** Percent of the piece. */
  waveLeft: number;
  waveWidth: number;
  /** Percent of the lane. */
  left: number;
  width: number;
  frames: string;
  /** Frames by which it reaches past the crossing's end; 0 or less: it does not. */
  beyond: number;
  onTake: ReturnType<typeof usePieceDrag>['take'];
}) {
  const placed = isPlaced(piece);
  const says = `${piece.name}, ${frames}, track ${piece.track + 1}${piece.muted ? ', muted' : ''}${piece.behind ? ', behind the edge' : ''}${missing ? ', silent: its file was deleted' : ''}${beyond > 0 ? `, its last ${beyond} ${beyond === 1 ? 'frame is' : 'frames are'} past the end of the crossing` : ''}`;
  return (
    <Box
      role="button"
      tabIndex={0}
      aria-label={says}
      aria-pressed={inHand}
      title={`${says}. Drag to move it, its ends to trim it; Alt lets go of what it snaps to`}
      onFocus={() => takePiece(piece.id)}
      onPointerDown={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        const [before, after] = [event.clientX - box.left, box.right - event.clientX];
        const ends = placed && box.width > 3 * grip;
        onTake(event, piece, ends && before < grip ? 'in' : ends && after < grip ? 'out' : 'move');
      }}
      sx={{
        position: 'absolute',
        height: trackHeight - 4,
        minWidth: 4,
        border: inHand ? 2 : 1,
        borderColor: inHand ? 'primary.main' : 'text.secondary',
        borderRadius: '3px',
        borderStyle: placed ? 'solid' : 'dashed',
        bgcolor: 'background.default',
        ...(missing && {
          backgroundImage: 'repeating-linear-gradient(45deg, currentColor 0 1px, transparent 1px 7px)',
        }),
        opacity: quiet ? 0.45 : 1,
        overflow: 'hidden',
        cursor: placed ? 'grab' : 'pointer',
        touchAction: 'none',
        ...(placed && {
          '&::before, &::after': {
            ...{ content: '""', position: 'absolute', top: 0, bottom: 0, width: grip, cursor: 'ew-resize' },
            zIndex: 1,
          },
          '&::before': { left: 0 },
          '&::after': { right: 0 },
        }),
      }}
      style={{ left: `${left}%`, width: `${width}%`, top: piece.track * trackHeight + 2 }}
    >
      {wave && wave.to > wave.from && <Wave wave={wave} left={waveLeft} width={waveWidth} />}
      <Box
        sx={{
          ...{ position: 'absolute', left: 3, top: 0, px: '3px', fontSize: 11, lineHeight: '14px' },
          ...{ whiteSpace: 'nowrap', bgcolor: 'background.default', borderRadius: '2px', opacity: 0.92 },
          pointerEvents: 'none',
        }}
      >
        {piece.name}
        {piece.behind && ' · behind the edge'}
        {piece.crossfade !== 'none' && ` · ${piece.crossfade}`}
      </Box>
    </Box>
  );
});

/** A wave's lowest and highest samples, column by column; the height shows the square root, so that quiet is seen too. */
function Wave({ wave, left, width: share }: { wave: PieceWave; left: number; width: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useTheme();
  const ink = theme.kiv.role.incoming;
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context) return;
    const width = Math.max(1, Math.round(element.clientWidth * devicePixelRatio));
    const height = Math.max(1, Math.round(element.clientHeight * devicePixelRatio));
    [element.width, element.height] = [width, height];
    context.fillStyle = ink;
    const count = wave.peaks.length / 2;
    const tall = (value: number) => Math.sign(value) * Math.sqrt(Math.min(1, Math.abs(value)));
    for (let x = 0; x < width; x++) {
      const first = Math.floor((x * count) / width);
      const end = Math.max(first + 1, Math.floor(((x + 1) * count) / width));
      let [low, high] = [0, 0];
      for (let p = first; p < end; p++) {
        low = Math.min(low, wave.peaks[2 * p]);
        high = Math.max(high, wave.peaks[2 * p + 1]);
      }
      const top = (height / 2) * (1 - tall(high));
      context.fillRect(x, top, 1, Math.max(1, (height / 2) * (1 - tall(low)) - top));
    }
  }, [wave, ink]);
  return (
    <canvas
      ref={canvas}
      aria-hidden
      style={{
        ...{ position: 'absolute', top: 0, height: '100%', pointerEvents: 'none' },
        left: `${left}%`,
        width: `${share}%`,
      }}
    />
  );
}
