'use client';

import type Konva from 'konva';
import { memo, useEffect, useMemo, useRef, useState } from 'react';
import { Layer, Rect, Shape, Stage } from 'react-konva';
import { useShallow } from 'zustand/react/shallow';
import { bothViews, type View } from '@/core/compose/scene';
import { applyChanges, strokesOf } from '@/core/document/document';
import { firstKeyFrom } from '@/core/time/track';
import { numbersPerPoint as N } from '@/core/model/choices';
import { edgeAt, nearestOnOutline, shapeAt, startingCoordinates } from '@/core/outline';
import { useChecks } from '../check/checks-store';
import { drawnCoordinates } from './drawing';
import { BrushStrokes } from './BrushStrokes';
import { OfferedLines } from './OfferedLines';
import { edgeNow } from '../edge/edge-commands';
import {
  drawBox,
  drawFinding,
  drawPoints,
  drawSoftness,
  drawUnsure,
  hatchRegion,
  ink,
  outlineInk,
  strokeOutline,
  tickSide,
  tracePath,
} from '../sight/paint';
import { pickColour } from '../chroma/chroma-commands';
import { alongEdge } from '../trace/edge-trail';
import { paintedOutline, readyToPaint, usePainting } from '../trace/painting';
import { sourceFrameOf, useOutline, useTraced } from '../session/traced';
import { sightAt } from '../sight/sight';
import { useBrush } from './useBrush';
import { useDrawing } from './useDrawing';
import { useHand } from './useHand';
import { type Camera, setView, useView } from '../view/view-store';

