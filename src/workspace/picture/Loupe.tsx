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
      const lens = canvas.current;
      const context = lens?.getContext('2d');
      const picture = element.querySelector<HTMLCanvasElement>('[data-picture] canvas');
      const { crossing } = useDocument.getState().document!;
      if (!lens || !context || !picture) return;
      lens.style.visibility = place ? 'visible' : 'hidden';
      if (!place) return;
      const box = element.getBoundingClientRect();
      const shown = picture.getBoundingClientRect();
      const scale = shown.width / crossing.width;
      const [x, y] = [(place[0] - shown.left) / scale, (place[1] - shown.top) / scale];
      const far = place[0] - box.left < box.width / 2;
      lens.style.left = far ? `${box.width - side - 12}px` : '12px';
      context.fillStyle = '#777';
      context.fillRect(0, 0, side, side);
      const half = side / times / 2;
      const finer = picture.width / crossing.width;
      context.imageSmoothingEnabled = false;
      context.drawImage(
        picture,
        (x - half) * finer,
        (y - half) * finer,
        2 * half * finer,
        2 * half * finer,
        0,
        0,
        side,
        side,
      );
      const toLens = [times, 0, 0, times, -(x - half) * times, -(y - half) * times] as const;
      context.strokeStyle = 'rgba(0,0,0,.22)';
      context.lineWidth = 1;
      context.beginPath();
      for (let k = Math.ceil(x - half); k < x + half; k++) {
        const at = Math.round(k * times + toLens[4]) + 0.5;
        context.moveTo(at, 0);
        context.lineTo(at, side);
      }
      for (let k = Math.ceil(y - half); k < y + half; k++) {
        const at = Math.round(k * times + toLens[5]) + 0.5;
        context.moveTo(0, at);
        context.lineTo(side, at);
      }
      context.stroke();
      const traced = tracedNow();
      const view = useView.getState();
      if (traced) {
        const sight = sightAt(
          traced,
          view.frame,
          { scale: times, x: toLens[4], y: toLens[5] },
          view.view === 'result',
        );
        for (const outline of traced.outlines.filter(({ hidden }) => !hidden)) {
          const c = startingCoordinates(
            traced.document.poses[outline.id] ?? [],
            sourceFrameOf(traced, view.frame),
          );
          if (!c) continue;
          const path = new Path2D();
          for (let k = 0; k < segmentCount(c, outline.kind === 'loop'); k++)
            for (const [part, b] of sight.cubics(segmentCubic(c, k)).entries()) {
              if (k === 0 && part === 0) path.moveTo(b[0], b[1]);
              path.bezierCurveTo(b[2], b[3], b[4], b[5], b[6], b[7]);
            }
          context.strokeStyle = ink.shade;
          context.lineWidth = 3;
          context.stroke(path);
          context.strokeStyle = outlineInk[outline.colour];
          context.lineWidth = 1.4;
          context.stroke(path);
        }
      }
      context.strokeStyle = ink.chosen;
      context.strokeRect(side / 2 - times / 2, side / 2 - times / 2, times, times);
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
