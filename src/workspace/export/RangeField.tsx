'use client';

import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { playedRange } from '@/core/document/document';
import type { CrossingDocument } from '@/core/document/tables';
import { tracedLayer } from '@/core/document/plans';
import {
  type ExportRange,
  type ExportStretch,
  stretchesBetweenMarks,
  stretchOf,
} from '@/core/formats/export-range';
import type { ShotMedia } from '@/wire/answers';

type Medias = readonly Pick<ShotMedia, 'shot'>[];

const tableOf = (shots: Medias) => Object.fromEntries(shots.map(({ shot }) => [shot.id, shot]));

/** What was chosen, as long as it is there: else what is played. @param alone whether a shot may be written alone. */
export function rangeHeld(
  document: CrossingDocument,
  shots: Medias,
  range: ExportRange,
  alone: boolean,
): ExportRange {
  const traced = tracedLayer(document);
  const there =
    range.of === 'marks'
      ? [range.fromId, range.toId].every((id) => document.marks[id])
      : range.of !== 'traced shot' || (alone && shots.some(({ shot }) => shot.id === traced?.shotId));
  return there ? range : { of: 'played' };
}

/** What would be exported. @param range one that {@link rangeHeld} lets through. */
export const stretchShown = (
  document: CrossingDocument,
  shots: Medias,
  range: ExportRange,
  handles: number,
): ExportStretch => stretchOf(document, tableOf(shots), range, handles);

/** Which part of the crossing is exported. @param alone whether a shot may be written alone. */
export function RangeField({
  document,
  shots,
  alone,
  range,
  onChange,
}: {
  document: CrossingDocument;
  shots: Medias;
  alone: boolean;
  range: ExportRange;
  onChange(range: ExportRange): void;
}) {
  const { length } = document.crossing;
  const [first, last] = playedRange(document);
  const all = first === 0 && last === length - 1;
  const traced = tracedLayer(document);
  const shot = traced && tableOf(shots)[traced.shotId];
  const choices: { range: ExportRange; says: string }[] = [
    {
      range: { of: 'played' },
      says: all ? `All of it, 0 to ${last}` : `In to out, ${first} to ${last}`,
    },
    ...(all ? [] : [{ range: { of: 'whole' } as const, says: `Beyond in and out too, 0 to ${length - 1}` }]),
    ...stretchesBetweenMarks(document).map(({ from, to }) => ({
      range: { of: 'marks', fromId: from.id, toId: to.id } as const,
      says: `“${from.name}” to “${to.name}”, ${from.frame} to ${to.frame}`,
    })),
    ...(alone && shot
      ? [
          {
            range: { of: 'traced shot' } as const,
            says: `${shot.name} alone, all its frames, 0 to ${shot.frameCount - 1}`,
          },
        ]
      : []),
  ];
  const keyOf = (each: ExportRange) => (each.of === 'marks' ? `${each.fromId} ${each.toId}` : each.of);
  return (
    <TextField
      select
      label="From, to"
      value={keyOf(range)}
      onChange={({ target }) => onChange(choices.find((each) => keyOf(each.range) === target.value)!.range)}
      fullWidth
    >
      {choices.map((each) => (
        <MenuItem key={keyOf(each.range)} value={keyOf(each.range)}>
          {each.says}
        </MenuItem>
      ))}
    </TextField>
  );
}