const reachOnScreen = 9;
/** ms after which a frame is taken to be stayed on. */
const stayed = 150;

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
  const { frame, tool, drawnBy, points, draft, onion, view, playing, step } = useView(
    useShallow(({ frame, tool, drawnBy, points, draft, onion, view, playing, step, pivot }) => ({
      // Nothing is drawn over the picture while it plays.
      frame: playing ? -1 : frame,
      tool,
      drawnBy,
      points,
      draft,
      onion,
      view,
      playing,
      step,
      pivot,
    })),
  );
  const findings = useChecks((state) => state.findings);
  const [pointer, setPointer] = useState<[number, number] | null>(null);
  const lastPress = useRef({ x: 0, y: 0, time: -Infinity });

  const sight = useMemo(
    () => traced && sightAt(traced, frame, camera, view === 'result'),
    [camera, traced, frame, view],
  );
  const source = traced ? sourceFrameOf(traced, frame) : 0;
  const outline = inHand?.outline ?? null;
  const drafted = draft?.some(({ table }) => table === 'pose') === true;
  const posesOf = useMemo(() => {
    if (!traced) return {};
    return draft && drafted ? applyChanges(traced.document, draft).poses : traced.document.poses;
  }, [traced, draft, drafted]);
  const poses = (outline && posesOf[outline.id]) ?? [];
  const coordinates = startingCoordinates(poses, source);
  const screenScale = sight?.scale ?? 1;
  const reach = reachOnScreen / screenScale;
  const drawing = useDrawing(tool, drawnBy, reach);
  const brush = useBrush(traced?.shot.width ?? 1280);
  const anew = usePainting((state) => state.anew);
  const paints = tool === 'brush' && !playing;
  useEffect(() => {
    if (!paints) return;
    // Looked at before the first stroke, once the frame is stayed on.
    const timer = setTimeout(() => void readyToPaint(), stayed);
    return () => clearTimeout(timer);
  }, [paints, source]);
  const edgesWanted = drawnBy === 'edge' && (tool === 'seam' || tool === 'loop') && !playing;
  useEffect(() => {
    if (!edgesWanted) return;
    // Looked for before the first press, once the frame is stayed on.
    const timer = setTimeout(() => void alongEdge(null, [0, 0], 0), stayed);
    return () => clearTimeout(timer);
  }, [edgesWanted, source]);
  const edge =
    traced && outline && step === 'Edge'
      ? (edgeNow(draft) ?? edgeAt(outline, traced.document.edges[outline.id] ?? [], source))
      : null;
  const hand = useHand({ outline, coordinates, points, tool, reach, screenScale, edge });
  if (!traced || !sight) return null;

  const shape = shapeAt(poses, source, outline ?? undefined);
  const own = shape.state === 'posed' ? poses.find((pose) => pose.frame === source) : undefined;
  const sideDraft = draft?.find((change) => change.table === 'outline' && change.id === outline?.id)?.after;
  const shownOutline = sideDraft && 'sweptSide' in sideDraft ? sideDraft : outline;
  const drawn = shape.state === 'posed' || shape.state === 'in-between';
  const shownFindings =
    step === 'Check'
      ? findings.filter(({ worst, outlineId }) => worst === frame && outlineId === outline?.id)
      : [];
  const quiet = view === 'result' || view === 'matte';
  const both = (bothViews as readonly View[]).includes(view);

  const inShot = (stage: Konva.Stage): [number, number] | null => {
    const at = stage.getPointerPosition();
    return at && sight.back(at.x, at.y);
  };

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
    const twice = isDoublePress(event.evt);
    if (tool === 'pick') {
      void pickColour(at, event.evt.shiftKey).then((refusal) => refusal && setView({ failure: refusal }));
      return;
    }
    if (tool === 'brush') brush.press(at, event.evt);
    else if (tool !== 'edit' && tool !== 'box') {
      if (twice && drawnBy !== 'freehand') drawing.finish();
      else drawing.press(at, event.evt);
    } else if (twice) hand.pressTwice(at);
    else hand.press(at, event.evt);
  };

  const onMove = (event: Konva.KonvaEventObject<PointerEvent>) => {
    const at = inShot(event.target.getStage()!);
    if (!at) return;
    setPointer(at);
    if (step === 'Edge') {
      const near =
        outline &&
        coordinates &&
        nearestOnOutline(coordinates, outline.kind === 'loop', ...at).distance < 4 * reach;
      const { pointerPlace } = useView.getState();
      if (near) setView({ pointerPlace: at });
      else if (pointerPlace) setView({ pointerPlace: null });
    }
    if (!brush.follow(at) && !drawing.follow(at, event.evt) && !paints) hand.follow(at, event.evt);
  };

  const onUp = (event: Konva.KonvaEventObject<PointerEvent>) => {
    if (!brush.release() && !drawing.release() && !paints)
      hand.release(inShot(event.target.getStage()!), event.evt);
  };

  const painted = paints && !anew ? paintedOutline(traced, outline) : null;
  const strokes = painted
    ? strokesOf(traced.document, painted.id).filter((stroke) => stroke.frame === source)
    : [];
  const cursor = locked
    ? 'grab'
    : paints
      ? 'none'
      : tool === 'edit' || tool === 'box'
        ? hand.cursor
        : 'crosshair';
  const others = traced.outlines.filter((row) => row.id !== outline?.id && !row.hidden);
  const at = firstKeyFrom(poses, source);
  const neighbours = [poses[at - 1], poses[at]?.frame === source ? poses[at + 1] : poses[at]].filter(Boolean);

  return (
    <Stage
      width={width}
      height={height}
      onPointerDown={onDown}
      onPointerMove={onMove}
      onPointerUp={onUp}
      onPointerCancel={() => {
        brush.letGo();
        hand.letGo();
      }}
      onPointerLeave={() => setPointer(null)}
      style={{ position: 'absolute', inset: 0, cursor }}
    >
      <Layer listening={false}>
        <Shape
          sceneFunc={(context) => {
            if (playing || both) return;
            for (const row of others) {
              const other = startingCoordinates(traced.document.poses[row.id] ?? [], source);
              if (other)
                strokeOutline(
                  context,
                  other,
                  row.kind === 'loop',
                  sight,
                  outlineInk[row.colour],
                  [6, 5],
                  0.6,
                );
            }
            if (!outline || !shownOutline || !coordinates || outline.hidden) return;
            const closed = outline.kind === 'loop';
            if (drawn && !quiet) hatchRegion(context, shownOutline, coordinates, traced.shot, sight);
            if (onion && !quiet) {
              neighbours.forEach((pose) =>
                strokeOutline(
                  context,
                  pose.coordinates,
                  closed,
                  sight,
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
              sight,
              outlineInk[outline.colour],
              drawn ? [] : [8, 6],
              quiet && tool === 'edit' && points.size === 0 ? 0.55 : drawn ? 1 : 0.7,
            );
            if (own?.unsure && !quiet) drawUnsure(context, coordinates, closed, own.offBy, sight);
            if (!closed && drawn) tickSide(context, shownOutline, coordinates, sight);
            if (!outline.locked && !paints) drawPoints(context, coordinates, points, sight);
            if (hand.box) drawBox(context, hand.box, sight);
            if (edge && drawn) drawSoftness(context, outline, coordinates, edge, hand.knobs, sight);
            for (const finding of shownFindings)
              if (finding.place) drawFinding(context, sight.place(...finding.place));
          }}
        />
        {paints && !both && (
          <BrushStrokes
            strokes={strokes}
            live={brush.live}
            pointer={pointer}
            shotWidth={traced.shot.width}
            sight={sight}
          />
        )}
        {!both && <OfferedLines layerId={traced.layer.id} source={source} sight={sight} />}
        {drawing.drawing && (
          <Shape
            sceneFunc={(context) => {
              const { drawing: current } = drawing;
              if (!current) return;
              const made = drawnCoordinates(current);
              const next =
                pointer && current.by === 'points' && !current.pulling
                  ? [...made, ...pointer, 0, 0, 0, 0]
                  : made;
              tracePath(context, next, current.by === 'corners', sight);
              context.setAttr('lineWidth', 2);
              context.setAttr('strokeStyle', ink.chosen);
              context.stroke();
              if (current.by === 'points') drawPoints(context, made, new Set([made.length / N - 1]), sight);
              if (current.by === 'edge') {
                const pressed = current.presses.flatMap(([x, y]) => [x, y, 0, 0, 0, 0]);
                drawPoints(context, pressed, new Set([current.presses.length - 1]), sight);
              }
            }}
          />
        )}
        {hand.marquee && (
          <MarqueeRect
            corners={[
              ...sight.place(hand.marquee[0], hand.marquee[1]),
              ...sight.place(hand.marquee[2], hand.marquee[3]),
            ]}
          />
        )}
      </Layer>
    </Stage>
  );
});

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
