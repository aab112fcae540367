'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useSnackbar } from '@/interface/messages';
import { useState } from 'react';
import { writtenTimecode } from '@/core/time/source-timecode';
import { formatRate } from '@/core/time/rate';
import { formatBytes } from '@/footage/refusal';
import { call, sentenceOf, ServerRefusal } from '@/interface/api';
import { CardMenu } from '@/interface/CardMenu';
import { NameInput } from '@/interface/NameInput';
import { mono } from '@/interface/theme';
import { NewCrossing } from '@/new-crossing/NewCrossing';
import type { ShotListing } from '@/wire/answers';
import { stillRates } from '@/shots/rates';
import { ScrubPicture } from '@/shots/ScrubPicture';
import { FoundCrossings } from './FoundCrossings';
import { UsedIn } from './UsedIn';

/** Shots as cards with a picture and their facts; they are named and deleted here. */
export function ShotCards({
  shots,
  shown = shots,
  onChanged,
}: {
  shots: ShotListing[];
  /** Those that are looked for; left out: all. */
  shown?: readonly ShotListing[];
  onChanged(): void;
}) {
  const [begun, setBegun] = useState<string | null>(null);
  /** The shot whose crossings are shown. */
  const [sought, setSought] = useState<string | null>(null);
  const soughtShot = shots.find(({ id }) => id === sought);
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(260px, 1fr))', gap: 2 }}>
      {shown.map((shot) => (
        <ShotCard
          key={shot.id}
          {...{ shot, onChanged }}
          onBegin={() => setBegun(shot.id)}
          onFind={() => setSought(shot.id)}
        />
      ))}
      {begun && (
        <NewCrossing shots={shots} first={begun} onArrived={onChanged} onClose={() => setBegun(null)} />
      )}
      {soughtShot && (
        <FoundCrossings shot={soughtShot} {...{ shots, onChanged }} onClose={() => setSought(null)} />
      )}
    </Box>
  );
}

const facts = { fontSize: 12.5, color: 'text.secondary' };

function ShotCard({
  shot,
  onChanged,
  onBegin,
  onFind,
}: {
  shot: ShotListing;
  onChanged(): void;
  onBegin(): void;
  onFind(): void;
}) {
  const { enqueueSnackbar } = useSnackbar();
  /** What deleting takes along; null: nothing is to be deleted. */
  const [warning, setWarning] = useState<{ says: string; letGo: boolean } | null>(null);
  const ask = async (method: 'PATCH' | 'DELETE', body?: object, query = '') => {
    try {
      await call(`/api/shots/${shot.id}${query}`, method, body);
      onChanged();
    } catch (error) {
      if (error instanceof ServerRefusal && error.details.reason === 'history')
        setWarning({ says: error.message, letGo: true });
      else enqueueSnackbar(sentenceOf(error), { variant: 'error', autoHideDuration: 8000 });
    }
  };
  return (
    <Box
      component="article"
      aria-label={shot.name}
      sx={{
        border: 1,
        borderColor: 'divider',
        borderRadius: 1,
        bgcolor: 'background.paper',
        overflow: 'hidden',
        display: 'flex',
        flexDirection: 'column',
      }}
    >
      {warning && (
        <AskToDelete
          {...{ shot, warning: warning.says }}
          onKeep={() => setWarning(null)}
          onDelete={() => void ask('DELETE', undefined, warning.letGo ? '?history=let+go' : '')}
        />
      )}
      <ScrubPicture shot={shot} />
      <Box sx={{ px: 1.5, py: 1, display: 'grid', gap: 0.25 }}>
        <Box sx={{ display: 'flex', alignItems: 'center' }}>
          <NameInput
            value={shot.name}
            label="Name of the shot"
            onName={(name) => void ask('PATCH', { name })}
            sx={{ flex: 1, fontWeight: 700 }}
          />
          <CardMenu
            name={shot.name}
            choices={[
              { says: 'Begin a crossing', onChoose: onBegin },
              ...(shot.frameCount >= leastToFind ? [{ says: 'Find crossings…', onChoose: onFind }] : []),
              ...(shot.stills ? [] : [{ says: 'Download the file', href: `/api/shots/${shot.id}/file` }]),
              {
                says: 'Delete…',
                // Where it is used the server says where.
                onChoose: () =>
                  shot.usedIn.length > 0
                    ? void ask('DELETE')
                    : setWarning({ says: plainWarning, letGo: false }),
              },
            ]}
            sx={{ mr: -1, my: -0.5 }}
          />
        </Box>
        <ShotFacts shot={shot} />
        {shot.stills && shot.frameCount > 1 && shot.usedIn.length === 0 && (
          <Box component="label" sx={{ ...facts, display: 'flex', alignItems: 'center', gap: 0.75 }}>
            Shown at
            <select
              value={stillRates.findIndex(({ label }) => label === `${formatRate(shot.rate)} fps`)}
              onChange={(event) => {
                const { num, den } = stillRates[Number(event.target.value)].rate;
                void ask('PATCH', { rateNum: num, rateDen: den });
              }}
            >
              {stillRates.map(({ label }, k) => (
                <option key={label} value={k}>
                  {label}
                </option>
              ))}
            </select>
          </Box>
        )}
        <TimecodeInput shot={shot} onTimecode={(timecode) => void ask('PATCH', { timecode })} />
        {shot.hasSound && (
          <Box component="label" sx={{ ...facts, display: 'flex', alignItems: 'center', gap: 0.75 }}>
            <input
              type="checkbox"
              checked={shot.keepSound}
              onChange={(event) => void ask('PATCH', { keepSound: event.target.checked })}
            />
            Keep its sound; Kiv warns when a crossing leaves it out
          </Box>
        )}
        <NameInput
          value={shot.notes}
          label={`Notes on ${shot.name}`}
          placeholder="Notes"
          most={2000}
          empty
          onName={(notes) => void ask('PATCH', { notes })}
          sx={{ fontSize: 12.5, fontStyle: 'italic' }}
        />
        <BeginOrFind {...{ shot, onBegin, onFind }} />
      </Box>
    </Box>
  );
}

