'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import { useEffect, useState } from 'react';
import type { FoundCrossing } from '@/core/find/crossings';
import { stretchAbout } from '@/core/find/stretch-about';
import { formatTimecode } from '@/core/time/timecode';
import { RawPicture } from '@/interface/RawPicture';
import { mono } from '@/interface/theme';
import { useSeen } from '@/interface/useSeen';
import { NewCrossing } from '@/new-crossing/NewCrossing';
import { findCrossings, stopFinding, useFinding } from '@/shots/found-crossings';
import { useShotPicture } from '@/shots/useShotPicture';
import type { ShotListing } from '@/wire/answers';

/** Height, px, of a crossing's small pictures. */
const pictureHeight = 68;

/** What crosses in a long shot: looked for in the background, listed as it is found, and begun from here. */
export function FoundCrossings({
  shot,
  shots,
  onChanged,
  onClose,
}: {
  shot: ShotListing;
  shots: ShotListing[];
  onChanged(): void;
  onClose(): void;
}) {
  const { under, done, failure } = useFinding();
  const [begun, setBegun] = useState<FoundCrossing | null>(null);
  const looking = under?.shotId === shot.id ? under : null;
  const kept = done[shot.id] ?? shot.found;
  const found = looking ? looking.found : kept;
  const look = () => void findCrossings(shot.id).then(onChanged);
  const failed = failure?.shotId === shot.id ? failure.says : null;
  const unlooked = kept === null && !looking && !failed;
  useEffect(() => {
    if (unlooked && !useFinding.getState().under) look();
    // Once, as it is opened.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  if (begun)
    return (
      <NewCrossing
        shots={shots}
        first={shot.id}
        begin={{ stretch: stretchAbout(begun, shot), plan: begun.kind === 'opens' ? 'opening' : 'pass-by' }}
        onArrived={onChanged}
        onClose={() => setBegun(null)}
      />
    );
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="found-crossings">
      <DialogTitle id="found-crossings" sx={{ overflowWrap: 'anywhere' }}>
        Crossings in “{shot.name}”
      </DialogTitle>
      <DialogContent
        sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1.5, alignContent: 'start' }}
      >
        <Box sx={{ fontSize: 14, color: 'text.secondary' }}>
          Stretches in which something covers the picture from top to bottom and leaves it again, or in which
          a door or gap opens.
        </Box>
        {looking && (
          <Box role="status" sx={{ display: 'grid', gap: 0.5 }}>
            <Box sx={{ fontSize: 14 }}>
              Looking through the shot: {Math.round(100 * looking.share)} %. You can close this window; the
              search goes on.
            </Box>
            <LinearProgress
              variant="determinate"
              value={100 * looking.share}
              aria-label="Looking through the shot"
            />
          </Box>
        )}
        {under && !looking && (
          <Alert severity="info">
            Kiv is looking through another shot. Looking through this one stops that.
          </Alert>
        )}
        {failed && <Alert severity="error">{failed}</Alert>}
        {found && found.length > 0 && (
          <Box
            component="ol"
            aria-label="Crossings found"
            sx={{ m: 0, p: 0, listStyle: 'none', display: 'grid', gap: 1 }}
          >
            {found.map((crossing) => (
              <CrossingRow
                key={`${crossing.kind} ${crossing.opens}`}
                {...{ shot, crossing }}
                onBegin={() => setBegun(crossing)}
              />
            ))}
          </Box>
        )}
        {found?.length === 0 && !looking && (
          <Box>
            Nothing was found. Kiv does not look for what covers only part of the height, or comes to rest
            without leaving. You can still begin a crossing and draw the outline by hand.
          </Box>
        )}
      </DialogContent>
      <DialogActions>
        {looking ? (
          <Button onClick={stopFinding}>Stop looking</Button>
        ) : (
          <Button onClick={look}>{kept === null ? 'Look through the shot' : 'Look again'}</Button>
        )}
        <Button variant="contained" onClick={onClose}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function CrossingRow({
  shot,
  crossing,
  onBegin,
}: {
  shot: ShotListing;
  crossing: FoundCrossing;
  onBegin(): void;
}) {
  const { opens, closes } = crossing;
  return (
    <Box
      component="li"
      sx={{
        ...{ display: 'flex', alignItems: 'center', gap: 1.5, pt: 1 },
        ...{ borderTop: 1, borderColor: 'divider' },
      }}
    >
      <Box sx={{ display: 'flex', gap: 0.5 }}>
        {[opens, Math.round((opens + closes) / 2), closes].map((frame, k) => (
          <SmallPicture key={k} {...{ shot, frame }} />
        ))}
      </Box>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Box sx={{ fontWeight: 700 }}>{saysOf(crossing)}</Box>
        <Box sx={{ fontSize: 13, fontFamily: mono }}>
          {formatTimecode(opens, shot.rate)}, frames {opens} to {closes}
        </Box>
        <Box sx={{ fontSize: 13, color: 'text.secondary' }}>{factsOf(crossing)}</Box>
      </Box>
      <Button
        variant="outlined"
        aria-label={`Begin here, at frame ${opens}`}
        onClick={onBegin}
        sx={{ whiteSpace: 'nowrap' }}
      >
        Begin here
      </Button>
    </Box>
  );
}

function saysOf({ kind, direction }: FoundCrossing): string {
  const way = direction === 0 ? '' : direction > 0 ? ' to the right' : ' to the left';
  return `Something ${kind}${way}`;
}

/** Seconds off an even course up to which something goes steadily, and from which on it does not. */
const [steady, uneven] = [0.06, 0.15];

function factsOf({ kind, speed, covers, unsteady }: FoundCrossing): string {
  const pace = `${Math.round(speed)} px a frame`;
  const share = `${Math.round(100 * covers)} % of the width`;
  if (kind === 'opens') return `${pace}, lays open ${share}`;
  const course = unsteady < steady ? 'steady' : unsteady < uneven ? 'a little uneven' : 'uneven';
  return `${pace}, ${course}, covers ${covers >= 0.95 ? 'the whole picture' : share}`;
}

function SmallPicture({ shot, frame }: { shot: ShotListing; frame: number }) {
  const [field, seen] = useSeen<HTMLElement>();
  const picture = useShotPicture(shot.id, frame, pictureHeight, seen);
  const width = Math.round((pictureHeight * shot.width) / shot.height);
  return (
    <Box ref={field} sx={{ width, height: pictureHeight, bgcolor: 'action.hover' }}>
      <RawPicture
        width={picture?.width ?? width}
        height={pictureHeight}
        rgba={picture?.rgba ?? null}
        label={`Frame ${frame} of ${shot.name}`}
        style={{ width, height: pictureHeight, display: 'block' }}
      />
    </Box>
  );
}
