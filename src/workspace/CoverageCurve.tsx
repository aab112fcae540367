'use client';

import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import { useMemo } from 'react';
import {
  Area,
  AreaChart,
  ReferenceDot,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import { goTo, goToSource } from './commands';
import { sourceFrameOf, useOutline, useTraced } from './traced';
import { setView, useView } from './view-store';
import { useDocument } from './document-store';

/** How much of the frame the matte covers, over the whole crossing; press to go there. */
export function CoverageCurve() {
  const theme = useTheme();
  const frame = useView((state) => state.frame);
  const coverage = useView((state) => state.coverage);
  const length = useDocument((state) => state.document!.crossing.length);
  const traced = useTraced();
  const inHand = useOutline();
  const data = useMemo(
    () => Array.from(coverage ?? [], (covered, n) => ({ n, covered: Math.round(covered * 1000) / 10 })),
    [coverage],
  );
  const posed = useMemo(() => {
    if (!traced || !inHand) return [];
    const keyed = new Set(inHand.poses.map((pose) => pose.frame));
    return Array.from({ length }, (_, n) => n).filter((n) => keyed.has(sourceFrameOf(traced, n)));
  }, [traced, inHand, length]);
  const ink = theme.palette.text.secondary;
  return (
    <Box
      sx={{
        height: 84,
        flex: 'none',
        px: 1,
        pt: 0.5,
        bgcolor: 'background.paper',
        borderTop: 1,
        borderColor: 'divider',
      }}
      aria-label="Coverage over the crossing"
      role="group"
    >
      <ResponsiveContainer width="100%" height="100%">
        <AreaChart
          data={data}
          margin={{ top: 4, right: 10, bottom: 0, left: 0 }}
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
            tick={{ fontSize: 11, fill: ink }}
            stroke={theme.kiv.line}
            height={18}
            tickCount={9}
          />
          <YAxis
            domain={[0, 100]}
            ticks={[0, 50, 100]}
            tick={{ fontSize: 11, fill: ink }}
            stroke={theme.kiv.line}
            width={44}
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
              y={data[n]?.covered ?? 0}
              r={3.2}
              fill={theme.palette.text.primary}
              stroke={theme.palette.background.paper}
              onClick={() => traced && goToSource(traced, sourceFrameOf(traced, n))}
            />
          ))}
          <ReferenceLine x={frame} stroke={theme.palette.primary.main} strokeWidth={2} />
        </AreaChart>
      </ResponsiveContainer>
    </Box>
  );
}
