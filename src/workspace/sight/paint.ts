import type Konva from 'konva';
import { type EdgeSettings, type OutlineRow } from '@/core/document/tables';
import { numbersPerPoint as N, type OutlineColour } from '@/core/model/choices';
import { pointAt } from '@/core/geometry/bezier';
import { flattenOutline, regionOf, segmentCount, segmentCubic } from '@/core/outline';
import { type ShapeBox, sidesOf } from './shape-box';
import type { Sight } from './sight';
import { softLines, type SoftnessKnob } from '@/core/edge/softness';

/** Colours of what lies over the picture; fixed, as the picture does not change with the room's light. */
export const ink = { line: '#fff6df', shade: 'rgba(20,16,8,.75)', swept: '#38c9ae', chosen: '#ffb62e' };

/** Lines of outlines by their colour's name; each is light enough for the dark edge that every line has. */
export const outlineInk: Record<OutlineColour, string> = {
  chalk: '#fff6df',
  amber: '#ffd166',
  rose: '#ffb3c7',
  sky: '#a9d6ff',
  lime: '#d3f58a',
};

type Context = Konva.Context;

/** Traces an outline's curve in screen px. */
export function tracePath(context: Context, coordinates: readonly number[], closed: boolean, sight: Sight) {
  context.beginPath();
  for (let s = 0; s < segmentCount(coordinates, closed); s++)
    for (const [k, c] of sight.cubics(segmentCubic(coordinates, s)).entries()) {
      if (s === 0 && k === 0) context.moveTo(c[0], c[1]);
      context.bezierCurveTo(c[2], c[3], c[4], c[5], c[6], c[7]);
    }
}

/** A curve with a dark edge, so that it is seen on any picture. */
export function strokeOutline(
  context: Context,
  coordinates: readonly number[],
  closed: boolean,
  sight: Sight,
  { ink: colour, dash, alpha }: { ink: string; dash: number[]; alpha: number },
) {
  context.save();
  context.setAttr('globalAlpha', alpha);
  context.setAttr('lineJoin', 'round');
  for (const [width, style] of [
    [3.6, ink.shade],
    [1.6, colour],
  ] as const) {
    tracePath(context, coordinates, closed, sight);
    context.setLineDash(style === colour ? dash : []);
    context.setAttr('lineWidth', width);
    context.setAttr('strokeStyle', style);
    context.stroke();
  }
  context.restore();
}

/** Slanted strokes over what an outline sweeps or encloses, within the shot's frame. */
export function hatchRegion(
  context: Context,
  outline: OutlineRow,
  coordinates: readonly number[],
  shot: { width: number; height: number },
  sight: Sight,
) {
  const line = flattenOutline(coordinates, outline.kind === 'loop', 1, 0.5);
  if (line.length < 4) return;
  const { polygon } = regionOf(line, outline.kind, outline.sweptSide, shot.width, shot.height);
  const [left, top] = sight.place(0, 0);
  const [right, bottom] = sight.place(shot.width, shot.height);
  context.save();
  context.beginPath();
  context.rect(left, top, right - left, bottom - top);
  context.clip();
  context.beginPath();
  for (let i = 0; i < polygon.length; i += 2) {
    const [x, y] = sight.place(polygon[i], polygon[i + 1]);
    if (i === 0) context.moveTo(x, y);
    else context.lineTo(x, y);
  }
  context.closePath();
  context.clip();
  context.setAttr('lineWidth', 1);
  context.setAttr('strokeStyle', ink.swept);
  context.setAttr('globalAlpha', 0.5);
  context.beginPath();
  const gap = 14;
  const tall = bottom - top;
  for (let x = Math.floor((left - tall) / gap) * gap; x < right; x += gap) {
    context.moveTo(x, bottom);
    context.lineTo(x + tall, top);
  }
  context.stroke();
  context.restore();
}

