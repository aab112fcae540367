'use client';

import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { useTheme } from '@mui/material/styles';
import { memo, type PointerEvent, useMemo, useRef } from 'react';
import { applyChanges } from '@/core/document/document';
import { useDocument } from '../document/document-store';
import { roundTicks } from '../picture/round-ticks';
import { goTo } from '../trace/commands';
import { useTraced } from '../trace/traced';
import { setView, useView } from '../view-store';
import { type CourseKey, type CourseName, courseBounds, courseOf, units } from './courses';
import { channelNames, dragEase, dragKeys, dragValue } from './move-commands';

/** px that a hand moves before it drags. */
const still = 3;
/** A hand that holds keys. */
interface Drag {
  x: number;
  y: number;
  /** The key under the hand, and all that go along. */
  key: CourseKey;
  keys: ReadonlySet<string>;
  /** `first`, `second`: a handle of the key's way to the next. */
  way: 'frames' | 'value' | 'first' | 'second' | null;
  /** Of the lane, when it was taken: its bounds follow what is dragged. */
  span: number;
}

function toggled(keys: ReadonlySet<string>, id: string): ReadonlySet<string> {
  return new Set(keys.has(id) ? [...keys].filter((each) => each !== id) : [...keys, id]);
}

/** A value's course over the crossing, with its keys: dragged along for time, up and down for value. */
export const MoveLane = memo(function MoveLane({ lane }: { lane: CourseName }) {
  const theme = useTheme();
  const document = useDocument((state) => state.document)!;
  const draft = useView((state) => state.draft);
  const chosen = useView((state) => state.moverId);
  const selected = useView((state) => state.moveKeys);
  const traced = useTraced();
  const moverId =
    chosen && (chosen === document.crossing.id || document.layers[chosen])
      ? chosen
      : (traced?.layer.id ?? document.crossing.id);
  const seen = useMemo(
    () =>
      draft?.some(({ table }) => table === 'move' || table === 'layer')
        ? applyChanges(document, draft)
        : document,
    [document, draft],
  );
  const course = useMemo(
    () => courseOf(seen, lane, moverId, seen.layers[moverId] ?? traced?.layer ?? null),
    [seen, moverId, lane, traced],
  );
  const last = Math.max(1, document.crossing.length - 1);
  const span = course.high - course.low;
  const across = (frame: number) => (100 * frame) / last;
  const down = (value: number) => 100 - (100 * (value - course.low)) / span;
  const plane = useRef<HTMLDivElement>(null);
  const press = (event: PointerEvent) => {
    const box = plane.current!.getBoundingClientRect();
    setView({ playing: false, moveKeys: new Set() });
    goTo(((event.clientX - box.left) / box.width) * last);
  };
  // The hand is followed by the lane: a key that is dragged is another row on every frame.
  const drag = useRef<Drag | null>(null);
  const take = (event: PointerEvent, key: CourseKey) => {
    event.preventDefault();
    event.stopPropagation();
    plane.current!.setPointerCapture(event.pointerId);
    const { moveKeys } = useView.getState();
    const keys = event.shiftKey
      ? toggled(moveKeys, key.id)
      : moveKeys.has(key.id)
        ? moveKeys
        : new Set([key.id]);
    setView({ moveKeys: keys, playing: false });
    if (!event.shiftKey) goTo(key.frame);
    drag.current = { x: event.clientX, y: event.clientY, key, keys, way: null, span };
  };
  const handles = course.keys.flatMap((key, k) => {
    const next = course.keys[k + 1];
    if (!key.ease || !next || !selected.has(key.id)) return [];
    const at = (x: number, y: number) => ({
      left: across(key.frame + (next.frame - key.frame) * x),
      top: down(key.value + (next.value - key.value) * y),
    });
    const [x1, y1, x2, y2] = key.ease;
    return [
      { key, which: 'first' as const, ...at(x1, y1), from: at(0, 0) },
      { key, which: 'second' as const, ...at(x2, y2), from: at(1, 1) },
    ];
  });
  const takeHandle = (event: PointerEvent, key: CourseKey, which: 'first' | 'second') => {
    event.preventDefault();
    event.stopPropagation();
    plane.current!.setPointerCapture(event.pointerId);
    drag.current = { x: event.clientX, y: event.clientY, key, keys: selected, way: which, span };
  };
  const dragHandle = ({ key, way }: Drag, event: PointerEvent, box: DOMRect, draft: boolean) => {
    const next = course.keys.find(({ frame }) => frame > key.frame);
    if (!next || !key.ease) return;
    const frame = ((event.clientX - box.left) / box.width) * last;
    const value = course.low + (1 - (event.clientY - box.top) / box.height) * span;
    const x = Math.min(1, Math.max(0, (frame - key.frame) / (next.frame - key.frame)));
    const rise = next.value - key.value;
    // Between equal values there is nothing to ease.
    const y =
      Math.abs(rise) < 1e-9
        ? way === 'first'
          ? 0
          : 1
        : Math.min(10, Math.max(-10, (value - key.value) / rise));
    const [x1, y1, x2, y2] = course.keys.find(({ id }) => id === key.id)?.ease ?? key.ease;
    const ease = way === 'first' ? [x, y, x2, y2] : [x1, y1, x, y];
    dragEase(
      key.id,
      ease.map((each) => Math.round(each * 1000) / 1000),
      draft,
    );
  };
  const dragged = (event: PointerEvent, draft: boolean) => {
    const { current } = drag;
    if (!current) return;
    const box = plane.current!.getBoundingClientRect();
    if (current.way === 'first' || current.way === 'second') {
      const moved = Math.hypot(event.clientX - current.x, event.clientY - current.y) > still;
      if (!moved && useView.getState().draft === null) return;
      dragHandle(current, event, box, draft);
      return;
    }
    const [dx, dy] = [event.clientX - current.x, event.clientY - current.y];
    if (!current.way && Math.max(Math.abs(dx), Math.abs(dy)) > still)
      current.way = Math.abs(dx) >= Math.abs(dy) ? 'frames' : 'value';
    if (current.way === 'frames') dragKeys(current.keys, Math.round((dx / box.width) * last), draft);
    if (current.way === 'value') {
      const [low, high] = courseBounds(lane);
      const value = current.key.value - (dy / box.height) * current.span;
      dragValue(current.key.id, Math.round(10 * Math.min(high, Math.max(low, value))) / 10, draft);
    }
  };
  return (
    <Box
      sx={{ position: 'absolute', inset: 0 }}
      role="group"
      aria-label={`${lane === 'speed' ? 'Speed' : channelNames[lane]} over the crossing, ${units[lane]}`}
    >
      <Box
        sx={{
          position: 'absolute',
          right: '100%',
          mr: 0.75,
          top: -6,
          bottom: -6,
          fontSize: 11,
          color: 'text.secondary',
          display: 'flex',
          flexDirection: 'column',
          justifyContent: 'space-between',
          textAlign: 'right',
          whiteSpace: 'nowrap',
        }}
      >
        <span>{label(course.high, lane)}</span>
        <span>{label(course.low, lane)}</span>
      </Box>
      <Box
        ref={plane}
        onPointerDown={press}
        onPointerMove={(event) => dragged(event, true)}
        onPointerUp={(event) => {
          dragged(event, false);
          drag.current = null;
        }}
        onPointerCancel={() => {
          drag.current = null;
          setView({ draft: null });
        }}
        sx={{
          position: 'absolute',
          inset: 0,
          cursor: 'pointer',
          borderLeft: 1,
          borderBottom: 1,
          borderColor: 'divider',
        }}
      >
        <svg
          width="100%"
          height="100%"
          viewBox="0 0 100 100"
          preserveAspectRatio="none"
          aria-hidden
          style={{ overflow: 'visible', display: 'block' }}
        >
          {course.lines.map((line, k) => (
            <polyline
              key={k}
              points={line.map(({ frame, value }) => `${across(frame)},${down(value)}`).join(' ')}
              fill="none"
              stroke={theme.kiv.role.incoming}
              strokeWidth={1.8}
              strokeDasharray={k === 1 ? '5 3' : undefined}
              vectorEffect="non-scaling-stroke"
            />
          ))}
        </svg>
      </Box>
      {roundTicks(document.crossing.length).map((frame) => (
        <Box
          key={frame}
          aria-hidden
          sx={{
            position: 'absolute',
            top: '100%',
            transform: 'translateX(-50%)',
            fontSize: 11,
            color: 'text.secondary',
          }}
          style={{ left: `${across(frame)}%` }}
        >
          {frame}
        </Box>
      ))}
      {course.keys.map((each) => (
        <LaneKey
          key={each.id}
          of={each}
          selected={selected.has(each.id)}
          left={across(each.frame)}
          top={down(each.value)}
          onTake={take}
        />
      ))}
      {handles.map(({ key, which, left, top, from }) => (
        <Box key={`${key.id} ${which}`}>
          <svg
            width="100%"
            height="100%"
            viewBox="0 0 100 100"
            preserveAspectRatio="none"
            aria-hidden
            style={{ position: 'absolute', inset: 0, overflow: 'visible', pointerEvents: 'none' }}
          >
            <line
              x1={from.left}
              y1={from.top}
              x2={left}
              y2={top}
              stroke={theme.palette.text.secondary}
              vectorEffect="non-scaling-stroke"
            />
          </svg>
          <ButtonBase
            aria-label={`${which === 'first' ? 'First' : 'Second'} handle of the way from frame ${key.frame}`}
            title="Drag: how the way to the next key begins and ends"
            onPointerDown={(event) => takeHandle(event, key, which)}
            sx={{
              position: 'absolute',
              width: 12,
              height: 12,
              ml: '-6px',
              mt: '-6px',
              border: 2,
              borderColor: 'text.primary',
              bgcolor: 'background.paper',
              touchAction: 'none',
              cursor: 'grab',
            }}
            style={{ left: `${left}%`, top: `${top}%` }}
          />
        </Box>
      ))}
      {course.keys.length === 0 && (
        <Box
          sx={{
            position: 'absolute',
            inset: 0,
            display: 'grid',
            placeItems: 'center',
            fontSize: 12,
            color: 'text.secondary',
            pointerEvents: 'none',
          }}
        >
          No keys: the value is the same on every frame. Change it in step Move.
        </Box>
      )}
    </Box>
  );
});

