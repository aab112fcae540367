import { useCallback, useRef, useState } from 'react';
import { movedHandle } from '@/core/actions/actions';
import { type EdgeSettings, type OutlineRow } from '@/core/document/tables';
import { numbersPerPoint as N } from '@/core/model/choices';
import { addPointAt, commitMove, commitPose, poseChanges, softMove } from '../trace/commands';
import { changeEdge, draftEdge } from '../edge/edge-commands';
import { type Hit, hitOutline } from './hit';
import { factorAt, type SoftnessKnob, softnessKnobs } from '@/core/edge/softness';
import { boxDragged, boxHit, type BoxPart, type ShapeBox, shapeBox } from '../sight/shape-box';
import { useLetGo } from '@/interface/useLetGo';
import { setView, type Tool, useView } from '../view/view-store';

type Place = [x: number, y: number];

/** What a pressed pointer is doing; positions in shot px. */
type Gesture =
  | { does: 'move'; points: ReadonlySet<number>; from: Place; start: readonly number[]; moved: boolean }
  | { does: 'handle'; hit: Extract<Hit, { on: 'handle' }>; start: readonly number[]; moved: boolean }
  | { does: 'shape'; part: BoxPart; box: ShapeBox; from: Place; start: readonly number[]; moved: boolean }
  | { does: 'soften'; knob: SoftnessKnob; moved: boolean }
  | { does: 'marquee'; from: Place; keep: ReadonlySet<number> };

/** What the hand may take hold of. */
export interface InReach {
  outline: OutlineRow | null;
  coordinates: readonly number[] | null;
  points: ReadonlySet<number>;
  tool: Tool;
  /** px of the shot around the pointer. */
  reach: number;
  /** Screen px a shot px. */
  screenScale: number;
  /** The edge, where its softness may be pulled; else null. */
  edge: EdgeSettings | null;
}

