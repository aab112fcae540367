'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { type DragEvent, useRef, useState } from 'react';
import type { Stretch } from '@/core/actions/first-stretch';
import type { Role } from '@/core/model/choices';
import { formatRate } from '@/core/time/rate';
import { ScrubPicture } from '@/shots/ScrubPicture';
import { RoleMark } from '@/interface/RoleMark';
import { roleName } from '@/interface/theme';
import type { ShotListing } from '@/wire/answers';
import { StretchChoice } from './StretchChoice';

/** A role's shot, chosen by picture from those there are, the newest first; files may be dropped on it. */
export function ShotChoice({
  role,
  says,
  shots,
  chosen,
  stretch,
  onChoose,
  onStretch,
  onFiles,
}: {
  role: Role;
  /** What the shot is for. */
  says: string;
  shots: readonly ShotListing[];
  /** Id of the shot, or empty. */
  chosen: string;
  /** As much of it as is taken, null being all; left out where a timeline says it. */
  stretch?: Stretch | null;
  onChoose(id: string): void;
  onStretch(stretch: Stretch | null): void;
  onFiles(files: File[]): void;
}) {
  const [over, setOver] = useState(false);
  const [look, setLook] = useState<number | null>(null);
  const picker = useRef<HTMLInputElement>(null);
  const shot = shots.find(({ id }) => id === chosen);
  const label = `${roleName[role]} shot`;
  return (
    <Box
      onDragOver={(event: DragEvent) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event: DragEvent) => {
        event.preventDefault();
        event.stopPropagation();
        setOver(false);
        if (event.dataTransfer.files.length > 0) onFiles([...event.dataTransfer.files]);
      }}
      sx={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr)',
        alignContent: 'start',
        gap: 0.75,
        p: 1,
        border: 1,
        borderStyle: over || !shot ? 'dashed' : 'solid',
        borderColor: over ? 'primary.main' : 'divider',
        bgcolor: over ? 'action.hover' : undefined,
        borderRadius: 1,
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <RoleMark role={role} />
        <Box sx={{ minWidth: 0, flex: 1 }}>
          <Box sx={{ fontWeight: 700, fontSize: 14 }}>{label}</Box>
          <Box sx={{ fontSize: 12, color: 'text.secondary' }}>{says}</Box>
        </Box>
        <Button
          onClick={() => picker.current?.click()}
          aria-label={`Bring in a file as the ${label.toLowerCase()}`}
        >
          From a file…
        </Button>
        <input
          ref={picker}
          type="file"
          hidden
          multiple
          aria-label={`File of the ${label.toLowerCase()}`}
          onChange={(event) => {
            if (event.target.files && event.target.files.length > 0) onFiles([...event.target.files]);
            event.target.value = '';
          }}
        />
      </Box>
      {shot ? (
        <Box>
          <Box sx={{ maxWidth: 192, mx: 'auto' }}>
            <ScrubPicture key={shot.id} shot={shot} look={look} rest={middleOf(stretch)} />
          </Box>
          <Box sx={{ fontSize: 13, mt: 0.5, textAlign: 'center', overflowWrap: 'anywhere' }}>
            <b>{shot.name}</b>, {shot.width} × {shot.height}, {shot.frameCount}{' '}
            {shot.frameCount === 1 ? 'frame' : `frames at ${formatRate(shot.rate)} fps`}
          </Box>
          {shot.frameCount > 1 && stretch !== undefined && (
            <StretchChoice {...{ shot, stretch }} onChoose={onStretch} onLook={setLook} />
          )}
        </Box>
      ) : (
        <Box sx={{ py: 5, textAlign: 'center', color: 'text.secondary' }}>Drop a file here</Box>
      )}
      {shots.length > 0 && <ShotRadios {...{ label, shots, chosen, onChoose }} />}
    </Box>
  );
}

/** The shots there are, to choose from by picture. */
function ShotRadios({
  label,
  shots,
  chosen,
  onChoose,
}: {
  label: string;
  shots: readonly ShotListing[];
  chosen: string;
  onChoose(id: string): void;
}) {
  return (
    <Box
      role="radiogroup"
      aria-label={label}
      sx={{ display: 'flex', gap: 0.75, overflowX: 'auto', scrollbarWidth: 'thin', pb: 0.5 }}
    >
      {shots.map((each) => (
        <Box
          key={each.id}
          component="button"
          type="button"
          role="radio"
          aria-checked={each.id === chosen}
          aria-label={each.name}
          title={each.name}
          onClick={() => onChoose(each.id)}
          sx={{
            flex: 'none',
            width: 84,
            p: 0,
            border: 2,
            borderColor: each.id === chosen ? 'primary.main' : 'transparent',
            bgcolor: 'transparent',
            color: 'text.primary',
            font: 'inherit',
            fontSize: 11,
            cursor: 'pointer',
            textAlign: 'left',
          }}
        >
          <ScrubPicture shot={each} />
          <Box sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap', px: '2px' }}>
            {each.name}
          </Box>
        </Box>
      ))}
    </Box>
  );
}

/** The frame that stands for a stretch; null: the shot's own middle one. */
function middleOf(stretch: Stretch | null | undefined): number | null {
  return stretch ? Math.round((stretch.first + stretch.last) / 2) : null;
}
