'use client';

import Box from '@mui/material/Box';
import { memo, useMemo } from 'react';
import { keysOf } from '@/core/document/keys';
import { channels } from '@/core/model/channels';
import { LaneNote } from '../lanes/LaneNote';
import { LaneTicks } from '../lanes/LaneTicks';
import { setView, useView } from '../view/view-store';
import { channelWords } from './channel-words';
import { type Course, movesCourse } from './courses';
import { LaneKey } from './MoveLane';
import { useMovedDocument, useMover } from './mover';
import { useKeyDrag } from './useKeyDrag';

/** All keys of what moves, a row for each value: dragged along for time; a double press opens a key's own lane. */
export const MovesLane = memo(function MovesLane() {
  const selected = useView((state) => state.moveKeys);
  const seen = useMovedDocument();
  const moverId = useMover();
  const rows = useMemo(() => {
    const keyed = keysOf(seen, moverId);
    return channels.filter((channel) => keyed[channel]);
  }, [seen, moverId]);
  const course: Course = useMemo(() => movesCourse(seen, moverId, rows), [seen, moverId, rows]);
  const last = Math.max(1, seen.crossing.length - 1);
  const { plane, take, onPlane } = useKeyDrag(null, course, last);
  const down = (row: number) => (100 * (row + 0.5)) / Math.max(1, rows.length);
  return (
    <Box
      sx={{ position: 'absolute', inset: 0 }}
      role="group"
      aria-label="Keys of all moves over the crossing"
    >
      <Box
        ref={plane}
        {...onPlane}
        sx={{
          ...{ position: 'absolute', inset: 0, cursor: 'pointer' },
          ...{ borderLeft: 1, borderBottom: 1, borderColor: 'divider' },
        }}
      >
        {rows.map((channel, row) => (
          <Box
            key={channel}
            sx={{
              ...{ position: 'absolute', left: 6, fontSize: 11, lineHeight: 1, color: 'text.secondary' },
              ...{ transform: 'translateY(-50%)', pointerEvents: 'none', whiteSpace: 'nowrap' },
            }}
            style={{ top: `${down(row)}%` }}
          >
            {channelWords[channel].name}
          </Box>
        ))}
      </Box>
      <LaneTicks length={seen.crossing.length} />
      {course.keys.map((each) => (
        <LaneKey
          key={each.id}
          of={each}
          selected={selected.has(each.id)}
          left={(100 * each.frame) / last}
          top={down(each.value)}
          onTake={take}
          onOpen={() => setView({ lane: rows[each.value] })}
        />
      ))}
      {course.keys.length === 0 && (
        <LaneNote>No keys yet. A value changed in step Move is a key on that frame.</LaneNote>
      )}
    </Box>
  );
});