/** The hand that moves points, bends handles, shapes with a box and selects. */
export function useHand({ outline, coordinates, points, tool, reach, screenScale, edge }: InReach) {
  const [marquee, setMarquee] = useState<[number, number, number, number] | null>(null);
  const [hovered, setHovered] = useState<Hit | BoxPart>(null);
  const gesture = useRef<Gesture | null>(null);
  const closed = outline?.kind === 'loop';
  const inHand = outline !== null && !outline.locked && coordinates !== null;
  const box =
    inHand && tool === 'box' ? shapeBox(coordinates, points, useView.getState().pivot, reach) : null;

  // A knob that lies on its point would be in the way of it: zoomed in they part.
  const knobs = (inHand && edge ? softnessKnobs(outline, coordinates, edge) : []).filter(
    ({ point, place }) =>
      Math.hypot(place[0] - coordinates![point * N], place[1] - coordinates![point * N + 1]) > reach,
  );
  const knobAt = (at: Place) =>
    knobs.find(({ place }) => Math.hypot(place[0] - at[0], place[1] - at[1]) < reach * 0.8) ?? null;

  /** Ends a drag without taking it. */
  const letGo = useCallback(() => {
    gesture.current = null;
    setMarquee(null);
    setView({ draft: null });
  }, []);
  useLetGo(() => gesture.current !== null, letGo);

  const withFactor = (knob: SoftnessKnob, at: Place) => {
    const factors = (outline?.points ?? []).map((_, p) =>
      p === knob.point ? factorAt(knob, at) : (edge?.factors[p] ?? 1),
    );
    return factors.every((factor) => factor === 1) ? [] : factors;
  };

  const movedBy = (
    active: Exclude<Gesture, { does: 'marquee' | 'soften' }>,
    at: Place,
    event: PointerEvent,
  ): number[] => {
    if (active.does === 'move') {
      return softMove(active.start, active.points, at[0] - active.from[0], at[1] - active.from[1]);
    }
    if (active.does === 'shape')
      return boxDragged(active.start, points, active.box, active.part, active.from, at, {
        even: event.shiftKey,
        pull: event.ctrlKey || event.metaKey,
      });
    const { point, side } = active.hit;
    const i = point * N;
    const bare = active.start.slice(i + 2, i + 6).every((x) => x === 0);
    return movedHandle(
      active.start,
      point,
      side,
      at[0] - active.start[i],
      at[1] - active.start[i + 1],
      !event.altKey || bare,
    );
  };

  const press = (at: Place, event: PointerEvent) => {
    if (!inHand) return;
    if (box) {
      const part = boxHit(box, at, reach);
      if (part) {
        gesture.current = { does: 'shape', part, box, from: at, start: coordinates, moved: false };
        return;
      }
    }
    const knob = knobAt(at);
    if (knob) {
      gesture.current = { does: 'soften', knob, moved: false };
      return;
    }
    const hit = hitOutline(coordinates, closed, points, ...at, reach);
    if (hit?.on === 'point') {
      if (event.altKey) {
        setView({ points: new Set([hit.point]) });
        const out = { on: 'handle', point: hit.point, side: 'out' } as const;
        gesture.current = { does: 'handle', hit: out, start: coordinates, moved: false };
        return;
      }
      const chosen = new Set(points);
      if (event.shiftKey && chosen.has(hit.point)) chosen.delete(hit.point);
      else {
        if (!event.shiftKey && !chosen.has(hit.point)) chosen.clear();
        chosen.add(hit.point);
      }
      setView({ points: chosen });
      gesture.current = { does: 'move', points: chosen, from: at, start: coordinates, moved: false };
    } else if (hit?.on === 'handle') {
      gesture.current = { does: 'handle', hit, start: coordinates, moved: false };
    } else if (hit?.on === 'line') {
      const all = new Set(Array.from({ length: coordinates.length / N }, (_, i) => i));
      gesture.current = { does: 'move', points: all, from: at, start: coordinates, moved: false };
    } else {
      gesture.current = { does: 'marquee', from: at, keep: event.shiftKey ? points : new Set() };
      setView({ points: event.shiftKey ? points : new Set() });
    }
  };

  const follow = (at: Place, event: PointerEvent) => {
    const active = gesture.current;
    if (!active) {
      if (!inHand) return setHovered(null);
      if (knobAt(at)) return setHovered({ on: 'knob' });
      setHovered((box && boxHit(box, at, reach)) ?? hitOutline(coordinates, closed, points, ...at, reach));
    } else if (active.does === 'marquee') {
      setMarquee([...active.from, ...at]);
    } else if (active.does === 'soften') {
      active.moved = true;
      draftEdge({ factors: withFactor(active.knob, at) });
    } else {
      const from = 'from' in active ? active.from : null;
      active.moved ||= !from || Math.hypot(at[0] - from[0], at[1] - from[1]) * screenScale > 2;
      if (!active.moved) return;
      if (active.does === 'shape' && active.part.on === 'pivot') setView({ pivot: at });
      else setView({ draft: poseChanges(movedBy(active, at, event)) });
    }
  };

  const release = (at: Place | null, event: PointerEvent) => {
    const active = gesture.current;
    gesture.current = null;
    if (!active || !at) return;
    if (active.does === 'marquee') {
      setMarquee(null);
      if (!coordinates) return;
      const [x0, x1] = [Math.min(active.from[0], at[0]), Math.max(active.from[0], at[0])];
      const [y0, y1] = [Math.min(active.from[1], at[1]), Math.max(active.from[1], at[1])];
      const chosen = new Set(active.keep);
      for (let p = 0; p < coordinates.length / N; p++) {
        const [x, y] = [coordinates[p * N], coordinates[p * N + 1]];
        if (x >= x0 && x <= x1 && y >= y0 && y <= y1) chosen.add(p);
      }
      setView({ points: chosen });
    } else if (active.does === 'soften') {
      if (active.moved) changeEdge('Feather at a point', { factors: withFactor(active.knob, at) });
    } else if (active.moved) {
      const moved = movedBy(active, at, event);
      if (active.does === 'move') commitMove(moved, active.points.size);
      else if (active.does === 'handle') commitPose('Bend the line', moved);
      else if (active.part.on === 'knob') commitPose('Turn', moved);
      else if (active.part.on === 'inside') commitMove(moved, points.size || moved.length / N);
      else if (active.part.on !== 'pivot') commitPose('Shape', moved);
    }
  };

  /** A press twice at one place: a point more on the line. */
  const pressTwice = (at: Place) => {
    if (!inHand) return;
    const hit = hitOutline(coordinates, closed, new Set(), ...at, reach);
    if (hit?.on === 'line') addPointAt(hit.segment, hit.t);
  };

  const cursor = !hovered ? 'default' : hovered.on === 'line' || hovered.on === 'inside' ? 'move' : 'pointer';
  return { press, follow, release, pressTwice, letGo, marquee, box, knobs, cursor };
}
