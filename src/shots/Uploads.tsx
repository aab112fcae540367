'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { formatBytes } from '@/footage/refusal';
import { cancelAll, cancelUpload, dismissUpload, type Upload, useUploads } from './uploads';

const moving = ({ state }: Upload) => ['checking', 'sending', 'waiting', 'indexing'].includes(state);

/**
 * Files being brought in, each and all together.
 *
 * @param finished whether those that have arrived are listed too.
 */
export function Uploads({ finished = true }: { finished?: boolean }) {
  const every = useUploads((state) => state.uploads);
  const uploads = finished ? every : every.filter(({ state }) => state !== 'done');
  if (uploads.length === 0) return null;
  const under = uploads.filter(moving);
  const all = uploads.filter(({ state }) => state !== 'refused' && state !== 'cancelled');
  const size = all.reduce((sum, each) => sum + each.size, 0);
  const sent = all.reduce((sum, each) => sum + each.sent, 0);
  return (
    <Box sx={{ display: 'grid', gap: 1 }} aria-label="Files being brought in" role="group">
      {uploads.length > 1 && under.length > 0 && (
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 2 }}>
          <Box sx={{ flex: 1 }}>
            <Box sx={{ fontSize: 13 }}>
              {all.length - under.length} of {all.length} files in, {formatBytes(sent)} of {formatBytes(size)}
            </Box>
            <LinearProgress
              variant="determinate"
              value={size === 0 ? 0 : (sent / size) * 100}
              aria-label="Progress of all files"
            />
          </Box>
          <Button onClick={cancelAll}>Cancel all</Button>
        </Box>
      )}
      {uploads.map((each) => (
        <UploadRow key={each.id} upload={each} />
      ))}
    </Box>
  );
}

function UploadRow({ upload }: { upload: Upload }) {
  const { id, name, size, sent, state, message } = upload;
  const share = size === 0 ? 0 : sent / size;
  const words = {
    checking: 'Looking at the file…',
    sending: `${Math.floor(share * 100)} %`,
    waiting: `${Math.floor(share * 100)} %. ${message}`,
    indexing: 'Finding its frames…',
    done: 'In the footage',
    converting: 'Arrived; it is being converted, see below',
    cancelled: message,
    refused: message,
  }[state];
  return (
    <Alert
      severity={
        state === 'refused'
          ? 'error'
          : state === 'waiting'
            ? 'warning'
            : state === 'done'
              ? 'success'
              : 'info'
      }
      action={
        moving(upload) ? (
          <Button onClick={() => cancelUpload(id)}>Cancel</Button>
        ) : (
          <Button onClick={() => dismissUpload(id)}>Dismiss</Button>
        )
      }
      sx={{ py: 0, '& .MuiAlert-message': { flex: 1 } }}
    >
      <b>{name}</b>: {words}
      {moving(upload) && (
        <LinearProgress
          variant={state === 'sending' || state === 'waiting' ? 'determinate' : 'indeterminate'}
          value={share * 100}
          sx={{ mt: 0.5 }}
          aria-label={`Progress of ${name}`}
        />
      )}
    </Alert>
  );
}
