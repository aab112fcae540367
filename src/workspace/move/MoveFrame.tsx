'use client';

import Box from '@mui/material/Box';
import { memo, type PointerEvent, useMemo, useRef, useState } from 'react';
import { channelAt, movedAt, shotCorners, shotMapAt, wholeAt } from '@/core/compose/moves';
import { keysOf } from '@/core/document/keys';
import { layerSourceFrame } from '@/core/compose/source-frames';
import { type Channel, cornerChannels } from '@/core/model/channels';
import type { CrossingDocument } from '@/core/document/tables';
import { type Affine, applyAffine, identity, invert } from '@/core/geometry/affine';
import type { ShotMedia } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import { useLetGo } from '@/interface/useLetGo';
import { type Camera, setView, useView } from '../view/view-store';
import { changeMove, moverAt } from './move-commands';
import { useMovedDocument, useMover } from './mover';

type Place = readonly [x: number, y: number];
type CornerChannel = (typeof cornerChannels)[number];

/** Most dots of the path. */
const mostDots = 300;
/** Screen px from the middle down to the knob of the still point, while that is the middle. */
const hangs = 30;
/** Screen px from the upper side to the knob that turns. */
const stalk = 26;

const isCorner = (does: Hold['does']): does is CornerChannel =>
  (cornerChannels as readonly string[]).includes(does);

/** What a hand holds of the frame. */
interface Hold {
  does: 'scale' | 'turn' | 'place' | 'still' | CornerChannel;
  from: Place;
  /** On screen, what it is scaled and turned about. */
  about: Place;
  /** The same in px of the crossing, before the whole picture moves; null: its own middle. */
  still: Place | null;
  start: { x: number; y: number; size: number; turn: number };
  /** Where the corner that is held has been pulled to, px of the shot. */
  pulled: readonly number[];
  moved: boolean;
}

/** The frame as it lies on screen. */
interface Laid {
  /** Crossing px to the mover's own. */
  toShot: Affine;
  corners: readonly Place[];
  middle: Place;
  /** Where the knob that turns stands, and where its stalk begins. */
  knob: Place;
  top: Place;
  /** The still point in crossing px; null: the middle. */
  still: Place | null;
  /** What it is scaled and turned about. */
  about: Place;
  stillKnob: Place;
}

/** @param ownStill the still point in the mover's own px. */
function laidOut(
  { at, toShot }: { at: readonly Place[]; toShot: Affine },
  view: Affine,
  ownStill: Place | null,
): Laid {
  const corners = at.map(([x, y]) => applyAffine(view, x, y));
  const middle = applyAffine(view, ...middleOf(at));
  const still = ownStill && applyAffine(invert(toShot), ...ownStill);
  const about = still ? applyAffine(view, ...still) : middle;
  const [a, b] = corners;
  const top: Place = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  const up = Math.hypot(top[0] - middle[0], top[1] - middle[1]) || 1;
  const knob: Place = [
    top[0] + ((top[0] - middle[0]) / up) * stalk,
    top[1] + ((top[1] - middle[1]) / up) * stalk,
  ];
  // Where it is the middle its knob hangs below, to be taken from there.
  const stillKnob: Place = still ? about : [middle[0], middle[1] + hangs];
  return { toShot, corners, middle, knob, top, still, about, stillKnob };
}

