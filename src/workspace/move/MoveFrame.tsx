'use client';

import Box from '@mui/material/Box';
import { memo, type PointerEvent, useMemo, useRef, useState } from 'react';
import { channelAt, movedAt, shotCorners, shotMapAt, wholeAt } from '@/core/compose/moves';
import { keysOf } from '@/core/document/keys';
import { layerSourceFrame } from '@/core/compose/source-frames';
import { cornerChannels } from '@/core/model/channels';
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

/**
 * The frame of what moves, over the picture: its corners scale, the knob above turns, its middle is taken elsewhere;
 * its still point is what it scales and turns about; dots show where the middle is on every frame, so that speed is seen as spacing.
 */
export const MoveFrame = memo(function MoveFrame({ camera }: { camera: Camera }) {
  const shots = useDocument((state) => state.shots);
  const frame = useView((state) => state.frame);
  const seen = useMovedDocument();
  const moverId = useMover();
  const hold = useRef<Hold | null>(null);
  // In the mover's own px, so that it stays where it was put on the picture.
  const [chosenStill, setStill] = useState<{ moverId: string; at: Place } | null>(null);
  const path = useMemo(() => middlesOf(seen, moverId), [seen, moverId]);
  const letGo = () => {
    hold.current = null;
    setView({ draft: null });
  };
  useLetGo(() => hold.current !== null, letGo);
  const corners = cornersOf(seen, shots, moverId, frame);
  if (!corners) return null;
  const isLayer = seen.layers[moverId] !== undefined;
  const view: Affine = [camera.scale, 0, 0, camera.scale, camera.x, camera.y];
  const onScreen = corners.at.map(([x, y]) => applyAffine(view, x, y));
  const middle = applyAffine(view, ...middleOf(corners.at));
  const ownStill = chosenStill?.moverId === moverId ? chosenStill.at : null;
  const stillAt = ownStill && applyAffine(invert(corners.toShot), ...ownStill);
  const about = stillAt ? applyAffine(view, ...stillAt) : middle;
  // Where it is the middle its knob hangs below, to be taken from there.
  const stillKnob: Place = stillAt ? about : [middle[0], middle[1] + hangs];
  const [a, b] = [onScreen[0], onScreen[1]];
  const top: Place = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  const up = Math.hypot(top[0] - middle[0], top[1] - middle[1]) || 1;
  const knob: Place = [
    top[0] + ((top[0] - middle[0]) / up) * stalk,
    top[1] + ((top[1] - middle[1]) / up) * stalk,
  ];

  const take = (what: Hold['does'], corner?: CornerChannel) => (event: PointerEvent<Element>) => {
    if (event.button !== 0) return;
    const does = corner && event.altKey ? corner : what;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    setView({ playing: false });
    const start = moverAt(frame);
    const pulled = isCorner(does) ? channelAt(seen, moverId, does, frame) : [];
    const whole = isLayer ? wholeAt(seen, frame) : null;
    const still = stillAt && whole ? applyAffine(invert(whole), ...stillAt) : stillAt;
    if (start)
      hold.current = {
        ...{ does, from: [event.clientX, event.clientY], about, still, start, pulled },
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
    const { start, about, still, does, pulled } = current;
    if (does === 'still') {
      const place = [(at[0] - camera.x) / camera.scale, (at[1] - camera.y) / camera.scale] as const;
      setStill({ moverId, at: applyAffine(corners.toShot, ...place) });
      return;
    }
    if (isCorner(does)) {
      const [a, b, c, d] = corners.toShot;
      const [dx, dy] = [(at[0] - from[0]) / camera.scale, (at[1] - from[1]) / camera.scale];
      changeMove({ [does]: [tenth(pulled[0] + a * dx + c * dy), tenth(pulled[1] + b * dx + d * dy)] }, !done);
    } else if (does === 'place') {
      const [dx, dy] = [(at[0] - from[0]) / camera.scale, (at[1] - from[1]) / camera.scale];
      changeMove({ place: [tenth(start.x + dx), tenth(start.y + dy)] }, !done);
    } else if (does === 'scale') {
      const by =
        Math.hypot(at[0] - about[0], at[1] - about[1]) /
        (Math.hypot(from[0] - about[0], from[1] - about[1]) || 1);
      const size = tenth(start.size * by);
      const share = size / start.size;
      changeMove({ size: [size], ...placeAbout(still, start, [share, 0]) }, !done);
    } else {
      const angle =
        Math.atan2(at[1] - about[1], at[0] - about[0]) - Math.atan2(from[1] - about[1], from[0] - about[0]);
      const turn = start.turn + (Math.atan2(Math.sin(angle), Math.cos(angle)) * 180) / Math.PI;
      // Shift goes by steps of 15°.
      const turned = event.shiftKey ? 15 * Math.round(turn / 15) : tenth(turn);
      const way = ((turned - start.turn) * Math.PI) / 180;
      changeMove({ turn: [turned], ...placeAbout(still, start, [Math.cos(way), Math.sin(way)]) }, !done);
    }
  };
  /** The place that leaves the still point where it is, as what moves is scaled and turned (a complex factor) about it. */
  const placeAbout = (still: Place | null, { x, y }: Hold['start'], [re, im]: Place) => {
    if (!still) return {};
    const { width, height } = seen.crossing;
    const [dx, dy] = [width / 2 + x - still[0], height / 2 + y - still[1]];
    const to = [still[0] + re * dx - im * dy - width / 2, still[1] + im * dx + re * dy - height / 2];
    return { place: to.map(tenth) };
  };
  const held = (does: Hold['does'], corner?: CornerChannel) => ({
    onPointerDown: take(does, corner),
    onPointerMove: (event: PointerEvent<Element>) => drag(event, false),
    onPointerUp: (event: PointerEvent<Element>) => drag(event, true),
    onPointerCancel: letGo,
    style: { pointerEvents: 'auto' as const, touchAction: 'none' },
  });
  const outline = onScreen.map((place) => place.join(',')).join(' ');
  const dots = path.map((place) => applyAffine(view, ...place));
  const every = Math.max(1, Math.ceil(dots.length / mostDots));
  return (
    <Box
      component="svg"
      role="group"
      aria-label="Frame of what moves"
      sx={{
        position: 'absolute',
        inset: 0,
        width: '100%',
        height: '100%',
        pointerEvents: 'none',
        overflow: 'hidden',
      }}
    >
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
      {onScreen.map(([x, y], k) => (
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
          {...held('scale', isLayer ? cornerChannels[k] : undefined)}
        >
          <title>Size: drag to or from the middle{isLayer ? '; with Alt this corner alone' : ''}</title>
        </rect>
      ))}
      {!stillAt && <path d={`M${middle.join(' ')}v${hangs}`} stroke="#fff" strokeOpacity={0.7} />}
      <path
        d={`M${stillKnob.join(' ')}m0 -7l7 7l-7 7l-7 -7z`}
        fill={stillAt ? '#fff' : '#000'}
        fillOpacity={stillAt ? 1 : 0.4}
        stroke={stillAt ? '#000' : '#fff'}
        strokeWidth={1.4}
        cursor="grab"
        aria-label="Still point"
        onDoubleClick={() => setStill(null)}
        {...held('still')}
      >
        <title>
          Still point: drag it to what should stay where it is when size and turn change; press twice for the
          middle
        </title>
      </path>
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
    </Box>
  );
});

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
