import type Konva from 'konva';
import type { Stroke } from '@/core/subject/strokes';
import type { StrokeMark } from '@/core/model/choices';
import { ink } from '../sight/paint';
import type { Sight } from '../sight/sight';

const inkOf: Record<StrokeMark, string> = { this: ink.swept, 'not this': '#ff8f6b', open: ink.line };
/** Lines through a stroke's middle, so that its colour is not all that tells it: whole, dashed, dotted. */
const dashOf: Record<StrokeMark, number[]> = { this: [], 'not this': [7, 6], open: [1.5, 5] };

/** A stroke as wide as its brush, the picture shining through. */
export function drawStroke(
  context: Konva.Context,
  { mark, radius, path }: Stroke,
  sight: Sight,
  alpha: number,
) {
  context.save();
  context.setAttr('lineCap', 'round');
  context.setAttr('lineJoin', 'round');
  const line = (width: number, style: string, share: number, dash: number[]) => {
    context.beginPath();
    for (let i = 0; i < path.length; i += 2) {
      const place = sight.place(path[i], path[i + 1]);
      if (i === 0) context.moveTo(...place);
      // A press without a way is a dot.
      if (i > 0 || path.length === 2) context.lineTo(place[0] + (path.length === 2 ? 0.01 : 0), place[1]);
    }
    context.setAttr('globalAlpha', share);
    context.setAttr('lineWidth', width);
    context.setAttr('strokeStyle', style);
    context.setLineDash(dash);
    context.stroke();
  };
  line(Math.max(2, 2 * radius * sight.scale), inkOf[mark], 0.38 * alpha, []);
  line(2.6, ink.shade, 0.8 * alpha, []);
  line(1.4, inkOf[mark], alpha, dashOf[mark]);
  context.restore();
}

/** The brush about the pointer: as large as it paints, with a plus, a minus or nothing in its middle. */
export function drawBrush(
  context: Konva.Context,
  place: readonly [number, number],
  radius: number,
  mark: StrokeMark,
  sight: Sight,
) {
  const [x, y] = sight.place(...place);
  const r = Math.max(2, radius * sight.scale);
  context.save();
  for (const [width, style] of [
    [3, ink.shade],
    [1.4, inkOf[mark]],
  ] as const) {
    context.setAttr('lineWidth', width);
    context.setAttr('strokeStyle', style);
    context.beginPath();
    context.arc(x, y, r, 0, 2 * Math.PI, false);
    context.stroke();
    if (mark === 'open') continue;
    context.beginPath();
    context.moveTo(x - 4, y);
    context.lineTo(x + 4, y);
    if (mark === 'this') {
      context.moveTo(x, y - 4);
      context.lineTo(x, y + 4);
    }
    context.stroke();
  }
  context.restore();
}