/** What a drag of a hold sets, `at` and `from` in screen px of the picture. */
function draggedTo(
  { does, start, about, still, pulled }: Hold,
  [at, from]: readonly [Place, Place],
  { scale, toShot, byStep }: { scale: number; toShot: Affine; byStep: boolean },
  size: { width: number; height: number },
): Partial<Record<Channel, readonly number[]>> {
  const [dx, dy] = [(at[0] - from[0]) / scale, (at[1] - from[1]) / scale];
  if (isCorner(does)) {
    const [a, b, c, d] = toShot;
    return { [does]: [tenth(pulled[0] + a * dx + c * dy), tenth(pulled[1] + b * dx + d * dy)] };
  }
  if (does === 'place') return { place: [tenth(start.x + dx), tenth(start.y + dy)] };
  if (does === 'scale') {
    const by =
      Math.hypot(at[0] - about[0], at[1] - about[1]) /
      (Math.hypot(from[0] - about[0], from[1] - about[1]) || 1);
    const scaled = tenth(start.size * by);
    return { size: [scaled], ...placeAbout(still, start, [scaled / start.size, 0], size) };
  }
  const angle =
    Math.atan2(at[1] - about[1], at[0] - about[0]) - Math.atan2(from[1] - about[1], from[0] - about[0]);
  const turn = start.turn + (Math.atan2(Math.sin(angle), Math.cos(angle)) * 180) / Math.PI;
  const turned = byStep ? 15 * Math.round(turn / 15) : tenth(turn);
  const way = ((turned - start.turn) * Math.PI) / 180;
  return { turn: [turned], ...placeAbout(still, start, [Math.cos(way), Math.sin(way)], size) };
}

/** The place that leaves the still point where it is, as what moves is scaled and turned (a complex factor) about it. */
function placeAbout(
  still: Place | null,
  { x, y }: Hold['start'],
  [re, im]: Place,
  { width, height }: { width: number; height: number },
) {
  if (!still) return {};
  const [dx, dy] = [width / 2 + x - still[0], height / 2 + y - still[1]];
  const to = [still[0] + re * dx - im * dy - width / 2, still[1] + im * dx + re * dy - height / 2];
  return { place: to.map(tenth) };
}

/**
 * The frame of what moves, over the picture: its corners scale, the knob above turns, its middle is taken elsewhere;
 * its still point is what it scales and turns about; dots show where the middle is on every frame, so that speed is seen as spacing.
 */
export const MoveFrame = memo(function MoveFrame({ camera }: { camera: Camera }) {
  const shots = useDocument((state) => state.shots);
  const frame = useView((state) => state.frame);
  const seen = useMovedDocument();
  const moverId = useMover();
  // In the mover's own px, so that it stays where it was put on the picture.
  const [chosenStill, setStill] = useState<{ moverId: string; at: Place } | null>(null);
  const path = useMemo(() => middlesOf(seen, moverId), [seen, moverId]);
  const { hold, letGo } = useHold();
  const corners = cornersOf(seen, shots, moverId, frame);
  if (!corners) return null;
  const isLayer = seen.layers[moverId] !== undefined;
  const view: Affine = [camera.scale, 0, 0, camera.scale, camera.x, camera.y];
  const laid = laidOut(corners, view, chosenStill?.moverId === moverId ? chosenStill.at : null);

  const take = (what: Hold['does'], corner?: CornerChannel) => (event: PointerEvent<Element>) => {
    if (event.button !== 0) return;
    const does = corner && event.altKey ? corner : what;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    setView({ playing: false });
    const start = moverAt(frame);
    const pulled = isCorner(does) ? channelAt(seen, moverId, does, frame) : [];
    const whole = isLayer ? wholeAt(seen, frame) : null;
    const still = laid.still && whole ? applyAffine(invert(whole), ...laid.still) : laid.still;
    if (start)
      hold.current = {
        ...{ does, from: [event.clientX, event.clientY], about: laid.about, still, start, pulled },
        moved: false,
      };
  };
  const drag = (event: PointerEvent<Element>, done: boolean) => {
    const { current } = hold;
    if (!current) return;
    const box = event.currentTarget.closest('svg')!.getBoundingClientRect();
    const at: Place = [event.clientX - box.left, event.clientY - box.top];
    const from: Place = [current.from[0] - box.left, current.from[1] - box.top];
    if (Math.hypot(at[0] - from[0], at[1] - from[1]) > 3) current.moved = true;
    if (done) hold.current = null;
    if (!current.moved) return;
    const { scale } = camera;
    if (current.does === 'still') {
      const place = [(at[0] - camera.x) / scale, (at[1] - camera.y) / scale] as const;
      setStill({ moverId, at: applyAffine(laid.toShot, ...place) });
      return;
    }
    const by = { scale, toShot: laid.toShot, byStep: event.shiftKey };
    changeMove(draggedTo(current, [at, from], by, seen.crossing), !done);
  };
  const held: Held = (does, corner) => ({
    onPointerDown: take(does, corner),
    onPointerMove: (event) => drag(event, false),
    onPointerUp: (event) => drag(event, true),
    onPointerCancel: letGo,
    style: { pointerEvents: 'auto', touchAction: 'none' },
  });
  return (
    <Box
      component="svg"
      role="group"
      aria-label="Frame of what moves"
      sx={{
        ...{ position: 'absolute', inset: 0, width: '100%', height: '100%' },
        ...{ pointerEvents: 'none', overflow: 'hidden' },
      }}
    >
      <Lines laid={laid} dots={path.map((place) => applyAffine(view, ...place))} frame={frame} />
      <TurnKnob laid={laid} held={held} />
      <Corners laid={laid} held={held} pullable={isLayer} />
      <StillPoint laid={laid} held={held} onMiddle={() => setStill(null)} />
      <Middle laid={laid} held={held} />
    </Box>
  );
});

