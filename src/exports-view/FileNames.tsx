'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useEffect, useState } from 'react';
import { exportNameBy, nameFields, usualName, wrongPattern } from '@/core/formats/export-name';
import { call, sentenceOf } from '@/interface/api';
import { Fold } from '@/interface/Fold';
import type { ExportListing } from '@/wire/answers';

/** How exported files are called when they are downloaded: a pattern, shown on the newest export. */
export function FileNames({ newest }: { newest: ExportListing }) {
  const [kept, setKept] = useState<string | null>(null);
  const [typed, setTyped] = useState<string | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  useEffect(() => {
    call<{ exportName: string }>('/api/settings').then(
      ({ exportName }) => setKept(exportName),
      (error) => setFailure(sentenceOf(error)),
    );
  }, []);
  const pattern = typed ?? kept ?? usualName;
  const wrong = wrongPattern(pattern) ?? failure;
  const keep = async (next: string) => {
    if (wrongPattern(next) !== null) return;
    try {
      const { exportName } = await call<{ exportName: string }>('/api/settings', 'PUT', { exportName: next });
      setKept(exportName);
      setTyped(null);
      setFailure(null);
    } catch (error) {
      setFailure(sentenceOf(error));
    }
  };
  const example = wrong ? null : exportNameBy(pattern, { ...newest, crossing: newest.crossingName });
  return (
    <Fold heading="File names">
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'start', pt: 1, pb: 2, maxWidth: 760 }}>
        <TextField
          label="Pattern"
          value={pattern}
          disabled={kept === null}
          error={wrong !== null}
          helperText={wrong ?? `The newest download is called “${example}”.`}
          onChange={({ target }) => {
            setFailure(null);
            setTyped(target.value);
          }}
          onKeyDown={({ key }) => {
            if (key === 'Enter') void keep(pattern);
            if (key === 'Escape') setTyped(null);
          }}
          sx={{ flex: 1 }}
        />
        <Button
          variant="outlined"
          disabled={typed === null || typed === kept || wrong !== null}
          onClick={() => void keep(pattern)}
        >
          Save pattern
        </Button>
        <Button disabled={kept === usualName && typed === null} onClick={() => void keep(usualName)}>
          Use default
        </Button>
      </Box>
      <Box
        component="dl"
        sx={{ m: 0, mb: 2, fontSize: 13, display: 'grid', gridTemplateColumns: 'auto 1fr', columnGap: 2 }}
      >
        {Object.entries(nameFields).map(([field, says]) => (
          <Box key={field} sx={{ display: 'contents' }}>
            <Box component="dt">
              <code>{`{${field}}`}</code>
            </Box>
            <Box component="dd" sx={{ m: 0, color: 'text.secondary' }}>
              {says}
            </Box>
          </Box>
        ))}
      </Box>
    </Fold>
  );
}
