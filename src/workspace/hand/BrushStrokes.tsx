'use client';

import { Shape } from 'react-konva';
import type { Stroke } from '@/core/subject/strokes';
import type { Affine } from '@/core/geometry/affine';
import { usePainting } from '../trace/painting';
import { drawBrush, drawStroke } from './paint-strokes';

/** Strokes of a frame, those that are painted or waited for, and the brush about the pointer. */
export function BrushStrokes({
  strokes,
  live,
  pointer,
  shotWidth,
  toScreen,
}: {
  strokes: readonly Stroke[];
  live: Stroke | null;
  pointer: readonly [number, number] | null;
  shotWidth: number;
  toScreen: Affine;
}) {
  const { waiting, size, mark } = usePainting();
  return (
    <Shape
      sceneFunc={(context) => {
        for (const stroke of strokes) drawStroke(context, stroke, toScreen, 0.7);
        for (const stroke of waiting) drawStroke(context, stroke, toScreen, 1);
        if (live) drawStroke(context, live, toScreen, 1);
        if (pointer) drawBrush(context, pointer, size * shotWidth, live?.mark ?? mark, toScreen);
      }}
    />
  );
}
