'use client';

import Box from '@mui/material/Box';
import { memo, type PointerEvent, useMemo, useRef, useState } from 'react';
import { carriedAlongAt, channelAt, wholeAt } from '@/core/compose/moves';
import { type Affine, applyAffine, identity, invert } from '@/core/geometry/affine';
import { useLetGo } from '@/interface/useLetGo';
import { useDocument } from '../document/document-store';
import { type Camera, setView, useView } from '../view/view-store';
import { changeMove, moverAt } from './move-commands';
import {
  blurPointsOf,
  type CornerChannel,
  cornersOf,
  draggedTo,
  type Hold,
  isBlurPoint,
  isCorner,
  laidOut,
  middlesOf,
  type Place,
} from './move-frame';
import { BlurCentre, Corners, type Held, Lines, Middle, StillPoint, TurnKnob } from './MoveFrameParts';
import { useMovedDocument, useMover } from './mover';

/**
 * The frame of what moves, over the picture: its corners scale, the knob above turns, its middle is taken elsewhere;
 * its still point is what it scales and turns about; ticks show where the middle is on every frame, so that speed is seen as spacing.
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
    const numbers = isCorner(does) || isBlurPoint(does) ? channelAt(seen, moverId, does, frame) : [];
    // A blur smears what is seen: only the whole picture moves its point.
    const whole = isLayer ? (wholeAt(seen, frame) ?? identity) : identity;
    const along = isLayer && !isBlurPoint(does) ? carriedAlongAt(seen, seen.layers[moverId], frame) : whole;
    const still = laid.still && applyAffine(invert(along), ...laid.still);
    if (start)
      hold.current = {
        ...{ does, from: [event.clientX, event.clientY], about: laid.about, still, along, start, numbers },
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
      {blurPointsOf(seen, moverId, frame).map(({ channel, at }) => (
        <BlurCentre key={channel} channel={channel} at={applyAffine(view, ...at)} held={held} />
      ))}
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
