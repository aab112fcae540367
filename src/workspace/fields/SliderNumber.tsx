'use client';

import Box from '@mui/material/Box';
import Slider from '@mui/material/Slider';
import { NumberField } from './NumberField';

/**
 * A number that is pulled with a slider, or typed.
 *
 * @param shownAs what stands on the field where its group says the rest.
 * @param curved whether the slider runs along the square root: wide edges need less finesse than narrow ones.
 * @param onDraft told while the slider is pulled.
 * @param most, least of the slider; `low` and `high` bound what is typed, and are the slider's unless given.
 */
export function SliderNumber({
  label,
  shownAs,
  value,
  least = 0,
  most,
  low = least,
  high = most,
  unit,
  curved = false,
  onDraft,
  onChange,
}: {
  label: string;
  shownAs?: string;
  value: number;
  least?: number;
  most: number;
  low?: number;
  high?: number;
  unit?: string;
  curved?: boolean;
  onDraft(value: number): void;
  onChange(value: number): void;
}) {
  const ofSlider = (place: number) => (curved ? Math.round(place * place * 2) / 2 : place);
  const bothWays = least < 0;
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr) 92px',
        alignItems: 'center',
        gap: 1.5,
        pl: 1.25,
      }}
    >
      <Slider
        aria-label={label}
        min={least}
        max={curved ? Math.sqrt(most) : most}
        step={curved ? 0.1 : 0.5}
        track={bothWays ? false : 'normal'}
        marks={bothWays ? [{ value: 0, label: '0' }] : false}
        value={curved ? Math.sqrt(value) : value}
        scale={ofSlider}
        onChange={(_event, place) => onDraft(ofSlider(place as number))}
        onChangeCommitted={(_event, place) => onChange(ofSlider(place as number))}
      />
      <NumberField label={label} value={value} unit={unit} {...{ shownAs, low, high, onChange }} />
    </Box>
  );
}
