'use client';

import { Shape } from 'react-konva';
import type { Stroke } from '@/core/subject/strokes';
import { usePainting } from '../trace/painting';
import { drawBrush, drawStroke } from './paint-strokes';
import type { Sight } from '../sight/sight';

/** Strokes of a frame, those that are painted or waited for, and the brush about the pointer. */
export function BrushStrokes({
  strokes,
  live,
  pointer,
  shotWidth,
  sight,
}: {
  strokes: readonly Stroke[];
  live: Stroke | null;
  pointer: readonly [number, number] | null;
  shotWidth: number;
  sight: Sight;
}) {
  const { waiting, size, mark } = usePainting();
  return (
    <Shape
      sceneFunc={(context) => {
        for (const stroke of strokes) drawStroke(context, stroke, sight, 0.7);
        for (const stroke of waiting) drawStroke(context, stroke, sight, 1);
        if (live) drawStroke(context, live, sight, 1);
        if (pointer) drawBrush(context, pointer, size * shotWidth, live?.mark ?? mark, sight);
      }}
    />
  );
}