function BeginOrFind({ shot, onBegin, onFind }: { shot: ShotListing; onBegin(): void; onFind(): void }) {
  return (
    <Box sx={{ ...facts, display: 'grid', justifyItems: 'start', gap: 0.5 }}>
      <Box>
        <UsedIn crossings={shot.usedIn} />
      </Box>
      <Box sx={{ ml: -0.75 }}>
        <Button onClick={onBegin}>Begin a crossing</Button>
        {shot.found && <Button onClick={onFind}>{counted(shot.found.length)}</Button>}
      </Box>
    </Box>
  );
}

const counted = (found: number) =>
  found === 0 ? 'No crossing found' : `${found} ${found === 1 ? 'crossing' : 'crossings'} found`;

/** The timecode of its first frame, edited where it stands. */
function TimecodeInput({ shot, onTimecode }: { shot: ShotListing; onTimecode(timecode: string): void }) {
  return (
    <Box component="label" sx={{ ...facts, display: 'flex', alignItems: 'center', gap: 0.75 }}>
      Timecode
      <NameInput
        value={shot.timecode ? writtenTimecode(shot.timecode) : ''}
        label={`Timecode of the first frame of ${shot.name}`}
        placeholder="none"
        most={14}
        empty
        onName={onTimecode}
        sx={{ flex: 1, fontSize: 12.5, fontFamily: mono }}
      />
    </Box>
  );
}

function ShotFacts({ shot }: { shot: ShotListing }) {
  return (
    <>
      <Box sx={facts}>
        {shot.width} × {shot.height}
        {shot.squarePixels ? '' : ' (pixels not square)'},{shot.depth > 8 ? ` ${shot.depth} bits,` : ''}{' '}
        {formatRate(shot.rate)} fps
        {shot.constantRate ? '' : ' on average, varying'}, {shot.frameCount}{' '}
        {shot.frameCount === 1 ? 'frame' : `frames (${shot.duration.toFixed(2)} s)`}
      </Box>
      <Box sx={facts}>
        {shot.codec}
        {shot.stills ? ', ' : ' in '}
        {shot.container}, {formatBytes(shot.byteSize)}
        {shot.rotation ? `, turned ${shot.rotation}°` : ''}
        {shot.colour.fullRange ? ', full range' : ''}
        {shot.hasWorkCopy
          ? ', with a work copy for stepping'
          : shot.longestStretch > 30
            ? `, steps slowly (a key frame each ${shot.longestStretch})`
            : ''}
      </Box>
      {shot.treatment && <Box sx={facts}>{shot.treatment}</Box>}
    </>
  );
}

/** Frames from which on there is something to look through. */
const leastToFind = 25;

/** Of a shot that nothing needs. */
const plainWarning =
  'Its file in Kiv’s data folder is deleted. The file that you brought in stays where it is.';

/** Asks before a shot is deleted. */
function AskToDelete({
  shot,
  warning,
  onKeep,
  onDelete,
}: {
  shot: ShotListing;
  warning: string;
  onKeep(): void;
  onDelete(): void;
}) {
  return (
    <Dialog open onClose={onKeep} aria-labelledby={`delete-${shot.id}`}>
      <DialogTitle id={`delete-${shot.id}`}>Delete {shot.name}?</DialogTitle>
      <DialogContent>{warning}</DialogContent>
      <DialogActions>
        <Button onClick={onKeep}>Keep it</Button>
        <Button
          color="error"
          onClick={() => {
            onKeep();
            onDelete();
          }}
        >
          Delete the shot
        </Button>
      </DialogActions>
    </Dialog>
  );
}
