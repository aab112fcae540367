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

/** px between the lines of the brush's hatch, and the most of them to either side. */
const [hatchStep, mostHatches] = [5, 12];

/** Lines within a circle at a slope of 45°, as far apart as the hatch; one through the middle where that is all. */
function hatchWithin(radius: number, marks: StrokeMark): [x: number, y: number][][] {
  if (marks === 'open') return [];
  const count = marks === 'this' ? Math.min(mostHatches, Math.floor((0.9 * radius) / hatchStep)) : 0;
  return Array.from({ length: 2 * count + 1 }, (_, k) => {
    // A chord at this distance from the middle: its ends lie on the circle.
    const from = (k - count) * Math.min(hatchStep, radius / 2);
    const half = Math.sqrt(Math.max(0, radius ** 2 - from ** 2));
    return [-1, 1].map((end): [number, number] => [
      (from + end * half) * Math.SQRT1_2,
      (from - end * half) * Math.SQRT1_2,
    ]);
  });
}

/** The brush about the pointer, as large as it paints: hatched for what belongs to the subject, struck for what does not, else empty. */
export function drawBrush(
  context: Konva.Context,
  place: readonly [number, number],
  radius: number,
  mark: StrokeMark,
  sight: Sight,
) {
  const [x, y] = sight.place(...place);
  const r = Math.max(4, radius * sight.scale);
  context.save();
  for (const [width, style] of [
    [3, ink.shade],
    [1.4, inkOf[mark]],
  ] as const) {
    context.setAttr('lineWidth', width);
    context.setAttr('strokeStyle', style);
    context.beginPath();
    context.arc(x, y, r, 0, 2 * Math.PI, false);
    for (const [[x0, y0], [x1, y1]] of hatchWithin(r, mark)) {
      context.moveTo(x + x0, y + y0);
      context.lineTo(x + x1, y + y1);
    }
    context.stroke();
  }
  context.restore();
}