/** Ticks along a seam that point to its swept side. */
export function tickSide(
  context: Context,
  outline: OutlineRow,
  coordinates: readonly number[],
  sight: Sight,
) {
  const line = flattenOutline(coordinates, false, 1, 0.5);
  const sign = outline.sweptSide === 'left' ? 1 : -1;
  context.save();
  context.setAttr('lineWidth', 2);
  context.setAttr('strokeStyle', ink.swept);
  context.beginPath();
  let since = 18;
  for (let i = 2; i < line.length; i += 2) {
    const [ax, ay] = sight.place(line[i - 2], line[i - 1]);
    const [bx, by] = sight.place(line[i], line[i + 1]);
    const length = Math.hypot(bx - ax, by - ay);
    if (length === 0) continue;
    const [nx, ny] = [(sign * (by - ay)) / length, (-sign * (bx - ax)) / length];
    for (let at = 36 - since; at < length; at += 36) {
      const [x, y] = [ax + ((bx - ax) * at) / length, ay + ((by - ay) * at) / length];
      context.moveTo(x, y);
      context.lineTo(x + nx * 9, y + ny * 9);
    }
    since = (since + length) % 36;
  }
  context.stroke();
  context.restore();
}

/** Points as small squares set on their corners' turn, filled when chosen; handles of chosen ones as stalks. */
export function drawPoints(
  context: Context,
  coordinates: readonly number[],
  chosen: ReadonlySet<number>,
  sight: Sight,
) {
  context.save();
  for (let p = 0; p < coordinates.length / N; p++) {
    const i = p * N;
    const [x, y] = sight.place(coordinates[i], coordinates[i + 1]);
    if (chosen.has(p)) {
      for (const h of [2, 4]) {
        if (coordinates[i + h] === 0 && coordinates[i + h + 1] === 0) continue;
        const [hx, hy] = sight.place(
          coordinates[i] + coordinates[i + h],
          coordinates[i + 1] + coordinates[i + h + 1],
        );
        context.beginPath();
        context.moveTo(x, y);
        context.lineTo(hx, hy);
        context.setAttr('lineWidth', 1.2);
        context.setAttr('strokeStyle', ink.chosen);
        context.stroke();
        dot(context, hx, hy, 3.4, ink.chosen, ink.shade);
      }
    }
    dot(context, x, y, chosen.has(p) ? 5.6 : 4.4, chosen.has(p) ? ink.chosen : ink.line, ink.shade);
  }
  context.restore();
}

function dot(context: Context, x: number, y: number, radius: number, fill: string, edge: string) {
  context.beginPath();
  context.arc(x, y, radius, 0, 2 * Math.PI, false);
  context.setAttr('fillStyle', fill);
  context.fill();
  context.setAttr('lineWidth', 1.4);
  context.setAttr('strokeStyle', edge);
  context.stroke();
}

/** px that a line may be off before it is worth showing. */
const shownFrom = 1;

/** Cross-strokes along the parts of a line that are not sure, as long as it may be off there. */
export function drawUnsure(
  context: Context,
  coordinates: readonly number[],
  closed: boolean,
  offBy: readonly number[],
  sight: Sight,
) {
  const { scale } = sight;
  const count = coordinates.length / N;
  if (offBy.length !== count) return;
  context.save();
  context.setAttr('lineCap', 'round');
  for (const [width, style] of [
    [4, ink.shade],
    [1.8, ink.chosen],
  ] as const) {
    context.beginPath();
    for (let s = 0; s < segmentCount(coordinates, closed); s++) {
      const cubic = segmentCubic(coordinates, s);
      const steps = Math.max(
        2,
        Math.round((Math.hypot(cubic[6] - cubic[0], cubic[7] - cubic[1]) * scale) / 12),
      );
      for (let k = 0; k < steps; k++) {
        const t = (k + 0.5) / steps;
        const off = t < 0.5 ? offBy[s] : offBy[(s + 1) % count];
        if (off < shownFrom) continue;
        const [x, y] = sight.place(...pointAt(cubic, t));
        const [x2, y2] = sight.place(...pointAt(cubic, t + 0.01));
        const length = Math.hypot(x2 - x, y2 - y) || 1;
        const half = Math.min(40, Math.max(5, off * scale));
        const [nx, ny] = [(-(y2 - y) / length) * half, ((x2 - x) / length) * half];
        context.moveTo(x - nx, y - ny);
        context.lineTo(x + nx, y + ny);
      }
    }
    context.setAttr('lineWidth', width);
    context.setAttr('strokeStyle', style);
    context.stroke();
  }
  context.restore();
}

