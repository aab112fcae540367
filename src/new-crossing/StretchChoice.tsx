'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import type { Stretch } from '@/core/actions/first-stretch';
import { takesOf } from '@/core/motion/cuts';
import type { ShotListing } from '@/wire/answers';

/** Most takes that have a button each; more are chosen by the slider. */
const mostButtons = 6;

/** How much of a shot the crossing takes: by its ends, or one of the takes that it was found to hold. */
export function StretchChoice({
  shot,
  stretch,
  onChoose,
  onLook,
}: {
  shot: ShotListing;
  /** Null: all of it. */
  stretch: Stretch | null;
  onChoose(stretch: Stretch | null): void;
  /** Told the frame that an end is dragged over. */
  onLook(frame: number | null): void;
}) {
  const end = shot.frameCount - 1;
  const { first, last } = stretch ?? { first: 0, last: end };
  const choose = (from: number, to: number) =>
    onChoose(from === 0 && to === end ? null : { first: from, last: to });
  const takes = takesOf(shot.frameCount, shot.cuts);
  return (
    <Box sx={{ px: 1.25 }}>
      <Slider
        size="small"
        value={[first, last]}
        min={0}
        max={end}
        disableSwap
        marks={shot.cuts.map((value) => ({ value }))}
        getAriaLabel={(thumb) => `${thumb === 0 ? 'First' : 'Last'} frame of ${shot.name}`}
        onChange={(_event, value, thumb) => {
          const [from, to] = value as number[];
          choose(from, to);
          onLook(thumb === 0 ? from : to);
        }}
        onChangeCommitted={() => onLook(null)}
        sx={{ py: 0.75, display: 'block' }}
      />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 0.5, fontSize: 12 }}>
        <Box sx={{ flex: 1, color: 'text.secondary', whiteSpace: 'nowrap' }}>
          {stretch
            ? `Frames ${first} to ${last} of ${shot.frameCount}`
            : 'Whole shot; drag an end to use less'}
        </Box>
        {stretch && (
          <Button size="small" onClick={() => onChoose(null)}>
            Use whole shot
          </Button>
        )}
      </Box>
      {takes.length > 1 && takes.length <= mostButtons && (
        <Box
          role="group"
          aria-label={`Takes of ${shot.name}`}
          sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5 }}
        >
          {takes.map(([from, to], k) => (
            <Button
              key={from}
              size="small"
              variant={from === first && to === last ? 'contained' : 'outlined'}
              title={`Frames ${from} to ${to}`}
              onClick={() => choose(from, to)}
            >
              Take {k + 1}
            </Button>
          ))}
        </Box>
      )}
    </Box>
  );
}
