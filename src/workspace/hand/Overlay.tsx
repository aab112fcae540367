'use client';

import type Konva from 'konva';
import { memo, useEffect, useRef, useState } from 'react';
import { Layer, Rect, Stage } from 'react-konva';
import { strokesOf } from '@/core/document/document';
import { nearestOnOutline } from '@/core/outline';
import { pickColour } from '../chroma/chroma-commands';
import { ink } from '../sight/paint';
import type { Sight } from '../sight/sight';
import { alongEdge } from '../trace/edge-trail';
import { personAt } from '@/core/subject/person-outlines';
import { foundOn, pressPerson, usePeople } from '../trace/people';
import { paintedOutline, readyToPaint, usePainting } from '../trace/painting';
import { type Camera, setView, useView } from '../view/view-store';
import { BrushStrokes } from './BrushStrokes';
import { DrawnLine } from './DrawnLine';
import { OfferedLines } from './OfferedLines';
import { OutlineLines } from './OutlineLines';
import { PeopleLines } from './PeopleLines';
import { useBrush } from './useBrush';
import { useDrawing } from './useDrawing';
import { useHand } from './useHand';
import { type ShownOutline, type TracedOutline, useShownOutline } from './useShownOutline';

const reachOnScreen = 9;
/** ms after which a frame is taken to be stayed on. */
const stayed = 150;

type Place = [x: number, y: number];
type PointerEvents = Konva.KonvaEventObject<PointerEvent>;

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
  /** Whether the pointer moves the picture instead. */
  locked: boolean;
}) {
  const shown = useShownOutline(camera);
  const { traced, sight, tool, drawnBy, playing, source, both } = shown;
  const screenScale = sight?.scale ?? 1;
  const reach = reachOnScreen / screenScale;
  const [pointer, setPointer] = useState<Place | null>(null);
  const drawing = useDrawing(tool, drawnBy, reach);
  const brush = useBrush(traced?.shot.width ?? 1280);
  const hand = useHand({ ...shown, reach, screenScale });
  const paints = tool === 'brush' && !playing;
  useReadAhead(shown, paints);
  const pointing = usePointing({ shown, reach, locked, paints, drawing, brush, hand, setPointer });
  if (!traced || !sight) return null;

  const seen: TracedOutline = { ...shown, traced, sight };
  return (
    <Stage
      width={width}
      height={height}
      {...pointing}
      className={playing ? 'resting' : undefined}
      style={{ position: 'absolute', inset: 0, cursor: cursorOf(tool, locked, paints, hand.cursor) }}
    >
      <Layer listening={false}>
        <OutlineLines shown={seen} paints={paints} box={hand.box} knobs={hand.knobs} />
        {paints && !both && <Strokes shown={seen} live={brush.live} pointer={pointer} />}
        {tool === 'people' && !both && !playing && <PeopleLines shown={seen} />}
        {!both && <OfferedLines layerId={traced.layer.id} source={source} sight={sight} />}
        {drawing.drawing && <DrawnLine drawing={drawing.drawing} pointer={pointer} sight={sight} />}
        {hand.marquee && <MarqueeRect corners={hand.marquee} sight={sight} />}
      </Layer>
    </Stage>
  );
});

/** Looks at a frame before the first stroke or press, once it is stayed on. */
function useReadAhead({ source, tool, drawnBy, playing }: ShownOutline, paints: boolean) {
  useEffect(() => {
    if (!paints) return;
    const timer = setTimeout(() => void readyToPaint(), stayed);
    return () => clearTimeout(timer);
  }, [paints, source]);
  const edgesWanted = drawnBy === 'edge' && (tool === 'seam' || tool === 'loop') && !playing;
  useEffect(() => {
    if (!edgesWanted) return;
    const timer = setTimeout(() => void alongEdge(null, [0, 0], 0), stayed);
    return () => clearTimeout(timer);
  }, [edgesWanted, source]);
}

