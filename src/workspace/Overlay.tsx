'use client';

import type Konva from 'konva';
import { memo, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { Layer, Rect, Shape, Stage } from 'react-konva';
import { bothViews, type View } from '@/core/compose/scene';
import { movedHandle, movedPoints } from '@/core/document/actions';
import { firstPoseFrom } from '@/core/document/document';
import { numbersPerPoint as N } from '@/core/document/rows';
import { applyAffine, compose, invert } from '@/core/geometry/affine';
import { shapeAt, startingCoordinates } from '@/core/outline';
import { addPointAt, commitMove, commitPose, finishDrawing, poseChanges } from './commands';
import { begun, isEnough, pulled, withPoint } from './drawing';
import { type Hit, hitOutline } from './hit';
import { drawPoints, hatchRegion, ink, strokeOutline, tickSide, tracePath } from './paint';
import { fromShotAt, sourceFrameOf, useOutline, useTraced } from './traced';
import { useDrawing } from './useDrawing';
import { type Camera, setView, useView } from './view-store';

/** What a pressed pointer is doing; positions in shot px. */
type Gesture =
  | {
      does: 'move';
      points: ReadonlySet<number>;
      from: [number, number];
      start: readonly number[];
      moved: boolean;
    }
  | { does: 'handle'; hit: Extract<Hit, { on: 'handle' }>; start: readonly number[]; moved: boolean }
  | { does: 'marquee'; from: [number, number]; keep: ReadonlySet<number> };

const reachOnScreen = 9;

/** Outlines over the picture, and the hand that draws and moves them. */
export const Overlay = memo(function Overlay({
  camera,
  width,
  height,
  locked,
}: {
  camera: Camera;
  width: number;
  height: number;
  locked: boolean;
}) {
  const traced = useTraced();
  const inHand = useOutline();
  const { frame, tool, points, draft, onion, view, playing } = useView(
    useShallow(({ frame, tool, points, draft, onion, view, playing }) => ({
      // Nothing is drawn over the picture while it plays.
      frame: playing ? -1 : frame,
      tool,
      points,
      draft,
      onion,
      view,
      playing,
    })),
  );
  const { drawing, inDrawing, setDrawing } = useDrawing(tool);
  const [pointer, setPointer] = useState<[number, number] | null>(null);
  const [marquee, setMarquee] = useState<[number, number, number, number] | null>(null);
  const [hovered, setHovered] = useState<Hit>(null);
  const gesture = useRef<Gesture | null>(null);
  const lastPress = useRef({ x: 0, y: 0, time: -Infinity });

  const toScreen = useMemo(
    () =>
      traced
        ? compose([camera.scale, 0, 0, camera.scale, camera.x, camera.y], fromShotAt(traced, frame))
        : null,
    [camera, traced, frame],
  );
  /** Ends a drag without taking it. */
  const letGo = useCallback(() => {
    gesture.current = null;
    setMarquee(null);
    setView({ draft: null });
  }, []);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || !gesture.current) return;
      letGo();
      event.preventDefault();
      event.stopPropagation();
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, [letGo]);

  if (!traced || !toScreen) return null;
  const source = sourceFrameOf(traced, frame);
  const outline = inHand?.outline ?? null;
  const poses = inHand?.poses ?? [];
  const shape = shapeAt(poses, source);
  const drafted = draft?.find(
    (change) => change.table === 'pose' && change.after?.outlineId === outline?.id,
  )?.after;
  const sideDraft = draft?.find((change) => change.table === 'outline' && change.id === outline?.id)?.after;
  const shownOutline = sideDraft && 'sweptSide' in sideDraft ? sideDraft : outline;
  const coordinates: readonly number[] | null =
    drafted && 'coordinates' in drafted
      ? drafted.coordinates
      : outline
        ? startingCoordinates(poses, source)
        : null;
  const drawn = drafted !== undefined || shape.state === 'posed' || shape.state === 'in-between';
  const quiet = view === 'result' || view === 'matte';
  const both = (bothViews as readonly View[]).includes(view);

  const inShot = (stage: Konva.Stage): [number, number] | null => {
    const at = stage.getPointerPosition();
    return at && applyAffine(invert(toScreen), at.x, at.y);
  };
  const screenScale = Math.hypot(toScreen[0], toScreen[1]);
  const reach = reachOnScreen / screenScale;

  /** Twice at the same place within a moment; quick presses at different places are not a double press. */
  const isDoublePress = ({ clientX, clientY, timeStamp }: PointerEvent) => {
    const { x, y, time } = lastPress.current;
    const double = timeStamp - time < 400 && Math.hypot(clientX - x, clientY - y) < 5;
    lastPress.current = { x: clientX, y: clientY, time: double ? -Infinity : timeStamp };
    return double;
  };

  const onDown = (event: Konva.KonvaEventObject<PointerEvent>) => {
    const at = inShot(event.target.getStage()!);
    if (!at || locked || both || event.evt.button !== 0) return;
    // The hand may leave the picture while it drags.
    if (event.evt.target instanceof Element) event.evt.target.setPointerCapture(event.evt.pointerId);
    setView({ playing: false });
    if (isDoublePress(event.evt)) return onDoublePress(at);
    if (tool !== 'edit') return press(tool, at);
    if (!outline || !coordinates) return;
    const hit = hitOutline(coordinates, outline.kind === 'loop', points, ...at, reach);
    if (hit?.on === 'point') {
      if (event.evt.altKey) {
        setView({ points: new Set([hit.point]) });
        gesture.current = {
          does: 'handle',
          hit: { on: 'handle', point: hit.point, side: 'out' },
          start: coordinates,
          moved: false,
        };
        return;
      }
      const chosen = new Set(points);
      if (event.evt.shiftKey && chosen.has(hit.point)) chosen.delete(hit.point);
      else {
        if (!event.evt.shiftKey && !chosen.has(hit.point)) chosen.clear();
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
      gesture.current = { does: 'marquee', from: at, keep: event.evt.shiftKey ? points : new Set() };
      setView({ points: event.evt.shiftKey ? points : new Set() });
    }
  };

  const press = (kind: 'seam' | 'loop', at: [number, number]) => {
    const drawing = inDrawing.current;
    if (drawing?.kind !== kind) return setDrawing(begun(kind, ...at));
    const onFirst = Math.hypot(at[0] - drawing.coordinates[0], at[1] - drawing.coordinates[1]) < reach;
    if (kind === 'loop' && onFirst && isEnough(drawing)) {
      finishDrawing(kind, drawing.coordinates);
      setDrawing(null);
    } else {
      setDrawing(withPoint(drawing, ...at));
    }
  };

  const onMove = (event: Konva.KonvaEventObject<PointerEvent>) => {
    const at = inShot(event.target.getStage()!);
    if (!at) return;
    setPointer(at);
    if (inDrawing.current?.pulling) return setDrawing(pulled(inDrawing.current, ...at, reach / 2));
    const active = gesture.current;
    if (!active) {
      setHovered(
        tool === 'edit' && outline && coordinates
          ? hitOutline(coordinates, outline.kind === 'loop', points, ...at, reach)
          : null,
      );
    } else if (active.does === 'marquee') {
      setMarquee([...active.from, ...at]);
    } else {
      const moved = movedBy(active, at, event.evt.altKey);
      active.moved ||=
        Math.hypot(
          at[0] - ('from' in active ? active.from[0] : Infinity),
          at[1] - ('from' in active ? active.from[1] : 0),
        ) *
          screenScale >
        2;
      if (active.moved) setView({ draft: poseChanges(moved) });
    }
  };

  const onUp = (event: Konva.KonvaEventObject<PointerEvent>) => {
    const at = inShot(event.target.getStage()!);
    if (inDrawing.current?.pulling) return setDrawing({ ...inDrawing.current, pulling: false });
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
    } else if (active.moved) {
      const moved = movedBy(active, at, event.evt.altKey);
      if (active.does === 'move') commitMove(moved, active.points.size);
      else commitPose('Bend the line', moved);
    }
  };

  const onDoublePress = (at: [number, number]) => {
    if (tool !== 'edit') {
      if (inDrawing.current && isEnough(inDrawing.current)) {
        finishDrawing(inDrawing.current.kind, inDrawing.current.coordinates);
        setDrawing(null);
      }
    } else if (outline && coordinates) {
      const hit = hitOutline(coordinates, outline.kind === 'loop', new Set(), ...at, reach);
      if (hit?.on === 'line') addPointAt(hit.segment, hit.t);
    }
  };

  const cursor = locked
    ? 'grab'
    : tool !== 'edit'
      ? 'crosshair'
      : hovered?.on === 'line'
        ? 'move'
        : hovered
          ? 'pointer'
          : 'default';
  const others = traced.outlines.filter((row) => row.id !== outline?.id);
  const at = firstPoseFrom(poses, source);
  const neighbours = [poses[at - 1], poses[at]?.frame === source ? poses[at + 1] : poses[at]].filter(Boolean);

  return (
    <Stage
      width={width}
      height={height}
      onPointerDown={onDown}
      onPointerMove={onMove}
      onPointerUp={onUp}
      onPointerCancel={letGo}
      onPointerLeave={() => setPointer(null)}
      style={{ position: 'absolute', inset: 0, cursor }}
    >
      <Layer listening={false}>
        <Shape
          sceneFunc={(context) => {
            if (playing || both) return;
            for (const row of others) {
              const other = startingCoordinates(traced.document.poses[row.id] ?? [], source);
              if (other) strokeOutline(context, other, row.kind === 'loop', toScreen, ink.line, [6, 5], 0.6);
            }
            if (!outline || !shownOutline || !coordinates) return;
            const closed = outline.kind === 'loop';
            if (drawn && !quiet) hatchRegion(context, shownOutline, coordinates, traced.shot, toScreen);
            if (onion && !quiet) {
              neighbours.forEach((pose) =>
                strokeOutline(
                  context,
                  pose.coordinates,
                  closed,
                  toScreen,
                  pose.frame < source ? '#ffcf8a' : '#b9e3ff',
                  [3, 4],
                  0.55,
                ),
              );
            }
            strokeOutline(
              context,
              coordinates,
              closed,
              toScreen,
              ink.line,
              drawn ? [] : [8, 6],
              quiet && tool === 'edit' && points.size === 0 ? 0.55 : drawn ? 1 : 0.7,
            );
            if (!closed && drawn) tickSide(context, shownOutline, coordinates, toScreen);
            drawPoints(context, coordinates, points, toScreen);
          }}
        />
        {drawing && (
          <Shape
            sceneFunc={(context) => {
              const next =
                pointer && !drawing.pulling
                  ? [...drawing.coordinates, ...pointer, 0, 0, 0, 0]
                  : drawing.coordinates;
              tracePath(context, next, false, toScreen);
              context.setAttr('lineWidth', 2);
              context.setAttr('strokeStyle', ink.chosen);
              context.stroke();
              drawPoints(
                context,
                drawing.coordinates,
                new Set([drawing.coordinates.length / N - 1]),
                toScreen,
              );
            }}
          />
        )}
        {marquee && (
          <MarqueeRect
            corners={[
              ...applyAffine(toScreen, marquee[0], marquee[1]),
              ...applyAffine(toScreen, marquee[2], marquee[3]),
            ]}
          />
        )}
      </Layer>
    </Stage>
  );
});

function movedBy(
  gesture: Exclude<Gesture, { does: 'marquee' }>,
  at: [number, number],
  broken: boolean,
): number[] {
  if (gesture.does === 'move')
    return movedPoints(gesture.start, gesture.points, at[0] - gesture.from[0], at[1] - gesture.from[1]);
  const { point, side } = gesture.hit;
  const i = point * N;
  return movedHandle(
    gesture.start,
    point,
    side,
    at[0] - gesture.start[i],
    at[1] - gesture.start[i + 1],
    !broken || gesture.start.slice(i + 2, i + 6).every((x) => x === 0),
  );
}

function MarqueeRect({ corners: [x0, y0, x1, y1] }: { corners: number[] }) {
  return (
    <Rect
      x={Math.min(x0, x1)}
      y={Math.min(y0, y1)}
      width={Math.abs(x1 - x0)}
      height={Math.abs(y1 - y0)}
      stroke={ink.chosen}
      dash={[4, 4]}
      fill="rgba(255,182,46,.12)"
    />
  );
}
