'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useTheme } from '@mui/material/styles';
import { useId } from 'react';
import type { Side } from '@/core/model/choices';
import { flattenOutline, regionOf } from '@/core/outline';
import { sideWords, wayOfSide } from '@/core/edge/swept-side';
import { chooseSide } from '../trace/swept-side';
import { useTraced } from '../session/traced';
import { useView } from '../view/view-store';

/** What the swept side of a seam just drawn rests on; where it is a guess, both readings to choose from. */
export function SideNote() {
  const note = useView((state) => state.sideNote);
  const playing = useView((state) => state.playing);
  const traced = useTraced();
  const outline = note && traced?.document.outlines[note.outlineId];
  const coordinates = outline && traced.document.poses[outline.id]?.[0]?.coordinates;
  // What plays is looked at: the question waits.
  if (!note || !outline || !coordinates || playing) return null;
  const { sure, says } = note.judged;
  const swept = outline.sweptSide;
  const sides: Side[] = sure ? [swept] : ['left', 'right'];
  const words = (side: Side) => sideWords[wayOfSide(coordinates, side)];
  // As one sees the picture, not as the line runs.
  const rank = { left: 0, up: 0, right: 1, down: 1 };
  sides.sort((a, b) => rank[wayOfSide(coordinates, a)] - rank[wayOfSide(coordinates, b)]);
  return (
    <Box
      role="group"
      aria-label="The swept side"
      sx={{
        position: 'absolute',
        left: 12,
        bottom: 12,
        maxWidth: 420,
        p: 1.25,
        bgcolor: 'background.paper',
        border: 1,
        borderColor: sure ? 'divider' : 'warning.main',
        borderRadius: 1,
        fontSize: 13,
      }}
    >
      <Box role="status">
        {sure ? (
          <>
            <b>Swept: {words(swept)}.</b> {says}
          </>
        ) : (
          <>
            <b>Which side is swept?</b> {says}
          </>
        )}
      </Box>
      <Box sx={{ display: 'flex', gap: 1, mt: 1, alignItems: 'center' }}>
        {sure ? (
          <>
            <Button variant="outlined" onClick={() => chooseSide(outline.id, true)}>
              Flip it (F)
            </Button>
            <Button onClick={() => chooseSide(outline.id, false)}>Keep this side</Button>
          </>
        ) : (
          sides.map((side) => (
            <Button
              key={side}
              variant="outlined"
              onClick={() => chooseSide(outline.id, side !== swept)}
              sx={{ display: 'grid', justifyItems: 'center', gap: 0.5, p: 0.75 }}
            >
              <Reading coordinates={coordinates} side={side} shot={traced.shot} />
              {words(side)}
            </Button>
          ))
        )}
      </Box>
    </Box>
  );
}

/** The frame with what would be swept, small. */
function Reading({
  coordinates,
  side,
  shot,
}: {
  coordinates: readonly number[];
  side: Side;
  shot: { width: number; height: number };
}) {
  const theme = useTheme();
  const id = useId();
  const { width, height } = shot;
  const line = flattenOutline(coordinates, false, 1, 2);
  const region = regionOf(line, 'seam', side, width, height);
  const text = (points: readonly number[]) => points.map((value) => Math.round(value)).join(' ');
  return (
    <svg
      width={128}
      viewBox={`0 0 ${width} ${height}`}
      aria-hidden
      style={{ background: theme.kiv.surround }}
    >
      <defs>
        <pattern
          id={id}
          width={width / 16}
          height={width / 16}
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width={width / 40} height={width / 16} fill={theme.kiv.role.incoming} />
        </pattern>
      </defs>
      <polygon points={text(region.polygon)} fill={`url(#${id})`} />
      <polyline points={text(region.line)} fill="none" stroke="#fff" strokeWidth={width / 90} />
    </svg>
  );
}