/** What pointer events do, by the tool. */
function usePointing({
  shown,
  reach,
  locked,
  paints,
  drawing,
  brush,
  hand,
  setPointer,
}: {
  shown: ShownOutline;
  reach: number;
  locked: boolean;
  paints: boolean;
  drawing: ReturnType<typeof useDrawing>;
  brush: ReturnType<typeof useBrush>;
  hand: ReturnType<typeof useHand>;
  setPointer(place: Place | null): void;
}) {
  const { sight, both, tool, drawnBy, step } = shown;
  const isDoublePress = useDoublePress();
  const inShot = (event: PointerEvents): Place | null => {
    const at = event.target.getStage()?.getPointerPosition();
    return at && sight ? sight.back(at.x, at.y) : null;
  };
  const onPointerDown = (event: PointerEvents) => {
    const at = inShot(event);
    if (!at || locked || both || event.evt.button !== 0) return;
    // The hand may leave the picture while it drags.
    if (event.evt.target instanceof Element) event.evt.target.setPointerCapture(event.evt.pointerId);
    setView({ playing: false });
    const twice = isDoublePress(event.evt);
    if (tool === 'pick')
      void pickColour(at, event.evt.shiftKey).then((refusal) => refusal && setView({ failure: refusal }));
    else if (tool === 'brush') brush.press(at, event.evt);
    else if (tool === 'people') pressPerson(at, event.evt.shiftKey);
    else if (tool !== 'edit' && tool !== 'box') {
      if (twice && drawnBy !== 'freehand') drawing.finish();
      else drawing.press(at, event.evt);
    } else if (twice) hand.pressTwice(at);
    else hand.press(at, event.evt);
  };
  const onPointerMove = (event: PointerEvents) => {
    const at = inShot(event);
    if (!at) return;
    setPointer(at);
    if (step === 'Edge') tellPlaceOnEdge(shown, at, reach);
    if (tool === 'people') return pointAtPerson(shown, at);
    if (!brush.follow(at) && !drawing.follow(at, event.evt) && !paints) hand.follow(at, event.evt);
  };
  const onPointerUp = (event: PointerEvents) => {
    if (!brush.release() && !drawing.release() && !paints) hand.release(inShot(event), event.evt);
  };
  const onPointerCancel = () => {
    brush.letGo();
    hand.letGo();
  };
  return {
    onPointerDown,
    onPointerMove,
    onPointerUp,
    onPointerCancel,
    onPointerLeave: () => {
      setPointer(null);
      if (usePeople.getState().pointed !== null) usePeople.setState({ pointed: null });
    },
  };
}

/** Shows which of the people found is under the pointer. */
function pointAtPerson({ traced, source }: ShownOutline, at: Place) {
  const { found, pointed } = usePeople.getState();
  const people = traced && foundOn(found, traced.layer.id, source);
  const now = people ? personAt(people, at) : null;
  if (now !== pointed) usePeople.setState({ pointed: now });
}

/** Tells presses twice at the same place within a moment; quick presses at different places are not a double press. */
function useDoublePress() {
  const last = useRef({ x: 0, y: 0, time: -Infinity });
  return ({ clientX, clientY, timeStamp }: PointerEvent) => {
    const { x, y, time } = last.current;
    const double = timeStamp - time < 400 && Math.hypot(clientX - x, clientY - y) < 5;
    last.current = { x: clientX, y: clientY, time: double ? -Infinity : timeStamp };
    return double;
  };
}

/** Lets *Measure edge* know where along the line the pointer is. */
function tellPlaceOnEdge({ outline, coordinates }: ShownOutline, at: Place, reach: number) {
  const near =
    outline &&
    coordinates &&
    nearestOnOutline(coordinates, outline.kind === 'loop', ...at).distance < 4 * reach;
  if (near) setView({ pointerPlace: at });
  else if (useView.getState().pointerPlace) setView({ pointerPlace: null });
}

function cursorOf(tool: ShownOutline['tool'], locked: boolean, paints: boolean, ofHand: string): string {
  if (locked) return 'grab';
  if (paints) return 'none';
  return tool === 'edit' || tool === 'box' ? ofHand : 'crosshair';
}

/** The strokes on this frame that the outline in hand was made from, and the one under way. */
function Strokes({
  shown: { traced, outline, source, sight },
  live,
  pointer,
}: {
  shown: TracedOutline;
  live: ReturnType<typeof useBrush>['live'];
  pointer: Place | null;
}) {
  const anew = usePainting((state) => state.anew);
  const painted = paintedOutline(traced, outline, anew);
  const strokes = painted
    ? strokesOf(traced.document, painted.id).filter((stroke) => stroke.frame === source)
    : [];
  return (
    <BrushStrokes
      strokes={strokes}
      live={live}
      pointer={pointer}
      shotWidth={traced.shot.width}
      sight={sight}
    />
  );
}

/** @param corners two places in shot px. */
function MarqueeRect({ corners, sight }: { corners: readonly number[]; sight: Sight }) {
  const [x0, y0] = sight.place(corners[0], corners[1]);
  const [x1, y1] = sight.place(corners[2], corners[3]);
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
