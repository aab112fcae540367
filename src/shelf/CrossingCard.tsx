'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useTheme } from '@mui/material/styles';
import Link from 'next/link';
import { useSnackbar } from '@/interface/messages';
import { useEffect, useState } from 'react';
import { formatRate, rateOf } from '@/core/time/rate';
import { call, sentenceOf } from '@/interface/api';
import { whenText } from '@/interface/dates';
import { NotWanted, postersOf, stopPosters } from '@/interface/posters';
import { OpenMarkIcon, TickIcon } from '@/interface/icons';
import { RawPicture } from '@/interface/RawPicture';
import { useSeen } from '@/interface/useSeen';
import { CardMenu } from '@/interface/CardMenu';
import { RoleMark } from '@/interface/RoleMark';
import type { StepProgress } from '@/core/checks/trace-progress';
import type { Posters } from '@/render/posters.worker';
import type { CrossingListing } from '@/wire/answers';
import { useFilm } from './film';

const posterHeight = 216;

/** A crossing as it lies on the shelf: the result at its middle, playing while it is pointed at, and the curve of its coverage. */
export function CrossingCard({ listed, onDeleted }: { listed: CrossingListing; onDeleted(): void }) {
  const { id, revision, name } = listed;
  const [posters, setPosters] = useState<Posters | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const [asking, setAsking] = useState(false);
  const { enqueueSnackbar } = useSnackbar();
  const [card, seen] = useSeen<HTMLElement>();
  useEffect(() => {
    if (!seen) return;
    let here = true;
    postersOf(id, revision, posterHeight).then(
      (drawn) => here && setPosters(drawn),
      (error: unknown) => here && !(error instanceof NotWanted) && setFailure(sentenceOf(error)),
    );
    return () => {
      here = false;
    };
  }, [id, revision, seen]);
  const film = useFilm(id, revision, posterHeight);
  const width = Math.round((posterHeight * listed.width) / listed.height);
  const rate = rateOf(listed);

  const remove = async () => {
    try {
      await call(`/api/crossings/${id}`, 'DELETE');
      onDeleted();
    } catch (error) {
      enqueueSnackbar(sentenceOf(error), { variant: 'error' });
    }
  };

  return (
    <Box
      component="article"
      aria-label={name}
      ref={card}
      onPointerEnter={film.point}
      onPointerLeave={film.leave}
      sx={{
        position: 'relative',
        border: 1,
        borderColor: 'divider',
        borderRadius: 1,
        bgcolor: 'background.paper',
        overflow: 'hidden',
        '&:hover': { borderColor: 'primary.main' },
      }}
    >
      <Box
        component={Link}
        href={`/crossings/${id}`}
        prefetch
        onNavigate={stopPosters}
        sx={{ color: 'text.primary', textDecoration: 'none', display: 'block' }}
      >
        <RawPicture
          width={film.picture?.width ?? posters?.width ?? width}
          height={film.picture?.height ?? posterHeight}
          rgba={film.picture?.rgba ?? posters?.picture ?? null}
          label={film.picture ? 'The result, playing' : 'The result where it is half covered'}
          style={{ width: '100%', aspectRatio: '16 / 9', objectFit: 'contain', backgroundColor: '#222' }}
        />
        <CoverageLine coverage={posters?.coverage ?? null} />
        <Box sx={{ px: 2, pb: 1.5, pt: 0.5, pr: 6 }}>
          <Box sx={{ fontWeight: 700, fontSize: 17 }}>{name}</Box>
          <Box
            sx={{
              display: 'flex',
              alignItems: 'center',
              gap: 1,
              color: 'text.secondary',
              fontSize: 13,
              flexWrap: 'wrap',
            }}
          >
            {listed.layers.map((layer) => (
              <Box key={layer.id} sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
                <RoleMark role={layer.role} size={15} /> {layer.shotName}
              </Box>
            ))}
          </Box>
          <Box sx={{ color: 'text.secondary', fontSize: 13, pt: 0.25 }}>
            {listed.plan[0].toUpperCase() + listed.plan.slice(1)}, {listed.length} frames at{' '}
            {formatRate(rate)} fps, changed {whenText(listed.updatedAt)}
          </Box>
          {posters && <Progress {...posters.progress} />}
          {failure && <Box sx={{ color: 'error.main', fontSize: 13 }}>{failure}</Box>}
        </Box>
      </Box>
      <CardMenu
        name={name}
        choices={[
          { says: 'Whole crossing as ZIP', href: `/api/crossings/${id}/parcel` },
          { says: 'Delete…', onChoose: () => setAsking(true) },
        ]}
        sx={{ position: 'absolute', right: 6, bottom: 10 }}
      />
      <Dialog open={asking} onClose={() => setAsking(false)}>
        <DialogTitle>Delete “{name}”?</DialogTitle>
        <DialogContent>
          Its outlines and its history go with it. The shots and what was exported stay.
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setAsking(false)}>Keep it</Button>
          <Button color="error" variant="contained" onClick={() => void remove()}>
            Delete
          </Button>
        </DialogActions>
      </Dialog>
    </Box>
  );
}

/** How far the trace has come, with the marks that the steps have. */
function Progress({ holds, note }: StepProgress) {
  const Mark = holds ? TickIcon : OpenMarkIcon;
  return (
    <Box
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 0.5,
        color: 'text.secondary',
        fontSize: 13,
        pt: 0.25,
      }}
    >
      <Box
        component="span"
        role="img"
        aria-label={holds ? 'Traced' : 'To do'}
        sx={{ display: 'flex', color: holds ? 'primary.main' : 'text.secondary' }}
      >
        <Mark size={15} />
      </Box>
      {note}
    </Box>
  );
}

/** The coverage curve, small: flat at the bottom before the wipe, flat on top after it. */
function CoverageLine({ coverage }: { coverage: Float32Array | null }) {
  const theme = useTheme();
  const [width, height] = [540, 44];
  const points = Array.from(
    coverage ?? [],
    (covered, n) =>
      `${((n / Math.max(1, coverage!.length - 1)) * width).toFixed(1)},${(height - 3 - covered * (height - 6)).toFixed(1)}`,
  );
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width="100%"
      height={height}
      preserveAspectRatio="none"
      role="img"
      aria-label="Coverage over the crossing"
      style={{ display: 'block' }}
    >
      {points.length > 1 && (
        <>
          <polygon
            points={`0,${height} ${points.join(' ')} ${width},${height}`}
            fill={theme.kiv.role.incoming}
            opacity={0.2}
          />
          <polyline
            points={points.join(' ')}
            fill="none"
            stroke={theme.kiv.role.incoming}
            strokeWidth={2}
            vectorEffect="non-scaling-stroke"
          />
        </>
      )}
    </svg>
  );
}
