'use client';

import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { useTheme } from '@mui/material/styles';
import { memo, type PointerEvent, useMemo } from 'react';
import { LanePlot } from '../lanes/LanePlot';
import { LaneScale } from '../lanes/LaneScale';
import { LaneNote } from '../lanes/LaneNote';
import { LaneTicks } from '../lanes/LaneTicks';
import { goTo } from '../session/go-to';
import { useTraced } from '../session/traced';
import { useView } from '../view/view-store';
import { type CourseKey, type CourseName, courseOf, unitOf } from './courses';
import { channelWords } from './channel-words';
import { useMovedDocument, useMover } from './mover';
import { useKeyDrag } from './useKeyDrag';

/** A value's course over the crossing, with its keys: dragged along for time, up and down for value. */
export const MoveLane = memo(function MoveLane({ lane }: { lane: CourseName }) {
  const theme = useTheme();
  const selected = useView((state) => state.moveKeys);
  const traced = useTraced();
  const seen = useMovedDocument();
  const moverId = useMover();
  const course = useMemo(
    () => courseOf(seen, lane, moverId, seen.layers[moverId] ?? traced?.layer ?? null),
    [seen, moverId, lane, traced],
  );
  const last = Math.max(1, seen.crossing.length - 1);
  const span = course.high - course.low;
  const across = (frame: number) => (100 * frame) / last;
  const down = (value: number) => 100 - (100 * (value - course.low)) / span;
  const { plane, take, takeHandle, onPlane } = useKeyDrag(lane, course, last);
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
  return (
    <Box
      sx={{ position: 'absolute', inset: 0 }}
      role="group"
      aria-label={`${lane === 'speed' ? 'Speed' : channelWords[lane].name} over the crossing, ${unitOf(lane)}`}
    >
      <LaneScale values={[label(course.high, lane), label(course.low, lane)]} />
      <Box
        ref={plane}
        {...onPlane}
        sx={{
          position: 'absolute',
          inset: 0,
          cursor: 'pointer',
          borderLeft: 1,
          borderBottom: 1,
          borderColor: 'divider',
        }}
      >
        <LanePlot>
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
        </LanePlot>
      </Box>
      <LaneTicks length={seen.crossing.length} />
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
        <EaseHandle
          key={`${key.id} ${which}`}
          {...{ which, left, top, from }}
          frame={key.frame}
          onTake={(event) => takeHandle(event, key, which)}
        />
      ))}
      {course.keys.length === 0 && (
        <LaneNote>No keys: the value is the same on every frame. Change it in step Move.</LaneNote>
      )}
    </Box>
  );
});

/** A key in a lane, in percent of it both ways. @param onOpen what a double press does. */
export function LaneKey({
  of,
  selected,
  left,
  top,
  onTake,
  onOpen,
}: {
  of: CourseKey;
  selected: boolean;
  left: number;
  top: number;
  onTake(event: PointerEvent, key: CourseKey): void;
  onOpen?(): void;
}) {
  return (
    <ButtonBase
      aria-label={`${of.name}, frame ${of.frame}`}
      aria-pressed={selected}
      title={`Frame ${of.frame}: drag along for time, ${onOpen ? 'press twice for its own lane' : 'up and down for value'}. Place, size and turn on one frame go together; Ctrl takes this key alone, Shift adds it, Alt draws several apart. Delete removes it`}
      onPointerDown={(event) => onTake(event, of)}
      onClick={() => goTo(of.frame)}
      onDoubleClick={onOpen}
      sx={{
        position: 'absolute',
        width: 18,
        height: 18,
        ml: '-9px',
        mt: '-9px',
        borderRadius: '50%',
        // A handle must not lie over the next key.
        zIndex: 1,
        touchAction: 'none',
        cursor: 'grab',
        '&::after': {
          content: '""',
          width: 9,
          height: 9,
          transform: 'rotate(45deg)',
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
  return `${Math.round(value * places) / places} ${unitOf(lane)}`;
}

/** A handle of an eased way, in percent of the lane both ways. */
function EaseHandle({
  which,
  frame,
  left,
  top,
  from,
  onTake,
}: {
  which: 'first' | 'second';
  frame: number;
  left: number;
  top: number;
  from: { left: number; top: number };
  onTake(event: PointerEvent<HTMLElement>): void;
}) {
  const theme = useTheme();
  return (
    <Box>
      <LanePlot>
        <line
          x1={from.left}
          y1={from.top}
          x2={left}
          y2={top}
          stroke={theme.palette.text.secondary}
          vectorEffect="non-scaling-stroke"
        />
      </LanePlot>
      <ButtonBase
        aria-label={`${which === 'first' ? 'First' : 'Second'} handle of the way from frame ${frame}`}
        title="Drag: how the way to the next key begins and ends"
        onPointerDown={onTake}
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
  );
}
