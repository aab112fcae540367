'use client';

import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { type Onward, onwards } from '@/core/model/time';

const says: Record<Onward, [label: string, title: string]> = {
  linear: ['Linear', 'As fast all the way'],
  smooth: ['Smooth', 'Goes on from the span before into the one after, never beyond either key'],
  eased: ['Eased', 'Starts slowly and comes slowly to a stop'],
  hold: ['Hold', 'Stays as it is until the next key'],
};

/** The way from a key to the next. */
export function OnwardChoice({
  label,
  value,
  onChange,
}: {
  label: string;
  value: Onward;
  onChange(value: Onward): void;
}) {
  return (
    <ToggleButtonGroup
      exclusive
      fullWidth
      size="small"
      value={value}
      aria-label={label}
      onChange={(_event, way: Onward | null) => way && onChange(way)}
      sx={{ '& .MuiToggleButton-root': { px: 0.25 } }}
    >
      {onwards.map((way) => (
        <ToggleButton key={way} value={way} title={says[way][1]}>
          {says[way][0]}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
