import { rateOf } from '@/core/time/rate';
import { type PointerEvent, type RefObject, useRef } from 'react';
import { piecesInOrder } from '@/core/document/document';
import { isPlaced } from '@/core/actions/piece-actions';
import type { PieceRow } from '@/core/document/tables';
import { sampleOfFrame } from '@/core/sound/behind';
import { useDocument } from '../document/document-store';
import { useLetGo } from '@/interface/useLetGo';
import { edit } from '../session/edit';
import { crossingFrameIn, tracedNow } from '../session/traced';
import { setView, useView } from '../view/view-store';
import { dragged, type PieceGrip, takePiece } from './sound-commands';

/** px that a hand moves before it drags, and within which an end is caught by what it snaps to. */
const still = 3;
const caught = 7;

interface Drag {
  x: number;
  y: number;
  piece: PieceRow;
  grip: PieceGrip;
  moving: boolean;
}

/**
 * The hand in the lane of sound: it moves pieces along and across tracks and pulls their ends; Escape lets go, and Alt
 * lets go of what they snap to.
 *
 * @param samples that the lane is wide. @param trackHeight px.
 */
export function usePieceDrag(lane: RefObject<HTMLElement | null>, samples: number, trackHeight: number) {
  const drag = useRef<Drag | null>(null);
  const letGo = () => {
    drag.current = null;
    setView({ draft: null });
  };
  useLetGo(() => drag.current !== null, letGo);

  const take = (event: PointerEvent<HTMLElement>, piece: PieceRow, grip: PieceGrip) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    takePiece(piece.id);
    setView({ playing: false });
    drag.current = { x: event.clientX, y: event.clientY, piece, grip, moving: false };
    event.currentTarget.setPointerCapture(event.pointerId);
  };

  const onMove = (event: PointerEvent, done: boolean) => {
    const held = drag.current;
    const { document } = useDocument.getState();
    if (!held || !document || !lane.current) return;
    const [dx, dy] = [event.clientX - held.x, event.clientY - held.y];
    held.moving ||= Math.hypot(dx, dy) > still;
    if (done) drag.current = null;
    if (!held.moving) return;
    const perPx = samples / lane.current.clientWidth;
    const tracks = held.grip === 'move' ? Math.round(dy / trackHeight) : 0;
    const placed = isPlaced(held.piece);
    const by = placed ? snapped(held, dx * perPx, event.altKey ? 0 : caught * perPx) : 0;
    const changes = dragged(document, held.piece, held.grip, by, tracks);
    if (!done) return setView({ draft: changes });
    setView({ draft: null });
    const what = held.grip === 'move' ? 'Move' : held.grip === 'in' ? 'Trim the start of' : 'Trim the end of';
    edit(`${what} ${held.piece.name}`, changes);
  };

  return {
    take,
    onHand: {
      onPointerMove: (event: PointerEvent) => onMove(event, false),
      onPointerUp: (event: PointerEvent) => onMove(event, true),
      onPointerCancel: letGo,
    },
  };
}

/** A shift in samples, such that an end of the piece falls on what is near: the opening, marks, poses, other pieces. */
function snapped({ piece, grip }: Drag, by: number, within: number): number {
  if (within === 0) return by;
  const ends = [
    ...(grip === 'out' ? [] : [piece.start]),
    ...(grip === 'in' ? [] : [piece.start + piece.length]),
  ];
  let [best, nearest] = [by, within];
  for (const target of targets(piece.id))
    for (const end of ends) {
      const distance = Math.abs(end + by - target);
      if (distance >= nearest) continue;
      nearest = distance;
      best = target - end;
    }
  return best;
}

/** Crossing samples that pieces snap to. */
function targets(pieceId: string): number[] {
  const { document } = useDocument.getState();
  if (!document) return [];
  const rate = rateOf(document.crossing);
  const traced = tracedNow();
  const { frame, outlineId } = useView.getState();
  const outline = traced?.outlines.find(({ id }) => id === outlineId) ?? traced?.outlines[0];
  const posed = (document.poses[outline?.id ?? ''] ?? [])
    .filter(({ origin }) => origin === 'by hand')
    .map((pose) => crossingFrameIn(traced!, pose.frame));
  const frames = [
    ...[0, document.crossing.length, frame],
    ...Object.values(document.marks).map((mark) => mark.frame),
    ...posed,
  ];
  const others = piecesInOrder(document).filter((piece) => piece.id !== pieceId && isPlaced(piece));
  return [
    ...frames.map((each) => sampleOfFrame(each, rate)),
    ...others.flatMap(({ start, length }) => [start, start + length]),
  ];
}
