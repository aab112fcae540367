'use client';

import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import CircularProgress from '@mui/material/CircularProgress';
import { type ReactNode, useCallback, useEffect, useState } from 'react';
import { call, sentenceOf } from './api';

/**
 * What the server answers at `path`: null until it has, then kept while it is asked again.
 *
 * @returns also `load`, to ask again, and `pending`: what to show for an answer under way or one that failed.
 */
export function useAnswer<T>(
  path: string,
  what: string,
): { answer: T | null; load(): void; pending: ReactNode } {
  const [answer, setAnswer] = useState<T | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const load = useCallback(() => {
    call<T>(path).then(
      (given) => {
        setAnswer(given);
        setFailure(null);
      },
      (error: unknown) => setFailure(sentenceOf(error)),
    );
  }, [path]);
  useEffect(load, [load]);
  const pending = failure ? (
    <Alert severity="error" action={<Button onClick={load}>Try again</Button>} sx={{ mb: 2 }}>
      {failure}
    </Alert>
  ) : (
    answer === null && <CircularProgress aria-label={`Loading ${what}`} />
  );
  return { answer, load, pending };
}
