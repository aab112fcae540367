'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { formatBytes } from '@/footage/refusal';
import { cancelAll, cancelUpload, dismissUpload, type Upload, useUploads } from './uploads';

const moving = ({ state }: Upload) =>
  ['checking', 'sending', 'waiting', 'indexing', 'converting'].includes(state);

/**
 * Files being brought in, each and all together.
 *
 * @param without states of those that are not listed: the page has them elsewhere.
 */
export function Uploads({ without }: { without: readonly Upload['state'][] }) {
  const every = useUploads((state) => state.uploads);
  const uploads = every.filter(({ state }) => !without.includes(state));
  if (uploads.length === 0) return null;
  const under = uploads.filter(moving);
  const all = uploads.filter(({ state }) => !['refused', 'cancelled', 'not converted'].includes(state));
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
  const { id, name, size, sent, state, message, frames } = upload;
  const [done, of] = state === 'converting' ? [frames?.done ?? 0, frames?.of ?? 0] : [sent, size];
  const share = of === 0 ? 0 : done / of;
  const told = ['sending', 'waiting', 'converting'].includes(state) && of > 0;
  const words = {
    checking: 'Looking at the file…',
    sending: `${Math.floor(share * 100)} %`,
    waiting: `${Math.floor(share * 100)} %. ${message}`,
    indexing: 'Finding its frames…',
    done: 'In the footage',
    converting: of > 0 ? `Converting frame ${done} of ${of}` : 'Converting…',
    cancelled: message,
    refused: message,
    'not converted': `${message} In Footage you can try again.`,
  }[state];
  return (
    <Alert
      severity={
        state === 'refused' || state === 'not converted'
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
          variant={told ? 'determinate' : 'indeterminate'}
          value={share * 100}
          sx={{ mt: 0.5 }}
          aria-label={`Progress of ${name}`}
        />
      )}
    </Alert>
  );
}
