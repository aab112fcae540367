'use client';

import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { useTheme } from '@mui/material/styles';
import { memo, type PointerEvent, useMemo, useRef } from 'react';
import { layerSourceFrame } from '@/core/compose/scene';
import { applyChanges, type CrossingDocument } from '@/core/document/document';
import { channelBounds } from '@/core/document/move-actions';
import type { Channel, MoveRow } from '@/core/document/rows';
import { keysOf, type Moved, movedAt, restOf, wholeAtRest } from '@/core/compose/moves';
import { useDocument } from '../document/document-store';
import { goTo } from '../trace/commands';
import { useTraced } from '../trace/traced';
import { roundTicks } from '../picture/round-ticks';
import { type Lane, setView, useView } from '../view-store';
import { channelNames, dragKeys, dragValue } from './move-commands';

/** Most points that a course is drawn with. */
const mostPoints = 600;
/** px that a hand moves before it drags. */
const still = 3;
const units: Record<Exclude<Lane, 'covered'>, string> = {
  speed: 'frames a frame',
  place: 'px',
  size: '%',
  turn: '°',
  opacity: '%',
};

/** A hand that holds keys. */
interface Drag {
  x: number;
  y: number;
  row: MoveRow;
  rows: MoveRow[];
  way: 'frames' | 'value' | null;
  /** Of the lane, when it was taken: its bounds follow what is dragged. */
  span: number;
}

function toggled(keys: ReadonlySet<string>, id: string): ReadonlySet<string> {
  return new Set(keys.has(id) ? [...keys].filter((each) => each !== id) : [...keys, id]);
}

interface Course {
  /** For each line its values at the frames. */
  lines: { frame: number; value: number }[][];
  keys: readonly MoveRow[];
  low: number;
  high: number;
}

/** A value's course over the crossing, with its keys: dragged along for time, up and down for value. */
export const MoveLane = memo(function MoveLane({ lane }: { lane: Exclude<Lane, 'covered'> }) {
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
    () => (draft?.some(({ table }) => table === 'move') ? applyChanges(document, draft) : document),
    [document, draft],
  );
  const course = useMemo(
    () => (lane === 'speed' ? speedCourse(seen, traced) : moveCourse(seen, moverId, lane)),
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
  const take = (event: PointerEvent, row: MoveRow) => {
    event.preventDefault();
    event.stopPropagation();
    plane.current!.setPointerCapture(event.pointerId);
    const { moveKeys } = useView.getState();
    const next = event.shiftKey
      ? toggled(moveKeys, row.id)
      : moveKeys.has(row.id)
        ? moveKeys
        : new Set([row.id]);
    setView({ moveKeys: next, playing: false });
    if (!event.shiftKey) goTo(row.frame);
    const rows = [...next].flatMap((id) => document.moves[id] ?? []);
    drag.current = { x: event.clientX, y: event.clientY, row, rows, way: null, span };
  };
  const dragged = (event: PointerEvent, draft: boolean) => {
    const { current } = drag;
    if (!current) return;
    const box = plane.current!.getBoundingClientRect();
    const [dx, dy] = [event.clientX - current.x, event.clientY - current.y];
    if (!current.way && Math.max(Math.abs(dx), Math.abs(dy)) > still)
      current.way = Math.abs(dx) >= Math.abs(dy) ? 'frames' : 'value';
    if (current.way === 'frames') dragKeys(current.rows, Math.round((dx / box.width) * last), draft);
    if (current.way === 'value') {
      const [low, high] = channelBounds[current.row.channel];
      const value = current.row.value - (dy / box.height) * current.span;
      dragValue(current.row, Math.round(10 * Math.min(high, Math.max(low, value))) / 10, draft);
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
      {course.keys.map((row) => (
        <LaneKey
          key={row.id}
          row={row}
          selected={selected.has(row.id)}
          left={across(row.frame)}
          top={down(row.value)}
          onTake={take}
        />
      ))}
      {lane !== 'speed' && course.keys.length === 0 && (
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
  row,
  selected,
  left,
  top,
  onTake,
}: {
  row: MoveRow;
  selected: boolean;
  left: number;
  top: number;
  onTake(event: PointerEvent, row: MoveRow): void;
}) {
  const second = row.channel === 'place' ? `, ${label(row.second, null)}` : '';
  return (
    <ButtonBase
      aria-label={`${channelNames[row.channel]} ${label(row.value, null)}${second}, frame ${row.frame}`}
      aria-pressed={selected}
      title={`Frame ${row.frame}: drag along for time, up and down for value; Delete takes it away`}
      onPointerDown={(event) => onTake(event, row)}
      onClick={() => goTo(row.frame)}
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

/** A value in words; with its unit where a lane is given. */
function label(value: number, lane: Exclude<Lane, 'covered'> | null): string {
  if (!lane) return String(Math.round(value * 10) / 10);
  const places = Math.abs(value) >= 100 ? 1 : 10;
  return `${Math.round(value * places) / places}${lane === 'speed' ? ' ×' : ` ${units[lane]}`}`;
}

function framesOf(length: number): number[] {
  const every = Math.max(1, Math.ceil(length / mostPoints));
  const frames = Array.from({ length: Math.ceil(length / every) }, (_, k) => k * every);
  return frames.at(-1) === length - 1 ? frames : [...frames, length - 1];
}

function moveCourse(document: CrossingDocument, moverId: string, channel: Channel): Course {
  const layer = document.layers[moverId];
  const rest = layer ? restOf(layer) : wholeAtRest;
  const keys = (keysOf(document, moverId)[channel] ?? []).map(({ row }) => row);
  const line = (of: (moved: Moved) => number) =>
    framesOf(document.crossing.length).map((frame) => ({
      frame,
      value: of(movedAt(document, moverId, frame, rest)),
    }));
  const lines =
    channel === 'place' ? [line(({ x }) => x), line(({ y }) => y)] : [line((moved) => moved[channel])];
  return bounded(lines, keys, channel === 'opacity' ? [0, 100] : null);
}

/** How many frames of the traced shot go by at each crossing frame. */
function speedCourse(document: CrossingDocument, traced: ReturnType<typeof useTraced>): Course {
  if (!traced) return bounded([], [], [0, 1]);
  const { layer, shot } = traced;
  const at = (frame: number) => layerSourceFrame(document, layer, shot, frame);
  // Over some frames, as whole source frames come unevenly.
  const line = framesOf(document.crossing.length).map((frame) => {
    const [a, b] = [Math.max(0, frame - 2), Math.min(document.crossing.length - 1, frame + 2)];
    return { frame, value: b > a ? (at(b) - at(a)) / (b - a) : 1 };
  });
  return bounded([line], [], null);
}

function bounded(lines: Course['lines'], keys: readonly MoveRow[], fixed: [number, number] | null): Course {
  const values = [
    ...lines.flatMap((line) => line.map(({ value }) => value)),
    ...keys.map(({ value }) => value),
  ];
  let [low, high] = fixed ?? [Math.min(...values), Math.max(...values)];
  if (!Number.isFinite(low) || !Number.isFinite(high)) [low, high] = [0, 1];
  const room = high - low < 1e-6 ? Math.max(1, Math.abs(high) * 0.1) : 0.08 * (high - low);
  return { lines, keys, ...(fixed ? { low, high } : { low: low - room, high: high + room }) };
}
