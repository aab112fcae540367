'use client';

import { memo } from 'react';
import { useShallow } from 'zustand/react/shallow';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Tooltip from '@mui/material/Tooltip';
import { layerSourceFrame } from '@/core/compose/source-frames';
import { timecodeOfFrame } from '@/core/time/source-timecode';
import { formatTimecode } from '@/core/time/timecode';
import { formatRate, rateOf } from '@/core/time/rate';
import { BackIcon, ClockIcon, ForwardIcon, PauseIcon, PlayIcon } from '@/interface/icons';
import { RoleMark } from '@/interface/RoleMark';
import { SmallButton } from '@/interface/SmallButton';
import { mono } from '@/interface/theme';
import { step, togglePlaying } from '../session/go-to';
import { useDocument } from '../document/document-store';
import { shownColumns } from '../sheet/shown-columns';
import type { KeyboardState } from '../keyboard/useKeys';
import { setView, type ViewState, useView } from '../view/view-store';

/** Stepping, playing, where one is, and how playback keeps up. */
export const Transport = memo(function Transport({ jump, field }: KeyboardState) {
  const { playing, quality } = useView(useShallow(({ playing, quality }) => ({ playing, quality })));
  return (
    <Box
      sx={{
        display: 'flex',
        alignItems: 'center',
        flexWrap: 'wrap',
        columnGap: 1,
        rowGap: 0,
        px: 1.5,
        minHeight: 42,
        flex: 'none',
        borderTop: 1,
        borderColor: 'divider',
        bgcolor: 'background.paper',
        whiteSpace: 'nowrap',
      }}
    >
      <Tooltip title="Previous frame (←)">
        <IconButton size="small" aria-label="Previous frame" onClick={() => step(-1)}>
          <BackIcon />
        </IconButton>
      </Tooltip>
      <Tooltip title={playing ? 'Pause (Space)' : 'Play the crossing in a loop (Space)'}>
        <IconButton
          size="small"
          aria-label={playing ? 'Pause' : 'Play'}
          onClick={togglePlaying}
          color="primary"
        >
          {playing ? <PauseIcon /> : <PlayIcon />}
        </IconButton>
      </Tooltip>
      <Tooltip title="Next frame (→)">
        <IconButton size="small" aria-label="Next frame" onClick={() => step(1)}>
          <ForwardIcon />
        </IconButton>
      </Tooltip>
      <Whereabouts />
      {jump !== '' && (
        <Box role="status" sx={{ font: `700 13px ${mono}`, px: 1, border: 1, borderColor: 'primary.main' }}>
          {jump} ⏎
        </Box>
      )}
      {field !== null && (
        <Box role="status" sx={{ fontSize: 12, color: 'text.secondary', minWidth: 0 }}>
          Keys go to “{field}”; Esc brings them back
        </Box>
      )}
      <Box sx={{ flex: 1 }} />
      <ShownFrom />
      <Dropped />
      <Select
        variant="standard"
        disableUnderline
        value={quality}
        onChange={(event) => setView({ quality: Number(event.target.value) as ViewState['quality'] })}
        // The keys go back to the picture.
        onClose={() => setTimeout(() => (window.document.activeElement as HTMLElement | null)?.blur())}
        inputProps={{ 'aria-label': 'Quality of the preview' }}
        sx={{ fontSize: 12 }}
      >
        <MenuItem value={1}>Full quality</MenuItem>
        <MenuItem value={0.5}>Half quality</MenuItem>
        <MenuItem value={0.25}>Quarter quality</MenuItem>
      </Select>
    </Box>
  );
});

/** The frame, its timecode and the frame of each shot; apart from the rest, as it changes with every frame. */
function Whereabouts() {
  const frame = useView((state) => state.frame);
  const document = useDocument((state) => state.document);
  const shots = useDocument((state) => state.shots);
  const inHand = useView((state) => state.layerId);
  const count = useView((state) => state.sourceCount);
  const crossing = document!.crossing;
  const columns = shownColumns(document!, inHand);
  const shotOf = (id: string) => shots.find((media) => media.shot.id === id)?.shot;
  return (
    <>
      <Box sx={{ font: `700 15px ${mono}`, ml: 1 }} data-testid="current-frame" aria-live="off">
        {frame}
        <Box component="span" sx={{ fontWeight: 400, color: 'text.secondary' }}>
          {' '}
          / {crossing.length - 1}
        </Box>
      </Box>
      <Box sx={{ font: `13px ${mono}`, color: 'text.secondary' }}>
        {formatTimecode(frame, rateOf(crossing))}
      </Box>
      {columns.map((layer) => {
        const shot = shotOf(layer.shotId);
        const source = shot ? layerSourceFrame(document!, layer, shot, frame) : 0;
        const there = shot && source >= 0 && source < shot.frameCount;
        const says =
          there && shot.timecode && count === 'timecode'
            ? timecodeOfFrame(shot.timecode, shot.rate, source)
            : source;
        return (
          <Box key={layer.id} sx={{ display: 'flex', alignItems: 'center', gap: 0.5, font: `13px ${mono}` }}>
            <RoleMark role={layer.role} size={16} /> {there ? says : 'no picture'}
          </Box>
        );
      })}
      {columns.some(({ shotId }) => shotOf(shotId)?.timecode) && (
        <SmallButton
          label={count === 'frames' ? 'Show the shots’ timecode' : 'Show the shots’ frame numbers'}
          onClick={() => setView({ sourceCount: count === 'frames' ? 'timecode' : 'frames' })}
        >
          <ClockIcon size={16} />
        </SmallButton>
      )}
    </>
  );
}

/** Whether the picture is drawn from the shots themselves or from their work copies. */
function ShownFrom() {
  const original = useView((state) => state.shown?.original ?? true);
  return (
    <Tooltip
      title={
        original
          ? 'Drawn from the shots themselves'
          : 'Drawn from smaller copies that step quickly. At 100 %, in exports, checks and measuring the shots themselves are read.'
      }
    >
      <Box data-testid="shown-from" sx={{ fontSize: 12, color: 'text.secondary' }}>
        {original ? 'original' : 'work copy'}
      </Box>
    </Tooltip>
  );
}

function Dropped() {
  const { playing, dropped, playedShare } = useView(
    useShallow(({ playing, dropped, playedShare }) => ({ playing, dropped, playedShare })),
  );
  const { rateNum, rateDen } = useDocument((state) => state.document!.crossing);
  return (
    <Tooltip
      title={
        playing && playedShare < 1
          ? 'Frames dropped since playback began. The picture is drawn coarser so that fewer are; at rest it is as fine as before.'
          : 'Frames dropped since playback began, because they could not be drawn in time'
      }
    >
      <Box
        data-testid="dropped"
        sx={{ fontSize: 12, color: playing && dropped > 0 ? 'warning.main' : 'text.secondary' }}
      >
        {playing
          ? `${dropped} dropped${playedShare < 1 ? `, at ${Math.round(100 * playedShare)} %` : ''}`
          : `${formatRate({ num: rateNum, den: rateDen })} fps`}
      </Box>
    </Tooltip>
  );
}