/** The box that shapes points together: corners and sides to pull, a knob that turns, a ring for the pivot. */
export function drawBox(context: Context, box: ShapeBox, sight: Sight) {
  const place = ([x, y]: readonly [number, number]) => sight.place(x, y);
  const corners = box.corners.map(place);
  context.save();
  context.setAttr('strokeStyle', ink.chosen);
  context.setAttr('lineWidth', 1.2);
  context.beginPath();
  corners.forEach(([x, y], k) => (k === 0 ? context.moveTo(x, y) : context.lineTo(x, y)));
  context.closePath();
  context.setLineDash([5, 4]);
  context.stroke();
  context.setLineDash([]);
  const [top] = sidesOf(box).map(place);
  const knob = place(box.knob);
  context.beginPath();
  context.moveTo(...top);
  context.lineTo(...knob);
  context.stroke();
  dot(context, ...knob, 5, ink.shade, ink.chosen);
  for (const [x, y] of [...corners, ...sidesOf(box).map(place)]) {
    context.setAttr('fillStyle', ink.chosen);
    context.fillRect(x - 4, y - 4, 8, 8);
    context.setAttr('strokeStyle', ink.shade);
    context.strokeRect(x - 4, y - 4, 8, 8);
  }
  const [px, py] = place(box.pivot);
  context.setAttr('strokeStyle', ink.chosen);
  for (const radius of [3, 7]) {
    context.beginPath();
    context.arc(px, py, radius, 0, 2 * Math.PI, false);
    context.stroke();
  }
  context.restore();
}

/** A ring around the place that a finding is about. */
export function drawFinding(context: Context, [x, y]: readonly [number, number]) {
  context.save();
  for (const [width, style] of [
    [5, ink.shade],
    [2, ink.chosen],
  ] as const) {
    context.setAttr('lineWidth', width);
    context.setAttr('strokeStyle', style);
    context.beginPath();
    context.arc(x, y, 20, 0, 2 * Math.PI, false);
    context.stroke();
  }
  context.restore();
}

/** Where the edge begins and ends to be soft, with a knob at every point to pull. */
export function drawSoftness(
  context: Context,
  {
    outline,
    coordinates,
    edge,
    knobs,
  }: {
    outline: OutlineRow;
    coordinates: readonly number[];
    edge: EdgeSettings;
    knobs: readonly SoftnessKnob[];
  },
  sight: Sight,
) {
  context.save();
  for (const line of softLines(outline, coordinates, edge)) {
    for (const [width, style] of [
      [2.6, ink.shade],
      [1.1, ink.swept],
    ] as const) {
      context.beginPath();
      for (let i = 0; i < line.length; i += 2) {
        const [x, y] = sight.place(line[i], line[i + 1]);
        if (i === 0) context.moveTo(x, y);
        else context.lineTo(x, y);
      }
      if (outline.kind === 'loop') context.closePath();
      context.setLineDash(style === ink.swept ? [2, 4] : []);
      context.setAttr('lineWidth', width);
      context.setAttr('strokeStyle', style);
      context.stroke();
    }
  }
  context.setLineDash([]);
  for (const { place, from } of knobs) {
    const [x, y] = sight.place(...place);
    context.beginPath();
    context.moveTo(...sight.place(...from));
    context.lineTo(x, y);
    context.setAttr('lineWidth', 1);
    context.setAttr('strokeStyle', ink.swept);
    context.stroke();
    dot(context, x, y, 3.6, ink.swept, ink.shade);
  }
  context.restore();
}
