import { Shape } from 'react-konva';
import { numbersPerPoint as N } from '@/core/model/choices';
import { drawPoints, ink, tracePath } from '../sight/paint';
import type { Sight } from '../sight/sight';
import { type Drawing, drawnCoordinates } from './drawing';

/** An outline that is being drawn, up to the pointer. @param pointer in shot px. */
export function DrawnLine({
  drawing,
  pointer,
  sight,
}: {
  drawing: Drawing;
  pointer: readonly [number, number] | null;
  sight: Sight;
}) {
  return (
    <Shape
      sceneFunc={(context) => {
        const made = drawnCoordinates(drawing);
        const next =
          pointer && drawing.by === 'points' && !drawing.pulling ? [...made, ...pointer, 0, 0, 0, 0] : made;
        tracePath(context, next, drawing.by === 'corners', sight);
        context.setAttr('lineWidth', 2);
        context.setAttr('strokeStyle', ink.chosen);
        context.stroke();
        if (drawing.by === 'points') drawPoints(context, made, new Set([made.length / N - 1]), sight);
        if (drawing.by === 'edge') {
          const pressed = drawing.presses.flatMap(([x, y]) => [x, y, 0, 0, 0, 0]);
          drawPoints(context, pressed, new Set([drawing.presses.length - 1]), sight);
        }
      }}
    />
  );
}
