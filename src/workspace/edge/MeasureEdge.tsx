'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useTheme } from '@mui/material/styles';
import { useEffect, useState } from 'react';
import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { sentenceOf } from '@/interface/api';
import { useSnackbar } from '@/interface/messages';
import type { EdgeMeasure } from '@/core/edge/measure';
import { checksNow, matchEdge, useChecks } from '../check/checks-store';
import { useDocument } from '../document/document-store';
import { useView } from '../view/view-store';

/** Milliseconds that pointer and line rest before the edge is measured again. */
const rest = 180;

/**
 * The brightness of picture and matte across the line, in one chart.
 *
 * @param frame of the crossing; null while it plays.
 */
export function MeasureEdge({
  frame,
  outlineId,
  poseCount,
}: {
  frame: number | null;
  outlineId: string;
  poseCount: number;
}) {
  const [matching, setMatching] = useState(false);
  const { enqueueSnackbar } = useSnackbar();
  const { measure, note, place } = useEdgeMeasure(frame, outlineId);

  const match = (where: 'here' | 'keyed' | 'at points') => {
    setMatching(true);
    void matchEdge(outlineId, where).then((refusal) => {
      setMatching(false);
      if (refusal) enqueueSnackbar(refusal);
    });
  };
  return (
    <Box sx={{ display: 'grid', gap: 0.75 }}>
      <Box sx={{ fontWeight: 700, fontSize: 14 }}>Measure edge</Box>
      <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
        Across the line, px: outside on the left, inside on the right.{' '}
        {place ? 'Read about the pointer.' : 'Read along the whole line; point at it to read there.'}
      </Box>
      {measure && <EdgeChart measure={measure} />}
      {measure && <EdgeNumbers measure={measure} />}
      {note && <Box sx={{ fontSize: 13, color: 'text.secondary' }}>{note}</Box>}
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
        <Button variant="outlined" disabled={matching || !measure} onClick={() => match('here')}>
          Match
        </Button>
        <Button
          variant="outlined"
          disabled={matching || poseCount < 2}
          title="Measures at every pose and keys the softness there"
          onClick={() => match('keyed')}
        >
          {matching ? 'Measuring…' : 'Match, keyed'}
        </Button>
        <Button
          variant="outlined"
          disabled={matching || !measure}
          title="Measures about every point of the line: hair and blurred parts become softer than the rest"
          onClick={() => match('at points')}
          sx={{ gridColumn: '1 / -1' }}
        >
          Match at each point
        </Button>
      </Box>
    </Box>
  );
}

/** The edge along the line, or about the pointer where that is on it, measured anew whenever those come to rest. */
function useEdgeMeasure(frame: number | null, outlineId: string) {
  const place = useView((state) => state.pointerPlace);
  const document = useDocument((state) => state.document);
  const begun = useChecks((state) => state.share !== null);
  const [measure, setMeasure] = useState<EdgeMeasure | null>(null);
  const [note, setNote] = useState<string | null>(null);

  useEffect(() => {
    if (frame === null || !begun) return;
    let gone = false;
    const timer = setTimeout(() => {
      void checksNow()
        ?.measure(outlineId, frame, place)
        .then((found) => {
          if (gone) return;
          setMeasure(found);
          setNote(found ? null : 'On this frame there is no line with a clear edge along it.');
        })
        .catch((error) => !gone && setNote(sentenceOf(error)));
    }, rest);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [outlineId, frame, place, document, begun]);
  return { measure, note, place };
}

function EdgeChart({ measure }: { measure: EdgeMeasure }) {
  const theme = useTheme();
  const rows = measure.depths.map((depth, row) => ({
    depth,
    picture: measure.picture[row],
    matte: measure.matte[row],
  }));
  const text = { fontSize: 11, fill: theme.palette.text.secondary };
  return (
    <Box
      sx={{ height: 150 }}
      role="img"
      aria-label={`Picture ${measure.pictureWidth.toFixed(1)} px wide, matte ${measure.matteWidth?.toFixed(1) ?? 'more'} px wide`}
    >
      <ResponsiveContainer width="100%" height="100%">
        <LineChart data={rows} margin={{ top: 4, right: 8, bottom: 0, left: -26 }}>
          <CartesianGrid stroke={theme.palette.divider} vertical={false} />
          <XAxis dataKey="depth" type="number" domain={[-32, 32]} ticks={[-32, -16, 0, 16, 32]} tick={text} />
          <YAxis domain={[-0.2, 1.2]} ticks={[0, 0.5, 1]} tick={text} allowDataOverflow />
          <ReferenceLine x={0} stroke={theme.palette.text.primary} />
          <Line
            dataKey="picture"
            dot={false}
            isAnimationActive={false}
            strokeWidth={2}
            stroke={theme.kiv.role.outgoing}
          />
          <Line
            dataKey="matte"
            dot={false}
            isAnimationActive={false}
            strokeWidth={2}
            strokeDasharray="5 3"
            stroke={theme.kiv.role.incoming}
          />
        </LineChart>
      </ResponsiveContainer>
    </Box>
  );
}

function EdgeNumbers({ measure }: { measure: EdgeMeasure }) {
  return (
    <Box
      component="dl"
      sx={{ m: 0, display: 'grid', gridTemplateColumns: '1fr auto', fontSize: 13, '& dd': { m: 0 } }}
    >
      <dt title="From 10 to 90 % of the way from one side to the other">Picture ━, width</dt>
      <dd>{measure.pictureWidth.toFixed(1)} px</dd>
      <dt title="From 10 to 90 % of the way from one side to the other">Matte ┅, width</dt>
      <dd>{measure.matteWidth === null ? 'beyond' : `${measure.matteWidth.toFixed(1)} px`}</dd>
      <dt>Picture’s edge</dt>
      <dd>
        {measure.offset === 0
          ? 'on the line'
          : `${Math.abs(measure.offset).toFixed(1)} px ${measure.offset > 0 ? 'inside' : 'outside'}`}
      </dd>
    </Box>
  );
}
