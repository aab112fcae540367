'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useRef, useState } from 'react';
import { mostBytes, NoTimeline, type Timeline, type TimelineClip } from '@/core/formats/timeline-in';
import { shotOfClip, timelineFor, timingOf, type Timing } from '@/core/formats/timeline-taken';
import { formatTimecode } from '@/core/time/timecode';
import type { ShotListing } from '@/wire/answers';

/** Two shots as a timeline has them. */
export interface FromCut {
  outgoing: string;
  incoming: string;
  timing: Timing;
}

/** Choosing a cut of a timeline: which shots a crossing begins with, and how they lie in time. */
export function FromTimeline({
  shots,
  onTake,
}: {
  shots: ShotListing[];
  /** Told what was chosen; null: no cut is any more. */
  onTake(taken: FromCut | null): void;
}) {
  const input = useRef<HTMLInputElement>(null);
  const [read, setRead] = useState<{ name: string; timeline: Timeline } | null>(null);
  const [chosen, setChosen] = useState(-1);
  const [says, setSays] = useState<string | null>(null);

  const choose = (timeline: Timeline, index: number) => {
    setChosen(index);
    setSays(null);
    const cut = timeline.cuts[index];
    const [outgoing, incoming] = [cut.outgoing, cut.incoming].map((clip) => shotOfClip(clip, shots));
    if (!outgoing || !incoming) {
      const missing = [cut.outgoing, cut.incoming].filter((clip) => !shotOfClip(clip, shots)).map(nameOf);
      setSays(
        `Not among the footage: ${missing.join(' and ')}. Bring it in here, then choose the cut again.`,
      );
      onTake(null);
      return;
    }
    const rate = (outgoing.frameCount > 1 ? outgoing : incoming).rate;
    const { timing, unplaced } = timingOf(cut, timeline.rate, rate, { outgoing, incoming });
    if (unplaced.length > 0)
      setSays(
        `${unplaced.map(nameOf).join(' and ')}: the file does not reach as far as the timeline counts in it; it is put in from its first frame. Slip it under Line up.`,
      );
    onTake({ outgoing: outgoing.id, incoming: incoming.id, timing });
  };

  const take = async (file: File) => {
    setRead(null);
    setChosen(-1);
    onTake(null);
    try {
      if (file.size > mostBytes)
        throw new NoTimeline(`${file.name} is too large for a timeline: up to 20 MB are read.`);
      const timeline = timelineFor(await file.text(), shots);
      setRead({ name: file.name, timeline });
      const known = timeline.cuts.findIndex(
        (cut) => shotOfClip(cut.outgoing, shots) && shotOfClip(cut.incoming, shots),
      );
      choose(timeline, Math.max(0, known));
    } catch (error) {
      setSays(error instanceof NoTimeline ? error.message : 'The file could not be read.');
    } finally {
      if (input.current) input.current.value = '';
    }
  };

  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5 }}>
        <input
          ref={input}
          type="file"
          accept=".otio,.edl,application/json,text/plain"
          aria-label="Timeline file"
          hidden
          onChange={({ target }) => target.files?.[0] && void take(target.files[0])}
        />
        <Button
          size="small"
          title="An OpenTimelineIO file (.otio) or a CMX 3600 list (.edl): shots, slip and speed as a cut has them"
          onClick={() => input.current?.click()}
        >
          From a timeline…
        </Button>
        {read && (
          <TextField
            select
            size="small"
            label={`Cut in ${read.name}`}
            value={chosen}
            onChange={(event) => choose(read.timeline, Number(event.target.value))}
            sx={{ flex: 1 }}
          >
            {read.timeline.cuts.map(({ outgoing, incoming, at }, k) => (
              <MenuItem key={k} value={k}>
                {formatTimecode(at, read.timeline.rate)} {nameOf(outgoing)} → {nameOf(incoming)}
              </MenuItem>
            ))}
          </TextField>
        )}
      </Box>
      {says && <Alert severity="warning">{says}</Alert>}
    </Box>
  );
}

const nameOf = ({ names }: TimelineClip) => names[0] ?? 'a clip without a name';
