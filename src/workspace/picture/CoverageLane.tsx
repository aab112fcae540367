'use client';

import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import { memo, type PointerEvent, useMemo, useState } from 'react';
import { goTo } from '../session/go-to';
import { sourceFrameOf, useOutline, useTraced } from '../session/traced';
import { setView, useView } from '../view/view-store';
import { LanePlot } from '../lanes/LanePlot';
import { LaneScale } from '../lanes/LaneScale';
import { LaneTicks } from '../lanes/LaneTicks';

/** Points that the curve is drawn with, at the most: about one a px; and poses that are marked on it. */
const mostPoints = 800;
const mostDots = 120;

/**
 * How much the matte covers, frame by frame, with the poses on it; press to go there. Drawn here and not by the charts'
 * library: that took up to a quarter of a second while a crossing opens.
 */
export const CoverageLane = memo(function CoverageLane({ length }: { length: number }) {
  const theme = useTheme();
  const coverage = useView((state) => state.coverage);
  const [pointed, setPointed] = useState<number | null>(null);
  const last = Math.max(1, length - 1);
  const across = (frame: number) => (100 * frame) / last;
  const curve = useMemo(() => curveOf(coverage, last), [coverage, last]);
  const posed = usePosed(length);
  const frameAt = ({ clientX, currentTarget }: PointerEvent<HTMLElement>) => {
    const { left, width } = currentTarget.getBoundingClientRect();
    return Math.min(length - 1, Math.max(0, Math.round(((clientX - left) / width) * last)));
  };
  const covered = (frame: number) => coverage?.[frame] ?? 0;
  return (
    <Box
      sx={{
        position: 'absolute',
        inset: 0,
        cursor: 'pointer',
        borderLeft: 1,
        borderBottom: 1,
        borderColor: 'divider',
      }}
      onPointerMove={(event) => setPointed(frameAt(event))}
      onPointerLeave={() => setPointed(null)}
      onPointerDown={(event) => {
        setView({ playing: false });
        goTo(frameAt(event));
      }}
    >
      <LaneScale values={['100 %', '50 %', '0 %']} />
      {curve && (
        <LanePlot>
          <polygon points={`0,100 ${curve} 100,100`} fill={theme.kiv.role.incoming} fillOpacity={0.22} />
          <polyline
            points={curve}
            fill="none"
            stroke={theme.kiv.role.incoming}
            strokeWidth={1.8}
            vectorEffect="non-scaling-stroke"
          />
        </LanePlot>
      )}
      <Box
        sx={{
          '& > i': {
            position: 'absolute',
            width: 8,
            height: 8,
            margin: '-4px 0 0 -4px',
            borderRadius: '50%',
            border: 1,
            borderColor: 'background.paper',
            bgcolor: 'text.primary',
          },
        }}
      >
        {posed.map((frame) => (
          <i key={frame} style={{ left: `${across(frame)}%`, top: `${100 - 100 * covered(frame)}%` }} />
        ))}
      </Box>
      <LaneTicks length={length} />
      {pointed !== null && coverage && (
        <Box
          sx={{
            position: 'absolute',
            top: -4,
            transform: pointed > last / 2 ? 'translateX(calc(-100% - 8px))' : 'translateX(8px)',
            bgcolor: 'background.paper',
            border: 1,
            borderColor: 'divider',
            fontSize: 12,
            px: 1,
            py: 0.25,
            whiteSpace: 'nowrap',
            pointerEvents: 'none',
            zIndex: 1,
          }}
          style={{ left: `${across(pointed)}%` }}
        >
          Frame {pointed}: {Math.round(covered(pointed) * 1000) / 10} % covered
        </Box>
      )}
    </Box>
  );
});

/** The curve's points, across and down from 0 to 100; null before it is measured. */
function curveOf(coverage: Float32Array | null, last: number): string | null {
  if (!coverage || coverage.length < 2) return null;
  const every = Math.ceil(coverage.length / mostPoints);
  const points: string[] = [];
  coverage.forEach((covered, n) => {
    if (n % every !== 0 && n !== coverage.length - 1) return;
    points.push(`${((100 * n) / last).toFixed(3)},${(100 - 100 * covered).toFixed(2)}`);
  });
  return points.join(' ');
}

/** Crossing frames with a pose of the outline in hand; none where they are closer together than they are wide. */
function usePosed(length: number): number[] {
  const traced = useTraced();
  const inHand = useOutline();
  const poses = inHand?.poses;
  return useMemo(() => {
    if (!traced || !poses) return [];
    const keyed = new Set(poses.map((pose) => pose.frame));
    const frames = Array.from({ length }, (_, n) => n).filter((n) => keyed.has(sourceFrameOf(traced, n)));
    return frames.length > mostDots ? [] : frames;
  }, [traced, poses, length]);
}
