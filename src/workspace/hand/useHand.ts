import { useCallback, useRef, useState } from 'react';
import { type EdgeSettings, type OutlineRow } from '@/core/document/tables';
import { numbersPerPoint as N } from '@/core/model/choices';
import { factorAt, type SoftnessKnob, softnessKnobs } from '@/core/edge/softness';
import { useLetGo } from '@/interface/useLetGo';
import { changeEdge, draftEdge } from '../edge/edge-commands';
import { boxHit, type BoxPart, shapeBox } from '../sight/shape-box';
import { addPointAt, commitMove, commitPose, poseChanges, softMove } from '../trace/commands';
import { setView, type Tool } from '../view/view-store';
import {
  chosenBy,
  type Gesture,
  gestureAt,
  type Holdable,
  knobAt,
  type Place,
  pointsWithin,
  type PoseGesture,
  poseDragged,
} from './gestures';
import { type Hit, hitOutline } from './hit';

/** What the hand may take hold of. */
export interface InReach {
  outline: OutlineRow | null;
  coordinates: readonly number[] | null;
  points: ReadonlySet<number>;
  /** Where the box turns and scales about; null: its middle. */
  pivot: readonly [number, number] | null;
  tool: Tool;
  /** px of the shot around the pointer. */
  reach: number;
  /** Screen px a shot px. */
  screenScale: number;
  /** The edge, where its softness may be pulled; else null. */
  edge: EdgeSettings | null;
}

/** Screen px that a pressed pointer has to move before it drags. */
const dragFrom = 2;

/** What of the outline in hand can be taken hold of; null where nothing can. */
function holdableOf({ outline, coordinates, points, pivot, tool, reach, edge }: InReach): Holdable | null {
  if (!outline || outline.locked || !coordinates) return null;
  // A knob that lies on its point would be in the way of it: zoomed in they part.
  const knobs = (edge ? softnessKnobs(outline, coordinates, edge) : []).filter(
    ({ point, place }) =>
      Math.hypot(place[0] - coordinates[point * N], place[1] - coordinates[point * N + 1]) > reach,
  );
  const box = tool === 'box' ? shapeBox(coordinates, points, pivot, reach) : null;
  return { coordinates, closed: outline.kind === 'loop', points, box, knobs, reach };
}

/** The hand that moves points, bends handles, shapes with a box and selects. */
export function useHand(inReach: InReach) {
  const { outline, coordinates, points, screenScale, edge } = inReach;
  const [marquee, setMarquee] = useState<[number, number, number, number] | null>(null);
  const [hovered, setHovered] = useState<Hit | BoxPart>(null);
  const gesture = useRef<Gesture | null>(null);
  const holdable = holdableOf(inReach);

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

  const press = (at: Place, event: PointerEvent) => {
    if (!holdable) return;
    const begun = gestureAt(holdable, at, event);
    const chosen = chosenBy(begun, holdable, at);
    if (chosen) setView({ points: chosen });
    gesture.current = begun;
  };

  const follow = (at: Place, event: PointerEvent) => {
    const active = gesture.current;
    if (!active) setHovered(holdable && hoveredAt(holdable, at));
    else if (active.does === 'marquee') setMarquee([...active.from, ...at]);
    else if (active.does === 'soften') {
      active.moved = true;
      draftEdge({ factors: withFactor(active.knob, at) });
    } else {
      const from = 'from' in active ? active.from : null;
      active.moved ||= !from || Math.hypot(at[0] - from[0], at[1] - from[1]) * screenScale > dragFrom;
      if (!active.moved) return;
      if (active.does === 'shape' && active.part.on === 'pivot') setView({ pivot: at });
      else setView({ draft: poseChanges(poseDragged(active, points, at, event, softMove)) });
    }
  };

  const release = (at: Place | null, event: PointerEvent) => {
    const active = gesture.current;
    gesture.current = null;
    if (!active || !at) return;
    if (active.does === 'marquee') {
      setMarquee(null);
      if (coordinates) setView({ points: pointsWithin(coordinates, active.from, at, active.keep) });
    } else if (active.does === 'soften') {
      if (active.moved) changeEdge('Feather at a point', { factors: withFactor(active.knob, at) });
    } else if (active.moved) commitDrag(active, poseDragged(active, points, at, event, softMove), points);
  };

  /** A press twice at one place: a point more on the line. */
  const pressTwice = (at: Place) => {
    if (!holdable) return;
    const hit = hitOutline(holdable.coordinates, holdable.closed, new Set(), at, holdable.reach);
    if (hit?.on === 'line') addPointAt(hit.segment, hit.t);
  };

  const cursor = !hovered ? 'default' : hovered.on === 'line' || hovered.on === 'inside' ? 'move' : 'pointer';
  const { box = null, knobs = [] } = holdable ?? {};
  return { press, follow, release, pressTwice, letGo, marquee, box, knobs, cursor };
}

function hoveredAt(holdable: Holdable, at: Place): Hit | BoxPart {
  const { coordinates, closed, points, box, reach } = holdable;
  if (knobAt(holdable, at)) return { on: 'knob' };
  return (box && boxHit(box, at, reach)) ?? hitOutline(coordinates, closed, points, at, reach);
}

/** Makes an edit of a drag that has ended, named by what it did. */
function commitDrag(gesture: PoseGesture, pose: readonly number[], points: ReadonlySet<number>) {
  if (gesture.does === 'move') commitMove(pose, gesture.points.size);
  else if (gesture.does === 'handle') commitPose('Bend the line', pose);
  else if (gesture.part.on === 'knob') commitPose('Turn', pose);
  else if (gesture.part.on === 'inside') commitMove(pose, points.size || pose.length / N);
  else if (gesture.part.on !== 'pivot') commitPose('Shape', pose);
}
