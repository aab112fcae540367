'use client';

import Box from '@mui/material/Box';
import { type RefObject, useEffect, useRef } from 'react';
import { segmentCount, segmentCubic, startingCoordinates } from '@/core/outline';
import { ink, outlineInk } from '../sight/paint';
import { sightAt } from '../sight/sight';
import { sourceFrameOf, tracedNow } from '../session/traced';
import { useDocument } from '../document/document-store';
import { useView } from '../view/view-store';

/** Side of the loupe on screen, px, and how many times it enlarges the crossing's px. */
const side = 184;
const times = 8;

/**
 * What lies under the pointer, eight times as large and with a grid of its pixels; it keeps away from the pointer.
 *
 * @param board the picture's pasteboard, in which the pointer moves.
 */
export function Loupe({ board }: { board: RefObject<HTMLDivElement | null> }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const element = board.current;
    if (!element) return;
    let place: [number, number] | null = null;
    let asked = 0;
    const draw = () => {
      asked = 0;
      if (canvas.current) drawLoupe(canvas.current, element, place);
    };
    const ask = () => {
      if (asked === 0) asked = requestAnimationFrame(draw);
    };
    const onMove = (event: PointerEvent) => {
      place = [event.clientX, event.clientY];
      ask();
    };
    const onLeave = () => {
      place = null;
      ask();
    };
    element.addEventListener('pointermove', onMove);
    element.addEventListener('pointerleave', onLeave);
    const stop = useView.subscribe(ask);
    return () => {
      cancelAnimationFrame(asked);
      element.removeEventListener('pointermove', onMove);
      element.removeEventListener('pointerleave', onLeave);
      stop();
    };
  }, [board]);
  return (
    <Box
      component="canvas"
      ref={canvas}
      width={side}
      height={side}
      aria-label="Loupe"
      sx={{
        position: 'absolute',
        top: 12,
        zIndex: 2,
        visibility: 'hidden',
        pointerEvents: 'none',
        border: '2px solid',
        borderColor: 'background.paper',
        boxShadow: 3,
      }}
    />
  );
}

/** @param place of the pointer in the window; null: it is elsewhere, and the loupe hidden. */
function drawLoupe(lens: HTMLCanvasElement, board: HTMLElement, place: [number, number] | null) {
  const context = lens.getContext('2d');
  const picture = board.querySelector<HTMLCanvasElement>('[data-picture] canvas');
  const { document } = useDocument.getState();
  if (!context || !picture || !document) return;
  lens.style.visibility = place ? 'visible' : 'hidden';
  if (!place) return;
  const box = board.getBoundingClientRect();
  const shown = picture.getBoundingClientRect();
  const scale = shown.width / document.crossing.width;
  const [x, y] = [(place[0] - shown.left) / scale, (place[1] - shown.top) / scale];
  const far = place[0] - box.left < box.width / 2;
  lens.style.left = far ? `${box.width - side - 12}px` : '12px';
  const half = side / times / 2;
  const finer = picture.width / document.crossing.width;
  context.fillStyle = '#777';
  context.fillRect(0, 0, side, side);
  context.imageSmoothingEnabled = false;
  const [left, top, wide] = [(x - half) * finer, (y - half) * finer, 2 * half * finer];
  context.drawImage(picture, left, top, wide, wide, 0, 0, side, side);
  drawGrid(context, x - half, y - half);
  drawOutlinesIn(context, x - half, y - half);
  context.strokeStyle = ink.chosen;
  context.lineWidth = 1.4;
  context.strokeRect(side / 2 - times / 2, side / 2 - times / 2, times, times);
}

/** The borders of the crossing's pixels. @param left, top the loupe's corner in crossing px. */
function drawGrid(context: CanvasRenderingContext2D, left: number, top: number) {
  const pixels = side / times;
  context.strokeStyle = 'rgba(0,0,0,.22)';
  context.lineWidth = 1;
  context.beginPath();
  for (let k = Math.ceil(left); k < left + pixels; k++) {
    const at = Math.round((k - left) * times) + 0.5;
    context.moveTo(at, 0);
    context.lineTo(at, side);
  }
  for (let k = Math.ceil(top); k < top + pixels; k++) {
    const at = Math.round((k - top) * times) + 0.5;
    context.moveTo(0, at);
    context.lineTo(side, at);
  }
  context.stroke();
}

/** The outlines of the traced shot. @param left, top the loupe's corner in crossing px. */
function drawOutlinesIn(context: CanvasRenderingContext2D, left: number, top: number) {
  const traced = tracedNow();
  if (!traced) return;
  const { frame, view } = useView.getState();
  const camera = { scale: times, x: -left * times, y: -top * times };
  const sight = sightAt(traced, frame, camera, view === 'result');
  for (const { id, kind, hidden, colour } of traced.outlines) {
    const poses = traced.document.poses[id] ?? [];
    const coordinates = hidden ? null : startingCoordinates(poses, sourceFrameOf(traced, frame));
    if (!coordinates) continue;
    const path = new Path2D();
    for (let k = 0; k < segmentCount(coordinates, kind === 'loop'); k++)
      for (const [part, b] of sight.cubics(segmentCubic(coordinates, k)).entries()) {
        if (k === 0 && part === 0) path.moveTo(b[0], b[1]);
        path.bezierCurveTo(b[2], b[3], b[4], b[5], b[6], b[7]);
      }
    context.strokeStyle = ink.shade;
    context.lineWidth = 3;
    context.stroke(path);
    context.strokeStyle = outlineInk[colour];
    context.lineWidth = 1.4;
    context.stroke(path);
  }
}