/** What a hand holds; let go when the page is left or Esc is pressed. */
function useHold() {
  const hold = useRef<Hold | null>(null);
  const letGo = () => {
    hold.current = null;
    setView({ draft: null });
  };
  useLetGo(() => hold.current !== null, letGo);
  return { hold, letGo };
}

/** The handlers of a part that can be held. @param corner what is pulled alone with Alt. */
type Held = (
  does: Hold['does'],
  corner?: CornerChannel,
) => {
  onPointerDown(event: PointerEvent<Element>): void;
  onPointerMove(event: PointerEvent<Element>): void;
  onPointerUp(event: PointerEvent<Element>): void;
  onPointerCancel(): void;
  style: { pointerEvents: 'auto'; touchAction: 'none' };
};

function Lines({ laid, dots, frame }: { laid: Laid; dots: readonly Place[]; frame: number }) {
  const outline = laid.corners.map((place) => place.join(',')).join(' ');
  const { top, knob } = laid;
  const every = Math.max(1, Math.ceil(dots.length / mostDots));
  return (
    <>
      <polygon points={outline} fill="none" stroke="#000" strokeOpacity={0.55} strokeWidth={3.5} />
      <polygon points={outline} fill="none" stroke="#fff" strokeWidth={1.4} strokeDasharray="7 5" />
      {dots.map(
        ([x, y], k) =>
          k % every === 0 && (
            <circle
              key={k}
              cx={x}
              cy={y}
              r={k === frame ? 0 : 2.2}
              fill="#fff"
              stroke="#000"
              strokeWidth={0.8}
            />
          ),
      )}
      <line x1={top[0]} y1={top[1]} x2={knob[0]} y2={knob[1]} stroke="#fff" strokeWidth={1.4} />
    </>
  );
}

interface PartProps {
  laid: Laid;
  held: Held;
}

function TurnKnob({ laid: { knob }, held }: PartProps) {
  return (
    <circle
      cx={knob[0]}
      cy={knob[1]}
      r={6.5}
      fill="#fff"
      stroke="#000"
      strokeWidth={1.4}
      cursor="grab"
      aria-label="Turn"
      {...held('turn')}
    >
      <title>Turn: drag round; Shift by steps of 15°</title>
    </circle>
  );
}

