'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useSnackbar } from '@/interface/messages';
import { useCallback, useEffect, useRef, useState } from 'react';
import { call, sentenceOf } from '@/interface/api';
import type { JobListing } from '@/wire/answers';

/**
 * Conversions and work copies under way on the server, looked at each second while there are any.
 *
 * @param arrivals changes when something may have been queued.
 * @param onDone called when one has ended.
 */
export function Jobs({ arrivals, onDone }: { arrivals: number; onDone(): void }) {
  const [jobs, setJobs] = useState<JobListing[]>([]);
  const { enqueueSnackbar } = useSnackbar();
  const before = useRef(0);
  const look = useCallback(async () => {
    try {
      const now = await call<JobListing[]>('/api/jobs');
      if (now.length < before.current) onDone();
      before.current = now.length;
      setJobs(now);
    } catch {
      // Out of reach: what was known last stays on screen.
    }
  }, [onDone]);
  useEffect(() => void look(), [look, arrivals]);
  const active = jobs.some(({ state }) => state !== 'failed');
  useEffect(() => {
    if (!active) return;
    const timer = setInterval(() => void look(), 1000);
    return () => clearInterval(timer);
  }, [active, look]);
  const ask = async (id: string, method: 'POST' | 'DELETE') => {
    try {
      await call(`/api/jobs/${id}`, method);
    } catch (error) {
      enqueueSnackbar(sentenceOf(error), { variant: 'error' });
    }
    await look();
  };
  if (jobs.length === 0) return null;
  return (
    <Box sx={{ display: 'grid', gap: 1 }} aria-label="Conversions" role="group">
      {jobs.map((job) => (
        <Alert
          key={job.id}
          severity={job.state === 'failed' ? 'error' : 'info'}
          sx={{ py: 0, '& .MuiAlert-message': { flex: 1 } }}
          action={
            <>
              {job.state === 'failed' && <Button onClick={() => void ask(job.id, 'POST')}>Try again</Button>}
              <Button onClick={() => void ask(job.id, 'DELETE')}>
                {job.state === 'failed' ? 'Give up' : 'Cancel'}
              </Button>
            </>
          }
        >
          <b>{job.name}</b>: {wordsOf(job)}
          {job.state !== 'failed' && (
            <LinearProgress
              variant={job.of > 0 ? 'determinate' : 'indeterminate'}
              value={job.of > 0 ? (job.done / job.of) * 100 : 0}
              sx={{ mt: 0.5 }}
              aria-label={`Progress of converting ${job.name}`}
            />
          )}
        </Alert>
      ))}
    </Box>
  );
}

function wordsOf({ kind, state, reason, done, of, message }: JobListing): string {
  if (state === 'failed') return message;
  const what = kind === 'convert' ? `${reason} Converting` : 'Making a work copy that steps quickly';
  if (state === 'waiting') return `${what}: waiting for its turn`;
  return of > 0 ? `${what}: frame ${done} of ${of}` : `${what}: reading its frames…`;
}
