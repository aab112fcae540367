'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useState } from 'react';
import type { Finding } from '@/core/checks/findings';
import { FindingIcon, TickIcon } from '@/interface/icons';
import { useSnackbar } from '@/interface/messages';
import { mend, useChecks } from '../checks-store';
import { goTo, showView } from '../commands';
import { useTraced } from '../traced';
import { setView } from '../view-store';

/** What the checks have found, with the way there and the way to mend it. */
export function CheckStep() {
  const { findings, share, failure, unjudged } = useChecks();
  const traced = useTraced();
  const { enqueueSnackbar } = useSnackbar();
  const [mending, setMending] = useState<Finding | null>(null);
  const several = (traced?.outlines.length ?? 0) > 1;
  const go = (finding: Finding) => {
    setView({
      playing: false,
      ...(finding.outlineId ? { outlineId: finding.outlineId, points: new Set() } : {}),
    });
    goTo(finding.worst);
    if (finding.outlineId && finding.kind !== 'ends open') showView('plain');
  };
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, fontSize: 13, minHeight: 24 }}>
        {share === null || share < 1 ? (
          <>
            <Box sx={{ whiteSpace: 'nowrap', color: 'text.secondary' }}>Looking at every frame…</Box>
            <LinearProgress
              variant={share ? 'determinate' : 'indeterminate'}
              value={(share ?? 0) * 100}
              sx={{ flex: 1 }}
              aria-label="How much has been looked at"
            />
          </>
        ) : (
          <Box sx={{ color: 'text.secondary' }}>
            Every frame was looked at; this goes on by itself while you work.
          </Box>
        )}
      </Box>
      {failure && <Box sx={{ color: 'error.main' }}>{failure}</Box>}
      {share === 1 &&
        unjudged.map((id) => (
          <Box key={id} sx={{ fontSize: 13, color: 'text.secondary' }}>
            {traced?.document.outlines[id]?.name}: its edge is too broken up in the picture to judge where the
            line should lie. Look at the contact sheet.
          </Box>
        ))}
      {share === 1 && findings.length === 0 && (
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
          <TickIcon size={18} /> Nothing {unjudged.length > 0 ? 'else ' : ''}was found. Watch it once at full
          size.
        </Box>
      )}
      <Box
        component="ol"
        sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', gap: 1 }}
        aria-label="Findings"
      >
        {findings.map((finding) => (
          <Box
            component="li"
            key={`${finding.kind} ${finding.outlineId} ${finding.from}`}
            sx={{ borderLeft: 3, borderColor: 'warning.main', pl: 1 }}
          >
            <Box sx={{ display: 'flex', gap: 0.75, fontSize: 14, lineHeight: 1.35 }}>
              <Box sx={{ color: 'warning.main', flex: 'none', pt: '1px' }}>
                <FindingIcon size={16} />
              </Box>
              <Box>
                {several && finding.outlineId && traced?.document.outlines[finding.outlineId] && (
                  <b>{traced.document.outlines[finding.outlineId].name}. </b>
                )}
                {finding.says}
              </Box>
            </Box>
            <Box sx={{ display: 'flex', gap: 0.5, mt: 0.25 }}>
              <Button onClick={() => go(finding)}>Go there</Button>
              {finding.fix && (
                <Button
                  variant="outlined"
                  disabled={mending !== null}
                  onClick={() => {
                    setMending(finding);
                    void mend(finding).then((refusal) => {
                      setMending(null);
                      if (refusal) enqueueSnackbar(refusal);
                    });
                  }}
                >
                  {finding.fix}
                </Button>
              )}
            </Box>
          </Box>
        ))}
      </Box>
      <Button variant="outlined" onClick={() => setView({ strips: true })}>
        Contact sheet of the edge
      </Button>
    </Box>
  );
}