function Corners({ laid: { corners }, held, pullable }: PartProps & { pullable: boolean }) {
  return corners.map(([x, y], k) => (
    <rect
      key={k}
      x={x - 6}
      y={y - 6}
      width={12}
      height={12}
      fill="#fff"
      stroke="#000"
      strokeWidth={1.4}
      cursor={k % 2 ? 'nesw-resize' : 'nwse-resize'}
      aria-label={`Corner ${k + 1}`}
      {...held('scale', pullable ? cornerChannels[k] : undefined)}
    >
      <title>Size: drag to or from the middle{pullable ? '; with Alt this corner alone' : ''}</title>
    </rect>
  ));
}

function StillPoint({
  laid: { middle, still, stillKnob },
  held,
  onMiddle,
}: PartProps & { onMiddle(): void }) {
  return (
    <>
      {!still && <path d={`M${middle.join(' ')}v${hangs}`} stroke="#fff" strokeOpacity={0.7} />}
      <path
        d={`M${stillKnob.join(' ')}m0 -7l7 7l-7 7l-7 -7z`}
        fill={still ? '#fff' : '#000'}
        fillOpacity={still ? 1 : 0.4}
        stroke={still ? '#000' : '#fff'}
        strokeWidth={1.4}
        cursor="grab"
        aria-label="Still point"
        onDoubleClick={onMiddle}
        {...held('still')}
      >
        <title>
          Still point: drag it to what should stay where it is when size and turn change; press twice for the
          middle
        </title>
      </path>
    </>
  );
}

function Middle({ laid: { middle }, held }: PartProps) {
  return (
    <g cursor="move" aria-label="Middle" {...held('place')}>
      <title>Place: drag it elsewhere</title>
      <circle
        cx={middle[0]}
        cy={middle[1]}
        r={11}
        fill="#000"
        fillOpacity={0.35}
        stroke="#fff"
        strokeWidth={1.6}
      />
      <path
        d={`M${middle[0] - 6} ${middle[1]}h12M${middle[0]} ${middle[1] - 6}v12`}
        stroke="#fff"
        strokeWidth={1.6}
      />
    </g>
  );
}

function tenth(value: number): number {
  return Math.round(value * 10) / 10;
}

function middleOf(corners: readonly Place[]): [number, number] {
  return [corners.reduce((sum, [x]) => sum + x, 0) / 4, corners.reduce((sum, [, y]) => sum + y, 0) / 4];
}

/** The corners of what moves at a crossing frame, crossing px, and the way from there to its own px; null where the layer has no picture to speak of. */
function cornersOf(
  document: CrossingDocument,
  shots: readonly ShotMedia[],
  moverId: string,
  frame: number,
): { at: Place[]; toShot: Affine } | null {
  const layer = document.layers[moverId];
  const shot = layer && shots.find((media) => media.shot.id === layer.shotId)?.shot;
  if ((layer && !shot) || (!layer && moverId !== document.crossing.id)) return null;
  const map: Affine = shot
    ? invert(shotMapAt(document, layer, shot, frame, layerSourceFrame(document, layer, shot, frame)))
    : (wholeAt(document, frame) ?? identity);
  const pulled = cornerChannels.map((channel) =>
    layer ? channelAt(document, moverId, channel, frame) : [0, 0],
  );
  const at = shotCorners(shot ?? document.crossing);
  return {
    at: pulled.map(([x, y], k) => applyAffine(map, at[2 * k] + x, at[2 * k + 1] + y)),
    toShot: invert(map),
  };
}

/** Where the middle of what moves is at every frame, crossing px; none where it rests. */
function middlesOf(document: CrossingDocument, moverId: string): Place[] {
  const { width, height, length } = document.crossing;
  const { place } = keysOf(document, moverId);
  if (!place || place.length < 2) return [];
  const layer = document.layers[moverId];
  return Array.from({ length }, (_, frame) => {
    const { x, y } = movedAt(document, moverId, frame);
    const whole = layer ? wholeAt(document, frame) : null;
    return applyAffine(whole ?? identity, width / 2 + x, height / 2 + y);
  });
}
