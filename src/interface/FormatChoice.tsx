'use client';

import Box from '@mui/material/Box';
import type { ChangeEvent } from 'react';
import { crossingRates, formatRate, framesPerSecond } from '@/core/time/rate';
import type { Rate } from '@/core/model/time';

export interface FrameSize {
  width: number;
  height: number;
}

/** Something that a shot proposes, and which shot. */
export interface Proposed<T> {
  value: T;
  by: string;
}

/** Sizes that are common, after those of the shots (common practice, no source). */
const commonSizes: readonly FrameSize[] = [
  { width: 1920, height: 1080 },
  { width: 1280, height: 720 },
  { width: 3840, height: 2160 },
  { width: 4096, height: 2160 },
  { width: 1080, height: 1920 },
  { width: 1080, height: 1080 },
];

const sameRate = (a: Rate, b: Rate) => a.num * b.den === b.num * a.den;
const sameSize = (a: FrameSize, b: FrameSize) => a.width === b.width && a.height === b.height;

/** Values each once, the first of what is the same; each with the shots that propose it. */
function choices<T>(
  proposed: readonly Proposed<T>[],
  common: readonly T[],
  now: T,
  same: (a: T, b: T) => boolean,
): { value: T; by: string }[] {
  const all = [...proposed.map(({ value }) => value), ...common, now];
  const first = all.filter((value, k) => all.findIndex((each) => same(each, value)) === k);
  const shots = new Set(proposed.map(({ by }) => by));
  return first.map((value) => {
    const by = new Set(proposed.filter((each) => same(each.value, value)).map((each) => each.by));
    return { value, by: by.size > 1 && by.size === shots.size ? 'the shots' : [...by].join(', ') };
  });
}

/** Frame rate and size of a result: what the shots propose first, then what is common. */
export function FormatChoice({
  rate,
  size,
  rates,
  sizes,
  onRate,
  onSize,
}: {
  rate: Rate;
  size: FrameSize;
  rates: readonly Proposed<Rate>[];
  sizes: readonly Proposed<FrameSize>[];
  onRate(rate: Rate): void;
  onSize(size: FrameSize): void;
}) {
  const rateChoices = choices(rates, crossingRates, rate, sameRate);
  const sizeChoices = choices(sizes, commonSizes, size, sameSize);
  const as = (by: string) => (by ? `, as ${by}` : '');
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: 'repeat(auto-fit, minmax(180px, 1fr))',
        gap: 1,
        fontSize: 13,
      }}
    >
      <Chooser
        label="Frame rate"
        options={rateChoices.map(({ value, by }) => `${formatRate(value)} fps${as(by)}`)}
        chosen={rateChoices.findIndex(({ value }) => sameRate(value, rate))}
        onChoose={(k) => onRate(rateChoices[k].value)}
        title={`${framesPerSecond(rate).toFixed(3)} frames a second`}
      />
      <Chooser
        label="Size"
        options={sizeChoices.map(({ value, by }) => `${value.width} × ${value.height} px${as(by)}`)}
        chosen={sizeChoices.findIndex(({ value }) => sameSize(value, size))}
        onChoose={(k) => onSize(sizeChoices[k].value)}
        title={`${size.width} × ${size.height} px`}
      />
    </Box>
  );
}

function Chooser({
  label,
  options,
  chosen,
  onChoose,
  title,
}: {
  label: string;
  options: readonly string[];
  chosen: number;
  onChoose(k: number): void;
  title: string;
}) {
  return (
    <Box component="label" sx={{ display: 'grid', gap: 0.25, minWidth: 0 }}>
      {label}
      <Box
        component="select"
        value={chosen}
        title={title}
        sx={{
          ...{ width: '100%', minWidth: 0, font: 'inherit', p: '6px 4px', color: 'text.primary' },
          ...{ bgcolor: 'background.paper', border: 1, borderColor: 'text.secondary', borderRadius: 1 },
        }}
        onChange={(event: ChangeEvent<HTMLSelectElement>) => onChoose(Number(event.target.value))}
      >
        {options.map((option, k) => (
          <option key={option} value={k}>
            {option}
          </option>
        ))}
      </Box>
    </Box>
  );
}