function LaneKey({
  of,
  selected,
  left,
  top,
  onTake,
}: {
  of: CourseKey;
  selected: boolean;
  left: number;
  top: number;
  onTake(event: PointerEvent, key: CourseKey): void;
}) {
  return (
    <ButtonBase
      aria-label={`${of.name}, frame ${of.frame}`}
      aria-pressed={selected}
      title={`Frame ${of.frame}: drag along for time, up and down for value; Delete takes it away`}
      onPointerDown={(event) => onTake(event, of)}
      onClick={() => goTo(of.frame)}
      sx={{
        position: 'absolute',
        width: 18,
        height: 18,
        ml: '-9px',
        mt: '-9px',
        borderRadius: '50%',
        touchAction: 'none',
        cursor: 'grab',
        '&::after': {
          content: '""',
          width: 9,
          height: 9,
          borderRadius: '50%',
          border: 2,
          borderColor: 'text.primary',
          bgcolor: selected ? 'text.primary' : 'background.paper',
        },
        '&:focus-visible': { outline: 2, outlineColor: 'primary.main' },
      }}
      style={{ left: `${left}%`, top: `${top}%` }}
    />
  );
}

function label(value: number, lane: CourseName): string {
  const places = Math.abs(value) >= 100 ? 1 : 10;
  return `${Math.round(value * places) / places} ${units[lane]}`;
}
