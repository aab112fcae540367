'use client';

import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { useTheme } from '@mui/material/styles';
import { memo, useDeferredValue, useMemo } from 'react';
import { Area, AreaChart, ReferenceDot, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { goTo } from '../trace/commands';
import { useDocument } from '../document/document-store';
import { sourceFrameOf, useOutline, useTraced } from '../trace/traced';
import { channelWords } from '../move/channel-words';
import { lanesFor } from '../move/move-commands';
import { useMover } from '../move/mover';
import { MoveLane } from '../move/MoveLane';
import { SoundLane, trackHeight, tracksShown } from '../sound/SoundLane';
import { roundTicks } from './round-ticks';
import { type Lane, setView, useView } from '../view-store';

/** Where the plot lies within the strip, in px: the playhead is laid over it without drawing the chart again. */
const plot = { left: 128, right: 12, top: 6, bottom: 18 };

function nameOf(lane: Lane): string {
  if (lane === 'covered') return 'Covered';
  if (lane === 'sound') return 'Sound';
  return lane === 'speed' ? 'Speed' : channelWords[lane].name;
}

/** What runs along the crossing: how much the matte covers, speed, or a move; press to go there. */
export const LaneStrip = memo(function LaneStrip() {
  const lane = useView((state) => state.lane);
  const document = useDocument((state) => state.document)!;
  const { length } = document.crossing;
  const moverId = useMover();
  const lanes = useMemo(() => lanesFor(document, moverId), [document, moverId]);
  // The chart is slow to build: it comes after all else is there.
  const charted = useDeferredValue(true, false);
  return (
    <Box
      sx={{
        position: 'relative',
        height: lane === 'sound' ? plot.top + plot.bottom + trackHeight * tracksShown(document) + 4 : 88,
        flex: 'none',
        bgcolor: 'background.paper',
        borderTop: 1,
        borderColor: 'divider',
      }}
      aria-label="Coverage over the crossing"
      role="group"
    >
      <Select
        variant="standard"
        value={lane}
        onChange={(event) => setView({ lane: event.target.value, moveKeys: new Set() })}
        disableUnderline
        inputProps={{ 'aria-label': 'What the strip shows' }}
        sx={{ position: 'absolute', left: 10, top: 30, fontSize: 12, zIndex: 1 }}
      >
        {[...new Set([...lanes, lane])].map((each) => (
          <MenuItem key={each} value={each}>
            {nameOf(each)}
          </MenuItem>
        ))}
      </Select>
      {charted && lane === 'covered' && <Chart length={length} />}
      <Box
        sx={{
          position: 'absolute',
          left: plot.left,
          right: plot.right,
          top: plot.top,
          bottom: plot.bottom,
          pointerEvents: lane === 'covered' ? 'none' : 'auto',
        }}
      >
        {lane === 'sound' && <SoundLane />}
        {lane !== 'covered' && lane !== 'sound' && <MoveLane lane={lane} />}
        <Playhead last={Math.max(1, length - 1)} />
      </Box>
    </Box>
  );
});

function Playhead({ last }: { last: number }) {
  const frame = useView((state) => state.frame);
  return (
    <Box
      sx={{
        position: 'absolute',
        top: -4,
        bottom: 0,
        width: 2,
        ml: '-1px',
        bgcolor: 'primary.main',
        pointerEvents: 'none',
      }}
      style={{ left: `${(frame / last) * 100}%` }}
    />
  );
}

/** Points that the curve is drawn with, at the most: about one a px; and poses that are marked on it. */
const mostPoints = 800;
const mostDots = 120;

const Chart = memo(function Chart({ length }: { length: number }) {
  const theme = useTheme();
  const coverage = useView((state) => state.coverage);
  const traced = useTraced();
  const inHand = useOutline();
  const data = useMemo(() => {
    const every = Math.max(1, Math.ceil((coverage?.length ?? 0) / mostPoints));
    const last = (coverage?.length ?? 0) - 1;
    return Array.from(coverage ?? [], (covered, n) => ({
      n,
      covered: Math.round(covered * 1000) / 10,
    })).filter(({ n }) => n % every === 0 || n === last);
  }, [coverage]);
  const posed = useMemo(() => {
    if (!traced || !inHand) return [];
    const keyed = new Set(inHand.poses.map((pose) => pose.frame));
    const frames = Array.from({ length }, (_, n) => n).filter((n) => keyed.has(sourceFrameOf(traced, n)));
    // Closer together than they are wide they would only be a line.
    return frames.length > mostDots ? [] : frames;
  }, [traced, inHand, length]);
  const ink = theme.palette.text.secondary;
  return (
    <ResponsiveContainer width="100%" height="100%">
      <AreaChart
        data={data}
        margin={{ top: plot.top, right: plot.right, bottom: 0, left: 0 }}
        accessibilityLayer={false}
        onClick={(state) => {
          if (state?.activeLabel === undefined) return;
          setView({ playing: false });
          goTo(Number(state.activeLabel));
        }}
      >
        <XAxis
          dataKey="n"
          type="number"
          domain={[0, Math.max(1, length - 1)]}
          ticks={roundTicks(length)}
          interval={0}
          tick={{ fontSize: 11, fill: ink }}
          stroke={theme.kiv.line}
          height={plot.bottom}
        />
        <YAxis
          domain={[0, 100]}
          ticks={[0, 50, 100]}
          tick={{ fontSize: 11, fill: ink }}
          stroke={theme.kiv.line}
          width={plot.left}
          unit=" %"
        />
        <Tooltip
          isAnimationActive={false}
          formatter={(value) => [`${String(value)} % covered`]}
          labelFormatter={(n) => `Frame ${String(n)}`}
          contentStyle={{
            background: theme.palette.background.paper,
            border: `1px solid ${theme.kiv.line}`,
            fontSize: 12,
            padding: '2px 8px',
          }}
          separator=""
        />
        <Area
          dataKey="covered"
          name=""
          type="linear"
          stroke={theme.kiv.role.incoming}
          fill={theme.kiv.role.incoming}
          fillOpacity={0.22}
          strokeWidth={1.8}
          isAnimationActive={false}
        />
        {posed.map((n) => (
          <ReferenceDot
            key={n}
            x={n}
            y={coverage ? Math.round(coverage[n] * 1000) / 10 : 0}
            r={3.2}
            fill={theme.palette.text.primary}
            stroke={theme.palette.background.paper}
          />
        ))}
      </AreaChart>
    </ResponsiveContainer>
  );
});
