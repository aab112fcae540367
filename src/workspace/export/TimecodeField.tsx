'use client';

import TextField from '@mui/material/TextField';
import type { SourceTimecode } from '@/core/model/shot';
import type { Rate } from '@/core/model/time';
import { sourceTimecodeFrom, writtenTimecode } from '@/core/time/source-timecode';

/** Why a typed timecode is none, or null. */
export function wrongTimecode(text: string, rate: Rate): string | null {
  try {
    sourceTimecodeFrom(text, rate);
    return null;
  } catch (error) {
    return (error as Error).message;
  }
}

/** The timecode with which the file begins: the outgoing shot's, another, or none. */
export function TimecodeField({
  timecode,
  setTimecode,
  ownTimecode,
  wrongTimecode: wrong,
}: {
  /** As it was typed; null: the outgoing shot's. */
  timecode: string | null;
  setTimecode(timecode: string | null): void;
  ownTimecode: SourceTimecode | null;
  wrongTimecode: string | null;
}) {
  const own = ownTimecode ? writtenTimecode(ownTimecode) : '';
  return (
    <TextField
      label="Timecode of the first frame"
      value={timecode ?? own}
      placeholder="none"
      error={wrong !== null}
      helperText={wrong ?? (timecode === null && own ? 'As the outgoing shot has it' : undefined)}
      onChange={({ target }) => setTimecode(target.value === own ? null : target.value)}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  );
}
