'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import IconButton from '@mui/material/IconButton';
import { useTheme } from '@mui/material/styles';
import Tooltip from '@mui/material/Tooltip';
import Link from 'next/link';
import { useSnackbar } from '@/interface/messages';
import { useEffect, useState } from 'react';
import { formatRate, rateOf } from '@/core/time/rate';
import { call, sentenceOf } from '@/interface/api';
import { DeleteIcon } from '@/interface/icons';
import { NotWanted, postersOf, stopPosters } from '@/interface/posters';
import { RawPicture } from '@/interface/RawPicture';
import { layoutOf } from '@/core/document/plans';
import { useSeen } from '@/interface/useSeen';
import { RoleMark } from '@/interface/RoleMark';
import type { Posters } from '@/render/posters.worker';
import type { CrossingListing } from '@/wire/answers';

const posterHeight = 135;

/** A crossing as it lies on the shelf: first, middle and last result, and the curve of its coverage. */
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
      ref={card}
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
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr 1fr', gap: '2px', bgcolor: 'divider' }}>
          {['First', 'Middle', 'Last'].map((which, k) => (
            <RawPicture
              key={which}
              width={posters?.width ?? width}
              height={posterHeight}
              rgba={posters?.pictures[k] ?? null}
              label={`${which} frame of the result`}
              style={{ width: '100%', height: 'auto' }}
            />
          ))}
        </Box>
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
            <Box>
              {listed.length} frames at {formatRate(rate)} fps
            </Box>
          </Box>
          <Box sx={{ color: 'text.secondary', fontSize: 13, pt: 0.25 }}>{layoutOf(listed.plan).says}</Box>
          {failure && <Box sx={{ color: 'error.main', fontSize: 13 }}>{failure}</Box>}
        </Box>
      </Box>
      <Tooltip title="Delete this crossing">
        <IconButton
          aria-label={`Delete ${name}`}
          onClick={() => setAsking(true)}
          sx={{ position: 'absolute', right: 8, bottom: 12 }}
        >
          <DeleteIcon size={18} />
        </IconButton>
      </Tooltip>
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
